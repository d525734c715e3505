"""Bodies by the shape that holds the light: backs, walls, sheets, funnels, tubes, shells, partitions."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.design.cavity import BaffledShape, CupShape, FrustumShape, SphereShape, TubeShape, bed_angle_deg
from gauze.core.design.strip_panel import finish_of
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import Vector
from gauze.core.layout.shapes import regular
from gauze.core.materials import Catalogue, Diffuser, Layer
from gauze.core.parts.model import BodyPart, Groove, Hole, Mark, Placement

FEED_HOLE_MM = 8.0  # lets a two-wire lead pass with its insulation; common practice, no source
_ROUND = 96
SIDES = ("bottom", "right", "top", "left")


@dataclass(frozen=True)
class Materials:
    """What the body of a build is made of: names of the finishes inside, and the diffuser's layers, the inner one first."""

    back: str
    walls: str
    layers: tuple[Diffuser, ...]


def materials_of(back: str | float, walls: str | float, layers: tuple[Layer, ...], catalogue: Catalogue) -> Materials:
    """Look up what was chosen."""
    sheets = catalogue.sheet(layers).layers if layers else ()
    return Materials(finish_of(back, catalogue).name, finish_of(walls, catalogue).name, sheets)


def rectangle(width_mm: float, height_mm: float) -> FloatArray:
    """Corners of a rectangle, its lower left one at the origin."""
    return np.array([[0.0, 0.0], [width_mm, 0.0], [width_mm, height_mm], [0.0, height_mm]])


def sheets(
    outline_mm: FloatArray, z_mm: float, layers: Sequence[Diffuser], places: tuple[str, ...] = (), prefix: str = ""
) -> list[BodyPart]:
    """Layers of a flat diffuser on each other, the inner one at a height."""
    found = []
    for number, layer in enumerate(layers, start=1):
        found.append(
            flat(
                f"{prefix}sheet-{number}",
                "diffuser",
                layer.name,
                outline_mm,
                z_mm,
                thickness_mm=layer.thickness_mm,
                material=layer.name,
                places=places,
            )
        )
        z_mm += layer.thickness_mm
    return found


def flat(
    id: str,  # noqa: A002 - as the field is called
    use: str,
    name: str,
    outline_mm: FloatArray,
    z_mm: float,
    *,
    thickness_mm: float | None = None,
    material: str = "",
    holes: tuple[Hole, ...] = (),
    grooves: tuple[Groove, ...] = (),
    marks: tuple[Mark, ...] = (),
    places: tuple[str, ...] = (),
) -> BodyPart:
    """A level sheet of some outline at a height."""
    wide, high = np.ptp(outline_mm, axis=0)
    return BodyPart(
        id=id,
        kind="sheet",
        use=use,  # type: ignore[arg-type]  # one of those that are written in this package
        name=name,
        length_mm=float(wide),
        width_mm=float(high),
        thickness_mm=thickness_mm,
        material=material,
        outline_mm=outline_mm,
        placement=Placement((0.0, 0.0, z_mm)),
        holes=holes,
        grooves=grooves,
        marks=marks,
        places=places,
    )


def walls_about(
    floor_mm: FloatArray,
    depth_mm: float,
    material: str,
    *,
    thickness_mm: float | None = None,
    holes: Sequence[tuple[Hole, ...]] = (),
    places: tuple[str, ...] = (),
    prefix: str = "",
) -> list[BodyPart]:
    """Upright walls round a convex polygon, counter-clockwise, of their inner faces.

    Of a rectangle they meet square, the upper and the lower one between the other two (common practice, no source); else each
    end is cut at half of the turn. With a thickness the length is that of the outer edge.
    """
    count = len(floor_mm)
    following = np.roll(floor_mm, -1, axis=0)
    angle = np.degrees(np.arctan2(*(following - floor_mm).T[::-1]))
    turn = (angle - np.roll(angle, 1) + 180.0) % 360.0 - 180.0  # at the start of each wall
    square = count == 4 and bool(np.allclose(turn, 90.0, atol=1e-6))
    found = []
    for index in range(count):
        start, end = floor_mm[index], following[index]
        inner_mm = float(np.hypot(*(end - start)))
        cuts = (0.0, 0.0) if square else (turn[index] / 2.0, turn[(index + 1) % count] / 2.0)
        over_mm = (thickness_mm or 0.0) * sum(math.tan(math.radians(cut)) for cut in cuts)
        if square and index % 2:  # the right and the left one run past the ends of the others
            over_mm = 2.0 * (thickness_mm or 0.0)
        along = (end - start) / inner_mm
        name = f"{prefix}wall-{SIDES[index] if square else index + 1}"
        found.append(
            BodyPart(
                id=name,
                kind="member",
                use="wall",
                name="Wall",
                length_mm=inner_mm + over_mm,
                width_mm=depth_mm,
                thickness_mm=thickness_mm,
                material=material,
                start_cut_deg=float(cuts[0]),
                end_cut_deg=float(cuts[1]),
                placement=Placement(
                    (float(start[0]), float(start[1]), 0.0),
                    (float(along[0]), float(along[1]), 0.0),
                    (-float(along[1]), float(along[0]), 0.0),
                ),
                holes=holes[index] if holes else (),
                places=places,
            )
        )
    return found


def box_body(
    width_mm: float,
    height_mm: float,
    depth_mm: float,
    materials: Materials,
    *,
    holes: tuple[Hole, ...] = (),
    marks: tuple[Mark, ...] = (),
) -> list[BodyPart]:
    """Back, four walls and diffuser of a rectangular body, by its inner sizes."""
    outline = rectangle(width_mm, height_mm)
    back = flat("back", "back", "Back", outline, 0.0, material=materials.back, holes=holes, marks=marks)
    return [back, *walls_about(outline, depth_mm, materials.walls), *sheets(outline, depth_mm, materials.layers)]


def partition_grid(shape: BaffledShape, material: str) -> list[BodyPart]:
    """Partitions between cells, halved into each other where they cross: those across x cut from below, the others from above."""
    wide, high = shape.columns * shape.pitch_x_mm, shape.rows * shape.pitch_y_mm
    tall, thick, low = shape.partition_height_mm, shape.partition_mm, shape.gap_below_mm
    found = []
    for column in range(1, shape.columns):
        laps = tuple(
            Groove(f"lap-{row}", "half_lap", (row * shape.pitch_y_mm, 0.0), (row * shape.pitch_y_mm, tall / 2.0), thick)
            for row in range(1, shape.rows)
        )
        x = column * shape.pitch_x_mm
        placement = Placement((x, 0.0, low), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
        found.append(_partition(f"partition-column-{column}", "Partition across x", high, shape, laps, placement))
    for row in range(1, shape.rows):
        laps = tuple(
            Groove(
                f"lap-{column}",
                "half_lap",
                (column * shape.pitch_x_mm, tall / 2.0),
                (column * shape.pitch_x_mm, tall),
                thick,
            )
            for column in range(1, shape.columns)
        )
        placement = Placement((0.0, row * shape.pitch_y_mm, low), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
        found.append(_partition(f"partition-row-{row}", "Partition along x", wide, shape, laps, placement))
    return [replace(part, material=material) for part in found]


def _partition(
    id: str,  # noqa: A002 - as the field is called
    name: str,
    length_mm: float,
    shape: BaffledShape,
    grooves: tuple[Groove, ...],
    placement: Placement,
) -> BodyPart:
    return BodyPart(
        id=id,
        kind="partition",
        use="divider",
        name=name,
        length_mm=length_mm,
        width_mm=shape.partition_height_mm,
        thickness_mm=shape.partition_mm,
        outline_mm=rectangle(length_mm, shape.partition_height_mm),
        placement=placement,
        grooves=grooves,
    )


def funnel_body(shape: FrustumShape, materials: Materials, holes: tuple[Hole, ...] = ()) -> list[BodyPart]:
    """Bottom, funnel and front of a reflector: its facets, or of a round one the sheet that is rolled into it."""
    sides = shape.sides or _ROUND
    floor, mouth = regular(sides, shape.back_mm / 2.0), regular(sides, shape.lid_mm / 2.0)
    found = [flat("back", "back", "Bottom", floor, 0.0, material=materials.back, holes=holes)]
    if shape.sides == 0:
        outline = rolled_cone(shape.back_mm / 2.0, shape.lid_mm / 2.0, shape.depth_mm)
        found.append(_developed("funnel", "Funnel, rolled", outline, materials.walls))
    else:
        slant = math.hypot(shape.depth_mm, (shape.lid_mm - shape.back_mm) / 2.0)
        low, high = (size * math.tan(math.pi / sides) for size in (shape.back_mm, shape.lid_mm))
        outline = np.array([[-low / 2, 0.0], [low / 2, 0.0], [high / 2, slant], [-high / 2, slant]])
        found += [
            _developed(f"facet-{number}", "Facet", outline, materials.walls) for number in range(1, shape.sides + 1)
        ]
    return found + sheets(mouth, shape.depth_mm, materials.layers)


def _developed(id: str, name: str, outline_mm: FloatArray, material: str) -> BodyPart:  # noqa: A002 - the name that the field has
    wide, high = np.ptp(outline_mm, axis=0)
    return BodyPart(id, "sheet", "wall", name, float(wide), float(high), None, material, outline_mm)


def rolled_cone(start_radius_mm: float, end_radius_mm: float, depth_mm: float) -> FloatArray:
    """Outline of the flat sheet that is rolled into a frustum of a cone: a sector of a ring, about its apex.

    A frustum of radii r and R and slant s comes from a ring of radii rho = r s / (R - r) and rho + s over the angle
    2 pi (R - r) / s (development of a right circular cone, a handbook's formula). A cylinder is a rectangle.
    """
    slant = math.hypot(depth_mm, end_radius_mm - start_radius_mm)
    widening = end_radius_mm - start_radius_mm
    if abs(widening) < 1e-6 * slant:
        return rectangle(2.0 * math.pi * start_radius_mm, depth_mm)
    inner = min(start_radius_mm, end_radius_mm) * slant / abs(widening)
    half = math.pi * abs(widening) / slant
    angle = np.linspace(math.pi / 2 - half, math.pi / 2 + half, _ROUND + 1)
    ring = np.stack([np.cos(angle), np.sin(angle)], axis=1)
    return np.concatenate([inner * ring[::-1], (inner + slant) * ring])


def tube_body(shape: TubeShape, materials: Materials, thickness_mm: float | None = None) -> list[BodyPart]:
    """Tube, its caps with the hole of the lead, and the bed across it."""
    slit = shape.lit_deg < 360.0
    sleeve = materials.layers[0] if materials.layers else None
    found = [
        BodyPart(
            id="tube",
            kind="tube",
            use="housing" if slit else "diffuser",
            name=f"Opaque tube with a slit of {shape.lit_deg:g}°" if slit else "Tube",
            length_mm=shape.length_mm,
            width_mm=shape.diameter_mm,
            thickness_mm=thickness_mm if slit or sleeve is None else sleeve.thickness_mm,
            material=materials.walls if slit or sleeve is None else sleeve.name,
            placement=_along_x(),
        )
    ]
    over = materials.layers if slit else materials.layers[1:]
    for number, layer in enumerate(over, start=1):
        found.append(
            BodyPart(
                f"sleeve-{number}",
                "tube",
                "diffuser",
                f"Sleeve, {layer.name}",
                shape.length_mm,
                shape.diameter_mm,
                layer.thickness_mm,
                layer.name,
                placement=_along_x(),
            )
        )
    if shape.bed_height_mm > 0:
        chord = shape.diameter_mm * math.sin(math.radians(bed_angle_deg(shape) / 2.0))
        outline = rectangle(shape.length_mm, chord)
        place = Placement((0.0, -chord / 2.0, shape.bed_height_mm))
        found.append(
            BodyPart(
                "bed", "sheet", "carrier", "Bed", shape.length_mm, chord, None, materials.back, outline, placement=place
            )
        )
    disc = regular(_ROUND, shape.diameter_mm / 2.0)
    hole = (Hole("feed", "wire", 0.0, 0.0, min(FEED_HOLE_MM, shape.diameter_mm / 3.0)),)
    for end, x_mm in (("start", 0.0), ("end", shape.length_mm)):
        found.append(
            BodyPart(
                id=f"cap-{end}",
                kind="cap",
                use="cover",
                name=f"Cap at the {end}",
                length_mm=shape.diameter_mm,
                width_mm=shape.diameter_mm,
                thickness_mm=shape.covered_mm or None,
                outline_mm=disc,
                placement=Placement((x_mm, 0.0, shape.diameter_mm / 2.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)),
                holes=hole if end == "start" else (),
            )
        )
    return found


def _along_x() -> Placement:
    return Placement((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))


def shell_body(
    shape: SphereShape | CupShape, layers: Sequence[Diffuser], wall_mm: float | None, places: tuple[str, ...] = ()
) -> list[BodyPart]:
    """A ball or a cup: with a wall of its own, or of the sheet's thickness; further layers lie over it."""
    ball = isinstance(shape, SphereShape)
    wide = shape.diameter_mm if isinstance(shape, SphereShape) else max(shape.front_mm, shape.back_mm)
    radius = wide / 2.0
    if isinstance(shape, SphereShape):
        high = radius + math.sqrt(max(radius**2 - (shape.base_mm / 2.0) ** 2, 0.0))
    else:
        high = shape.depth_mm
    found = []
    for number, layer in enumerate(layers, start=1):
        thickness = wall_mm if number == 1 and wall_mm is not None else layer.thickness_mm
        found.append(
            BodyPart(
                id="shell" if number == 1 else f"shell-layer-{number}",
                kind="shell",
                use="diffuser",
                name=("Ball" if ball else "Cup") if number == 1 else f"Layer {number}",
                length_mm=wide,
                width_mm=high,
                thickness_mm=thickness,
                material=layer.name,
                places=places,
            )
        )
    return found


def mark_of(piece_id: str, start_mm: Vector, end_mm: Vector) -> Mark:
    """Return the line on a level back along which a piece of strip is laid."""
    return Mark(f"line-{piece_id}", piece_id, (start_mm[0], start_mm[1]), (end_mm[0], end_mm[1]))
