"""What written pages have in common: their look, the foot of a page, texts as paragraphs, and views drawn to fit."""

import io
from collections.abc import Iterator, Sequence
from typing import Any

from reportlab.graphics.shapes import Circle, Drawing, Group, Line, Polygon, PolyLine, Rect, String
from reportlab.lib.colors import Color
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate

from gauze.core.drawing import View
from gauze.core.formats.drawing_style import fill_grey, pen_mm
from gauze.core.formats.pdf_text import BOLD, USUAL, font_for, markup, nearest
from gauze.core.layout.sketch import Outline
from gauze.core.words import Reader, Text

MARGIN = 45.0
WIDE = A4[0] - 2.0 * MARGIN
HIGH = A4[1] - 2.0 * MARGIN
SMALL = 7.0
HEAD = ParagraphStyle("head", fontName=BOLD, fontSize=16, leading=20)
PART = ParagraphStyle("part", fontName=BOLD, fontSize=13, leading=17, spaceBefore=8, spaceAfter=3, keepWithNext=1)
NAME = ParagraphStyle("name", fontName=BOLD, fontSize=10.5, leading=14, spaceBefore=10)
PLAIN = ParagraphStyle("plain", fontName=USUAL, fontSize=8.5, leading=11)
CAUTION = ParagraphStyle("caution", parent=PLAIN, fontName="Helvetica-Oblique", leftIndent=10, borderColor="black")
_THINNEST, _MARKED = 0.2, 1.4  # points


def encode_pages(name: str, story: Iterator[Flowable]) -> bytes:
    """Write pages of A4, each with the name and its number at its foot."""
    file = io.BytesIO()
    document = SimpleDocTemplate(
        file,
        pagesize=A4,
        leftMargin=MARGIN,
        rightMargin=MARGIN,
        topMargin=MARGIN,
        bottomMargin=MARGIN,
        title=name,
        invariant=1,
    )

    def foot(canvas: Any, _document: Any) -> None:
        told = nearest(f"{name}  -  {canvas.getPageNumber()}")
        canvas.setFont(font_for(told), SMALL)
        canvas.drawRightString(A4[0] - MARGIN, MARGIN / 2.0, told)

    document.build(list(story), onFirstPage=foot, onLaterPages=foot)
    return file.getvalue()


def said(text: Text, reader: Reader, style: ParagraphStyle = PLAIN) -> Paragraph:
    """Return a text as a paragraph."""
    return Paragraph(markup(reader.read(text)), style)


def grey(value: float) -> Color:
    """Return a grey, 1 for white."""
    return Color(value, value, value)


def small_text(x: float, y: float, words: str) -> String:
    """Return small letters about a place of a drawing."""
    shown = nearest(words)
    return String(x, y, shown, fontName=font_for(shown), fontSize=SMALL, textAnchor="middle")


def drawn(view: View, reader: Reader, wide: float = WIDE, high: float = HIGH, *, words: bool = True) -> Drawing:
    """Return a view as large as fits into so many points, at most at its true size; letters keep theirs."""
    left, low, wide_mm, high_mm = view.reach_mm
    scale = min(wide / wide_mm, high / high_mm, 72.0 / 25.4)
    drawing = Drawing(wide_mm * scale, high_mm * scale)
    group = Group()
    items = [item for shape in view.shapes() for item in _items(shape, (left, low, scale), reader, words=words)]
    for item in sorted(items, key=lambda one: isinstance(one, String)):  # no word is under what another stands on
        group.add(item)
    drawing.add(group)
    return drawing


def _items(shape: Outline, frame: tuple[float, float, float], reader: Reader, *, words: bool) -> Iterator[Any]:
    left, low, scale = frame
    points = [((x - left) * scale, (y - low) * scale) for x, y in shape.points_mm.tolist()]
    own = fill_grey(shape)
    fill = None if own is None else grey(own / 255.0)
    pen = max(pen_mm(shape) * scale, _MARKED if shape.role == "marked" else _THINNEST)
    flat = [value for point in points for value in point]
    if len(points) == 1 and shape.role != "label":
        yield Circle(*points[0], 1.5, fillColor=None, strokeWidth=pen)
    elif len(points) > 1 and shape.closed:
        yield Polygon(flat, fillColor=fill, strokeWidth=pen)
    elif len(points) > 1:
        yield PolyLine(flat, strokeWidth=pen)
    if shape.marks_mm is not None:
        for start, end in shape.marks_mm.tolist():
            ends = [
                (value - origin) * scale
                for point in (start, end)
                for value, origin in zip(point, (left, low), strict=True)
            ]
            yield Line(*ends, strokeWidth=_THINNEST)
    if words and shape.words:
        (x0, y0), (x1, y1) = shape.points_mm.min(axis=0).tolist(), shape.points_mm.max(axis=0).tolist()
        away = 2.0 if not shape.closed and len(points) > 1 else -SMALL / 3.0  # just above a line, else in the middle
        place = ((x0 + x1) / 2.0 - left) * scale, ((y0 + y1) / 2.0 - low) * scale + away
        own_words = nearest(reader.read(shape.words))
        if shape.role in ("label", "dimension"):  # which stand over lines
            wide = stringWidth(own_words, font_for(own_words), SMALL) + 1.0
            yield Rect(place[0] - wide / 2.0, place[1] - 0.5, wide, SMALL - 0.5, fillColor=grey(1.0), strokeColor=None)
        yield small_text(*place, own_words)


def table_style(*more: Sequence[Any]) -> list[Any]:
    """Return the look of a table: small, its head underlined."""
    return [
        ("FONTSIZE", (0, 0), (-1, -1), 8.5),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LINEBELOW", (0, 0), (-1, 0), 0.6, "black"),
        *more,
    ]
