"""A convex cavity: its inner surface in pieces, in any of the shapes that builders use.

x runs to the right, y up as seen from the front, z from the back to the lid. Cavities stand on z = 0.
"""

import functools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.layout.families.tiles import Chart, FlatTile, Role, RoundTile, SphereTile, Tile
from gauze.core.layout.legs import Legs
from gauze.core.layout.model import BoolArray, FloatArray, IndexArray

_DRAWN_STEPS = 96  # along an arc of a drawing
_CAP_STEPS = 10  # corners that stand for a half circle at the ends of a tube or channel
_GAP_MM = 10.0  # between two faces drawn side by side
_NOTHING_MM = 1e-3  # a size below this is none: pieces of it would have no area to speak of

Point = tuple[float, float]


@dataclass(frozen=True)
class Reflectances:
    """Total reflectances of the three kinds of surface."""

    back: float
    wall: float
    lid: float

    def of(self, role: Role) -> float:
        """Return that of a role; an opening sends nothing back."""
        return {"back": self.back, "wall": self.wall, "lid": self.lid, "opening": 0.0}[role]


@dataclass(frozen=True)
class Outlook:
    """From where the lit face looks out, and which way is right and up for who stands before it."""

    origin_mm: tuple[float, float, float]
    right: tuple[float, float, float] = (1.0, 0.0, 0.0)
    up: tuple[float, float, float] = (0.0, 1.0, 0.0)

    def place(self, right_mm: FloatArray, up_mm: FloatArray, away_mm: FloatArray) -> FloatArray:
        """Point at distances to the right, up, and in front."""
        axes = np.array([self.right, self.up, np.cross(self.right, self.up)])
        return np.asarray(np.stack([right_mm, up_mm, away_mm], axis=-1) @ axes + np.array(self.origin_mm))


@dataclass(frozen=True)
class Cavity:
    """Pieces of a closed, convex inner surface.

    ``plan`` is the outline seen from the front, ``section`` the outline of the side cut (x or, where ``section_axis`` is
    "y", y against z); both are closed polygons, shape (n, 2). ``lit_lines`` are the parts of the side cut's outline that are
    looked at, open lines of the same kind. ``lit_from_inside`` says that the lit face is a wall that reflects, and no sheet.
    With ``legs`` it is not convex as a whole, but in each of these.
    """

    shape: str
    tiles: tuple[Tile, ...]
    reflectances: Reflectances
    plan: FloatArray
    section: FloatArray
    lit_lines: tuple[FloatArray, ...]
    outlook: Outlook
    section_axis: str = "x"
    lit_from_inside: bool = False
    legs: Legs | None = None

    @functools.cached_property
    def looked_at(self) -> BoolArray:
        """Which pieces are looked at: the lids, of a mitred cavity those of its own leg."""
        lids = np.array([tile.role == "lid" for tile in self.tiles])
        return lids if self.legs is None else lids & (self.legs.of_tiles == self.legs.own)

    @functools.cached_property
    def _planes(self) -> tuple[BoolArray, FloatArray, FloatArray]:
        """Which pieces are quadrilaterals, their normals (k, 3), and how far along these they lie."""
        flat = [tile for tile in self.tiles if isinstance(tile, FlatTile)]
        normals = np.array([tile.normal for tile in flat]).reshape(-1, 3)
        corners = np.array([tile.corners[0] for tile in flat]).reshape(-1, 3)
        which = np.array([isinstance(tile, FlatTile) for tile in self.tiles])
        return which, normals, (normals * corners).sum(axis=1)

    @property
    def lids(self) -> tuple[Tile, ...]:
        """The pieces that are looked at."""
        return tuple(tile for tile, seen in zip(self.tiles, self.looked_at, strict=True) if seen)

    def reflectance(self, tile: Tile) -> float:
        """Reflectance of a piece."""
        return self.reflectances.of(tile.role)

    def clearance_mm(self, places: FloatArray) -> FloatArray:
        """Least distance of places from the inner surface, negative outside; shape (n,)."""
        return np.asarray(self._in_legs(places).max(axis=0))

    def leg_of(self, places: FloatArray) -> IndexArray:
        """In which leg places stand, shape (n,): 0 for all if there is only one."""
        return np.asarray(self._in_legs(places).argmax(axis=0))

    def _in_legs(self, places: FloatArray) -> FloatArray:
        """Clearance of places in every leg, shape (legs, n); the mitres bound them too, but nothing is near to these."""
        clear = np.empty((len(self.tiles), len(places)))
        flat, normals, away_mm = self._planes
        clear[flat] = normals @ places.T - away_mm[:, None]
        for number, tile in enumerate(self.tiles):
            if not flat[number]:
                clear[number] = tile.clearance_mm(places)
        if self.legs is None:
            return np.asarray(clear.min(axis=0)[None])
        beyond = self.legs.mitres[:, :3] @ places.T - self.legs.mitres[:, 3, None]
        found = []
        for leg in range(self.legs.count):
            own = clear[self.legs.of_tiles == leg].min(axis=0)
            for mitre, distance in enumerate(beyond):
                if leg in (mitre, mitre + 1):
                    own = np.where((distance < 0) == (leg == mitre), own, np.minimum(own, -np.abs(distance)))
            found.append(own)
        return np.array(found)


# -- upright bodies: what stands on a floor and carries a flat lid ------------------------------------------------------


def frustum(floor: FloatArray, lid: FloatArray, depth_mm: float) -> list[Tile]:
    """Body between a convex polygon on the floor and one of as many corners on the lid, both counter-clockwise.

    A prism has the same for both. Each wall is flat when the two polygons have parallel sides.
    """
    tiles: list[Tile] = [*_polygon("back", "back", floor, 0.0), *_polygon("lid", "lid", lid, depth_mm, upward=False)]
    count = len(floor)
    low, high = floor.tolist(), lid.tolist()
    for index in range(count):
        here, there = low[index], low[(index + 1) % count]
        upper = [[*high[number], depth_mm] for number in (index, (index + 1) % count)]
        along = [one - other for one, other in zip(here, there, strict=True)]
        right = tuple(one / math.hypot(*along) for one in (*along, 0.0))
        tiles.append(FlatTile(f"wall {index + 1}", "wall", np.array([[*there, 0.0], [*here, 0.0], *upper]), right))
    return tiles


def _polygon(name: str, role: Role, corners: FloatArray, z_mm: float, *, upward: bool = True) -> list[Tile]:
    """A level convex polygon as quadrilaterals; a rectangle stays one.

    ``upward`` is for a floor, whose normal looks up. A lid is seen from outside: its chart is x and y as they are.
    """

    def tile(quad: Sequence[FloatArray]) -> FlatTile:
        ordered = list(quad) if upward else [quad[0], quad[3], quad[2], quad[1]]
        placed = np.array([[*point, z_mm] for point in ordered])
        return FlatTile(name, role, placed, origin=(0.0, 0.0, z_mm), flip=not upward)

    if len(corners) == 4 and _is_rectangle(corners):
        return [tile(list(corners))]
    middle = corners.mean(axis=0)
    halves = (corners + np.roll(corners, -1, axis=0)) / 2.0
    return [tile([middle, halves[index - 1], corners[index], halves[index]]) for index in range(len(corners))]


def _is_rectangle(corners: FloatArray) -> bool:
    sides = np.roll(corners, -1, axis=0) - corners
    return bool(np.allclose(np.sum(sides * np.roll(sides, -1, axis=0), axis=1), 0.0, atol=1e-6))


def round_frustum(floor_radius_mm: float, lid_radius_mm: float, depth_mm: float) -> list[Tile]:
    """Cone between two discs about the z axis."""
    tiles: list[Tile] = []
    for angles in _quarters():
        disc = (angles, (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
        tiles.append(_round("back", "back", 0.0, (0.0, 0.0), (floor_radius_mm, 0.0), *disc, looks_in=1))
        tiles.append(_round("lid", "lid", depth_mm, (0.0, 0.0), (lid_radius_mm, 0.0), *disc, looks_in=-1))
        tiles.append(_round("wall", "wall", 0.0, (floor_radius_mm, 0.0), (lid_radius_mm, depth_mm), *disc, looks_in=1))
    return tiles


def _quarters() -> list[Point]:
    return [(index * math.pi / 2, (index + 1) * math.pi / 2) for index in range(4)]


def _round(
    name: str,
    role: Role,
    base_z_mm: float,
    start: Point,
    end: Point,
    angles: Point,
    e1: tuple[float, float, float],
    e2: tuple[float, float, float],
    *,
    looks_in: int,
) -> RoundTile:
    return RoundTile(name, role, (0.0, 0.0, base_z_mm), e1, e2, start, end, angles, looks_in)


# -- long bodies: a section drawn along x ---------------------------------------------------------------------------------


@dataclass(frozen=True)
class Side:
    """One piece of a section's outline, in (y, z): a straight line, or an arc about a centre (angles from +y, anticlockwise)."""

    role: Role
    start: Point
    end: Point
    centre: Point | None = None
    radius_mm: float = 0.0
    angles_rad: Point = (0.0, 0.0)

    def outline(self) -> FloatArray:
        """Points along it, without the last."""
        if self.centre is None:
            return np.array([self.start])
        steps = max(4, math.ceil(abs(self.angles_rad[1] - self.angles_rad[0]) / math.pi * _CAP_STEPS))
        angle = self.angles_rad[0] + np.arange(steps) / steps * (self.angles_rad[1] - self.angles_rad[0])
        middle = np.array(self.centre)
        return middle + self.radius_mm * np.stack([np.cos(angle), np.sin(angle)], axis=1)

    def drawn(self) -> FloatArray:
        """Points along it for a drawing, without the last: fine, and with the outermost of a round."""
        if self.centre is None:
            return np.array([self.start])
        first, last = self.angles_rad
        quarters = np.arange(math.ceil(first / (math.pi / 2)), math.floor(last / (math.pi / 2)) + 1) * math.pi / 2
        angle = np.union1d(np.linspace(first, last, _DRAWN_STEPS)[:-1], quarters[quarters < last])
        return np.array(self.centre) + self.radius_mm * np.stack([np.cos(angle), np.sin(angle)], axis=1)


def line(role: Role, start: Point, end: Point) -> Side:
    """Straight piece of a section."""
    return Side(role, start, end)


def arc(role: Role, centre: Point, radius_mm: float, angles_rad: Point) -> Side:
    """Round piece of a section."""
    ends = [(centre[0] + radius_mm * math.cos(a), centre[1] + radius_mm * math.sin(a)) for a in angles_rad]
    return Side(role, ends[0], ends[1], centre, radius_mm, angles_rad)


@dataclass(frozen=True)
class Ends:
    """How a long body ends: cut at an angle, by so many mm in x for each in y; closed by a wall, or open to what comes next."""

    slants: Point = (0.0, 0.0)
    closed: tuple[bool, bool] = (True, True)


def extruded(sides: Sequence[Side], length_mm: float, covered_mm: float = 0.0, ends: Ends = Ends()) -> list[Tile]:
    """Body whose section, counter-clockwise in (y, z), runs along x; its ends are walls, where nothing else is said.

    So much of each end is covered by a cap: lids are walls there.
    """
    tiles: list[Tile] = []
    v_mm = 0.0
    for side in reversed(sides):  # lids side by side in the chart, from low y to high
        chart = Chart()
        width_mm = side.radius_mm * abs(side.angles_rad[1] - side.angles_rad[0])
        if side.role == "lid":
            width_mm = width_mm or math.dist(side.start, side.end)
            chart = Chart(0.0, v_mm)
            v_mm += width_mm
        if side.role == "lid" and covered_mm > _NOTHING_MM:
            hidden = replace(side, role="wall")
            tiles.append(_along_x(hidden, (0.0, covered_mm), Chart()))
            tiles.append(_along_x(side, (covered_mm, length_mm - covered_mm), replace(chart, u_mm=covered_mm)))
            tiles.append(_along_x(hidden, (length_mm - covered_mm, length_mm), Chart()))
        else:
            tiles.append(_along_x(side, (0.0, length_mm), chart, ends.slants))
    outline = np.concatenate([side.outline() for side in sides])
    return tiles + _caps(outline, length_mm, ends.closed)


def _along_x(side: Side, reach_mm: tuple[float, float], chart: Chart, slants: Point = (0.0, 0.0)) -> Tile:
    (x0, x1), (k0, k1) = reach_mm, slants
    if side.centre is None:
        (y0, z0), (y1, z1) = side.start, side.end
        corners = np.array(
            [[x0 + k0 * y0, y0, z0], [x1 + k1 * y0, y0, z0], [x1 + k1 * y1, y1, z1], [x0 + k0 * y1, y1, z1]]
        )
        return FlatTile(side.role, side.role, corners, origin=(x0, y1, z1), chart=chart, flip=True)
    first, last = side.angles_rad
    upright = Chart(chart.u_mm, chart.v_mm - side.radius_mm * (math.pi / 2 - last))  # v rises as the angle falls
    return RoundTile(
        side.role,
        side.role,
        (0.0, *side.centre),
        (0.0, 1.0, 0.0),
        (0.0, 0.0, 1.0),
        (side.radius_mm, x0),
        (side.radius_mm, x1),
        (first, last),
        chart=upright,
        slants=slants,
    )


def _caps(outline: FloatArray, length_mm: float, closed: tuple[bool, bool]) -> list[Tile]:
    middle = outline.mean(axis=0)
    halves = (outline + np.roll(outline, -1, axis=0)) / 2.0
    tiles: list[Tile] = []
    for x_mm, order, there in ((0.0, (0, 1, 2, 3), closed[0]), (length_mm, (0, 3, 2, 1), closed[1])):
        for index in range(len(outline)) if there else ():
            quad = [middle, halves[index - 1], outline[index], halves[index]]
            placed = np.array([[x_mm, *quad[i]] for i in order])
            tiles.append(FlatTile("end", "wall", placed, right=(0.0, 1.0, 0.0)))
    return tiles


# -- shells --------------------------------------------------------------------------------------------------------------


def sphere(radius_mm: float, base_radius_mm: float) -> list[Tile]:
    """Shell around a flat base on z = 0; a base of radius 0 is left out."""
    height_mm = math.sqrt(max(radius_mm**2 - base_radius_mm**2, 0.0))
    last = math.pi - math.asin(min(base_radius_mm / radius_mm, 1.0))
    tiles: list[Tile] = [
        SphereTile("shell", "lid", (0.0, 0.0, height_mm), radius_mm, (0.0, last), angles) for angles in _quarters()
    ]
    if base_radius_mm > _NOTHING_MM:
        for angles in _quarters():
            x, y = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)
            tiles.append(_round("back", "back", 0.0, (0.0, 0.0), (base_radius_mm, 0.0), angles, x, y, looks_in=1))
    return tiles


def cup(base_radius_mm: float, rim_radius_mm: float, depth_mm: float) -> list[Tile]:
    """Shell of a cone and a flat front over a round base; the front is drawn in the middle, the cone unrolled beside it."""
    tiles: list[Tile] = []
    for index, angles in enumerate(_quarters()):
        x, y = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)
        tiles.append(_round("back", "back", 0.0, (0.0, 0.0), (base_radius_mm, 0.0), angles, x, y, looks_in=1))
        tiles.append(_round("front", "lid", depth_mm, (0.0, 0.0), (rim_radius_mm, 0.0), angles, x, y, looks_in=-1))
        tiles.append(
            RoundTile(
                f"side {index + 1}",
                "lid",
                (0.0, 0.0, 0.0),
                x,
                y,
                (base_radius_mm, 0.0),
                (rim_radius_mm, depth_mm),
                angles,
                chart=Chart(rim_radius_mm + _GAP_MM, math.pi * (base_radius_mm + rim_radius_mm) / 2),
            )
        )
    return tiles
