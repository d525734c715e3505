"""The place Aim: what the light is for."""

from collections.abc import Callable

from PyQt6.QtWidgets import QLabel

from gauze.core.evaluate.standards import STANDARDS, choosable_standards, standard_of, usual_standard
from gauze.core.units import format_length, format_number, parse_length, parse_number
from gauze.session import edits
from gauze.session.solver import LightResult
from gauze.ui.dimming import dim
from gauze.ui.panels.fields import ChoiceBox, EitherOr, QuantityField
from gauze.ui.panels.place_panel import PlacePanel
from gauze.ui.panels.target_map import TargetMapView
from gauze.ui.text import tr
from gauze.ui.theme import Theme, theme_named
from gauze.ui.workbench import Workbench

_CAMERA = "camera"


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
        self._standard = ChoiceBox()
        self._standard.setAccessibleName(tr("Judged as"))
        self._standard.activated.connect(self._choose_standard)
        self.form.add(tr("Judged as"), self._standard)
        self._meaning = QLabel()
        self._meaning.setObjectName("dim")
        self._meaning.setWordWrap(True)
        self.form.add_wide(self._meaning)
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

    def _choose_standard(self, index: int) -> None:
        key = self._standard.itemData(index)
        changes = {"viewer": "camera"} if key == _CAMERA else {"viewer": "eye", "standard": key or None}
        self.bench.edit("Judged as", lambda design, _: edits.with_purpose(design, **changes))

    def _show_standard(self) -> None:
        """Offer the usual standard by its name, then each, then the camera; show the one that holds, and what it is for."""
        design, read = self.bench.design, self.bench.reader.read
        usual = read(STANDARDS[usual_standard(design)].name)
        offers = [(tr("{standard} (usual)").format(standard=usual), "")]
        offers += [(read(one.name), str(one.key)) for one in choosable_standards(design)]
        offers.append((tr("by a camera"), _CAMERA))
        if [self._standard.itemText(index) for index in range(self._standard.count())] != [text for text, _ in offers]:
            self._standard.clear()
            for text, key in offers:
                self._standard.addItem(text, key)
        purpose, keys = design.purpose, [key for _, key in offers]
        chosen = _CAMERA if purpose.viewer == "camera" else purpose.standard or ""
        self._standard.setCurrentIndex(keys.index(chosen) if chosen in keys else 0)
        held = standard_of(design)
        self._meaning.setText(
            tr("For {meant_for}. Passes: {asks}.").format(meant_for=read(held.meant_for), asks=read(held.asks))
        )

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
        self._show_standard()
        self._limit.setEnabled(purpose.viewer == "camera")
        self._limit.show_text(f"{100 * purpose.camera_contrast_limit:g} %")
        self._luminance.show_text(f"{format_number(purpose.wanted_luminance_cd_m2, 6)} cd/m²")

    def show_light(self, result: LightResult) -> None:
        """Show the light on the target; while it is being dragged only that in its middle is known, and the map stays, dimmed."""
        if result.evaluation.target.illuminance_lx.size > 1:
            self.target_map.show_map(result.evaluation.target)

    def set_stale(self, *, stale: bool) -> None:
        """Dim the map as long as it is not that of the design as it stands."""
        dim(self.target_map, dimmed=stale)

    def set_theme(self, theme: Theme) -> None:
        """Draw the map in a theme's colours."""
        self.target_map.theme = theme

    def forget(self) -> None:
        """Take the map of another design away."""
        self.target_map.show_map(None)
