"""How far the light of an edge-lit face gets from its rim to its middle."""

import numpy as np

from gauze.core.design.edge_lit import EdgeLit
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.words import Fixed, Percent, say

GOOD_SHARE, FAIR_SHARE = 0.70, 0.45  # of the light near the lit rims in the middle; common practice, no source
_NEAR = 0.08  # of the way across, from a lit rim
_ABOUT = 0.05  # of the width about the middle that is averaged


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the middle against what is near the lit rims, along the middle line across the bars."""
    build = evaluation.design.build_as(EdgeLit)
    lines = [line for line, is_lit in _lines(build, evaluation) if is_lit]
    share = min(_share(line) for line in lines)
    state = State.GOOD if share >= GOOD_SHARE else State.WATCH if share >= FAIR_SHARE else State.FAILS
    words = {
        State.GOOD: say("Light fills the face"),
        State.WATCH: say("The middle is dimmer"),
        State.FAILS: say("The middle is dark"),
    }[state]
    return [
        Finding(
            code="rim",
            place="soften",
            state=state,
            sentence=say("{words}: it has {share} of what is near the lit rims.", words=words, share=Percent(share)),
            value=share,
            unit="",
            limit=GOOD_SHARE,
            figures=(
                Figure(
                    say("Middle over rim"),
                    Fixed(share, ".2f"),
                    say(
                        "luminance in the middle over that at {near} of the way from the lit rims, along the middle "
                        "lines",
                        near=Percent(_NEAR),
                    ),
                    say("limits: common practice, no source"),
                ),
            ),
            fixable=state is not State.GOOD,
        )
    ]


def _lines(build: EdgeLit, evaluation: Evaluation) -> list[tuple[np.ndarray, bool]]:
    """Luminance along the two middle lines, and whether bars lie at their ends."""
    light = evaluation.luminance_cd_m2.astype(float)
    rows, columns = light.shape
    up, across = light[:, _middle(columns)].mean(axis=1), light[_middle(rows)].mean(axis=0)
    along_width = (build.width_mm >= build.height_mm) == (build.sides == "long")
    return [(up, build.sides == "four" or along_width), (across, build.sides == "four" or not along_width)]


def _middle(count: int) -> slice:
    """The indices of the middle part of a line of places, at least one."""
    first = min(round(count * (0.5 - _ABOUT)), count - 1)
    return slice(first, max(round(count * (0.5 + _ABOUT)), first + 1))


def _share(line: np.ndarray) -> float:
    count = len(line)
    near = int(_NEAR * count)
    middle = float(line[_middle(count)].mean())
    rim = float(max(line[near], line[-1 - near]))
    return middle / rim if rim > 0 else 0.0
