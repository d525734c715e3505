"""Does a sheet that rests on its rim carry itself, and how far does a hand bend it?"""

from functools import partial

import numpy as np

from gauze.core.design.cavity import BaffledShape, BoxShape, PrismShape
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.evaluate.findings.sag import HAND_N, POISSON, concentrated_factor
from gauze.core.lazy import Lazy
from gauze.core.materials import Diffuser
from gauze.core.words import Fixed, Length, Text, say

SEEN_SHARE = 1.0 / 200.0  # of the shorter span, from which on a lit face looks hollow; common practice, no source
_G = 9.81
_SLENDER = (1.0, 1.2, 1.4, 1.6, 1.8, 2.0, 3.0, 4.0, 1e6)  # longer over shorter side
_UNIFORM = (0.00406, 0.00564, 0.00705, 0.00830, 0.00931, 0.01013, 0.01223, 0.01282, 0.01302)
_SOURCE = say(
    "S. P. Timoshenko, S. Woinowsky-Krieger, Theory of Plates and Shells, simply supported rectangular plates, from memory"
)


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the largest flat sheet that rests on nothing but its rim."""
    span = span_mm(evaluation)
    layers = evaluation.diffuser.layers
    if span is None or not layers:
        return []
    stiff = [one for one in layers if one.young_n_mm2 > 0]
    where = evaluation.design.surroundings
    lying = where is not None and where.stance != "upright"
    shorter, longer = span
    if not stiff:
        return [_limp(shorter, layers)]
    sag = own_sag_mm(shorter, longer, stiff) if lying else 0.0
    hand = hand_sag_mm(shorter, longer, stiff)
    room = _room_mm(evaluation)
    limit = SEEN_SHARE * shorter
    words: dict[str, Text] = {
        "sag": Length(round(sag, 2)),
        "hand": Length(round(hand, 1)),
        "span": Length(round(shorter, 1)),
        "room": Length(round(room, 1)),
    }
    if sag > limit:
        state = State.FAILS if sag > 2.0 * limit else State.WATCH
        sentence = say("Lying, the sheet sags by {sag} over {span}: the face looks hollow.", **words)
    elif hand > room:
        state = State.WATCH
        sentence = say(
            "A hand on the sheet bends it by {hand}, onto the LEDs {room} below: keep hands off, or use a thicker one.",
            **words,
        )
    else:
        state = State.GOOD
        sentence = say("The sheet carries itself over {span}; a hand bends it by {hand}.", **words)
    return [
        Finding(
            code="sheet span",
            place="soften",
            state=state,
            sentence=sentence,
            value=max(sag, 0.0) if sag > limit else hand,
            unit="mm",
            limit=limit if sag > limit else room,
            figures=Lazy(partial(_figures, span, stiff, (sag, hand), lying=lying)),
        )
    ]


def span_mm(evaluation: Evaluation) -> tuple[float, float] | None:
    """Shorter and longer side of what a flat sheet spans; None where there is none, or partitions carry it."""
    shape = evaluation.layout.cavity.shape
    if isinstance(shape, BoxShape):
        wide, high = shape.width_mm, shape.height_mm
    elif isinstance(shape, PrismShape):
        wide, high = np.ptp(np.array(shape.corners_mm), axis=0).tolist()
    elif isinstance(shape, BaffledShape):
        if shape.gap_below_mm + shape.partition_height_mm > shape.depth_mm - 0.5:
            return None
        wide, high = shape.columns * shape.pitch_x_mm, shape.rows * shape.pitch_y_mm
    else:
        return None
    return min(wide, high), max(wide, high)


def _limp(span: float, layers: tuple[Diffuser, ...]) -> Finding:
    names = " + ".join(layer.name for layer in layers)
    return Finding(
        code="sheet span",
        place="soften",
        state=State.NOTE,
        sentence=say("“{names}” does not carry itself: stretch it, or lay it on a clear sheet.", names=names),
        value=span,
        unit="mm",
        limit=None,
        figures=(),
    )


def _room_mm(evaluation: Evaluation) -> float:
    """From the LEDs to the sheet."""
    cavity = evaluation.layout.cavity
    depth: float = cavity.shape.depth_mm  # type: ignore[union-attr]  # only of the shapes that a flat sheet closes
    return depth - float(cavity.places_mm[:, 2].max(initial=0.0))


def rigidity_n_mm(layers: list[Diffuser]) -> float:
    """Flexural rigidity of loose layers: D = E t³ / 12(1 − ν²) each, added as they bend together but slide on each other."""
    return sum(one.young_n_mm2 * one.thickness_mm**3 for one in layers) / (12.0 * (1.0 - POISSON**2))


def own_sag_mm(shorter_mm: float, longer_mm: float, layers: list[Diffuser]) -> float:
    """Sag of a level plate on four sides under its own weight: w = α q a⁴ / D."""
    load_n_mm2 = sum(one.density_kg_m3 * one.thickness_mm for one in layers) * 1e-9 * _G
    factor = float(np.interp(longer_mm / shorter_mm, _SLENDER, _UNIFORM))
    return factor * load_n_mm2 * shorter_mm**4 / rigidity_n_mm(layers)


def hand_sag_mm(shorter_mm: float, longer_mm: float, layers: list[Diffuser]) -> float:
    """Sag of a plate on four sides under a hand in its middle: w = α F a² / D."""
    return concentrated_factor(shorter_mm, longer_mm) * HAND_N * shorter_mm**2 / rigidity_n_mm(layers)


def _figures(
    span: tuple[float, float], layers: list[Diffuser], sags: tuple[float, float], *, lying: bool
) -> list[Figure]:
    thick = _layers_words(layers)
    return [
        Figure(
            say("Under its own weight"),
            Length(round(sags[0], 3)),
            say("w = α q a⁴ / D: a plate that rests on four sides, {layers}", layers=thick)
            if lying
            else say("it stands upright, where its weight does not bend it"),
            _SOURCE,
        ),
        Figure(
            say("Under a hand"),
            Length(round(sags[1], 2)),
            say(
                "w = α F a² / D, {hand} N in its middle, {layers}; small deflections, so a little too much",
                hand=Fixed(HAND_N, "g"),
                layers=thick,
            ),
            _SOURCE,
        ),
        Figure(
            say("Allowed sag"),
            Length(round(SEEN_SHARE * span[0], 2)),
            say("a two-hundredth of the shorter span"),
            say("common practice, no source"),
        ),
    ]


def _layers_words(layers: list[Diffuser]) -> Text:
    return say(
        "E = {young} N/mm², {thick} thick",
        young=" + ".join(f"{one.young_n_mm2:g}" for one in layers),
        thick=Length(sum(one.thickness_mm for one in layers)),
    )
