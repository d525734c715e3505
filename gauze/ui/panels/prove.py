"""The place Prove: the bench log, what readings say about the build, photographs of the face, faults and practice."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from gauze.core.design.bench import LONGEST_TEXT
from gauze.core.proving.builds import COMMON, BuildRow, builds_of
from gauze.core.proving.fitting import Fit, Fitted, unit_of
from gauze.core.proving.log import LogFound
from gauze.core.units import format_number
from gauze.session.bench_edits import LEARNED, shown_bench, with_lesson, with_next_version, without_lesson
from gauze.session.pictures import picture_name
from gauze.ui.dimming import dim
from gauze.ui.message import plain_tip
from gauze.ui.panels.bench_log import BenchLog, quantity_words
from gauze.ui.panels.place_panel import PlacePanel
from gauze.ui.text import tr
from gauze.ui.workbench import Workbench


def fitted_name(one: Fitted) -> str:
    """Name of a fitted value."""
    return {
        "rail_ohm_per_m": tr("Rail of the strip"),
        "rail_factor": tr("Resistances"),
        "supply_v": tr("Supply"),
        "flux_factor": tr("Light of the strip over its label's"),
        "transmittance": tr("Transmittance of the sheet"),
        "reflectance_walls": tr("Reflectance of the walls"),
        "reflectance_back": tr("Reflectance of the back"),
    }[one.name]


class ProvePanel(PlacePanel):
    """The panel; what is asked for here is carried out by its keeper."""

    use_wanted = pyqtSignal()
    shelf_wanted = pyqtSignal()
    photo_wanted = pyqtSignal()

    def __init__(self, bench: Workbench) -> None:
        super().__init__(bench, tr("Bench log"))
        self.log = BenchLog()
        self.form.add_wide(self.log)
        heading = QLabel(tr("What the readings say"))
        heading.setObjectName("heading")
        self.form.add_wide(heading)
        self.fit = QLabel(tr("Take a reading: volts at the supply are a good first one."))
        self.fit.setWordWrap(True)
        self.fit.setTextFormat(Qt.TextFormat.PlainText)
        self.form.add_wide(self.fit)
        self.next = QPushButton()
        self.next.setAccessibleName(tr("Write the place of the next reading into the entry"))
        self.next.clicked.connect(self._start_next)
        self.next.hide()
        self.form.add_wide(self.next)
        self.use = QPushButton(tr("Use these values in the design"))
        self.use.setToolTip(
            tr("Values that the readings have narrowed take the place of typical ones; undo brings those back")
        )
        self.use.clicked.connect(self.use_wanted)
        self.keep = QPushButton(tr("Keep the strip and the sheet on my shelf"))
        self.keep.setToolTip(tr("As you measured them, for the next design"))
        self.keep.clicked.connect(self.shelf_wanted)
        for button in (self.use, self.keep):
            button.setEnabled(False)
            self.form.add_wide(button)
        pictures = QLabel(tr("Photographs and faults"))
        pictures.setObjectName("heading")
        self.form.add_wide(pictures)
        self.photos = QLabel()
        self.photos.setObjectName("dim")
        self.photos.setWordWrap(True)
        self.photos.setTextFormat(Qt.TextFormat.PlainText)
        self.form.add_wide(self.photos)
        row = QHBoxLayout()
        self.photo = QPushButton(tr("Photographs …"))
        self.photo.setToolTip(tr("Measure a photograph of the lit face beside the prediction (Ctrl+Shift+P)"))
        self.photo.clicked.connect(lambda: self.command_wanted.emit("photos", 0))
        self.faults = QPushButton(tr("Find a fault …"))
        self.faults.setToolTip(
            tr("From what you see to what is wrong, with as few readings as possible (Ctrl+Shift+F)")
        )
        self.faults.clicked.connect(lambda: self.command_wanted.emit("faults", 0))
        for button in (self.photo, self.faults):
            row.addWidget(button)
        self.column.addLayout(row)
        self.column.addWidget(self._lessons())
        caution = QLabel(
            tr(
                "Caution: measure on the low-voltage side only, with the probes' rings behind their guards. Never measure amps "
                "across a supply. Mains belongs to licensed electricians."
            )
        )
        caution.setObjectName("dim")
        caution.setWordWrap(True)
        self.column.addWidget(caution)
        self.form.finish()
        for button in (self.next, self.use, self.keep, self.photo, self.faults, self.begin):
            button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)  # words must not widen the panel
        self.column.addStretch(1)
        self.found: LogFound | None = None

    def _lessons(self) -> QWidget:
        """What was learned, and the version that begins with it."""
        box = QWidget()
        column = QVBoxLayout(box)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        heading = QLabel(tr("For the next one"))
        heading.setObjectName("heading")
        column.addWidget(heading)
        self.lessons = QListWidget()
        self.lessons.setAccessibleName(tr("What to do differently"))
        self.lessons.setWordWrap(True)
        self.lessons.setMaximumHeight(90)
        column.addWidget(self.lessons)
        self.lesson = QLineEdit()
        self.lesson.setMaxLength(LONGEST_TEXT)
        self.lesson.setAccessibleName(tr("A lesson"))
        self.lesson.setPlaceholderText(tr("what to do differently next time"))
        self.lesson.returnPressed.connect(self._add_lesson)
        self.drop = QPushButton(tr("Remove"))
        self.drop.clicked.connect(self._drop_lesson)
        row = QHBoxLayout()
        row.addWidget(self.lesson, 1)
        row.addWidget(self.drop)
        column.addLayout(row)
        self.builds = QLabel()
        self.builds.setObjectName("dim")
        self.builds.setWordWrap(True)
        self.builds.setTextFormat(Qt.TextFormat.PlainText)
        column.addWidget(self.builds)
        self.begin = QPushButton(tr("Begin the next version"))
        self.begin.setToolTip(
            tr("This one is kept with its log; the next has the same build, these lessons and an empty log")
        )
        self.begin.clicked.connect(lambda: self.bench.edit("Next version", lambda design, _: with_next_version(design)))
        column.addWidget(self.begin)
        return box

    def _add_lesson(self) -> None:
        text = self.lesson.text()
        if self.bench.edit("Lesson", lambda design, _: with_lesson(design, text), field="bench.lessons"):
            self.lesson.clear()

    def _drop_lesson(self) -> None:
        item = self.lessons.currentItem()
        if item is not None:
            key = str(item.data(Qt.ItemDataRole.UserRole))
            self.bench.edit("Remove a lesson", lambda design, _: without_lesson(design, key))

    def refresh(self) -> None:
        """Show the log as it stands."""
        bench = shown_bench(self.bench.design)
        self.log.show_readings(bench.readings)
        names = [picture_name(one.path) for one in bench.photos]
        self.photos.setText("\n".join(names) or tr("No photograph of the lit face yet."))
        builds = builds_of(self.bench.design)
        self.builds.setText("\n".join(build_words(one) for one in builds))
        self.builds.setVisible(len(builds) > 1)  # one alone is in the log above
        row = self.lessons.currentRow()
        self.lessons.clear()
        for one in bench.lessons:
            item = QListWidgetItem(one.text, self.lessons)
            item.setData(Qt.ItemDataRole.UserRole, one.key)
        self.lessons.setCurrentRow(min(row, len(bench.lessons) - 1))
        self.lessons.setVisible(bool(bench.lessons))
        self.drop.setEnabled(bool(bench.lessons))

    def show_found(self, found: LogFound) -> None:
        """Show what the readings come to."""
        self.found = found
        self.log.show_found(found, self.bench.unit)
        fit = found.fit
        learned = fit is not None and any(one.learned >= LEARNED for one in fit.fitted)
        self.fit.setText(
            fit_words(fit) if fit is not None else tr("Take a reading: volts at the supply are a good first one.")
        )
        dim(self.fit, dimmed=False)
        for button in (self.use, self.keep):
            button.setEnabled(learned)
        further = None if fit is None else fit.next_reading
        self.next.setVisible(further is not None)
        if further is not None:
            words = tr("Next: {quantity} at {place}, about {value} {unit}")
            text = words.format(
                quantity=quantity_words()[further.quantity],
                place=further.place,
                value=format_number(further.expected),
                unit=unit_of(further.quantity),
            )
            self.next.setText(text)
            self.next.setToolTip(plain_tip(f"{text}. " + tr("Write this place into the entry above")))

    def _start_next(self) -> None:
        fit = None if self.found is None else self.found.fit
        if fit is not None and fit.next_reading is not None:
            self.log.start_at(fit.next_reading.quantity, fit.next_reading.place)

    def set_stale(self, *, stale: bool) -> None:
        """Dim what is not of the design as it stands."""
        if stale:
            self.log.set_stale()
            dim(self.fit, dimmed=True)
            for button in (self.use, self.keep):
                button.setEnabled(False)

    def forget(self) -> None:
        """Take the figures of another design away."""
        self.found = None
        self.fit.setText("")
        self.next.hide()


def build_words(one: BuildRow) -> str:
    """One version in a line: its name, and what was read of it."""
    words = [f"{format_number(one.values[key])} {unit_of(key[0])}" for key in COMMON if key in one.values] or [
        tr("{count} readings").format(count=one.readings)
    ]
    return tr("{name}: {values}").format(name=one.name or tr("this version"), values=", ".join(words))


def fit_words(fit: Fit) -> str:
    """Say what the readings tell of, and what they leave as it was."""
    learned = [one for one in fit.fitted if one.learned >= LEARNED]
    lines = []
    for one in learned:
        words = tr("{name}: {value} ± {spread} {unit} (typical {prior})")
        line = words.format(
            name=fitted_name(one),
            value=format_number(one.value),
            spread=format_number(one.uncertainty, 2),
            unit=one.unit,
            prior=format_number(one.prior),
        )
        lines.append(line.replace("  ", " "))
    rest = [fitted_name(one) for one in fit.fitted if one.learned < LEARNED]
    if rest:
        lines.append(tr("Not determined yet: {names}.").format(names=", ".join(rest)))
    off = sum(one.state == "off" for one in fit.residuals)
    if off:
        lines.append(
            tr("{count} readings fit no values: look for a fault there.").format(count=off)
            if off > 1
            else tr("1 reading fits no values: look for a fault there.")
        )
    return "\n".join(lines)
