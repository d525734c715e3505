"""A side of a mitred frame with the sides beside it: legs in a row, each an extruded section cut off at its mitres."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from gauze.core.design.cavity import Leg, MitredChannelShape
from gauze.core.layout.cavity import Cavity, Ends, Outlook, Reflectances, Side, extruded
from gauze.core.layout.families.tiles import FlatTile, RoundTile, Tile
from gauze.core.layout.legs import Legs, bounding, same_number
from gauze.core.layout.model import FloatArray

_STEPS = 12  # tangents that stand for a half circle of a section where it bounds a mitre's opening


@dataclass(frozen=True)
class _Placed:
    """A leg: where its middle line starts, its direction, how long it is and how it ends."""

    start: FloatArray  # (2,)
    angle_rad: float
    length_mm: float
    ends: Ends

    @property
    def along(self) -> FloatArray:
        """Unit vector of its middle line."""
        along: FloatArray = np.array([math.cos(self.angle_rad), math.sin(self.angle_rad)])
        return along

    @property
    def end(self) -> FloatArray:
        """Where its middle line ends."""
        end: FloatArray = self.start + self.length_mm * self.along
        return end

    def turned(self, vector: FloatArray) -> FloatArray:
        """Bring vectors (..., 3) of the leg's own axes into those of the cavity."""
        cosine, sine = self.along.tolist()
        return np.asarray(vector @ np.array([[cosine, sine, 0.0], [-sine, cosine, 0.0], [0.0, 0.0, 1.0]]))

    def placed(self, points: FloatArray) -> FloatArray:
        """Bring places (..., 3) of the leg's own axes into those of the cavity."""
        place: FloatArray = self.turned(points) + np.array([*self.start, 0.0])
        return place


def mitred_channel(shape: MitredChannelShape, reflectances: Reflectances, sides: Sequence[Side]) -> Cavity:
    """Build the surface: the side itself runs from (0, 0) along x, between the legs before and after it."""
    legs = _legs(shape)
    own = 0 if shape.before is None else 1
    tiles: list[Tile] = []
    of_tiles: list[int] = []
    for number, leg in enumerate(legs):
        some = extruded(sides, leg.length_mm, ends=leg.ends)
        tiles += [_placed(tile, leg) for tile in some]
        of_tiles += [number] * len(some)
    section = np.concatenate([side.drawn() for side in sides])
    low, high = float(section[:, 0].min()), float(section[:, 0].max())
    first, last = legs[own].ends.slants
    far = shape.length_mm
    plan = [[first * low, low], [far + last * low, low], [far + last * high, high], [first * high, high]]
    return Cavity(
        "channel",
        tuple(tiles),
        reflectances,
        np.array(plan),
        section,
        tuple(np.vstack([side.drawn(), side.end]) for side in sides if side.role == "lid"),
        Outlook((far / 2, (low + high) / 2, float(section[:, 1].max()))),
        section_axis="y",
        legs=Legs(np.array(of_tiles), own, *_mitres(legs, sides)) if len(legs) > 1 else None,
    )


def _legs(shape: MitredChannelShape) -> list[_Placed]:
    before, after = shape.before, shape.after
    slants = _slant(before), -_slant(after)
    found = [_Placed(np.zeros(2), 0.0, shape.length_mm, Ends(slants, (before is None, after is None)))]
    if before is not None:
        angle = -math.radians(before.turn_deg)
        start = -before.length_mm * np.array([math.cos(angle), math.sin(angle)])
        found.insert(0, _Placed(start, angle, before.length_mm, Ends((0.0, -_slant(before)), (True, False))))
    if after is not None:
        start, angle = np.array([shape.length_mm, 0.0]), math.radians(after.turn_deg)
        found.append(_Placed(start, angle, after.length_mm, Ends((_slant(after), 0.0), (False, True))))
    return found


def _slant(leg: Leg | None) -> float:
    return 0.0 if leg is None else math.tan(math.radians(leg.turn_deg) / 2.0)


def _placed(tile: Tile, leg: _Placed) -> Tile:
    if isinstance(tile, FlatTile):
        right, origin = leg.turned(np.array(tile.right)), leg.placed(np.array(tile.origin))
        return replace(tile, corners=leg.placed(tile.corners), right=_triple(right), origin=_triple(origin))
    assert isinstance(tile, RoundTile)
    base, e1, e2 = leg.placed(np.array(tile.base)), leg.turned(np.array(tile.e1)), leg.turned(np.array(tile.e2))
    return replace(tile, base=_triple(base), e1=_triple(e1), e2=_triple(e2))


def _triple(vector: FloatArray) -> tuple[float, float, float]:
    return float(vector[0]), float(vector[1]), float(vector[2])


def _mitres(legs: list[_Placed], sides: Sequence[Side]) -> tuple[FloatArray, FloatArray]:
    """Planes of the mitres (m, 4), and what bounds the opening of each (m, w, 4)."""
    planes, walls = [], []
    section = np.concatenate([side.drawn() for side in sides])
    for leg, following in pairwise(legs):
        across = leg.along + following.along
        normal = np.array([*across / np.linalg.norm(across), 0.0])
        planes.append([*normal, float(normal[:2] @ leg.end)])
        corners = [
            np.column_stack([x_mm + slant * section[:, 0], section])
            for x_mm, slant in zip((0.0, following.length_mm), following.ends.slants, strict=True)
        ]
        walls.append(bounding(_walls(leg, sides), following.placed(np.concatenate(corners))))
    return np.array(planes), same_number(walls)


def _walls(leg: _Placed, sides: Sequence[Side]) -> FloatArray:
    """Planes (n, 4) that bound a leg along its length: n and d, n looking out; of an arc midway from chord to tangent."""
    found = []
    for side in sides:
        for point, normal in _edges(side):
            outward = leg.turned(np.array([0.0, *normal]))
            found.append([*outward, float(outward @ leg.placed(np.array([0.0, *point])))])
    return np.array(found)


def _edges(side: Side) -> list[tuple[FloatArray, FloatArray]]:
    """Places on the edges that stand for a piece of a section, and their normals outwards, in (y, z)."""
    if side.centre is None:
        along = np.subtract(side.end, side.start)
        return [(np.array(side.start), np.array([along[1], -along[0]]) / np.linalg.norm(along))]
    first, last = side.angles_rad
    steps = max(2, math.ceil(abs(last - first) / math.pi * _STEPS))
    half = abs(last - first) / steps / 2.0
    radius = side.radius_mm * (1.0 + math.cos(half)) / 2.0
    angles = first + (np.arange(steps) + 0.5) / steps * (last - first)
    outward = np.stack([np.cos(angles), np.sin(angles)], axis=1)
    return [(np.array(side.centre) + radius * one, one) for one in outward]
