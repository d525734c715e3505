"""Light in a cavity that lies between two nearly alike: its bounced light on the straight line between theirs."""

from dataclasses import replace

import numpy as np

from gauze.core.layout.cavity import Cavity
from gauze.core.layout.model import FloatArray
from gauze.core.optics.cavity.emitters import Emitters
from gauze.core.optics.cavity.light import CavityLight, in_legs, nearest_mm

Figures = tuple[
    FloatArray, FloatArray, FloatArray, FloatArray
]  # at the knots; on the lids, direct there, into the open


def light_between(
    one: CavityLight, other: CavityLight, share: float, cavity: Cavity, emitters: Emitters
) -> CavityLight:
    """Light of a cavity that is ``share`` of the way from one to the other, its emitters too; each colour as strong as they are.

    Raises
    ------
    ValueError
        When the two were not lit at as many places.
    """
    if one.bounced_at_knots.shape != other.bounced_at_knots.shape:
        raise ValueError("the two lights have other numbers of places")
    emitters = in_legs(cavity, emitters)
    at_knots, lid, direct, opened = (
        (1.0 - share) * first + share * second
        for first, second in zip(_per_lumen(one, emitters), _per_lumen(other, emitters), strict=True)
    )
    return CavityLight(
        cavity,
        emitters,
        emitters,
        nearest_mm(cavity, emitters),
        tuple(replace(knot, tile=tile) for knot, tile in zip(one.knots, cavity.lids, strict=True)),
        at_knots,
        lid,
        direct,
        opened,
        max(one.balance_error, other.balance_error, key=abs),
        max(one.corrected, other.corrected),
    )


def _per_lumen(light: CavityLight, emitters: Emitters) -> Figures:
    """The figures of a light, with every colour as strong as some emitters have it."""
    strong = emitters.flux_lm.sum(axis=0) / np.maximum(light.emitters.flux_lm.sum(axis=0), 1e-30)
    return (
        light.bounced_at_knots * strong,
        light.lid_flux_lm * strong,
        light.direct_flux_lm * strong,
        light.open_flux_lm * strong,
    )
