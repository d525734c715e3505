"""What is cut out of sheets for a build, by material, and its plan out of the shelf and what is bought."""

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from gauze.core.design.making import Making
from gauze.core.errors import CuttingError
from gauze.core.layout.model import FloatArray
from gauze.core.making.chains import Chain, chains_of, patches_of, taken_apart
from gauze.core.making.nesting import NestedShape, nested
from gauze.core.making.sheets import Cutout, SheetPlan, SheetSize, plan_sheets, ring_area_mm2
from gauze.core.materials import Catalogue
from gauze.core.materials.labels import SheetStock, Thing
from gauze.core.parts import BodyPart, Parts
from gauze.core.words import Length, Text, say

USUAL_WIDE_MM, USUAL_HIGH_MM = 1000.0, 500.0  # in what it is often sold; common practice, no source
_CUT = ("sheet", "partition")
_LIT = ("diffuser", "support")
_ROUND_MM = 0.1
Lay = Callable[[Sequence[str], FloatArray], list[Chain]]
_FOR_USE = {
    "back": say("Sheet for the back"),
    "base": say("Sheet for the bases"),
    "divider": say("Sheet for the dividers"),
    "wall": say("Sheet for the walls"),
}


@dataclass(frozen=True)
class SheetPiece:
    """Pieces of one size: the ids of the parts that they are, and the outline of what is no rectangle."""

    ids: tuple[str, ...]
    width_mm: float
    height_mm: float
    rectangle: bool
    outline_mm: FloatArray | None = field(default=None, compare=False)

    @property
    def area_mm2(self) -> float:
        """Area of one of them."""
        return self.width_mm * self.height_mm if self.outline_mm is None else ring_area_mm2(self.outline_mm)


@dataclass(frozen=True)
class SheetList:
    """All pieces of one material; ``material`` is its name in the catalogue, empty where the builder chooses."""

    key: str
    name: Text
    pieces: tuple[SheetPiece, ...]
    material: str = ""

    @property
    def count(self) -> int:
        """How many pieces one build has."""
        return sum(len(piece.ids) for piece in self.pieces)

    def wanted(self, making: Making) -> list[Cutout]:
        """What is cut of it, for all copies; with a grain nothing is turned."""
        turns = not making.stock(self.key).grain
        return [
            Cutout(name, piece.width_mm, piece.height_mm, turns=turns)
            for piece in self.pieces
            for name in _names(piece, making)
        ]


def _names(piece: SheetPiece, making: Making) -> list[str]:
    """The id of every piece of every copy."""
    if making.copies == 1:
        return list(piece.ids)
    return [f"{part} ({copy + 1})" for copy in range(making.copies) for part in piece.ids]


@dataclass(frozen=True)
class PlannedSheets:
    """A list with the size that is bought for it, and its plan; ``problem`` says why there is none.

    With a ``grain`` nothing is turned.
    """

    sheet_list: SheetList
    size: SheetSize
    price: float | None
    plan: SheetPlan | None
    problem: CuttingError | None = None
    grain: bool = False

    @property
    def bought(self) -> int:
        """How many sheets are bought."""
        return 0 if self.plan is None else self.plan.bought


def sheet_lists(parts: Parts) -> list[SheetList]:
    """Return the lists of everything that is cut out of sheets."""
    rows: dict[tuple[str, str, float | None], list[BodyPart]] = {}
    for part in parts.body:
        if part.kind in _CUT:
            lit = part.use in _LIT
            name = part.material or part.name if lit else part.use
            rows.setdefault((name, part.material if lit else "", part.thickness_mm), []).append(part)
    return [
        SheetList(
            f"sheet:{name}" + ("" if thick is None else f" {thick:g}"),
            _name(name, some[0], thick),
            _grouped(some),
            material,
        )
        for (name, material, thick), some in rows.items()
    ]


def _name(name: str, part: BodyPart, thick_mm: float | None) -> Text:
    if part.use in _LIT:
        return name
    words: Text = _FOR_USE.get(part.use) or say("Sheet for: {part}", part=part.name)
    if thick_mm is None:
        return say("{name}, thickness not chosen", name=words)
    return say("{name}, {thick}", name=words, thick=Length(thick_mm))


def _grouped(parts: Sequence[BodyPart]) -> tuple[SheetPiece, ...]:
    found: dict[tuple[float, float, float], list[BodyPart]] = {}
    for part in parts:
        sides = round(part.length_mm / _ROUND_MM) * _ROUND_MM, round(part.width_mm / _ROUND_MM) * _ROUND_MM
        area = 0.0 if part.outline_mm is None or _is_right(part) else round(ring_area_mm2(part.outline_mm), 1)
        found.setdefault((round(sides[0], 1), round(sides[1], 1), area), []).append(part)
    return tuple(
        SheetPiece(
            tuple(name for part in some for name in part.ids()),
            wide,
            high,
            area == 0.0,
            some[0].outline_mm if area else None,
        )
        for (wide, high, area), some in found.items()
    )


def _is_right(part: BodyPart) -> bool:
    """Whether a part fills the rectangle around it."""
    if part.outline_mm is None:
        return True
    wide, high = np.ptp(part.outline_mm, axis=0).tolist()
    return bool(ring_area_mm2(part.outline_mm) > (1.0 - 1e-6) * wide * high)


def plan_sheet_lists(
    lists: Sequence[SheetList],
    making: Making,
    things: Sequence[Thing],
    catalogue: Catalogue,
    pause: Callable[[], None] = lambda: None,
) -> list[PlannedSheets]:
    """Plan every list; what lies on the shelf is used first where ``making`` says so."""
    return [_planned(one, making, things if making.from_shelf else (), catalogue, pause) for one in lists]


def _planned(
    sheets: SheetList, making: Making, things: Sequence[Thing], catalogue: Catalogue, pause: Callable[[], None]
) -> PlannedSheets:
    choice = making.stock(sheets.key)
    size = SheetSize(choice.length_mm or USUAL_WIDE_MM, choice.width_mm or USUAL_HIGH_MM, choice.price or 1.0)
    owned = [
        SheetSize(thing.width_mm, thing.height_mm, quantity=int(thing.on_hand), offcut=True)
        for thing in things
        if isinstance(thing, SheetStock) and thing.on_hand >= 1 and _is_of(thing, sheets, catalogue)
    ]
    stocks = [*owned, size]
    try:
        plan = plan_sheets(stocks, sheets.wanted(making), making.kerf_mm, making.trim_mm, pause)
    except CuttingError as error:
        return PlannedSheets(sheets, size, choice.price, None, error, choice.grain)
    plan = taken_apart(plan, _one_by_one(sheets, making))
    for closer in _closer(sheets, making, stocks, pause):
        if (closer.cost, len(closer.sheets)) < (plan.cost, len(plan.sheets)):
            plan = closer
    nesting = _nested(sheets, making, stocks, pause)
    if nesting is not None and (nesting.cost, len(nesting.sheets)) < (plan.cost, len(plan.sheets)):
        plan = nesting
    if any(piece.outline_mm is not None for piece in sheets.pieces):
        plan = replace(plan, bound=min(plan.cost, _bound_by_area(sheets, making, size, owned)))
    return PlannedSheets(sheets, size, choice.price, plan, grain=choice.grain)


def _one_by_one(sheets: SheetList, making: Making) -> dict[str, Chain]:
    """Every polygon by itself, in the rectangle around it."""
    found: dict[str, Chain] = {}
    for piece in sheets.pieces:
        if piece.outline_mm is not None:
            ring = piece.outline_mm - piece.outline_mm.min(axis=0)
            found |= {name: Chain((name,), (ring,)) for name in _names(piece, making)}
    return found


def _closer(
    sheets: SheetList, making: Making, stocks: Sequence[SheetSize], pause: Callable[[], None]
) -> Iterator[SheetPlan]:
    """Plans with polygons that lie closer than their rectangles: in rows, and in shifted columns where any shape is cut."""
    rim = 2.0 * making.trim_mm
    longest = max(max(one.width_mm, one.height_mm) for one in stocks) - rim
    bought = stocks[-1].width_mm - rim, stocks[-1].height_mm - rim
    ways: list[Lay] = [lambda ids, ring: chains_of(ids, ring, longest, making.kerf_mm)]
    if making.sheets_cut == "free":
        turns = not making.stock(sheets.key).grain
        ways.append(lambda ids, ring: patches_of(ids, ring, bought, making.kerf_mm, turns=turns))
    for lay in ways:
        plan = _laid(sheets, making, stocks, lay, pause)
        if plan is not None:
            yield plan


def _nested(
    sheets: SheetList, making: Making, stocks: Sequence[SheetSize], pause: Callable[[], None]
) -> SheetPlan | None:
    """Plan with all outlines nested into each other; None where only straight cuts are made, or all are rectangles."""
    if making.sheets_cut != "free" or all(piece.outline_mm is None for piece in sheets.pieces):
        return None
    turns = not making.stock(sheets.key).grain
    shapes = [NestedShape(name, _ring(piece), turns) for piece in sheets.pieces for name in _names(piece, making)]
    return nested(shapes, stocks, making.kerf_mm, making.trim_mm, pause)


def _ring(piece: SheetPiece) -> FloatArray:
    """Outline of a piece; of a rectangle its corners."""
    if piece.outline_mm is not None:
        return piece.outline_mm
    wide, high = piece.width_mm, piece.height_mm
    return np.array([[0.0, 0.0], [wide, 0.0], [wide, high], [0.0, high]])


def _laid(
    sheets: SheetList, making: Making, stocks: Sequence[SheetSize], lay: Lay, pause: Callable[[], None]
) -> SheetPlan | None:
    """Plan with polygons laid in some way; None where that is no way to lay them."""
    chains: dict[str, Chain] = {}
    wanted: list[Cutout] = []
    turns = not making.stock(sheets.key).grain
    for piece in sheets.pieces:
        ids = _names(piece, making)
        rows = [] if piece.outline_mm is None else lay(ids, piece.outline_mm)
        if not rows:
            wanted += [Cutout(name, piece.width_mm, piece.height_mm, turns=turns) for name in ids]
        for row in rows:
            name = f"row {len(chains) + 1}"
            chains[name] = row
            wanted.append(Cutout(name, *row.size_mm, turns=turns))
    if not chains:
        return None
    try:
        return taken_apart(plan_sheets(stocks, wanted, making.kerf_mm, making.trim_mm, pause), chains)
    except CuttingError:  # a row that fits on no sheet of the shelf alone
        return None


def _bound_by_area(sheets: SheetList, making: Making, size: SheetSize, owned: Sequence[SheetSize]) -> float:
    """What no plan can cost less than: whole sheets for the area of all pieces that the shelf has no room for."""
    area = sum(len(piece.ids) * making.copies * piece.area_mm2 for piece in sheets.pieces)
    area -= sum(one.width_mm * one.height_mm * (one.quantity or 0) for one in owned)
    return math.ceil(max(area, 0.0) / (size.width_mm * size.height_mm) - 1e-9) * size.price


def _is_of(thing: SheetStock, sheets: SheetList, catalogue: Catalogue) -> bool:
    row = catalogue.diffusers.get(thing.like)
    return bool(sheets.material) and row is not None and row.name == sheets.material
