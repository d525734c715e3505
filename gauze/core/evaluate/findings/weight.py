"""What does it weigh, do its fixings hold it, and does it stand?"""

import math
from collections.abc import Iterator
from functools import partial

from gauze.core.design.making import Making
from gauze.core.design.surroundings import Surroundings
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.evaluate.wording import back_words
from gauze.core.families import parts_of
from gauze.core.lazy import Lazy
from gauze.core.making.solids.extras import foot_reach_mm
from gauze.core.making.weight import SOURCE, SPREAD, Body, Weight, weigh, wires_kg
from gauze.core.words import Fixed, Length, Number, Percent, Text, say

FACTOR = 4.0  # of what hangs: on the weight; common practice, no source
STANDS_DEG = 6.0  # by which a portable luminaire may be tilted without falling
SAFE_DEG = 10.0  # which leaves room
_TILT_SOURCE = say("6° for portable luminaires: IEC 60598-1, from memory; 10°: common practice, no source")
_MOST_LISTED = 12


def find(evaluation: Evaluation) -> list[Finding]:
    """Tell the weight, judge the fixings where they are chosen, and the stand where it stands free."""
    weight = weight_of(evaluation)
    if weight.kg <= 0:
        return []
    making = evaluation.design.making or Making()
    where = evaluation.design.surroundings
    return [_weight(evaluation, weight, making, where), *_stand(evaluation, weight, making, where)]


def weight_of(evaluation: Evaluation) -> Weight:
    """Weigh a design as it is evaluated."""
    design = evaluation.design
    where = design.surroundings or Surroundings()
    making = design.making or Making()
    power = evaluation.network.power
    lengths = [(one.wire.length_mm, one.wire.section_mm2) for one in power.wires] if power is not None else []
    parts = parts_of(design, evaluation.layout, evaluation.catalogue)
    body = Body(where.back, where.back_mm, making.wall_mm)
    return weigh(parts, evaluation.layout, body, evaluation.catalogue, wires_kg(lengths))


def _weight(evaluation: Evaluation, weight: Weight, making: Making, where: Surroundings | None) -> Finding:
    overhead = where is not None and where.stance == "face_down"
    count = making.fixings or 2
    each_kg = FACTOR * weight.kg / (1 if overhead else count)
    words: dict[str, Text] = {
        "kg": Number(weight.kg, 2),
        "count": count,
        "each": Number(each_kg, 2),
        "holds": Number(making.fixing_kg or 0.0),
    }
    state, sentence = State.NOTE, say("It weighs about {kg} kg without its supply.", **words)
    if making.fixings is not None and making.fixings < 2:
        state = State.FAILS
        sentence += say(" One fixing is not enough: give it two, each able to hold it alone.")
    elif making.fixing_kg is None:
        sentence += (
            say(
                " Overhead each of {count} fixings has to hold {each} kg: all of the weight, with a safety factor of four.",
                **words,
            )
            if overhead
            else say(
                " Each of {count} fixings has to hold {each} kg: its share of the weight, with a safety factor of four.",
                **words,
            )
        )
    elif making.fixing_kg >= each_kg:
        state = State.GOOD
        sentence += say(" {count} fixings rated {holds} kg hold it: {each} kg each are required.", **words)
    else:
        state = State.FAILS
        sentence += say(" {count} fixings rated {holds} kg are too weak: {each} kg each are required.", **words)
    return Finding(
        code="weight",
        place="make",
        state=state,
        sentence=sentence,
        value=weight.kg,
        unit="kg",
        limit=None,
        figures=Lazy(partial(_figures, evaluation, weight, each_kg, overhead=overhead)),
        cautions=(Caution.OVERHEAD,),
        spread=SPREAD * weight.kg,
    )


def _figures(evaluation: Evaluation, weight: Weight, each_kg: float, *, overhead: bool) -> list[Figure]:
    where = evaluation.design.surroundings or Surroundings()
    left, low, _, _ = evaluation.layout.sketch.plan_mm
    right_mm, up_mm, out_mm = weight.middle_mm
    x, y, z = (Length(round(one, 1)) for one in (right_mm - left, up_mm - low, out_mm))
    taken = say("; what has no thickness yet is taken as thick as the back") if weight.assumed else ""
    found = [
        Figure(
            say("Weight"),
            say("{kg} kg", kg=Number(weight.kg, 3)),
            say(
                "volume times density of every part, back and walls of {material}{taken}",
                material=back_words(where.back),
                taken=taken,
            ),
            SOURCE,
        ),
        Figure(
            say("Centre of gravity"),
            say("{x}, {y}, {z}", x=x, y=y, z=z),
            say("from the left, from below, from the back: fixings go above it, and on either side"),
        ),
        Figure(
            say("Required of each fixing"),
            say("{kg} kg", kg=Number(each_kg, 3)),
            say("{factor} times all of it: overhead one fixing alone has to hold", factor=Fixed(FACTOR, "g"))
            if overhead
            else say("{factor} times its share", factor=Fixed(FACTOR, "g")),
            say("factor: common practice, no source; your local code decides"),
        ),
    ]
    found += [
        Figure(
            say("weight of {piece}", piece=one.id),
            say("{kg} kg", kg=Number(one.kg, 2)),
            say("{share} of it", share=Percent(one.kg / weight.kg)),
        )
        for one in weight.parts[:_MOST_LISTED]
    ]
    return found


def _stand(evaluation: Evaluation, weight: Weight, making: Making, where: Surroundings | None) -> Iterator[Finding]:
    if where is None or where.stance != "upright" or where.against_wall:
        return
    _, low, _, high = evaluation.layout.sketch.plan_mm
    thick = evaluation.layout.sketch.cut_mm[3]
    _, y, z = weight.middle_mm
    up, back = y - low, z
    lean = math.radians(making.printing.foot_deg or 0.0)
    behind, before = (0.0, thick)
    if making.printing.foot_deg is not None:
        behind, before = foot_reach_mm(making.printing, thick, high)
    # the middle of a build that leans back, from the lower edge of its back: forwards and upwards
    forward = back * math.cos(lean) - up * math.sin(lean)
    height = up * math.cos(lean) + back * math.sin(lean)
    arms = forward + behind, before - forward
    tilt = math.degrees(math.atan2(min(arms), max(height, 1e-9)))
    state = State.GOOD if tilt >= SAFE_DEG else State.WATCH if tilt >= STANDS_DEG else State.FAILS
    ends = {
        State.GOOD: say("it stands"),
        State.WATCH: say("it stands, but a knock tips it"),
        State.FAILS: say("it falls: give it feet or a base, or fix it to a wall"),
    }
    yield Finding(
        code="stand",
        place="make",
        state=state,
        sentence=say("Standing free it tips at {tilt}°: {ends}.", tilt=Number(max(tilt, 0.0), 2), ends=ends[state]),
        value=tilt,
        unit="°",
        limit=SAFE_DEG,
        figures=(
            Figure(
                say("Tips at"),
                say("{tilt}°", tilt=Number(max(tilt, 0.0), 3)),
                say(
                    "its middle lies {height} over the table, {arm} within the nearer edge of what it stands on",
                    height=Length(round(height, 1)),
                    arm=Length(round(min(arms), 1)),
                ),
                _TILT_SOURCE,
            ),
        ),
        cautions=(Caution.OVERHEAD,),
    )
