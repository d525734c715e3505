"""How even a lit face is, from its luminance map."""

from dataclasses import dataclass

import numpy as np

from gauze.core.layout.model import FloatArray
from gauze.core.optics.box_light import Map


@dataclass(frozen=True)
class Evenness:
    """Uniformity of a face: ``min_over_mean`` (U0), ``min_over_max`` (Ud), and the same over nine points.

    The nine points are the middles of nine equal parts of the face; each is averaged over a twentieth
    of the face's sides, so that a single dot does not decide.
    """

    min_over_mean: float
    min_over_max: float
    nine_min_over_max: float
    mean_cd_m2: float
    min_cd_m2: float
    max_cd_m2: float


def evenness_of(luminance_cd_m2: Map, weight: FloatArray | None = None) -> Evenness:
    """Judge a map of shape (rows, columns); a dark face counts as perfectly uneven (0).

    ``weight`` is the share of the face's area that each place stands for, 0 beside it; all alike where it is left out.
    """
    inside = luminance_cd_m2 if weight is None else luminance_cd_m2[weight > 0]
    mean = float(inside.mean()) if weight is None else float((luminance_cd_m2 * weight).sum())
    least, most = float(inside.min()), float(inside.max())
    nine = _nine_points(luminance_cd_m2, np.ones_like(luminance_cd_m2) if weight is None else weight)
    return Evenness(
        min_over_mean=least / mean if mean > 0 else 0.0,
        min_over_max=least / most if most > 0 else 0.0,
        nine_min_over_max=min(nine) / max(nine) if max(nine, default=0.0) > 0 else 0.0,
        mean_cd_m2=mean,
        min_cd_m2=least,
        max_cd_m2=most,
    )


def _nine_points(luminance_cd_m2: Map, weight: FloatArray) -> list[float]:
    """Means about the middles of nine equal parts of the map, as far as they lie on the face."""
    rows, columns = luminance_cd_m2.shape
    half_rows, half_columns = max(1, rows // 40), max(1, columns // 40)
    points = []
    for up in (1, 3, 5):
        for right in (1, 3, 5):
            y, x = rows * up // 6, columns * right // 6
            part = np.s_[max(0, y - half_rows) : y + half_rows + 1, max(0, x - half_columns) : x + half_columns + 1]
            if weight[part].any():
                points.append(float(np.average(luminance_cd_m2[part], weights=weight[part])))
    return points
