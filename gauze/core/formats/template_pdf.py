"""Templates on the paper of a printer at home: each spread over as many pages as it takes, to be cut and glued together."""

import io
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from reportlab.pdfgen.canvas import Canvas

from gauze.core.design.making import Paper
from gauze.core.drawing.templates import Template
from gauze.core.errors import GauzeError
from gauze.core.formats.drawing_pdf import POINTS_PER_MM, write_shape
from gauze.core.formats.pdf_text import BOLD, font_for, nearest
from gauze.core.layout.sketch import Outline
from gauze.core.words import ENGLISH, Reader, say

PAPER_MM: dict[Paper, tuple[float, float]] = {"a4": (210.0, 297.0), "a3": (297.0, 420.0), "letter": (215.9, 279.4)}
OVERLAP_MM = 10.0  # of one page over the next
_EDGE_MM = 10.0  # that a printer at home leaves white
_HEAD_MM = 12.0  # of a page, for its name and the check of its scale
_CHECK_MM = 50.0
_CROSS_MM = 5.0
MOST_PAGES = 400
_TEXT_MM = 3.0
_LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"


@dataclass(frozen=True)
class Spread:
    """How a template lies on pages: their size, how many across and up, and what of it each shows in mm."""

    page_mm: tuple[float, float]
    columns: int
    rows: int

    @property
    def shows_mm(self) -> tuple[float, float]:
        """Width and height of what one page shows of the template."""
        return self.page_mm[0] - 2.0 * _EDGE_MM, self.page_mm[1] - 2.0 * _EDGE_MM - _HEAD_MM

    @property
    def step_mm(self) -> tuple[float, float]:
        """How far one page lies from the next."""
        return self.shows_mm[0] - OVERLAP_MM, self.shows_mm[1] - OVERLAP_MM


def spread_of(wide_mm: float, high_mm: float, paper: Paper) -> Spread:
    """Return the spread of fewest pages, upright or across; of equals upright."""
    short, long = PAPER_MM[paper]
    spreads = []
    for page in ((short, long), (long, short)):
        one = Spread(page, 1, 1)
        columns = max(math.ceil((wide_mm - OVERLAP_MM - 1e-6) / one.step_mm[0]), 1)
        rows = max(math.ceil((high_mm - OVERLAP_MM - 1e-6) / one.step_mm[1]), 1)
        spreads.append(Spread(page, columns, rows))
    return min(spreads, key=lambda one: one.columns * one.rows)


def page_name(column: int, row: int) -> str:
    """Name of a page: a letter for its column, the number of its row from above."""
    name = _LETTERS[column % 26] if column < 26 else _LETTERS[column // 26 - 1] + _LETTERS[column % 26]
    return f"{name}{row + 1}"


def encode_template_pdf(name: str, templates: Sequence[Template], paper: Paper, reader: Reader = ENGLISH) -> bytes:
    """Write every template at 1:1; pages on which nothing lies are left out.

    Raises
    ------
    GauzeError
        When there is nothing to write, or it takes more pages than anyone would print.
    """
    if not templates:
        raise GauzeError("This design has no flat parts to make templates of: nothing was written.")
    spreads = [spread_of(*one.view.reach_mm[2:], paper) for one in templates]
    pages = sum(one.columns * one.rows for one in spreads)
    if pages > MOST_PAGES:
        raise GauzeError(
            "The templates would take {pages} pages, more than {most}: choose larger paper, or export the drawing as PDF and "
            "have it printed in one piece.",
            pages=pages,
            most=MOST_PAGES,
        )
    file = io.BytesIO()
    canvas = Canvas(file, invariant=1)
    canvas.setTitle(name)
    for template, spread in zip(templates, spreads, strict=True):
        for column, row in _pages(template, spread):
            _write_page(canvas, (name, template, reader), spread, (column, row))
    canvas.save()
    return file.getvalue()


def _pages(template: Template, spread: Spread) -> Iterator[tuple[int, int]]:
    """The pages that show something, row by row from above."""
    shapes = template.view.shapes()
    for row in range(spread.rows):
        for column in range(spread.columns):
            x, y = _corner(template, spread, column, row)
            wide, high = spread.shows_mm
            if any(_touches(shape, x, y, wide, high) for shape in shapes):
                yield column, row


def _corner(template: Template, spread: Spread, column: int, row: int) -> tuple[float, float]:
    """Lower left corner of what a page shows; the pages lie about the middle of the template."""
    left, low, wide, high = template.view.reach_mm
    step_x, step_y = spread.step_mm
    over_x = spread.columns * step_x + OVERLAP_MM - wide
    over_y = spread.rows * step_y + OVERLAP_MM - high
    return left - over_x / 2.0 + column * step_x, low - over_y / 2.0 + (spread.rows - 1 - row) * step_y


def _touches(shape: Outline, x: float, y: float, wide: float, high: float) -> bool:
    """Whether a line of a shape may cross a rectangle: by the reach of each of its edges."""
    points = np.vstack([shape.points_mm, shape.points_mm[:1]]) if shape.closed else shape.points_mm
    if len(points) == 1:
        points = np.vstack([points, points])
    low, high_mm = np.minimum(points[:-1], points[1:]), np.maximum(points[:-1], points[1:])
    return bool(((low[:, 0] <= x + wide) & (high_mm[:, 0] >= x) & (low[:, 1] <= y + high) & (high_mm[:, 1] >= y)).any())


def _write_page(canvas: Canvas, what: tuple[str, Template, Reader], spread: Spread, page: tuple[int, int]) -> None:
    name, template, reader = what
    column, row = page
    wide, high = spread.shows_mm
    canvas.setPageSize((spread.page_mm[0] * POINTS_PER_MM, spread.page_mm[1] * POINTS_PER_MM))
    canvas.scale(POINTS_PER_MM, POINTS_PER_MM)
    _head(canvas, f"{name}: {reader.read(template.view.name)}", template.count, spread, page, reader)
    canvas.saveState()
    canvas.translate(_EDGE_MM, _EDGE_MM)
    clip = canvas.beginPath()
    clip.rect(0.0, 0.0, wide, high)
    canvas.clipPath(clip, stroke=0)
    x, y = _corner(template, spread, column, row)
    canvas.saveState()
    canvas.translate(-x, -y)
    for shape in template.view.shapes():
        if _touches(shape, x, y, wide, high):
            write_shape(canvas, shape, reader)
    canvas.restoreState()
    canvas.restoreState()
    _crosses(canvas, spread)
    canvas.showPage()


def _head(canvas: Canvas, words: str, count: int, spread: Spread, page: tuple[int, int], reader: Reader) -> None:
    """Name, page and its neighbours, and a length to check the print by."""
    top = spread.page_mm[1] - _EDGE_MM
    canvas.setFont(BOLD, 2.0 * _TEXT_MM)
    canvas.setFillGray(0.0)
    own = page_name(*page)
    canvas.drawString(_EDGE_MM, top - 5.0, own)
    left = _EDGE_MM + 14.0
    name = nearest(f"{words}  x {count}")[:110]
    canvas.setFont(font_for(name), _TEXT_MM)
    canvas.drawString(left, top - 2.5, name)
    last = page_name(spread.columns - 1, spread.rows - 1)
    told = nearest(
        reader.read(
            say("print at 100 % and check the line on the right")
            if spread.columns * spread.rows == 1
            else say("page {own} of A1 to {last}; print at 100 %, lay the crosses over each other", own=own, last=last)
        )
    )
    canvas.setFont(font_for(told), _TEXT_MM)
    canvas.drawString(left, top - 6.5, told)
    right = spread.page_mm[0] - _EDGE_MM
    canvas.setLineWidth(0.3)
    canvas.line(right - _CHECK_MM, top - 7.5, right, top - 7.5)
    for x in (right - _CHECK_MM, right):
        canvas.line(x, top - 9.0, x, top - 6.0)
    canvas.drawRightString(right, top - 11.0, f"{_CHECK_MM:g} mm")


def _crosses(canvas: Canvas, spread: Spread) -> None:
    """Crosses in the middle of the overlaps, which lie over each other on neighbouring pages."""
    wide, high = spread.shows_mm
    canvas.setLineWidth(0.2)
    inset = OVERLAP_MM / 2.0
    for x in (_EDGE_MM + inset, _EDGE_MM + wide - inset):
        for y in (_EDGE_MM + inset, _EDGE_MM + high - inset):
            canvas.line(x - _CROSS_MM, y, x + _CROSS_MM, y)
            canvas.line(x, y - _CROSS_MM, x, y + _CROSS_MM)
