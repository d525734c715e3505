"""The drawing of a channel bar: bars or mitred sides from the front, the profile in section."""

import math

import numpy as np

from gauze.core.design.channel_bar import Bar, ChannelBar, Frame, bed_width_mm, most_side_by_side, path_of
from gauze.core.layout.built import Instance
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.cavity_sketch import reach_of, rectangle
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import StripPiece, strip_outline
from gauze.core.layout.placing import in_plan
from gauze.core.layout.sketch import Choice, Entry, Handle, Measure, MovableItem, Outline, Sketch, Together
from gauze.core.materials import Catalogue
from gauze.core.words import Fixed, Joined, Length, Text, say

_MOST_MEASURED = 8  # bars with dimensions of their own
_CORNER_MM = 6.0  # half of what is taken hold of


def channel_sketch(
    build: ChannelBar,
    catalogue: Catalogue,
    instances: tuple[Instance, ...],
    cavities: tuple[CavityLayout, ...],
    strips: tuple[StripPiece, ...],
    length_mm: float,
) -> Sketch:
    """Draw the whole; ``length_mm`` is that of straight bars end to end."""
    bodies = [_body(build, instance, cavities[instance.cavity]) for instance in instances]
    points = np.concatenate(bodies)
    reach = reach_of(points)
    section, lit = _section(cavities[0])
    strip = strips[0].strip
    plan = [Outline("body", corners) for corners in bodies]
    plan += [strip_outline(piece) for piece in strips]
    cut = [Outline("part", _outer(build, section)), Outline("body", section)]
    cut += [Outline("lit", line, closed=False) for line in lit]
    cut += [Outline("strip", line, closed=False) for line in _strips_in_cut(build, strips[0])]
    half = build.width_mm / 2.0
    measures = [
        *_measures_along(build, instances, reach),
        Measure("build.width_mm", say("Inner width"), build.width_mm, "cut", "above", -half, half),
        Measure("build.depth_mm", say("Depth, bed to lens"), build.depth_mm, "cut", "left", 0.0, build.depth_mm),
    ]
    if build.lens_rise_mm:
        top = build.depth_mm + build.lens_rise_mm
        measures.append(
            Measure("build.lens_rise_mm", say("Lens rise"), build.lens_rise_mm, "cut", "right", build.depth_mm, top)
        )
    if build.section == "v":
        bed = build.bed_mm
        measures.append(Measure("build.bed_mm", say("Bed width"), bed, "cut", "below", -bed / 2.0, bed / 2.0))
    return Sketch(
        plan_mm=reach,
        cut_mm=reach_of(np.concatenate([_outer(build, section), *lit])),
        plan=tuple(plan),
        cut=tuple(cut),
        measures=tuple(measures),
        handles=tuple(_handles(build, instances, reach, strip.segment_mm)),
        movable_items=tuple(_movable_items(build)),
        choices=tuple(_choices(build, catalogue)),
        notes=tuple(_notes(build, catalogue, strips, length_mm)),
        seam=True,
        cut_axis="y",
    )


def _section(cavity: CavityLayout) -> tuple[FloatArray, tuple[FloatArray, ...]]:
    assert isinstance(cavity.surface, Cavity)
    return cavity.surface.section, cavity.surface.lit_lines


def _body(build: ChannelBar, instance: Instance, cavity: CavityLayout) -> FloatArray:
    """Outline of a bar or side in the plan, its profile's walls with it."""
    half = build.outer_width_mm / 2.0
    if instance.clip_mm is None:
        length = float(np.ptp(cavity.surface.plan[:, 0]))
        return in_plan(instance, rectangle(0.0, -half, length, 2.0 * half))
    return in_plan(instance, instance.clip_mm)


def _outer(build: ChannelBar, section: FloatArray) -> FloatArray:
    """The profile's outside: a rectangle about the section."""
    wall = build.wall_mm
    low = section.min(axis=0)
    return rectangle(float(low[0]) - wall, float(low[1]) - wall, build.width_mm + 2 * wall, build.depth_mm + wall)


def _strips_in_cut(build: ChannelBar, piece: StripPiece) -> list[FloatArray]:
    width, height = piece.strip.width_mm, piece.start_mm[2] - piece.strip.emitter_height_mm / 2.0
    lanes = [(lane - (build.side_by_side - 1) / 2.0) * width for lane in range(build.side_by_side)]
    return [np.array([[lane - width / 2, height], [lane + width / 2, height]]) for lane in lanes]


def _measures_along(build: ChannelBar, instances: tuple[Instance, ...], reach: tuple[float, ...]) -> list[Measure]:
    if build.frame is not None:
        frame = build.frame
        size = say("Side") if frame.sized_by == "side" else say("Across the flats")
        middle = reach[0] + reach[2] / 2.0
        half = frame.size_mm / 2.0
        edge = say("{size}, outer edge", size=size) if frame.edge == "outer" else say("{size}, inner edge", size=size)
        return [
            Measure("build.frame.size_mm", edge, frame.size_mm, "plan", "below", middle - half, middle + half),
            Measure(
                "build.frame.sides",
                say("Sides"),
                frame.sides,
                "plan",
                "left",
                reach[1],
                reach[1] + reach[3],
                "count",
                say("sides"),
            ),
        ]
    if build.corners_mm:
        return []
    found: list[Measure] = []
    for index, (bar, instance) in enumerate(zip(build.bars, instances, strict=True)):
        if index >= _MOST_MEASURED:
            break
        name = say("Bar {index}", index=index + 1)
        end = instance.x_mm + bar.length_mm
        field = f"build.bars[{index}]"
        found.append(Measure(f"{field}.length_mm", name, bar.length_mm, "plan", "above", instance.x_mm, end))
        if index < len(build.bars) - 1:
            found.append(
                Measure(
                    f"{field}.gap_after_mm",
                    say("Gap after bar {index}", index=index + 1),
                    bar.gap_after_mm,
                    "plan",
                    "below",
                    end,
                    end + bar.gap_after_mm,
                )
            )
    return found


def _handles(
    build: ChannelBar, instances: tuple[Instance, ...], reach: tuple[float, ...], segment_mm: float
) -> list[Handle]:
    half = build.outer_width_mm / 2.0
    inner = build.width_mm / 2.0
    depth = build.depth_mm
    found = [
        Handle("build.depth_mm", say("the lens"), "cut", (-inner, depth), (inner, depth), (0.0, 1.0), depth),
        Handle(
            "build.width_mm",
            say("side of the channel"),
            "cut",
            (inner, 0.0),
            (inner, depth),
            (1.0, 0.0),
            build.width_mm,
            2.0,
        ),
    ]
    for index, (bar, instance) in enumerate(zip(build.bars, instances, strict=False)):
        end = instance.x_mm + bar.length_mm
        found.append(
            Handle(
                f"build.bars[{index}].length_mm",
                say("end of bar {index}", index=index + 1),
                "plan",
                (end, -half),
                (end, half),
                (1.0, 0.0),
                bar.length_mm,
                snap=(0.0, segment_mm),
            )
        )
    if build.frame is not None:
        right = reach[0] + reach[2]
        gain = 2.0 if build.frame.sized_by == "across_flats" else 2.0 * math.tan(math.pi / build.frame.sides)
        found.append(
            Handle(
                "build.frame.size_mm",
                say("edge of the frame"),
                "plan",
                (right, reach[1] + 0.35 * reach[3]),
                (right, reach[1] + 0.65 * reach[3]),
                (1.0, 0.0),
                build.frame.size_mm,
                gain,
                _frame_snap(build, build.frame, segment_mm),
            )
        )
    return found


def _frame_snap(build: ChannelBar, frame: Frame, segment_mm: float) -> tuple[float, float]:
    """Sizes at which whole segments fit along the middle line of a side: the size of none, and how much each adds."""
    tangent = math.tan(math.pi / frame.sides)
    edge = 1.0 if frame.edge == "outer" else -1.0
    lost = (
        edge * build.outer_width_mm * tangent + 2.0 * build.corner_gap_mm
    )  # of a side, from its edge to its middle line
    return (lost, segment_mm) if frame.sized_by == "side" else (lost / tangent, segment_mm / tangent)


def _movable_items(build: ChannelBar) -> list[MovableItem]:
    """Corners of a free path, to be moved by hand."""
    if not build.corners_mm:
        return []
    corner = max(_CORNER_MM, build.outer_width_mm / 2.0)
    return [
        MovableItem(
            "corner",
            index,
            say("corner {number}", number=index + 1),
            x,
            y,
            rectangle(x - corner, y - corner, 2 * corner, 2 * corner),
        )
        for index, (x, y) in enumerate(build.corners_mm)
    ]


def _choices(build: ChannelBar, catalogue: Catalogue) -> list[Choice | Entry]:
    profiles: tuple[tuple[Together, Text], ...] = tuple(
        (
            Together(
                tuple(
                    (f"build.{name}", getattr(profile, name))
                    for name in ("section", "width_mm", "depth_mm", "bed_mm", "lens_rise_mm", "wall_mm")
                )
            ),
            profile.name,
        )
        for profile in catalogue.profiles.values()
    )
    present = Together(
        tuple(
            (f"build.{name}", getattr(build, name))
            for name in ("section", "width_mm", "depth_mm", "bed_mm", "lens_rise_mm", "wall_mm")
        )
    )
    if present not in [value for value, _ in profiles]:
        profiles = ((present, say("own sizes")), *profiles)
    found: list[Choice | Entry] = [
        Choice("build.section", say("Profile"), present, profiles),
        Entry("build.side_by_side", say("Strips side by side"), build.side_by_side, "count"),
        Choice("build", say("Shape"), _shape_of(build), _shapes(build)),
    ]
    if build.bars:
        found.append(Entry("build.bars", say("Bars end to end"), len(build.bars), "count"))
        for index, bar in enumerate(build.bars[:_MOST_MEASURED]):
            found.append(
                Entry(f"build.bars[{index}].zone", say("Zone of bar {index}", index=index + 1), bar.zone, "count")
            )
        zones = sorted({bar.zone for bar in build.bars})
        if len(zones) > 1:
            options = (((), say("all on")), *(((zone,), say("zone {zone} off", zone=zone)) for zone in zones))
            found.append(Choice("build.dark_zones", say("Switched"), build.dark_zones, options))
    else:
        found.append(Entry("build.corner_gap_mm", say("Strip stops before a corner by"), build.corner_gap_mm, "length"))
    if build.frame is not None:
        found += [
            Choice(
                "build.frame.sized_by",
                say("Sized by"),
                build.frame.sized_by,
                (("side", say("the side")), ("across_flats", say("across the flats"))),
            ),
            Choice(
                "build.frame.edge",
                say("Measured at the"),
                build.frame.edge,
                (("outer", say("outer edge")), ("inner", say("inner edge"))),
            ),
        ]
    if build.corners_mm:
        found.append(Choice("build.closed", say("Path"), build.closed, ((False, say("open")), (True, say("closed")))))
        found.append(Entry("build.corners_mm", say("Corners"), len(build.corners_mm), "count"))
    return found


def _shape_of(build: ChannelBar) -> str:
    return "bars" if build.bars else ("frame" if build.frame is not None else "path")


def _shapes(build: ChannelBar) -> tuple[tuple[object, Text], ...]:
    """The three shapes; the present one by its name, the others with what they start from."""
    points, _ = path_of(build)
    size = build.bars[0].length_mm if build.bars else (build.frame.size_mm if build.frame is not None else 400.0)
    if build.corners_mm:
        size = max(math.dist(points[0], points[1]), 8.0 * build.width_mm)
    starts = {
        "bars": (("build.bars", (Bar(length_mm=size),)), ("build.frame", None), ("build.corners_mm", ())),
        "frame": (
            ("build.bars", ()),
            ("build.frame", Frame(sides=6, size_mm=max(size, 6.0 * build.outer_width_mm))),
            ("build.corners_mm", ()),
        ),
        "path": (
            ("build.bars", ()),
            ("build.frame", None),
            ("build.corners_mm", ((0.0, 0.0), (size, 0.0), (size, 0.7 * size))),
            ("build.closed", False),
        ),
    }
    words = {"bars": say("straight bars"), "frame": say("closed frame"), "path": say("free path, mitred")}
    present = _shape_of(build)
    return tuple((key if key == present else Together(starts[key]), words[key]) for key in words)


def _notes(build: ChannelBar, catalogue: Catalogue, strips: tuple[StripPiece, ...], length_mm: float) -> list[Text]:
    strip = strips[0].strip
    bed = bed_width_mm(build)
    fitting = sorted({one.width_mm for one in catalogue.strips.values() if one.width_mm <= bed})
    widths = Joined.of([Length(width) for width in fitting])
    found: list[Text] = [
        say(
            "The bed takes strips of {widths}; of this one up to {most_side_by_side} side by side.",
            widths=widths,
            most_side_by_side=most_side_by_side(build, strip),
        )
        if fitting
        else say("No strip of the catalogue fits the bed.")
    ]
    if len({piece.zone for piece in strips}) > 1:
        for zone in sorted({piece.zone for piece in strips}):
            own = [piece for piece in strips if piece.zone == zone]
            metres = sum(piece.length_mm for piece in own) / 1000.0
            found.append(
                say(
                    "Zone {zone}: {metres} m of strip, {metres2} W by the label.",
                    zone=zone,
                    metres=Fixed(metres, ".2f"),
                    metres2=Fixed(metres * strip.power_w_per_m, ".1f"),
                )
            )
    if length_mm:
        found.append(say("{length} from end to end.", length=Length(length_mm)))
    return found
