"""First steps: look at what was bought, cut it, drill it."""

from collections import Counter
from collections.abc import Iterator, Sequence

from gauze.core.evaluate.building.model import BATTERY, CUTTING, DRILLING, MAINS, Expected, Step, ToBuild
from gauze.core.layout.pieces import StripPiece
from gauze.core.making.plans import PlannedList
from gauze.core.making.sheet_lists import PlannedSheets
from gauze.core.parts import BodyPart, Fixing
from gauze.core.words import Length, Number, Text, say

_VOLTS_SPREAD = 0.03  # of a supply as it is set; common practice, no source
_MOST_NAMED = 12


def preparing_steps(build: ToBuild) -> Iterator[Step]:
    """Check the strip, the supply and the sheet before anything is cut."""
    network = build.evaluation.network
    strips = {piece.strip.name: piece.strip for piece in build.parts.pieces if isinstance(piece, StripPiece)}
    for name, strip in strips.items():
        yield Step(
            f"prepare/{strip.id}",
            "prepare",
            say("Test the reel: {name}", name=name),
            (
                say(
                    "Read its label: {volts} V, {leds} LEDs per metre.",
                    volts=Number(strip.volts),
                    leds=Number(strip.density_per_m),
                ),
                say("Measure one segment between two cut marks: {length}.", length=Length(strip.segment_mm)),
                say("Light it from one end, unrolled: a wound-up reel gets hot.")
                if strip.kind == "analog"
                else say("Play a test pattern to it from the controller, unrolled: a wound-up reel gets hot."),
            ),
            tools=(say("supply"), say("ruler"), say("multimeter")),
            test=say("Every LED lights, in one white; none flickers when the strip is moved.")
            if strip.kind == "analog"
            else say("Every pixel shows red, green and blue; none flickers when the strip is moved."),
        )
    if network.power is not None:
        if network.wiring.battery is not None:
            yield Step(
                "prepare/battery",
                "prepare",
                say("Charge the battery, and fuse it at its pack"),
                (
                    say(
                        "Charge it with the charger that is made for it. Cover its terminals until the last joint is soldered."
                    ),
                ),
                tools=(say("charger"), say("fuse with its holder"), say("multimeter")),
                cautions=(BATTERY,),
            )
        for one in network.power.supplies if network.wiring.battery is None else ():
            yield Step(
                f"prepare/supply-{one.volts:g}",
                "prepare",
                say("Set and test the {volts} V supply", volts=Number(one.volts)),
                (
                    say(
                        "Have a licensed electrician wire its mains side. Measure its output before you connect anything."
                    ),
                ),
                tools=(say("multimeter"),),
                expected=(Expected.about(say("volts without load"), one.set_v, _VOLTS_SPREAD, "V"),),
                cautions=(MAINS,),
            )


def cutting_steps(build: ToBuild) -> Iterator[Step]:
    """Cut everything by the plan, then drill."""
    for one in build.made.planned:
        yield _lengths(one)
    for sheet in build.made.sheets:
        yield _sheets(sheet)
    yield from _grooving(build)
    holes = [part for part in build.parts.body if part.holes]
    if holes:
        count = sum(len(part.holes) * part.count for part in holes)
        yield Step(
            "cut/holes",
            "cut",
            say("Drill the holes: {count}", count=count),
            (
                say("Glue the templates on, or mark the places from the drawing; centre-punch, then drill."),
                say("Take the burr off both sides: it cuts insulation."),
                *_holes(holes),
                *_pilots(build.parts.fixings),
            ),
            tuple(name for part in holes for name in part.ids()),
            (say("drill"), say("templates"), say("countersink or knife")),
            cautions=(DRILLING,),
        )


def _holes(parts: Sequence[BodyPart]) -> Iterator[Text]:
    """How many holes of each size every kind of part has."""
    sizes = Counter((part.name, round(hole.width_mm, 1)) for part in parts for hole in part.holes for _ in part.ids())
    for (name, wide), count in sizes.items():
        yield say("{part}: {count} of {size}.", part=name, count=count, size=Length(wide))


def _pilots(fixings: Sequence[Fixing]) -> Iterator[Text]:
    sizes = {one.pilot_mm: one.name for one in fixings if one.kind == "screw" and one.pilot_mm is not None}
    for pilot, name in sizes.items():
        yield say("{screw}: pilot holes of {size} where the thread holds.", screw=name, size=Length(pilot))


def _grooving(build: ToBuild) -> Iterator[Step]:
    """Grooves, rebates and slots of the boards."""
    boards = [part for part in build.parts.body if part.kind == "member" and part.grooves]
    if not boards:
        return
    alike: dict[tuple[str, float, float], int] = {}
    for part in boards:
        for one in part.grooves:
            key = one.purpose, round(one.width_mm, 1), round(one.depth_mm or 0.0, 1)
            alike[key] = alike.get(key, 0) + 1
    lines = [
        say(
            "{count} × {what}: {wide} wide, {deep} deep",
            count=count,
            what=_GROOVES[what],
            wide=Length(wide),
            deep=Length(deep),
        )
        for (what, wide, deep), count in alike.items()
    ]
    yield Step(
        "cut/grooves",
        "cut",
        say("Cut the grooves of the boards"),
        (
            *lines,
            say(
                "Set the cutter up on an offcut, and try the sheet in it: it has to slide, as it grows when it is warm."
            ),
        ),
        tuple(name for part in boards for name in part.ids()),
        (say("router or table saw"), say("offcut to try on"), say("templates")),
        cautions=(CUTTING,),
    )


_GROOVES: dict[str, Text] = {
    "sheet": say("groove for the sheet"),
    "rebate": say("rebate"),
    "spline": say("slot for a spline"),
    "half_lap": say("half lap"),
    "strip_pass": say("slot for the strip"),
}


_TOOLS: dict[str, tuple[Text, ...]] = {
    "strip": (say("scissors"), say("cutting plan")),
    "wire": (say("side cutters"), say("stripper"), say("cutting plan")),
    "profile": (say("mitre saw with a fine blade"), say("file"), say("cutting plan")),
    "lens": (say("fine saw or shears"), say("cutting plan")),
    "board": (say("saw"), say("square"), say("cutting plan")),
    "tube": (say("fine saw"), say("tape around the cut"), say("cutting plan")),
}


def _lengths(one: PlannedList) -> Step:
    own = one.cut_list
    lines: list[Text] = [
        say("{count} × {length}", count=len(piece.ids), length=Length(piece.length_mm))
        for piece in own.pieces[:_MOST_NAMED]
    ]
    if len(own.pieces) > _MOST_NAMED:
        lines.append(say("and {count} more lengths: see the cutting plan", count=len(own.pieces) - _MOST_NAMED))
    if one.plan is None:
        lines.append(
            say("This cannot be cut from lengths of {stock}: buy longer ones, or join two.", stock=Length(one.stock_mm))
        )
    if own.material == "strip":
        lines.append(
            say("Cut only at the marks, through the middle of the pads. Write its name on the back of every piece.")
        )
    elif own.material == "wire":
        lines.append(say("Write its number on both ends of every wire, and mark plus and minus."))
    else:
        angles = sorted({abs(cut) for piece in own.pieces for cut in (piece.start_cut_deg, piece.end_cut_deg)} - {0.0})
        if angles:
            lines.append(
                say(
                    "Mitres: set the saw to {angles} from square; a saw that counts from the fence reads {others}.",
                    angles=", ".join(f"{angle:.4g}°" for angle in angles),
                    others=", ".join(f"{90.0 - angle:.4g}°" for angle in angles),
                )
            )
            lines.append(say("Try the angle on two offcuts: they have to close without light between them."))
        lines.append(say("Set a stop, and cut all of one length before the next."))
    return Step(
        f"cut/{own.key}",
        "cut",
        say("Cut: {name}", name=own.name),
        tuple(lines),
        tuple(name for piece in own.pieces for name in piece.ids if not name.startswith("wire")),
        _TOOLS[own.material],
        test=say("The first piece, before the rest: within 0.5 mm.") if own.sawn else "",
        cautions=(CUTTING,) if own.sawn else (),
    )


def _sheets(one: PlannedSheets) -> Step:
    own = one.sheet_list
    lines: list[Text] = [
        say(
            "{count} × {wide} × {high}", count=len(piece.ids), wide=Length(piece.width_mm), high=Length(piece.height_mm)
        )
        for piece in own.pieces[:_MOST_NAMED]
    ]
    lines.append(say("Follow the sheet plan, in straight cuts; then cut what is not rectangular to its template."))
    lit = bool(own.material)
    return Step(
        f"cut/{own.key}",
        "cut",
        say("Cut: {name}", name=own.name),
        tuple(lines),
        tuple(name for piece in own.pieces for name in piece.ids),
        (say("saw, or knife and straight edge"), say("templates")),
        cautions=(CUTTING,),
        hold=say("Leave the protective film on until the build is closed.") if lit else "",
    )
