"""First steps: look at what was bought, cut it, drill it."""

from collections.abc import Iterator

from gauze.core.evaluate.building.model import BATTERY, CUTTING, DRILLING, MAINS, Expected, Step, ToBuild
from gauze.core.layout.pieces import StripPiece
from gauze.core.making.plans import PlannedList
from gauze.core.making.sheet_lists import PlannedSheets
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
                say("Light it from one end, unrolled: a reel that lies wound up gets hot.")
                if strip.kind == "analog"
                else say(
                    "Play a test pattern to it from the controller, unrolled: a reel that lies wound up gets hot."
                ),
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
    holes = [part for part in build.parts.body if part.holes]
    if holes:
        count = sum(len(part.holes) * part.count for part in holes)
        yield Step(
            "cut/holes",
            "cut",
            say("Drill the holes for leads and links: {count}", count=count),
            (
                say("Glue the templates on, or mark the places from the drawing; centre-punch, then drill."),
                say("Take the burr off both sides: it cuts insulation."),
                *(_holes(part.name, part.holes[0].width_mm) for part in {part.name: part for part in holes}.values()),
            ),
            tuple(name for part in holes for name in part.ids()),
            (say("drill"), say("templates"), say("countersink or knife")),
            cautions=(DRILLING,),
        )


def _holes(name: str, wide_mm: float) -> Text:
    return say("{part}: {size}.", part=name, size=Length(wide_mm))


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
        lines.append(say("Write its number on both ends of every wire, plus and minus told apart."))
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
