"""The wiring as it is soldered: every conductor along both axes, a sign of its polarity where it ends, and its number."""

import numpy as np

from gauze.core.drawing.layer import Layer, Legend
from gauze.core.electrical.growing import Pad
from gauze.core.electrical.power import Power
from gauze.core.electrical.wire_list import Run, runs_of
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import Piece, StripPiece
from gauze.core.layout.sketch import Outline, OutlineRole
from gauze.core.words import say

_MOST_RUNS = 400  # beyond that they cover each other and say nothing
_SIGN, _APART, _STUB = (
    0.008,
    0.014,
    0.05,
)  # of the plan's larger side: half a sign, conductors of one run, the lead's stub
_LEAST_MM = 1.2


def wiring_in_plan(pieces: tuple[Piece, ...], power: Power) -> Layer:
    """Every run of wires: its conductors side by side, plus whole and minus broken, with signs at their ends and its number."""
    runs = runs_of(power)[:_MOST_RUNS]
    size_mm = max(_span_mm(pieces) * _SIGN, _LEAST_MM)
    shapes = [shape for run in runs for shape in _run(run, size_mm)]
    legend = Legend(
        (
            ("plus", say("+, whole: from the supply or the pads before")),
            ("minus", say("−, broken: the return, of each colour")),
            ("label", say("number of the wires, as in the wire list")),
        )
    )
    return Layer("wiring", say("Wiring plan"), tuple(shapes), legend)


def _span_mm(pieces: tuple[Piece, ...]) -> float:
    places = np.array([point for piece in pieces for point in _ends(piece)])
    return float(np.ptp(places, axis=0).max()) if len(places) else 0.0


def _ends(piece: Piece) -> list[tuple[float, ...]]:
    return [piece.start_mm[:2], piece.end_mm[:2]] if isinstance(piece, StripPiece) else [piece.place_mm[:2]]


def _run(run: Run, size_mm: float) -> list[Outline]:
    apart_mm = size_mm * _APART / _SIGN
    found: list[Outline] = []
    count = len(run.wires)
    for number, one in enumerate(run.wires):
        role: OutlineRole = "plus" if one.wire.conductor == "+" else "minus"
        aside = (number - (count - 1) / 2.0) * apart_mm
        path = _path(run.start, run.end, aside, size_mm)
        found.append(Outline(role, path, closed=False))
        ends = [path[-1]] if not run.start.piece else [path[0], path[-1]]
        for end in ends:
            found += _sign(role, end, size_mm)
    middle = _path(run.start, run.end, 0.0, size_mm)
    # a lead has its number at its far end: at its pad stands that of the wire that goes on from there
    at = middle[len(middle) // 2 if run.start.piece else 0] + np.array([0.0, 2.5 * size_mm])
    found.append(Outline("label", at[None], closed=False, words=str(run.number)))
    return found


def _path(start: Pad, end: Pad, aside_mm: float, size_mm: float) -> FloatArray:
    """From pad to pad along both axes, moved aside; a lead comes in as a stub, since the supply stands anywhere."""
    last = np.array(end.place_mm) + aside_mm
    if not start.piece:
        return np.array([last - np.array([_STUB / _SIGN * size_mm, 0.0]), last])
    first = np.array(start.place_mm) + aside_mm
    return np.array([first, [first[0], last[1]], last])


def _sign(role: OutlineRole, at: FloatArray, size_mm: float) -> list[Outline]:
    """A cross for plus, a ring with a bar for minus: distinguishable without colour."""
    across = np.array([[-size_mm, 0.0], [size_mm, 0.0]])
    if role == "plus":
        return [Outline(role, at + across, closed=False), Outline(role, at + across[:, ::-1], closed=False)]
    turn = np.linspace(0.0, 2.0 * np.pi, 17)[:-1]
    ring = size_mm * np.stack([np.cos(turn), np.sin(turn)], axis=1)
    return [Outline(role, at + ring), Outline(role, at + across * 0.6)]  # both closed: only wires are broken
