"""Divides what is larger than a printer's bed, at given lines or into equal shares, with holes for pins where there is room."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np

from gauze.core.layout.model import FloatArray
from gauze.core.making.solids.model import Solid, solid_of
from gauze.core.making.solids.shapes import box_about, rod

if TYPE_CHECKING:
    from manifold3d import CrossSection, Manifold

PIN_MM = 1.9  # for a piece of 1.75 mm filament; common practice, no source
PIN_DEEP_MM = 8.0  # on either side
_AROUND_PIN_MM = 1.5  # least material about a pin's hole
_PIN_STEP_MM = 60.0
_PROBE_MM = 0.1


def divided(
    shape: Manifold, bed_mm: tuple[float, float], lines_mm: tuple[Sequence[float], Sequence[float]] = ((), ())
) -> tuple[list[Solid], int]:
    """Return the pieces that fit onto a bed, and how many holes for pins join them.

    Parameters
    ----------
    lines_mm:
        Where it may be divided along x and y; anywhere where none are given.
    """
    low, high = np.array(shape.bounding_box()).reshape(2, 3)
    cuts = [_cuts(low[axis], high[axis], bed_mm[axis], lines_mm[axis]) for axis in range(2)]
    pins = 0
    for axis in range(2):
        for cut in cuts[axis]:
            shape, count = _with_pin_holes(shape, axis, cut)
            pins += count
    rows = _slices([shape], 0, cuts[0])
    found = [piece for row in rows for piece in _slices([row], 1, cuts[1])]
    return [solid_of(piece) for piece in found if not piece.is_empty()], pins


def _cuts(low: float, high: float, bed: float, lines: Sequence[float]) -> list[float]:
    count = math.ceil((high - low) / bed - 1e-9)
    wanted = [low + (high - low) * number / count for number in range(1, count)]
    if not len(lines):
        return wanted
    found: list[float] = []
    start = low
    while high - start > bed + 1e-9:
        reached = [line for line in lines if start + 1e-9 < line <= start + bed + 1e-9]
        if not reached:
            return wanted  # one share between two lines is wider than the bed
        aim = start + (high - start) / math.ceil((high - start) / bed - 1e-9)
        start = min(reached, key=lambda line: abs(line - aim))
        found.append(start)
    return found


def _slices(parts: list[Manifold], axis: int, cuts: Sequence[float]) -> list[Manifold]:
    normal = (1.0, 0.0, 0.0) if axis == 0 else (0.0, 1.0, 0.0)
    for cut in cuts:
        last = parts.pop()
        above, below = last.split_by_plane(normal, cut)
        parts += [below, above]
    return parts


def _with_pin_holes(shape: Manifold, axis: int, cut: float) -> tuple[Manifold, int]:
    """Holes along an axis through a cut, where its section is thick enough on all sides."""
    turn = (0.0, -90.0, 0.0) if axis == 0 else (90.0, 0.0, 0.0)  # so that the axis stands upright
    upright = shape.rotate(turn)
    room = upright.slice(cut).offset(-(PIN_MM / 2.0 + _AROUND_PIN_MM))
    places = [place for ring in room.to_polygons() for place in _places(np.asarray(ring)) if _is_inside(place, room)]
    for u, v in places:
        upright = upright - rod(PIN_MM, 2.0 * PIN_DEEP_MM).translate((u, v, cut - PIN_DEEP_MM))
    return upright.rotate((-turn[0], -turn[1], 0.0)), len(places)


def _is_inside(place: tuple[float, float], room: CrossSection) -> bool:
    probe = box_about(place, _PROBE_MM)
    return bool((probe ^ room).area() > 0.5 * probe.area())


def _places(ring: FloatArray) -> list[tuple[float, float]]:
    """Where pins stand inside a ring: in its middle, or along its longer side."""
    low, high = ring.min(axis=0), ring.max(axis=0)
    along = int(np.argmax(high - low))
    count = math.floor((high - low)[along] / _PIN_STEP_MM) + 1
    found = []
    for share in (np.arange(count) + 0.5) / count:
        place = (low + high) / 2.0
        place[along] = low[along] + share * (high - low)[along]
        found.append((float(place[0]), float(place[1])))
    return found
