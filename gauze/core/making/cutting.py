"""Lengths cut out of bars: what is asked, and the plan that answers it.

The saw takes ``kerf_mm`` at every cut; ``trim_mm`` goes off both ends of every bar before anything else. The last piece of a bar
needs no cut of its own behind it, unless ``kerf_after_last_piece`` asks for one: where less than a kerf is left the cut that
frees it runs off the end.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

from gauze.core.errors import CuttingError
from gauze.core.making.patterns import Demand, Roll, cheapest
from gauze.core.words import Joined, Length

ALIKE_MM = 1e-6  # lengths nearer than this are one
MOST_PIECES = 5000


@dataclass(frozen=True)
class Stock:
    """Bars that are available: of a length, at a price each, at most so many (None: as many as wanted).

    An ``offcut`` lies there already and costs nothing.
    """

    length_mm: float
    price: float = 0.0
    quantity: int | None = None
    offcut: bool = False


@dataclass(frozen=True)
class Wanted:
    """Pieces of one name and length."""

    name: str
    length_mm: float
    quantity: int = 1


@dataclass(frozen=True)
class Saw:
    """How it is cut."""

    kerf_mm: float = 0.0
    trim_mm: float = 0.0
    kerf_after_last_piece: bool = False


@dataclass(frozen=True)
class Bar:
    """One bar of the plan: its pieces in the order in which they are cut, and what is left of it.

    ``marks_mm`` are where each piece ends, running from the end of the bar that is trimmed first.
    """

    length_mm: float
    offcut: bool
    price: float
    pieces: tuple[tuple[str, float], ...]
    marks_mm: tuple[float, ...]
    left_mm: float


@dataclass(frozen=True)
class CuttingPlan:
    """All bars, and what no plan can cost less than.

    ``optimal`` says that it is proven that none is cheaper, ``shortest`` that none that costs as little takes less length.
    """

    bars: tuple[Bar, ...]
    cost: float
    bound: float
    optimal: bool
    shortest: bool

    @property
    def stock_length_mm(self) -> float:
        """Length of all bars that are taken."""
        return sum(bar.length_mm for bar in self.bars)

    @property
    def waste_mm(self) -> float:
        """What of it becomes no piece: kerfs, trim and what is left."""
        return self.stock_length_mm - sum(length for bar in self.bars for _, length in bar.pieces)


def plan_cuts(
    stocks: Sequence[Stock], wanted: Sequence[Wanted], saw: Saw, pause: Callable[[], None] = lambda: None
) -> CuttingPlan:
    """Cut all pieces out of the cheapest stock, and of that out of the least length; offcuts are free.

    Raises
    ------
    CuttingError
        With the pieces that cannot be cut: longer than any stock, or more than there is stock for.
    Cancelled
        When ``pause`` raises it.
    """
    wanted = [one for one in wanted if one.quantity > 0]
    count = sum(one.quantity for one in wanted)
    if count > MOST_PIECES:
        raise CuttingError(
            "At most {most} pieces are planned at once: these are {count}.", most=MOST_PIECES, count=count
        )
    lengths = _distinct(one.length_mm for one in wanted)
    rolls = [_roll(stock, saw) for stock in stocks]
    too_long = [one for one in wanted if all(one.length_mm + saw.kerf_mm > roll.room + ALIKE_MM for roll in rolls)]
    if too_long:
        raise _none_for(too_long, stocks)
    demands = [
        Demand(length + saw.kerf_mm, sum(one.quantity for one in wanted if _same(one.length_mm, length)))
        for length in lengths
    ]
    found = cheapest(rolls, demands, pause)
    if any(found.missing):
        short = [length for length, missing in zip(lengths, found.missing, strict=True) if missing]
        raise _not_enough([one for one in wanted if any(_same(one.length_mm, length) for length in short)])
    bars = _unrolled(found.taken, stocks, lengths, wanted, saw)
    return CuttingPlan(bars, sum(bar.price for bar in bars), found.bound, found.proven, found.shortest)


def _roll(stock: Stock, saw: Saw) -> Roll:
    room = stock.length_mm - 2.0 * saw.trim_mm + (0.0 if saw.kerf_after_last_piece else saw.kerf_mm)
    return Roll(room, 0.0 if stock.offcut else stock.price, stock.length_mm, stock.quantity)


def _distinct(lengths: Iterable[float]) -> list[float]:
    found: list[float] = []
    for length in sorted(lengths, reverse=True):
        if not found or not _same(found[-1], length):
            found.append(length)
    return found


def _same(one: float, other: float) -> bool:
    return abs(one - other) <= ALIKE_MM


def _unrolled(
    taken: Iterable[tuple[int, tuple[int, ...], int]],
    stocks: Sequence[Stock],
    lengths: Sequence[float],
    wanted: Sequence[Wanted],
    saw: Saw,
) -> tuple[Bar, ...]:
    """Bars with named pieces: of each pattern no more than is still wanted; equal ones together, longest piece first."""
    names = [
        [one.name for one in wanted if _same(one.length_mm, length) for _ in range(one.quantity)] for length in lengths
    ]
    found = []
    order = sorted(taken, key=lambda one: ([-count for count in one[1]], stocks[one[0]].length_mm))
    for stock_index, counts, times in order:
        for _ in range(times):
            pieces = [
                (names[index].pop(0), lengths[index])
                for index, count in enumerate(counts)
                for _ in range(min(count, len(names[index])))
            ]
            if pieces:
                found.append(_bar(stocks[stock_index], pieces, saw))
    return tuple(found)


def _bar(stock: Stock, pieces: Sequence[tuple[str, float]], saw: Saw) -> Bar:
    marks, at = [], saw.trim_mm
    for _, length in pieces:
        marks.append(at + length)
        at += length + saw.kerf_mm
    left = max(stock.length_mm - saw.trim_mm - at, 0.0)
    return Bar(stock.length_mm, stock.offcut, 0.0 if stock.offcut else stock.price, tuple(pieces), tuple(marks), left)


def _named(pieces: Iterable[Wanted]) -> Joined:
    rows = [f"{one.name} ({one.length_mm:g} mm)" for one in pieces]
    return Joined.of([*rows[:10], *(["…"] if len(rows) > 10 else [])])


def _none_for(pieces: Sequence[Wanted], stocks: Sequence[Stock]) -> CuttingError:
    if not stocks:
        return CuttingError("There is no stock to cut {pieces} from: give a length.", pieces=_named(pieces))
    longest = max(stock.length_mm for stock in stocks)
    return CuttingError(
        "Longer than any stock, of which the longest is {longest}, or with its cuts and trim: {pieces}. Give longer stock, or "
        "join these of two.",
        longest=Length(longest),
        pieces=_named(pieces),
    )


def _not_enough(pieces: Sequence[Wanted]) -> CuttingError:
    return CuttingError("The stock is used up before these are cut: {pieces}. Give more of it.", pieces=_named(pieces))
