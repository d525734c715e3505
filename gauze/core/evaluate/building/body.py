"""Steps of the body: what is put together before the strip, by what parts there are."""

from collections.abc import Iterator

from gauze.core.evaluate.building.model import CUTTING, DRILLING, GLUING, Step, ToBuild
from gauze.core.families import box_in
from gauze.core.parts import BodyPart
from gauze.core.words import Length, Text, say

_PAINTED = "paint"


def body_steps(build: ToBuild) -> Iterator[Step]:
    """Put the body together: mitres, walls on the back, funnels, partitions, carriers; and what is painted."""
    yield from _mitres(build)
    yield from _walls(build)
    yield from _funnel(build)
    yield from _partitions(build)
    yield from _carriers(build)
    yield from _paint(build)


def _of(build: ToBuild, *uses: str, kind: str = "") -> list[BodyPart]:
    return [part for part in build.parts.body if part.use in uses and (not kind or part.kind == kind)]


def _ids(parts: list[BodyPart]) -> tuple[str, ...]:
    return tuple(name for part in parts for name in part.ids())


def _mitres(build: ToBuild) -> Iterator[Step]:
    joints = [joint for joint in build.parts.joints if joint.kind == "mitre"]
    profiles = [part for part in build.parts.body if part.kind == "profile"]
    if joints:
        yield Step(
            "body/mitres",
            "body",
            say("Join the channel at {count} mitres", count=len(joints)),
            (
                say("Lay all lengths out in their order and look through every joint against a lamp."),
                say(
                    "Join them with inner corners on the floor of the channel, which can be printed, or glue them on a board."
                ),
            ),
            _ids(profiles),
            (say("inner corners or glue"), say("flat board"), say("square")),
            test=say("Both diagonals are equal, no light comes through a mitre, and the lens slides in all round."),
            cautions=(GLUING,),
        )
    elif profiles:
        yield Step(
            "body/profiles",
            "body",
            say("Clean the channel and try its lens", count=len(profiles)),
            (
                say("File the burr off every cut: it cuts the strip's insulation."),
                say("Wipe the floor with alcohol and let it dry: tape holds on nothing else."),
            ),
            _ids(profiles),
            (say("file"), say("alcohol"), say("cloth")),
            test=say("The lens snaps in along the whole length. Take it out again."),
        )


def _walls(build: ToBuild) -> Iterator[Step]:
    walls = [part for part in _of(build, "wall") if part.kind == "member"]
    floors = _of(build, "back", "base", kind="sheet")
    if not walls:
        return
    wall_mm = walls[0].thickness_mm or build.made.making.wall_mm
    fixings = [one for one in build.parts.fixings if one.kind in ("screw", "spline", "stand")]
    how: list[Text] = [
        *(_joining(build) if wall_mm is not None and walls[0].thickness_mm is not None else ()),
        say("Stand the walls on the back along its edge, and glue them; on timber a screw or a pin every 150 mm.")
        if not fixings
        else say("Stand the walls on the back, flush with its edge."),
        say("Measure both diagonals before the glue sets."),
        say("The inside height is {depth}: the light is computed for that.", depth=Length(_depth_mm(build, walls))),
    ]
    if wall_mm is None:
        how.append(say("The thickness of the boards is not chosen: the sizes are those of the inside."))
    yield Step(
        "body/walls",
        "body",
        say("Put the walls on the back"),
        tuple(how),
        _ids(walls) + _ids(floors) + _ids(_of(build, "frame", kind="member")) + tuple(one.id for one in fixings),
        (say("glue"), say("clamps"), say("square"), say("rule"), *((say("screwdriver"),) if fixings else ())),
        test=say("No light through the corners: hold a lamp inside, in the dark."),
        cautions=(GLUING, DRILLING),
        meanwhile=say("While the glue sets: mark the rows, tin the pads of the strip, cut and strip the wires."),
    )


def _depth_mm(build: ToBuild, walls: list[BodyPart]) -> float:
    """Inside height: boards with a groove or a rebate rise above it."""
    now = build.evaluation
    box = box_in(now.design, now.layout, now.catalogue)
    return walls[0].width_mm if box is None else box.depth_mm


def _joining(build: ToBuild) -> Iterator[Text]:
    """How boards of a chosen thickness are joined."""
    frame = build.made.making.frame
    corners = {
        "butt": say("Corners are butted: the right and the left board run past the ends of the others."),
        "mitre": say("Corners are mitred: glue both faces, and pull the frame together with a band."),
        "lap": say("Corners are lapped: the ends of the upper and the lower board lie in the rebates of the others."),
        "splined": say(
            "Corners are mitred; when the glue is hard, glue a spline into every slot across the corner and cut it flush."
        ),
    }
    yield corners[frame.corners]
    screws = [one for one in build.parts.fixings if one.kind == "screw"]
    if screws:
        yield say(
            "{count} × {screw}: through the back into the boards, and at the corners. Not too tight: end grain strips.",
            count=len(screws),
            screw=screws[0].name,
        )
    if frame.seat == "ledge":
        yield say("Glue the ledges on, level all round: the sheet lies on them.")
    if frame.seat == "groove":
        yield say("Leave the strip above the low board off for now: the sheet slides in there. Screw it on last.")
    for one in build.parts.fixings:
        if one.kind == "stand":
            yield say("{what}: into the middle of the lower board, from below.", what=one.name)


def _funnel(build: ToBuild) -> Iterator[Step]:
    facets = [part for part in build.parts.body if part.id == "funnel" or part.id.startswith("facet-")]
    if facets:
        rolled = facets[0].id == "funnel"
        yield Step(
            "body/funnel",
            "body",
            say("Roll the funnel") if rolled else say("Fold the funnel"),
            (
                say("Cut it out by its template, with the tab.")
                if rolled
                else say("Cut the funnel out in one piece by its template, score the folds, and leave the tab on."),
                say("Bring the edges together with the bright side inwards, and glue or rivet the tab from outside."),
            ),
            _ids(facets),
            (say("template"), say("shears or knife"), say("glue or rivets")),
            test=say("The wide end is round and lies flat on a table.")
            if rolled
            else say("The wide end lies flat on a table."),
            cautions=(say("Cut sheet metal has sharp edges: gloves, and take the burr off."),),
        )


def _partitions(build: ToBuild) -> Iterator[Step]:
    walls = _of(build, "divider")
    if walls:
        yield Step(
            "body/partitions",
            "body",
            say("Put the partitions together"),
            (
                say(
                    "Slot the partitions across x, notched from below, over those along x, notched from above. "
                    "Or print the grid in one piece."
                ),
                say(
                    "Place the grid over the pixels before the strip is stuck down: every pixel in the middle of its cell."
                ),
            ),
            _ids(walls),
            (say("knife or saw for the slots"), say("file")),
            test=say("The grid lies level, and its upper edges in one plane: a high one shows as a line on the face."),
            hold=say("Do not glue it in yet."),
            cautions=(CUTTING,),
        )


def _carriers(build: ToBuild) -> Iterator[Step]:
    carriers = [part for part in _of(build, "carrier", "shade") if part.kind in ("member", "sheet")]
    if carriers:
        yield Step(
            "body/carriers",
            "body",
            say("Put in what carries the strip"),
            (
                say("Follow the section drawing: height and angle decide where the light goes."),
                say("Fix it so that it can be removed: strip wears out sooner than the body."),
            ),
            _ids(carriers),
            (say("drawing of the section"), say("screws or glue")),
            cautions=(GLUING,),
        )


def _paint(build: ToBuild) -> Iterator[Step]:
    finishes = {
        part.material: None
        for part in _of(build, "back", "wall", "base")
        if _PAINTED in part.material.lower() and part.kind in ("sheet", "member")
    }
    painted = [part for part in _of(build, "back", "wall", "base", "divider") if part.material in finishes]
    if finishes:
        yield Step(
            "body/paint",
            "body",
            say("Paint the inside: {finish}", finish=", ".join(finishes)),
            (
                say("Two thin coats, matt; the computed light counts on it. Leave the edges bare where glue comes."),
                say(
                    "Let it dry for a day where the strip will be stuck down, or mask the place: tape lifts fresh paint."
                ),
            ),
            _ids(painted),
            (say("paint"), say("brush or roller")),
            cautions=(GLUING,),
            meanwhile=say("While it dries: cut the strip, tin its pads, cut and number the wires."),
        )
