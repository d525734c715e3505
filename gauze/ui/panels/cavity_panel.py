"""The place Lay of loose emitters: the cavity's shape and sizes, and what the emitters have in common."""

from collections.abc import Mapping
from typing import Any

from PyQt6.QtWidgets import QComboBox, QLabel, QPushButton

from gauze.core.design import LooseEmitters, with_build
from gauze.core.layout.enclosing import KINDS
from gauze.core.units import format_length, format_number, parse_length, parse_number
from gauze.session import edits
from gauze.ui.panels.fields import ChoiceBox, LevelField, QuantityField
from gauze.ui.panels.place_panel import PlacePanel
from gauze.ui.text import tr
from gauze.ui.workbench import Workbench

_SHAPES = {
    "box": "Box",
    "prism": "Prism over a polygon",
    "frustum": "Funnel",
    "channel": "Channel",
    "tube": "Tube",
    "sphere": "Ball",
    "cup": "Cup",
    "open_wall": "Open, along a wall",
    "open_corner": "Open, in a corner",
    "baffled": "Box with partitions",
}
_SIZES = {
    "width_mm": "Width",
    "height_mm": "Height",
    "length_mm": "Length",
    "diameter_mm": "Diameter",
    "back_mm": "Back width",
    "lid_mm": "Lid width",
    "front_mm": "Front width",
    "base_mm": "Base width",
    "reach_mm": "Reach",
    "depth_mm": "Depth",
    "bed_mm": "Bed width",
    "bed_height_mm": "Bed height",
    "lens_rise_mm": "Lens rise",
    "pitch_x_mm": "Cell width",
    "pitch_y_mm": "Cell height",
    "partition_mm": "Partition thickness",
    "partition_height_mm": "Partition height",
    "gap_below_mm": "Gap below",
}
_COUNTS = {"sides": "Sides (0: round)", "columns": "Columns", "rows": "Rows"}
_SECTIONS = {"rectangle": "Rectangle", "v": "V", "u": "U", "half_round": "Half round"}
_RIMS = {True: "half a partition", False: "the bare wall"}
TEXTS = tuple(text for table in (_SHAPES, _SIZES, _COUNTS, _SECTIONS, _RIMS) for text in table.values())


class CavityPanel(PlacePanel):
    """Shape and sizes; a change of shape starts from sizes around the emitters."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__(bench, tr("Cavity and emitters"))
        self._shape = ChoiceBox()
        self._shape.setAccessibleName(tr("Shape of the cavity"))
        for kind in KINDS:
            self._shape.addItem(tr(_SHAPES[kind]), kind)
        self._shape.activated.connect(self._choose_shape)
        self.form.add(tr("Shape"), self._shape)
        self._fields: dict[str, QuantityField] = {}
        self._chosen: dict[str, QComboBox] = {}
        self._shown: str | None = None
        self._about = QLabel()
        self._about.setObjectName("dim")
        self._about.setWordWrap(True)
        self._level = LevelField(tr("Level of all emitters"))
        self._gesture = object()
        self._level.moved.connect(self._move_level)
        self._level.let_go.connect(self._let_go)
        self._size = QuantityField(tr("Side of an emitter's face"), lambda text: parse_length(text, bench.unit))
        self._size.wrong.connect(self.form.say)
        self._size.taken.connect(
            lambda value: bench.edit("Emitter size", lambda design, _: with_build(design, emitter_size_mm=value))
        )
        self._import = QPushButton(tr("Import emitters …"))
        self._import.setToolTip(tr("Replace the emitters with those from a table (CSV)"))
        self._import.clicked.connect(lambda: self.command_wanted.emit("import_emitters", 0))
        self.column.addStretch(1)

    def say(self, message: str) -> None:
        """Show why a value is invalid."""
        self.form.say(message)

    def _choose_shape(self, index: int) -> None:
        kind = self._shape.itemData(index)
        self.form.say("")
        if not self.bench.edit("Shape", lambda design, _: edits.with_shape(design, kind)):
            self.refresh()

    def _move_level(self, level: float) -> None:
        self.bench.drag("Level", lambda design, _: with_build(design, level=level), self._gesture)

    def _let_go(self) -> None:
        self._gesture = object()

    def refresh(self) -> None:
        """Show the cavity; the fields are made again for another shape."""
        build, layout = self.bench.design.loose, self.bench.layout
        kind = str(build.cavity.__struct_config__.tag)
        if kind != self._shown:
            self._make_fields(build)
            self._shown = kind
        self._shape.setCurrentIndex(self._shape.findData(kind))
        unit = self.bench.unit
        for name, field in self._fields.items():
            value = getattr(build.cavity, name)
            if name in _COUNTS:
                field.show_text(str(value))
            elif name == "lit_deg":
                field.show_text(f"{value:g}°")
            else:
                field.show_text(format_length(value, unit))
        for name, box in self._chosen.items():
            box.setCurrentIndex(box.findData(getattr(build.cavity, name)))
        self._level.show_level(build.level)
        self._size.show_text(format_length(build.emitter_size_mm, unit))
        flux = format_number(float(layout.cavity.flux_lm.sum()))
        measured = sum(emitter.distribution >= 0 for emitter in build.emitters)
        count = layout.emitter_count
        words = tr("1 emitter") if count == 1 else tr("{count} emitters").format(count=count)
        words += tr(", {flux} lm at this level").format(flux=flux)
        if measured:
            words += tr("; {count} with measured distributions").format(count=measured)
        self._about.setText(words)

    def _make_fields(self, build: LooseEmitters) -> None:
        """Rows for the sizes of this shape; the rows below move down with them."""
        self.form.clear_below(1)
        self._fields, self._chosen = {}, {}
        for name in build.cavity.__struct_fields__:
            if name == "section":
                self._make_choice(name, tr("Section"), tr("Section of the channel"), _SECTIONS)
            elif name == "rim_partition":
                self._make_choice(name, tr("Along the rim"), tr("What stands along the rim"), _RIMS)
            elif name in _SIZES or name in _COUNTS or name == "lit_deg":
                self._fields[name] = self._make_field(name)
            elif name == "corners_mm":
                self.form.add(tr("Corners"), QLabel(tr("{count}, from the file").format(count=self._corners(build))))
        self.form.add(tr("Level"), self._level)
        self.form.add(tr("Emitter's face"), self._size)
        self.form.add_wide(self._about)
        self.form.add_wide(self._import)
        self.form.finish()

    @staticmethod
    def _corners(build: LooseEmitters) -> int:
        return len(getattr(build.cavity, "corners_mm", ()))

    def _make_choice(self, name: str, label: str, spoken: str, options: Mapping[Any, str]) -> None:
        box = ChoiceBox()
        box.setAccessibleName(spoken)
        for value, words in options.items():
            box.addItem(tr(words), value)
        box.activated.connect(lambda index: self._take(name, box.itemData(index)))
        self.form.add(label, box)
        self._chosen[name] = box

    def _make_field(self, name: str) -> QuantityField:
        label = tr({**_SIZES, **_COUNTS, "lit_deg": "Lit arc"}[name])
        reading = {"lit_deg": lambda text: parse_number(text, "°")}
        reading |= dict.fromkeys(_COUNTS, parse_number)
        field = QuantityField(label, reading.get(name, lambda text: parse_length(text, self.bench.unit)))
        field.wrong.connect(self.form.say)
        field.taken.connect(lambda value: self._take(name, value))
        self.form.add(label, field)
        return field

    def _take(self, name: str, value: object) -> None:
        self.form.say("")
        if not self.bench.edit("Cavity", lambda design, _: edits.with_cavity(design, name, value)):
            self.refresh()
