"""The shapes that printed parts are made of."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from gauze.core.layout.model import FloatArray
from gauze.core.making.solids.model import ROUND

if TYPE_CHECKING:
    from manifold3d import CrossSection, Manifold

_MITRE_LIMIT = 10.0  # so that corners stay sharp


def area(ring_mm: FloatArray, grown_mm: float = 0.0) -> CrossSection:
    """A flat shape inside a ring, grown on all sides by so much; corners stay sharp."""
    from manifold3d import CrossSection, FillRule, JoinType

    found = CrossSection([np.ascontiguousarray(ring_mm, dtype=float)], FillRule.NonZero)
    return found if grown_mm == 0.0 else found.offset(grown_mm, JoinType.Miter, _MITRE_LIMIT)


def box(low: tuple[float, float, float], high: tuple[float, float, float]) -> Manifold:
    """A box between two corners."""
    from manifold3d import Manifold

    size = tuple(b - a for a, b in zip(low, high, strict=True))
    return Manifold.cube(size).translate(low)


def box_about(place: tuple[float, float], side_mm: float) -> CrossSection:
    """A flat square about a place."""
    from manifold3d import CrossSection

    return CrossSection.square((side_mm, side_mm), center=True).translate(place)


def rod(diameter_mm: float, length_mm: float) -> Manifold:
    """An upright round rod on z = 0."""
    from manifold3d import Manifold

    return Manifold.cylinder(length_mm, diameter_mm / 2.0, circular_segments=ROUND)


def plate(shape: CrossSection, low_mm: float, high_mm: float) -> Manifold:
    """A flat shape made thick, from one height to another."""
    return shape.extrude(high_mm - low_mm).translate((0.0, 0.0, low_mm))


def united(shapes: list[CrossSection]) -> CrossSection:
    """All flat shapes as one."""
    from manifold3d import CrossSection, OpType

    return CrossSection.batch_boolean(shapes, OpType.Add)


def joined(parts: list[Manifold]) -> Manifold:
    """All of them as one."""
    from manifold3d import Manifold, OpType

    return Manifold.batch_boolean(parts, OpType.Add)
