"""Rectangles cut out of sheets by straight cuts from edge to edge, as a saw or score-and-snap makes them.

Each piece is put into a corner of a rest, which one straight cut then parts in two rests (a guillotine plan). Many orders and
rules are tried, by a seed, and the cheapest plan is kept. What no plan can cost less than comes from the areas, plain and as
counted by how many sides fit side by side.
"""

import itertools
import math
import random
import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field

import numpy as np

from gauze.core.errors import CuttingError
from gauze.core.layout.model import FloatArray
from gauze.core.words import Joined

MOST_S = 3.0
MOST_CUTOUTS = 2000
_TINY = 1e-6


@dataclass(frozen=True)
class SheetSize:
    """Sheets that are available: of a size, at a price each, at most so many (None: as many as wanted).

    An ``offcut`` lies there already and costs nothing.
    """

    width_mm: float
    height_mm: float
    price: float = 0.0
    quantity: int | None = None
    offcut: bool = False


@dataclass(frozen=True)
class Cutout:
    """Pieces of one name and size; they may be turned by a right angle where ``turns`` says so."""

    name: str
    width_mm: float
    height_mm: float
    quantity: int = 1
    turns: bool = True


@dataclass(frozen=True)
class Placed:
    """A piece on a sheet: its lower left corner and its size as it lies there.

    ``ring_mm`` is the outline of what is no rectangle, (n, 2), on the sheet.
    """

    name: str
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    ring_mm: FloatArray | None = field(default=None, compare=False)

    @property
    def area_mm2(self) -> float:
        """Its area."""
        if self.ring_mm is None:
            return self.width_mm * self.height_mm
        return ring_area_mm2(self.ring_mm)


def ring_area_mm2(ring: FloatArray) -> float:
    """Area within a ring, (n, 2)."""
    x, y = ring.T
    return abs(float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)))) / 2.0


@dataclass(frozen=True)
class CutSheet:
    """One sheet with its pieces."""

    size: SheetSize
    placed: tuple[Placed, ...]

    @property
    def used(self) -> float:
        """Share of its area that becomes pieces."""
        return sum(one.area_mm2 for one in self.placed) / (self.size.width_mm * self.size.height_mm)


@dataclass(frozen=True)
class SheetPlan:
    """All sheets; ``bound`` is what no plan can cost less than, ``optimal`` that this one costs no more."""

    sheets: tuple[CutSheet, ...]
    cost: float
    bound: float

    @property
    def optimal(self) -> bool:
        """Whether no plan costs less."""
        return self.cost <= self.bound + _TINY * max(1.0, self.bound)

    @property
    def bought(self) -> int:
        """How many sheets are bought."""
        return sum(not one.size.offcut for one in self.sheets)


@dataclass(frozen=True)
class _Piece:
    name: str
    wide: float
    high: float
    turns: bool = True

    def fits(self, room: tuple[float, float]) -> bool:
        """Whether it fits into a room in a way that it may lie."""
        upright = self.wide <= room[0] + _TINY and self.high <= room[1] + _TINY
        return upright or (self.turns and self.high <= room[0] + _TINY and self.wide <= room[1] + _TINY)


_Way = tuple[str, bool | None]


@dataclass
class _Rest:
    """A rectangle that is free, on the sheet of a number."""

    sheet: int
    x: float
    y: float
    wide: float
    high: float


def plan_sheets(
    sizes: Sequence[SheetSize],
    wanted: Sequence[Cutout],
    kerf_mm: float = 0.0,
    rim_mm: float = 0.0,
    pause: Callable[[], None] = lambda: None,
    most_s: float = MOST_S,
) -> SheetPlan:
    """Cut all pieces; ``rim_mm`` of every sheet is left at each edge, as for handling.

    Raises
    ------
    CuttingError
        With the pieces that fit on no sheet, or for which there are not enough.
    Cancelled
        When ``pause`` raises it.
    """
    pieces = [
        _Piece(one.name, one.width_mm + kerf_mm, one.height_mm + kerf_mm, one.turns)
        for one in wanted
        for _ in range(one.quantity)
    ]
    if len(pieces) > MOST_CUTOUTS:
        raise CuttingError(
            "At most {most} pieces are planned at once: these are {count}.", most=MOST_CUTOUTS, count=len(pieces)
        )
    rooms = [(one.width_mm - 2 * rim_mm + kerf_mm, one.height_mm - 2 * rim_mm + kerf_mm) for one in sizes]
    _check_fit(pieces, rooms, kerf_mm)
    bound = _bound(sizes, rooms, pieces)
    best: SheetPlan | None = None
    ends = time.monotonic() + most_s
    for number, (order, way, bought) in enumerate(_ways(pieces, sizes, rooms)):
        pause()
        if best is not None and (best.optimal or time.monotonic() > ends):
            break
        found = _packed(order, sizes, rooms, way, bought)
        if found is None:
            if number > _MOST_VAIN and best is None:
                break
            continue
        plan = _plan(found, sizes, kerf_mm, rim_mm, bound)
        if best is None or (plan.cost, len(plan.sheets)) < (best.cost, len(best.sheets)):
            best = plan
    if best is None:
        raise CuttingError("There are not enough sheets for these pieces: give more of them, or a size to buy.")
    return best


_MOST_VAIN = 400
_MOST_FOLD = 13  # of the functions that bound how many sides fit side by side
_RULES = ("shorter", "longer", "smaller", "larger")  # which of two straight cuts parts a rest
_TURNS = (None, False, True)  # whether a piece is turned: as it fills best, if it fits so not, if it fits so turned


def _check_fit(pieces: Sequence[_Piece], rooms: Sequence[tuple[float, float]], kerf_mm: float) -> None:
    lost = {one.name: one for one in pieces if not any(one.fits(room) for room in rooms)}
    if not lost:
        return
    rows = [f"{one.name} ({one.wide - kerf_mm:g} × {one.high - kerf_mm:g} mm)" for one in list(lost.values())[:10]]
    raise CuttingError(
        "Larger than any sheet: {pieces}. Give larger sheets, or join these of two.", pieces=Joined.of(rows)
    )


def _bound(sizes: Sequence[SheetSize], rooms: Sequence[tuple[float, float]], pieces: Sequence[_Piece]) -> float:
    """What no plan can cost less than: whole sheets with room for all areas, and no fewer than of the largest room are needed."""
    from scipy.optimize import LinearConstraint, milp

    if not pieces:
        return 0.0
    price = np.array([0.0 if one.offcut else one.price for one in sizes])
    area = np.array([max(wide, 0.0) * max(high, 0.0) for wide, high in rooms])
    needed = sum(one.wide * one.high for one in pieces)
    widest, highest = max(max(room) for room in rooms), max(min(room) for room in rooms)
    least = _least_sheets(pieces, widest, highest)
    most = np.array([np.inf if one.quantity is None else one.quantity for one in sizes])
    solved = milp(
        price,
        constraints=[
            LinearConstraint(area[None], needed * (1.0 - 1e-9), np.inf),
            LinearConstraint(np.ones((1, len(sizes))), least, np.inf),
        ],
        integrality=np.ones(len(sizes)),
        bounds=(np.zeros(len(sizes)), most),
        options={"time_limit": 0.5},
    )
    return 0.0 if solved.x is None or solved.status != 0 else float(price @ np.round(solved.x))


def _least_sheets(pieces: Sequence[_Piece], widest: float, highest: float) -> int:
    """How many sheets of a room are needed at least: by areas in which sides count as what no sheet can hold more of.

    A side of a share x of the room counts as floor((k + 1) x) / k, or as x where (k + 1) x is whole: such counts never add up to
    more than 1 over what fits (dual feasible functions; S. P. Fekete, J. Schepers, 2001, from memory). Of both ways to lie the
    smaller product counts.
    """
    sides = np.array([(one.wide, one.high) for one in pieces])
    upright = np.stack([sides[:, 0] / widest, sides[:, 1] / highest])
    turned = np.stack([sides[:, 1] / widest, sides[:, 0] / highest])
    best = 0.0
    for along, across in itertools.product(range(_MOST_FOLD), repeat=2):
        counted = [
            np.where((way <= 1.0 + _TINY).all(axis=0), _counts(way[0], along) * _counts(way[1], across), np.inf)
            for way in (upright, turned)
        ]
        best = max(best, float(np.minimum(*counted).sum()))
    return math.ceil(best - 1e-6)


def _counts(share: FloatArray, fold: int) -> FloatArray:
    """What shares of a room count as, for one of the functions; themselves for 0."""
    if fold == 0:
        return share
    times = (fold + 1) * share
    return np.where(np.abs(times - np.round(times)) < 1e-9, share, np.floor(times) / fold)


def _ways(
    pieces: Sequence[_Piece], sizes: Sequence[SheetSize], rooms: Sequence[tuple[float, float]]
) -> Iterator[tuple[list[_Piece], _Way, int | None]]:
    """Orders, rules and sizes to buy, the likeliest first, then at random by a seed."""
    bought = [index for index, one in enumerate(sizes) if not one.offcut]
    bought.sort(key=lambda index: sizes[index].price / max(rooms[index][0] * rooms[index][1], _TINY))
    choices: list[int | None] = [*bought] or [None]
    keys: tuple[Callable[[_Piece], tuple[float, float]], ...] = (
        lambda one: (-one.wide * one.high, 0.0),
        lambda one: (-max(one.wide, one.high), -min(one.wide, one.high)),
        lambda one: (-min(one.wide, one.high), -max(one.wide, one.high)),
        lambda one: (-one.wide, -one.high),
        lambda one: (-one.high, -one.wide),
    )
    for key in keys:
        for turn, rule, choice in itertools.product(_TURNS, _RULES, choices):
            yield sorted(pieces, key=key), (rule, turn), choice
    dice = random.Random(1)  # noqa: S311 - orders to try, nothing that has to be hard to guess
    while True:
        key = dice.choice(keys)
        noisy = {id(one): dice.uniform(0.6, 1.4) for one in pieces}
        order = sorted(pieces, key=lambda one, key=key, noisy=noisy: key(one)[0] * noisy[id(one)])  # type: ignore[misc]  # both bound now
        yield order, (dice.choice(_RULES), dice.choice(_TURNS)), dice.choice(choices)


def _packed(
    order: Sequence[_Piece],
    sizes: Sequence[SheetSize],
    rooms: Sequence[tuple[float, float]],
    way: _Way,
    bought: int | None,
) -> list[tuple[int, list[Placed]]] | None:
    """Pieces one after the other, each into the rest that it fills best; a new sheet where there is none.

    None where there is no further sheet.
    """
    rests: list[_Rest] = []
    used: list[tuple[int, list[Placed]]] = []
    left = [math.inf if one.quantity is None else one.quantity for one in sizes]
    owned = [index for index, one in enumerate(sizes) if one.offcut]
    owned.sort(key=lambda index: rooms[index][0] * rooms[index][1])
    for piece in order:
        spot = _best_rest(piece, rests, way[1])
        if spot is None:
            fitting = (index for index in owned if left[index] >= 1 and piece.fits(rooms[index]))
            index = next(fitting, bought)
            if index is None or left[index] < 1 or not piece.fits(rooms[index]):
                return None
            left[index] -= 1
            used.append((index, []))
            rests.append(_Rest(len(used) - 1, 0.0, 0.0, *rooms[index]))
            spot = _best_rest(piece, rests, way[1])
            assert spot is not None
        rest, turned = spot
        wide, high = (piece.high, piece.wide) if turned else (piece.wide, piece.high)
        used[rest.sheet][1].append(Placed(piece.name, rest.x, rest.y, wide, high))
        rests.remove(rest)
        rests += _parted(rest, wide, high, way[0])
    return used


def _best_rest(piece: _Piece, rests: Sequence[_Rest], turn: bool | None) -> tuple[_Rest, bool] | None:  # noqa: FBT001 - one of _TURNS
    """The rest of which least is left along one side; on the first sheets before later ones where alike."""
    best: tuple[tuple[bool, float], _Rest, bool] | None = None
    for rest in rests:
        for turned in (False, True) if piece.turns else (False,):
            wide, high = (piece.high, piece.wide) if turned else (piece.wide, piece.high)
            if wide <= rest.wide + _TINY and high <= rest.high + _TINY:
                left = min(rest.wide - wide, rest.high - high) + 1e-3 * rest.wide * rest.high / max(
                    rest.wide, rest.high
                )
                rank = turn is not None and turned is not turn, left
                if best is None or rank < best[0]:
                    best = rank, rest, turned
    return None if best is None else (best[1], best[2])


def _parted(rest: _Rest, wide: float, high: float, rule: str) -> list[_Rest]:
    """The two rests beside and above a piece in the corner, by one straight cut."""
    beside, above = rest.wide - wide, rest.high - high
    across = {
        "shorter": beside <= above,
        "longer": beside > above,
        "smaller": beside * high <= wide * above,
        "larger": beside * high > wide * above,
    }[rule]
    if across:  # the cut runs over the whole width: what is above is as wide as the rest
        right = _Rest(rest.sheet, rest.x + wide, rest.y, beside, high)
        top = _Rest(rest.sheet, rest.x, rest.y + high, rest.wide, above)
    else:
        right = _Rest(rest.sheet, rest.x + wide, rest.y, beside, rest.high)
        top = _Rest(rest.sheet, rest.x, rest.y + high, wide, above)
    return [one for one in (right, top) if one.wide > _TINY and one.high > _TINY]


def _plan(
    found: Sequence[tuple[int, list[Placed]]], sizes: Sequence[SheetSize], kerf_mm: float, rim_mm: float, bound: float
) -> SheetPlan:
    sheets = tuple(
        CutSheet(
            sizes[index],
            tuple(
                Placed(one.name, one.x_mm + rim_mm, one.y_mm + rim_mm, one.width_mm - kerf_mm, one.height_mm - kerf_mm)
                for one in placed
            ),
        )
        for index, placed in found
    )
    cost = sum(0.0 if one.size.offcut else one.size.price for one in sheets)
    return SheetPlan(sheets, cost, min(bound, cost))
