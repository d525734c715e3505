"""What the pieces of a build draw, as they are wired, and how much of its label's light each segment gives."""

from collections.abc import Sequence
from dataclasses import dataclass

import msgspec

from gauze.core.design.wiring import Wiring
from gauze.core.electrical.battery_life import BatteryLife, life_of
from gauze.core.electrical.power import Power, most_label_a, power_of
from gauze.core.electrical.supply import SupplyNeed, supply_needs
from gauze.core.electrical.wires import SECTIONS_MM2, fuse_for
from gauze.core.layout.pieces import Piece
from gauze.core.parts import Joint
from gauze.core.parts.flux import ALL_ONE, FluxFactors

USUAL = Wiring()


@dataclass(frozen=True)
class Network:
    """Supplies by voltage, the volts and amps of the build as it is wired, and the flux factors that these make.

    ``wired`` says that the builder has chosen the ``wiring``; until then it is the usual one, with wire that carries the current,
    and the light is that of full volts. ``power`` is None where there are no pieces. ``joints`` are what carries current and data
    from piece to piece. ``battery`` is how long the battery lasts, where one feeds.
    """

    supplies: tuple[SupplyNeed, ...]
    power: Power | None = None
    wiring: Wiring = USUAL
    wired: bool = False
    factors: FluxFactors = ALL_ONE
    joints: tuple[Joint, ...] = ()
    battery: BatteryLife | None = None


def network_of(
    pieces: Sequence[Piece],
    joints: Sequence[Joint],
    wiring: Wiring | None,
    ratings_w: Sequence[float],
    reading_a: float | None,
) -> Network:
    """Size the supplies of a build's pieces and solve its circuit.

    ``wiring`` is None as long as the builder has chosen none. ``reading_a`` is what was read on one full row, or None.
    """
    power, chosen = _usual(pieces, joints) if wiring is None else (power_of(pieces, joints, wiring), wiring)
    factors = ALL_ONE if wiring is None or power is None else power.factors()
    needs = tuple(supply_needs(pieces, ratings_w, reading_a))
    life = None if power is None else life_of(pieces, joints, chosen, power)
    return Network(needs, power, chosen, wiring is not None, factors, tuple(joints), life)


def _usual(pieces: Sequence[Piece], joints: Sequence[Joint]) -> tuple[Power | None, Wiring]:
    """The usual wiring, with the thinnest wire from the usual one up that carries all that the labels say, behind a fuse."""
    amps = most_label_a(pieces)
    sections = [one for one in SECTIONS_MM2 if one >= USUAL.wire_mm2]
    enough = next((one for one in sections if fuse_for(amps, one).rating_a is not None), sections[-1])
    wiring = msgspec.structs.replace(USUAL, wire_mm2=enough)
    return power_of(pieces, joints, wiring), wiring
