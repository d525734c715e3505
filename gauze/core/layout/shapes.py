"""The surface of every shape of cavity, from a builder's choices."""

import math

import numpy as np

from gauze.core.design.cavity import (
    BaffledShape,
    BoxShape,
    CavityShape,
    ChannelShape,
    CornerShape,
    CupShape,
    FrustumShape,
    MitredChannelShape,
    PrismShape,
    SphereShape,
    TubeShape,
    WallShape,
    bed_angle_deg,
)
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import (
    Cavity,
    Outlook,
    Reflectances,
    Side,
    arc,
    cup,
    extruded,
    frustum,
    line,
    round_frustum,
    sphere,
)
from gauze.core.layout.families.tiles import Chart, FlatTile, Role, Tile
from gauze.core.layout.mitred import mitred_channel
from gauze.core.layout.model import FloatArray


def surface_of(shape: CavityShape, reflectances: Reflectances) -> Cavity | BaffledBox:
    """Build the surface of a shape."""
    if isinstance(shape, BaffledShape):
        return BaffledBox.of(shape, reflectances)
    if isinstance(shape, MitredChannelShape):
        return mitred_channel(shape, reflectances, channel_sides(shape))
    return _convex(shape, reflectances)


def _convex(shape: CavityShape, reflectances: Reflectances) -> Cavity:  # noqa: PLR0911  one for each shape
    match shape:
        case BoxShape():
            floor = _rectangle(shape.width_mm, shape.height_mm)
            return _upright("box", frustum(floor, floor, shape.depth_mm), reflectances, floor, floor, shape.depth_mm)
        case PrismShape():
            floor = _counter_clockwise(np.array(shape.corners_mm, dtype=float))
            return _upright("prism", frustum(floor, floor, shape.depth_mm), reflectances, floor, floor, shape.depth_mm)
        case FrustumShape():
            return _funnel(shape, reflectances)
        case CupShape():
            floor, lid = (regular(48, radius) for radius in (shape.back_mm / 2, shape.front_mm / 2))
            tiles = cup(shape.back_mm / 2, shape.front_mm / 2, shape.depth_mm)
            return _upright("cup", tiles, reflectances, floor, lid, shape.depth_mm, lit=(0, 3, 2, 1))
        case ChannelShape():
            return _long("channel", channel_sides(shape), shape.length_mm, reflectances)
        case TubeShape():
            return _long("tube", tube_sides(shape), shape.length_mm, reflectances, shape.covered_mm)
        case SphereShape():
            return _ball(shape, reflectances)
        case WallShape():
            return _open_wall(shape, reflectances)
        case CornerShape():
            return _open_corner(shape, reflectances)
        case _:
            raise TypeError(f"no surface for {type(shape).__name__}")


def _rectangle(width_mm: float, height_mm: float) -> FloatArray:
    return np.array([[0.0, 0.0], [width_mm, 0.0], [width_mm, height_mm], [0.0, height_mm]])


def _counter_clockwise(corners: FloatArray) -> FloatArray:
    following = np.roll(corners, -1, axis=0)
    area = (corners[:, 0] * following[:, 1] - corners[:, 1] * following[:, 0]).sum()
    return corners if area > 0 else np.asarray(corners[::-1])


def regular(sides: int, apothem_mm: float) -> FloatArray:
    """Regular polygon about the origin by its apothem, a flat side down."""
    angle = -np.pi / 2 + np.pi / sides + 2 * np.pi * np.arange(sides) / sides
    return np.asarray(apothem_mm / math.cos(math.pi / sides) * np.stack([np.cos(angle), np.sin(angle)], axis=1))


def _upright(
    name: str,
    tiles: list[Tile],
    reflectances: Reflectances,
    floor: FloatArray,
    lid: FloatArray,
    depth_mm: float,
    lit: tuple[int, ...] = (3, 2),
) -> Cavity:
    """Build what stands on a floor; ``lit`` are the corners of the section, from low left round, along which it is looked at."""
    section: FloatArray = np.array(
        [
            [floor[:, 0].min(), 0.0],
            [floor[:, 0].max(), 0.0],
            [lid[:, 0].max(), depth_mm],
            [lid[:, 0].min(), depth_mm],
        ]
    )
    middle = (lid.min(axis=0) + lid.max(axis=0)) / 2
    plan = lid if np.ptp(lid, axis=0).prod() >= np.ptp(floor, axis=0).prod() else floor
    outlook = Outlook((float(middle[0]), float(middle[1]), depth_mm))
    return Cavity(name, tuple(tiles), reflectances, plan, section, (section[list(lit)],), outlook)


def _funnel(shape: FrustumShape, reflectances: Reflectances) -> Cavity:
    radii = (shape.back_mm / 2, shape.lid_mm / 2)
    if shape.sides == 0:
        floor, lid = (regular(48, radius) for radius in radii)
        return _upright("frustum", round_frustum(*radii, shape.depth_mm), reflectances, floor, lid, shape.depth_mm)
    floor, lid = (regular(shape.sides, radius) for radius in radii)
    return _upright("frustum", frustum(floor, lid, shape.depth_mm), reflectances, floor, lid, shape.depth_mm)


def _long(
    name: str, sides: list[Side], length_mm: float, reflectances: Reflectances, covered_mm: float = 0.0
) -> Cavity:
    section = np.concatenate([side.drawn() for side in sides])
    low, high = section[:, 0].min(), section[:, 0].max()
    plan = np.array([[0.0, low], [length_mm, low], [length_mm, high], [0.0, high]])
    outlook = Outlook((length_mm / 2, float(low + high) / 2, float(section[:, 1].max())))
    lit = tuple(np.vstack([side.drawn(), side.end]) for side in sides if side.role == "lid")
    tiles = tuple(extruded(sides, length_mm, covered_mm))
    return Cavity(name, tiles, reflectances, plan, section, lit, outlook, section_axis="y")


def channel_sides(shape: ChannelShape) -> list[Side]:
    """Section of a channel in (y, z), counter-clockwise from the right end of the bed."""
    half, depth = shape.width_mm / 2, shape.depth_mm
    right, left = (half, depth), (-half, depth)
    lens = _lens(shape, left, right)
    if shape.section == "half_round":
        return [arc("back", (0.0, depth), half, (math.pi, 2 * math.pi)), lens]
    if shape.section == "u":
        return [
            line("wall", left, (-half, half)),
            arc("back", (0.0, half), half, (math.pi, 2 * math.pi)),
            line("wall", (half, half), right),
            lens,
        ]
    bed = half if shape.section == "rectangle" else shape.bed_mm / 2
    return [
        line("back", (-bed, 0.0), (bed, 0.0)),
        line("wall", (bed, 0.0), right),
        lens,
        line("wall", left, (-bed, 0.0)),
    ]


def _lens(shape: ChannelShape, left: tuple[float, float], right: tuple[float, float]) -> Side:
    rise, half = shape.lens_rise_mm, shape.width_mm / 2
    if rise <= 0:
        return line("lid", right, left)
    radius = (half**2 + rise**2) / (2 * rise)
    opening = math.asin(min(half / radius, 1.0))
    return arc("lid", (0.0, shape.depth_mm + rise - radius), radius, (math.pi / 2 - opening, math.pi / 2 + opening))


def tube_sides(shape: TubeShape) -> list[Side]:
    """Section of a tube in (y, z): the lit arc about the top, the opaque rest, the bed if there is one."""
    radius = shape.diameter_mm / 2
    bed = math.radians(bed_angle_deg(shape)) if shape.bed_height_mm > 1e-3 else 0.0
    lit = min(math.radians(shape.lit_deg), 2 * math.pi - bed)
    top, bottom, centre = math.pi / 2, 1.5 * math.pi, (0.0, radius)
    opaque = (2 * math.pi - bed - lit) / 2
    sides = [arc("lid", centre, radius, (top - lit / 2, top + lit / 2))]
    if opaque > 1e-6:
        role: Role = "wall" if bed else "back"
        sides.append(arc(role, centre, radius, (bottom - bed / 2 - opaque, bottom - bed / 2)))
        rest = arc(role, centre, radius, (bottom + bed / 2 - 2 * math.pi, bottom + bed / 2 + opaque - 2 * math.pi))
        sides.insert(0, rest)
    if bed:
        half, height = radius * math.sin(bed / 2), shape.bed_height_mm
        sides.insert(0, line("back", (-half, height), (half, height)))
    return sides


def _ball(shape: SphereShape, reflectances: Reflectances) -> Cavity:
    radius = shape.diameter_mm / 2
    tiles = sphere(radius, shape.base_mm / 2)
    height = math.sqrt(radius**2 - (shape.base_mm / 2) ** 2)
    outlook = Outlook((0.0, 0.0, height + radius))
    base = math.asin(shape.base_mm / shape.diameter_mm)
    shell = arc("lid", (0.0, height), radius, (base - math.pi / 2, 1.5 * math.pi - base))
    section = np.vstack([shell.drawn(), shell.end])
    return Cavity("sphere", tuple(tiles), reflectances, regular(48, radius), section, (section,), outlook)


def _open_wall(shape: WallShape, reflectances: Reflectances) -> Cavity:
    floor = _rectangle(shape.width_mm, shape.height_mm)
    tiles: list[Tile] = [_washed("wall", [[*point, 0.0] for point in floor], (1.0, 0.0, 0.0), (0.0, 0.0, 0.0))]
    tiles += _openings(frustum(floor, floor, shape.reach_mm), skipped=("back",))
    section = _rectangle(shape.width_mm, shape.reach_mm)
    outlook = Outlook((shape.width_mm / 2, shape.height_mm / 2, 0.0))
    lit = (section[[0, 1]],)
    return Cavity("open_wall", tuple(tiles), reflectances, floor, section, lit, outlook, lit_from_inside=True)


def _open_corner(shape: CornerShape, reflectances: Reflectances) -> Cavity:
    reach, height = shape.reach_mm, shape.height_mm
    floor = _rectangle(reach, height)
    tiles: list[Tile] = [
        _washed("right wall", [[*point, 0.0] for point in floor], (1.0, 0.0, 0.0), (0.0, 0.0, 0.0)),
        _washed(
            "left wall",
            [[0.0, 0.0, 0.0], [0.0, height, 0.0], [0.0, height, reach], [0.0, 0.0, reach]],
            (0.0, 0.0, -1.0),
            (0.0, 0.0, 0.0),
        ),
    ]
    tiles += _openings(frustum(floor, floor, reach), skipped=("back", "wall 4"))
    half = math.sqrt(0.5)
    outlook = Outlook((reach / 4, height / 2, reach / 4), (half, 0.0, -half), (0.0, 1.0, 0.0))
    section = _rectangle(reach, reach)
    lit = (section[[3, 0, 1]],)
    return Cavity("open_corner", tuple(tiles), reflectances, floor, section, lit, outlook, lit_from_inside=True)


def _washed(
    name: str, corners: list[list[float]], right: tuple[float, float, float], origin: tuple[float, float, float]
) -> Tile:
    return FlatTile(name, "lid", np.array(corners), right, origin, Chart())


def _openings(tiles: list[Tile], skipped: tuple[str, ...]) -> list[Tile]:
    opened: list[Tile] = []
    for tile in tiles:
        assert isinstance(tile, FlatTile)
        if tile.name not in skipped:
            opened.append(FlatTile("opening", "opening", tile.corners, tile.right))
    return opened
