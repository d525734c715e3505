"""Does the picture hold the light that was computed? Where it cannot, its figures are not to be trusted."""

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.units import LengthUnit, format_length

CODE = "drawn"
MOST_ERROR, FAILING_ERROR = 0.02, 0.05  # of the flux on the face; beyond the last no figure of the face is told


def find(evaluation: Evaluation, unit: LengthUnit) -> list[Finding]:
    """Say when the map misses flux, or when light is sharper than its pixels; nothing otherwise, nor while a hand drags."""
    if evaluation.detail.fineness < 1.0:
        return []
    error, unresolved = evaluation.light.map_error, evaluation.light.unresolved
    if abs(error) <= MOST_ERROR and not unresolved:
        return []
    step_mm = float(evaluation.x_mm[1] - evaluation.x_mm[0])
    pixel = format_length(step_mm, unit)
    if abs(error) > FAILING_ERROR:
        state = State.FAILS
        sentence = (
            f"The light map is wrong: it holds {1.0 + error:.0%} of the computed flux. Figures taken from it are left out. "
            "Check for LEDs that almost touch the face, or make the build smaller."
        )
    elif abs(error) > MOST_ERROR:
        state = State.WATCH
        sentence = f"The light map is approximate: it holds {1.0 + error:.1%} of the computed flux."
    else:
        state = State.WATCH
        count = "One LED is" if unresolved == 1 else f"{unresolved} LEDs are"
        sentence = (
            f"{count} too close to the face, or too narrow in beam, for pixels of {pixel}: the real spot is brighter and smaller "
            "than shown."
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
                    "Map against balance",
                    f"{100.0 * error:+.2f} %",
                    "flux summed over the pixels of the inner face, over that of the balance of the whole body, less one",
                    "both computed",
                ),
                Figure(
                    "Sharper than a pixel",
                    f"{unresolved}",
                    f"LEDs within one and a half pixels ({format_length(1.5 * step_mm, unit)}) of the face, or with a spot "
                    "narrower than a pixel: drawn as wide as pixels can hold, with their whole flux",
                ),
            ),
        )
    ]


def is_true(evaluation: Evaluation) -> bool:
    """Whether figures that are read off the picture may be told."""
    return evaluation.detail.fineness < 1.0 or abs(evaluation.light.map_error) <= FAILING_ERROR
