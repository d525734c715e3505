"""The cutting list and the bill as tables (CSV)."""

import csv
import io
from collections.abc import Sequence

from gauze.core.evaluate.made import MadeBuild
from gauze.core.making.bill import Bill
from gauze.core.words import ENGLISH, Reader

CUT_COLUMNS = (
    "material",
    "bar",
    "from",
    "bar_length_mm",
    "piece",
    "length_mm",
    "ends_at_mm",
    "start_cut_deg",
    "end_cut_deg",
    "left_mm",
)
SHEET_COLUMNS = (
    "material",
    "sheet",
    "from",
    "sheet_width_mm",
    "sheet_height_mm",
    "piece",
    "x_mm",
    "y_mm",
    "width_mm",
    "height_mm",
)
BILL_COLUMNS = ("item", "used", "unit_used", "bought", "unit", "price_each", "cost")


def encode_cuts(made: MadeBuild, reader: Reader = ENGLISH) -> bytes:
    """A row for each piece in the order in which it is cut; the last of a bar has what is left of it."""
    rows: list[Sequence[object]] = []
    for one in made.planned:
        cuts = {part: (piece.start_cut_deg, piece.end_cut_deg) for piece in one.cut_list.pieces for part in piece.ids}
        name = reader.read(one.cut_list.name)
        if one.plan is None:
            rows.append((name, "", "not planned", "", str(one.problem), "", "", "", "", ""))
            continue
        for number, bar in enumerate(one.plan.bars, start=1):
            source = "shelf" if bar.offcut else "bought"
            for index, ((piece, length), mark) in enumerate(zip(bar.pieces, bar.marks_mm, strict=True)):
                start, end = cuts.get(piece.split(" (")[0], (0.0, 0.0))
                left = round(bar.left_mm, 2) if index == len(bar.pieces) - 1 else ""
                rows.append(
                    (name, number, source, bar.length_mm, piece, length, round(mark, 2), start or "", end or "", left)
                )
    return _table(CUT_COLUMNS, rows)


def encode_sheets(made: MadeBuild, reader: Reader = ENGLISH) -> bytes:
    """A row for each piece: on which sheet, where its lower left corner lies, and its size as it lies there."""
    rows: list[Sequence[object]] = []
    for one in made.sheets:
        name = reader.read(one.sheet_list.name)
        if one.plan is None:
            rows.append((name, "", "not planned", "", "", str(one.problem), "", "", "", ""))
            continue
        for number, sheet in enumerate(one.plan.sheets, start=1):
            source = "shelf" if sheet.size.offcut else "bought"
            for piece in sheet.placed:
                place = (piece.x_mm, piece.y_mm, piece.width_mm, piece.height_mm)
                size = sheet.size.width_mm, sheet.size.height_mm
                rows.append((name, number, source, *size, piece.name, *(round(value, 2) for value in place)))
    return _table(SHEET_COLUMNS, rows)


def encode_bill(made: MadeBuild, reader: Reader = ENGLISH) -> bytes:
    """A row for each line, and the sum of those whose price is known."""
    rows: list[Sequence[object]] = [
        (
            reader.read(line.name),
            round(line.used, 3),
            "m" if line.in_metres else "pieces",
            line.bought if line.planned else "not planned",
            line.unit,
            "" if line.price is None else f"{line.price:.2f}",
            "" if line.cost is None else f"{line.cost:.2f}",
        )
        for line in made.bill.lines
    ]
    rows += [(name, "", "", "", "", "", f"{value:.2f}") for name, value in _sums(made.bill)]
    return _table(BILL_COLUMNS, rows)


def _sums(bill: Bill) -> list[tuple[str, float]]:
    """The sums: tax and hours only where they are chosen."""
    found = [("total of what has a price", bill.known_cost)]
    if bill.tax_percent is not None:
        found.append((f"tax, {bill.tax_percent:g} %", bill.tax))
    if bill.labour:
        found.append(("hours", bill.labour))
    return found if len(found) == 1 else [*found, ("in all", bill.total)]


def _table(columns: Sequence[str], rows: Sequence[Sequence[object]]) -> bytes:
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(columns)
    table.writerows(rows)
    return out.getvalue().encode()
