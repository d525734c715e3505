"""The cutting plan of every material beside the bill, in a window of its own."""

from collections.abc import Callable, Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QSplitter,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from gauze.core.errors import QuantityError
from gauze.core.evaluate.building.alternatives import Alternative
from gauze.core.evaluate.made import MadeBuild
from gauze.core.making.bill import Bill, BillLine
from gauze.core.making.plans import PlannedList
from gauze.core.units import LengthUnit, format_length, format_number, parse_length, parse_number
from gauze.ui.dimming import dim
from gauze.ui.making.bars import CutBars
from gauze.ui.making.sheets import SheetBlock
from gauze.ui.making.words import plan_words
from gauze.ui.message import plain_tip
from gauze.ui.panels.fields import Form, QuantityField
from gauze.ui.tables import plain_table
from gauze.ui.text import spoken, told, tr
from gauze.ui.theme import Theme

_KEY = Qt.ItemDataRole.UserRole
_NAME, _USED, _BOUGHT, _PRICE, _COST = range(5)


class PlanBlock(QWidget):
    """One material: its name, in what lengths it is bought, and its bars."""

    length_taken = pyqtSignal(str, object)  # key, mm or None

    def __init__(self, key: str, theme: Theme, unit: Callable[[], LengthUnit]) -> None:
        super().__init__()
        self.key, self._unit = key, unit
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 10)
        column.setSpacing(4)
        self._name, self._about = QLabel(), QLabel()
        self._name.setObjectName("heading")
        for label in (self._name, self._about):
            label.setWordWrap(True)
            label.setTextFormat(Qt.TextFormat.PlainText)
            column.addWidget(label)
        self.form = Form()
        self.length = QuantityField(tr("Length in which it is bought"), self._read_length)
        self.length.taken.connect(lambda value: self.length_taken.emit(key, value or None))
        self.length.wrong.connect(self.form.say)
        self.form.add(tr("Bought in"), self.length)
        self.form.finish()
        column.addWidget(self.form)
        self.bars = CutBars(theme, unit())
        column.addWidget(self.bars)

    def _read_length(self, text: str) -> float:
        """Read a length; nothing typed means the usual one, 0."""
        return parse_length(text, self._unit()) if text.strip() else 0.0

    def show_planned(self, planned: PlannedList, theme: Theme) -> None:
        """Show a plan, or why there is none."""
        unit = self._unit()
        self._name.setText(spoken(planned.cut_list.name, unit))
        self.length.show_text(format_length(planned.stock_mm, unit))
        plan = planned.plan
        self.bars.setVisible(plan is not None)
        if plan is None:
            assert planned.problem is not None
            self._about.setText(told(planned.problem, unit))
            return
        used = 1.0 - plan.waste_mm / plan.stock_length_mm if plan.stock_length_mm else 1.0
        self.bars.show_plan(plan, theme, unit)
        owned = len(plan.bars) - planned.bought
        self._about.setText(plan_words(planned.bought, owned, used, plan.cost, plan.bound, self.bars.hidden))


class MakingWindow(QDialog):
    """Cutting plans on the left, the bill on the right. Its keeper carries out what is asked for here."""

    size_taken = pyqtSignal(str, str, object)  # key of a material, the choice (length_mm, width_mm), mm or None
    price_taken = pyqtSignal(str, object)  # key of a line, price or None
    prices_wanted = pyqtSignal()
    left_over_wanted = pyqtSignal()
    cuts_wanted = pyqtSignal()
    bill_wanted = pyqtSignal()

    def __init__(self, theme: Theme, unit: LengthUnit, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Cutting and bill"))
        self._theme, self._unit = theme, unit
        self._made: MadeBuild | None = None
        self._stale = False
        self.blocks: dict[str, PlanBlock] = {}
        self.sheets: dict[str, SheetBlock] = {}
        self._column = QVBoxLayout()
        self._column.setContentsMargins(0, 0, 12, 0)
        self._empty = QLabel(tr("Nothing in this design is cut."))
        self._empty.setObjectName("dim")
        heads = tr("What"), tr("Used"), tr("Bought"), tr("Price each"), tr("Cost")
        self.table = plain_table(tr("Bill"), heads, _NAME)
        self.table.itemChanged.connect(self._take_price)
        self._total = QLabel()
        self._total.setWordWrap(True)
        self._total.setTextFormat(Qt.TextFormat.PlainText)
        self._others = QLabel()
        self._others.setObjectName("dim")
        self._others.setWordWrap(True)
        self._others.setTextFormat(Qt.TextFormat.PlainText)
        self._others.setToolTip(tr("The kept versions, each planned and lit roughly; prices are those typed here"))
        self._others.hide()
        self._lay_out()
        self.resize(1120, 680)

    def _lay_out(self) -> None:
        inside = QWidget()
        outer = QVBoxLayout(inside)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(self._empty)
        outer.addLayout(self._column)
        outer.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(inside)
        self.keep_left = QPushButton(tr("Cut: take it off the shelf, keep what is left"))
        self.keep_left.setToolTip(
            tr("What is used is taken off the shelf; offcuts of channel and boards from 100 mm are put on it")
        )
        self.keep_left.clicked.connect(self.left_over_wanted)
        self.use_prices = QPushButton()
        self.use_prices.setToolTip(tr("What you typed for other designs, by material"))
        self.use_prices.clicked.connect(self.prices_wanted)
        self.use_prices.hide()
        cuts, bill = QPushButton(tr("Export the cutting list (CSV, PDF) …")), QPushButton(tr("Export the bill (CSV) …"))
        cuts.clicked.connect(self.cuts_wanted)
        bill.clicked.connect(self.bill_wanted)
        self._exports = (cuts, bill)
        left, right = QWidget(), QWidget()
        one, other = QVBoxLayout(left), QVBoxLayout(right)
        one.setContentsMargins(0, 0, 8, 0)
        other.setContentsMargins(8, 0, 0, 0)
        one.addWidget(scroll, 1)
        below = QHBoxLayout()
        below.addWidget(self.keep_left)
        below.addStretch(1)
        below.addWidget(cuts)
        one.addLayout(below)
        other.addWidget(self.table, 1)
        other.addWidget(self._total)
        other.addWidget(self._others)
        row = QHBoxLayout()
        row.addWidget(self.use_prices)
        row.addStretch(1)
        row.addWidget(bill)
        other.addLayout(row)
        for button in (self.keep_left, self.use_prices, cuts, bill):
            button.setAutoDefault(False)  # Enter belongs to the entry that is being typed
        parts = QSplitter(Qt.Orientation.Horizontal)
        parts.addWidget(left)
        parts.addWidget(right)
        parts.setSizes([620, 500])
        parts.setChildrenCollapsible(False)
        whole = QVBoxLayout(self)
        whole.addWidget(parts, 1)

    # -- showing ----------------------------------------------------------------------------------------------------

    def show_made(self, made: MadeBuild) -> None:
        """Show the plans and the bill."""
        self._made = made
        keys = [one.cut_list.key for one in made.planned], [one.sheet_list.key for one in made.sheets]
        if keys != (list(self.blocks), list(self.sheets)):
            self._build(*keys)
        for one in made.planned:
            self.blocks[one.cut_list.key].show_planned(one, self._theme)
        for cut in made.sheets:
            self.sheets[cut.sheet_list.key].show_planned(cut, self._theme)
        self._empty.setVisible(not any(keys))
        self._fill(made.bill)
        self.set_stale(stale=False)

    def _build(self, lengths: Sequence[str], sheets: Sequence[str]) -> None:
        """Make a block for each material, in place of those that are there."""
        for old in (*self.blocks.values(), *self.sheets.values()):
            old.hide()
            self._column.removeWidget(old)
            old.deleteLater()
        self.blocks = {key: PlanBlock(key, self._theme, lambda: self._unit) for key in lengths}
        self.sheets = {key: SheetBlock(key, self._theme, lambda: self._unit) for key in sheets}
        for block in self.blocks.values():
            block.length_taken.connect(lambda key, value: self.size_taken.emit(key, "length_mm", value))
            self._column.addWidget(block)
        for sheet in self.sheets.values():
            sheet.size_taken.connect(self.size_taken)
            self._column.addWidget(sheet)

    def set_stale(self, *, stale: bool) -> None:
        """Dim it as long as it is not that of the design as it stands."""
        self._stale = stale
        for block in (*self.blocks.values(), *self.sheets.values()):
            dim(block, dimmed=stale)
        dim(self._total, dimmed=stale)
        dim(self._others, dimmed=stale)
        for button in (*self._exports, self.keep_left):
            button.setEnabled(not stale and self._made is not None)

    def set_look(self, theme: Theme, unit: LengthUnit) -> None:
        """Draw in another theme, or lengths in another unit."""
        self._theme, self._unit = theme, unit
        if self._made is not None:
            stale = self._stale
            self.show_made(self._made)
            self.set_stale(stale=stale)

    def _fill(self, bill: Bill) -> None:
        self.table.blockSignals(True)
        self.table.setRowCount(len(bill.lines))
        for row, line in enumerate(bill.lines):
            for column, text in enumerate(self._texts(line)):
                item = QTableWidgetItem(text)
                item.setData(_KEY, line.key)
                item.setToolTip(plain_tip(text))
                if column != _PRICE:
                    item.setFlags(item.flags() & ~Qt.ItemFlag.ItemIsEditable)
                side = Qt.AlignmentFlag.AlignLeft if column == _NAME else Qt.AlignmentFlag.AlignRight
                item.setTextAlignment(side | Qt.AlignmentFlag.AlignTop)
                self.table.setItem(row, column, item)
        self.table.blockSignals(False)
        words = tr("{known} in all").format(known=_money(bill.total))
        if bill.tax_percent is not None:
            words += tr(", {tax} of it tax").format(tax=_money(bill.tax))
        if bill.labour:
            words += tr(", {hours} for the hours").format(hours=_money(bill.labour))
        if bill.copies > 1:
            words += tr(", {each} each of {copies}").format(each=_money(bill.each), copies=bill.copies)
        if bill.without_price:
            words += tr("; {count} lines without a price: type it in the table").format(count=bill.without_price)
        self._total.setText(words)

    def offer_prices(self, count: int) -> None:
        """Offer so many prices that are kept with the shelf."""
        self.use_prices.setText(tr("Use the prices of earlier designs ({count})").format(count=count))
        self.use_prices.setVisible(count > 0)

    def show_alternatives(self, found: Sequence[Alternative]) -> None:
        """Tell what the kept versions cost beside this one."""
        lines = []
        for one in found if len(found) > 1 else ():
            name = tr("“{name}”").format(name=one.name) if one.name else tr("This design")
            words = tr("{name}: {cost}, {watts} W, {mean} cd/m²")
            line = words.format(
                name=name, cost=_money(one.cost), watts=format_number(one.watts), mean=format_number(one.mean_cd_m2)
            )
            if one.without_price:
                line += tr(", {count} lines without a price").format(count=one.without_price)
            lines.append(line)
        self._others.setText("\n".join(lines))
        self._others.setVisible(bool(lines))

    def _texts(self, line: BillLine) -> tuple[str, ...]:
        used = f"{format_number(line.used)} m" if line.in_metres else f"{line.used:.0f}"
        bought = str(line.bought) + (tr(" + shelf") if line.from_shelf else "") if line.planned else tr("not planned")
        price = "" if line.price is None else _money(line.price)
        cost = "" if line.cost is None else _money(line.cost)
        return spoken(line.name, self._unit), used, bought, price, cost

    def _take_price(self, item: QTableWidgetItem) -> None:
        if item.column() != _PRICE:
            return
        text, key = item.text(), str(item.data(_KEY))
        try:
            price = parse_number(text) if text.strip() else None
        except QuantityError as error:
            self._total.setText(told(error))
            if self._made is not None:
                line = next(one for one in self._made.bill.lines if one.key == key)
                self.table.blockSignals(True)
                item.setText("" if line.price is None else _money(line.price))
                self.table.blockSignals(False)
            return
        self.price_taken.emit(key, price)


def _money(value: float) -> str:
    """Money in whole hundredths; its currency is the builder's own."""
    return f"{value:.2f}"
