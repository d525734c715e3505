"""Two whites dimmed apart, by two knobs: the colour temperature of their mixture, and how bright it looks.

How bright a light looks goes as the CIE 1976 lightness, L* = 116 (Y / Yn)^(1/3) - 16 above Y / Yn = 0.008856, and 903.3 Y / Yn
below: half of the knob is a fifth of the light.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from gauze.core.design import StripChoice
from gauze.core.layout.model import FloatArray
from gauze.core.materials import Strip
from gauze.core.optics.colour import levels_for_white, planck_xyz, uv_1976, white_point

_LINEAR_BELOW, _LINEAR_SLOPE = 8.0, 903.3
STEADY_DELTA_UV = 0.005  # by which a dimmed mixture may leave its colour; common practice, no source
_SHARES = np.geomspace(0.001, 1.0, 240)


@dataclass(frozen=True)
class Mix:
    """A mixture of two whites: its CCT, its light over the most at that white, and how bright that looks, 0 to 1.

    ``range_k`` are the whites between which it can be set, the warmer first. ``steady_from`` is the share of the light from
    which on its colour holds in the steps of the dimmer.
    """

    cct_k: float
    share: float
    seen: float
    range_k: tuple[float, float]
    steady_from: float


def seen_of(share: float) -> float:
    """How bright a share of the light looks, 0 to 1."""
    lightness = 116.0 * share ** (1.0 / 3.0) - 16.0 if share > _LINEAR_BELOW / _LINEAR_SLOPE else _LINEAR_SLOPE * share
    return float(np.clip(lightness / 100.0, 0.0, 1.0))


def share_of(seen: float) -> float:
    """The share of the light that looks so bright."""
    lightness = 100.0 * min(max(seen, 0.0), 1.0)
    return float(((lightness + 16.0) / 116.0) ** 3 if lightness > _LINEAR_BELOW else lightness / _LINEAR_SLOPE)


def whites_xyz(strip: Strip) -> FloatArray | None:
    """XYZ of the two whites of a strip at full level, the light of a metre, shape (2, 3); None for any other strip."""
    whites = [(one.flux_lm_per_m, one.cct_k) for one in strip.channel if one.cct_k is not None]
    if len(strip.channel) != 2 or len(whites) != 2:
        return None
    return np.array([flux * planck_xyz(cct_k) for flux, cct_k in whites])


def alternating_xyz(rows: Sequence[tuple[Strip, StripChoice, float]]) -> FloatArray | None:
    """XYZ of all rows of one white each, at full level, by the metres of each; None where one of them has more channels."""
    found = []
    for strip, choice, metres in rows:
        cct_k = strip.channel[0].cct_k or (choice.cct_k if strip.white_cct_k is not None else None)
        if len(strip.channel) != 1 or cct_k is None:
            return None
        found.append(metres * strip.channel[0].flux_lm_per_m * planck_xyz(cct_k))
    return np.array(found)


def levels_of_mix(xyz_full: FloatArray, cct_k: float, seen: float) -> tuple[float, float] | None:
    """Return the levels of both for a white and a brightness; None for a white that is not between theirs."""
    levels = levels_for_white(xyz_full, cct_k)
    if levels is None:
        return None
    first, second = (share_of(seen) * levels).tolist()
    return first, second


def mix_of(xyz_full: FloatArray, levels: tuple[float, ...], steps: int = 255) -> Mix | None:
    """Return what two levels make; None where both are dark. ``steps`` are those of the dimmer: 255 of one with eight bits."""
    weights = np.array(levels)
    point = white_point(weights @ xyz_full)
    ends = [white_point(one) for one in xyz_full]
    if point is None or ends[0] is None or ends[1] is None:
        return None
    low, high = sorted(one.cct_k for one in ends if one is not None)
    share = float(weights.max())  # at a white one of the two is full, where there is most light of it
    return Mix(point.cct_k, share, seen_of(share), (low, high), _steady_from(xyz_full, weights / share, steps))


def _steady_from(xyz_full: FloatArray, full: FloatArray, steps: int) -> float:
    """The least share from which on rounding to whole steps keeps the colour."""
    wanted = uv_1976(full @ xyz_full)
    rounded = np.round(_SHARES[:, None] * full * steps)
    lit = rounded.sum(axis=1) > 0
    off = np.full(len(_SHARES), np.inf)
    off[lit] = np.hypot(*(uv_1976(rounded[lit] @ xyz_full) - wanted).T)
    bad = np.flatnonzero(off > STEADY_DELTA_UV)
    return float(_SHARES[min(bad[-1] + 1, len(_SHARES) - 1)]) if len(bad) else float(_SHARES[0])
