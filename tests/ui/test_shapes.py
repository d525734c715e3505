"""Qt's shapes from arrays hold what the arrays hold, and stay when the arrays are gone."""

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage, QPainter

from gauze.ui.canvas.paint.shapes import lines_of, polygon_of, squares_of


def test_a_polygon_has_the_points_of_its_array() -> None:
    points = np.random.default_rng(4).uniform(-500.0, 2000.0, (700, 2))
    polygon = polygon_of(points)
    kept = points.copy()
    points[:] = 0.0
    assert [(p.x(), p.y()) for p in polygon] == [tuple(p) for p in kept.tolist()]


def test_nothing_makes_an_empty_shape() -> None:
    empty = np.empty((0, 2))
    assert polygon_of(empty).isEmpty()
    assert len(squares_of(empty, 3.0)) == 0
    assert len(lines_of(empty, empty)) == 0


def test_squares_and_lines_are_painted_where_they_stand() -> None:
    image = QImage(40, 40, QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.black)
    painter = QPainter(image)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(Qt.GlobalColor.white)
    painter.drawRects(squares_of(np.array([[2.0, 3.0], [30.0, 20.0]]), 4.0))
    painter.setPen(Qt.GlobalColor.red)
    painter.drawLines(lines_of(np.array([[10.0, 10.0]]), np.array([[20.0, 10.0]])))
    painter.end()
    white, red = 0xFFFFFFFF, 0xFFFF0000
    found = {(x, y): image.pixel(x, y) for x in range(40) for y in range(40)}
    squares = {(x + i, y + j) for x, y in ((2, 3), (30, 20)) for i in range(4) for j in range(4)}
    assert {place for place, pixel in found.items() if pixel == white} == squares
    assert {place for place, pixel in found.items() if pixel == red} == {(x, 10) for x in range(10, 21)}
