"""Paints plan and side cut of a build: outlines by what they are, emitters with their axes."""

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from gauze.core.evaluate.units import package_xyz
from gauze.core.layout import BuiltLayout, CavityLayout
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.layout.placing import placed_units
from gauze.core.layout.sketch import Handle, Outline, Thing
from gauze.core.layout.tiles import FlatTile, Tile
from gauze.core.optics.appearance import Viewing, true_colour
from gauze.ui.canvas.build_geometry import Window
from gauze.ui.theme import Theme

_MOST_DRAWN = 8_000  # emitters; of more every so many
_AXIS_PIXELS = 9.0
_LID_STEPS, _STRAIGHT_STEPS = 56, 4
_BOARD = QColor("#d8d2c4")
_DARK = QColor(20, 20, 24, 150)


def paint_plan(painter: QPainter, window: Window, layout: BuiltLayout, theme: Theme) -> None:
    """Paint the build from the front, with its emitters in their colours."""
    for outline in layout.sketch.plan:
        paint_outline(painter, window, outline, theme, layout.unit.cavity.reflectances.back)
    for unit in placed_units(layout):
        _paint_emitters(painter, window, unit, (0, 1), theme)


def paint_cut(painter: QPainter, window: Window, layout: BuiltLayout, theme: Theme) -> None:
    """Paint the build from the side; the emitters of the first cavity are projected into it."""
    for outline in layout.sketch.cut:
        paint_outline(painter, window, outline, theme, layout.unit.cavity.reflectances.back)
    axis = 0 if layout.sketch.cut_axis == "x" else 1
    _paint_emitters(painter, window, layout.unit, (axis, 2), theme)


def paint_outline(painter: QPainter, window: Window, outline: Outline, theme: Theme, back: float) -> None:
    """Paint one outline as what it is."""
    grey = round(40 + 150 * back)
    pens = {
        "body": QPen(theme.colour("ink"), 1.4),
        "back": QPen(theme.colour("ink"), 1.0),
        "partition": QPen(Qt.PenStyle.NoPen),
        "strip": QPen(_BOARD.darker(150), 1.0),
        "sheet": QPen(theme.colour("ink_dim"), 1.0),
        "part": QPen(theme.colour("ink_dim"), 1.0),
        "dark": QPen(theme.colour("watch"), 1.0, Qt.PenStyle.DashLine),
        "lit": QPen(theme.colour("accent"), 3.0),
        "path": QPen(theme.colour("accent"), 1.6),
        "eye": QPen(theme.colour("ink_dim"), 1.0, Qt.PenStyle.DotLine),
    }
    fills: dict[str, QColor | None] = {
        "body": theme.colour("panel"),
        "back": QColor(grey, grey, round(grey * 0.97)),
        "partition": theme.colour("ink_dim"),
        "strip": _BOARD,
        "sheet": theme.colour("ink", 40),
        "part": theme.colour("raised"),
        "dark": _DARK,
    }
    painter.setPen(pens[outline.role])
    fill = fills.get(outline.role)
    if outline.closed:
        painter.setBrush(fill if fill is not None else Qt.BrushStyle.NoBrush)
        painter.drawPolygon(polygon(window, outline.points_mm))
    else:
        if outline.role == "strip":
            painter.setPen(QPen(_BOARD, 3.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(polygon(window, outline.points_mm))
    if outline.words:
        low, high = outline.points_mm.min(axis=0), outline.points_mm.max(axis=0)
        box = QRectF(
            window.x(low[0]), window.y(high[1]), (high[0] - low[0]) * window.scale, (high[1] - low[1]) * window.scale
        )
        if painter.fontMetrics().horizontalAdvance(outline.words) < box.width() - 4:
            painter.setPen(theme.colour("ink_dim"))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, outline.words)


def paint_hold(painter: QPainter, window: Window, what: Handle | Thing, theme: Theme) -> None:
    """Mark what is under the pointer, focused or held."""
    painter.setPen(QPen(theme.colour("accent"), 2.0))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if isinstance(what, Thing):
        painter.drawPolygon(polygon(window, what.outline_mm))
        return
    start, end = (QPointF(window.x(p[0]), window.y(p[1])) for p in (what.start_mm, what.end_mm))
    painter.drawLine(start, end)
    middle = (start + end) / 2.0
    grip = QRectF(middle.x() - 7, middle.y() - 4, 14, 8)
    if what.direction[0]:
        grip = QRectF(middle.x() - 4, middle.y() - 7, 8, 14)
    painter.setBrush(theme.colour("accent"))
    painter.drawRoundedRect(grip, 3, 3)


def paint_grips(painter: QPainter, window: Window, handles: list[Handle], theme: Theme) -> None:
    """Mark quietly what can be dragged."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour("accent", 150))
    for handle in handles:
        x = (window.x(handle.start_mm[0]) + window.x(handle.end_mm[0])) / 2
        y = (window.y(handle.start_mm[1]) + window.y(handle.end_mm[1])) / 2
        wide, high = (3.0, 10.0) if handle.direction[0] else (10.0, 3.0)
        painter.drawRoundedRect(QRectF(x - wide, y - high, 2 * wide, 2 * high), 2, 2)


def _steps(tile: Tile) -> FloatArray:
    """Places along an edge of a piece: straight ones need few."""
    return np.linspace(0.0, 1.0, _STRAIGHT_STEPS if isinstance(tile, FlatTile) else _LID_STEPS)


def face_path(window: Window, layout: CavityLayout) -> QPainterPath:
    """Outline of the unrolled lit faces on the drawing; empty where they fill it."""
    path = QPainterPath()
    if isinstance(layout.cavity, BaffledBox):
        return path
    for tile in layout.cavity.lids:
        share = _steps(tile)
        zero = np.zeros_like(share)
        s = np.concatenate([share, zero + 1.0, share[::-1], zero])
        t = np.concatenate([zero, share, zero + 1.0, share[::-1]])
        piece = QPainterPath()
        piece.addPolygon(polygon(window, np.stack(tile.to_chart(s, t), axis=1)))
        piece.closeSubpath()
        path = path.united(piece)
    return path


def _paint_emitters(painter: QPainter, window: Window, unit: CavityLayout, axes: tuple[int, int], theme: Theme) -> None:
    if not unit.emitter_count:
        return
    every = -(-unit.emitter_count // _MOST_DRAWN)
    places, directions = unit.places_mm[::every], unit.axes[::every]
    x = window.rect.x + (places[:, axes[0]] - window.left_mm) * window.scale
    y = window.rect.bottom - (places[:, axes[1]] - window.low_mm) * window.scale
    across, up = directions[:, axes[0]] * _AXIS_PIXELS, -directions[:, axes[1]] * _AXIS_PIXELS
    size = min(max(unit.emitter_size_mm * window.scale, 2.5), 9.0)
    painter.setPen(QPen(theme.colour("accent", 160), 1.2))
    if len(places) <= _MOST_DRAWN // 10:
        leaning = np.flatnonzero(np.hypot(across, up) > 1.0)
        for i in leaning:
            painter.drawLine(QLineF(float(x[i]), float(y[i]), float(x[i] + across[i]), float(y[i] + up[i])))
    for colour, mine in _by_colour(unit, every):
        painter.setBrush(colour)
        painter.setPen(QPen(colour.darker(170), 1.0) if size > 4.0 else QPen(Qt.PenStyle.NoPen))
        half = size / 2
        if len(mine):
            painter.drawRects(*(QRectF(float(x[i]) - half, float(y[i]) - half, size, size) for i in mine))


def _by_colour(unit: CavityLayout, every: int) -> list[tuple[QColor, IndexArray]]:
    """Screen colours, and which of the drawn emitters have them; channels that share a place show their mixture."""
    xyz, lit = package_xyz(unit)[::every], unit.flux_lm[::every] > 0
    distinct, which = np.unique(np.round(xyz, 4), axis=0, return_inverse=True)
    pixels = true_colour(np.asarray(distinct.T[:, None, :], dtype=np.float32), Viewing(1.25, 0.0, 0.0))[0]
    found = [
        (QColor(*(int(value) for value in pixels[index])), np.flatnonzero((which.ravel() == index) & lit))
        for index in range(len(distinct))
    ]
    return [(QColor(110, 110, 110), np.flatnonzero(~lit)), *found]


def polygon(window: Window, outline: FloatArray) -> QPolygonF:
    """Points in mm as pixels of a drawing."""
    x, y = window.x(outline[:, 0]), window.y(outline[:, 1])
    return QPolygonF([QPointF(a, b) for a, b in zip(x.tolist(), y.tolist(), strict=True)])
