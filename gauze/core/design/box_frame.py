"""How walls, back and sheet of a box are joined: corners, the seat of the sheet, screws, and what the box is held by."""

from typing import Annotated, Literal

import msgspec

Corners = Literal["butt", "mitre", "lap", "splined"]
Seat = Literal["on_top", "groove", "rebate", "ledge", "standoffs"]
StandThread = Literal["none", "quarter_inch", "three_eighths_inch"]
Hang = Literal["none", "hooks", "keyholes"]


class BoxFrame(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """Joinery of a box whose walls are boards of a chosen thickness.

    ``corners`` tells how the four walls meet: butted, mitred, lapped by half of their thickness, or mitred with splines across
    the joint. ``seat`` tells what holds the sheet: it lies on the walls, slides into a groove, lies in a rebate or on ledges, or
    is held by standoffs. Screws are ``screw_mm`` thick and ``screw_long_mm`` long; None for a glued body. ``stand`` is the
    thread in the lower wall for a stand (ISO 1222), ``hang`` what it hangs on: as many as the making has fixings, or two.
    """

    corners: Corners = "butt"
    seat: Seat = "on_top"
    screw_mm: Annotated[float, msgspec.Meta(ge=1, le=12)] | None = None
    screw_long_mm: Annotated[float, msgspec.Meta(ge=6, le=200)] = 30.0
    stand: StandThread = "none"
    hang: Hang = "none"
