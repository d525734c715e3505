"""The shelf in a window of its own: a row for each thing with the verdict for the open design, its label beside it."""

from collections.abc import Callable, Mapping, Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QIcon, QPalette
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QDialog,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QScrollArea,
    QSplitter,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from gauze.core.evaluate import Caution
from gauze.core.evaluate.shelf import Judged
from gauze.core.materials import Catalogue
from gauze.core.materials.labels import (
    KINDS,
    BatteryLabel,
    ConnectorLabel,
    ControllerLabel,
    ConverterLabel,
    FuseLabel,
    Label,
    ModuleLabel,
    ProfileStock,
    SheetStock,
    StripLabel,
    SupplyLabel,
    Thing,
    WireLabel,
)
from gauze.core.units import LengthUnit, format_number
from gauze.ui.message import plain_tip
from gauze.ui.panels.finding_view import STATE_WORDS, state_pixmap
from gauze.ui.shelf.form import LabelForm
from gauze.ui.shelf.words import hand_unit, kind_words
from gauze.ui.tables import plain_table
from gauze.ui.text import spoken, tr
from gauze.ui.theme import Theme

_ID = Qt.ItemDataRole.UserRole
_COLUMNS = 4
# what a design can be given of a shelf
_USED: tuple[type[Label], ...] = (
    StripLabel,
    ModuleLabel,
    SupplyLabel,
    BatteryLabel,
    ControllerLabel,
    WireLabel,
    ProfileStock,
    SheetStock,
)
_CAUTIONS: Mapping[type[Label], tuple[Caution, ...]] = {
    SupplyLabel: (Caution.MAINS, Caution.CURRENT),
    BatteryLabel: (Caution.BATTERY, Caution.CURRENT),
    ConverterLabel: (Caution.CURRENT,),
    WireLabel: (Caution.CURRENT,),
    ConnectorLabel: (Caution.CURRENT,),
    FuseLabel: (Caution.CURRENT,),
}


class ShelfWindow(QDialog):
    """What lies on the shelf. Its keeper carries out what is asked for here."""

    add_wanted = pyqtSignal(object)  # type[Label]
    copy_wanted = pyqtSignal(str)  # id
    remove_wanted = pyqtSignal(str)  # id
    changed = pyqtSignal(object)  # Thing
    use_wanted = pyqtSignal(str)  # id
    import_wanted = pyqtSignal()
    export_wanted = pyqtSignal()

    def __init__(self, catalogue: Catalogue, theme: Theme, unit: LengthUnit, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("My shelf"))
        self._theme, self._unit = theme, unit
        self._things: tuple[Thing, ...] = ()
        self._judged: dict[str, Judged] = {}
        self._usable: frozenset[str] = frozenset()
        self._stale = False
        heads = tr("Name"), tr("Kind"), tr("On hand"), tr("For this design")
        self.table = plain_table(tr("Things on the shelf"), heads, _COLUMNS - 1)
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.itemSelectionChanged.connect(self._show_chosen)
        self.label_form = LabelForm(catalogue, unit)
        self.label_form.changed.connect(self.changed)
        self.use = QPushButton(tr("Use in this design"))
        self.use.clicked.connect(lambda: self._ask(self.use_wanted.emit))
        self._lay_out()
        self.resize(1040, 640)
        self._show_chosen()

    def _lay_out(self) -> None:
        self._add = QPushButton(tr("Add"))
        menu = QMenu(self._add)
        for kind in KINDS:
            action = menu.addAction(kind_words(kind))
            assert action is not None
            action.triggered.connect(lambda _checked=False, chosen=kind: self.add_wanted.emit(chosen))
        self._add.setMenu(menu)
        self._copy, self._remove = QPushButton(tr("Duplicate")), QPushButton(tr("Remove"))
        self._copy.clicked.connect(lambda: self._ask(self.copy_wanted.emit))
        self._remove.clicked.connect(lambda: self._ask(self.remove_wanted.emit))
        bring, send = QPushButton(tr("Import (CSV) …")), QPushButton(tr("Export (CSV) …"))
        bring.clicked.connect(self.import_wanted)
        send.clicked.connect(self.export_wanted)
        self._send = send
        buttons = QHBoxLayout()
        for button in (self._add, self._copy, self._remove):
            buttons.addWidget(button)
        buttons.addStretch(1)
        buttons.addWidget(bring)
        buttons.addWidget(send)
        for button in (self._add, self._copy, self._remove, bring, send, self.use):
            button.setAutoDefault(False)  # Enter belongs to the entry that is being typed
        self._empty = QLabel(
            tr(
                "Nothing is on the shelf yet. Add what you have by what its label says: strips, supplies, batteries, wire, "
                "sheets. It stays there from one design to the next."
            )
        )
        self._empty.setObjectName("dim")
        self._empty.setWordWrap(True)
        left = QWidget()
        column = QVBoxLayout(left)
        column.setContentsMargins(0, 0, 8, 0)
        column.addLayout(buttons)
        column.addWidget(self._empty)
        column.addWidget(self.table, 1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(self.label_form)
        scroll.setMinimumWidth(340)
        right = QWidget()
        side = QVBoxLayout(right)
        side.setContentsMargins(8, 0, 0, 0)
        side.addWidget(scroll, 1)
        side.addWidget(self.use)
        parts = QSplitter(Qt.Orientation.Horizontal)
        parts.addWidget(left)
        parts.addWidget(right)
        parts.setStretchFactor(0, 1)
        parts.setSizes([660, 380])
        parts.setChildrenCollapsible(False)
        self._caution = QLabel()
        self._caution.setObjectName("dim")
        self._caution.setWordWrap(True)
        whole = QVBoxLayout(self)
        whole.addWidget(parts, 1)
        whole.addWidget(self._caution)

    # -- showing ----------------------------------------------------------------------------------------------------

    @property
    def chosen_id(self) -> str:
        """Id of the chosen thing, or an empty one."""
        rows = {index.row() for index in self.table.selectedIndexes()}
        item = self.table.item(rows.pop(), 0) if rows else None
        return "" if item is None else str(item.data(_ID))

    def show_things(self, things: Sequence[Thing], chosen: str = "") -> None:
        """Show what lies there, by kind; ``chosen`` is the id to be chosen, else what was stays so."""
        wanted = chosen or self.chosen_id
        order = {kind: number for number, kind in enumerate(KINDS)}
        self._things = tuple(sorted(things, key=lambda thing: (order[type(thing)], thing.name.lower())))
        self.table.blockSignals(True)
        self.table.setRowCount(len(self._things))
        for row, thing in enumerate(self._things):
            self._fill(row, thing)
        self.table.blockSignals(False)
        ids = [thing.id for thing in self._things]
        if ids:
            self.table.selectRow(ids.index(wanted) if wanted in ids else 0)
        self._empty.setVisible(not ids)
        self.table.setVisible(bool(ids))
        self._send.setEnabled(bool(ids))
        self._show_chosen()

    def show_judged(self, judged: Sequence[Judged], usable: frozenset[str]) -> None:
        """Show the verdicts; ``usable`` are the ids that can be used in the open design."""
        self._judged = {one.thing_id: one for one in judged}
        self._usable, self._stale = usable, False
        for row, thing in enumerate(self._things):
            self._fill(row, thing)
        self._show_chosen()

    def set_stale(self, *, stale: bool) -> None:
        """Dim the verdicts as long as they are not those of the design as it stands."""
        if stale is not self._stale:
            self._stale = stale
            for row, thing in enumerate(self._things):
                self._fill(row, thing)
            self._show_chosen()

    def set_look(self, theme: Theme, unit: LengthUnit) -> None:
        """Draw in another theme, or lengths in another unit."""
        self._theme = theme
        if unit is not self._unit:
            self._unit = unit
            self.label_form.set_unit(unit)
        self.show_things(self._things)

    def _fill(self, row: int, thing: Thing) -> None:
        verdict = self._judged.get(thing.id)
        words = "" if verdict is None else spoken(verdict.sentence, self._unit)
        texts = (
            thing.name,
            kind_words(type(thing)),
            f"{format_number(thing.on_hand, 4)} {hand_unit(type(thing))}".strip(),
            words,
        )
        for column, text in enumerate(texts):
            item = QTableWidgetItem(text)
            item.setData(_ID, thing.id)
            item.setToolTip(plain_tip(text))
            item.setTextAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop)
            if column == _COLUMNS - 1 and verdict is not None:
                item.setIcon(QIcon(state_pixmap(verdict.state, self._theme)))
                if self._stale:
                    item.setForeground(self.palette().color(QPalette.ColorGroup.Disabled, QPalette.ColorRole.Text))
                item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{tr(STATE_WORDS[verdict.state])}: {words}")
            self.table.setItem(row, column, item)

    def _show_chosen(self) -> None:
        chosen = next((thing for thing in self._things if thing.id == self.chosen_id), None)
        self.label_form.show_thing(chosen)
        for button in (self._copy, self._remove):
            button.setEnabled(chosen is not None)
        self.use.setVisible(isinstance(chosen, _USED))
        self.use.setEnabled(chosen is not None and chosen.id in self._usable and not self._stale)
        cautions = () if chosen is None else _CAUTIONS.get(type(chosen), ())
        self._caution.setVisible(bool(cautions))
        self._caution.setText("\n".join(tr("Caution: {mains}").format(mains=tr(one.value)) for one in cautions))

    def _ask(self, tell: Callable[[str], object]) -> None:
        if self.chosen_id:
            tell(self.chosen_id)
