"""A build laid out: the cavities that make it up, where they stand, the pieces that light them, and its drawing."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Self, TypeVar

from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.model import FloatArray, RowLayout
from gauze.core.layout.pieces import ModulePiece, Piece, StripPiece
from gauze.core.layout.sketch import Sketch

LayoutKind = TypeVar("LayoutKind")

_FEW_EMITTERS, _FEW_CAVITIES, _FEW_INSTANCES = 400, 3, 8  # lit exactly within about half a second


@dataclass(frozen=True)
class Instance:
    """Where a copy of a unit stands in the plan: its origin, turned about it.

    ``id`` names it; ``pieces`` are the ids of the unit's pieces as they are here, each with the number of its segment that is the
    first one here. ``clip_mm`` is a convex polygon in the unit's own plan, counter-clockwise, beyond which its face is not seen;
    None for all of it.
    """

    cavity: int
    x_mm: float
    y_mm: float
    turn_deg: float = 0.0
    clip_mm: FloatArray | None = None
    id: str = ""
    pieces: tuple[tuple[str, int], ...] = ()


@dataclass(frozen=True, kw_only=True)
class Layout:
    """Everything in its place.

    ``cavities`` are the cavities that are lit each by itself. Where ``instances`` is empty there is one, in its own frame; else
    every instance is a copy of its unit in the plan. ``strips`` and ``modules`` are all pieces as they lie in the plan; of a
    build that is one cavity in the order in which its emitters name them. ``emitted_lm`` is what all LEDs give, where the units
    hold more than is there: light that comes round a corner. ``emitter_numbers`` are those of loose emitters, which are no
    pieces. ``sketches`` holds its drawing, a single one; that and ``cavities`` may be made when they are first read.
    """

    cavities: Sequence[CavityLayout]
    sketches: Sequence[Sketch]
    instances: tuple[Instance, ...] = ()
    strips: tuple[StripPiece, ...] = ()
    modules: tuple[ModulePiece, ...] = ()
    emitted_lm: float | None = None
    emitter_numbers: Sequence[int] = ()

    def as_kind(self, kind: type[LayoutKind]) -> LayoutKind:
        """Return it as the layout of a family, for what is registered for it; raises :class:`TypeError` for another."""
        if not isinstance(self, kind):
            raise TypeError(f"{type(self).__name__} is no {kind.__name__}")
        return self

    def with_light(
        self,
        of_rows: Callable[[RowLayout], RowLayout],  # noqa: ARG002 - for builds that have rows in a box
        of_cavity: Callable[[CavityLayout], CavityLayout],
    ) -> Self:
        """Return it with other light from its emitters, wherever it states them; instances stay as they are."""
        return replace(self, cavities=tuple(of_cavity(cavity) for cavity in self.cavities))

    @property
    def shows_picture(self) -> bool:
        """Whether its pixels show something beside all being lit."""
        return False

    @property
    def rows_in_box(self) -> RowLayout | None:
        """Its rows where it is lit as rows of strip in a white box, else None."""
        return None

    @property
    def is_lit_soon(self) -> bool:
        """Whether its exact light takes no longer than a coarse one is worth: rows in a box, or cavities with few emitters."""
        if self.rows_in_box is not None:
            return True
        return (
            len(self.cavities) <= _FEW_CAVITIES
            and len(self.instances) <= _FEW_INSTANCES
            and sum(one.emitter_count for one in self.cavities) <= _FEW_EMITTERS
            and not any(isinstance(one.surface, BaffledBox) for one in self.cavities)
        )

    @property
    def sketch(self) -> Sketch:
        """Its drawing."""
        return self.sketches[0]

    @property
    def cavity(self) -> CavityLayout:
        """The cavity of a build that has one, or the first."""
        return self.cavities[0]

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """All that lights it, piece by piece; of loose emitters none."""
        return (*self.strips, *self.modules)

    @property
    def emitter_count(self) -> int:
        """Number of emitters that light it; channels in one package count each."""
        if not self.instances:
            return self.cavity.emitter_count
        return sum(self.cavities[instance.cavity].emitter_count for instance in self.instances)
