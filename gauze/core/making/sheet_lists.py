"""What is cut out of sheets for a build, by material, and its plan out of the shelf and what is bought."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from gauze.core.design.making import Making
from gauze.core.errors import CuttingError
from gauze.core.making.sheets import Cutout, SheetPlan, SheetSize, plan_sheets
from gauze.core.materials import Catalogue
from gauze.core.materials.labels import SheetStock, Thing
from gauze.core.parts import BodyPart, Parts
from gauze.core.words import Length, Text, say

USUAL_WIDE_MM, USUAL_HIGH_MM = 1000.0, 500.0  # in what it is often sold; common practice, no source
_CUT = ("sheet", "partition")
_LIT = ("diffuser", "support")
_ROUND_MM = 0.1
_FOR_USE = {
    "back": say("Sheet for the back"),
    "base": say("Sheet for the bases"),
    "divider": say("Sheet for the dividers"),
    "wall": say("Sheet for the walls"),
}


@dataclass(frozen=True)
class SheetPiece:
    """Pieces of one size: the ids of the parts that they are; what is no rectangle is planned by the one around it."""

    ids: tuple[str, ...]
    width_mm: float
    height_mm: float
    rectangle: bool


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
        """What is cut of it, for all copies."""
        found = []
        for copy in range(making.copies):
            suffix = "" if making.copies == 1 else f" ({copy + 1})"
            for piece in self.pieces:
                found += [Cutout(f"{part}{suffix}", piece.width_mm, piece.height_mm) for part in piece.ids]
        return found


@dataclass(frozen=True)
class PlannedSheets:
    """A list with the size that is bought for it, and its plan; ``problem`` says why there is none."""

    sheet_list: SheetList
    size: SheetSize
    price: float | None
    plan: SheetPlan | None
    problem: CuttingError | None = None

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
    found: dict[tuple[float, float, bool], list[str]] = {}
    for part in parts:
        corners = 4 if part.outline_mm is None else len(part.outline_mm)
        size = round(part.length_mm / _ROUND_MM) * _ROUND_MM, round(part.width_mm / _ROUND_MM) * _ROUND_MM
        found.setdefault((round(size[0], 1), round(size[1], 1), corners == 4), []).extend(part.ids())
    return tuple(SheetPiece(tuple(ids), wide, high, right) for (wide, high, right), ids in found.items())


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
    try:
        plan = plan_sheets([*owned, size], sheets.wanted(making), making.kerf_mm, making.trim_mm, pause)
    except CuttingError as error:
        return PlannedSheets(sheets, size, choice.price, None, error)
    return PlannedSheets(sheets, size, choice.price, plan)


def _is_of(thing: SheetStock, sheets: SheetList, catalogue: Catalogue) -> bool:
    row = catalogue.diffusers.get(thing.like)
    return bool(sheets.material) and row is not None and row.name == sheets.material
