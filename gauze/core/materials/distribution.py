"""How an emitter spreads its flux: I(theta) = I0 cos^m theta."""

import math


def cosine_power(half_angle_deg: float) -> float:
    """Return m such that cos^m of the half angle is one half: m = -ln 2 / ln cos(theta_half).

    A bare white package has a half angle of 60 degrees, so m = 1 (Lambertian).

    Raises
    ------
    ValueError
        When the half angle does not lie between 0 and 90 degrees.
    """
    if not 0 < half_angle_deg < 90:
        raise ValueError(f"half angle {half_angle_deg} deg does not lie between 0 and 90")
    return -math.log(2.0) / math.log(math.cos(math.radians(half_angle_deg)))


def axial_intensity_cd(flux_lm: float, power: float) -> float:
    """Return I0 = (m + 1) phi / (2 pi), so that the whole hemisphere carries ``flux_lm``."""
    return (power + 1.0) * flux_lm / (2.0 * math.pi)
