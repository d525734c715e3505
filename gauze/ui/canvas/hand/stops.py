"""The keyboard's way through the drawing: dimensions, handles, seam, cut and magnified part, things; and what arrows do there."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from gauze.core.layout.sketch import Handle, MovableItem, Sketch
from gauze.core.units import LengthUnit
from gauze.core.units.length import MM_PER_INCH
from gauze.ui.canvas.dimensions import Dimension
from gauze.ui.canvas.hand.hold import Line, with_line
from gauze.ui.canvas.sheet import Sheet
from gauze.ui.text import spoken, tr

if TYPE_CHECKING:
    from gauze.ui.canvas.drawing import Drawing

Stop = Dimension | Handle | MovableItem | Line
_MOST_THINGS = 60  # that Tab visits: beyond that it would never get through
_LINE_STEP = 0.02  # of seam, cut and detail for one press of an arrow key


def stops_of(dimensions: Sequence[Dimension], sketch: Sketch, sheet: Sheet, *, has_seam: bool) -> list[Stop]:
    """Return everything that Tab visits, in order."""
    handles = [one for one in sketch.handles if one.visited and sheet.shows("cut" if one.where == "cut" else "plan")]
    lines: list[Line] = []
    if has_seam and sheet.shows("face"):
        lines.append("seam")
    if sheet.shows("face"):
        lines.append("cut")
    if sheet.detail is not None:
        lines.append("detail")
    movable_items = sketch.movable_items[:_MOST_THINGS] if sheet.shows("plan") else ()
    return [*dimensions, *handles, *lines, *movable_items]


def tell_stop(stop: Stop) -> str:
    """Say in words where the keyboard stands and what it can do there."""
    if isinstance(stop, Dimension):
        return tr("{name}, {value}: Enter to type").format(name=stop.name, value=stop.text)
    if isinstance(stop, str):
        names = {"seam": tr("Seam"), "cut": tr("Line of the cut"), "detail": tr("Magnified part")}
        name = names[stop]
    else:
        name = spoken(stop.name)
        name = name[0].upper() + name[1:]
    return tr("{name}: arrow keys to move, Shift for ten times as far").format(name=name)


def nudge(
    drawing: Drawing, stop: Handle | MovableItem | Line, arrow: tuple[int, int], times: int, unit: LengthUnit
) -> None:
    """Move what the keyboard stands on by one step of an arrow key, or by more."""
    right, up = arrow
    step = times * (MM_PER_INCH / 16 if unit is LengthUnit.INCH else 1.0)
    if isinstance(stop, str):
        way = up if stop == "cut" else right
        share: float = getattr(drawing.state, f"{stop}_share") + _LINE_STEP * times * way
        drawing.set_state(with_line(drawing.state, stop, min(max(share, 0.0), 1.0)))
    elif isinstance(stop, Handle):
        value = stop.value + (right + up) * step * stop.gain
        drawing.dragged.emit(stop, min(max(value, stop.least), stop.most), f"nudge {stop.field} {stop.name}")
    else:
        drawing.moved.emit(stop, right * step, up * step, f"nudge {stop.kind} {stop.index}")
        drawing.let_go.emit()
