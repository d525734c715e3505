"""Does anything get more volts than it stands?"""

from gauze.core.electrical.loads import OTHERS_STAND, PIXELS_STAND, highest_volts
from gauze.core.electrical.power import kind_of
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.words import Number, Percent, Text, say


def find(evaluation: Evaluation) -> list[Finding]:
    """Return a finding about the piece that gets most over what it is made for, where one gets too much."""
    power = evaluation.network.power
    if power is None:
        return []
    met = [
        (float(own.volts_v.max()) / highest_volts(piece), piece, float(own.volts_v.max()))
        for piece, own in zip(evaluation.layout.pieces, power.pieces, strict=True)
        if own.volts_v.size
    ]
    over, piece, volts = max(met, key=lambda one: one[0], default=(0.0, None, 0.0))
    if piece is None or over <= 1.0:
        return []
    words: dict[str, Text] = {
        "piece": piece.id,
        "volts": Number(volts),
        "made_for": Number(kind_of(piece).volts),
        "highest": Number(highest_volts(piece)),
    }
    return [
        Finding(
            code="over volts",
            place="feed",
            state=State.FAILS,
            sentence=say("{piece} gets {volts} V and is made for {made_for} V: it overheats and soon dies.", **words),
            value=volts,
            unit="V",
            limit=highest_volts(piece),
            figures=(
                Figure(
                    say("It stands"),
                    say("{highest} V", **words),
                    say(
                        "{pixels} of its volts for pixels, {others} for all else",
                        pixels=Percent(PIXELS_STAND),
                        others=Percent(OTHERS_STAND),
                    ),
                    say("common practice, no source"),
                ),
            ),
            fixable=evaluation.network.wiring.supply_volts is not None,
            cautions=(Caution.HEAT,),
        )
    ]
