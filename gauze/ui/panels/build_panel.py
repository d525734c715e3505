"""The place Lay of a build: the choices that have no place on its drawing, and what lights it."""

from functools import partial

from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from gauze.core.design.build import FamilyBuild, ModuleChoice
from gauze.core.design.design import OWN_PREFIX
from gauze.core.layout.sketch import Choice, Entry
from gauze.core.units import format_length, format_number
from gauze.session import edits
from gauze.session.build_edits import read_value, with_choice_at
from gauze.ui.panels.fields import ChannelFields, ChoiceBox, Form, QuantityField
from gauze.ui.panels.pixel_order import PixelOrderControls
from gauze.ui.panels.place_panel import PlacePanel
from gauze.ui.panels.strip_controls import StripControls
from gauze.ui.text import spoken, tr
from gauze.ui.workbench import Workbench


class BuildPanel(PlacePanel):
    """Choices as the layout states them; the rows are made again when others are stated."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__(bench, tr("Body and light source"))
        self._shown: object = None
        self._stated: dict[str, Choice | Entry] = {}
        self._inputs: dict[str, QWidget] = {}
        self._lamps = QVBoxLayout()
        self.column.addLayout(self._lamps)
        self._notes = QLabel()
        self._notes.setObjectName("dim")
        self._notes.setWordWrap(True)
        self.column.addWidget(self._notes)
        self.column.addStretch(1)
        self._strips: list[StripControls] = []
        self._module: ModuleControls | None = None

    def refresh(self) -> None:
        """Show the choices as they stand."""
        build, layout = self.bench.design.build_as(FamilyBuild), self.bench.layout
        choices = layout.sketch.choices
        self._stated = {one.field: one for one in choices}
        # not the options: own sizes among them change with every step of a drag
        kinds = (type(build), tuple((one.field, type(one)) for one in choices))
        if kinds != self._shown:
            self._make(choices)
            self._shown = kinds
        for choice in choices:
            self._show(choice)
        self._refresh_lamps(build)
        self._notes.setText("\n".join(self.bench.reader.read(note) for note in layout.sketch.notes))
        self._notes.setVisible(bool(layout.sketch.notes))

    def _make(self, choices: tuple[Choice | Entry, ...]) -> None:
        self.form.clear_below(0)
        self._inputs = {}
        for choice in choices:
            self._inputs[choice.field] = self._combo(choice) if isinstance(choice, Choice) else self._entry(choice)
            self.form.add(spoken(choice.name), self._inputs[choice.field])
        self.form.finish()

    def _combo(self, choice: Choice) -> QComboBox:
        box = ChoiceBox()
        box.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        box.setAccessibleName(spoken(choice.name))
        box.activated.connect(lambda index: self._choose(choice.field, index))
        return box

    def _choose(self, field: str, index: int) -> None:
        choice = self._stated[field]
        assert isinstance(choice, Choice)
        value = choice.options[index][0]
        if value != choice.value:
            self._take(field, spoken(choice.name), value)

    def _entry(self, entry: Entry) -> QWidget:
        if entry.kind == "picture":
            button = QPushButton(tr("Choose a picture …"))
            button.clicked.connect(lambda: self.command_wanted.emit("choose_picture", 0))
            return button
        if entry.kind == "text":
            line = QLineEdit()
            line.setAccessibleName(spoken(entry.name))
            line.editingFinished.connect(lambda: self._take_text(entry, line))
            return line
        field = QuantityField(spoken(entry.name), lambda text: float(read_value(entry.kind, text, self.bench.unit)))
        field.wrong.connect(self.form.say)
        field.taken.connect(lambda value: self._take(entry.field, spoken(entry.name), value))
        return field

    def _take_text(self, entry: Entry, line: QLineEdit) -> None:
        if line.isModified():
            line.setModified(False)
            self._take(entry.field, spoken(entry.name), line.text())

    def _take(self, field: str, name: str, value: object) -> None:
        self.form.say("")
        if not self.bench.edit(name, lambda design, _: with_choice_at(design, field, value), field=field):
            self.refresh()

    def say(self, message: str) -> None:
        """Show why a value is invalid."""
        self.form.say(message)

    def _show(self, choice: Choice | Entry) -> None:
        shown = self._inputs[choice.field]
        if isinstance(choice, Choice):
            assert isinstance(shown, QComboBox)
            while shown.count() > len(choice.options):
                shown.removeItem(shown.count() - 1)
            for index, (_, words) in enumerate(choice.options):
                if index == shown.count():
                    shown.addItem(spoken(words, self.bench.unit))
                elif shown.itemText(index) != spoken(words, self.bench.unit):
                    shown.setItemText(index, spoken(words, self.bench.unit))
            values = [value for value, _ in choice.options]
            shown.setCurrentIndex(values.index(choice.value) if choice.value in values else -1)
        elif isinstance(shown, QuantityField):
            shown.show_text(_entry_text(choice, self.bench))
        elif isinstance(shown, QLineEdit) and not shown.hasFocus():
            shown.setText(str(choice.value))

    def _refresh_lamps(self, build: FamilyBuild) -> None:
        wanted = [choice.strip for choice in build.strips]
        if wanted != [controls.strip_id for controls in self._strips]:
            for controls in self._strips:
                self._remove(controls)
            self._strips = [
                StripControls(self.bench, index, self.bench.known().strip(strip_id))
                for index, strip_id in enumerate(wanted)
            ]
            for controls in self._strips:
                controls.tray_wanted.connect(partial(self.command_wanted.emit, "tray_strip"))
                self._lamps.addWidget(controls)
        for controls in self._strips:
            controls.refresh(self.bench.design)
        module = build.module.module if build.module is not None else None
        if self._module is not None and self._module.module_id != module:
            self._remove(self._module)
            self._module = None
        if build.module is not None:
            if self._module is None:
                self._module = ModuleControls(self.bench, build.module)
                self._lamps.addWidget(self._module)
            self._module.refresh(build.module)

    def _remove(self, widget: QWidget) -> None:
        widget.hide()
        self._lamps.removeWidget(widget)
        widget.deleteLater()


def _entry_text(entry: Entry, bench: Workbench) -> str:
    value = entry.value
    assert isinstance(value, int | float)
    if entry.kind == "length":
        return format_length(value, bench.unit)
    if entry.kind == "angle":
        return f"{value:g}°"
    return f"{100 * value:g} %" if entry.kind == "share" else f"{value:g}"


class ModuleControls(QWidget):
    """The module of a build: which, its white, a level for each channel."""

    def __init__(self, bench: Workbench, choice: ModuleChoice) -> None:
        super().__init__()
        self.module_id = choice.module
        self._bench = bench
        module = bench.known().module(choice.module)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 4)
        column.setSpacing(4)
        self._pick = ChoiceBox()
        self._pick.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self._pick.setAccessibleName(tr("Module"))
        for other in bench.known().modules.values():
            if other.kind == module.kind:
                self._pick.addItem(other.name, other.id)
        self._pick.setCurrentIndex(self._pick.findData(module.id))
        self._pick.activated.connect(lambda index: self._choose(self._pick.itemData(index)))
        column.addWidget(self._pick)
        own = module.id.startswith(OWN_PREFIX)
        words = tr("{watts} W, {flux} lm, {volts} V each; typical")
        about = QLabel(
            (tr("{watts} W, {flux} lm, {volts} V each; by its label") if own else words).format(
                watts=format_number(module.power_w),
                flux=format_number(sum(channel.flux_lm for channel in module.channel)),
                volts=format_number(module.volts),
            )
        )
        about.setObjectName("dim")
        about.setWordWrap(True)
        column.addWidget(about)
        self.form = Form()
        column.addWidget(self.form)
        self._channels = ChannelFields(
            self.form,
            module.white_cct_k is not None,
            [channel.name for channel in module.channel],
            lambda value: bench.edit(
                "Colour temperature", lambda design, _: with_choice_at(design, "build.module.cct_k", value)
            ),
            lambda channel, level, gesture: bench.drag(
                "Level", lambda design, _: edits.with_module_level(design, bench.known(), channel, level), gesture
            ),
        )

        self._order = PixelOrderControls(bench) if module.kind == "grid" else None
        if self._order is not None:
            column.addWidget(self._order)

    def _choose(self, module_id: str) -> None:
        self._bench.edit(
            "Module",
            lambda design, _: edits.with_used_own_only(
                edits.with_module(self._bench.with_shelf(design), self._bench.known(), module_id)
            ),
        )

    def refresh(self, choice: ModuleChoice) -> None:
        """Show white and levels."""
        self._channels.show(choice.cct_k, choice.levels_for(self._bench.known().module(choice.module)))
        if self._order is not None:
            self._order.refresh(choice.order)
