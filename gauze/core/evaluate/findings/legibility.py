"""Can a text on a pixel display be read from where people stand, and is every pixel as bright as the others?"""

import math

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.evaluate.shown import Legibility, pixel_evenness
from gauze.core.layout.pixel_display import DisplayLayout
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.core.units.length import format_distance

LEAST_ARCMIN, GOOD_ARCMIN = 16.0, 20.0  # height of a letter; ISO 9241-303, from memory
LEAST_CONTRAST = 0.5  # three to one between strokes and what is beside them; common practice, no source
GOOD_EVENNESS = 0.7  # least over mean of the pixels' middles; common practice, no source


def find(evaluation: Evaluation, unit: LengthUnit) -> list[Finding]:
    """Judge pixels, and a text where one is shown."""
    if not isinstance(evaluation.layout, DisplayLayout):
        return []
    found = [_pixels(evaluation)]
    if evaluation.shown is not None and evaluation.shown.legibility is not None:
        found.append(_text(evaluation, evaluation.shown.legibility, unit))
    return found


def _pixels(evaluation: Evaluation) -> Finding:
    layout = evaluation.layout
    assert isinstance(layout, DisplayLayout)
    even = pixel_evenness(layout, evaluation.light)
    state = State.GOOD if even >= GOOD_EVENNESS else State.WATCH
    words = "Every pixel is as bright as the others" if state is State.GOOD else "Pixels at the rim are dimmer"
    return Finding(
        code="pixels",
        place="soften",
        state=state,
        sentence=f"{words}: the dimmest has {even:.0%} of the mean.",
        value=even,
        unit="",
        limit=GOOD_EVENNESS,
        figures=(
            Figure(
                "Pixel to pixel",
                f"{even:.3f}",
                "least over mean of the luminance in the middles of all pixels, every one on",
                "limit: common practice, no source",
            ),
        ),
        cautions=(Caution.FLASHING,),
    )


def _text(evaluation: Evaluation, found: Legibility, unit: LengthUnit) -> Finding:
    viewing_mm = evaluation.design.purpose.viewing_distance_mm
    arcmin = math.degrees(math.atan(found.letter_mm / viewing_mm)) * 60.0
    readable_mm = found.letter_mm / math.tan(math.radians(LEAST_ARCMIN / 60.0))
    clear = found.contrast >= LEAST_CONTRAST
    if arcmin >= GOOD_ARCMIN and clear:
        state = State.GOOD
    elif arcmin >= LEAST_ARCMIN and clear:
        state = State.WATCH
    else:
        state = State.FAILS
    reads = f"The text is readable up to {format_distance(readable_mm, unit)}" if clear else "The text blurs together"
    return Finding(
        code="legibility",
        place="aim",
        state=state,
        sentence=f"{reads}: letters {format_length(found.letter_mm, unit)} high, "
        f"contrast {found.contrast:.0%} to what is beside them.",
        value=readable_mm / 1000.0,
        unit="m",
        limit=viewing_mm / 1000.0,
        figures=(
            Figure(
                "Height of a letter",
                f"{arcmin:.0f} minutes of arc",
                f"{format_length(found.letter_mm, unit)} from {format_distance(viewing_mm, unit)}; "
                f"{LEAST_ARCMIN:g} is the least, from {GOOD_ARCMIN:g} on it is easy",
                "ISO 9241-303, from memory",
            ),
            Figure(
                "Contrast",
                f"{found.contrast:.0%}",
                f"(on − off) / (on + off) in the middles of pixels: {format_number(found.on_cd_m2)} "
                f"and {format_number(found.off_cd_m2)} cd/m²; {LEAST_CONTRAST:.0%} is three to one",
                "limit: common practice, no source",
            ),
        ),
        fixable=not clear,
    )
