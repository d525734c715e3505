"""Choices of the making beyond cutting: how it is laid and joined, what it hangs on, paper, and what is printed."""

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QLabel, QSizePolicy, QVBoxLayout, QWidget

from gauze.core.design.making import Making, Printing
from gauze.core.errors import QuantityError
from gauze.core.units import format_length, format_number, parse_length, parse_number
from gauze.session.making_edits import shown_making, with_making, with_printing
from gauze.ui.panels.fields import ChoiceBox, Form, QuantityField
from gauze.ui.panels.frame_choices import FrameChoices
from gauze.ui.text import tr
from gauze.ui.workbench import Workbench

_SIZES = 3  # of a case: along, across, high
_WHOLE = ("fixings",)


class MakeChoices(QWidget):
    """Forms under headings; every field is an edit of its own."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self.bench = bench
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(6)
        steps = self._part(tr("How it is built"))
        self.laid = self._box(
            steps,
            tr("Strip is laid"),
            "laid_with",
            (("tape", tr("with its own tape")), ("clips", tr("in clips")), ("glue", tr("with glue"))),
        )
        self.joined = self._box(
            steps, tr("Wires are"), "joined_with", (("solder", tr("soldered")), ("connectors", tr("in connectors")))
        )
        self.sheets = self._box(
            steps,
            tr("Sheets are cut"),
            "sheets_cut",
            (("straight", tr("straight through (saw)")), ("free", tr("in any shape (laser)"))),
        )
        steps.finish()
        self.frame = FrameChoices(bench)
        self._column.addWidget(self.frame)
        paid = self._part(tr("What it costs"))
        self.tax = self._field(
            paid, tr("Tax on what is bought; none typed where prices have it"), tr("Tax"), "tax_percent", _read_percent
        )
        self.tax.setPlaceholderText(tr("in the prices"))
        self.hours = self._field(paid, tr("Hours that you work on it"), tr("Hours"), "hours", _read_number)
        self.hour_price = self._field(paid, tr("Price of an hour"), tr("Each hour"), "hour_price", _read_number)
        paid.finish()
        hung = self._part(tr("What it hangs on"))
        self.fixings = self._field(hung, tr("How many fixings it hangs on"), tr("Fixings"), "fixings", _read_number)
        self.fixing_kg = self._field(
            hung, tr("What each fixing holds, by its label, in kg"), tr("Each holds"), "fixing_kg", _read_number
        )
        hung.finish()
        for field in (self.fixings, self.fixing_kg):
            field.setPlaceholderText(tr("not chosen"))
        printed = self._part(tr("Templates and printed parts"))
        self.paper = self._box(
            printed, tr("Templates on"), "paper", (("a4", tr("A4")), ("a3", tr("A3")), ("letter", tr("Letter")))
        )
        self.bed = self._sizes(
            printed, tr("Bed of the printer, along × across"), tr("Printer's bed"), 2, self._take_bed
        )
        self.wall = self._printed(printed, tr("Walls and floors of printed parts"), tr("Printed walls"), "wall_mm")
        self.case = self._sizes(
            printed,
            tr("Room inside a case for the electronics, length × width × height"),
            tr("Case, inside"),
            _SIZES,
            self._take_case,
        )
        self.case.setPlaceholderText(tr("none, or 90 × 60 × 30"))
        self.foot = QuantityField(
            tr("Angle at which feet let it lean back"), lambda text: _read_number(text.rstrip("°"))
        )
        self.foot.setPlaceholderText(tr("no feet"))
        self.foot.taken.connect(lambda value: self._edit_printing(foot_deg=value or None))
        self.foot.wrong.connect(printed.say)
        printed.add(tr("Feet lean"), self.foot)
        printed.finish()

    def _part(self, name: str) -> Form:
        heading = QLabel(name)
        heading.setObjectName("heading")
        self._column.addWidget(heading)
        form = Form()
        self._column.addWidget(form)
        return form

    def _box(self, form: Form, label: str, choice: str, options: tuple[tuple[str, str], ...]) -> ChoiceBox:
        box = ChoiceBox()
        box.setSizePolicy(
            QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed
        )  # a long option must not widen the panel
        box.setAccessibleName(label)
        for key, text in options:
            box.addItem(text, key)
        box.activated.connect(lambda index: self._edit(**{choice: box.itemData(index)}))
        form.add(label, box)
        return box

    def _field(self, form: Form, name: str, label: str, choice: str, read: Callable[[str], float]) -> QuantityField:
        field = QuantityField(name, read)
        field.taken.connect(partial(self._take, choice))
        field.wrong.connect(form.say)
        form.add(label, field)
        return field

    def _printed(self, form: Form, name: str, label: str, choice: str) -> QuantityField:
        field = QuantityField(name, lambda text: parse_length(text, self.bench.unit))
        field.taken.connect(lambda value: self._edit_printing(**{choice: value}))
        field.wrong.connect(form.say)
        form.add(label, field)
        return field

    def _sizes(
        self, form: Form, name: str, label: str, count: int, take: Callable[[tuple[float, ...]], None]
    ) -> QuantityField:
        """Several lengths in one field, with × or x between."""
        read: list[tuple[float, ...]] = [()]

        def parse(text: str) -> float:
            words = text.replace("×", "x").replace("*", "x").lower().split("x") if text.strip() else []
            if words and len(words) != count:
                raise QuantityError("Type {count} lengths with × between them.", count=count)
            read[0] = tuple(parse_length(word, self.bench.unit) for word in words)
            return float(len(words))

        field = QuantityField(name, parse)
        field.taken.connect(lambda _count: take(read[0]))
        field.wrong.connect(form.say)
        form.add(label, field)
        return field

    def _take_bed(self, sizes: tuple[float, ...]) -> None:
        usual = Printing().bed  # for nothing typed
        wide, deep = sizes or usual
        self._edit_printing(bed_x_mm=wide, bed_y_mm=deep)

    def _take_case(self, sizes: tuple[float, ...]) -> None:
        self._edit_printing(case_mm=sizes or None)

    def _take(self, choice: str, value: float) -> None:
        chosen: Any = value or None
        if chosen is not None and choice in _WHOLE:
            chosen = round(value)
        self._edit(**{choice: chosen})

    def _edit(self, **changes: Any) -> None:
        making = shown_making(self.bench.design)
        if any(getattr(making, key) != value for key, value in changes.items()):
            field = f"making.{next(iter(changes))}"
            self.bench.edit("Making", lambda design, _: with_making(design, **changes), field=field)

    def _edit_printing(self, **changes: Any) -> None:
        printing = shown_making(self.bench.design).printing
        if any(getattr(printing, key) != value for key, value in changes.items()):
            field = f"making.printing.{next(iter(changes))}"
            self.bench.edit("Printed parts", lambda design, _: with_printing(design, **changes), field=field)

    def refresh(self) -> None:
        """Show what is chosen, or usual."""
        making, unit = shown_making(self.bench.design), self.bench.unit
        self.frame.refresh()
        for box, value in (
            (self.laid, making.laid_with),
            (self.joined, making.joined_with),
            (self.paper, making.paper),
        ):
            box.setCurrentIndex(box.findData(value))
        self.sheets.setCurrentIndex(self.sheets.findData(making.sheets_cut))
        self.tax.show_text("" if making.tax_percent is None else f"{making.tax_percent:g} %")
        for field, number in ((self.hours, making.hours), (self.hour_price, making.hour_price)):
            field.show_text("" if number is None else f"{number:g}")
        self.fixings.show_text("" if making.fixings is None else str(making.fixings))
        self.fixing_kg.show_text("" if making.fixing_kg is None else f"{format_number(making.fixing_kg)} kg")
        self._show_printing(making)
        self.wall.show_text(format_length(making.printing.wall_mm, unit))

    def _show_printing(self, making: Making) -> None:
        printing, unit = making.printing, self.bench.unit
        self.bed.show_text(" × ".join(format_length(one, unit) for one in printing.bed))
        case = printing.case_mm
        self.case.show_text("" if case is None else " × ".join(format_length(one, unit) for one in case))
        self.foot.show_text("" if printing.foot_deg is None else f"{printing.foot_deg:g}°")


def _read_percent(text: str) -> float:
    """Read a share in %; nothing typed means none, 0."""
    return parse_number(text, "%") if text.strip() else 0.0


def _read_number(text: str) -> float:
    """Read a number, kg behind it or not; nothing typed means none, 0."""
    return parse_number(text, "kg") if text.strip() else 0.0
