"""The drawing of a single cavity: its outlines from the front and from the side, its sizes as dimensions."""

from collections.abc import Sequence

import numpy as np

from gauze.core.design.cavity import (
    BaffledShape,
    BoxShape,
    CavityShape,
    ChannelShape,
    CornerShape,
    CupShape,
    FrustumShape,
    SphereShape,
    TubeShape,
    WallShape,
)
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.model import FloatArray
from gauze.core.layout.sketch import Edge, Handle, Measure, MovableItem, Outline, Sketch
from gauze.core.words import Text, say

MOST_THINGS = 400  # emitters that can be taken hold of: of more none could be told from its neighbours
_TOUCH_MM = 3.0  # half of what is taken hold of

Range = tuple[float, float, float, float]


def reach_of(points: FloatArray) -> Range:
    """Left, low, width and height of points (n, 2)."""
    low, size = points.min(axis=0), np.ptp(points, axis=0)
    return float(low[0]), float(low[1]), float(size[0]), float(size[1])


def emitter_things(places_mm: FloatArray, numbers: Sequence[int]) -> tuple[MovableItem, ...]:
    """Emitters that can be moved about the plan."""
    corner = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * _TOUCH_MM
    return tuple(
        MovableItem(
            "emitter",
            index,
            say("emitter {number}", number=numbers[index]),
            float(x),
            float(y),
            corner + np.array([x, y]),
        )
        for index, (x, y, _) in enumerate(places_mm.tolist())
    )


def cavity_sketch(
    shape: CavityShape,
    cavity: Cavity | BaffledBox,
    path: str,
    movable_items: tuple[MovableItem, ...] = (),
    *,
    typed: bool = True,
) -> Sketch:
    """Draw a cavity; ``path`` is that of its shape in the design, ``typed`` whether its sizes are inputs."""
    plan, cut = reach_of(cavity.plan), reach_of(cavity.section)
    outlines = [Outline("back", cavity.plan), *_partitions_in_plan(cavity)]
    sides = [Outline("body", cavity.section), *_partitions_in_cut(cavity)]
    sides += [Outline("lit", line, closed=False) for line in cavity.lit_lines]
    return Sketch(
        plan_mm=plan,
        cut_mm=cut,
        plan=tuple(outlines),
        cut=tuple(sides),
        measures=tuple(_measures(shape, path, plan, cut)) if typed else (),
        handles=tuple(_handles(shape, path, plan, cut)) if typed else (),
        movable_items=movable_items,
        cut_axis="y" if cavity.section_axis == "y" else "x",
    )


def rectangle(left: float, low: float, width: float, height: float) -> FloatArray:
    """Corners of an upright rectangle."""
    return np.array([[left, low], [left + width, low], [left + width, low + height], [left, low + height]])


def partition_spans(cells: int, pitch_mm: float, thick_mm: float, *, at_rim: bool) -> list[tuple[float, float]]:
    """From where partitions stand along a row of cells, and how thick each is: at the rim half of one."""
    half = thick_mm / 2
    inside = [(line * pitch_mm - half, thick_mm) for line in range(1, cells)]
    return [(0.0, half), *inside, (cells * pitch_mm - half, half)] if at_rim else inside


def _partitions_in_plan(cavity: Cavity | BaffledBox) -> list[Outline]:
    if not isinstance(cavity, BaffledBox):
        return []
    at_rim, thick = not cavity.open_rim, cavity.partition_mm
    along = partition_spans(cavity.columns, cavity.pitch_x_mm, thick, at_rim=at_rim)
    up = partition_spans(cavity.rows, cavity.pitch_y_mm, thick, at_rim=at_rim)
    found = [rectangle(start, 0.0, width, cavity.height_mm) for start, width in along]
    found += [rectangle(0.0, start, cavity.width_mm, width) for start, width in up]
    return [Outline("partition", corners) for corners in found]


def _partitions_in_cut(cavity: Cavity | BaffledBox) -> list[Outline]:
    if not isinstance(cavity, BaffledBox):
        return []
    spans = partition_spans(cavity.columns, cavity.pitch_x_mm, cavity.partition_mm, at_rim=not cavity.open_rim)
    tall = cavity.high_mm - cavity.low_mm
    return [Outline("partition", rectangle(start, cavity.low_mm, width, tall)) for start, width in spans]


_DEPTH = say("Depth")


def _measures(  # noqa: C901, PLR0911  one branch for each shape
    shape: CavityShape, path: str, plan: Range, cut: Range
) -> list[Measure]:
    """The sizes of a shape, each along the edge of the drawing that it is the size of."""

    def across(name: str, words: Text, value: float) -> Measure:
        return Measure(f"{path}.{name}", words, value, "plan", "above", plan[0], plan[0] + plan[2])

    def up(name: str, words: Text, value: float) -> Measure:
        return Measure(f"{path}.{name}", words, value, "plan", "left", plan[1], plan[1] + plan[3])

    def deep(value: float, name: str = "depth_mm", words: Text = _DEPTH) -> Measure:
        return Measure(f"{path}.{name}", words, value, "cut", "left", cut[1], cut[1] + value)

    middle = cut[0] + cut[2] / 2

    def wide(name: str, words: Text, value: float, edge: Edge) -> Measure:
        return Measure(f"{path}.{name}", words, value, "cut", edge, middle - value / 2, middle + value / 2)

    match shape:
        case BoxShape():
            return [
                across("width_mm", say("Width"), shape.width_mm),
                up("height_mm", say("Height"), shape.height_mm),
                deep(shape.depth_mm),
            ]
        case WallShape():
            return [
                across("width_mm", say("Width of the wall"), shape.width_mm),
                up("height_mm", say("Height of the wall"), shape.height_mm),
                deep(shape.reach_mm, "reach_mm", say("Reach in front")),
            ]
        case CornerShape():
            return [
                across("reach_mm", say("Reach along the walls"), shape.reach_mm),
                up("height_mm", say("Height"), shape.height_mm),
            ]
        case FrustumShape():
            return [
                wide("lid_mm", say("Lid width"), shape.lid_mm, "above"),
                wide("back_mm", say("Back width"), shape.back_mm, "below"),
                deep(shape.depth_mm),
            ]
        case CupShape():
            return [
                wide("front_mm", say("Front width"), shape.front_mm, "above"),
                wide("back_mm", say("Back width"), shape.back_mm, "below"),
                deep(shape.depth_mm),
            ]
        case SphereShape():
            found = [wide("diameter_mm", say("Diameter"), shape.diameter_mm, "above")]
            return found + ([wide("base_mm", say("Base width"), shape.base_mm, "below")] if shape.base_mm else [])
        case ChannelShape():
            return [
                across("length_mm", say("Length"), shape.length_mm),
                wide("width_mm", say("Width at the lens"), shape.width_mm, "above"),
                *([wide("bed_mm", say("Bed width"), shape.bed_mm, "below")] if shape.section == "v" else []),
                deep(shape.depth_mm),
            ]
        case TubeShape():
            found = [
                across("length_mm", say("Length"), shape.length_mm),
                wide("diameter_mm", say("Diameter"), shape.diameter_mm, "above"),
            ]
            return found + (
                [deep(shape.bed_height_mm, "bed_height_mm", say("Bed height"))] if shape.bed_height_mm else []
            )
        case BaffledShape():
            return _cell_measures(shape, path, plan, cut)
        case _:
            return [deep(shape.depth_mm)]


def _cell_measures(shape: BaffledShape, path: str, plan: Range, cut: Range) -> list[Measure]:
    top = shape.gap_below_mm + shape.partition_height_mm
    found = [
        Measure(f"{path}.pitch_x_mm", say("Cell width"), shape.pitch_x_mm, "plan", "above", plan[0], shape.pitch_x_mm),
        Measure(f"{path}.pitch_y_mm", say("Cell height"), shape.pitch_y_mm, "plan", "left", plan[1], shape.pitch_y_mm),
        Measure(f"{path}.depth_mm", say("Depth"), shape.depth_mm, "cut", "left", cut[1], cut[1] + shape.depth_mm),
        Measure(
            f"{path}.partition_height_mm",
            say("Partition height"),
            shape.partition_height_mm,
            "cut",
            "right",
            shape.gap_below_mm,
            top,
        ),
    ]
    if shape.gap_below_mm:
        found.append(
            Measure(
                f"{path}.gap_below_mm",
                say("Gap below the partitions"),
                shape.gap_below_mm,
                "cut",
                "right",
                0.0,
                shape.gap_below_mm,
                tier=1,
            )
        )
    return found


def _handles(shape: CavityShape, path: str, plan: Range, cut: Range) -> list[Handle]:
    """What can be dragged: right and upper rim in the plan, the lid in the side cut."""
    left, low, width, height = plan
    found = []
    for name, gain in (("width_mm", 1.0), ("length_mm", 1.0)):
        if hasattr(shape, name) and not (name == "width_mm" and isinstance(shape, ChannelShape)):
            found.append(
                Handle(
                    f"{path}.{name}",
                    name.removesuffix("_mm"),
                    "plan",
                    (left + width, low),
                    (left + width, low + height),
                    (1.0, 0.0),
                    float(getattr(shape, name)),
                    gain,
                )
            )
    if hasattr(shape, "height_mm"):
        found.append(
            Handle(
                f"{path}.height_mm",
                "height",
                "plan",
                (left, low + height),
                (left + width, low + height),
                (0.0, 1.0),
                float(shape.height_mm),
            )
        )
    depth = "reach_mm" if isinstance(shape, WallShape) else "depth_mm"
    if hasattr(shape, depth):
        top = cut[1] + float(getattr(shape, depth))
        found.append(
            Handle(
                f"{path}.{depth}",
                say("depth"),
                "cut",
                (cut[0], top),
                (cut[0] + cut[2], top),
                (0.0, 1.0),
                float(getattr(shape, depth)),
            )
        )
    return found
