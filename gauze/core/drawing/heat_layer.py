"""The layer of heat over the plan: how warm the back gets under each piece, and the solder points of the warmest."""

import numpy as np

from gauze.core.drawing.layer import Layer, Legend
from gauze.core.layout.pieces import Piece, StripPiece
from gauze.core.layout.sketch import Outline, OutlineRole
from gauze.core.thermal.warming import BuildWarmth, PieceWarmth
from gauze.core.words import Fixed, Text, say

_MOST_LABELS = 200  # the warmest ones; where they would cover each other, fewer are painted
_LIFT_MM = 6.0  # of a label from its piece
_GRADES: tuple[tuple[float, OutlineRole, Text], ...] = (
    (45.0, "light-full", say("under it up to 45 °C")),
    (60.0, "light-fair", say("45 to 60 °C")),
    (85.0, "light-poor", say("60 to 85 °C")),
    (np.inf, "light-least", say("more")),
)


def warmth_of_pieces(pieces: tuple[Piece, ...], warmth: BuildWarmth) -> Layer:
    """Every piece by the warmth of what it sits on, the warmest with the temperature of their solder points."""
    by_id = {one.id: one for one in warmth.pieces}
    pairs = [(piece, by_id[piece.id]) for piece in pieces]
    shapes = [_line(piece, own) for piece, own in pairs]
    shapes += [_label(piece, own) for piece, own in sorted(pairs, key=lambda pair: -pair[1].solder_c)[:_MOST_LABELS]]
    entries = tuple((role, words) for _, role, words in _GRADES)
    label: tuple[OutlineRole, Text] = ("label", say("solder points, with everything lit"))
    return Layer("heat", say("Heat of the pieces"), tuple(shapes), Legend((*entries, label)))


def _line(piece: Piece, own: PieceWarmth) -> Outline:
    role = next(role for most, role, _ in _GRADES if own.back_c <= most)
    points = [piece.start_mm[:2], piece.end_mm[:2]] if isinstance(piece, StripPiece) else [piece.place_mm[:2]]
    return Outline(role, np.array(points), closed=False)


def _label(piece: Piece, own: PieceWarmth) -> Outline:
    if isinstance(piece, StripPiece):
        at = (np.array(piece.start_mm[:2]) + np.array(piece.end_mm[:2])) / 2.0
    else:
        at = np.array(piece.place_mm[:2])
    words = say("{found} °C", found=Fixed(own.solder_c, ".0f"))
    return Outline("label", (at + np.array([0.0, _LIFT_MM]))[None], closed=False, words=words)
