"""One cavity with its emitters in place."""

from dataclasses import dataclass

from gauze.core.design.cavity import CavityShape
from gauze.core.design.loose import MeasuredDistribution
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.model import Channel, FloatArray, IndexArray


@dataclass(frozen=True)
class CavityLayout:
    """Emitters in their cavity.

    ``axes`` have length 1; ``flux_lm`` is at the chosen level. Where ``channels`` are given, ``channel`` says of which each
    emitter is, and they tell its colour; else ``cct_k`` does, or ``cie_xy`` where that is 0. ``spacings_mm`` are the closest and
    the widest distance of neighbours whose ripple is looked for, where the layout knows it. ``piece`` says on which piece of
    the cavity each emitter lies, ``segment`` on which segment of it; without them every emitter is a piece by itself.
    """

    shape: CavityShape
    surface: Cavity | BaffledBox
    places_mm: FloatArray
    axes: FloatArray
    power: FloatArray
    flux_lm: FloatArray
    cct_k: FloatArray
    cie_xy: FloatArray
    distribution: IndexArray
    emitter_size_mm: float
    level: float
    distributions: tuple[MeasuredDistribution, ...] = ()
    channels: tuple[Channel, ...] = ()
    channel: IndexArray | None = None
    spacings_mm: tuple[float, float] | None = None
    piece: IndexArray | None = None
    segment: IndexArray | None = None

    @property
    def emitter_count(self) -> int:
        """Number of emitters."""
        return len(self.flux_lm)
