"""How even a lit face is, from its luminance map."""

from dataclasses import dataclass

from gauze.core.layout.model import FloatArray
from gauze.core.optics.box_light import Map


@dataclass(frozen=True)
class Evenness:
    """Uniformity of a face to its very rim, dot by dot: ``min_over_mean`` (U0) and ``min_over_max`` (Ud)."""

    min_over_mean: float
    min_over_max: float
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
    return Evenness(
        min_over_mean=least / mean if mean > 0 else 0.0,
        min_over_max=least / most if most > 0 else 0.0,
        mean_cd_m2=mean,
        min_cd_m2=least,
        max_cd_m2=most,
    )
