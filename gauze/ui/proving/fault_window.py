"""The window of faults: from what is seen and read to what is wrong; on the open design, or as practice on simulated meters."""

import random
from typing import Literal

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import (
    QDialog,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QSplitter,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from gauze.core.design import Design
from gauze.core.design.bench import QUANTITIES, Quantity
from gauze.core.errors import GauzeError
from gauze.core.families import lay_out
from gauze.core.formats.design_file import decode_design
from gauze.core.proving.fault_finder import SYMPTOMS, Diagnosis, Symptom
from gauze.core.proving.faults import Fault, joint_words
from gauze.core.proving.fitting import Reading, unit_of
from gauze.core.proving.log import as_reading
from gauze.core.proving.rehearsal import COURSE, Case, PractisedReading
from gauze.core.units import format_number, parse_number
from gauze.demo import demo
from gauze.session.bench_edits import shown_bench, with_reading
from gauze.session.solver import DiagnoseRequest, Practised, PractiseRequest
from gauze.ui.dimming import dim
from gauze.ui.panels.bench_log import quantity_words
from gauze.ui.panels.fields import ChoiceBox
from gauze.ui.proving.practice_camera import PracticeCamera
from gauze.ui.tables import plain_table
from gauze.ui.text import spoken, told, tr
from gauze.ui.workbench import Workbench

_OWN = ""  # the key of the open design among the cases
_MOST_SUSPECTS = 8
_NAME, _SHARE = range(2)


class FaultWindow(QDialog):
    """What is seen and read on the left, suspects and the next reading on the right."""

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Find a fault"))
        self._bench = bench
        self.symptoms: list[Symptom] = []
        self.practised: list[PractisedReading] = []
        self.diagnosis: Diagnosis | None = None
        self._asked: DiagnoseRequest | None = None
        self._practising: PractiseRequest | None = None
        self._seed, self._design = 0, bench.design
        self._pieces: tuple[str, ...] = ()
        self._make_widgets()
        self._lay_out()
        self.resize(1060, 680)
        bench.design_changed.connect(self._design_changed)
        bench.document_replaced.connect(self._start_over)
        bench.solving.diagnosed.connect(self._take)
        bench.solving.practised.connect(self._take_practised)
        bench.solving.fault_refused.connect(self._refuse)

    def _make_widgets(self) -> None:
        self.case = ChoiceBox()
        self.case.setAccessibleName(tr("Design or practice case"))
        self.case.addItem(tr("The open design, with the readings of its log"), _OWN)
        for number, one in enumerate(COURSE, start=1):
            words = tr("Practice {number}: {title} ({hard} of 3)")
            self.case.addItem(
                words.format(number=number, title=spoken(one.title, self._bench.unit), hard=one.hard), one.key
            )
        self.case.activated.connect(lambda _index: self._start_over())
        self.banner = QLabel()
        self.banner.setObjectName("practice")
        self.banner.setFrameShape(QFrame.Shape.Box)
        self.banner.setMargin(8)
        self.banner.setWordWrap(True)
        self.banner.setTextFormat(Qt.TextFormat.PlainText)
        self.kind, self.piece = ChoiceBox(), ChoiceBox()
        self.kind.setAccessibleName(tr("What is seen"))
        for key, said in SYMPTOMS.items():
            self.kind.addItem(spoken(said, self._bench.unit), key)
        self.kind.activated.connect(lambda _index: self._fit_piece())
        self.piece.setAccessibleName(tr("Where it is seen"))
        self.see, self.unsee = QPushButton(tr("Add")), QPushButton(tr("Clear"))
        self.see.clicked.connect(self._add_symptom)
        self.unsee.clicked.connect(self._clear_symptoms)
        self.seen = QLabel()
        self.readings = plain_table(tr("Readings"), (tr("Where"), tr("Read")), 0)
        self.readings.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.quantity, self.place, self.value = ChoiceBox(), QLineEdit(), QLineEdit()
        for quantity in QUANTITIES:
            self.quantity.addItem(f"{quantity_words()[quantity]} ({unit_of(quantity)})", quantity)
        self.quantity.setAccessibleName(tr("What is read"))
        self.place.setAccessibleName(tr("Where it was read"))
        self.place.setPlaceholderText(tr("row-1 end, supply, 100,60"))
        self.value.setAccessibleName(tr("What the meter shows"))
        self.value.setPlaceholderText(tr("what the meter shows"))
        self.read = QPushButton(tr("Add the reading"))
        self.read.clicked.connect(self._read)
        for line in (self.place, self.value):
            line.returnPressed.connect(self._read)
        self.problem = QLabel()
        self.problem.setObjectName("error")
        self.suspects = plain_table(tr("Suspects"), (tr("What it could be"), tr("How likely")), _NAME)
        self.suspects.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.suspects.itemSelectionChanged.connect(self._show_remedy)
        self.remedy, self.next = QLabel(), QLabel()
        self.take_next = QPushButton(tr("Take this reading next"))
        self.take_next.clicked.connect(self._take_next)
        self.camera = PracticeCamera()
        self.camera.wanted.connect(lambda: self._practise(camera=True))
        self.answer, self.well = QPushButton(tr("This is it")), QPushButton(tr("Nothing is wrong"))
        self.answer.clicked.connect(self._answer)
        self.well.clicked.connect(lambda: self._judge("well"))
        self.score = QLabel()
        for label in (self.seen, self.problem, self.remedy, self.next, self.score):
            label.setWordWrap(True)
            label.setTextFormat(Qt.TextFormat.PlainText)
        for button in (self.see, self.unsee, self.read, self.take_next, self.answer, self.well):
            button.setAutoDefault(False)

    def _lay_out(self) -> None:
        left, right = QWidget(), QWidget()
        one = QVBoxLayout(left)
        one.setContentsMargins(0, 0, 8, 0)
        one.addWidget(_heading(tr("What is seen")))
        row = QHBoxLayout()
        for widget, stretch in ((self.kind, 2), (self.piece, 1), (self.see, 0), (self.unsee, 0)):
            row.addWidget(widget, stretch)
        one.addLayout(row)
        one.addWidget(self.seen)
        one.addWidget(self.camera)
        one.addWidget(_heading(tr("What was read")))
        one.addWidget(self.readings, 1)
        below = QHBoxLayout()
        for part, stretch in ((self.quantity, 2), (self.place, 2), (self.value, 1), (self.read, 0)):
            below.addWidget(part, stretch)
        one.addLayout(below)
        one.addWidget(self.problem)
        caution = QLabel(tr("Caution: supply off before you touch a joint; measure on the low-voltage side only."))
        caution.setObjectName("dim")
        caution.setWordWrap(True)
        one.addWidget(caution)
        other = QVBoxLayout(right)
        other.setContentsMargins(8, 0, 0, 0)
        other.addWidget(_heading(tr("What it could be")))
        other.addWidget(self.suspects, 1)
        other.addWidget(self.remedy)
        answers = QHBoxLayout()
        answers.addWidget(self.answer)
        answers.addWidget(self.well)
        other.addLayout(answers)
        other.addWidget(self.score)
        other.addWidget(_heading(tr("The most informative reading")))
        other.addWidget(self.next)
        other.addWidget(self.take_next)
        halves = QSplitter(Qt.Orientation.Horizontal)
        halves.addWidget(left)
        halves.addWidget(right)
        halves.setSizes([540, 500])
        halves.setChildrenCollapsible(False)
        whole = QVBoxLayout(self)
        whole.addWidget(self.case)
        whole.addWidget(self.banner)
        whole.addWidget(halves, 1)

    def showEvent(self, event: QShowEvent | None) -> None:  # noqa: N802 - Qt's name
        """Begin with what is open."""
        super().showEvent(event)
        self._start_over()

    # -- on what ----------------------------------------------------------------------------------------------------

    @property
    def practice(self) -> Case | None:
        """The case that is practised; None on the open design."""
        key = self.case.currentData()
        return next((one for one in COURSE if one.key == key), None)

    def _start_over(self) -> None:
        if not self.isVisible():
            return
        case = self.practice
        self.symptoms, self.practised, self.diagnosis = [], [], None
        self._design = self._bench.design if case is None else self._demo(case)
        self._seed = random.SystemRandom().randrange(1, 1_000_000)
        self.banner.setVisible(case is not None)
        for widget in (self.answer, self.well, self.camera):
            widget.setVisible(case is not None)
        self.camera.forget()
        self.value.setVisible(case is None)
        self.read.setText(tr("Add the reading") if case is None else tr("Measure"))
        self.score.setText("")
        self.problem.setText("")
        if case is not None:
            words = tr("PRACTICE on simulated meters. None of this is kept with your design. {story}")
            self.banner.setText(words.format(story=spoken(case.story, self._bench.unit)))
        self._fill_pieces()
        if case is None:
            self._ask()
        else:
            self._practise()

    def _demo(self, case: Case) -> Design:
        return decode_design(demo(case.demo).read(), self._bench.catalogue)

    def _design_changed(self) -> None:
        if self.practice is None and self.isVisible():
            self._design = self._bench.design
            self._fill_pieces()
            self._ask()

    def _fill_pieces(self) -> None:
        layout = self._bench.layout if self.practice is None else lay_out(self._design, self._bench.catalogue)
        pieces = tuple(piece.id for piece in layout.pieces)
        if pieces != self._pieces:
            self._pieces = pieces
            self.piece.clear()
            for name in pieces:
                self.piece.addItem(name, name)
        self._fit_piece()

    def _fit_piece(self) -> None:
        self.piece.setEnabled(Symptom(self.kind.currentData()).has_place)

    # -- what is seen and read --------------------------------------------------------------------------------------

    def _add_symptom(self) -> None:
        one = Symptom(self.kind.currentData())
        if one.has_place:
            one = Symptom(one.kind, self.piece.currentData() or "")
        if one not in self.symptoms:
            self.symptoms.append(one)
        self._ask()

    def _clear_symptoms(self) -> None:
        self.symptoms = []
        self._ask()

    def _read(self) -> None:
        quantity: Quantity = self.quantity.currentData()
        self.problem.setText("")
        case = self.practice
        if case is not None:
            self._practise((quantity, self.place.text()))
            return
        try:
            value = parse_number(self.value.text(), unit_of(quantity))
            design = with_reading(self._bench.design, quantity, self.place.text(), value)
        except GauzeError as error:
            self.problem.setText(told(error))
            return
        if self._bench.edit("Reading", lambda _design, _: design):
            self.value.clear()

    def _evidence(self) -> tuple[Reading, ...]:
        if self.practice is not None:
            return tuple(one.as_evidence for one in self.practised)
        return tuple(as_reading(one) for one in shown_bench(self._bench.design).readings)

    def _take_next(self) -> None:
        further = None if self.diagnosis is None else self.diagnosis.next_reading
        if further is None:
            return
        self.quantity.setCurrentIndex(self.quantity.findData(further.quantity))
        self.place.setText(further.place)
        if self.practice is not None:
            self._read()
        else:
            self.value.setFocus(Qt.FocusReason.OtherFocusReason)

    # -- asking -----------------------------------------------------------------------------------------------------

    def _ask(self) -> None:
        self._show_evidence()
        if not self.symptoms and not self._evidence():
            self.diagnosis = None
            self._show_suspects()
            self.next.setText(tr("Add a symptom, or take a reading."))
            self.take_next.setEnabled(False)
            return
        self._asked = DiagnoseRequest(self._design, tuple(self.symptoms), self._evidence())
        dim(self.suspects, dimmed=True)
        self.take_next.setEnabled(False)  # it would be that of what was known before
        self._bench.solving.diagnose(self._asked)

    def _practise(self, asked: tuple[Quantity, str] | None = None, *, camera: bool = False) -> None:
        case = self.practice
        assert case is not None
        self._practising = PractiseRequest(
            self._design, case.key, self._seed, asked, len(self.practised), camera=camera
        )
        self._bench.solving.practise(self._practising)

    def _judge(self, answer: Fault | Literal["well"]) -> None:
        case = self.practice
        if case is not None:
            self._practising = PractiseRequest(self._design, case.key, self._seed, None, len(self.practised), answer)
            self._bench.solving.practise(self._practising)

    def _answer(self) -> None:
        chosen = self._chosen()
        if chosen is not None:
            self._judge(chosen)

    # -- showing ----------------------------------------------------------------------------------------------------

    def _take(self, request: DiagnoseRequest, diagnosis: Diagnosis) -> None:
        if request != self._asked:
            return
        self.diagnosis = diagnosis
        self._show_suspects()
        further = diagnosis.next_reading
        self.take_next.setEnabled(further is not None)
        if further is None:
            self.next.setText(
                tr("No further reading would tell these apart: look at the joints and labels themselves.")
            )
            return
        unit, name = unit_of(further.quantity), quantity_words()[further.quantity]
        lines = [tr("{name} at {place}: {value} {unit} without a fault").format(
            name=name, place=further.place, value=format_number(further.healthy), unit=unit
        )]  # fmt: skip
        for fault, value in further.expected[:4]:
            words = ", ".join(spoken(one, self._bench.unit) for one in (fault.name, joint_words(fault)) if one)
            lines.append(f"  {format_number(value)} {unit}: {words}")
        self.next.setText("\n".join(lines))

    def _take_practised(self, request: PractiseRequest, found: Practised) -> None:
        if request != self._practising:
            return
        if found.score is not None:
            self._show_score(found)
            return
        if found.picture is not None:
            self.camera.show_picture(found.picture)
            return
        self.symptoms = list(found.symptoms)
        if found.reading is not None:
            self.practised.append(found.reading)
        self._ask()

    def _show_score(self, found: Practised) -> None:
        assert found.score is not None
        truth = tr("nothing was wrong") if found.truth is None else spoken(found.truth.name, self._bench.unit)
        words = (
            tr("Right: {truth}. {points} of 10 points, with {count} readings.")
            if found.score.named
            else tr("Not this: {truth}. 0 of 10 points, with {count} readings.")
        )
        self.score.setText(words.format(truth=truth, points=found.score.points, count=found.score.readings))

    def _refuse(self, request: object, why: str) -> None:
        if request in (self._asked, self._practising):
            self.problem.setText(why)
            dim(self.suspects, dimmed=False)

    def _show_evidence(self) -> None:
        unit = self._bench.unit
        said = [spoken(SYMPTOMS[one.kind], unit) + (f": {one.piece}" if one.piece else "") for one in self.symptoms]
        self.seen.setText("; ".join(said) or tr("No symptoms added yet."))
        rows = self._evidence()
        self.readings.setRowCount(len(rows))
        for index, one in enumerate(rows):
            for column, text in enumerate(
                (
                    f"{quantity_words()[one.quantity]}, {one.place}",
                    f"{format_number(one.value)} {unit_of(one.quantity)}",
                )
            ):
                self.readings.setItem(index, column, QTableWidgetItem(text))

    def _show_suspects(self) -> None:
        some = () if self.diagnosis is None else self.diagnosis.suspects[:_MOST_SUSPECTS]
        self.suspects.setRowCount(len(some))
        for index, one in enumerate(some):
            name = QTableWidgetItem(spoken(one.fault.name, self._bench.unit))
            share = QTableWidgetItem(f"{one.probability:.0%}".replace("%", " %"))
            self.suspects.setItem(index, _NAME, name)
            self.suspects.setItem(index, _SHARE, share)
        if some:
            self.suspects.selectRow(0)
        self._show_remedy()
        dim(self.suspects, dimmed=False)

    def _chosen(self) -> Fault | None:
        row = self.suspects.currentRow()
        if self.diagnosis is None or not 0 <= row < min(len(self.diagnosis.suspects), _MOST_SUSPECTS):
            return None
        return self.diagnosis.suspects[row].fault

    def _show_remedy(self) -> None:
        chosen = self._chosen()
        self.remedy.setText("" if chosen is None else spoken(chosen.remedy, self._bench.unit))
        self.answer.setEnabled(chosen is not None)


def _heading(text: str) -> QLabel:
    label = QLabel(text)
    label.setObjectName("heading")
    return label
