"""A build laid out: the cavities that make it up, where they stand, the pieces that light them, and its drawing."""

from dataclasses import dataclass

from gauze.core.design.build import ModuleChoice
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.model import FloatArray
from gauze.core.layout.runs import Run
from gauze.core.layout.sketch import Sketch
from gauze.core.materials import Module


@dataclass(frozen=True)
class Stand:
    """Where a unit stands in the plan: its origin, turned about it.

    ``clip_mm`` is a convex polygon in the unit's own plan, counter-clockwise, beyond which its face is not seen; None for all of
    it.
    """

    unit: int
    x_mm: float
    y_mm: float
    turn_deg: float = 0.0
    clip_mm: FloatArray | None = None


@dataclass(frozen=True)
class ModuleSet:
    """A number of modules of one kind."""

    module: Module
    choice: ModuleChoice
    count: int


@dataclass(frozen=True)
class BuiltLayout:
    """Everything in its place.

    ``units`` are the cavities that are lit each by itself. Where ``stands`` is empty there is one, in its own frame; else every
    stand is a copy of its unit in the plan. ``emitted_lm`` is what all LEDs give, where the units hold more than is there:
    light that comes round a corner.
    """

    units: tuple[CavityLayout, ...]
    sketch: Sketch
    stands: tuple[Stand, ...] = ()
    runs: tuple[Run, ...] = ()
    modules: tuple[ModuleSet, ...] = ()
    emitted_lm: float | None = None

    @property
    def unit(self) -> CavityLayout:
        """The cavity of a build that has one, or the first."""
        return self.units[0]

    @property
    def emitter_count(self) -> int:
        """Number of emitters that light it; channels in one package count each."""
        if not self.stands:
            return self.unit.emitter_count
        return sum(self.units[stand.unit].emitter_count for stand in self.stands)
