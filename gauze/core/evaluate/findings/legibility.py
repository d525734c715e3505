"""Can a text on a pixel display be read from where people stand, and is every pixel as bright as the others?"""

import math

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.evaluate.shown import Legibility, pixel_evenness
from gauze.core.layout.families.pixel_display import DisplayLayout
from gauze.core.words import Distance, Fixed, Length, Number, Percent, say

LEAST_ARCMIN, GOOD_ARCMIN = 16.0, 20.0  # height of a letter; ISO 9241-303, from memory
LEAST_CONTRAST = 0.5  # three to one between strokes and what is beside them; common practice, no source
GOOD_EVENNESS = 0.7  # least over mean of the pixels' middles; common practice, no source


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge pixels, and a text where one is shown."""
    found = [_pixels(evaluation)]
    if evaluation.shown is not None and evaluation.shown.legibility is not None:
        found.append(_text(evaluation, evaluation.shown.legibility))
    return found


def _pixels(evaluation: Evaluation) -> Finding:
    layout = evaluation.layout.as_kind(DisplayLayout)
    even = pixel_evenness(layout, evaluation.light)
    state = State.GOOD if even >= GOOD_EVENNESS else State.WATCH
    words = (
        say("Every pixel is as bright as the others") if state is State.GOOD else say("Pixels at the rim are dimmer")
    )
    return Finding(
        code="pixels",
        place="soften",
        state=state,
        sentence=say("{words}: the dimmest has {even} of the mean.", words=words, even=Percent(even)),
        value=even,
        unit="",
        limit=GOOD_EVENNESS,
        figures=(
            Figure(
                say("Pixel to pixel"),
                Fixed(even, ".3f"),
                say("least over mean of the luminance in the middles of all pixels, every one on"),
                say("limit: common practice, no source"),
            ),
        ),
        cautions=(Caution.FLASHING,),
    )


def _text(evaluation: Evaluation, found: Legibility) -> Finding:
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
    reads = (
        say("The text is readable up to {readable}", readable=Distance(readable_mm))
        if clear
        else say("The text blurs together")
    )
    return Finding(
        code="legibility",
        place="aim",
        state=state,
        sentence=say(
            "{reads}: letters {letter} high, contrast {contrast} to what is beside them.",
            reads=reads,
            letter=Length(found.letter_mm),
            contrast=Percent(found.contrast),
        ),
        value=readable_mm / 1000.0,
        unit="m",
        limit=viewing_mm / 1000.0,
        figures=(
            Figure(
                say("Height of a letter"),
                say("{arcmin} minutes of arc", arcmin=Fixed(arcmin, ".0f")),
                say(
                    "{letter} from {viewing}; {least_arcmin} is the least, from {good_arcmin} on it is easy",
                    letter=Length(found.letter_mm),
                    viewing=Distance(viewing_mm),
                    least_arcmin=Fixed(LEAST_ARCMIN, "g"),
                    good_arcmin=Fixed(GOOD_ARCMIN, "g"),
                ),
                say("ISO 9241-303, from memory"),
            ),
            Figure(
                say("Contrast"),
                Percent(found.contrast),
                say(
                    "(on − off) / (on + off) in the middles of pixels: {on} and {off} cd/m²; {least_contrast} is "
                    "three to one",
                    on=Number(found.on_cd_m2),
                    off=Number(found.off_cd_m2),
                    least_contrast=Percent(LEAST_CONTRAST),
                ),
                say("limit: common practice, no source"),
            ),
        ),
        fixable=not clear,
    )
