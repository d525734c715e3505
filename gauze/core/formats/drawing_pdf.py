"""Views of a build as PDF at their true size: a page for each, as large as it, with a length to check the print by."""

import io
from collections.abc import Sequence

from reportlab.pdfgen.canvas import Canvas

from gauze.core.drawing import View
from gauze.core.errors import GauzeError
from gauze.core.formats.drawing_style import TEXT_MM, fill_grey, label_place, pen_mm
from gauze.core.formats.pdf_text import font_for, nearest
from gauze.core.layout.sketch import Outline
from gauze.core.words import ENGLISH, Fixed, Reader

POINTS_PER_MM = 72.0 / 25.4
_FOOT_MM = 14.0  # for the check of the scale and the name
_CHECK_MM = 50.0
_MOST_MM = 14_400.0 / POINTS_PER_MM  # the largest page of PDF 1.7 without user units


def encode_pdf(name: str, views: Sequence[View]) -> bytes:
    """Write a page for each view.

    Raises
    ------
    GauzeError
        When a view is larger than a page can be.
    """
    file = io.BytesIO()
    canvas = Canvas(file, invariant=1)
    canvas.setTitle(name)
    for view in views:
        left, low, wide, high = view.reach_mm
        wide = max(wide, _CHECK_MM + 30.0)
        if max(wide, high + _FOOT_MM) > _MOST_MM:
            raise GauzeError(
                "The {lower} is larger than a page of PDF can be ({most} m). Write SVG or DXF instead.",
                lower=str(view.name).lower(),
                most=Fixed(_MOST_MM / 1000, ".2f"),
            )
        canvas.setPageSize((wide * POINTS_PER_MM, (high + _FOOT_MM) * POINTS_PER_MM))
        canvas.scale(POINTS_PER_MM, POINTS_PER_MM)
        _write_foot(canvas, f"{name}: {str(view.name).lower()} 1:1")
        canvas.translate(-left, _FOOT_MM - low)
        for shape in view.shapes():
            write_shape(canvas, shape)
        canvas.showPage()
    canvas.save()
    return file.getvalue()


def _write_foot(canvas: Canvas, words: str) -> None:
    canvas.setLineWidth(0.35)
    canvas.line(5.0, 5.0, 5.0 + _CHECK_MM, 5.0)
    for x in (5.0, 5.0 + _CHECK_MM):
        canvas.line(x, 3.5, x, 6.5)
    told = nearest(f"{_CHECK_MM:g} mm: measure it on the print. {words}")
    canvas.setFont(font_for(told), TEXT_MM)
    canvas.drawString(5.0, 8.0, told)


def write_shape(canvas: Canvas, shape: Outline, reader: Reader = ENGLISH) -> None:
    """Draw a shape in mm, as its role is drawn."""
    grey = fill_grey(shape)
    canvas.setLineWidth(pen_mm(shape))
    if grey is not None:
        canvas.setFillGray(grey / 255.0)
    points = shape.points_mm.tolist()
    if len(points) == 1 and shape.role != "label":
        canvas.circle(*points[0], 1.0)
    elif len(points) > 1:
        path = canvas.beginPath()
        path.moveTo(*points[0])
        for point in points[1:]:
            path.lineTo(*point)
        if shape.closed:
            path.close()
        canvas.drawPath(path, stroke=1, fill=int(grey is not None))
    if shape.marks_mm is not None:
        canvas.lines([(*start, *end) for start, end in shape.marks_mm.tolist()])
    if shape.words:
        canvas.setFillGray(0.0)
        words = nearest(reader.read(shape.words))
        canvas.setFont(font_for(words), TEXT_MM)
        canvas.drawCentredString(*label_place(shape), words)
