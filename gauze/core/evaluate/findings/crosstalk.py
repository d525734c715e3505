"""Does a cell's light stay in its cell, and is each cell even?"""

import numpy as np

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.evaluate.light import CavityFaceLight
from gauze.core.optics.crosstalk import FIELD
from gauze.core.words import Fixed, Length, Percent, say

GOOD_SHARE, FAIR_SHARE = 0.03, 0.10  # of the lit cell's light in one beside it; common practice, no source
GOOD_CELL_EVENNESS = 0.50  # least over mean within a cell, its rim included; common practice, no source


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the light that one lit cell sends into its neighbours; nothing where there are no cells."""
    light = evaluation.light
    if not isinstance(light, CavityFaceLight) or light.crosstalk is None:
        return []
    return [_crosstalk(light), _cells(light)]


def _crosstalk(light: CavityFaceLight) -> Finding:
    found = light.crosstalk
    assert found is not None
    state = State.GOOD if found.beside <= GOOD_SHARE else State.WATCH if found.beside <= FAIR_SHARE else State.FAILS
    words = {
        State.GOOD: say("Cells keep their light"),
        State.WATCH: say("Some light crosses"),
        State.FAILS: say("Light spills over"),
    }[state]
    box = light.layout.surface
    gaps = say(
        "gap {below} below the partitions, {above} above",
        below=Length(getattr(box, "low_mm", 0.0)),
        above=Length(box.section[:, 1].max() - getattr(box, "high_mm", 0.0)),
    )
    spread = Length(light.diffuser.sideways_spread_mm)
    return Finding(
        code="crosstalk",
        place="soften",
        state=state,
        sentence=say(
            "{words}: a cell next to a lit one shows {beside} of its light, one across the corner {diagonal}.",
            words=words,
            beside=Percent(found.beside, 1),
            diagonal=Percent(found.diagonal, 1),
        ),
        value=found.beside,
        unit="",
        limit=GOOD_SHARE,
        figures=(
            Figure(
                say("Beside"),
                Percent(found.beside, 2),
                say(
                    "mean luminance of the cell beside over that of the lit one (column {column}, row {row}) "
                    "when it alone is lit; {good_share} is crisp, {fair_share} obvious; {gaps}",
                    column=found.column + 1,
                    row=found.row + 1,
                    good_share=Percent(GOOD_SHARE),
                    fair_share=Percent(FAIR_SHARE),
                    gaps=gaps,
                ),
                say("limits: common practice, no source"),
            ),
            Figure(
                say("Across the corner"),
                Percent(found.diagonal, 2),
                say("the same for the cell diagonally next"),
            ),
            Figure(
                say("Brightest place of a neighbour"),
                Percent(found.worst, 1),
                say("of the lit cell's mean: a bright rim is a light leak"),
            ),
            Figure(
                say("Sideways in the sheet"),
                spread,
                say("standard deviation of where light leaves, about its thickness"),
            ),
        ),
    )


def _cells(light: CavityFaceLight) -> Finding:
    found = light.crosstalk
    assert found is not None
    even = found.cell_evenness[np.isfinite(found.cell_evenness)]
    worst = float(even.min())
    state = State.GOOD if worst >= GOOD_CELL_EVENNESS else State.WATCH
    words = say("Every cell is filled with light") if state is State.GOOD else say("Cells are brighter in their middle")
    return Finding(
        code="cell evenness",
        place="soften",
        state=state,
        sentence=say("{words}: the darkest place of one has {worst} of its mean.", words=words, worst=Percent(worst)),
        value=worst,
        unit="",
        limit=GOOD_CELL_EVENNESS,
        figures=(
            Figure(
                say("U0 within a cell"),
                say("{worst}, on average {mean}", worst=Fixed(worst, ".3f"), mean=Fixed(float(even.mean()), ".3f")),
                say(
                    "least over mean of luminance within each of {even} lit cells, averaged over {field} of a cell's side, "
                    "partitions' shadows included",
                    even=len(even),
                    field=Percent(FIELD),
                ),
                say("limit: common practice, no source"),
            ),
        ),
    )
