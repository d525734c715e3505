"""Do the joints of a box hold: screws that miss each other and bite, boards that do not split, a sheet that stays put?"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.families import box_in, parts_of
from gauze.core.lazy import Lazy
from gauze.core.parts import Fixing, Parts
from gauze.core.parts.frame.hardware import BACK_EVERY_MM, PILOT_SHARE, STANDS, clashes
from gauze.core.parts.frame.joinery import EXPANSION_PER_K, GROOVE_PLAY_MM, WARMING_K, Box, play_mm
from gauze.core.words import Fixed, Length, Percent, Text, say

BITE_LONG_GRAIN, BITE_END_GRAIN = 2.5, 4.0  # sizes of a screw that its thread is in wood; common practice, no source
SPLIT_SHARE = (
    1.0 / 3.0
)  # of a board's thickness, from which on a screw in its edge splits it; common practice, no source
LEAST_HELD_MM = 2.0  # of a sheet in its groove when it is cold; common practice, no source
_TIP_MM = 2.0  # of wood over the tip of a screw
_PRACTICE = say("common practice, no source")


@dataclass(frozen=True)
class Fault:
    """What is wrong with the joints, how bad it is, and by what value against what limit."""

    state: State
    sentence: Text
    value: float
    limit: float
    of_screws: bool = False


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the joints of a box whose boards have a thickness."""
    box = box_in(evaluation.design, evaluation.layout, evaluation.catalogue)
    if box is None:
        return []
    parts = parts_of(evaluation.design, evaluation.layout, evaluation.catalogue)
    faults = sorted(faults_of(parts, box), key=lambda one: one.state is not State.FAILS)
    worst = faults[0] if faults else None
    sentence = worst.sentence if worst is not None else _good(parts, box)
    for other in faults[1:]:
        sentence = say("{first} {second}", first=sentence, second=other.sentence)
    return [
        Finding(
            code="frame",
            place="make",
            state=State.GOOD if worst is None else worst.state,
            sentence=sentence,
            value=0.0 if worst is None else worst.value,
            unit="mm",
            limit=None if worst is None else worst.limit,
            figures=Lazy(partial(_figures, parts, box)),
            fixable=any(one.of_screws for one in faults),
        )
    ]


def faults_of(parts: Parts, box: Box) -> list[Fault]:
    """Return everything that is wrong with the joints of a box."""
    return [*_clash(parts), *_screws(parts, box), *_seat(box), *_stand(box)]


def _clash(parts: Parts) -> Iterator[Fault]:
    pairs = clashes(parts.fixings)
    if pairs:
        first, second = pairs[0]
        words = say(
            "Screws meet inside the wood: {one} and {other}, and {count} more pairs. Take shorter ones.",
            count=len(pairs) - 1,
            one=first.id,
            other=second.id,
        )
        if len(pairs) == 1:
            words = say(
                "Screws meet inside the wood: {one} and {other}. Take shorter ones.", one=first.id, other=second.id
            )
        yield Fault(State.FAILS, words, float(len(pairs)), 0.0, of_screws=True)


def _screws(parts: Parts, box: Box) -> Iterator[Fault]:
    screws = [one for one in parts.fixings if one.kind == "screw"]
    if not screws:
        return
    thick, long = screws[0].diameter_mm, screws[0].length_mm
    if thick > SPLIT_SHARE * box.wall_mm:
        words = say(
            "A screw of {thick} splits the edge of a board of {board}: a third of it is the most.",
            thick=Length(thick),
            board=Length(box.wall_mm),
        )
        yield Fault(State.WATCH, words, thick, SPLIT_SHARE * box.wall_mm, of_screws=True)
    top_mm = box.depth_mm - _TIP_MM
    if long - box.back_mm > top_mm:
        words = say(
            "Screws of {long} through the back come out at the front edge of the boards: {most} is the longest.",
            long=Length(long),
            most=Length(box.back_mm + top_mm),
        )
        yield Fault(State.FAILS, words, long, box.back_mm + top_mm, of_screws=True)
    for ways, through, factor in (("back", box.back_mm, BITE_LONG_GRAIN), ("corner", box.wall_mm, BITE_END_GRAIN)):
        if not any((one.through == "back") == (ways == "back") for one in screws):
            continue
        bite = long - through
        if bite < factor * thick:
            words = say(
                "Screws of {long} hold by only {bite} behind a board of {board}: {least} are required.",
                long=Length(long),
                bite=Length(round(max(bite, 0.0), 1)),
                board=Length(through),
                least=Length(round(factor * thick, 1)),
            )
            state = State.FAILS if bite < factor * thick / 2.0 else State.WATCH
            yield Fault(state, words, bite, factor * thick, of_screws=True)
            return


def held_mm(box: Box) -> float:
    """How far a cold sheet, pushed to one side of its play, still reaches into its groove on the other."""
    size = float(np.ptp(box.inner_mm, axis=0).max()) + 2.0 * box.seat_mm
    return box.seat_mm - play_mm(size)


def _seat(box: Box) -> Iterator[Fault]:
    if box.frame.seat not in ("groove", "rebate"):
        return
    held = held_mm(box)
    if held < LEAST_HELD_MM:
        words = say(
            "In boards of {board} the sheet is held by only {held} when it is cold: take thicker boards or ledges.",
            board=Length(box.wall_mm),
            held=Length(round(max(held, 0.0), 1)),
        )
        yield Fault(State.FAILS if held <= 0.0 else State.WATCH, words, held, LEAST_HELD_MM)


def _stand(box: Box) -> Iterator[Fault]:
    if box.frame.stand == "none":
        return
    _, hole, long = STANDS[box.frame.stand]
    if hole > box.depth_mm - 2.0 * _TIP_MM:
        words = say(
            "The insert for a stand has a hole of {hole}, the board is {depth} high: there is no room for it.",
            hole=Length(hole),
            depth=Length(box.depth_mm),
        )
        yield Fault(State.FAILS, words, hole, box.depth_mm - 2.0 * _TIP_MM)
    elif long > box.wall_mm:
        words = say(
            "The insert for a stand is {long} long, the board {board} thick: glue a block behind it.",
            long=Length(long),
            board=Length(box.wall_mm),
        )
        yield Fault(State.WATCH, words, long, box.wall_mm)


def _good(parts: Parts, box: Box) -> Text:
    screws = sum(one.kind == "screw" for one in parts.fixings)
    if screws:
        return say(
            "The box fits together: {count} screws of {thick} × {long} miss each other and hold.",
            count=screws,
            thick=Length(box.frame.screw_mm or 0.0),
            long=Length(box.frame.screw_long_mm),
        )
    return say("The box fits together, glued, with boards of {board}.", board=Length(box.wall_mm))


def _figures(parts: Parts, box: Box) -> list[Figure]:
    size = float(np.ptp(box.inner_mm, axis=0).max())
    found = [
        Figure(
            say("Play of the sheet"),
            Length(round(play_mm(size), 2)),
            say(
                "{size} long, {share} mm for each metre and kelvin, warmed by {warming} K",
                size=Length(round(size, 1)),
                share=Fixed(1000.0 * EXPANSION_PER_K, "g"),
                warming=Fixed(WARMING_K, "g"),
            ),
            say("expansion of acrylic: typical, from memory; the warming: common practice, no source"),
        )
    ]
    if box.seat_mm:
        found.append(
            Figure(
                say("Groove or rebate"),
                say(
                    "{deep} deep, {wide} wide",
                    deep=Length(round(box.seat_mm, 1)),
                    wide=Length(round(box.sheet_mm + (GROOVE_PLAY_MM if box.frame.seat == "groove" else 0.0), 1)),
                ),
                say(
                    "half of the board at most; cold, the sheet is held by {held}", held=Length(round(held_mm(box), 1))
                ),
                _PRACTICE,
            )
        )
    found += list(_screw_figures(parts.fixings, box))
    return found


def _screw_figures(fixings: Sequence[Fixing], box: Box) -> Iterator[Figure]:
    screws = [one for one in fixings if one.kind == "screw"]
    if not screws:
        return
    first = screws[0]
    yield Figure(
        say("Screws"),
        say(
            "{count} of {thick} × {long}",
            count=len(screws),
            thick=Length(first.diameter_mm),
            long=Length(first.length_mm),
        ),
        say("at the corners by the height of the boards, along the back every {every}", every=Length(BACK_EVERY_MM)),
        _PRACTICE,
    )
    yield Figure(
        say("Pilot holes"),
        Length(first.pilot_mm or 0.0),
        say("{share} of the screw, to the next half millimetre", share=Percent(PILOT_SHARE)),
        say("typical, from memory; hardwood and fibreboard need half a millimetre more"),
    )
    for name, through, factor in (
        (say("Thread behind the back"), box.back_mm, BITE_LONG_GRAIN),
        (say("Thread behind a board"), box.wall_mm, BITE_END_GRAIN),
    ):
        yield Figure(
            name,
            Length(round(first.length_mm - through, 1)),
            say(
                "length less {through}; {least} required, {factor} times its thickness",
                through=Length(through),
                least=Length(round(factor * first.diameter_mm, 1)),
                factor=Fixed(factor, "g"),
            ),
            _PRACTICE,
        )
