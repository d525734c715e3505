"""Does the picture hold the light that was computed? Where it cannot, its figures are not to be trusted."""

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.words import Fixed, Length, Percent, say

CODE = "drawn"
MOST_ERROR, FAILING_ERROR = 0.02, 0.05  # of the flux on the face; beyond the last no figure of the face is shown


def find(evaluation: Evaluation) -> list[Finding]:
    """Say when the map misses flux, or when light is sharper than its pixels; nothing otherwise, nor while a hand drags."""
    if evaluation.detail.fineness < 1.0:
        return []
    error, unresolved = evaluation.light.map_error, evaluation.light.unresolved
    if abs(error) <= MOST_ERROR and not unresolved:
        return []
    step_mm = float(evaluation.x_mm[1] - evaluation.x_mm[0])
    pixel = Length(step_mm)
    if abs(error) > FAILING_ERROR:
        state = State.FAILS
        sentence = say(
            "The light map is wrong: it holds {error} of the computed flux. Figures taken from it are "
            "left out. Check for LEDs that almost touch the face, or make the build smaller.",
            error=Percent(1.0 + error),
        )
    elif abs(error) > MOST_ERROR:
        state = State.WATCH
        sentence = say(
            "The light map is approximate: it holds {error} of the computed flux.", error=Percent(1.0 + error, 1)
        )
    else:
        state = State.WATCH
        count = say("One LED is") if unresolved == 1 else say("{unresolved} LEDs are", unresolved=unresolved)
        sentence = say(
            "{count} too close to the face, or too narrow in beam, for pixels of {pixel}: the real spot "
            "is brighter and smaller than shown.",
            count=count,
            pixel=pixel,
        )
    return [
        Finding(
            code=CODE,
            place="lay",
            state=state,
            sentence=sentence,
            value=error,
            unit="",
            limit=MOST_ERROR,
            figures=(
                Figure(
                    say("Map against balance"),
                    say("{error} %", error=Fixed(100.0 * error, "+.2f")),
                    say(
                        "flux summed over the pixels of the inner face, over that of the balance of the whole body, "
                        "less one"
                    ),
                    say("both computed"),
                ),
                Figure(
                    say("Sharper than a pixel"),
                    unresolved,
                    say(
                        "LEDs within one and a half pixels ({step}) of the face, or with a spot narrower than a "
                        "pixel: drawn as wide as pixels can hold, with their whole flux",
                        step=Length(1.5 * step_mm),
                    ),
                ),
            ),
        )
    ]


def is_true(evaluation: Evaluation) -> bool:
    """Whether figures that are read off the picture may be told."""
    return evaluation.detail.fineness < 1.0 or abs(evaluation.light.map_error) <= FAILING_ERROR
