"""Cutting plans and the bill on paper: bars and sheets drawn to scale, each with a box to tick, and the table of the costs."""

import io
import itertools
from collections.abc import Iterator
from typing import Any
from xml.sax.saxutils import escape

from reportlab.graphics.shapes import Drawing, Line, Rect, String
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.platypus import Flowable, KeepTogether, Paragraph, SimpleDocTemplate, Spacer, Table

from gauze.core.evaluate.made import MadeBuild
from gauze.core.formats.drawing_pdf import latin
from gauze.core.making.bill import BillLine
from gauze.core.making.cutting import Bar, CuttingPlan
from gauze.core.making.plans import PlannedList
from gauze.core.making.sheet_lists import PlannedSheets
from gauze.core.making.sheets import CutSheet
from gauze.core.units import format_number
from gauze.core.words import ENGLISH, Reader, Text, say

_MARGIN = 45.0
_WIDE = A4[0] - 2.0 * _MARGIN
_TICK, _BAR, _MARKS, _FONT = 14.0, 16.0, 10.0, 7.0
_GREYS = (0.86, 0.94)
_SHEET_WIDE = 0.62 * _WIDE
_HEAD = ParagraphStyle("head", fontName="Helvetica-Bold", fontSize=16, leading=20)
_NAME = ParagraphStyle("name", fontName="Helvetica-Bold", fontSize=10.5, leading=14, spaceBefore=10)
_PLAIN = ParagraphStyle("plain", fontName="Helvetica", fontSize=8.5, leading=11)
_CAUTION = say(
    "Caution: guard blades, clamp the work, wear eye protection, and breathe neither saw dust nor solder fumes. Follow what "
    "the tool's maker says."
)


def encode_making_pdf(name: str, made: MadeBuild, reader: Reader = ENGLISH) -> bytes:
    """Write the plans and the bill of a design on pages of A4."""
    file = io.BytesIO()
    document = SimpleDocTemplate(
        file,
        pagesize=A4,
        leftMargin=_MARGIN,
        rightMargin=_MARGIN,
        topMargin=_MARGIN,
        bottomMargin=_MARGIN,
        title=name,
        invariant=1,
    )

    def foot(canvas: Any, _document: Any) -> None:
        canvas.setFont("Helvetica", _FONT)
        canvas.drawRightString(A4[0] - _MARGIN, _MARGIN / 2.0, f"{latin(name)}  -  {canvas.getPageNumber()}")

    document.build(list(_story(name, made, reader)), onFirstPage=foot, onLaterPages=foot)
    return file.getvalue()


def _story(name: str, made: MadeBuild, reader: Reader) -> Iterator[Flowable]:
    making = made.making
    yield Paragraph(_plain(name), _HEAD)
    yield _said(
        say(
            "{copies} built; kerf {kerf} mm, trim {trim} mm at each end",
            copies=making.copies,
            kerf=format_number(making.kerf_mm),
            trim=format_number(making.trim_mm),
        ),
        reader,
    )
    yield _said(_CAUTION, reader)
    for one in made.planned:
        yield from _lengths(one, reader)
    for cut in made.sheets:
        yield from _sheets(cut, reader)
    yield Spacer(1.0, 14.0)
    yield Paragraph(_plain(reader.read(say("Bill"))), _NAME)
    yield _bill(made, reader)


def _plain(text: str) -> str:
    """A text for a paragraph, which reads markup."""
    return escape(latin(text))


def _said(text: Text, reader: Reader) -> Paragraph:
    return Paragraph(_plain(reader.read(text)), _PLAIN)


def _proof(cost: float, bound: float, *, optimal: bool) -> Text:
    if optimal:
        return say("no plan takes less")
    return say("no plan costs less than {share} of this", share=f"{100.0 * bound / max(cost, 1e-12):.0f} %")


def _lengths(one: PlannedList, reader: Reader) -> Iterator[Flowable]:
    title = Paragraph(_plain(reader.read(one.cut_list.name)), _NAME)
    if one.plan is None:
        yield KeepTogether([title, Paragraph(_plain(str(one.problem)), _PLAIN)])
        return
    words = say(
        "{bought} bought in {stock} mm; {proof}",
        bought=one.bought,
        stock=format_number(one.stock_mm, 5),
        proof=_proof(one.plan.cost, one.plan.bound, optimal=one.plan.optimal),
    )
    longest = _longest(one.plan)
    drawn: list[list[Flowable]] = [
        [_bar(bar, longest), _said(say("Marks at {marks}", marks=_marks(bar)), reader), Spacer(1.0, 5.0)]
        for bar in one.plan.bars
    ]
    first = drawn[0] if drawn else []
    yield KeepTogether([title, _said(words, reader), Spacer(1.0, 4.0), *first])
    yield from (KeepTogether(rows) for rows in drawn[1:])


def _marks(bar: Bar) -> str:
    """Every mark of a bar, with the piece that ends there."""
    return ", ".join(f"{mark:g} ({name})" for (name, _), mark in zip(bar.pieces, bar.marks_mm, strict=True))


def _longest(plan: CuttingPlan) -> float:
    return max((bar.length_mm for bar in plan.bars), default=1.0)


def _bar(bar: Bar, longest: float) -> Drawing:
    """A bar with a box to tick, its pieces with their lengths, and running marks where there is room."""
    drawing = Drawing(_WIDE, _BAR + _MARKS + 4.0)
    low, scale = _MARKS, (_WIDE - _TICK - 6.0) / longest
    left = _TICK + 6.0
    drawing.add(Rect(0.0, low + 3.0, 10.0, 10.0, fillColor=None, strokeWidth=0.6))
    dashes = [3, 2] if bar.offcut else None
    drawing.add(Rect(left, low, bar.length_mm * scale, _BAR, fillColor=None, strokeWidth=0.5, strokeDashArray=dashes))
    marked = -1e9
    for index, ((_, length), mark) in enumerate(zip(bar.pieces, bar.marks_mm, strict=True)):
        end = left + mark * scale
        grey = _GREYS[index % 2]
        drawing.add(Rect(end - length * scale, low, length * scale, _BAR, fillColor=_grey(grey), strokeWidth=0.4))
        if length * scale > 24.0:
            drawing.add(_text(end - length * scale / 2.0, low + 5.0, f"{length:g}"))
        at = min(end, _WIDE - 12.0)
        if at - marked > 24.0:
            drawing.add(Line(end, low - 2.0, end, low, strokeWidth=0.4))
            drawing.add(_text(at, 1.0, f"{mark:g}"))
            marked = at
    if bar.left_mm * scale > 40.0:
        drawing.add(_text(left + (bar.length_mm - bar.left_mm / 2.0) * scale, low + 5.0, f"{bar.left_mm:.0f} left"))
    return drawing


def _grey(value: float) -> Any:
    from reportlab.lib.colors import Color

    return Color(value, value, value)


def _text(x: float, y: float, words: str) -> String:
    return String(x, y, latin(words), fontName="Helvetica", fontSize=_FONT, textAnchor="middle")


def _sheets(one: PlannedSheets, reader: Reader) -> Iterator[Flowable]:
    title = Paragraph(_plain(reader.read(one.sheet_list.name)), _NAME)
    if one.plan is None:
        yield KeepTogether([title, Paragraph(_plain(str(one.problem)), _PLAIN)])
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
    yield KeepTogether([title, _said(words, reader), Spacer(1.0, 4.0), *drawn[:1]])
    yield from drawn[1:]


def _sheet(sheet: CutSheet, scale: float) -> Drawing:
    """A sheet with a box to tick, and its pieces as they lie, each with its size."""
    high = sheet.size.height_mm * scale
    limited = min(1.0, 0.8 * A4[1] / max(high, 1.0))
    scale, high = scale * limited, high * limited
    drawing = Drawing(_WIDE, high + 8.0)
    left = _TICK + 6.0
    drawing.add(Rect(0.0, high - 10.0, 10.0, 10.0, fillColor=None, strokeWidth=0.6))
    drawing.add(Rect(left, 0.0, sheet.size.width_mm * scale, high, fillColor=None, strokeWidth=0.5))
    for one in sheet.placed:
        x, y, wide, tall = (value * scale for value in (one.x_mm, one.y_mm, one.width_mm, one.height_mm))
        drawing.add(Rect(left + x, y, wide, tall, fillColor=_grey(_GREYS[0]), strokeWidth=0.4))
        if wide > 44.0 and tall > 9.0:
            drawing.add(_text(left + x + wide / 2.0, y + tall / 2.0 - 2.5, f"{one.width_mm:g} x {one.height_mm:g}"))
    return drawing


def _bill(made: MadeBuild, reader: Reader) -> Table:
    heads = (say("What"), say("Used"), say("Bought"), say("Price each"), say("Cost"))
    rows: list[list[Any]] = [[latin(reader.read(head)) for head in heads]]
    rows += [_row(line, reader) for line in made.bill.lines]
    rows.append([_said(say("What has a price, in all"), reader), "", "", "", f"{made.bill.known_cost:.2f}"])
    style = [
        ("FONTSIZE", (0, 0), (-1, -1), 8.5),
        ("ALIGN", (1, 0), (-1, -1), "RIGHT"),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LINEBELOW", (0, 0), (-1, 0), 0.6, "black"),
        ("LINEABOVE", (0, -1), (-1, -1), 0.6, "black"),
    ]
    wide = [_WIDE - 4 * 62.0, *itertools.repeat(62.0, 4)]
    return Table(rows, colWidths=wide, style=style, repeatRows=1)


def _row(line: BillLine, reader: Reader) -> list[Any]:
    used = f"{format_number(line.used)} m" if line.in_metres else f"{line.used:.0f}"
    price = "" if line.price is None else f"{line.price:.2f}"
    cost = "" if line.cost is None else f"{line.cost:.2f}"
    bought = reader.read(say("{count} + shelf", count=line.bought)) if line.from_shelf else str(line.bought)
    return [_said(line.name, reader), used, latin(bought), price, cost]
