"""A cutting plan drawn as bars: pieces with their lengths, what is left, and running marks below."""

import itertools
from collections.abc import Iterator

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QHelpEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from gauze.core.making.cutting import Bar, CuttingPlan
from gauze.core.units import LengthUnit, format_length
from gauze.ui.message import plain_tip
from gauze.ui.text import tr
from gauze.ui.theme import Theme

_BAR, _MARKS, _GAP = 22.0, 14.0, 8.0
_BEFORE = 46.0  # for how often a bar is cut so
_FILLS = (46, 88)  # alpha of the accent, alternating
_MOST_DRAWN = 60


class CutBars(QWidget):
    """The bars of a plan, identical ones drawn once with their count."""

    def __init__(self, theme: Theme, unit: LengthUnit) -> None:
        super().__init__()
        self._theme, self._unit = theme, unit
        self._rows: list[tuple[int, Bar]] = []
        self.hidden = 0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_plan(self, plan: CuttingPlan, theme: Theme, unit: LengthUnit) -> None:
        """Draw a plan."""
        self._theme, self._unit = theme, unit
        rows = list(_alike(plan))
        self._rows = rows[:_MOST_DRAWN]
        self.hidden = sum(count for count, _ in rows[_MOST_DRAWN:])
        words = [self._words(count, bar) for count, bar in self._rows]
        self.setAccessibleName(tr("Cutting plan"))
        self.setAccessibleDescription("; ".join(words))
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:  # noqa: N802 - Qt's name
        """As high as its bars."""
        return QSize(420, int(len(self._rows) * (_BAR + _MARKS + _GAP)) or 1)

    def minimumSizeHint(self) -> QSize:  # noqa: N802 - Qt's name
        """As :meth:`sizeHint`, but narrower."""
        return QSize(220, self.sizeHint().height())

    def _length(self, length_mm: float) -> str:
        return format_length(length_mm, self._unit)

    def _words(self, count: int, bar: Bar) -> str:
        pieces = ", ".join(f"{name} {self._length(length)}" for name, length in bar.pieces)
        marks = ", ".join(self._length(mark) for mark in bar.marks_mm)
        words = tr("{count} × {length}: {pieces}; marks at {marks}; {left} left")
        return words.format(
            count=count, length=self._length(bar.length_mm), pieces=pieces, marks=marks, left=self._length(bar.left_mm)
        )

    def _frames(self) -> Iterator[tuple[int, Bar, QRectF]]:
        longest = max((bar.length_mm for _, bar in self._rows), default=1.0)
        room = max(self.width() - _BEFORE - 2.0, 1.0)
        for index, (count, bar) in enumerate(self._rows):
            top = index * (_BAR + _MARKS + _GAP)
            yield count, bar, QRectF(_BEFORE, top, room * bar.length_mm / longest, _BAR)

    def paintEvent(self, _event: QPaintEvent | None) -> None:  # noqa: N802 - Qt's name
        """Draw every bar."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for count, bar, frame in self._frames():
            painter.setPen(self._theme.colour("dim"))
            before = QRectF(0.0, frame.top(), _BEFORE - 8.0, _BAR)
            painter.drawText(before, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, f"{count} ×")
            self._draw_bar(painter, bar, frame)
        painter.end()

    def _draw_bar(self, painter: QPainter, bar: Bar, frame: QRectF) -> None:
        scale = frame.width() / bar.length_mm
        line = QPen(self._theme.colour("ink_dim"))
        line.setStyle(Qt.PenStyle.DashLine if bar.offcut else Qt.PenStyle.SolidLine)
        painter.setPen(line)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(frame)
        marked = -1e9
        for index, ((name, length), mark) in enumerate(zip(bar.pieces, bar.marks_mm, strict=True)):
            end = frame.left() + mark * scale
            piece = QRectF(end - length * scale, frame.top(), length * scale, _BAR)
            painter.setPen(self._theme.colour("ink"))
            painter.setBrush(self._theme.colour("accent", _FILLS[index % 2]))
            painter.drawRect(piece)
            self._write(painter, piece, (f"{name}  {self._length(length)}", self._length(length)))
            wide = painter.fontMetrics().horizontalAdvance(self._length(mark))
            at = min(end - wide / 2.0, self.width() - wide - 1.0)
            if at > marked:
                painter.setPen(self._theme.colour("dim"))
                painter.drawText(QPointF(at, frame.bottom() + _MARKS - 2.0), self._length(mark))
                marked = at + wide + 6.0
        left = QRectF(frame.right() - bar.left_mm * scale, frame.top(), bar.left_mm * scale, _BAR)
        painter.setPen(self._theme.colour("dim"))
        words = tr("{left} left").format(left=self._length(bar.left_mm))
        self._write(painter, left, (words, self._length(bar.left_mm)))

    def _write(self, painter: QPainter, room: QRectF, texts: tuple[str, ...]) -> None:
        """Write the first text for which there is room."""
        for text in texts:
            if painter.fontMetrics().horizontalAdvance(text) + 6 <= room.width():
                painter.drawText(room, Qt.AlignmentFlag.AlignCenter, text)
                return

    def event(self, event: QEvent | None) -> bool:
        """Tell all of a bar under the pointer."""
        if isinstance(event, QHelpEvent):
            at = QPointF(event.pos())
            for count, bar, frame in self._frames():
                if frame.adjusted(-_BEFORE, 0.0, 0.0, _MARKS).contains(at):
                    QToolTip.showText(event.globalPos(), plain_tip(self._words(count, bar)), self)
                    return True
            QToolTip.hideText()
            return True
        return super().event(event)


def _alike(plan: CuttingPlan) -> Iterator[tuple[int, Bar]]:
    """Bars with the same lengths in the same order together."""
    keyed = itertools.groupby(
        plan.bars, key=lambda bar: (bar.length_mm, bar.offcut, tuple(length for _, length in bar.pieces))
    )
    for _, bars in keyed:
        some = list(bars)
        yield len(some), some[0]
