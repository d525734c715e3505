"""How a build is wired: school, wire, supply, and where more is fed in."""

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from gauze.core.design.wiring import Injection, RunSection, Wiring
from gauze.core.electrical.network import USUAL
from gauze.core.electrical.wire_list import Run, runs_of
from gauze.core.electrical.wires import SECTIONS_MM2
from gauze.core.evaluate import Evaluation
from gauze.core.evaluate.findings.drop import ends_of, pads_of_dimmest
from gauze.core.evaluate.wording import SCHEMES, scheme_words
from gauze.core.parts.joining import carries_data
from gauze.core.units import format_length, format_number, parse_length, parse_number
from gauze.session.wiring_edits import with_injection, with_section, with_wiring, without_injection, without_wiring
from gauze.ui.panels.fields import ChoiceBox, Form, QuantityField
from gauze.ui.panels.source_controls import ControllerRow, SourceRows
from gauze.ui.text import spoken, tr
from gauze.ui.workbench import Workbench

_NOT_CHOSEN = ""
_BETWEEN = "\t"  # where a run starts and where it ends
_MOST_SHOWN = 8  # feeds, and wires of their own section, that are listed one by one
_MOST_RUNS = 400  # that can be chosen: as many as the wiring plan draws


class WiringControls(QWidget):
    """The choices of the wiring in a form, and a list of what is fed in beside."""

    shelf_wanted = pyqtSignal()

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
        self.apart = QCheckBox(tr("each strip on separate wires"))
        self.apart.setToolTip(tr("Two strips on one pair of wires cannot be dimmed separately"))
        self.apart.toggled.connect(partial(self._take, "Strips apart", "apart"))
        self.form.add_wide(self.apart)
        self._section = self._box(tr("Section of the wires"), self._take_section)
        self.form.add(tr("Wire"), self._section)
        self._run = self._box(tr("Which wires the section is for"), lambda _run: self.refresh())
        self._run.setToolTip(tr("Separate sections for some wires, by their numbers in the wiring plan"))
        self.form.add(tr("For"), self._run)
        self._runs: tuple[Run, ...] = ()
        self._show_runs(())
        self._lead = QuantityField(
            tr("Wire from the supply to the first pads"), lambda text: parse_length(text, bench.unit)
        )
        self._lead.taken.connect(partial(self._take, "Lead", "lead_mm"))
        self.form.add(tr("Lead"), self._lead)
        self.source = SourceRows(bench, self.form, self._take)
        self.source.shelf_wanted.connect(self.shelf_wanted)
        self._pwm = QuantityField(tr("Frequency of the dimmer's pulses"), _read_hz)
        self._pwm.setPlaceholderText(tr("not known"))
        self._pwm.taken.connect(lambda value: self._take("Dimmer", "pwm_hz", value or None))
        self.form.add(tr("Dimmed at"), self._pwm)
        self.controller = ControllerRow(self.form, self._take)
        self.controller.shelf_wanted.connect(self.shelf_wanted)
        self._cap = QuantityField(tr("Current cap of the controller"), _read_ma)
        self._cap.setPlaceholderText(tr("none"))
        self._cap.setToolTip(tr("What is typed into the controller: it dims all pixels together to keep to it"))
        self._cap.taken.connect(lambda value: self._take("Current cap", "cap_ma", value or None))
        self.form.add(tr("Current cap"), self._cap)
        for field in (self._lead, self._pwm, self._cap):
            field.wrong.connect(self.form.say)
        self.form.finish()
        self._add = QPushButton(tr("Add a feed where it is dimmest"))
        self._add.setToolTip(tr("Solder one more pair of wires from the supply to the pads where the light is least"))
        self._add.clicked.connect(self._inject)
        column.addWidget(self._add)
        self._list = QVBoxLayout()
        self._list.setSpacing(2)
        column.addLayout(self._list)
        self._listed: object = None

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

    def _chosen_run(self) -> tuple[str, str] | None:
        start, between, end = (self._run.currentData() or "").partition(_BETWEEN)
        return (start, end) if between else None

    def _take_section(self, wire_mm2: float | None) -> None:
        run, usual = self._chosen_run(), self._usual
        if run is None:
            self._take("Wire", "wire_mm2", wire_mm2)
        else:
            self.bench.edit(
                "Wire", lambda design, _: with_section(design, usual, run, wire_mm2), field="wiring.sections"
            )

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
        blocked = self.apart.blockSignals(True)
        self.apart.setChecked(shown.apart)
        self.apart.blockSignals(blocked)
        self.apart.setVisible(len(self.bench.design.strips) > 1)
        self._show_section(shown)
        self._lead.show_text(format_length(shown.lead_mm, self.bench.unit))
        self.source.show_wiring(shown)
        self._pwm.show_text("" if shown.pwm_hz is None else f"{shown.pwm_hz:g} Hz")
        self.controller.show_wiring(shown)
        self._cap.show_text("" if shown.cap_ma is None else f"{shown.cap_ma:g} mA")
        self.form.show_row(self._cap, shown=any(carries_data(piece) for piece in self.bench.layout.pieces))
        self._show_added(shown)

    def _show_section(self, shown: Wiring) -> None:
        """Show the section of the chosen wires, with those of the table to choose from."""
        run = self._chosen_run()
        known = {section: f"{section:g} mm²" for section in (*SECTIONS_MM2, shown.wire_mm2)}
        own = shown.wire_mm2
        if run is not None:
            own = shown.section_mm2(*run)
            known |= {own: f"{own:g} mm²"}
        self._section.clear()
        if run is not None:
            self._section.addItem(tr("{section} mm², as the others").format(section=f"{shown.wire_mm2:g}"), None)
        for section in sorted(known):
            self._section.addItem(known[section], section)
        is_own = run is None or any((one.start, one.end) == run for one in shown.sections)
        self._section.setCurrentIndex(self._section.findData(own) if is_own else 0)

    def _show_runs(self, runs: tuple[Run, ...]) -> None:
        """List the wires, keeping the chosen ones chosen as long as they are there."""
        if [(one.start, one.end) for one in runs] == [(one.start, one.end) for one in self._runs] and self._run.count():
            return
        chosen = self._run.currentData()
        self._runs = runs
        self._run.clear()
        self._run.addItem(tr("all wires"), None)
        for run in runs[:_MOST_RUNS]:
            words = tr("{number}: {start} → {end}").format(number=run.number, start=run.start, end=run.end)
            self._run.addItem(words, f"{run.start}{_BETWEEN}{run.end}")
        self._run.setCurrentIndex(max(self._run.findData(chosen), 0))

    def _show_added(self, shown: Wiring) -> None:
        """List the feeds, and the wires that have a section of their own, each with a way to remove it."""
        runs = {(str(one.start), str(one.end)) for one in self._runs}
        lost = {one for one in shown.sections if (one.start, one.end) not in runs}
        state = (shown.injections, shown.sections, lost)
        if state == self._listed:
            return
        self._listed = state
        while self._list.count():
            item = self._list.takeAt(0)
            widget = None if item is None else item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        rows = [
            *(self._feed_row(one) for one in shown.injections[:_MOST_SHOWN]),
            *(self._section_row(one, lost=one in lost) for one in shown.sections[:_MOST_SHOWN]),
        ]
        for row in rows:
            self._list.addWidget(row)
        rest = len(shown.injections) + len(shown.sections) - len(rows)
        if rest:
            self._list.addWidget(QLabel(tr("and {count} more").format(count=rest)))

    def _feed_row(self, one: Injection) -> QWidget:
        words = tr("feed on {piece}, after segment {after}") if one.after else tr("feed on {piece}, at its start")
        return _row(
            words.format(piece=one.piece, after=one.after),
            lambda: self.bench.edit("Remove a feed", lambda design, _: without_injection(design, one)),
        )

    def _section_row(self, one: RunSection, *, lost: bool) -> QWidget:
        words = (
            tr("{start} → {end}: {section} mm²; there is no such wire now")
            if lost
            else tr("{start} → {end}: {section} mm²")
        )
        usual = self._usual
        return _row(
            words.format(start=one.start, end=one.end, section=f"{one.wire_mm2:g}"),
            lambda: self.bench.edit("Wire", lambda design, _: with_section(design, usual, (one.start, one.end), None)),
        )

    def show_light(self, evaluation: Evaluation) -> None:
        """Take note of the wiring that is computed, and of where it is dimmest."""
        network = evaluation.network
        self._usual = network.wiring
        self._dimmest = None
        if network.power is not None:
            ends = ends_of(evaluation.layout.pieces, network.power)
            if ends is not None and ends.least < ends.most:
                self._dimmest = pads_of_dimmest(evaluation.layout.pieces, ends)
        self._show_runs(() if network.power is None else runs_of(network.power))
        self._add.setEnabled(self._dimmest is not None)
        self.refresh()


def _row(words: str, remove: Callable[[], object]) -> QWidget:
    row = QWidget()
    line = QHBoxLayout(row)
    line.setContentsMargins(0, 0, 0, 0)
    text = QLabel(words)
    text.setWordWrap(True)
    line.addWidget(text, 1)
    button = QPushButton("×")
    button.setFixedWidth(26)
    button.setAccessibleName(tr("Remove: {what}").format(what=words))
    button.setToolTip(button.accessibleName())
    button.clicked.connect(remove)
    line.addWidget(button)
    return row


def _read_hz(text: str) -> float:
    """Read a frequency; nothing typed means that it is not known, 0."""
    return parse_number(text, "Hz") if text.strip() else 0.0


def _read_ma(text: str) -> float:
    """Read a current, in mA unless A stands behind it; nothing typed means that there is no cap, 0."""
    typed = text.strip().lower()
    if typed.endswith("a") and not typed.endswith("ma"):
        return 1000.0 * parse_number(text, "A")
    return parse_number(text, "mA") if typed else 0.0


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
