"""Where a build stands and what it sits on, and how warm it gets there."""

from functools import partial
from typing import Any

from PyQt6.QtWidgets import QCheckBox, QLabel, QVBoxLayout, QWidget

from gauze.core.design.surroundings import VENTED
from gauze.core.evaluate import Evaluation
from gauze.core.evaluate.wording import BACKS, STANCES, back_words, stance_words
from gauze.core.families import family_of
from gauze.core.units import format_length, format_number, parse_length, parse_number
from gauze.session.surroundings_edits import shown_surroundings, with_surroundings, without_surroundings
from gauze.ui.dimming import dim
from gauze.ui.panels.fields import ChoiceBox, Form, QuantityField
from gauze.ui.text import spoken, tr
from gauze.ui.workbench import Workbench

_NOT_CHOSEN = ""


class HeatControls(QWidget):
    """The choices in a form, and the temperatures below."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self.bench = bench
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        heading = QLabel(tr("Heat"))
        heading.setObjectName("heading")
        column.addWidget(heading)
        self.form = Form()
        column.addWidget(self.form)
        self.stance, self.back = ChoiceBox(), ChoiceBox()
        self.stance.setAccessibleName(tr("How the build stands"))
        self.stance.addItem(tr("not chosen yet"), _NOT_CHOSEN)
        for stance in STANCES:
            self.stance.addItem(spoken(stance_words(stance)), stance)
        self.stance.activated.connect(lambda index: self._take_stance(self.stance.itemData(index)))
        self.form.add(tr("Stands"), self.stance)
        self.wall = QCheckBox(tr("its back against a wall"))
        self.wall.toggled.connect(partial(self._take, "Wall behind it", "against_wall"))
        self.form.add_wide(self.wall)
        self.room = QuantityField(tr("Temperature of the room"), lambda text: parse_number(text, "°C"))
        self.room.taken.connect(partial(self._take, "Room", "ambient_c"))
        self.form.add(tr("Room"), self.room)
        self.back.setAccessibleName(tr("What the LEDs sit on"))
        for material in BACKS:
            self.back.addItem(spoken(back_words(material)), material)
        self.back.activated.connect(lambda index: self._take("Back", "back", self.back.itemData(index)))
        self.form.add(tr("Sits on"), self.back)
        self.thick = QuantityField(tr("Thickness of what the LEDs sit on"), lambda text: parse_length(text, bench.unit))
        self.thick.taken.connect(partial(self._take, "Back", "back_mm"))
        self.form.add(tr("Thickness"), self.thick)
        self.sink = QuantityField(tr("Heat sink, by its kelvins for each watt"), _read_sink)
        self.sink.setPlaceholderText(tr("none"))
        self.sink.taken.connect(lambda value: self._take("Heat sink", "sink_k_per_w", value or None))
        self.form.add(tr("Heat sink"), self.sink)
        self.vents = QuantityField(tr("Free area of the openings at the foot, and as much at the head"), _read_area)
        self.vents.setPlaceholderText(tr("closed"))
        self.vents.taken.connect(lambda value: self._take("Vents", "vent_mm2", 100.0 * value if value else None))
        self.form.add(tr("Vents"), self.vents)
        for field in (self.room, self.thick, self.sink, self.vents):
            field.wrong.connect(self.form.say)
        self.form.finish()
        self._found = QLabel()
        self._found.setWordWrap(True)
        column.addWidget(self._found)

    def _take_stance(self, stance: str) -> None:
        if stance == _NOT_CHOSEN:
            self.bench.edit("Surroundings", lambda design, _: without_surroundings(design))
        else:
            self._take("Surroundings", "stance", stance)

    def _take(self, name: str, field: str, value: Any) -> None:
        shown = shown_surroundings(self.bench.design)
        if self.bench.design.surroundings is None or getattr(shown, field) != value:
            self.bench.edit(
                name, lambda design, _: with_surroundings(design, **{field: value}), field=f"surroundings.{field}"
            )

    def refresh(self) -> None:
        """Show what is chosen, or usual."""
        chosen = self.bench.design.surroundings
        shown = shown_surroundings(self.bench.design)
        self.stance.setCurrentIndex(self.stance.findData(_NOT_CHOSEN if chosen is None else shown.stance))
        blocked = self.wall.blockSignals(True)
        self.wall.setChecked(shown.against_wall)
        self.wall.blockSignals(blocked)
        self.room.show_text(f"{format_number(shown.ambient_c)} °C")
        self.back.setCurrentIndex(self.back.findData(shown.back))
        self.thick.show_text(format_length(shown.back_mm, self.bench.unit))
        self.sink.show_text("" if shown.sink_k_per_w is None else f"{format_number(shown.sink_k_per_w)} K/W")

        self.vents.show_text("" if shown.vent_mm2 is None else f"{format_number(shown.vent_mm2 / 100.0)} cm²")
        self.form.show_row(self.vents, shown=family_of(self.bench.design).body_kind in VENTED)

    def set_stale(self, *, stale: bool) -> None:
        """Dim the temperatures as long as they are not those of the design as it stands."""
        dim(self._found, dimmed=stale)

    def show_light(self, evaluation: Evaluation) -> None:
        """Show how warm it gets."""
        warmth = evaluation.warmth
        if warmth is None:
            self._found.setText("")
            return
        words = tr("{watts} W of heat: LEDs {leds} °C, back outside {back} °C, air inside {air} °C, lid {lid} °C")
        self._found.setText(
            words.format(
                watts=format_number(warmth.watts),
                leds=f"{warmth.worst.solder_c:.0f}",
                back=f"{warmth.hottest.back_outside_c:.0f}",
                air=f"{warmth.hottest.inside_c:.0f}",
                lid=f"{warmth.hottest.lid_c:.0f}",
            )
        )


def _read_area(text: str) -> float:
    """Read an area in cm²; nothing typed means that there are no openings, 0."""
    return parse_number(text, "cm²") if text.strip() else 0.0


def _read_sink(text: str) -> float:
    """Read the figure of a heat sink; nothing typed means that there is none, 0."""
    return parse_number(text, "K/W") if text.strip() else 0.0
