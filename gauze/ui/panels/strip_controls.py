"""One strip of a design, whatever its family: which, its white, its levels."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QLabel, QPushButton, QVBoxLayout, QWidget

from gauze.core.design import Design
from gauze.core.materials import Strip
from gauze.core.units import LengthUnit, format_length, format_number, parse_number
from gauze.session import edits
from gauze.ui.panels.fields import Form, LevelField, QuantityField
from gauze.ui.text import tr
from gauze.ui.workbench import Workbench


class StripControls(QWidget):
    """One strip of the design: its name with the tray's button, its white, a level for each channel."""

    tray_wanted = pyqtSignal(int)

    def __init__(self, bench: Workbench, index: int, strip: Strip) -> None:
        super().__init__()
        self.strip_id = strip.id
        self._bench, self._index = bench, index
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 4)
        column.setSpacing(4)
        self._pick = QPushButton(strip.name)
        self._pick.setToolTip(tr("Choose another strip from the tray"))
        self._pick.clicked.connect(lambda: self.tray_wanted.emit(index))
        column.addWidget(self._pick)
        self._about = QLabel(_about_strip(strip, bench.unit))
        self._about.setObjectName("dim")
        self._about.setWordWrap(True)
        column.addWidget(self._about)
        self.form = Form()
        column.addWidget(self.form)
        self._cct: QuantityField | None = None
        if strip.white_cct_k is not None:
            self._cct = QuantityField(tr("Colour temperature"), lambda text: parse_number(text, "K"))
            self._cct.wrong.connect(self.form.say)
            self._cct.taken.connect(
                lambda value: bench.edit("Colour temperature", lambda design, _: edits.with_cct(design, index, value))
            )
            self.form.add(tr("White"), self._cct)
        self._levels = [self._level(channel, source.name) for channel, source in enumerate(strip.channel)]
        self.form.finish()

    def _level(self, channel: int, name: str) -> LevelField:
        field = LevelField(tr("Level of {name}").format(name=name))
        gesture: list[object] = [object()]

        def move(level: float) -> None:
            self._bench.drag(
                "Level",
                lambda design, _: edits.with_level(design, self._bench.catalogue, self._index, channel, level),
                gesture[0],
            )

        def let_go() -> None:
            gesture[0] = object()

        field.moved.connect(move)
        field.let_go.connect(let_go)
        self.form.add(tr("Level") if name == "white" else tr("Level, {name}").format(name=name), field)
        return field

    def refresh(self, design: Design) -> None:
        """Show white and levels."""
        choice = design.strips[self._index]
        if self._cct is not None and choice.cct_k is not None:
            self._cct.show_text(f"{choice.cct_k:g} K")
        levels = choice.levels_for(self._bench.catalogue.strip(choice.strip))
        for field, level in zip(self._levels, levels, strict=True):
            field.show_level(level)
        self._about.setText(_about_strip(self._bench.catalogue.strip(choice.strip), self._bench.unit))


def _about_strip(strip: Strip, unit: LengthUnit) -> str:
    return tr("{watts} W/m, {flux} lm/m, cut every {segment}, {width} wide; typical").format(
        watts=format_number(strip.power_w_per_m),
        flux=format_number(strip.flux_lm_per_m),
        segment=format_length(strip.segment_mm, unit),
        width=format_length(strip.width_mm, unit),
    )
