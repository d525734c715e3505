"""How much of the light gets out."""

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.units import LengthUnit, format_number

_GLARE_REGULAR_SHARE = 0.2  # of the incident light: from here on the bare LEDs are plainly seen


def find(evaluation: Evaluation, unit: LengthUnit) -> list[Finding]:
    """Note flux and efficiency; warn of eyes behind a clear sheet."""
    del unit  # no length in it
    face, light = evaluation.face, evaluation.face.light
    diffuser = face.diffuser
    direct = sum(share.flux_lm * light.grids[share.grid_index].direct_share for share in light.shares)
    bare = diffuser.regular >= _GLARE_REGULAR_SHARE
    sentence = f"{format_number(face.flux_out_lm)} lm leave the face, {face.efficiency:.0%} of what the LEDs give."
    return [
        Finding(
            code="output",
            place="aim",
            state=State.NOTE,
            sentence=sentence,
            value=face.flux_out_lm,
            unit="lm",
            limit=None,
            figures=(
                Figure("Emitted", f"{format_number(light.flux_lm)} lm", "lm/m of the strips × length × level, typical"),
                Figure(
                    "On the sheet, without a bounce", f"{format_number(direct)} lm", "the rest falls on the walls first"
                ),
                Figure("On the sheet in all", f"{format_number(light.lid_flux_lm)} lm", "direct and bounced"),
                Figure(
                    "Out",
                    f"{format_number(face.flux_out_lm)} lm",
                    f"× transmittance {diffuser.transmittance:.2g}",
                    diffuser.layers[0].source,
                ),
            ),
            cautions=(Caution.EYES,) if bare else (),
        )
    ]
