"""In which order the data run through the pixels of a board."""

from typing import Literal

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from gauze.core.design.build import PixelOrder
from gauze.session.build_edits import with_choice_at
from gauze.ui.panels.fields import ChoiceBox, Form
from gauze.ui.text import tr
from gauze.ui.workbench import Workbench

# in the order in which they are offered
_LINES: tuple[tuple[Literal["rows", "columns"], bool], ...] = (
    ("rows", False),
    ("rows", True),
    ("columns", False),
    ("columns", True),
)


class PixelOrderControls(QWidget):
    """Two choices: the corner of the first pixel, and how the lines run from there."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self._bench = bench
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        form = Form()
        column.addWidget(form)
        self.start, self.lines = ChoiceBox(), ChoiceBox()
        for key, text in (
            ("lower_left", tr("lower left")),
            ("lower_right", tr("lower right")),
            ("upper_left", tr("upper left")),
            ("upper_right", tr("upper right")),
        ):
            self.start.addItem(text, key)
        for text in (
            tr("row by row"),
            tr("row by row, back and forth"),
            tr("column by column"),
            tr("column by column, back and forth"),
        ):
            self.lines.addItem(text)
        for box, name in ((self.start, tr("First pixel of a board")), (self.lines, tr("Way through a board"))):
            box.setAccessibleName(name)
            box.activated.connect(lambda _index: self._take())
        form.add(tr("First pixel"), self.start)
        form.add(tr("Counted"), self.lines)
        form.finish()

    def _take(self) -> None:
        by, zigzag = _LINES[self.lines.currentIndex()]
        order = PixelOrder(start=self.start.currentData(), by=by, zigzag=zigzag)
        self._bench.edit("Order of the pixels", lambda design, _: with_choice_at(design, "build.module.order", order))

    def refresh(self, order: PixelOrder) -> None:
        """Show the order; seen from the front."""
        self.start.setCurrentIndex(self.start.findData(order.start))
        self.lines.setCurrentIndex(_LINES.index((order.by, order.zigzag)))
