"""Paints plan and side cut of a build: outlines by what they are, emitters with their axes."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from gauze.core.layout import CavityLayout, Layout
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.families.tiles import FlatTile, Tile
from gauze.core.layout.model import FloatArray
from gauze.core.layout.placing import in_plan
from gauze.core.layout.sketch import Outline
from gauze.ui.canvas.geometry import Window
from gauze.ui.canvas.paint.dots import Dots, dots_in_cut, dots_in_plan
from gauze.ui.canvas.paint.shapes import lines_of, polygon_of, squares_of
from gauze.ui.text import spoken
from gauze.ui.theme import Theme

_MOST_DRAWN = 8_000  # emitters; of more every n-th
_MOST_AXES = 800
_AXIS_PIXELS = 9.0
_LID_STEPS, _STRAIGHT_STEPS = 56, 4
_BOARD = QColor("#d8d2c4")
_COPPER = QColor("#b8793a")
_LEAST_MARK = 4.0  # pixels between cut marks below which none are drawn
_HOLLOW = QBrush(Qt.BrushStyle.NoBrush)
_DARK = QColor(20, 20, 24, 150)


def paint_plan(painter: QPainter, window: Window, layout: Layout, theme: Theme) -> None:
    """Paint the build from the front, with its emitters in their colours."""
    look = _look(theme, layout)
    paint_outlines(painter, window, layout.sketch.plan, look)
    _paint_dots(painter, window, dots_in_plan(layout), (0, 1), theme)


def paint_cut(painter: QPainter, window: Window, layout: Layout, theme: Theme) -> None:
    """Paint the build from the side; the emitters of the first cavity are projected into it."""
    look = _look(theme, layout)
    paint_outlines(painter, window, layout.sketch.cut, look)
    axis = 0 if layout.sketch.cut_axis == "x" else 1
    _paint_dots(painter, window, dots_in_cut(layout), (axis, 2), theme)


@dataclass(frozen=True)
class _Look:
    """Pens and fills by what an outline is."""

    pens: dict[str, QPen]
    fills: dict[str, QBrush]
    words: QColor


def _look(theme: Theme, layout: Layout) -> _Look:
    grey = round(40 + 150 * layout.cavity.surface.reflectances.back)
    pens = {
        "body": QPen(theme.colour("ink"), 1.4),
        "back": QPen(theme.colour("ink"), 1.0),
        "partition": QPen(Qt.PenStyle.NoPen),
        "strip": QPen(_BOARD.darker(150), 1.0),
        "strip line": QPen(_BOARD, 3.0),
        "sheet": QPen(theme.colour("ink_dim"), 1.0),
        "part": QPen(theme.colour("ink_dim"), 1.0),
        "dark": QPen(theme.colour("watch"), 1.0, Qt.PenStyle.DashLine),
        "lit": QPen(theme.colour("accent"), 3.0),
        "path": QPen(theme.colour("accent"), 1.6),
        "eye": QPen(theme.colour("ink_dim"), 1.0, Qt.PenStyle.DotLine),
    }
    fills = {
        "body": theme.colour("panel"),
        "back": QColor(grey, grey, round(grey * 0.97)),
        "partition": theme.colour("ink_dim"),
        "strip": _BOARD,
        "sheet": theme.colour("ink", 40),
        "part": theme.colour("raised"),
        "dark": _DARK,
    }
    return _Look(pens, {role: QBrush(colour) for role, colour in fills.items()}, theme.colour("ink_dim"))


def paint_outlines(painter: QPainter, window: Window, outlines: Sequence[Outline], look: _Look) -> None:
    """Paint outlines as what they are; brought to pixels all at once, as there may be hundreds."""
    if not outlines:
        return
    pixels = polygon_of(in_pixels(window, np.concatenate([outline.points_mm for outline in outlines])))
    start, held = 0, ("", False)
    for outline in outlines:
        own = pixels.mid(start, len(outline.points_mm))
        start += len(outline.points_mm)
        if held != (outline.role, outline.closed):
            held = (outline.role, outline.closed)
            painter.setPen(look.pens["strip line" if held == ("strip", False) else outline.role])
            painter.setBrush(look.fills.get(outline.role, _HOLLOW) if outline.closed else _HOLLOW)
        if outline.closed:
            painter.drawPolygon(own)
        else:
            painter.drawPolyline(own)
        if outline.marks_mm is not None and _paint_marks(painter, window, outline.marks_mm):
            held = ("", False)
        if outline.words:
            _paint_words(painter, own.boundingRect(), spoken(outline.words), look)
            held = ("", False)


def _paint_marks(painter: QPainter, window: Window, marks_mm: FloatArray) -> bool:
    """Paint the marks at which a strip may be cut, where they are far enough apart; returns whether any were."""
    apart = np.hypot(*(marks_mm[1, 0] - marks_mm[0, 0])) * window.scale if len(marks_mm) > 1 else np.inf
    if apart < _LEAST_MARK:
        return False
    painter.setPen(QPen(_COPPER, 1.0))
    starts, ends = (in_pixels(window, marks_mm[:, end]) for end in (0, 1))
    painter.drawLines(lines_of(starts, ends))
    return True


def _paint_words(painter: QPainter, box: QRectF, words: str, look: _Look) -> None:
    if painter.fontMetrics().horizontalAdvance(words) < box.width() - 4:
        painter.setPen(look.words)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)


def _steps(tile: Tile) -> FloatArray:
    """Places along an edge of a piece: straight ones need few."""
    return np.linspace(0.0, 1.0, _STRAIGHT_STEPS if isinstance(tile, FlatTile) else _LID_STEPS)


def face_path(layout: CavityLayout) -> QPainterPath:
    """Outline of the unrolled lit faces, in mm of their chart; empty where they fill it."""
    path = QPainterPath()
    if isinstance(layout.surface, BaffledBox):
        return path
    for tile in layout.surface.lids:
        share = _steps(tile)
        zero = np.zeros_like(share)
        s = np.concatenate([share, zero + 1.0, share[::-1], zero])
        t = np.concatenate([zero, share, zero + 1.0, share[::-1]])
        path = path.united(_closed(np.stack(tile.to_chart(s, t), axis=1)))
    return path


def faces_path(layout: Layout) -> QPainterPath:
    """Outlines of the faces of several cavities, in mm of the plan, seen from the front where they stand."""
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.WindingFill)
    for instance in layout.instances:
        cavity = layout.cavities[instance.cavity].surface
        assert isinstance(cavity, Cavity)
        face = _closed(in_plan(instance, cavity.plan))
        path.addPath(
            face if instance.clip_mm is None else face.intersected(_closed(in_plan(instance, instance.clip_mm)))
        )
    return path


def _closed(outline_mm: FloatArray) -> QPainterPath:
    path = QPainterPath()
    path.addPolygon(polygon_of(outline_mm))
    path.closeSubpath()
    return path


def to_pixels(window: Window) -> QTransform:
    """From mm to the pixels of a drawing."""
    x, y = window.x(0.0), window.y(0.0)
    return QTransform(window.x(1.0) - x, 0.0, 0.0, window.y(1.0) - y, x, y)


def _paint_dots(painter: QPainter, window: Window, dots: Dots, axes: tuple[int, int], theme: Theme) -> None:
    """Paint packages in their colours, with the way that they look as far as they are few."""
    total = len(dots.places_mm)
    every = max(-(-total // _MOST_DRAWN), 1)
    size = min(max(dots.size_mm * window.scale, 2.5), 9.0)
    chosen = np.arange(0, total, every)
    if axes[1] == 2:  # seen from the side many lie behind each other
        pixel = np.round(dots.places_mm[chosen][:, axes] * window.scale)
        chosen = chosen[np.unique(pixel[:, 0] * 1e5 + pixel[:, 1], return_index=True)[1]]
    if total <= _MOST_AXES:
        painter.setPen(QPen(theme.colour("accent", 160), 1.2))
        _paint_axes(painter, window, dots.places_mm[chosen], dots.axes[chosen], axes)
    places, colours = dots.places_mm[chosen], dots.colours[chosen]
    corners = np.stack([window.x(places[:, axes[0]]) - size / 2, window.y(places[:, axes[1]]) - size / 2], axis=1)
    codes = colours.astype(np.int32) @ np.array([65536, 256, 1], np.int32)
    for code in np.unique(codes).tolist():
        mine = corners[codes == code]
        colour = QColor(code >> 16, code >> 8 & 255, code & 255)
        painter.setBrush(colour)
        painter.setPen(QPen(colour.darker(170), 1.0) if size > 4.0 else QPen(Qt.PenStyle.NoPen))
        painter.drawRects(squares_of(mine, size))


def _paint_axes(
    painter: QPainter, window: Window, places_mm: FloatArray, looks: FloatArray, axes: tuple[int, int]
) -> None:
    turn = -1.0 if window.mirrored else 1.0
    x, y = window.x(places_mm[:, axes[0]]), window.y(places_mm[:, axes[1]])
    across, up = turn * looks[:, axes[0]] * _AXIS_PIXELS, -looks[:, axes[1]] * _AXIS_PIXELS
    seen = np.hypot(across, up) > 1.0
    if seen.any():
        starts = np.stack([x, y], axis=1)[seen]
        painter.drawLines(lines_of(starts, starts + np.stack([across, up], axis=1)[seen]))


def in_pixels(window: Window, points_mm: FloatArray) -> FloatArray:
    """Points (n, 2) in mm as pixels of a drawing."""
    return np.stack([window.x(points_mm[:, 0]), window.y(points_mm[:, 1])], axis=1)


def polygon(window: Window, outline: FloatArray) -> QPolygonF:
    """Points in mm as a polygon in the pixels of a drawing."""
    return polygon_of(in_pixels(window, outline))
