"""The places of the working order, and what is picked at each: Aim, Lay, Soften, Feed."""

from collections.abc import Callable
from dataclasses import dataclass
from html import escape
from typing import Literal

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QLabel, QLineEdit, QPushButton, QStackedWidget, QVBoxLayout

from gauze.core.design import LooseEmitters, StripPanel
from gauze.core.design.strip_panel import FreeBand
from gauze.core.electrical.supply import SupplyNeed
from gauze.core.evaluate import Caution
from gauze.core.units import format_length, format_number, parse_length, parse_number
from gauze.session import edits
from gauze.ui.dimming import dim
from gauze.ui.panels.build_panel import BuildPanel
from gauze.ui.panels.cavity_panel import CavityPanel
from gauze.ui.panels.fields import EitherOr, LevelField, QuantityField
from gauze.ui.panels.place_panel import PlacePanel
from gauze.ui.panels.soften import SoftenPanel
from gauze.ui.panels.strip_controls import StripControls
from gauze.ui.panels.target_map import TargetMapView
from gauze.ui.text import spoken, tr
from gauze.ui.theme import theme_named
from gauze.ui.workbench import Workbench


@dataclass(frozen=True)
class Place:
    """A place: its key, name, icon and what it is for."""

    key: str
    name: str
    icon: str
    about: str


PLACES = (
    Place("aim", "Aim", "target", "What it is for: what it lights, who looks at it, how bright"),
    Place("lay", "Lay", "rows-3", "Body, strips, rows and spacing"),
    Place("soften", "Soften", "layers", "Sheet, depth and inner faces"),
    Place("feed", "Feed", "plug-zap", "Power"),
)


def _read_white(text: str) -> float:
    """Read a colour temperature; nothing typed means any, 0."""
    return parse_number(text, "K") if text.strip() else 0.0


class AimPanel(PlacePanel):
    """The purpose."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__(bench, tr("What it is for"))
        self._use = EitherOr(tr("Use"), (("looked_at", tr("Looked at")), ("lighting", tr("Lights something"))))
        self._use.chosen.connect(
            lambda use: bench.edit("Purpose", lambda design, _: edits.with_purpose(design, use=use))
        )
        self.form.add_wide(self._use)
        self._viewer = EitherOr(tr("Who looks"), (("eye", tr("Seen by eyes")), ("camera", tr("by a camera"))))
        self._viewer.chosen.connect(
            lambda viewer: bench.edit("Who looks", lambda design, _: edits.with_purpose(design, viewer=viewer))
        )
        self.form.add_wide(self._viewer)
        self._viewing = self.length_field(
            tr("Viewing distance"), tr("Seen from"), "Viewing distance", purpose="viewing_distance_mm"
        )
        self._target = self.length_field(
            tr("Target distance"), tr("Lights a target at"), "Target distance", purpose="target_distance_mm"
        )
        self._lux = self._number(tr("Wanted illuminance"), tr("Wanted there"), "lx", "wanted_illuminance_lx")
        self._beside = (
            self._target_length(tr("Target to the right"), "offset_x_mm"),
            self._target_length(tr("Target up"), "offset_y_mm"),
        )
        self._turned = (
            self._target_angle(tr("Target turned"), "turn_deg"),
            self._target_angle(tr("Target tilted"), "tilt_deg"),
        )
        self._size = (
            self._target_length(tr("Target width"), "width_mm"),
            self._target_length(tr("Target height"), "height_mm"),
        )
        self.target_map = TargetMapView(theme_named(bench.settings.theme))
        self._white = QuantityField(tr("Wanted white"), _read_white)
        self._white.setPlaceholderText(tr("any, or 4000 K"))
        self._white.wrong.connect(self.form.say)
        self._white.taken.connect(
            lambda value: bench.edit(
                "Wanted white", lambda design, _: edits.with_purpose(design, wanted_cct_k=value or None)
            )
        )
        self._limit = QuantityField(tr("Ripple the camera tolerates"), lambda text: parse_number(text, "%") / 100.0)
        self._limit.wrong.connect(self.form.say)
        self._limit.taken.connect(
            lambda value: bench.edit(
                "Ripple on camera", lambda design, _: edits.with_purpose(design, camera_contrast_limit=value)
            )
        )
        self._luminance = self._number(
            tr("Wanted luminance"), tr("Wanted on the face"), "cd/m²", "wanted_luminance_cd_m2"
        )
        self.form.add(tr("Wanted white"), self._white)
        self.form.add_pair(tr("Target right, up"), *self._beside)
        self.form.add_pair(tr("Turned, tilted"), *self._turned)
        self.form.add_pair(tr("Target size"), *self._size)
        self.form.add_wide(self.target_map)
        self.form.add(tr("Camera tolerates ripple of"), self._limit)
        self.form.finish()
        self.column.addStretch(1)

    def _target_length(self, name: str, key: str) -> QuantityField:
        return self._target_field(name, key, lambda text: parse_length(text, self.bench.unit))

    def _target_angle(self, name: str, key: str) -> QuantityField:
        return self._target_field(name, key, lambda text: parse_number(text, "°"))

    def _target_field(self, name: str, key: str, read: Callable[[str], float]) -> QuantityField:
        field = QuantityField(name, read)
        field.wrong.connect(self.form.say)
        field.taken.connect(
            lambda value: self.bench.edit(name, lambda design, _: edits.with_target(design, **{key: value}))
        )
        return field

    def _number(self, name: str, label: str, unit: str, key: str) -> QuantityField:
        field = QuantityField(name, lambda text: parse_number(text, unit))
        field.wrong.connect(self.form.say)
        field.taken.connect(
            lambda value: self.bench.edit(name, lambda design, _: edits.with_purpose(design, **{key: value}))
        )
        self.form.add(label, field)
        return field

    def refresh(self) -> None:
        """Show the purpose."""
        purpose, unit = self.bench.design.purpose, self.bench.unit
        self._use.show_choice(purpose.use)
        self._viewing.show_text(format_length(purpose.viewing_distance_mm, unit))
        self._target.show_text(format_length(purpose.target_distance_mm, unit))
        self._lux.show_text(f"{format_number(purpose.wanted_illuminance_lx, 6)} lx")
        target = purpose.target
        self._beside[0].show_text(format_length(target.offset_x_mm, unit))
        self._beside[1].show_text(format_length(target.offset_y_mm, unit))
        self._turned[0].show_text(f"{target.turn_deg:g}°")
        self._turned[1].show_text(f"{target.tilt_deg:g}°")
        self._size[0].show_text(format_length(target.width_mm, unit))
        self._size[1].show_text(format_length(target.height_mm, unit))
        self._white.show_text("" if purpose.wanted_cct_k is None else f"{purpose.wanted_cct_k:g} K")
        self._viewer.show_choice(purpose.viewer)
        self._limit.setEnabled(purpose.viewer == "camera")
        self._limit.show_text(f"{100 * purpose.camera_contrast_limit:g} %")
        self._luminance.show_text(f"{format_number(purpose.wanted_luminance_cd_m2, 6)} cd/m²")


class LayPanel(PlacePanel):
    """Strips and rows."""

    tray_wanted = pyqtSignal(int)

    def __init__(self, bench: Workbench) -> None:
        super().__init__(bench, tr("Strips and rows"))
        self._direction = EitherOr(
            tr("Rows run"), (("along_width", tr("Rows along the width")), ("along_height", tr("along the height")))
        )
        self._direction.chosen.connect(self._turn)
        self._alternate = EitherOr(tr("Every other row"), (("same", tr("One strip")), ("own", tr("Two, row by row"))))
        self._alternate.chosen.connect(
            lambda key: bench.edit(
                "Every other row",
                lambda design, _: edits.with_alternate_strip(design, bench.catalogue, alternate=key == "own"),
            )
        )
        self._double = EitherOr(tr("Each row"), (("single", tr("Single rows")), ("double", tr("Two side by side"))))
        self._double.chosen.connect(
            lambda key: bench.edit(
                "Double rows", lambda design, _: edits.with_double_rows(design, double=key == "double")
            )
        )
        self._piece = QuantityField(tr("Length of pieces that are not cut"), self._read_piece)
        self._piece.setPlaceholderText(tr("cut at the marks"))
        self._piece.taken.connect(
            lambda value: bench.edit(
                "Uncut pieces", lambda design, _: edits.with_whole_pieces(design, value or None), field="build.rows"
            )
        )
        self._free = tuple(
            QuantityField(name, lambda text: parse_length(text, bench.unit) if text.strip() else 0.0)
            for name in (tr("Free band start"), tr("Free band width"))
        )
        for index, field in enumerate(self._free):
            field.setPlaceholderText((tr("at"), tr("none"))[index])
            field.taken.connect(lambda value, index=index: self._keep_free(index, value))
        for field in (self._piece, *self._free):
            field.wrong.connect(self.form.say)
        self.form.add_wide(self._direction)
        self.form.add_wide(self._alternate)
        self.form.add_wide(self._double)
        self.form.add(tr("Pieces not cut"), self._piece)
        self.form.add_pair(tr("Free band: start, width"), *self._free)
        self.form.finish()
        self._strips: list[StripControls] = []
        self._strip_column = QVBoxLayout()
        self.column.addLayout(self._strip_column)
        self.column.addStretch(1)

    def _read_piece(self, text: str) -> float:
        """Read the length of a piece; nothing typed means that strip is cut, 0."""
        return parse_length(text, self.bench.unit) if text.strip() else 0.0

    def _keep_free(self, index: int, value: float) -> None:
        build = self.bench.design.build
        if not isinstance(build, StripPanel):
            return
        band = build.free[0] if build.free else FreeBand(start_mm=build.across_extent_mm / 2.0, width_mm=20.0)
        start, width = (value, band.width_mm) if index == 0 else (band.start_mm, value)
        self.bench.edit("Free band", lambda design, _: edits.with_free_band(design, start, width))

    def _turn(self, direction: Literal["along_width", "along_height"]) -> None:
        self.bench.edit("Turn the rows", lambda design, _: edits.with_row_direction(design, direction))

    def refresh(self) -> None:
        """Show direction and strips; the controls are made anew when another strip is chosen."""
        build, catalogue = self.bench.design.build, self.bench.catalogue
        if not isinstance(build, StripPanel):
            return
        self._direction.show_choice(build.row_direction)
        self._alternate.show_choice("own" if len(build.strips) == 2 else "same")
        self._double.show_choice("double" if build.double_rows else "single")
        unit, piece = self.bench.unit, build.whole_piece_mm
        self._piece.show_text("" if piece is None else format_length(piece, unit))
        band = build.free[0] if build.free else None
        self._free[0].show_text("" if band is None else format_length(band.start_mm, unit))
        self._free[1].show_text("" if band is None else format_length(band.width_mm, unit))
        wanted = [choice.strip for choice in build.strips]
        if wanted != [controls.strip_id for controls in self._strips]:
            for controls in self._strips:
                controls.hide()
                self._strip_column.removeWidget(controls)
                controls.deleteLater()
            self._strips = [
                StripControls(self.bench, index, catalogue.strip(strip_id)) for index, strip_id in enumerate(wanted)
            ]
            for controls in self._strips:
                controls.tray_wanted.connect(self.tray_wanted)
                self._strip_column.addWidget(controls)
        for controls in self._strips:
            controls.refresh(self.bench.design)


class FeedPanel(PlacePanel):
    """Power: the schools of sizing side by side, and a reading of one row."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__(bench, tr("Supply, sized by each school"))
        self._table = QLabel()
        self._table.setTextFormat(Qt.TextFormat.RichText)
        self._table.setWordWrap(True)
        self.form.add_wide(self._table)
        self._reading = QuantityField(tr("Measured current of one row"), lambda text: parse_number(text, "A"))
        self._reading.setPlaceholderText(tr("as read, in A"))
        self._reading.wrong.connect(self.form.say)
        self._reading.taken.connect(
            lambda value: bench.edit("Measured current", lambda design, _: edits.with_reading(design, value))
        )
        self._clear = QPushButton(tr("Clear the reading"))
        self._clear.clicked.connect(
            lambda: bench.edit("Clear the reading", lambda design, _: edits.with_reading(design, None))
        )
        self.form.add(tr("One row draws"), self._reading)
        self.form.add_wide(self._clear)
        caution = QLabel(tr("Caution: {mains}").format(mains=Caution.MAINS.value))
        caution.setObjectName("dim")
        caution.setWordWrap(True)
        self.form.add_wide(caution)
        self.form.finish()
        self.column.addStretch(1)

    def refresh(self) -> None:
        """Show the reading; the table follows with the light."""
        current = self.bench.design.measured_row_current_a
        self._reading.show_text("" if current is None else f"{format_number(current, 4)} A")
        self._clear.setVisible(current is not None)
        self.form.show_row(self._reading, shown=bool(self.bench.design.strips))

    def set_stale(self, *, stale: bool) -> None:
        """Dim the table as long as it is not that of the design as it stands."""
        dim(self._table, dimmed=stale)

    def forget(self) -> None:
        """Take the table of another design away."""
        self._table.setText(tr("Calculating …"))

    def show_supplies(self, supplies: tuple[SupplyNeed, ...]) -> None:
        """Show what each voltage needs, by each school."""
        if not supplies:
            self._table.setText(tr("Loose emitters come without watts: size the supply by what feeds them."))
            return
        rows = []
        for need in supplies:
            rows.append(
                f"<tr><td colspan=3 style='padding-top:4px'><b>{need.volts:g} V</b>, {format_number(need.label_w)} W = "
                f"{format_number(need.label_a)} A {tr('by the label')}</td></tr>"
            )
            if need.measured_w is not None:
                amps = format_number(need.measured_w / need.volts)
                measured = tr("{watts} W = {amps} A as measured").format(
                    watts=format_number(need.measured_w), amps=amps
                )
                rows.append(f"<tr><td colspan=3>{measured}</td></tr>")
            for school in need.schools:
                rating = tr("none") if school.rating_w is None else f"{school.rating_w:g} W"
                rows.append(
                    f"<tr><td style='padding-right:10px'>{escape(spoken(school.name))}</td>"
                    f"<td align=right style='padding-right:10px'>{format_number(school.needed_w)} W</td>"
                    f"<td align=right><b>{rating}</b></td></tr>"
                )
        self._table.setText(f"<table cellspacing=2>{''.join(rows)}</table>")


class PlaceStack(QStackedWidget):
    """The panel of the place in hand."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self._bench = bench
        self.aim, self.lay, self.soften, self.feed = (
            AimPanel(bench),
            LayPanel(bench),
            SoftenPanel(bench),
            FeedPanel(bench),
        )
        self.cavity = CavityPanel(bench)
        self.build = BuildPanel(bench)
        self._place = "soften"
        self._panels: dict[str, PlacePanel] = {
            "aim": self.aim,
            "lay": self.lay,
            "soften": self.soften,
            "feed": self.feed,
        }
        for panel in (*self._panels.values(), self.cavity, self.build):
            self.addWidget(panel)

    def show_place(self, key: str) -> None:
        """Show the panel of a place."""
        self._place = key
        self.setCurrentWidget(self._lay_of() if key == "lay" else self._panels[key])

    def _lay_of(self) -> PlacePanel:
        """The panel of Lay for what is open."""
        build = self._bench.design.build
        if isinstance(build, LooseEmitters):
            return self.cavity
        return self.lay if isinstance(build, StripPanel) else self.build

    def set_stale(self, *, stale: bool) -> None:
        """Dim what was computed as long as it is not of the design as it stands."""
        self.feed.set_stale(stale=stale)
        dim(self.aim.target_map, dimmed=stale)

    def release(self) -> None:
        """Let go of every slider, leave what is half typed, and take the figures of the old design away."""
        for field in self.findChildren(QuantityField):
            field.leave()
        for line in self.findChildren(QLineEdit):
            line.setModified(False)
        for level in self.findChildren(LevelField):
            level.release()
        self.feed.forget()
        self.aim.target_map.show_map(None)

    def refresh(self) -> None:
        """Show the design as it stands, at every place."""
        for panel in (*self._panels.values(), self.cavity, self.build):
            panel.refresh()
        self.show_place(self._place)
