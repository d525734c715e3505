"""Layers of power over the plan: how much light each stretch of the pieces gives, and what flows in the wires."""

import itertools

import numpy as np

from gauze.core.drawing.layer import Layer, Legend
from gauze.core.electrical.power import PiecePower, Power
from gauze.core.electrical.wire_list import Run, runs_of
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import Piece, StripPiece
from gauze.core.layout.sketch import Outline, OutlineRole
from gauze.core.words import Number, Percent, Text, say

_MOST_LABELS = 200  # the most telling ones; where they would cover each other, fewer are painted
_GRADES: tuple[tuple[float, OutlineRole, Text], ...] = (
    (0.90, "light-full", say("90 % of the label's light or more")),
    (0.75, "light-fair", say("75 to 90 %")),
    (0.50, "light-poor", say("50 to 75 %")),
    (0.00, "light-least", say("less than half")),
)
_FED: tuple[OutlineRole, Text] = ("supply", say("feed; click on a cut mark to change it"))
_LIFT_MM = 6.0  # of a label from its piece


def grade_of(share: float) -> OutlineRole:
    """Return the role in which a share of the label's light is drawn."""
    return next(role for least, role, _ in _GRADES if share >= least or least == 0.0)


def light_along(pieces: tuple[Piece, ...], power: Power) -> Layer:
    """Every piece by the light that its segments give, the least of their channels, with volts at its dimmest place."""
    shapes: list[Outline] = []
    for piece, own in zip(pieces, power.pieces, strict=True):
        shapes += _stretches(piece, own)
    dimmest_first = sorted(zip(pieces, power.pieces, strict=True), key=lambda pair: float(pair[1].share.min()))
    shapes += [_told(piece, own) for piece, own in dimmest_first[:_MOST_LABELS]]
    fed = [one.wire.end for one in power.wires if one.wire.conductor == "+" and not one.wire.start.piece]
    shapes += [Outline("supply", np.array([pad.place_mm]), closed=False) for pad in fed]
    entries = tuple((role, words) for _, role, words in _GRADES)
    label: tuple[OutlineRole, Text] = ("label", say("least volts; light of the weakest colour"))
    return Layer("drop", say("Light along the pieces"), tuple(shapes), Legend((*entries, _FED, label)))


def _stretches(piece: Piece, own: PiecePower) -> list[Outline]:
    share = own.share.min(axis=1)
    if not isinstance(piece, StripPiece):
        return [Outline(grade_of(float(share[0])), np.array([piece.place_mm[:2]]), closed=False)]
    start, end = np.array(piece.start_mm[:2]), np.array(piece.end_mm[:2])
    found = []
    first = 0
    for role, run in itertools.groupby(grade_of(float(value)) for value in share):
        last = first + len(list(run))
        ends = start + (end - start) * np.array([[first], [last]]) / len(share)
        found.append(Outline(role, ends, closed=False))
        first = last
    return found


def _told(piece: Piece, own: PiecePower) -> Outline:
    share = own.share.min(axis=1)
    dim = int(share.argmin())
    at = _place(piece, (dim + 0.5) / len(share))
    words = say("{volts} V {share}", volts=Number(float(own.volts_v[dim])), share=Percent(float(share[dim])))
    return Outline("label", (at + np.array([0.0, _LIFT_MM]))[None], closed=False, words=words)


def _place(piece: Piece, along: float) -> FloatArray:
    if not isinstance(piece, StripPiece):
        return np.array(piece.place_mm[:2])
    start, end = np.array(piece.start_mm[:2]), np.array(piece.end_mm[:2])
    return np.asarray(start + (end - start) * along)


def wires_in_plan(_pieces: tuple[Piece, ...], power: Power) -> Layer:
    """Every run of wires: a dot where one from the supply comes in, a line from pad to pad; with its number and amps."""
    runs = sorted(runs_of(power), key=lambda run: -run.current_a)
    shapes = [shape for index, run in enumerate(runs) for shape in _run(run, labelled=index < _MOST_LABELS)]
    legend = Legend(
        (
            ("supply", say("wires: a dot where one comes from the supply")),
            ("label", say("number of the wires, and amps with everything on")),
        )
    )
    return Layer("amps", say("Amps in the wires"), tuple(shapes), legend)


def _run(run: Run, *, labelled: bool) -> list[Outline]:
    ends = [run.start, run.end] if run.start.piece else [run.end]
    points = np.array([pad.place_mm for pad in ends])
    found = [Outline("supply", points, closed=False)]
    if labelled:
        words = say("{number}: {amps} A", number=run.number, amps=Number(run.current_a))
        at = points.mean(axis=0) - np.array([0.0, _LIFT_MM])
        found.append(Outline("label", at[None], closed=False, words=words))
    return found
