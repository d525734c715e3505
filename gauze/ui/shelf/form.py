"""One label as a form: every entry in place, and below the resulting figures, each with where it is from."""

import math
from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLabel, QLineEdit, QVBoxLayout, QWidget

from gauze.core.design.labels import likes_of, read_label
from gauze.core.errors import DesignError, QuantityError
from gauze.core.materials import Catalogue
from gauze.core.materials.labels import Thing
from gauze.core.units import LengthUnit, format_length, format_number, parse_length, parse_number
from gauze.session.new_things import with_entry
from gauze.ui.message import plain_tip
from gauze.ui.panels.fields import ChoiceBox, Form, QuantityField
from gauze.ui.shelf.words import Entry, entries_of
from gauze.ui.text import spoken, told, tr


class LabelForm(QWidget):
    """The label of one thing. ``changed`` carries it with another entry; one that cannot be is refused with a message."""

    changed = pyqtSignal(object)  # Thing

    def __init__(self, catalogue: Catalogue, unit: LengthUnit) -> None:
        super().__init__()
        self._catalogue, self._unit = catalogue, unit
        self._thing: Thing | None = None
        self.inputs: dict[str, QWidget] = {}
        self.form = Form()
        self._comes_to = QLabel()
        self._comes_to.setObjectName("dim")
        self._comes_to.setWordWrap(True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 12, 0)  # beside the scroll bar
        column.addWidget(self.form)
        column.addWidget(self._comes_to)
        column.addStretch(1)

    def show_thing(self, thing: Thing | None) -> None:
        """Show a label; the same kind keeps its inputs."""
        if thing is None or self._thing is None or type(thing) is not type(self._thing):
            self._build(thing)
        if thing is not None and self._thing is not None and thing.id != self._thing.id:
            self.form.say("")
            for field in self.inputs.values():  # what is half typed belongs to the other
                if isinstance(field, QuantityField):
                    field.leave()
                elif isinstance(field, QLineEdit):
                    field.setModified(False)
        self._thing = thing
        if thing is None:
            self._comes_to.setText("")
            return
        for entry in entries_of(type(thing)):
            self._show(entry, getattr(thing, entry.field))
        self._show_statements(thing)

    def set_unit(self, unit: LengthUnit) -> None:
        """Write lengths in another unit."""
        self._unit = unit
        if self._thing is not None:
            self.show_thing(self._thing)

    def _show_statements(self, thing: Thing) -> None:
        try:
            found = read_label(thing, self._catalogue)
        except DesignError as error:  # such as one like a row that is no longer in the catalogue
            self.form.say(told(error, self._unit))
            self._comes_to.setText("")
            return
        lines = [
            f"{spoken(one.name)}: {spoken(one.value, self._unit)} ({spoken(one.how, self._unit)})" for one in found
        ]
        self._comes_to.setText("\n".join(lines))

    # -- the inputs -------------------------------------------------------------------------------------------------

    def _build(self, thing: Thing | None) -> None:
        self.form.clear_below(0)
        self.inputs = {}
        if thing is None:
            return
        for entry in entries_of(type(thing)):
            widget = self._input(entry, thing)
            widget.setAccessibleName(entry.label)
            self.inputs[entry.field] = widget
            self.form.add(entry.label, widget)
        self.form.finish()

    def _input(self, entry: Entry, thing: Thing) -> QWidget:
        if entry.kind == "text":
            line = QLineEdit()
            line.editingFinished.connect(lambda: self._take_text(entry.field, line))
            return line
        if entry.kind == "yes":
            box = QCheckBox()
            box.toggled.connect(partial(self._take, entry.field))
            return box
        if entry.kind in ("choice", "like"):
            options = entry.options if entry.kind == "choice" else tuple(likes_of(type(thing), self._catalogue).items())
            choice = ChoiceBox()
            for value, text in options:
                choice.addItem(text, value)
            choice.activated.connect(lambda index: self._take(entry.field, choice.itemData(index)))
            return choice
        field = QuantityField(entry.label, self._reader(entry))
        field.setPlaceholderText(tr("not on the label"))
        field.wrong.connect(self.form.say)
        field.taken.connect(lambda value: self._take_number(entry, value))
        return field

    def _reader(self, entry: Entry) -> Callable[[str], float]:
        """Read what is typed; nothing typed means that the label does not say, which is no number."""

        def read(text: str) -> float:
            if not text.strip():
                return math.nan
            if entry.kind == "length":
                return parse_length(text, self._unit)
            if entry.kind == "share":
                return parse_number(text, "%") / 100.0
            value = parse_number(text, entry.unit)
            if entry.kind == "whole" and value != int(value):
                raise QuantityError("“{text}” is not a whole number.", text=text.strip())
            return value

        return read

    def _show(self, entry: Entry, value: Any) -> None:
        widget = self.inputs[entry.field]
        if isinstance(widget, QCheckBox):
            blocked = widget.blockSignals(True)
            widget.setChecked(bool(value))
            widget.blockSignals(blocked)
        elif isinstance(widget, QComboBox):
            widget.setCurrentIndex(widget.findData(value))
        elif isinstance(widget, QuantityField):
            widget.show_text("" if value is None else self._written(entry, float(value)))
        elif isinstance(widget, QLineEdit) and not (widget.hasFocus() and widget.isModified()):
            widget.setText(str(value))
            widget.setToolTip(plain_tip(str(value)))

    def _written(self, entry: Entry, value: float) -> str:
        if entry.kind == "length":
            return format_length(value, self._unit)
        if entry.kind == "share":
            return f"{format_number(100 * value)} %"
        return f"{format_number(value, 6)} {entry.unit}".strip()

    def _take_text(self, field: str, line: QLineEdit) -> None:
        if self.inputs.get(field) is line:  # else it is being taken away, and loses the focus
            self._take(field, line.text().strip())

    def _take_number(self, entry: Entry, value: float) -> None:
        self._take(entry.field, None if math.isnan(value) else int(value) if entry.kind == "whole" else value)

    def _take(self, field: str, value: Any) -> None:
        thing = self._thing
        if thing is None or getattr(thing, field) == value:
            return
        if value is None and not _may_be_left_out(thing, field):
            self.form.say(tr("This has to be on the label: type it."))
            return
        changed = with_entry(thing, field, value)
        try:
            read_label(changed, self._catalogue)
        except DesignError as error:
            self.form.say(told(error, self._unit))
            self._show(next(one for one in entries_of(type(thing)) if one.field == field), getattr(thing, field))
            return
        self.form.say("")
        self.changed.emit(changed)


def _may_be_left_out(thing: Thing, field: str) -> bool:
    defaults = dict(zip(reversed(thing.__struct_fields__), reversed(thing.__struct_defaults__), strict=False))
    return defaults.get(field, 0) is None
