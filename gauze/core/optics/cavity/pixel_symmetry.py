"""Mirror symmetry of the direct light on the pixels of a lit face."""

import numpy as np

from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.cavity.chart import Chart
from gauze.core.optics.cavity.emitters import Emitters
from gauze.core.optics.cavity.symmetry import SAME, Symmetry, symmetries


def pixel_symmetry(chart: Chart, emitters: Emitters) -> Symmetry:
    """Return the symmetry of a chart's pixels under the direct light: turned over left to right, or upside down."""
    number = np.full(chart.inside.shape, -1)
    number[chart.inside] = np.arange(len(chart.s))
    mirrors = []
    for turned in (number[:, ::-1], number[::-1]):
        image = turned[chart.inside]
        found = None if (image < 0).any() else _mirror_between(chart, image)
        if found is not None and emitters.images(*found) is not None:
            mirrors.append((image,))
    return symmetries(mirrors, (len(chart.s),))[0]


def _mirror_between(chart: Chart, image: IndexArray) -> tuple[FloatArray, int] | None:
    """The plane in which every pixel's place is that of its image, as a point of it and its axis; None where there is none."""
    places, normals = chart.places_mm, chart.normals
    near = SAME * float(np.ptp(places, axis=0).max())
    apart = np.abs(places[image] - places).max(axis=0) > near
    if apart.sum() != 1:
        return None
    axis = int(np.flatnonzero(apart)[0])
    middle = places.mean(axis=0)
    sign = np.where(np.arange(3) == axis, -1.0, 1.0)
    straight = np.abs(places[image] + places - 2.0 * middle)[:, axis].max() <= near
    facing = np.abs(normals[image] - sign * normals).max() <= SAME
    return (middle, axis) if straight and facing else None
