"""Where pieces have pads that can be soldered to: the cut marks of strips in the plan."""

from collections.abc import Sequence

import numpy as np

from gauze.core.design.wiring import Injection
from gauze.core.layout.pieces import Piece, StripPiece


def pads_near(pieces: Sequence[Piece], x_mm: float, y_mm: float, within_mm: float) -> Injection | None:
    """Return the pair of pads that is nearest to a place in the plan; None where none is as near as asked."""
    found: Injection | None = None
    nearest = within_mm
    place = np.array([x_mm, y_mm])
    for piece in pieces:
        if isinstance(piece, StripPiece):
            start, end = np.array(piece.start_mm[:2]), np.array(piece.end_mm[:2])
            along = end - start
            share = float((place - start) @ along) / max(float(along @ along), 1e-12)
            after = round(min(max(share, 0.0), 1.0) * piece.segments)
            there = start + along * (after / piece.segments)
        else:
            after, there = 0, np.array(piece.place_mm[:2])
        away = float(np.hypot(*(place - there)))
        if away < nearest:
            found, nearest = Injection(piece=piece.id, after=after), away
    return found
