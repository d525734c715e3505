"""The place Feed: how it is wired, and the supply that it needs."""

from html import escape

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QPushButton

from gauze.core.evaluate import Caution
from gauze.core.units import format_number, parse_number
from gauze.session import edits
from gauze.session.solver import LightResult
from gauze.ui.dimming import dim
from gauze.ui.panels.fields import QuantityField
from gauze.ui.panels.heat_controls import HeatControls
from gauze.ui.panels.place_panel import PlacePanel
from gauze.ui.panels.wiring_controls import WiringControls, supply_words
from gauze.ui.text import spoken, tr
from gauze.ui.workbench import Workbench


class FeedPanel(PlacePanel):
    """Power: the wiring, what it gives and drops, the schools of sizing side by side, and a reading of one row."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__(bench, tr("Wiring and supply"))
        self.wiring = WiringControls(bench)
        self.wiring.shelf_wanted.connect(lambda: self.command_wanted.emit("shelf", 0))
        self.form.add_wide(self.wiring)
        self._given = QLabel()
        self._given.setWordWrap(True)
        self.form.add_wide(self._given)
        shelf = QPushButton(tr("What on my shelf works? …"))
        shelf.setToolTip(tr("Open your shelf: every supply, battery and wire on it judged for this design (Ctrl+B)"))
        shelf.clicked.connect(lambda: self.command_wanted.emit("shelf", 0))
        self.form.add_wide(shelf)
        heading = QLabel(tr("Supply, sized by each school"))
        heading.setObjectName("heading")
        self.form.add_wide(heading)
        self._table = QLabel()
        self._table.setTextFormat(Qt.TextFormat.RichText)
        self._table.setWordWrap(True)
        self.form.add_wide(self._table)
        self._reading = QuantityField(tr("Measured current of one row"), lambda text: parse_number(text, "A"))
        self._reading.setPlaceholderText(tr("as read, in A"))
        self._reading.wrong.connect(self.form.say)
        self._reading.taken.connect(
            lambda value: bench.edit("Measured current", lambda design, _: edits.with_reading(design, value))
        )
        self._clear = QPushButton(tr("Clear the reading"))
        self._clear.clicked.connect(
            lambda: bench.edit("Clear the reading", lambda design, _: edits.with_reading(design, None))
        )
        self.form.add(tr("One row draws"), self._reading)
        self.form.add_wide(self._clear)
        self.heat = HeatControls(bench)
        self.form.add_wide(self.heat)
        caution = QLabel(tr("Caution: {mains}").format(mains=tr(Caution.MAINS.value)))
        caution.setObjectName("dim")
        caution.setWordWrap(True)
        self.form.add_wide(caution)
        self.form.finish()
        self.column.addStretch(1)

    def refresh(self) -> None:
        """Show the reading; the table follows with the light."""
        current = self.bench.design.measured_row_current_a
        self._reading.show_text("" if current is None else f"{format_number(current, 4)} A")
        self._clear.setVisible(current is not None)
        self.form.show_row(self._reading, shown=bool(self.bench.design.strips))
        self.wiring.setVisible(bool(self.bench.design.strips or self.bench.design.module))
        self.wiring.refresh()
        self.heat.setVisible(self.wiring.isVisibleTo(self))
        self.heat.refresh()

    def set_stale(self, *, stale: bool) -> None:
        """Dim the table as long as it is not that of the design as it stands."""
        dim(self._table, dimmed=stale)
        dim(self._given, dimmed=stale)
        self.heat.set_stale(stale=stale)

    def forget(self) -> None:
        """Take the table of another design away."""
        self._table.setText(tr("Calculating …"))
        self._given.setText("")

    def show_light(self, result: LightResult) -> None:
        """Show what each voltage needs, by each school."""
        self.wiring.show_light(result.evaluation)
        self.heat.show_light(result.evaluation)
        self._given.setText("\n".join(supply_words(result.evaluation)))
        supplies = result.evaluation.supplies
        if not supplies:
            self._table.setText(tr("Loose emitters come without watts: size the supply by what feeds them."))
            return
        rows = []
        for need in supplies:
            rows.append(
                f"<tr><td colspan=3 style='padding-top:4px'><b>{need.volts:g} V</b>, {format_number(need.label_w)} W = "
                f"{format_number(need.label_a)} A {tr('by the label')}</td></tr>"
            )
            if need.measured_w is not None:
                amps = format_number(need.measured_w / need.volts)
                measured = tr("{watts} W = {amps} A as measured").format(
                    watts=format_number(need.measured_w), amps=amps
                )
                rows.append(f"<tr><td colspan=3>{measured}</td></tr>")
            for school in need.schools:
                rating = tr("none") if school.rating_w is None else f"{school.rating_w:g} W"
                rows.append(
                    f"<tr><td style='padding-right:10px'>{escape(spoken(school.name))}</td>"
                    f"<td align=right style='padding-right:10px'>{format_number(school.needed_w)} W</td>"
                    f"<td align=right><b>{rating}</b></td></tr>"
                )
        self._table.setText(f"<table cellspacing=2>{''.join(rows)}</table>")
