"""Last steps: close it, measure it, put it up."""

from collections.abc import Iterator

import numpy as np

from gauze.core.design.box_frame import Seat
from gauze.core.evaluate.building.model import GLUING, MAINS, OVERHEAD, Expected, Step, ToBuild
from gauze.core.words import Length, Number, Text, say

_BRIGHTNESS_SPREAD = 0.25  # where nothing says by how much the brightness may be off


def closing_steps(build: ToBuild) -> Iterator[Step]:
    """Clean it, peel the film, put in what closes it."""
    body = build.parts.body
    lids = [part for part in body if part.use in ("diffuser", "cover", "support") or part.id == "closing-strip"]
    held = tuple(one.id for one in build.parts.fixings if one.kind == "standoff")
    lit = [part for part in lids if part.use == "diffuser"]
    if not lids:
        return
    kinds = {part.kind for part in lit}
    how: list[Text] = [say("Blow out dust and ends of wire: every crumb shows.")]
    if "sheet" in kinds:
        how += [
            say("Peel the film off, and wipe the sheet with a damp cloth: a dry one charges it, and it draws dust."),
            say("Lay the layers in their order, the inner one first, and leave 1 mm of play per metre at every edge."),
        ]
        seat = _SEATS.get(build.made.making.frame.seat) if _is_framed(build) else None
        if seat is not None:
            how.append(seat)
    if "lens" in kinds:
        how.append(say("Press the lens in from one end; close both ends with their caps."))
    if "tube" in kinds:
        how.append(
            say(
                "Slide the carrier into the tube and close it with its caps; the lead goes through the one with the hole."
            )
        )
    if "shell" in kinds:
        how.append(say("Put a shell over every pixel, and turn all seams away from the eye."))
    yield Step(
        "close/lid",
        "close",
        say("Close it"),
        tuple(how),
        (*(name for part in lids for name in part.ids()), *held),
        (say("soft brush or air"), say("damp cloth"), say("cotton gloves")),
        test=say("No line of light along an edge, no shadow of a wire on the face."),
        hold=say("Only after the last test: what is glued shut cannot be repaired."),
        cautions=(GLUING,) if "sheet" in kinds else (),
    )


_SEATS: dict[Seat, Text] = {
    "groove": say("Slide the sheet into the groove from its open end; it has to move freely. Screw the strip on."),
    "rebate": say("Lay the sheet into the rebate and hold it with a few clips, never with glue all round: it grows."),
    "ledge": say("Lay the sheet on the ledges and hold it with a few clips, never with glue all round: it grows."),
    "standoffs": say("Screw the sheet onto the standoffs by hand, with a soft washer under every head."),
}


def _is_framed(build: ToBuild) -> bool:
    return any(
        part.use == "wall" and part.kind == "member" and part.thickness_mm is not None for part in build.parts.body
    )


def measuring_steps(build: ToBuild) -> Iterator[Step]:
    """Say what the finished build should read."""
    evaluation = build.evaluation
    spread = evaluation.spread
    share = _BRIGHTNESS_SPREAD if spread is None else max(float(spread.share), 0.05)
    mean = float(evaluation.evenness.mean_cd_m2)
    purpose = evaluation.design.purpose
    expected = []
    if np.isfinite(mean) and mean > 0 and evaluation.shown is None:
        expected.append(Expected.about(say("luminance of the face, mean"), mean, share, "cd/m²"))
    if evaluation.target_lx > 0:
        where = say("illuminance {distance} in front of its middle", distance=Length(purpose.target_distance_mm))
        expected.append(Expected.about(where, evaluation.target_lx, share, "lx"))
    if expected:
        yield Step(
            "hang/measure",
            "hang",
            say("Measure it in the dark"),
            (say("After half an hour of light: LEDs give less when warm. All other light off."),),
            (),
            (say("lux meter"),),
            expected=tuple(expected),
        )


def hanging_steps(build: ToBuild) -> Iterator[Step]:
    """Put it where it belongs."""
    stance = build.evaluation.design.surroundings
    overhead = stance is not None and stance.stance == "face_down"
    how: list[Text] = []
    if overhead:
        how.append(
            say("Two fixings at least, each able to hold all of it alone, into the joist or with anchors made for it.")
        )
    else:
        how.append(say("On a wall: two fixings, level. Standing: on a base from which it cannot be knocked."))
    hooks = [one for one in build.parts.fixings if one.kind == "hook"]
    if hooks:
        how.append(
            say("{count} × {what} on its rear, where the drawing has them.", count=len(hooks), what=hooks[0].name)
        )
    how += [
        say("Leave as much air behind it as the heat calculation assumes, and access to its supply."),
        say("Strain relief for the lead: nothing pulls on a soldered joint."),
    ]
    watts = (
        sum(one.mean_w for one in build.evaluation.network.power.supplies) if build.evaluation.network.power else 0.0
    )
    if watts:
        how.append(say("Write on its back: volts, {watts} W, date, and which fuse.", watts=Number(watts)))
    yield Step(
        "hang/up",
        "hang",
        say("Put it up"),
        tuple(how),
        tuple(one.id for one in hooks),
        (say("drill"), say("level"), say("fixings")),
        cautions=(OVERHEAD, MAINS),
    )
