"""A plan of sheets drawn to scale, and the block of one material with it."""

from collections.abc import Callable, Iterator

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QHelpEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QCheckBox, QLabel, QSizePolicy, QToolTip, QVBoxLayout, QWidget

from gauze.core.making.sheet_lists import PlannedSheets
from gauze.core.making.sheets import CutSheet, Placed, SheetPlan
from gauze.core.units import LengthUnit, format_length, parse_length
from gauze.ui.making.words import plan_words
from gauze.ui.message import plain_tip
from gauze.ui.panels.fields import Form, QuantityField
from gauze.ui.text import spoken, told, tr
from gauze.ui.theme import Theme

_LEAST_ACROSS, _MOST_ACROSS = 2, 3  # sheets in a row
_GAP = 10.0
_MOST_DRAWN = 30
_FILL = 70  # alpha of the accent


class SheetsView(QWidget):
    """The sheets of a plan, each with its pieces as they lie."""

    def __init__(self, theme: Theme, unit: LengthUnit) -> None:
        super().__init__()
        self._theme, self._unit = theme, unit
        self._sheets: tuple[CutSheet, ...] = ()
        self.hidden = 0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_plan(self, plan: SheetPlan, theme: Theme, unit: LengthUnit) -> None:
        """Draw a plan."""
        self._theme, self._unit = theme, unit
        self._sheets = plan.sheets[:_MOST_DRAWN]
        self.hidden = len(plan.sheets) - len(self._sheets)
        self.setAccessibleName(tr("Plan of the sheets"))
        pieces = (self._words(one) for sheet in self._sheets for one in sheet.placed)
        self.setAccessibleDescription("; ".join(pieces))
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:  # noqa: N802 - Qt's name
        """As high as its rows of sheets."""
        return QSize(420, self._height(max(self.width(), 420)))

    def minimumSizeHint(self) -> QSize:  # noqa: N802 - Qt's name
        """As :meth:`sizeHint`, but narrower."""
        return QSize(220, self.sizeHint().height())

    def _scale(self, width: float) -> float:
        """Pixels a mm: the widest sheet takes its share of the width."""
        widest = max((sheet.size.width_mm for sheet in self._sheets), default=1.0)
        return float((width - (self._across - 1) * _GAP - 2.0) / self._across / widest)

    @property
    def _across(self) -> int:
        return min(max(len(self._sheets), _LEAST_ACROSS), _MOST_ACROSS)

    def _height(self, width: float) -> int:
        scale = self._scale(width)
        rows = [self._sheets[at : at + self._across] for at in range(0, len(self._sheets), self._across)]
        return int(sum(max(one.size.height_mm for one in row) * scale + _GAP for row in rows)) + 2 or 1

    def _frames(self) -> Iterator[tuple[CutSheet, QRectF]]:
        scale, top = self._scale(self.width()), 1.0
        for at in range(0, len(self._sheets), self._across):
            row, left = self._sheets[at : at + self._across], 1.0
            for sheet in row:
                yield sheet, QRectF(left, top, sheet.size.width_mm * scale, sheet.size.height_mm * scale)
                left += sheet.size.width_mm * scale + _GAP
            top += max(one.size.height_mm for one in row) * scale + _GAP

    def _places(self) -> Iterator[tuple[Placed, QRectF]]:
        """Every piece with where it is drawn: y goes up from the lower edge of its sheet."""
        scale = self._scale(self.width())
        for sheet, frame in self._frames():
            for one in sheet.placed:
                top = frame.bottom() - (one.y_mm + one.height_mm) * scale
                yield one, QRectF(frame.left() + one.x_mm * scale, top, one.width_mm * scale, one.height_mm * scale)

    def paintEvent(self, _event: QPaintEvent | None) -> None:  # noqa: N802 - Qt's name
        """Draw every sheet and its pieces."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for sheet, frame in self._frames():
            line = QPen(self._theme.colour("ink_dim"))
            line.setStyle(Qt.PenStyle.DashLine if sheet.size.offcut else Qt.PenStyle.SolidLine)
            painter.setPen(line)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(frame)
        for one, room in self._places():
            painter.setPen(self._theme.colour("ink"))
            painter.setBrush(self._theme.colour("accent", _FILL))
            if one.ring_mm is None:
                painter.drawRect(room)
            else:
                painter.drawPolygon(self._polygon(one, room))
            size = f"{self._length(one.width_mm)} × {self._length(one.height_mm)}"
            words = next((text for text in (f"{one.name}\n{size}", one.name) if _has_room(painter, room, text)), "")
            painter.drawText(room, Qt.AlignmentFlag.AlignCenter, words)
        painter.end()

    def _polygon(self, one: Placed, room: QRectF) -> QPolygonF:
        """The outline of what is no rectangle, in the room that it takes."""
        assert one.ring_mm is not None
        scale = room.width() / one.width_mm
        return QPolygonF(
            [
                QPointF(room.left() + (x - one.x_mm) * scale, room.bottom() - (y - one.y_mm) * scale)
                for x, y in one.ring_mm.tolist()
            ]
        )

    def _length(self, length_mm: float) -> str:
        return format_length(round(length_mm, 1), self._unit)

    def _words(self, one: Placed) -> str:
        words = tr("{name}: {wide} × {high}, {x} from the left and {y} from below")
        return words.format(
            name=one.name,
            wide=self._length(one.width_mm),
            high=self._length(one.height_mm),
            x=self._length(one.x_mm),
            y=self._length(one.y_mm),
        )

    def event(self, event: QEvent | None) -> bool:
        """Tell of the piece under the pointer where it lies."""
        if isinstance(event, QHelpEvent):
            at = QPointF(event.pos())
            found = next((one for one, room in self._places() if room.contains(at)), None)
            if found is None:
                QToolTip.hideText()
            else:
                QToolTip.showText(event.globalPos(), plain_tip(self._words(found)), self)
            return True
        return super().event(event)


def _has_room(painter: QPainter, room: QRectF, text: str) -> bool:
    lines, metrics = text.split("\n"), painter.fontMetrics()
    wide = max(metrics.horizontalAdvance(line) for line in lines)
    return bool(wide + 6 <= room.width() and len(lines) * metrics.height() <= room.height())


class SheetBlock(QWidget):
    """One material in sheets: its name, the size in which it is bought, and its plan."""

    size_taken = pyqtSignal(str, str, object)  # key, the side as the choice names it, mm or None

    def __init__(self, key: str, theme: Theme, unit: Callable[[], LengthUnit]) -> None:
        super().__init__()
        self.key, self._unit = key, unit
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 10)
        column.setSpacing(4)
        self._name, self.about = QLabel(), QLabel()
        self._name.setObjectName("heading")
        for label in (self._name, self.about):
            label.setWordWrap(True)
            label.setTextFormat(Qt.TextFormat.PlainText)
            column.addWidget(label)
        self.form = Form()
        self.wide = self._side(tr("Width of the sheets that are bought"), "length_mm")
        self.high = self._side(tr("Height of the sheets that are bought"), "width_mm")
        self.form.add_pair(tr("Bought in"), self.wide, self.high)
        self.grain = QCheckBox(tr("keep the grain: turn nothing"))
        self.grain.setToolTip(tr("The grain runs along the width of the sheet, and of the build"))
        self.grain.toggled.connect(lambda checked: self.size_taken.emit(self.key, "grain", checked))
        self.form.add_wide(self.grain)
        self.form.finish()
        column.addWidget(self.form)
        self.view = SheetsView(theme, unit())
        column.addWidget(self.view)

    def _side(self, name: str, choice: str) -> QuantityField:
        field = QuantityField(name, lambda text: parse_length(text, self._unit()) if text.strip() else 0.0)
        field.taken.connect(lambda value: self.size_taken.emit(self.key, choice, value or None))
        field.wrong.connect(self.form.say)
        return field

    def show_planned(self, planned: PlannedSheets, theme: Theme) -> None:
        """Show a plan, or why there is none."""
        unit, plan = self._unit(), planned.plan
        self._name.setText(spoken(planned.sheet_list.name, unit))
        self.wide.show_text(format_length(planned.size.width_mm, unit))
        self.high.show_text(format_length(planned.size.height_mm, unit))
        blocked = self.grain.blockSignals(True)
        self.grain.setChecked(planned.grain)
        self.grain.blockSignals(blocked)
        self.view.setVisible(plan is not None)
        if plan is None:
            assert planned.problem is not None
            self.about.setText(told(planned.problem, unit))
            return
        used = sum(one.used for one in plan.sheets) / max(len(plan.sheets), 1)
        self.view.show_plan(plan, theme, unit)
        owned = len(plan.sheets) - plan.bought
        text = plan_words(plan.bought, owned, used, plan.cost, plan.bound, self.view.hidden)
        if not all(piece.rectangle for piece in planned.sheet_list.pieces):
            text += tr("; shapes other than rectangles are laid in rows, nested, or as the rectangle around them")
        self.about.setText(text)
