"""The place Make: how many are built, how it is cut, and what it costs."""

from functools import partial
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QLabel, QPushButton

from gauze.core.errors import QuantityError
from gauze.core.evaluate.building.workshop import Workshop
from gauze.core.evaluate.made import MadeBuild
from gauze.core.units import format_length, format_number, parse_length, parse_number
from gauze.session.making_edits import shown_making, with_making
from gauze.ui.dimming import dim
from gauze.ui.panels.fields import QuantityField
from gauze.ui.panels.make_choices import MakeChoices
from gauze.ui.panels.make_parts import PartsList
from gauze.ui.panels.place_panel import PlacePanel
from gauze.ui.text import spoken, tr
from gauze.ui.workbench import Workbench


class MakePanel(PlacePanel):
    """Choices of the making, and a line for each material."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__(bench, tr("Cutting and bill"))
        self.copies = self._field(tr("How many are built"), tr("Copies"), "copies", _read_count)
        self.kerf = self._field(tr("What the saw takes at a cut"), tr("Kerf"), "kerf_mm", self._read_length)
        self.trim = self._field(tr("What goes off both ends of a bar"), tr("Trim"), "trim_mm", self._read_length)
        self.spare = self._field(
            tr("One spare piece to every so many, for mistakes"), tr("Spare, one in"), "spare_one_in", _read_count
        )
        self.spare.setPlaceholderText(tr("none"))
        self.wall = self._field(
            tr("Thickness of the boards of which walls are made"), tr("Wall boards"), "wall_mm", self._read_length
        )
        self.wall.setPlaceholderText(tr("not chosen"))
        self.shelf = QCheckBox(tr("use what is on my shelf first"))
        self.shelf.toggled.connect(lambda checked: self._take("from_shelf", checked))
        self.form.add_wide(self.shelf)
        self._lines = QLabel(tr("Calculating …"))
        self._lines.setWordWrap(True)
        self._lines.setTextFormat(Qt.TextFormat.PlainText)
        self.form.add_wide(self._lines)
        opened = QPushButton(tr("Cutting plan and bill …"))
        opened.setToolTip(tr("Every bar with its cuts, and what it all costs (Ctrl+L)"))
        opened.clicked.connect(lambda: self.command_wanted.emit("making", 0))
        self.form.add_wide(opened)
        steps = QPushButton(tr("Steps …"))
        steps.setToolTip(tr("Every step with its parts, tools, readings and cautions, to tick (Ctrl+Shift+B)"))
        steps.clicked.connect(lambda: self.command_wanted.emit("steps", 0))
        self.form.add_wide(steps)
        self.parts = PartsList()
        self.form.add_wide(self.parts)
        self.choices = MakeChoices(bench)
        self.form.add_wide(self.choices)
        caution = QLabel(
            tr(
                "Caution: guard blades, clamp the work, wear eye protection, and breathe neither saw dust nor solder fumes. "
                "Follow what the tool's maker says."
            )
        )
        caution.setObjectName("dim")
        caution.setWordWrap(True)
        self.form.add_wide(caution)
        self.form.finish()
        self.column.addStretch(1)
        bench.solving.made.connect(self._show_made)

    def _field(self, name: str, label: str, choice: str, read: Any) -> QuantityField:
        field = QuantityField(name, read)
        field.taken.connect(partial(self._take, choice))
        field.wrong.connect(self.form.say)
        self.form.add(label, field)
        return field

    def _read_length(self, text: str) -> float:
        """Read a length; nothing typed means none, 0."""
        return parse_length(text, self.bench.unit) if text.strip() else 0.0

    def _take(self, choice: str, value: Any) -> None:
        if choice in ("spare_one_in", "wall_mm"):
            value = value or None
        if choice in ("copies", "spare_one_in") and value is not None:
            value = round(value)
        if getattr(shown_making(self.bench.design), choice) != value:
            self.bench.edit(
                "Making", lambda design, _: with_making(design, **{choice: value}), field=f"making.{choice}"
            )

    def show_workshop(self, workshop: Workshop) -> None:
        """List the parts."""
        self.parts.show_workshop(workshop, self.bench.unit)
        self.choices.frame.setVisible(workshop.boxed)

    def refresh(self) -> None:
        """Show what is chosen, or usual."""
        self.choices.refresh()
        making, unit = shown_making(self.bench.design), self.bench.unit
        self.copies.show_text(str(making.copies))
        self.kerf.show_text(format_length(making.kerf_mm, unit))
        self.trim.show_text(format_length(making.trim_mm, unit))
        self.spare.show_text("" if making.spare_one_in is None else str(making.spare_one_in))
        self.wall.show_text("" if making.wall_mm is None else format_length(making.wall_mm, unit))
        blocked = self.shelf.blockSignals(True)
        self.shelf.setChecked(making.from_shelf)
        self.shelf.blockSignals(blocked)

    def set_stale(self, *, stale: bool) -> None:
        """Dim the lines as long as they are not those of the design as it stands."""
        if stale:
            dim(self._lines, dimmed=True)

    def forget(self) -> None:
        """Take the lines of another design away."""
        self._lines.setText(tr("Calculating …"))
        self.parts.forget()

    def _show_made(self, request: Any, made: MadeBuild) -> None:
        if request.design != self.bench.design:
            return
        lines = []
        for one in made.planned:
            name = spoken(one.cut_list.name, self.bench.unit)
            if one.plan is None:
                lines.append(tr("{name}: cannot be cut, see the plan").format(name=name))
                continue
            length = format_number(one.cut_list.total_mm * made.making.copies / 1000.0)
            words = tr("{name}: {length} m, {bought} × {stock} bought")
            stock = format_length(one.stock_mm, self.bench.unit)
            lines.append(words.format(name=name, length=length, bought=one.bought, stock=stock))
        for cut in made.sheets:
            name = spoken(cut.sheet_list.name, self.bench.unit)
            if cut.plan is None:
                lines.append(tr("{name}: cannot be cut, see the plan").format(name=name))
                continue
            size = " × ".join(format_length(side, self.bench.unit) for side in (cut.size.width_mm, cut.size.height_mm))
            words = tr("{name}: {count} pieces, {bought} × {size} bought")
            count = cut.sheet_list.count * made.making.copies
            lines.append(words.format(name=name, count=count, bought=cut.bought, size=size))
        self._lines.setText("\n".join(lines) or tr("Nothing in this design is cut."))
        dim(self._lines, dimmed=False)


def _read_count(text: str) -> float:
    """Read a whole number; nothing typed means none, 0."""
    value = parse_number(text) if text.strip() else 0.0
    if value != round(value):
        raise QuantityError("“{text}” is not a whole number.", text=text.strip())
    return value
