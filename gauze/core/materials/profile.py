"""Channel profiles as they are sold: what a row of the catalogue says of one."""

from typing import Literal

import msgspec

Section = Literal["rectangle", "v", "u", "half_round"]


class Profile(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """An extruded or routed channel with a snap-in lens; inner sizes, every value typical.

    ``bed_mm`` is the width of the back of a V; ``lens_rise_mm`` how far a curved lens stands over a flat one; ``wall_mm`` what
    the profile adds on each side.
    """

    id: str
    name: str
    section: Section
    width_mm: float
    depth_mm: float
    bed_mm: float = 0.0
    lens_rise_mm: float = 0.0
    wall_mm: float = 1.2
    source: str = ""
