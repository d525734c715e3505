"""How the face is looked at in this sitting; none of this belongs to the design."""

from dataclasses import dataclass


@dataclass(frozen=True)
class ViewState:
    """``seam_share`` and ``cut_share`` from 0 to 1 of the face's width and height; exposure in stops.

    ``from_back`` shows a build mirrored, as it is wired. ``alone`` is the view that has the whole canvas, None for all of them;
    ``detail_share`` where along a thin plan a part is magnified; ``layers`` are the keys of those that lie over the plan.
    """

    seam_share: float = 0.42
    cut_share: float = 0.5
    exposure_stops: float = 0.0
    room_lx: float = 0.0
    false_colour: bool = False
    from_back: bool = False
    alone: str | None = None
    detail_share: float = 0.5
    layers: frozenset[str] = frozenset()
