"""The order of a board's pixels: every one once, from the chosen corner, and to a neighbour where it goes back and forth."""

import itertools

import msgspec
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.design.build import ModuleChoice, PixelOrder
from gauze.core.design.pixel_display import PixelDisplay
from gauze.core.design.wiring import Wiring
from gauze.core.drawing import layers_of
from gauze.core.electrical.data_line import pixel_runs
from gauze.core.electrical.power import power_of
from gauze.core.errors import DesignError
from gauze.core.evaluate import WHILE_DRAGGING, evaluate
from gauze.core.evaluate.dimmed import dimmed
from gauze.core.families import lay_out, parts_of
from gauze.core.layout.pixel_order import order_on_board
from gauze.core.parts.flux import FluxFactors
from tests.builders import CATALOGUE
from tests.families import display, family, strip_display

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


ROWS = [order for order in ORDERS if order.by == "rows"]


def indices(build: PixelDisplay) -> np.ndarray:
    """Index of the data at every place, (rows, columns)."""
    laid = lay_out(family(build), CATALOGUE)
    runs = pixel_runs(laid.pieces, parts_of(family(build), laid, CATALOGUE).joints)
    places = np.concatenate([run.places_mm for run in runs])
    column = np.round(places[:, 0] / laid.pitch_mm[0] - 0.5).astype(int)
    row = np.round(places[:, 1] / laid.pitch_mm[1] - 0.5).astype(int)
    found = np.full((build.rows, build.columns), -1)
    found[row, column] = np.arange(len(places))
    return found


@pytest.mark.parametrize("order", ROWS, ids=lambda one: f"{one.start} {one.zigzag}")
def test_rows_of_strip_are_laid_so_that_the_data_run_as_chosen(order: PixelOrder) -> None:
    build = strip_display(path=order)
    wanted = np.empty(build.columns * build.rows, int)
    wanted[order_on_board(build.columns, build.rows, order)] = np.arange(wanted.size)
    assert indices(build).ravel().tolist() == wanted.tolist()


def test_turned_rows_glow_as_the_others_do_and_their_dim_end_is_on_the_other_side() -> None:
    """What a turned row's segments get of the volts is seen where they lie."""
    plain, turned = (strip_display(path=PixelOrder(zigzag=zigzag)) for zigzag in (False, True))
    light = [evaluate(family(build), CATALOGUE, WHILE_DRAGGING).luminance_cd_m2 for build in (plain, turned)]
    assert light[1] == pytest.approx(light[0], rel=1e-4)
    laid = lay_out(family(turned), CATALOGUE)
    for piece in (laid.pieces[0], laid.pieces[1]):
        dark = FluxFactors({piece.id: np.eye(1, turned.columns).T})  # all but its first segment are out
        lit = dimmed(laid, dark).cavities[0]
        mine = np.abs(lit.places_mm[:, 1] - piece.start_mm[1]) < 1.0
        first = lit.places_mm[mine & (lit.flux_lm > 0)]
        assert np.abs(first[:, 0] - piece.start_mm[0]).max() < piece.strip.segment_mm


def test_grids_are_joined_in_the_chosen_order() -> None:
    build = display(module=ModuleChoice(module="5v-rgb-grid-8x8"), columns=16, rows=16)
    paths = {
        None: ["1-1", "2-1", "2-2", "1-2"],
        PixelOrder(start="upper_right", by="columns"): ["2-2", "2-1", "1-2", "1-1"],
    }
    for path, names in paths.items():
        what = family(msgspec.structs.replace(build, path=path))
        laid = lay_out(what, CATALOGUE)
        runs = pixel_runs(laid.pieces, parts_of(what, laid, CATALOGUE).joints)
        assert [run.piece for run in runs] == [f"grid-{name}" for name in names]


def test_data_do_not_run_across_strip() -> None:
    with pytest.raises(DesignError, match="row by row"):
        lay_out(family(strip_display(path=PixelOrder(by="columns"))), CATALOGUE)


def test_the_way_is_offered_where_there_is_one_to_choose() -> None:
    def offered(build: PixelDisplay) -> int:
        choices = lay_out(family(build), CATALOGUE).sketch.choices
        return sum(len(one.options) for one in choices if one.field == "build.path")

    assert (offered(strip_display()), offered(strip_display(rows=1))) == (8, 0)
    assert (offered(display(columns=16)), offered(display(columns=8, rows=8))) == (16, 0)


@pytest.mark.parametrize("scheme", ["own", "buses", "both_ends"])
def test_a_bus_stays_on_its_side_of_turned_rows(scheme: str) -> None:
    what = family(strip_display(path=PixelOrder(zigzag=True)))
    laid = lay_out(what, CATALOGUE)
    power = power_of(laid.pieces, parts_of(what, laid, CATALOGUE).joints, Wiring(scheme=scheme))
    assert power is not None
    links = [one.wire for one in power.wires if one.wire.start.piece]
    assert links
    assert all(wire.start.place_mm[0] == pytest.approx(wire.end.place_mm[0]) for wire in links)
    sides = {round(wire.start.place_mm[0], 3) for wire in links}
    assert len(sides) == (2 if scheme == "both_ends" else 1)
