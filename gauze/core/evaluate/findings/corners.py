"""Are the corners of a mitred frame dark, or doubled?"""

import numpy as np

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.layout.channel_bar import ChannelLayout, Corner
from gauze.core.units import LengthUnit, format_length

GOOD_LOW, GOOD_HIGH = 0.70, 1.30  # of the sides' light at a corner; common practice, no source
FAIR_LOW, FAIR_HIGH = 0.50, 1.60  # common practice, no source


def find(evaluation: Evaluation, unit: LengthUnit) -> list[Finding]:
    """Judge the corner whose light is farthest from the sides'."""
    if not isinstance(evaluation.layout, ChannelLayout):
        return []
    corners = evaluation.layout.corners
    usual = float(np.median(evaluation.luminance_cd_m2[evaluation.inside])) if evaluation.inside.any() else 0.0
    if not corners or usual <= 0.0:
        return []
    shares = [_light_at(evaluation, corner) / usual for corner in corners]
    index = max(range(len(shares)), key=lambda i: abs(np.log(max(shares[i], 1e-6))))
    share, corner = shares[index], corners[index]
    if GOOD_LOW <= share <= GOOD_HIGH:
        state, words = State.GOOD, "The corners are about as bright as the sides: the one that differs most"
    else:
        state = State.WATCH if FAIR_LOW <= share <= FAIR_HIGH else State.FAILS
        words = f"Corner {index + 1} is dark: it" if share < 1.0 else f"Corner {index + 1} is too bright: it"
    between = format_length(corner.between_leds_mm, unit)
    return [
        Finding(
            code="corners",
            place="lay",
            state=state,
            sentence=f"{words} has {share:.0%} of the sides' light, its LEDs {between} apart round the mitre.",
            value=share,
            unit="",
            limit=GOOD_LOW,
            figures=(
                Figure(
                    "Light at the corner",
                    f"{share:.0%}",
                    f"mean luminance about the mitre over the median of the face; {GOOD_LOW:.0%} to {GOOD_HIGH:.0%} is good. "
                    "The sides are lit with their neighbours straightened out",
                    "limits: common practice, no source",
                ),
                Figure(
                    "LEDs round the mitre",
                    between,
                    f"from the last LED before it to the first after it, along the middle line; the pitch is "
                    f"{format_length(corner.pitch_mm, unit)}",
                ),
                *(
                    Figure(
                        f"Corner {number}",
                        f"{one:.0%}",
                        f"turns by {abs(at.turn_deg):.1f}°; each end is cut {abs(at.turn_deg) / 2:.1f}° off square, "
                        f"{90.0 - abs(at.turn_deg) / 2:.1f}° on a saw that reads from the other side",
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
    x, y = np.meshgrid(evaluation.x_mm, evaluation.y_mm)
    near = evaluation.inside & ((x - corner.x_mm) ** 2 + (y - corner.y_mm) ** 2 <= reach**2)
    return float(evaluation.luminance_cd_m2[near].mean()) if near.any() else 0.0
