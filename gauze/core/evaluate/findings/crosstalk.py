"""Does a cell's light stay in its cell, and is each cell even?"""

import numpy as np

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.evaluate.light import CavityFaceLight
from gauze.core.units import LengthUnit, format_length

GOOD_SHARE, FAIR_SHARE = 0.03, 0.10  # of the lit cell's light in one beside it; common practice, no source
GOOD_CELL_EVENNESS = 0.50  # least over mean within a cell, its rim included; common practice, no source


def find(evaluation: Evaluation, unit: LengthUnit) -> list[Finding]:
    """Judge the light that one lit cell sends into its neighbours; nothing where there are no cells."""
    light = evaluation.light
    if not isinstance(light, CavityFaceLight) or light.crosstalk is None:
        return []
    return [_crosstalk(light, unit), _cells(light)]


def _crosstalk(light: CavityFaceLight, unit: LengthUnit) -> Finding:
    found = light.crosstalk
    assert found is not None
    state = State.GOOD if found.beside <= GOOD_SHARE else State.WATCH if found.beside <= FAIR_SHARE else State.FAILS
    words = {State.GOOD: "Cells keep their light", State.WATCH: "Some light crosses", State.FAILS: "Light spills over"}[
        state
    ]
    box = light.layout.cavity
    gaps = f"gap {format_length(getattr(box, 'low_mm', 0.0), unit)} below the partitions, "
    gaps += f"{format_length(box.section[:, 1].max() - getattr(box, 'high_mm', 0.0), unit)} above"
    spread = format_length(light.diffuser.sideways_spread_mm, unit)
    return Finding(
        code="crosstalk",
        place="soften",
        state=state,
        sentence=f"{words}: a cell beside a lit one shows {found.beside:.1%} of its light, "
        f"across the corner {found.diagonal:.1%}.",
        value=found.beside,
        unit="",
        limit=GOOD_SHARE,
        figures=(
            Figure(
                "Beside",
                f"{found.beside:.2%}",
                f"mean luminance of the cell beside over that of the lit one (column {found.column + 1}, row {found.row + 1}) "
                f"when it alone is lit; {GOOD_SHARE:.0%} is crisp, {FAIR_SHARE:.0%} obvious; {gaps}",
                "limits: common practice, no source",
            ),
            Figure("Across the corner", f"{found.diagonal:.2%}", "the same for the cell diagonally next"),
            Figure(
                "Brightest place of a neighbour",
                f"{found.worst:.1%}",
                "of the lit cell's mean: a bright rim is a light leak",
            ),
            Figure("Sideways in the sheet", spread, "standard deviation of where light leaves, about its thickness"),
        ),
    )


def _cells(light: CavityFaceLight) -> Finding:
    found = light.crosstalk
    assert found is not None
    even = found.cell_evenness[np.isfinite(found.cell_evenness)]
    worst = float(even.min())
    state = State.GOOD if worst >= GOOD_CELL_EVENNESS else State.WATCH
    words = "Every cell is filled with light" if state is State.GOOD else "Cells are brighter in their middle"
    return Finding(
        code="cell evenness",
        place="soften",
        state=state,
        sentence=f"{words}: the darkest place of one has {worst:.0%} of its mean.",
        value=worst,
        unit="",
        limit=GOOD_CELL_EVENNESS,
        figures=(
            Figure(
                "U0 within a cell",
                f"{worst:.3f}, on average {float(even.mean()):.3f}",
                f"least over mean of luminance within each of {len(even)} lit cells, partitions' shadows included",
                "limit: common practice, no source",
            ),
        ),
    )
