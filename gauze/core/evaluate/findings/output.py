"""How much of the light gets out."""

from functools import partial

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.evaluate.light import CavityFaceLight
from gauze.core.lazy import Lazy
from gauze.core.words import Fixed, Number, Percent, Text, say

_GLARE_REGULAR_SHARE = 0.2  # of the incident light: from here on the bare LEDs are plainly seen


def find(evaluation: Evaluation) -> list[Finding]:
    """Note flux and efficiency; warn of eyes behind a clear sheet."""
    flux, diffuser = evaluation.output, evaluation.diffuser
    bare = diffuser.regular >= _GLARE_REGULAR_SHARE or not diffuser.layers
    spread = evaluation.spread
    out: Text = Number(flux.out_lm)
    if spread is not None:
        out = say("{value} ± {spread}", value=out, spread=Number(flux.out_lm * spread.share, 2))
    sentence = say(
        "{out} lm leave the face, {efficiency} of what the LEDs give.",
        out=out,
        efficiency=Percent(flux.efficiency),
    )
    return [
        Finding(
            code="output",
            place="aim",
            state=State.NOTE,
            sentence=sentence,
            value=flux.out_lm,
            unit="lm",
            limit=None,
            figures=Lazy(partial(_figures, evaluation)),
            cautions=(Caution.EYES,) if bare else (),
            spread=None if spread is None else flux.out_lm * spread.share,
        )
    ]


def _figures(evaluation: Evaluation) -> tuple[Figure, ...]:
    flux, diffuser, spread = evaluation.output, evaluation.diffuser, evaluation.spread
    lit = say("sheet") if diffuser.layers else say("wall")
    return (
        Figure(say("Emitted"), say("{emitted} lm", emitted=Number(flux.emitted_lm)), _emitted_how(evaluation)),
        Figure(
            say("On the {lit}, directly", lit=lit),
            say("{direct} lm", direct=Number(flux.direct_lm)),
            say("the rest falls elsewhere first"),
        ),
        Figure(
            say("On the {lit} in total", lit=lit), say("{lid} lm", lid=Number(flux.lid_lm)), say("direct and bounced")
        ),
        Figure(
            say("Out"),
            say("{out} lm", out=Number(flux.out_lm)),
            say("× transmittance {transmittance}", transmittance=Fixed(diffuser.transmittance, ".2g"))
            if diffuser.layers
            else say("from the walls into the open"),
            diffuser.source,
        ),
        *(() if spread is None else (spread.figure(),)),
    )


def _emitted_how(evaluation: Evaluation) -> Text:
    light = evaluation.light
    if isinstance(light, CavityFaceLight) and light.layout.channel is None:
        return say(
            "{emitter_count} emitters as given × level {level}",
            emitter_count=light.layout.emitter_count,
            level=Percent(light.layout.level),
        )
    return say("lm/m of the strips × length × level, typical")
