"""The place Lay of a strip panel: its strips and rows."""

from functools import partial
from typing import Literal

from PyQt6.QtWidgets import QVBoxLayout

from gauze.core.design.strip_panel import FreeBand
from gauze.core.units import format_length, parse_length
from gauze.session import edits
from gauze.ui.panels.fields import EitherOr, QuantityField
from gauze.ui.panels.mix_fields import MixFields
from gauze.ui.panels.place_panel import PlacePanel
from gauze.ui.panels.strip_controls import StripControls
from gauze.ui.text import tr
from gauze.ui.workbench import Workbench


class LayPanel(PlacePanel):
    """Strips and rows."""

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
                lambda design, _: edits.with_alternate_strip(design, bench.known(), alternate=key == "own"),
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
        self.mix = MixFields(bench, None, self.form)
        self.form.finish()
        self._strips: list[StripControls] = []
        self._strip_column = QVBoxLayout()
        self.column.addLayout(self._strip_column)
        self.column.addStretch(1)

    def _read_piece(self, text: str) -> float:
        """Read the length of a piece; nothing typed means that strip is cut, 0."""
        return parse_length(text, self.bench.unit) if text.strip() else 0.0

    def _keep_free(self, index: int, value: float) -> None:
        build = self.bench.design.panel
        band = build.free[0] if build.free else FreeBand(start_mm=build.across_extent_mm / 2.0, width_mm=20.0)
        start, width = (value, band.width_mm) if index == 0 else (band.start_mm, value)
        self.bench.edit("Free band", lambda design, _: edits.with_free_band(design, start, width))

    def _turn(self, direction: Literal["along_width", "along_height"]) -> None:
        self.bench.edit("Turn the rows", lambda design, _: edits.with_row_direction(design, direction))

    def refresh(self) -> None:
        """Show direction and strips; the controls are made again when another strip is chosen."""
        build, catalogue = self.bench.design.panel, self.bench.known()
        self._direction.show_choice(build.row_direction)
        self._alternate.show_choice("own" if len(build.strips) == 2 else "same")
        self._double.show_choice("double" if build.double_rows else "single")
        unit, piece = self.bench.unit, build.whole_piece_mm
        self._piece.show_text("" if piece is None else format_length(piece, unit))
        band = build.free[0] if build.free else None
        self._free[0].show_text("" if band is None else format_length(band.start_mm, unit))
        self._free[1].show_text("" if band is None else format_length(band.width_mm, unit))
        self.mix.refresh(self.bench.design)
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
                controls.tray_wanted.connect(partial(self.command_wanted.emit, "tray_strip"))
                self._strip_column.addWidget(controls)
        for controls in self._strips:
            controls.refresh(self.bench.design)
