"""Where a build stands, and what it sits on: what decides how warm it gets."""

from typing import Annotated, Literal

import msgspec

from gauze.core.design.limits import check_limits

Stance = Literal["upright", "face_up", "face_down"]
# how a build loses its heat: a box with a back and walls; one piece of metal or plastic around its LEDs; a carrier in the middle
# of a tube; a box lit from its rim; a strip that lies open
BodyKind = Literal["box", "one_piece", "carrier", "edge", "open"]
VENTED: tuple[BodyKind, ...] = ("box", "carrier", "edge")  # what can have openings at its foot and its head
METAL = ("steel", "aluminium")  # among what the LEDs sit on
BackMaterial = Literal["timber", "fibreboard", "plastic", "acrylic", "steel", "aluminium"]


class Surroundings(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """The room's temperature, how the build stands, whether its back lies on a wall, and of what its back is.

    ``back`` is what the LEDs sit on: the back sheet of a box, the body of a channel, the carrier of a tube. ``sink_k_per_w`` is a
    heat sink's own figure, kelvins for each watt, None where there is none. ``vent_mm2`` is the free area of the openings at the
    foot of the body, and as much at its head, through which warm air leaves; None for a closed one.
    """

    ambient_c: Annotated[float, msgspec.Meta(ge=-40, le=70)] = 25.0
    stance: Stance = "upright"
    against_wall: bool = False
    back: BackMaterial = "timber"
    back_mm: Annotated[float, msgspec.Meta(ge=0.1, le=100)] = 6.0
    sink_k_per_w: Annotated[float, msgspec.Meta(ge=0.01, le=1000)] | None = None
    vent_mm2: Annotated[float, msgspec.Meta(ge=1, le=1_000_000)] | None = None


def check_surroundings(surroundings: Surroundings) -> None:
    """Check what can be judged without the build; raises :class:`gauze.core.errors.DesignError`."""
    check_limits(surroundings, "surroundings")
