"""How a build is wired: school, wire, supply, and where more is fed in."""

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from gauze.core.design.wiring import Injection
from gauze.core.electrical.network import USUAL
from gauze.core.electrical.wires import SECTIONS_MM2
from gauze.core.evaluate import Evaluation
from gauze.core.evaluate.findings.drop import ends_of, pads_of_dimmest
from gauze.core.evaluate.wording import SCHEMES, scheme_words
from gauze.core.units import format_length, format_number, parse_length, parse_number
from gauze.session.wiring_edits import with_injection, with_wiring, without_injection, without_wiring
from gauze.ui.panels.fields import ChoiceBox, Form, QuantityField
from gauze.ui.text import spoken, tr
from gauze.ui.workbench import Workbench

_NOT_CHOSEN = ""
_MOST_SHOWN = 8  # injections that are listed one by one


class WiringControls(QWidget):
    """The choices of the wiring in a form, and a list of what is fed in beside."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self.bench = bench
        self._usual = USUAL
        self._dimmest: Injection | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.form = Form()
        column.addWidget(self.form)
        self._scheme = self._box(tr("How the pieces are fed"), self._take_scheme)
        self._scheme.addItem(tr("not chosen yet"), _NOT_CHOSEN)
        for scheme in SCHEMES:
            self._scheme.addItem(spoken(scheme_words(scheme)), scheme)
        self.form.add(tr("Wired"), self._scheme)
        self._section = self._box(tr("Section of the wires"), partial(self._take, "Wire", "wire_mm2"))
        for section in SECTIONS_MM2:
            self._section.addItem(f"{section:g} mm²", section)
        self.form.add(tr("Wire"), self._section)
        self._lead = QuantityField(
            tr("Wire from the supply to the first pads"), lambda text: parse_length(text, bench.unit)
        )
        self._lead.taken.connect(partial(self._take, "Lead", "lead_mm"))
        self.form.add(tr("Lead"), self._lead)
        self._supply = self._box(tr("Rating of the supply"), partial(self._take, "Supply", "supply_w"))
        self._supply.addItem(tr("large enough"), None)
        for rating in bench.catalogue.supply_ratings_w:
            self._supply.addItem(f"{rating:g} W", float(rating))
        self.form.add(tr("Supply"), self._supply)
        self._volts = QuantityField(tr("Volts that the supply is set to"), _read_volts)
        self._volts.setPlaceholderText(tr("as on its label"))
        self._volts.taken.connect(lambda value: self._take("Supply volts", "supply_volts", value or None))
        self.form.add(tr("Set to"), self._volts)
        self._pwm = QuantityField(tr("Frequency of the dimmer's pulses"), _read_hz)
        self._pwm.setPlaceholderText(tr("not known"))
        self._pwm.taken.connect(lambda value: self._take("Dimmer", "pwm_hz", value or None))
        self.form.add(tr("Dimmed at"), self._pwm)
        for field in (self._lead, self._volts, self._pwm):
            field.wrong.connect(self.form.say)
        self.form.finish()
        self._add = QPushButton(tr("Add a feed where it is dimmest"))
        self._add.setToolTip(tr("Solder one more pair of wires from the supply to the pads where the light is least"))
        self._add.clicked.connect(self._inject)
        column.addWidget(self._add)
        self._list = QVBoxLayout()
        self._list.setSpacing(2)
        column.addLayout(self._list)
        self._listed: tuple[Injection, ...] = ()

    def _box(self, name: str, take: Callable[[Any], object]) -> ChoiceBox:
        box = ChoiceBox()
        box.setAccessibleName(name)
        box.activated.connect(lambda index: take(box.itemData(index)))
        return box

    def _take_scheme(self, scheme: str) -> None:
        if scheme == _NOT_CHOSEN:
            self.bench.edit("Wiring", lambda design, _: without_wiring(design))
        else:
            self._take("Wiring", "scheme", scheme)

    def _take(self, name: str, field: str, value: object) -> None:
        usual = self._usual
        self.bench.edit(name, lambda design, _: with_wiring(design, usual, **{field: value}), field=f"wiring.{field}")

    def _inject(self) -> None:
        there, usual = self._dimmest, self._usual
        if there is not None:
            self.bench.edit("Add a feed", lambda design, _: with_injection(design, usual, there))

    def refresh(self) -> None:
        """Show what is chosen."""
        wiring = self.bench.design.wiring
        shown = wiring or self._usual
        self._scheme.setCurrentIndex(self._scheme.findData(_NOT_CHOSEN if wiring is None else wiring.scheme))
        index = self._section.findData(shown.wire_mm2)
        if index < 0:
            self._section.addItem(f"{shown.wire_mm2:g} mm²", shown.wire_mm2)
            index = self._section.count() - 1
        self._section.setCurrentIndex(index)
        self._lead.show_text(format_length(shown.lead_mm, self.bench.unit))
        self._show_rating(shown.supply_w)
        self._volts.show_text("" if shown.supply_volts is None else f"{shown.supply_volts:g} V")
        self._pwm.show_text("" if shown.pwm_hz is None else f"{shown.pwm_hz:g} Hz")
        self._show_injections(shown.injections)

    def _show_rating(self, rating_w: float | None) -> None:
        index = self._supply.findData(rating_w) if rating_w is not None else 0
        if index < 0:
            self._supply.addItem(f"{rating_w:g} W", rating_w)
            index = self._supply.count() - 1
        self._supply.setCurrentIndex(index)

    def _show_injections(self, injections: tuple[Injection, ...]) -> None:
        if injections == self._listed:
            return
        self._listed = injections
        while self._list.count():
            item = self._list.takeAt(0)
            widget = None if item is None else item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        for one in injections[:_MOST_SHOWN]:
            self._list.addWidget(self._row(one))
        if len(injections) > _MOST_SHOWN:
            self._list.addWidget(QLabel(tr("and {count} more").format(count=len(injections) - _MOST_SHOWN)))

    def _row(self, one: Injection) -> QWidget:
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        words = tr("feed on {piece}, after segment {after}") if one.after else tr("feed on {piece}, at its start")
        words = words.format(piece=one.piece, after=one.after)
        text = QLabel(words)
        text.setWordWrap(True)
        line.addWidget(text, 1)
        remove = QPushButton("×")
        remove.setFixedWidth(26)
        remove.setAccessibleName(tr("Remove: {what}").format(what=words))
        remove.setToolTip(remove.accessibleName())
        remove.clicked.connect(
            lambda: self.bench.edit("Remove a feed", lambda design, _: without_injection(design, one))
        )
        line.addWidget(remove)
        return row

    def show_light(self, evaluation: Evaluation) -> None:
        """Take note of the wiring that is computed, and of where it is dimmest."""
        network = evaluation.network
        self._usual = network.wiring
        self._dimmest = None
        if network.power is not None:
            ends = ends_of(evaluation.layout.pieces, network.power)
            if ends is not None and ends.least < ends.most:
                self._dimmest = pads_of_dimmest(evaluation.layout.pieces, ends)
        self._add.setEnabled(self._dimmest is not None)
        self.refresh()


def _read_volts(text: str) -> float:
    """Read volts; nothing typed means those of the label, 0."""
    return parse_number(text, "V") if text.strip() else 0.0


def _read_hz(text: str) -> float:
    """Read a frequency; nothing typed means that it is not known, 0."""
    return parse_number(text, "Hz") if text.strip() else 0.0


def supply_words(evaluation: Evaluation) -> list[str]:
    """What each supply gives, a line each."""
    power = evaluation.network.power
    if power is None:
        return []
    return [
        tr("{volts} V: {amps} A peak, {watts} W on average").format(
            volts=f"{one.volts:g}", amps=format_number(one.peak_a), watts=format_number(one.mean_w)
        )
        for one in power.supplies
    ]
