"""The fewest further feeds that make the dimmest segment good, and where.

One after the other is put where it is dimmest, and what proves needless is left out. Then one fewer is tried, as long as that
does: every set of places where there are few enough of them, so that none is overlooked, else places that are moved one by one
to where they help most.
"""

import itertools
import math
from collections.abc import Iterable

import msgspec

from gauze.core.design.wiring import Injection, Wiring
from gauze.core.evaluate.finding import Fix
from gauze.core.evaluate.findings.drop import GOOD_SHARE, ends_of, pads_of_dimmest
from gauze.core.evaluate.fixes.feeding import Wired
from gauze.core.evaluate.fixes.trial import Trial
from gauze.core.layout.pieces import StripPiece
from gauze.core.words import Text, say

_MOST = 24
_MOST_SETS = 400  # of places that are all tried
_COARSEST = 8  # steps into which a move is divided at first
_MOST_MOVES = 120


def injections(trial: Trial) -> Fix | None:
    """Feed in at the fewest more places that do."""
    wired = Wired(trial)
    before = wired.wiring.injections
    found = _one_by_one(wired)
    if found is None:
        return None
    found, proven = _fewer(wired, before, found)
    if not found:
        return None
    count = len(found)
    title: Text = say("One more feed") if count == 1 else say("{count} more feeds", count=count)
    if proven:
        title = say("{feeds}, the fewest that do", feeds=title)
    return wired.fix(title, _with(wired.wiring, (*before, *found)))


def _with(wiring: Wiring, feeds: Iterable[Injection]) -> Wiring:
    return msgspec.structs.replace(wiring, injections=tuple(feeds))


def _one_by_one(wired: Wired) -> tuple[Injection, ...] | None:
    """More feeds, each where it is dimmest, less those that are not needed after all; None where that is not enough."""
    before, wiring = wired.wiring.injections, wired.wiring
    while wired.share(wiring) < GOOD_SHARE:
        power = wired.power(wiring)
        ends = None if power is None else ends_of(wired.pieces, power)
        there = None if ends is None else pads_of_dimmest(wired.pieces, ends)
        if there is None or there in wiring.injections or len(wiring.injections) >= _MOST:
            return None
        wiring = _with(wiring, (*wiring.injections, there))
    for one in wiring.injections[len(before) :]:
        fewer = _with(wiring, [other for other in wiring.injections if other != one])
        if wired.share(fewer) >= GOOD_SHARE:
            wiring = fewer
    return wiring.injections[len(before) :]


def _fewer(
    wired: Wired, before: tuple[Injection, ...], found: tuple[Injection, ...]
) -> tuple[tuple[Injection, ...], bool]:
    """Try one feed fewer as long as that does; and say whether all sets of one fewer were tried without success."""
    places = _places(wired)
    while len(found) > 1:
        count = len(found) - 1
        whole = math.comb(len(places), count) <= _MOST_SETS
        sets = itertools.combinations(places, count) if whole else iter([_moved(wired, before, found)])
        done = next((one for one in sets if wired.share(_with(wired.wiring, (*before, *one))) >= GOOD_SHARE), None)
        if done is None:
            return found, whole
        found = tuple(done)
    return found, len(found) == 1


def _places(wired: Wired) -> list[Injection]:
    """All pads at the ends of segments, on pieces that are lit."""
    return [
        Injection(piece=piece.id, after=after)
        for piece in wired.pieces
        if not isinstance(piece, StripPiece) or piece.lit
        for after in range(1 + (piece.segments if isinstance(piece, StripPiece) else 0))
    ]


def _moved(wired: Wired, before: tuple[Injection, ...], found: tuple[Injection, ...]) -> tuple[Injection, ...]:
    """All but the feed that is missed least, each moved along its piece to where the dimmest segment gains most."""

    def share(feeds: Iterable[Injection]) -> float:
        return wired.share(_with(wired.wiring, (*before, *feeds)))

    feeds = list(max(itertools.combinations(found, len(found) - 1), key=share))
    lengths = {piece.id: piece.segments for piece in wired.pieces if isinstance(piece, StripPiece)}
    best, moves = share(feeds), 0
    step = max(max(lengths.values(), default=0) // _COARSEST, 1)
    while step >= 1 and best < GOOD_SHARE and moves < _MOST_MOVES:
        gained = False
        for index, feed in enumerate(feeds):
            for after in (feed.after - step, feed.after + step):
                if not 0 <= after <= lengths.get(feed.piece, 0):
                    continue
                tried = [*feeds[:index], msgspec.structs.replace(feed, after=after), *feeds[index + 1 :]]
                there, moves = share(tried), moves + 1
                if there > best + 1e-6:
                    feeds, best, gained = tried, there, True
                    break
        if not gained:
            step //= 2
    return tuple(feeds)
