"""Cutting plans and the bill on paper: bars and sheets drawn to scale, each with a box to tick, and the table of the costs."""

import itertools
from collections.abc import Iterator
from typing import Any

from reportlab.graphics.shapes import Drawing, Line, Polygon, Rect
from reportlab.lib.pagesizes import A4
from reportlab.platypus import Flowable, KeepTogether, Paragraph, Spacer, Table

from gauze.core.evaluate.made import MadeBuild
from gauze.core.formats.pdf_pages import (
    HEAD,
    NAME,
    PLAIN,
    WIDE,
    encode_pages,
    grey,
    said,
    small_text,
    table_style,
)
from gauze.core.formats.pdf_text import markup, nearest
from gauze.core.making.bill import Bill, BillLine
from gauze.core.making.cutting import Bar, CuttingPlan
from gauze.core.making.plans import PlannedList
from gauze.core.making.sheet_lists import PlannedSheets
from gauze.core.making.sheets import CutSheet
from gauze.core.units import format_number
from gauze.core.words import ENGLISH, Reader, Text, say

_TICK, _BAR, _MARKS = 14.0, 16.0, 10.0
_GREYS = (0.86, 0.94)
_SHEET_WIDE = 0.62 * WIDE
_CAUTION = say(
    "Caution: guard blades, clamp the work, wear eye protection, and breathe neither saw dust nor solder fumes. Follow what "
    "the tool's maker says."
)


def encode_making_pdf(name: str, made: MadeBuild, reader: Reader = ENGLISH) -> bytes:
    """Write the plans and the bill of a design on pages of A4."""
    return encode_pages(name, _story(name, made, reader))


def _story(name: str, made: MadeBuild, reader: Reader) -> Iterator[Flowable]:
    making = made.making
    yield Paragraph(markup(name), HEAD)
    yield said(
        say(
            "{copies} built; kerf {kerf} mm, trim {trim} mm at each end",
            copies=making.copies,
            kerf=format_number(making.kerf_mm),
            trim=format_number(making.trim_mm),
        ),
        reader,
    )
    yield said(_CAUTION, reader)
    for one in made.planned:
        yield from lengths_story(one, reader)
    for cut in made.sheets:
        yield from sheets_story(cut, reader)
    yield Spacer(1.0, 14.0)
    yield Paragraph(markup(reader.read(say("Bill"))), NAME)
    yield bill_table(made, reader)


def _proof(cost: float, bound: float, *, optimal: bool) -> Text:
    if optimal:
        return say("no plan takes less")
    return say("no plan costs less than {share} of this", share=f"{100.0 * bound / max(cost, 1e-12):.0f} %")


def lengths_story(one: PlannedList, reader: Reader) -> Iterator[Flowable]:
    """Yield the bars of one material, each with a box to tick."""
    title = Paragraph(markup(reader.read(one.cut_list.name)), NAME)
    if one.plan is None:
        yield KeepTogether([title, Paragraph(markup(str(one.problem)), PLAIN)])
        return
    words = say(
        "{bought} bought in {stock} mm; {proof}",
        bought=one.bought,
        stock=format_number(one.stock_mm, 5),
        proof=_proof(one.plan.cost, one.plan.bound, optimal=one.plan.optimal),
    )
    longest = _longest(one.plan)
    drawn: list[list[Flowable]] = [
        [_bar(bar, longest), said(say("Marks at {marks}", marks=_marks(bar)), reader), Spacer(1.0, 5.0)]
        for bar in one.plan.bars
    ]
    first = drawn[0] if drawn else []
    yield KeepTogether([title, said(words, reader), Spacer(1.0, 4.0), *first])
    yield from (KeepTogether(rows) for rows in drawn[1:])


def _marks(bar: Bar) -> str:
    """Every mark of a bar, with the piece that ends there."""
    return ", ".join(f"{mark:g} ({name})" for (name, _), mark in zip(bar.pieces, bar.marks_mm, strict=True))


def _longest(plan: CuttingPlan) -> float:
    return max((bar.length_mm for bar in plan.bars), default=1.0)


def _bar(bar: Bar, longest: float) -> Drawing:
    """A bar with a box to tick, its pieces with their lengths, and running marks where there is room."""
    drawing = Drawing(WIDE, _BAR + _MARKS + 4.0)
    low, scale = _MARKS, (WIDE - _TICK - 6.0) / longest
    left = _TICK + 6.0
    drawing.add(Rect(0.0, low + 3.0, 10.0, 10.0, fillColor=None, strokeWidth=0.6))
    dashes = [3, 2] if bar.offcut else None
    drawing.add(Rect(left, low, bar.length_mm * scale, _BAR, fillColor=None, strokeWidth=0.5, strokeDashArray=dashes))
    marked = -1e9
    for index, ((_, length), mark) in enumerate(zip(bar.pieces, bar.marks_mm, strict=True)):
        end = left + mark * scale
        shade = _GREYS[index % 2]
        drawing.add(Rect(end - length * scale, low, length * scale, _BAR, fillColor=grey(shade), strokeWidth=0.4))
        if length * scale > 24.0:
            drawing.add(small_text(end - length * scale / 2.0, low + 5.0, f"{length:g}"))
        at = min(end, WIDE - 12.0)
        if at - marked > 24.0:
            drawing.add(Line(end, low - 2.0, end, low, strokeWidth=0.4))
            drawing.add(small_text(at, 1.0, f"{mark:g}"))
            marked = at
    if bar.left_mm * scale > 40.0:
        drawing.add(
            small_text(left + (bar.length_mm - bar.left_mm / 2.0) * scale, low + 5.0, f"{bar.left_mm:.0f} left")
        )
    return drawing


def sheets_story(one: PlannedSheets, reader: Reader) -> Iterator[Flowable]:
    """Yield the sheets of one material, each with a box to tick."""
    title = Paragraph(markup(reader.read(one.sheet_list.name)), NAME)
    if one.plan is None:
        yield KeepTogether([title, Paragraph(markup(str(one.problem)), PLAIN)])
        return
    words = say(
        "{bought} bought of {wide} × {high} mm; {proof}",
        bought=one.bought,
        wide=format_number(one.size.width_mm, 5),
        high=format_number(one.size.height_mm, 5),
        proof=_proof(one.plan.cost, one.plan.bound, optimal=one.plan.optimal),
    )
    widest = max((sheet.size.width_mm for sheet in one.plan.sheets), default=1.0)
    drawn: list[Flowable] = [_sheet(sheet, _SHEET_WIDE / widest) for sheet in one.plan.sheets]
    yield KeepTogether([title, said(words, reader), Spacer(1.0, 4.0), *drawn[:1]])
    yield from drawn[1:]


def _sheet(sheet: CutSheet, scale: float) -> Drawing:
    """A sheet with a box to tick, and its pieces as they lie, each with its size."""
    high = sheet.size.height_mm * scale
    limited = min(1.0, 0.8 * A4[1] / max(high, 1.0))
    scale, high = scale * limited, high * limited
    drawing = Drawing(WIDE, high + 8.0)
    left = _TICK + 6.0
    drawing.add(Rect(0.0, high - 10.0, 10.0, 10.0, fillColor=None, strokeWidth=0.6))
    drawing.add(Rect(left, 0.0, sheet.size.width_mm * scale, high, fillColor=None, strokeWidth=0.5))
    for one in sheet.placed:
        x, y, wide, tall = (value * scale for value in (one.x_mm, one.y_mm, one.width_mm, one.height_mm))
        if one.ring_mm is None:
            drawing.add(Rect(left + x, y, wide, tall, fillColor=grey(_GREYS[0]), strokeWidth=0.4))
        else:
            corners = [value for px, py in one.ring_mm.tolist() for value in (left + px * scale, py * scale)]
            drawing.add(Polygon(corners, fillColor=grey(_GREYS[0]), strokeWidth=0.4))
        if wide > 44.0 and tall > 9.0:
            drawing.add(
                small_text(left + x + wide / 2.0, y + tall / 2.0 - 2.5, f"{one.width_mm:g} x {one.height_mm:g}")
            )
    return drawing


def bill_table(made: MadeBuild, reader: Reader) -> Table:
    """Return the bill as a table."""
    heads = (say("What"), say("Used"), say("Bought"), say("Price each"), say("Cost"))
    rows: list[list[Any]] = [[nearest(reader.read(head)) for head in heads]]
    rows += [_row(line, reader) for line in made.bill.lines]
    sums = list(_sums(made.bill))
    rows += [[said(name, reader), "", "", "", f"{value:.2f}"] for name, value in sums]
    above = -len(sums)
    style = table_style(("ALIGN", (1, 0), (-1, -1), "RIGHT"), ("LINEABOVE", (0, above), (-1, above), 0.6, "black"))
    wide = [WIDE - 4 * 62.0, *itertools.repeat(62.0, 4)]
    return Table(rows, colWidths=wide, style=style, repeatRows=1)


def _sums(bill: Bill) -> Iterator[tuple[Text, float]]:
    """The sums: tax and hours only where they are chosen."""
    yield say("Total of all priced items"), bill.known_cost
    if bill.tax_percent is not None:
        yield say("Tax, {percent} %", percent=format_number(bill.tax_percent)), bill.tax
    if bill.labour:
        yield say("Hours"), bill.labour
    if bill.total != bill.known_cost:
        yield say("In all"), bill.total


def _row(line: BillLine, reader: Reader) -> list[Any]:
    used = f"{format_number(line.used)} m" if line.in_metres else f"{line.used:.0f}"
    price = "" if line.price is None else f"{line.price:.2f}"
    cost = "" if line.cost is None else f"{line.cost:.2f}"
    bought = reader.read(say("{count} + shelf", count=line.bought)) if line.from_shelf else str(line.bought)
    if not line.planned:
        bought = reader.read(say("not planned"))
    return [said(line.name, reader), used, nearest(bought), price, cost]
