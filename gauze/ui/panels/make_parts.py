"""The list of parts beside the drawing: what is picked in it is marked in the plan, and the other way round."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QAbstractItemView, QLabel, QTableWidgetItem, QVBoxLayout, QWidget

from gauze.core.evaluate.building.workshop import Workshop
from gauze.core.units import LengthUnit, format_number
from gauze.ui.dimming import dim
from gauze.ui.message import plain_tip
from gauze.ui.tables import fit_to_rows, plain_table
from gauze.ui.text import spoken, tr

_MOST_ROWS_HIGH = 6
_NAME, _WEIGHT = range(2)


class PartsList(QWidget):
    """A row for parts that are alike. ``picked`` tells the ids of those of the chosen row, none when nothing is."""

    picked = pyqtSignal(object)  # tuple[str, ...]

    def __init__(self) -> None:
        super().__init__()
        self._workshop: Workshop | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        heading = QLabel(tr("Parts"))
        heading.setObjectName("heading")
        column.addWidget(heading)
        heads = tr("Part"), tr("kg")
        self.table = plain_table(tr("Parts of this design"), heads, _NAME)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setToolTip(tr("Pick a row, or a part on the drawing: it is marked in both"))
        self.table.itemSelectionChanged.connect(self._tell)
        column.addWidget(self.table)
        self.about = QLabel(tr("Calculating …"))
        self.about.setObjectName("dim")
        self.about.setWordWrap(True)
        self.about.setTextFormat(Qt.TextFormat.PlainText)
        column.addWidget(self.about)

    def show_workshop(self, workshop: Workshop, unit: LengthUnit) -> None:
        """List the parts; the row that was picked stays picked where it is still there."""
        row = self.table.currentRow() if self.table.selectedItems() else -1
        self._workshop = workshop
        self.table.blockSignals(True)
        self.table.setRowCount(len(workshop.rows))
        for index, part in enumerate(workshop.rows):
            what = tr("{count} × {name}").format(count=len(part.ids), name=spoken(part.name, unit))
            for column, text in enumerate((f"{what}\n{spoken(part.size, unit)}".strip(), format_number(part.kg, 2))):
                item = QTableWidgetItem(text)
                item.setToolTip(plain_tip(text))
                side = Qt.AlignmentFlag.AlignLeft if column == _NAME else Qt.AlignmentFlag.AlignRight
                item.setTextAlignment(side | Qt.AlignmentFlag.AlignVCenter)
                self.table.setItem(index, column, item)
        if row >= len(workshop.rows):
            self.table.clearSelection()
        self.table.blockSignals(False)
        fit_to_rows(self.table, _MOST_ROWS_HIGH)
        total = sum(part.kg for part in workshop.rows)
        words = tr("{count} parts, about {kg} kg by typical densities")
        self.about.setText(words.format(count=sum(len(part.ids) for part in workshop.rows), kg=format_number(total, 2)))
        dim(self, dimmed=False)
        self._tell()

    def pick(self, part_id: str | None) -> None:
        """Choose the row of a part, or none."""
        row = None if part_id is None or self._workshop is None else self._workshop.row_of(part_id)
        if row is None:
            self.table.clearSelection()
        else:
            self.table.selectRow(row)

    def _tell(self) -> None:
        row = self.table.currentRow() if self.table.selectedItems() else -1
        rows = () if self._workshop is None else self._workshop.rows
        self.picked.emit(rows[row].ids if 0 <= row < len(rows) else ())

    def set_stale(self) -> None:
        """Dim the list as long as it is not that of the design as it stands."""
        dim(self, dimmed=True)

    def forget(self) -> None:
        """Take the parts of another design away."""
        self._workshop = None
        self.table.setRowCount(0)
        self.about.setText(tr("Calculating …"))
        self.picked.emit(())
