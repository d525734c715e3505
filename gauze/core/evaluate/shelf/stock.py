"""Strips, modules, channel, sheets and boards: is there enough of them, and is it large enough?"""

import math
from collections.abc import Sequence

from gauze.core.electrical.power import kind_of
from gauze.core.evaluate.finding import State
from gauze.core.evaluate.shelf.build import Build, Judged
from gauze.core.layout.pieces import StripPiece
from gauze.core.materials.labels import BoardStock, ModuleLabel, ProfileStock, SheetStock, StripLabel
from gauze.core.parts import BodyPart
from gauze.core.words import Length, Number, Text, say

_SAME_MM = 0.05


def lamp_verdict(build: Build, lamp: StripLabel | ModuleLabel) -> Judged | None:
    """Judge whether there is enough of it; nothing to say where the build is lit by something else."""
    own = [piece for piece in build.pieces if kind_of(piece).id == lamp.id]
    if not own:
        return None
    needed = sum(piece.length_mm / 1000.0 if isinstance(piece, StripPiece) else 1.0 for piece in own)
    words: dict[str, Text] = {"needed": Number(needed), "on_hand": Number(lamp.on_hand)}
    if isinstance(lamp, StripLabel):
        enough = say("The design takes {needed} m of the {on_hand} m.", **words)
        short = say("The design takes {needed} m, and {on_hand} m are on hand.", **words)
    else:
        enough = say("The design takes {needed} of the {on_hand}.", **words)
        short = say("The design takes {needed}, and {on_hand} are on hand.", **words)
    if needed <= lamp.on_hand:
        return Judged(lamp.id, State.GOOD, enough)
    return Judged(lamp.id, State.FAILS, short)


def sheet_verdict(build: Build, sheet: SheetStock) -> Judged | None:
    """Judge whether every layer of its material can be cut from what is there; nothing to say where none is of it."""
    name = build.catalogue.diffuser(sheet.like).name
    wanted = [part for part in build.body if part.use == "diffuser" and part.material == name]
    if not wanted:
        return None
    largest = max(wanted, key=lambda part: part.length_mm * part.width_mm)
    words = _sizes(largest, sheet.width_mm, sheet.height_mm)
    if any(_each(part, sheet.width_mm, sheet.height_mm) == 0 for part in wanted):
        return Judged(
            sheet.id, State.FAILS, say("Too small: {wide} × {high} are wanted, it is {own_wide} × {own_high}.", **words)
        )
    needed = math.ceil(sum(part.count / _each(part, sheet.width_mm, sheet.height_mm) for part in wanted) - 1e-9)
    return _counted(sheet.id, needed, sheet.on_hand, words)


def profile_verdict(build: Build, profile: ProfileStock) -> Judged | None:
    """Judge whether the bars of its size can be cut from what is there; nothing to say for a build without channel."""
    bars = [part for part in build.body if part.kind == "profile"]
    if not bars:
        return None
    lens = next((part for part in build.body if part.kind == "lens"), None)
    inner = bars[0].width_mm if lens is None else lens.width_mm
    if abs(inner - profile.width_mm) > _SAME_MM:
        words: dict[str, Text] = {"wanted": Length(inner), "own": Length(profile.width_mm)}
        return Judged(profile.id, State.NOTE, say("The design is of channel {wanted} wide, this is {own}.", **words))
    return _from_lengths(profile.id, bars, profile.length_mm, profile.on_hand)


def board_verdict(build: Build, board: BoardStock) -> Judged | None:
    """Judge whether the walls and members as high as it can be cut from what is there; nothing to say where none is."""
    wanted = [
        part
        for part in build.body
        if (part.kind == "member" or part.use == "wall") and part.width_mm <= board.high_mm + _SAME_MM
    ]
    if not wanted:
        return None
    return _from_lengths(board.id, wanted, board.length_mm, board.on_hand)


def _from_lengths(thing_id: str, parts: Sequence[BodyPart], stock_mm: float, on_hand: float) -> Judged:
    """Cut the longest first, each from the first length with room: how many are wanted at most, cuts not counted."""
    pieces = sorted((part.length_mm for part in parts for _ in range(part.count)), reverse=True)
    words: dict[str, Text] = {"longest": Length(pieces[0]), "own": Length(stock_mm)}
    if pieces[0] > stock_mm:
        return Judged(thing_id, State.FAILS, say("Too short: {longest} are wanted in one piece, it is {own}.", **words))
    left: list[float] = []
    for piece in pieces:
        index = next((number for number, room in enumerate(left) if room >= piece), None)
        if index is None:
            left.append(stock_mm - piece)
        else:
            left[index] -= piece
    return _counted(thing_id, len(left), on_hand, words)


def _counted(thing_id: str, needed: int, on_hand: float, words: dict[str, Text]) -> Judged:
    words = words | {"needed": needed, "on_hand": Number(on_hand)}
    if needed > on_hand:
        return Judged(thing_id, State.FAILS, say("{needed} are wanted, and {on_hand} are on hand.", **words))
    return Judged(thing_id, State.GOOD, say("{needed} of the {on_hand} are enough, cuts not counted.", **words))


def _each(part: BodyPart, wide_mm: float, high_mm: float) -> int:
    """How many of a part a sheet holds, side by side in rows, all one way round or all the other."""
    ways = ((part.length_mm, part.width_mm), (part.width_mm, part.length_mm))
    return max(int((wide_mm + _SAME_MM) // one) * int((high_mm + _SAME_MM) // other) for one, other in ways)


def _sizes(part: BodyPart, wide_mm: float, high_mm: float) -> dict[str, Text]:
    return {
        "wide": Length(part.length_mm),
        "high": Length(part.width_mm),
        "own_wide": Length(wide_mm),
        "own_high": Length(high_mm),
    }
