"""What a build takes, is bought in and costs: a line for each kind of thing."""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from gauze.core.design.making import Making
from gauze.core.design.wiring import Wiring
from gauze.core.electrical.power import Power
from gauze.core.electrical.supply import SupplyNeed
from gauze.core.electrical.wire_list import runs_of
from gauze.core.layout.pieces import StripPiece
from gauze.core.making.plans import PlannedList
from gauze.core.making.sheet_lists import PlannedSheets
from gauze.core.parts import Fixing, Parts
from gauze.core.words import Fixed, Length, Number, Text, say

Unit = Literal["bar", "reel", "roll", "piece", "sheet"]
_UNIT_OF: dict[str, Unit] = {"strip": "reel", "wire": "roll"}
_COUNTED = ("cap", "shell", "board")


@dataclass(frozen=True)
class BillLine:
    """One kind of thing: what is used of it, and how many of its units are bought at what price.

    ``planned`` is False where it cannot be cut from what is bought, so that nobody knows how many that are.
    ``used`` is in metres where ``in_metres`` says so, else in pieces. ``price`` is None where it is not known. ``from_shelf``
    says that some of it comes from there.
    """

    key: str
    name: Text
    used: float
    in_metres: bool
    bought: int
    unit: Unit
    price: float | None
    from_shelf: bool = False
    planned: bool = True

    @property
    def cost(self) -> float | None:
        """What is paid for it; None where that is not known."""
        if not self.planned:
            return None
        if self.price is None:
            return 0.0 if self.bought == 0 else None
        return self.bought * self.price


@dataclass(frozen=True)
class Bill:
    """All lines, for so many copies; tax on what is bought, None where prices have it, and the price of the hours worked."""

    lines: tuple[BillLine, ...]
    copies: int
    tax_percent: float | None = None
    labour: float = 0.0

    @property
    def known_cost(self) -> float:
        """What the lines with a price come to."""
        return sum(line.cost or 0.0 for line in self.lines)

    @property
    def without_price(self) -> int:
        """How many lines are bought at a price that is not known."""
        return sum(line.cost is None for line in self.lines)

    @property
    def tax(self) -> float:
        """Tax on what has a price."""
        return self.known_cost * (self.tax_percent or 0.0) / 100.0

    @property
    def total(self) -> float:
        """What has a price, its tax, and the hours."""
        return self.known_cost + self.tax + self.labour

    @property
    def each(self) -> float:
        """The same for one copy."""
        return self.total / self.copies


def bill_of(
    parts: Parts,
    planned: tuple[Sequence[PlannedList], Sequence[PlannedSheets]],
    making: Making,
    power: Power | None,
    needs: Sequence[SupplyNeed],
    wiring: Wiring,
) -> Bill:
    """Write the bill of a build: what is cut to length, pieces, sheets, and what feeds it."""
    lines = [_cut(one, making) for one in planned[0]] + [_of_sheet(one, making) for one in planned[1]]
    lines += _counted(parts, making)
    lines += _feeding(power, needs, wiring, making)
    labour = (making.hours or 0.0) * (making.hour_price or 0.0)
    return Bill(tuple(lines), making.copies, making.tax_percent, labour)


def _cut(one: PlannedList, making: Making) -> BillLine:
    own = one.cut_list
    return BillLine(
        own.key,
        say("{name}, in lengths of {stock}", name=own.name, stock=Length(one.stock_mm)),
        own.total_mm * making.copies / 1000.0,
        in_metres=True,
        bought=one.bought,
        unit=_UNIT_OF.get(own.material, "bar"),
        price=one.price,
        from_shelf=one.plan is not None and any(bar.offcut for bar in one.plan.bars),
        planned=one.plan is not None,
    )


def _of_sheet(one: PlannedSheets, making: Making) -> BillLine:
    size = Length(one.size.width_mm), Length(one.size.height_mm)
    return BillLine(
        one.sheet_list.key,
        say("{name}, in sheets of {wide} × {high}", name=one.sheet_list.name, wide=size[0], high=size[1]),
        float(one.sheet_list.count * making.copies),
        in_metres=False,
        bought=one.bought,
        unit="sheet",
        price=one.price,
        from_shelf=one.plan is not None and any(sheet.size.offcut for sheet in one.plan.sheets),
        planned=one.plan is not None,
    )


def _counted(parts: Parts, making: Making) -> Iterator[BillLine]:
    modules = Counter(piece.module.name for piece in parts.pieces if not isinstance(piece, StripPiece))
    for name, count in modules.items():
        yield _pieces(f"module:{name}", name, count, "piece", making)
    others: Counter[str] = Counter()
    for part in parts.body:
        if part.kind in _COUNTED and not (part.kind == "board" and modules):  # a board is a module, billed already
            others[part.name] += part.count
    for name, count in others.items():
        yield _pieces(f"part:{name}", name, count, "piece", making)
    alike: dict[str, list[Fixing]] = {}
    for one in parts.fixings:
        alike.setdefault(f"fixing:{one.kind} {one.diameter_mm:g} x {one.length_mm:.4g}", []).append(one)
    for key, some in alike.items():
        yield _pieces(key, some[0].name, len(some), "piece", making)


def _pieces(key: str, name: Text, count: int, unit: Unit, making: Making) -> BillLine:
    many = count * making.copies
    return BillLine(key, name, float(many), in_metres=False, bought=many, unit=unit, price=making.stock(key).price)


def _feeding(power: Power | None, needs: Sequence[SupplyNeed], wiring: Wiring, making: Making) -> Iterator[BillLine]:
    if power is None:
        return
    battery = wiring.battery
    if battery is not None:
        for label in (battery.battery, battery.converter):
            if label is not None:
                yield _pieces(f"own:{label.id}", label.name, 1, "piece", making)
    for need in needs if battery is None or len(needs) > 1 else ():
        rating_w = wiring.supply_w if wiring.supply_w is not None else need.default.rating_w
        name = say(
            "Supply, {volts} V, {rating} W",
            volts=Number(need.volts),
            rating=Fixed(rating_w or need.default.needed_w, "g"),
        )
        yield _pieces(f"supply:{need.volts:g}", name, 1, "piece", making)
    if wiring.controller is not None:
        yield _pieces(f"own:{wiring.controller.id}", wiring.controller.name, 1, "piece", making)
    fuses = Counter(run.fuse_a for run in runs_of(power) if run.fuse_a is not None)
    for amps, count in sorted(fuses.items()):
        yield _pieces(
            f"fuse:{amps:g}", say("Fuse with its holder, {amps} A", amps=Number(amps)), count, "piece", making
        )
