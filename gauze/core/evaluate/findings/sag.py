"""Does the sheet of an edge-lit face carry a hand over its span?"""

import numpy as np

from gauze.core.design.edge_lit import EdgeLit
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.words import Fixed, Length, say

HAND_N = 10.0  # a resting hand, some kilogram; common practice, no source
YOUNG_N_MM2, POISSON = 3200.0, 0.37  # acrylic, typical, from memory
MOST_SHARE = 1.0 / 50.0  # of the shorter span by which a sheet may sag; common practice, no source
_SLENDER = (1.0, 1.2, 1.4, 1.6, 1.8, 2.0, 3.0)  # longer over shorter side
_FACTOR = (0.01160, 0.01353, 0.01484, 0.01570, 0.01620, 0.01651, 0.01690)


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the deflection under a hand in the middle."""
    build = evaluation.design.build_as(EdgeLit)
    thick = sheet_thickness_mm(evaluation)
    span, longer = sorted((build.width_mm, build.height_mm))
    sag = deflection_mm(span, longer, thick)
    limit = MOST_SHARE * span
    state = State.GOOD if sag <= limit else State.WATCH if sag <= 2.0 * limit else State.FAILS
    words = say("can take the load of a hand") if state is State.GOOD else say("sags too much under a hand")
    needed = thick * (sag / limit) ** (1.0 / 3.0)
    return [
        Finding(
            code="sag",
            place="soften",
            state=state,
            sentence=say(
                "The sheet of {thick} {words}: it bends by {sag} over {span}.",
                thick=Length(thick),
                words=words,
                sag=Length(round(sag, 2)),
                span=Length(span),
            ),
            value=sag,
            unit="mm",
            limit=limit,
            figures=(
                Figure(
                    say("Deflection"),
                    Length(round(sag, 2)),
                    say(
                        "w = α F a² / D, D = E t³ / 12(1 − ν²): a plate that rests on four sides, {hand_n} N in its "
                        "middle; E = {young_n_mm2} N/mm², ν = {poisson} of acrylic, typical; small deflections, so a "
                        "little too much",
                        hand_n=Fixed(HAND_N, "g"),
                        young_n_mm2=Fixed(YOUNG_N_MM2, "g"),
                        poisson=Fixed(POISSON, "g"),
                    ),
                    say(
                        "S. P. Timoshenko, S. Woinowsky-Krieger, Theory of Plates and Shells, concentrated loads, "
                        "from memory"
                    ),
                ),
                Figure(
                    say("Allowed sag"),
                    Length(round(limit, 2)),
                    say("a fiftieth of the shorter span; reached with {needed}", needed=Length(round(needed, 1))),
                    say("limit: common practice, no source"),
                ),
                Figure(
                    say("Thickness that counts"),
                    Length(thick),
                    say("the clear sheet under the diffuser")
                    if build.support_mm
                    else say("the layers of the diffuser together, as one plate"),
                ),
            ),
            fixable=state is not State.GOOD,
        )
    ]


def sheet_thickness_mm(evaluation: Evaluation) -> float:
    """Thickness of what carries the load."""
    return evaluation.design.build_as(EdgeLit).support_mm or evaluation.diffuser.thickness_mm


def deflection_mm(span_mm: float, longer_mm: float, thickness_mm: float) -> float:
    """Deflection of a rectangular plate that rests on four sides under a load in its middle."""
    stiffness = YOUNG_N_MM2 * thickness_mm**3 / (12.0 * (1.0 - POISSON**2))
    return concentrated_factor(span_mm, longer_mm) * HAND_N * span_mm**2 / stiffness


def concentrated_factor(shorter_mm: float, longer_mm: float) -> float:
    """Factor of a load in the middle of a plate that rests on four sides, by its longer over its shorter side."""
    return float(np.interp(longer_mm / shorter_mm, _SLENDER, _FACTOR))
