"""What the pieces of a build draw, and how much of its label's light each segment gives."""

from collections.abc import Sequence
from dataclasses import dataclass

from gauze.core.electrical.supply import SupplyNeed, supply_needs
from gauze.core.layout.pieces import Piece
from gauze.core.parts.flux import ALL_ONE, FluxFactors


@dataclass(frozen=True)
class Network:
    """Supplies by voltage, and the flux factors that volts at each segment make."""

    supplies: tuple[SupplyNeed, ...]
    factors: FluxFactors = ALL_ONE


def network_of(
    pieces: Sequence[Piece], ratings_w: Sequence[float], reading_a: float | None, factors: FluxFactors = ALL_ONE
) -> Network:
    """Size the supplies of a build's pieces.

    ``reading_a`` is what the builder read on one full row, or None. ``factors`` are taken as they are given: what wires and
    supplies take from the light is not computed here.
    """
    return Network(tuple(supply_needs(pieces, ratings_w, reading_a)), factors)
