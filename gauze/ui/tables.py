"""Tables as all windows have them: whole rows chosen one at a time, cells that wrap, one column that takes the room."""

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget


def fit_to_rows(table: QTableWidget, most: int) -> None:
    """Make a table as high as its rows, up to so many."""
    header = table.horizontalHeader()
    assert header is not None
    table.resizeRowsToContents()
    rows = min(table.rowCount(), most)
    table.setFixedHeight(header.height() + sum(table.rowHeight(row) for row in range(rows)) + 6)


def plain_table(name: str, heads: Sequence[str], wide: int) -> QTableWidget:
    """Return an empty table with heads; the column ``wide`` takes the room that the others leave."""
    table = QTableWidget(0, len(heads))
    table.setHorizontalHeaderLabels(list(heads))
    table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
    table.setWordWrap(True)
    table.setShowGrid(False)
    table.setAccessibleName(name)
    across, down = table.horizontalHeader(), table.verticalHeader()
    assert across is not None
    assert down is not None
    across.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
    across.setSectionResizeMode(wide, QHeaderView.ResizeMode.Stretch)
    across.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft)
    down.hide()
    down.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
    return table
