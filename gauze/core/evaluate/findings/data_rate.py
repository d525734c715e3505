"""How many pixels, and how many pictures a second get through one line?"""

from functools import partial

from gauze.core.electrical.data_line import (
    BIT_S,
    LATCH_S,
    SOURCE,
    PixelRun,
    branches_of,
    bytes_of,
    lines_for,
    picture_s,
    pixel_runs,
)
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.lazy import Lazy
from gauze.core.parts.joining import carries_data
from gauze.core.words import Fixed, Number, say

SMOOTH = 30.0  # pictures a second; common practice, no source


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the line that the data take; nothing for a build without pixels."""
    if not any(carries_data(piece) for piece in evaluation.layout.pieces):
        return []
    joints = evaluation.network.joints
    runs = pixel_runs(evaluation.layout.pieces, joints)
    if not runs:
        return []
    controller = evaluation.network.wiring.controller
    own_lines = 1 if controller is None else controller.outputs
    rate = 1.0 / picture_s(runs, own_lines)
    count = runs[-1].last + 1
    on_lines = say("one data line") if own_lines == 1 else say("{lines} data lines", lines=own_lines)
    if rate >= SMOOTH:
        state = State.GOOD
        sentence = say(
            "{count} pixels on {on_lines}: up to {rate} pictures a second.",
            count=count,
            on_lines=on_lines,
            rate=Fixed(rate, ".0f"),
        )
    else:
        state = State.WATCH
        sentence = say(
            "{count} pixels on {on_lines}: {rate} pictures a second; {lines} lines reach {smooth}.",
            count=count,
            on_lines=on_lines,
            rate=Number(rate),
            lines=lines_for(runs, SMOOTH),
            smooth=Fixed(SMOOTH, ".0f"),
        )
    branches = branches_of(joints)
    if branches:
        sentence += say(
            " The data branch {times} times: lead a return line back, or both branches show the same.",
            times=len(branches),
        )
    return [
        Finding(
            code="data rate",
            place="feed",
            state=state,
            sentence=sentence,
            value=rate,
            unit="1/s",
            limit=SMOOTH,
            figures=Lazy(partial(_figures, runs, own_lines)),
        )
    ]


def _figures(runs: tuple[PixelRun, ...], lines: int) -> list[Figure]:
    return [
        Figure(
            say("One picture"),
            say("{ms} ms", ms=Number(1000.0 * picture_s(runs, lines))),
            say(
                "bits × {bit} µs, then {latch} µs of silence",
                bit=Number(1e6 * BIT_S),
                latch=Number(1e6 * LATCH_S),
            ),
            say(SOURCE),
        ),
        Figure(
            say("Memory"),
            say("{bytes} bytes", bytes=bytes_of(runs)),
            say("one for each colour of each pixel; a controller holds one or two pictures"),
        ),
        Figure(
            say("First pixel"),
            say("short lead, level shifter"),
            say(
                "5 V pixels take data of 3.5 V or more: shift the level of a 3.3 V controller, put some 330 Ω in series at it, "
                "and keep the line to the first pixel under a few metres"
            ),
            say("common practice, no source"),
        ),
    ]
