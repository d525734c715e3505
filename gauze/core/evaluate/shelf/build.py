"""What the things on a shelf are judged for, and a verdict."""

from dataclasses import dataclass

from gauze.core.design.wiring import Wiring
from gauze.core.electrical.network import Network
from gauze.core.electrical.power import Power
from gauze.core.electrical.supply import SupplyNeed
from gauze.core.evaluate.finding import State
from gauze.core.layout.pieces import Piece
from gauze.core.materials import Catalogue
from gauze.core.parts import BodyPart, Parts
from gauze.core.words import Words


@dataclass(frozen=True)
class Judged:
    """A thing with the verdict; ``wiring`` is the build's with this thing in it, None where that changes nothing."""

    thing_id: str
    state: State
    sentence: Words
    wiring: Wiring | None = None


@dataclass(frozen=True)
class Build:
    """A build by its parts and its circuit. ``power`` is None for one without pieces."""

    parts: Parts
    network: Network
    catalogue: Catalogue

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """Strips and modules."""
        return tuple(self.parts.pieces)

    @property
    def body(self) -> tuple[BodyPart, ...]:
        """Everything else."""
        return tuple(self.parts.body)

    @property
    def needs(self) -> tuple[SupplyNeed, ...]:
        """What each voltage needs."""
        return self.network.supplies

    @property
    def wiring(self) -> Wiring:
        """How it is wired."""
        return self.network.wiring

    @property
    def power(self) -> Power:
        """Its volts and amps; raises :class:`ValueError` for a build without pieces."""
        if self.network.power is None:
            raise ValueError("a build without pieces has no power")
        return self.network.power
