"""The order of a board's pixels: every one once, from the chosen corner, and to a neighbour where it goes back and forth."""

import itertools

import msgspec
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.design.build import ModuleChoice, PixelOrder
from gauze.core.drawing import layers_of
from gauze.core.electrical.data_line import order_on_board, pixel_runs
from gauze.core.families import lay_out, parts_of
from tests.builders import CATALOGUE
from tests.families import display, family

STARTS = ("lower_left", "lower_right", "upper_left", "upper_right")
ORDERS = [
    PixelOrder(start=start, by=by, zigzag=zigzag)
    for start, by, zigzag in itertools.product(STARTS, ("rows", "columns"), (False, True))
]


@given(st.integers(1, 32), st.integers(1, 16), st.sampled_from(ORDERS))
def test_every_pixel_comes_once_and_the_first_is_in_its_corner(columns: int, rows: int, order: PixelOrder) -> None:
    found = order_on_board(columns, rows, order)
    assert sorted(found.tolist()) == list(range(columns * rows))
    row, column = divmod(int(found[0]), columns)
    assert row == (rows - 1 if order.start.startswith("upper") else 0)
    assert column == (columns - 1 if order.start.endswith("right") else 0)
    steps = np.abs(np.diff(np.stack(np.divmod(found, columns)), axis=1)).sum(axis=0)
    if order.zigzag:
        assert (steps == 1).all()  # always to a neighbour
    else:
        line = columns if order.by == "rows" else rows
        within = np.arange(1, columns * rows) % line != 0
        assert (steps[within] == 1).all()


def test_an_order_worked_out_by_hand() -> None:
    """3 columns, 2 rows, numbered 0 1 2 below and 3 4 5 above: columns back and forth from the upper right."""
    order = PixelOrder(start="upper_right", by="columns", zigzag=True)
    assert order_on_board(3, 2, order).tolist() == [5, 2, 1, 4, 3, 0]


@pytest.mark.parametrize("order", ORDERS, ids=lambda one: f"{one.start} {one.by} {one.zigzag}")
def test_the_map_and_the_layer_follow_it(order: PixelOrder) -> None:
    build = display(module=ModuleChoice(module="5v-rgb-grid-8x8", order=order))
    what = family(build)
    laid = lay_out(what, CATALOGUE)
    runs = pixel_runs(laid.pieces, parts_of(what, laid, CATALOGUE).joints)
    usual = family(msgspec.structs.replace(build, module=ModuleChoice(module="5v-rgb-grid-8x8")))
    plain_laid = lay_out(usual, CATALOGUE)
    plain = pixel_runs(plain_laid.pieces, parts_of(usual, plain_laid, CATALOGUE).joints)
    for run, other in zip(runs, plain, strict=True):
        assert run.places_mm == pytest.approx(other.places_mm[order_on_board(8, 8, order)])
    layer = next(one for one in layers_of(what, laid) if one.key == "data")
    assert any(np.array_equal(shape.points_mm, runs[0].places_mm[:, :2]) for shape in layer.shapes)
