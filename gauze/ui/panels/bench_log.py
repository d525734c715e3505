"""The bench log: every reading with its prediction and how it stands to it, and a line to write a further one."""

from collections.abc import Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import (
    QCompleter,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from gauze.core.design.bench import LONGEST_PLACE, LONGEST_TEXT, QUANTITIES, BenchReading, Quantity
from gauze.core.errors import GauzeError
from gauze.core.proving.fitting import unit_of
from gauze.core.proving.log import STATE_WORDS, LogFound, LogRow, RowState
from gauze.core.units import LengthUnit, format_number, parse_number
from gauze.ui.dimming import dim
from gauze.ui.message import plain_tip
from gauze.ui.panels.fields import ChoiceBox, Form
from gauze.ui.tables import fit_to_rows, plain_table
from gauze.ui.text import spoken, told, tr

_KEY = Qt.ItemDataRole.UserRole
_WHAT, _READ, _STATE = range(3)
_MOST_ROWS_HIGH = 7
SIGNS: dict[RowState, str] = {"agrees": "✓", "doubtful": "?", "off": "✕", "gone": "–"}  # told by shape and word


def quantity_words() -> dict[Quantity, str]:
    """Names of the quantities."""
    return {
        "volts": tr("volts"),
        "amps": tr("amps"),
        "lux": tr("lux"),
        "kelvin": tr("colour temperature"),
        "celsius": tr("temperature"),
        "cd_m2": tr("luminance"),
    }


class BenchLog(QWidget):
    """The table with its line of entry. What is asked for here is carried out by its keeper."""

    reading_taken = pyqtSignal(str, str, float, object, str)  # quantity, place, value, limit or None, note
    removed = pyqtSignal(object)  # tuple[str, ...]: keys
    picked = pyqtSignal(str)  # place of the chosen reading, empty for none
    import_wanted = pyqtSignal()
    export_wanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self._rows: tuple[LogRow, ...] = ()
        self._unit = LengthUnit.MM
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        heads = tr("Reading"), tr("Read / predicted"), tr("State")
        self.table = plain_table(tr("Bench log"), heads, _WHAT)
        self.table.setEditTriggers(self.table.EditTrigger.NoEditTriggers)
        self.table.itemSelectionChanged.connect(self._tell)
        column.addWidget(self.table)
        self.says = QLabel()
        self.says.setWordWrap(True)
        self.says.setTextFormat(Qt.TextFormat.PlainText)
        self.says.hide()
        column.addWidget(self.says)
        column.addWidget(self._entry())
        row = QHBoxLayout()
        self.remove = QPushButton(tr("Remove"))
        self.remove.setEnabled(False)
        self.remove.clicked.connect(lambda: self.removed.emit(self.chosen_keys()))
        self.read_in, self.write_out = QPushButton(tr("Import …")), QPushButton(tr("Export …"))
        self.read_in.setToolTip(tr("Read readings from a table (CSV)"))
        self.write_out.setToolTip(tr("Write all readings as a table (CSV)"))
        self.read_in.clicked.connect(self.import_wanted)
        self.write_out.clicked.connect(self.export_wanted)
        for button in (self.remove, self.read_in, self.write_out):
            button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            row.addWidget(button, 1)
        column.addLayout(row)

    def _entry(self) -> Form:
        self.form = Form()
        self.quantity = ChoiceBox()
        self.quantity.setAccessibleName(tr("What was read"))
        for key, words in quantity_words().items():
            self.quantity.addItem(f"{words} ({unit_of(key)})", key)
        self.quantity.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.quantity.activated.connect(lambda _index: self._offer())
        self.place, self.value, self.limit, self.note = QLineEdit(), QLineEdit(), QLineEdit(), QLineEdit()
        self.place.setMaxLength(LONGEST_PLACE)
        self.note.setMaxLength(LONGEST_TEXT)
        self.place.setPlaceholderText(tr("row-1 end, supply, 100,60"))
        self.place.setToolTip(tr("A piece, an end of it, supply, target, face, or x,y in mm; or click it on the plan"))
        self.limit.setPlaceholderText(tr("± by the meter"))
        self.note.setPlaceholderText(tr("a note of your own"))
        for label, field in (
            (tr("Where it was read"), self.place),
            (tr("What the meter shows"), self.value),
            (tr("Limit of the meter's error"), self.limit),
            (tr("Note"), self.note),
        ):
            field.setAccessibleName(label)
            field.returnPressed.connect(self._add)
        self.form.add(tr("What"), self.quantity)
        self.form.add(tr("Where"), self.place)
        self.form.add_pair(tr("Reading, ±"), self.value, self.limit)
        self.form.add(tr("Note"), self.note)
        self.add = QPushButton(tr("Add the reading"))
        self.add.clicked.connect(self._add)
        self.form.add_wide(self.add)
        self.form.finish()
        return self.form

    # -- showing ----------------------------------------------------------------------------------------------------

    def show_readings(self, readings: Sequence[BenchReading]) -> None:
        """List readings whose predictions are not known yet."""
        kept = {row.reading: row for row in self._rows}
        self._fill(readings, kept)

    def show_found(self, found: LogFound, unit: LengthUnit) -> None:
        """Show every reading beside its prediction."""
        self._rows, self._unit = found.rows, unit
        self._places = found.places
        self._fill([row.reading for row in found.rows], {row.reading: row for row in found.rows})
        self._offer()
        dim(self.table, dimmed=False)

    _places: Sequence[tuple[Quantity, str]] = ()

    def _fill(self, readings: Sequence[BenchReading], known: dict[BenchReading, LogRow]) -> None:
        chosen = self.chosen_keys()
        words = quantity_words()
        self.table.blockSignals(True)
        self.table.setRowCount(len(readings))
        for index, one in enumerate(readings):
            row, unit = known.get(one), unit_of(one.quantity)
            read = f"{format_number(one.value)} {unit}"
            state = tr("…")
            if row is not None:
                state = f"{SIGNS[row.state]} {spoken(STATE_WORDS[row.state], self._unit)}"
                if row.compared is not None:
                    read += "\n" + tr("{value} ± {spread} predicted").format(
                        value=format_number(row.compared.predicted),
                        spread=format_number(row.compared.predicted_uncertainty, 2),
                    )
            what = f"{words[one.quantity]}, {one.place}" + (f"\n{one.note}" if one.note else "")
            for column, text in ((_WHAT, what), (_READ, read), (_STATE, state)):
                item = QTableWidgetItem(text)
                item.setData(_KEY, one.key)
                item.setToolTip(plain_tip(f"{one.date} {text}".strip()))
                self.table.setItem(index, column, item)
            if one.key in chosen:
                self.table.selectRow(index)
        self.table.blockSignals(False)
        self.table.setVisible(bool(readings))
        self.write_out.setEnabled(bool(readings))
        fit_to_rows(self.table, _MOST_ROWS_HIGH)
        self._tell()

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802 - Qt's name
        """Rows wrap otherwise at another width."""
        super().resizeEvent(event)
        fit_to_rows(self.table, _MOST_ROWS_HIGH)

    def _offer(self) -> None:
        """Offer the places at which the chosen quantity is predicted."""
        quantity = self.quantity.currentData()
        completer = QCompleter([place for kind, place in self._places if kind == quantity], self.place)
        completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        completer.setFilterMode(Qt.MatchFlag.MatchContains)
        self.place.setCompleter(completer)

    def chosen_keys(self) -> tuple[str, ...]:
        """Keys of the readings that are chosen."""
        rows = sorted({item.row() for item in self.table.selectedItems()})
        cells = (self.table.item(row, _WHAT) for row in rows)
        return tuple(str(cell.data(_KEY)) for cell in cells if cell is not None)

    def _tell(self) -> None:
        keys = self.chosen_keys()
        self.remove.setEnabled(bool(keys))
        row = next((one for one in self._rows if keys and one.reading.key == keys[0]), None)
        words = "" if row is None else spoken(row.says, self._unit)
        self.says.setText(words)
        self.says.setVisible(bool(words))
        self.picked.emit("" if row is None else row.reading.place)

    def set_stale(self) -> None:
        """Dim it as long as its predictions are not of the design as it stands."""
        dim(self.table, dimmed=True)

    # -- asking -----------------------------------------------------------------------------------------------------

    def start_at(self, quantity: Quantity, place: str) -> None:
        """Begin a reading at a place."""
        self.quantity.setCurrentIndex(self.quantity.findData(quantity))
        self._offer()
        self.place.setText(place)
        self.value.setFocus(Qt.FocusReason.OtherFocusReason)

    def _add(self) -> None:
        quantity: Quantity = self.quantity.currentData()
        assert quantity in QUANTITIES
        try:
            value = parse_number(self.value.text(), unit_of(quantity))
            limit = abs(parse_number(self.limit.text(), unit_of(quantity))) if self.limit.text().strip() else None
        except GauzeError as error:
            self.form.say(told(error))
            return
        self.form.say("")
        self.reading_taken.emit(quantity, self.place.text(), value, limit or None, self.note.text())

    def taken(self) -> None:
        """The reading is in the log: leave its place, which is often the next one's neighbour, and clear the rest."""
        for field in (self.value, self.note):
            field.clear()
        self.value.setFocus(Qt.FocusReason.OtherFocusReason)
