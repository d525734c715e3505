"""One strip of a design, whatever its family: which, its white, its levels."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QLabel, QPushButton, QVBoxLayout, QWidget

from gauze.core.design import Design
from gauze.core.design.design import OWN_PREFIX
from gauze.core.materials import Strip
from gauze.core.optics.mixing import whites_xyz
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.session import edits
from gauze.ui.panels.fields import ChannelFields, Form
from gauze.ui.panels.mix_fields import MixFields
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
        self.mix = MixFields(bench, index, self.form) if whites_xyz(strip) is not None else None
        self._channels = ChannelFields(
            self.form,
            strip.white_cct_k is not None,
            [source.name for source in strip.channel],
            lambda value: bench.edit("Colour temperature", lambda design, _: edits.with_cct(design, index, value)),
            lambda channel, level, gesture: bench.drag(
                "Level", lambda design, _: edits.with_level(design, bench.known(), index, channel, level), gesture
            ),
        )

    def refresh(self, design: Design) -> None:
        """Show white and levels."""
        choice = design.strips[self._index]
        self._channels.show(choice.cct_k, choice.levels_for(self._bench.known().strip(choice.strip)))
        self._about.setText(_about_strip(self._bench.known().strip(choice.strip), self._bench.unit))
        if self.mix is not None:
            self.mix.refresh(design)


def _about_strip(strip: Strip, unit: LengthUnit) -> str:
    if strip.id.startswith(OWN_PREFIX):
        words = tr("{watts} W/m, {flux} lm/m, cut every {segment}, {width} wide; by its label")
    else:
        words = tr("{watts} W/m, {flux} lm/m, cut every {segment}, {width} wide; typical")
    return words.format(
        watts=format_number(strip.power_w_per_m),
        flux=format_number(strip.flux_lm_per_m),
        segment=format_length(strip.segment_mm, unit),
        width=format_length(strip.width_mm, unit),
    )
