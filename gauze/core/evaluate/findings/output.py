"""How much of the light gets out."""

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.evaluate.light import CavityFaceLight
from gauze.core.units import LengthUnit, format_number

_GLARE_REGULAR_SHARE = 0.2  # of the incident light: from here on the bare LEDs are plainly seen


def find(evaluation: Evaluation, unit: LengthUnit) -> list[Finding]:
    """Note flux and efficiency; warn of eyes behind a clear sheet."""
    del unit  # no length in it
    flux, diffuser = evaluation.output, evaluation.diffuser
    bare = diffuser.regular >= _GLARE_REGULAR_SHARE or not diffuser.layers
    sentence = f"{format_number(flux.out_lm)} lm leave the face, {flux.efficiency:.0%} of what the LEDs give."
    lit = "sheet" if diffuser.layers else "wall"
    return [
        Finding(
            code="output",
            place="aim",
            state=State.NOTE,
            sentence=sentence,
            value=flux.out_lm,
            unit="lm",
            limit=None,
            figures=(
                Figure("Emitted", f"{format_number(flux.emitted_lm)} lm", _emitted_how(evaluation)),
                Figure(
                    f"On the {lit}, directly",
                    f"{format_number(flux.direct_lm)} lm",
                    "the rest falls elsewhere first",
                ),
                Figure(f"On the {lit} in total", f"{format_number(flux.lid_lm)} lm", "direct and bounced"),
                Figure(
                    "Out",
                    f"{format_number(flux.out_lm)} lm",
                    f"× transmittance {diffuser.transmittance:.2g}"
                    if diffuser.layers
                    else "from the walls into the open",
                    diffuser.source,
                ),
            ),
            cautions=(Caution.EYES,) if bare else (),
        )
    ]


def _emitted_how(evaluation: Evaluation) -> str:
    light = evaluation.light
    if isinstance(light, CavityFaceLight) and light.layout.channel is None:
        return f"{light.layout.emitter_count} emitters as given × level {light.layout.level:.0%}"
    return "lm/m of the strips × length × level, typical"
