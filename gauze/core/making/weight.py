"""What a build weighs, part by part, and where its middle is.

Densities are typical, from memory. What has no thickness of its own yet is taken as thick as its back.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from gauze.core.design.surroundings import BackMaterial
from gauze.core.layout import Layout
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import Piece, StripPiece
from gauze.core.layout.placing import in_plan
from gauze.core.materials import Catalogue
from gauze.core.parts import BodyPart, Fixing, Parts
from gauze.core.words import say

SOURCE = say("typical densities, from memory")
DENSITY_KG_M3: dict[BackMaterial, float] = {
    "timber": 550.0,
    "fibreboard": 750.0,
    "plastic": 1200.0,
    "acrylic": 1190.0,
    "steel": 7850.0,
    "aluminium": 2700.0,
}
STRIP_KG_PER_M = 0.02  # with its tape; typical, from memory
MODULE_KG_M2 = 2.5  # a board with its LEDs; typical, from memory
COPPER_KG_M3, INSULATED = 8960.0, 1.6  # and how much a wire weighs over its copper; typical, from memory
WIRES = "wires"  # the id of all of them, which are no parts
SPREAD = 0.2  # of a weight from typical densities; common practice, no source
_CAP_MM, _PROFILE_WALL_MM = 2.0, 1.2  # of what states no thickness


@dataclass(frozen=True)
class Weighed:
    """One part with its weight and its middle; ``assumed`` says that a thickness was taken, as none is chosen."""

    id: str
    kg: float
    middle_mm: tuple[float, float, float]
    assumed: bool = False


@dataclass(frozen=True)
class Weight:
    """All parts, heaviest first."""

    parts: tuple[Weighed, ...]

    @property
    def kg(self) -> float:
        """What all of it weighs."""
        return sum(one.kg for one in self.parts)

    @property
    def middle_mm(self) -> tuple[float, float, float]:
        """Centre of gravity: x and y in the plan, z from the back."""
        total = max(self.kg, 1e-12)
        x, y, z = (sum(one.kg * one.middle_mm[axis] for one in self.parts) / total for axis in range(3))
        return x, y, z

    @property
    def assumed(self) -> bool:
        """Whether a thickness was taken for any part."""
        return any(one.assumed for one in self.parts)


@dataclass(frozen=True)
class Body:
    """What the body is of: the material and the thickness of the back, and of the walls where that is chosen."""

    material: BackMaterial
    back_mm: float
    wall_mm: float | None


def weigh(parts: Parts, layout: Layout, body: Body, catalogue: Catalogue, wire_kg: float = 0.0) -> Weight:
    """Weigh all parts of a build; its wires lie about the middle of its pieces."""
    sheets = {one.name: one.density_kg_m3 for one in catalogue.diffusers.values()}
    places = {one.id: one for one in layout.instances}
    found = [_piece(piece) for piece in parts.pieces]
    if found and wire_kg > 0:
        middle = np.mean([one.middle_mm for one in found], axis=0).tolist()
        found.append(Weighed(WIRES, wire_kg, (middle[0], middle[1], middle[2])))
    for part in parts.body:
        if part.kind == "board" and parts.pieces:
            continue  # weighed as its module
        thick, assumed = _thickness_mm(part, body)
        density = sheets.get(part.material, DENSITY_KG_M3["aluminium" if part.kind == "profile" else body.material])
        kg = volume_mm3(part, thick) * 1e-9 * density
        x, y, z = _middle(part, thick)
        for name in part.ids():
            place = places.get(name.removesuffix(f"/{part.id}")) if part.places else None
            px, py = (x, y) if place is None else in_plan(place, np.array([[x, y]]))[0].tolist()
            found.append(Weighed(name, kg, (px, py, z), assumed))
    found += [_fixing(one) for one in parts.fixings if one.kind != "spline"]
    return Weight(tuple(sorted(found, key=lambda one: -one.kg)))


def wires_kg(lengths: Sequence[tuple[float, float]]) -> float:
    """Weight of wires given by length in mm and section in mm²."""
    return sum(length * section for length, section in lengths) * 1e-9 * COPPER_KG_M3 * INSULATED


def _piece(piece: Piece) -> Weighed:
    if isinstance(piece, StripPiece):
        middle = (np.array(piece.start_mm) + np.array(piece.end_mm)) / 2.0
        return Weighed(piece.id, STRIP_KG_PER_M * piece.length_mm / 1000.0, _triple(middle))
    module = piece.module
    area_m2 = module.columns * module.rows * (module.pitch_mm / 1000.0) ** 2
    return Weighed(piece.id, MODULE_KG_M2 * area_m2, piece.place_mm)


def _fixing(one: Fixing) -> Weighed:
    kg = math.pi / 4.0 * one.diameter_mm**2 * one.length_mm * 1e-9 * DENSITY_KG_M3["steel"]
    return Weighed(one.id, kg, _triple((np.array(one.head_mm) + np.array(one.end_mm)) / 2.0))


def _triple(values: FloatArray) -> tuple[float, float, float]:
    x, y, z = values.tolist()
    return x, y, z


def _thickness_mm(part: BodyPart, body: Body) -> tuple[float, bool]:
    """Thickness of a part's material, and whether it was taken."""
    if part.kind == "profile":
        return _PROFILE_WALL_MM, False
    if part.kind == "cap":
        return _CAP_MM, False
    if part.thickness_mm is not None:
        return part.thickness_mm, False
    if part.use == "wall" and part.kind == "member":
        return (body.wall_mm, False) if body.wall_mm is not None else (body.back_mm, True)
    return body.back_mm, part.use not in ("back", "base")


def volume_mm3(part: BodyPart, thick_mm: float) -> float:
    """Volume of a part's material: area times thickness, holes and slots not taken off."""
    if part.kind == "tube":
        return math.pi * part.width_mm * thick_mm * part.length_mm
    if part.kind == "shell":
        return math.pi * part.length_mm * part.width_mm * thick_mm  # a ball's area, less its base
    if part.kind == "profile":
        deep = part.thickness_mm or part.width_mm
        return (part.width_mm + 2.0 * deep) * thick_mm * part.length_mm
    area = part.length_mm * part.width_mm if part.outline_mm is None else _area(part.outline_mm)
    return area * thick_mm


def _area(ring: FloatArray) -> float:
    x, y = ring.T
    return abs(float(x[:-1] @ y[1:] - y[:-1] @ x[1:] + x[-1] * y[0] - y[-1] * x[0])) / 2.0


def _middle(part: BodyPart, thick_mm: float) -> tuple[float, float, float]:
    """Middle of a part in the frame of its unit."""
    if part.kind == "shell":
        return 0.0, 0.0, part.width_mm / 2.0
    half = part.length_mm / 2.0
    if part.outline_mm is not None:
        u, v = ((part.outline_mm.min(axis=0) + part.outline_mm.max(axis=0)) / 2.0).tolist()
        return _in_frame(part, u, v, thick_mm / 2.0)
    if part.kind in ("profile", "lens", "tube"):
        deep = part.width_mm if part.kind == "tube" else part.thickness_mm or 0.0
        return _in_frame(part, half, 0.0, deep / 2.0)
    if part.use == "wall":  # stands along its line, its own y inwards
        x, y, z = _in_frame(part, half, -thick_mm / 2.0, 0.0)
        return x, y, z + part.width_mm / 2.0
    return _in_frame(part, half, part.width_mm / 2.0, 0.0)


def _in_frame(part: BodyPart, along: float, across: float, out: float) -> tuple[float, float, float]:
    """A place of a part: so far along its right and its up, and out of both."""
    origin, (a, b, c), (d, e, f) = part.placement.origin_mm, part.placement.right, part.placement.up
    normal = (b * f - c * e, c * d - a * f, a * e - b * d)
    x, y, z = (
        float(start + along * right + across * up + out * square)
        for start, right, up, square in zip(origin, (a, b, c), (d, e, f), normal, strict=True)
    )
    return x, y, z
