"""A lid's skirt with beads that snap into grooves, and how far that bends the plastic."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from gauze.core.layout.model import FloatArray
from gauze.core.making.solids.model import PLAY_MM
from gauze.core.making.solids.shapes import area, joined, plate

if TYPE_CHECKING:
    from manifold3d import Manifold

SKIRT_MM, SKIRT_DEEP_MM = 1.2, 8.0
BEAD_MM = 0.6  # how far a bead stands out of the skirt
_BEAD_HIGH_MM, _BEAD_LONG = 1.0, 0.3  # its height, and its share of a side
_BEAD_AT_MM = 6.5  # below the lid, to its middle
MOST_STRAIN = 0.02  # that PLA takes once and again; typical, from memory


def snap_strain() -> float:
    """Strain at the root of the skirt as its bead passes: 1.5 t y / L², a cantilever of even thickness (handbook of snap joints).

    y is how far the bead reaches beyond the play, L how far it lies below the lid.
    """
    return 1.5 * SKIRT_MM * (BEAD_MM - PLAY_MM) / _BEAD_AT_MM**2


def beads(inner_mm: FloatArray, grown_mm: float, top_mm: float) -> Manifold:
    """Beads along the sides of a ring, counter-clockwise, that stand out of the ring less the play; grown for their grooves."""
    following = np.roll(inner_mm, -1, axis=0)
    found = []
    for start, end in zip(inner_mm, following, strict=True):
        along = (end - start) / np.hypot(*(end - start))
        out = np.array([along[1], -along[0]])
        length = _BEAD_LONG * float(np.hypot(*(end - start))) + 2.0 * grown_mm
        middle = (start + end) / 2.0 - out * PLAY_MM
        corners = [middle + s * along * length / 2.0 + o * out for s, o in ((-1, -0.5), (1, -0.5))]
        corners += [middle + s * along * length / 2.0 + (BEAD_MM + grown_mm) * out for s in (1, -1)]
        found.append(
            plate(
                area(np.array(corners)),
                top_mm - _BEAD_AT_MM - _BEAD_HIGH_MM / 2.0 - grown_mm,
                top_mm - _BEAD_AT_MM + _BEAD_HIGH_MM / 2.0 + grown_mm,
            )
        )
    return joined(found)


def clip_lid(inner_mm: FloatArray, outer_mm: FloatArray, thick_mm: float) -> Manifold:
    """A lid as it is printed, its face down: a plate, and on it the skirt with its beads.

    ``inner_mm`` is the inside of the walls that it goes into, ``outer_mm`` their outside.
    """
    face = plate(area(outer_mm), 0.0, thick_mm)
    ring = area(inner_mm, -PLAY_MM) - area(inner_mm, -PLAY_MM - SKIRT_MM)
    skirt = plate(ring, thick_mm, thick_mm + SKIRT_DEEP_MM)
    # seen from below the lid the beads lie as far above the plate
    standing = beads(inner_mm, 0.0, 0.0).mirror((0.0, 0.0, 1.0)).translate((0.0, 0.0, thick_mm))
    return joined([face, skirt, standing])
