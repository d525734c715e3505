"""The keyboard's way through the drawing: the dimensions, then lid, seam, cut and the outer row; no widgets."""

from collections.abc import Sequence

from gauze.ui.canvas.dimensions import Dimension, Grip
from gauze.ui.text import tr

Stop = Dimension | Grip


def tab_stops(dimensions: Sequence[Dimension], grips: Sequence[Grip]) -> list[Stop]:
    """Return everything that Tab visits, in order."""
    singles = {grip.kind: grip for grip in reversed(grips) if grip.kind != "row"}
    rows = [grip for grip in grips if grip.kind == "row"]
    order = [singles[kind] for kind in ("lid", "seam", "cut") if kind in singles]
    return [*dimensions, *order, *rows[-1:]]


def stop_name(stop: Stop) -> str:
    """Say in words where the keyboard stands and what it can do there."""
    if isinstance(stop, Dimension):
        return tr("{name}, {value}: Enter to type").format(name=stop.name, value=stop.text)
    names = {"lid": tr("Sheet"), "row": tr("Outer row"), "seam": tr("Seam"), "cut": tr("Line of the cut")}
    return tr("{name}: arrow keys to move, Shift for ten times as far").format(name=names[stop.kind])
