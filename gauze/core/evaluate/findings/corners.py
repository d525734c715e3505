"""Are the corners of a mitred frame dark, or doubled?"""

import numpy as np

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.layout.families.channel_bar import ChannelLayout, Corner
from gauze.core.words import Fixed, Length, Percent, say

GOOD_LOW, GOOD_HIGH = 0.70, 1.30  # of the sides' light at a corner; common practice, no source
FAIR_LOW, FAIR_HIGH = 0.50, 1.60  # common practice, no source


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the corner whose light is farthest from the sides'."""
    corners = evaluation.layout.as_kind(ChannelLayout).corners
    usual = float(np.median(evaluation.luminance_cd_m2[evaluation.inside])) if evaluation.inside.any() else 0.0
    if not corners or usual <= 0.0:
        return []
    shares = [_light_at(evaluation, corner) / usual for corner in corners]
    index = max(range(len(shares)), key=lambda i: abs(np.log(max(shares[i], 1e-6))))
    share, corner = shares[index], corners[index]
    if GOOD_LOW <= share <= GOOD_HIGH:
        state, words = State.GOOD, say("The corners are about as bright as the sides: the one that differs most")
    else:
        state = State.WATCH if FAIR_LOW <= share <= FAIR_HIGH else State.FAILS
        words = (
            say("Corner {index} is dark: it", index=index + 1)
            if share < 1.0
            else say("Corner {index} is too bright: it", index=index + 1)
        )
    between = Length(corner.between_leds_mm)
    return [
        Finding(
            code="corners",
            place="lay",
            state=state,
            sentence=say(
                "{words} has {share} of the sides' light, its LEDs {between} apart round the mitre.",
                words=words,
                share=Percent(share),
                between=between,
            ),
            value=share,
            unit="",
            limit=GOOD_LOW,
            figures=(
                Figure(
                    say("Light at the corner"),
                    Percent(share),
                    say(
                        "mean luminance about the mitre over the median of the face; {good_low} to {good_high} is "
                        "good. The sides are lit with the near ends of those beside them",
                        good_low=Percent(GOOD_LOW),
                        good_high=Percent(GOOD_HIGH),
                    ),
                    say("limits: common practice, no source"),
                ),
                Figure(
                    say("LEDs round the mitre"),
                    between,
                    say(
                        "from the last LED before it to the first after it, along the middle line; the pitch is "
                        "{pitch}",
                        pitch=Length(corner.pitch_mm),
                    ),
                ),
                *(
                    Figure(
                        say("Corner {number}", number=number),
                        Percent(one),
                        say(
                            "turns by {turn}°; each end is cut {turn2}° off square, {turn3}° on a saw that reads from "
                            "the other side",
                            turn=Fixed(abs(at.turn_deg), ".1f"),
                            turn2=Fixed(abs(at.turn_deg) / 2, ".1f"),
                            turn3=Fixed(90.0 - abs(at.turn_deg) / 2, ".1f"),
                        ),
                    )
                    for number, (one, at) in enumerate(zip(shares, corners, strict=True), start=1)
                ),
            ),
            fixable=state is not State.GOOD,
        )
    ]


def _light_at(evaluation: Evaluation, corner: Corner) -> float:
    """Mean luminance of the face about a corner, within half of the pitch."""
    reach = max(corner.pitch_mm / 2.0, 2.0 * float(evaluation.x_mm[1] - evaluation.x_mm[0]))
    columns, rows = (
        slice(*np.searchsorted(middles_mm, [at_mm - reach, at_mm + reach]))
        for middles_mm, at_mm in ((evaluation.x_mm, corner.x_mm), (evaluation.y_mm, corner.y_mm))
    )
    x, y = np.meshgrid(evaluation.x_mm[columns] - corner.x_mm, evaluation.y_mm[rows] - corner.y_mm)
    near = evaluation.inside[rows, columns] & (x**2 + y**2 <= reach**2)
    return float(evaluation.luminance_cd_m2[rows, columns][near].mean()) if near.any() else 0.0
