"""A bare cutting job as JSON: stock, offcuts, pieces and how the saw cuts (docs/cut-file.md), and its plan as JSON or text."""

from typing import Annotated, Any, Literal

import msgspec

from gauze.core.formats.json_reading import read_whole
from gauze.core.making.cutting import CuttingPlan, Saw, Stock, Wanted
from gauze.core.printable import printable

MOST_BYTES = 8_000_000
_WHAT = "a Gauze cutting job"
_LONGEST_NAME = 120

Millimetres = Annotated[float, msgspec.Meta(gt=0, le=1e7)]
Kerf = Annotated[float, msgspec.Meta(ge=0, le=1e4)]
Count = Annotated[int, msgspec.Meta(ge=0, le=100_000)]


class StockRow(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Bars that can be bought: as many as wanted where ``quantity`` is null."""

    length_mm: Millimetres
    price: Annotated[float, msgspec.Meta(ge=0, le=1e9)] = 0.0
    quantity: Count | None = None


class OffcutRow(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """What lies there already, and costs nothing."""

    length_mm: Millimetres
    quantity: Count = 1


class PieceRow(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Pieces of one name and length."""

    name: Annotated[str, msgspec.Meta(min_length=1, max_length=_LONGEST_NAME)]
    length_mm: Millimetres
    quantity: Count = 1


class CutFile(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """The whole file."""

    format: Literal["gauze-cut"]
    format_version: Literal[1]
    kerf_mm: Kerf = 0.0
    kerf_after_last_piece: bool = False
    trim_mm: Kerf = 0.0
    stocks: tuple[StockRow, ...] = ()
    offcuts: tuple[OffcutRow, ...] = ()
    pieces: tuple[PieceRow, ...]


def decode_cut(data: bytes) -> CutFile:
    """Read a cutting job.

    Raises
    ------
    FormatError
        When the bytes are none: empty, too large, not JSON, with an unknown, missing or impossible value (with its place).
    """
    return read_whole(data, CutFile, _WHAT, MOST_BYTES)


def job_of(file: CutFile) -> tuple[list[Stock], list[Wanted], Saw]:
    """Return what is asked: stock with the offcuts first, pieces, and the saw."""
    stocks = [Stock(one.length_mm, 0.0, one.quantity, offcut=True) for one in file.offcuts]
    stocks += [Stock(one.length_mm, one.price, one.quantity) for one in file.stocks]
    wanted = [Wanted(one.name, one.length_mm, one.quantity) for one in file.pieces]
    return stocks, wanted, Saw(file.kerf_mm, file.trim_mm, file.kerf_after_last_piece)


def cut_json(plan: CuttingPlan) -> bytes:
    """Everything of a plan."""
    body: dict[str, Any] = {
        "cost": plan.cost,
        "bound": plan.bound,
        "optimal": plan.optimal,
        "shortest": plan.shortest,
        "stock_length_mm": plan.stock_length_mm,
        "waste_mm": plan.waste_mm,
        "bars": [
            {
                "length_mm": bar.length_mm,
                "offcut": bar.offcut,
                "pieces": [
                    {"name": name, "length_mm": length, "ends_at_mm": mark}
                    for (name, length), mark in zip(bar.pieces, bar.marks_mm, strict=True)
                ],
                "left_mm": bar.left_mm,
            }
            for bar in plan.bars
        ],
    }
    return msgspec.json.format(msgspec.json.encode(body), indent=2) + b"\n"


def cut_text(plan: CuttingPlan) -> str:
    """A line for each bar, alike ones together, with running marks from its trimmed end."""
    proof = "no plan costs less" if plan.optimal else f"no plan costs less than {plan.bound:.2f}"
    if plan.optimal and plan.shortest:
        proof += ", none that costs as little takes less length"
    lines = [
        f"{len(plan.bars)} bars, cost {plan.cost:.2f} ({proof})",
        f"{plan.stock_length_mm:g} mm taken, {plan.waste_mm:.1f} mm of it kerf, trim and left over",
        "",
    ]
    for number, bar in enumerate(plan.bars, start=1):
        pieces = ", ".join(f"{name} {length:g}" for name, length in bar.pieces)
        marks = " ".join(f"{mark:.1f}" for mark in bar.marks_mm)
        kind = "offcut" if bar.offcut else "bar"
        lines.append(f"{number:3}  {kind} of {bar.length_mm:g}: {pieces}; marks at {marks}; {bar.left_mm:.1f} left")
    return "\n".join(printable(line, most=max(len(line), 1)) for line in lines)
