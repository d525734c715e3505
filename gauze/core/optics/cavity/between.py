"""Light in a cavity that lies between two nearly alike: its bounced light on the straight line between theirs."""

from dataclasses import replace

import numpy as np

from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.model import FloatArray
from gauze.core.optics.cavity.baffled import BaffledLight, patterns_of
from gauze.core.optics.cavity.cell_knots import LidKnots
from gauze.core.optics.cavity.cells import nothing_arrived
from gauze.core.optics.cavity.emitters import Emitters
from gauze.core.optics.cavity.light import CavityLight, in_legs, nearest_mm

Figures = tuple[FloatArray, ...]  # at the knots; on the lids, direct there, into the open


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


def cells_between(
    one: BaffledLight, other: BaffledLight, share: float, box: BaffledBox, emitters: Emitters
) -> BaffledLight:
    """The same of a box with partitions; raises as :func:`light_between`."""
    if one.bounced_at_knots.shape != other.bounced_at_knots.shape:
        raise ValueError("the two lights have other numbers of places")
    figures = zip(_per_lumen(one, emitters), _per_lumen(other, emitters), strict=True)
    at_knots, lid, direct = ((1.0 - share) * first + share * second for first, second in figures)
    knots = LidKnots.of(box, one.exchange.knots.count)
    return BaffledLight(
        box,
        emitters,
        # of the exchange only how far light is followed is asked
        replace(one.exchange, knots=knots, _arrived=nothing_arrived()),
        tuple(patterns_of(box, emitters)),
        at_knots,
        lid,
        direct,
        max(one.balance_error, other.balance_error, key=abs),
        max(one.corrected, other.corrected),
        one.places_in_pixel,
        one.fineness,
        own_exchange=False,
    )


def _per_lumen(light: CavityLight | BaffledLight, emitters: Emitters) -> Figures:
    """The figures of a light, with every colour as strong as some emitters have it."""
    strong = emitters.flux_lm.sum(axis=0) / np.maximum(light.emitters.flux_lm.sum(axis=0), 1e-30)
    figures = (light.bounced_at_knots * strong, light.lid_flux_lm * strong, light.direct_flux_lm * strong)
    return figures if isinstance(light, BaffledLight) else (*figures, light.open_flux_lm * strong)
