"""The window of the steps: ticked on the left; on the right what is done, where, and what a meter should read."""

from collections.abc import Callable, Sequence
from pathlib import Path

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QScrollArea,
    QSplitter,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from gauze.core.design.making import LONGEST_NOTE, LONGEST_READING, Making
from gauze.core.evaluate.building.model import STAGES, Expected, Step
from gauze.core.units import LengthUnit, format_number
from gauze.ui.dimming import dim
from gauze.ui.making.plan_picture import PlanPicture
from gauze.ui.pictures import PictureRow
from gauze.ui.text import spoken, tr
from gauze.ui.theme import Theme

_KEY = Qt.ItemDataRole.UserRole


class StepsWindow(QDialog):
    """Steps in their order. Its keeper carries out what is asked for here."""

    record_taken = pyqtSignal(str, str, object)  # key of a step, field, value
    own_step_wanted = pyqtSignal(str, str)  # key of the step that it follows, text
    own_step_unwanted = pyqtSignal(str)  # its key
    step_shown = pyqtSignal(object)  # Step | None
    book_wanted = pyqtSignal()

    def __init__(self, theme: Theme, unit: LengthUnit, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Steps"))
        self._theme, self._unit = theme, unit
        self._steps: tuple[Step, ...] = ()
        self._making = Making()
        self._stale = False
        self._written = ""  # the step whose note and reading stand in the fields
        self._note_kept = ""  # its note as far as it is kept
        self.find_picture: Callable[[str], Path | None] = Path
        self.pictures = PictureRow()
        self.pictures.taken.connect(lambda texts: self._take_pictures(texts))
        self.tree = QTreeWidget()
        self.tree.setHeaderHidden(True)
        self.tree.setAccessibleName(tr("Steps"))
        self.tree.itemChanged.connect(self._take_tick)
        self.tree.currentItemChanged.connect(lambda _now, _before: self._show_current())
        self._count, self._title, self._text = QLabel(), QLabel(), QLabel()
        self._title.setObjectName("heading")
        for label in (self._count, self._title, self._text):
            label.setWordWrap(True)
            label.setTextFormat(Qt.TextFormat.PlainText)
        self._text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.picture = PlanPicture(theme)
        self.reading, self.note = QLineEdit(), QPlainTextEdit()
        self.reading.setMaxLength(LONGEST_READING)
        self.reading.setAccessibleName(tr("What you read"))
        self.reading.setPlaceholderText(tr("what you read, such as 0.24 A"))
        self.reading.editingFinished.connect(lambda: self._take_text("reading", self.reading.text().strip()))
        self.note.setAccessibleName(tr("Note"))
        self.note.setPlaceholderText(tr("a note of your own"))
        self.note.setFixedHeight(64)
        self.note.installEventFilter(self)
        self.own = QLineEdit()
        self.own.setMaxLength(LONGEST_NOTE)
        self.own.setAccessibleName(tr("A step of your own, after this one"))
        self.own.setPlaceholderText(tr("a step of your own, after this one"))
        self.add, self.remove = QPushButton(tr("Add")), QPushButton(tr("Remove this step"))
        self.add.clicked.connect(self._add)
        self.own.returnPressed.connect(self._add)
        self.remove.clicked.connect(self._remove)
        self.book = QPushButton(tr("Export the build book (PDF) …"))
        self.book.clicked.connect(self.book_wanted)
        for button in (self.add, self.remove, self.book):
            button.setAutoDefault(False)
        self._lay_out()
        self.resize(1040, 700)

    def _lay_out(self) -> None:
        left, right = QWidget(), QWidget()
        one = QVBoxLayout(left)
        one.setContentsMargins(0, 0, 8, 0)
        one.addWidget(self._count)
        one.addWidget(self.tree, 1)
        row = QHBoxLayout()
        row.addWidget(self.own, 1)
        row.addWidget(self.add)
        one.addLayout(row)
        inside = QWidget()
        told = QVBoxLayout(inside)
        told.setContentsMargins(0, 0, 8, 0)
        told.addWidget(self._title)
        told.addWidget(self.picture)
        told.addWidget(self._text)
        told.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(inside)
        other = QVBoxLayout(right)
        other.setContentsMargins(8, 0, 0, 0)
        other.addWidget(scroll, 1)
        other.addWidget(self.reading)
        other.addWidget(self.note)
        other.addWidget(self.pictures)
        below = QHBoxLayout()
        below.addWidget(self.remove)
        below.addStretch(1)
        below.addWidget(self.book)
        other.addLayout(below)
        halves = QSplitter(Qt.Orientation.Horizontal)
        halves.addWidget(left)
        halves.addWidget(right)
        halves.setSizes([430, 590])
        halves.setChildrenCollapsible(False)
        QVBoxLayout(self).addWidget(halves, 1)

    # -- showing ----------------------------------------------------------------------------------------------------

    def show_steps(self, steps: Sequence[Step], making: Making) -> None:
        """Show steps with what is kept of them; the one that is looked at stays, where it is still there."""
        self._keep_note()
        key, self._steps, self._making = self.current_key(), tuple(steps), making
        scrolled = self.tree.verticalScrollBar()
        assert scrolled is not None
        where = scrolled.value()
        self.tree.blockSignals(True)
        self.tree.clear()
        group: QTreeWidgetItem | None = None
        stage = None
        wanted: QTreeWidgetItem | None = None
        for number, step in enumerate(self._steps, start=1):
            if group is None or step.stage not in (stage, "own"):
                stage = step.stage
                group = QTreeWidgetItem(self.tree, [spoken(STAGES[step.stage], self._unit)])
                group.setFlags(Qt.ItemFlag.ItemIsEnabled)
                group.setExpanded(True)
            item = QTreeWidgetItem(group, [f"{number}. {spoken(step.title, self._unit)}"])
            item.setData(0, _KEY, step.key)
            item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsUserCheckable)
            ticked = making.record(step.key).done
            item.setCheckState(0, Qt.CheckState.Checked if ticked else Qt.CheckState.Unchecked)
            if ticked:
                font = item.font(0)
                font.setStrikeOut(True)
                item.setFont(0, font)
            if wanted is None or step.key == key:
                wanted = item
        if wanted is not None:
            self.tree.setCurrentItem(wanted)
        self.tree.blockSignals(False)
        scrolled.setValue(where)
        done = sum(making.record(step.key).done for step in self._steps)
        self._count.setText(tr("{done} of {count} steps done").format(done=done, count=len(self._steps)))
        self._show_current()
        self.set_stale(stale=False)

    def current_key(self) -> str:
        """Key of the step that is looked at; empty for none."""
        item = self.tree.currentItem()
        return str(item.data(0, _KEY) or "") if item is not None else ""

    def _current(self) -> Step | None:
        key = self.current_key()
        return next((one for one in self._steps if one.key == key), None)

    def _show_current(self) -> None:
        self._keep_note()
        step = self._current()
        self._title.setText("" if step is None else spoken(step.title, self._unit))
        nothing = tr("Choose a step to see how it is done.") if self._steps else ""
        self._text.setText(nothing if step is None else "\n".join(lines_of(step, self._unit)))
        self.remove.setVisible(step is not None and step.stage == "own")
        for field in (self.reading, self.note, self.own, self.add, self.pictures):
            field.setEnabled(step is not None)
        record = self._making.record("" if step is None else step.key)
        self._written = "" if step is None else step.key
        if not (self.reading.hasFocus() and self.reading.isModified()):
            self.reading.setText(record.reading)
        self.note.setPlainText(record.note)
        self._note_kept = record.note
        self.pictures.show_pictures([(one, self.find_picture(one)) for one in record.pictures])
        self.step_shown.emit(step)

    def _keep_note(self) -> None:
        """Take what was written about the step that was looked at."""
        note = self.note.toPlainText().strip()[:LONGEST_NOTE]
        if self._written and note != self._note_kept:
            self._note_kept = note
            self.record_taken.emit(self._written, "note", note)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:  # noqa: N802 - Qt's name
        """Keep the note as soon as the hand goes elsewhere."""
        if watched is self.note and event is not None and event.type() == QEvent.Type.FocusOut:
            self._keep_note()
        return super().eventFilter(watched, event)

    def forget(self) -> None:
        """Take the steps of another design away."""
        self._written, self._steps, self._making = "", (), Making()
        self.tree.blockSignals(True)
        self.tree.clear()
        self.tree.blockSignals(False)
        self._count.setText(tr("Calculating …"))
        self._show_current()

    def done(self, result: int) -> None:
        """Keep the note before the window closes."""
        self._keep_note()
        super().done(result)

    def set_stale(self, *, stale: bool) -> None:
        """Dim it as long as it is not that of the design as it stands."""
        self._stale = stale
        for one in (self.tree, self._text, self.picture):
            dim(one, dimmed=stale)
        self.book.setEnabled(not stale and bool(self._steps))

    def set_look(self, theme: Theme, unit: LengthUnit) -> None:
        """Draw in another theme, or lengths in another unit."""
        self._theme, self._unit = theme, unit
        self.picture.set_theme(theme)
        self._show_current()

    # -- asking -----------------------------------------------------------------------------------------------------

    def _take_tick(self, item: QTreeWidgetItem, _column: int) -> None:
        key = str(item.data(0, _KEY) or "")
        if key:
            self.record_taken.emit(key, "done", item.checkState(0) == Qt.CheckState.Checked)

    def _take_text(self, field: str, value: str) -> None:
        if self._written and value != getattr(self._making.record(self._written), field):
            self.reading.setModified(False)
            self.record_taken.emit(self._written, field, value)

    def _take_pictures(self, texts: tuple[str, ...]) -> None:
        if self._written:
            self.record_taken.emit(self._written, "pictures", texts)

    def _add(self) -> None:
        text = self.own.text().strip()
        if text and self.current_key():
            self.own.clear()
            self.own_step_wanted.emit(self.current_key(), text)

    def _remove(self) -> None:
        self._written = ""
        self.own_step_unwanted.emit(self.current_key())


def lines_of(step: Step, unit: LengthUnit) -> list[str]:
    """Everything that a step says, line by line."""

    def read(prefix: str, texts: Sequence[object]) -> list[str]:
        return [prefix.format(text=spoken(text, unit)) for text in texts if text]  # type: ignore[arg-type]  # texts all

    found = read("•  {text}", step.how)
    if step.tools:
        found += ["", tr("Tools: {tools}").format(tools=", ".join(spoken(one, unit) for one in step.tools))]
    told: list[str] = read(tr("Test: {text}"), [step.test]) + [_reading(one, unit) for one in step.expected]
    told += read(tr("Hold: {text}"), [step.hold])
    found += ["", *told] if told else []
    rest = read("{text}", [step.meanwhile]) + read(tr("Alternative: {text}"), [step.otherwise])
    found += ["", *rest] if rest else []
    cautions = read(tr("Caution: {text}"), step.cautions)
    return [*found, "", *cautions] if cautions else found


def _reading(one: Expected, unit: LengthUnit) -> str:
    return tr("Read {what}: {low} to {high} {unit}").format(
        what=spoken(one.what, unit), low=format_number(one.low), high=format_number(one.high), unit=one.unit
    )
