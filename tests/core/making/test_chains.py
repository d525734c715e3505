"""Polygons in rows that alternate: none lies over another, all on the sheet, and fewer sheets than rectangles take."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from manifold3d import CrossSection, FillRule

from gauze.core.design.tile_wall import Tile, polygon_mm
from gauze.core.evaluate.made import made_of
from gauze.core.formats.making_csv import encode_sheets
from gauze.core.formats.making_file import encode_making
from gauze.core.making.chains import chains_of, is_convex, patches_of, step_mm
from gauze.session.making_edits import with_making
from tests.builders import CATALOGUE
from tests.families import family, head, tiles

TRIANGLE = polygon_mm(3, 100.0)
HEXAGON = polygon_mm(6, 100.0)


def area(ring: np.ndarray) -> CrossSection:
    return CrossSection([np.ascontiguousarray(ring, dtype=float)], FillRule.NonZero)


def trapezium(low: float, high: float, tall: float) -> np.ndarray:
    return np.array([[0.0, 0.0], [low, 0.0], [low / 2 + high / 2, tall], [low / 2 - high / 2, tall]])


def test_equal_triangles_follow_each_other_by_half_a_side() -> None:
    """An equilateral triangle and its turned copy share a whole edge: half a side further."""
    ring = TRIANGLE - TRIANGLE.min(axis=0)
    assert step_mm(ring, 0.0) == pytest.approx(50.0)
    assert step_mm(ring, 3.0) == pytest.approx(50.0 + 3.0 / math.sin(math.radians(60.0)))


@given(st.floats(20, 200), st.floats(20, 200), st.floats(10, 200), st.floats(0, 5))
def test_trapeziums_share_their_slanting_edge(low: float, high: float, tall: float, gap: float) -> None:
    ring = trapezium(low, high, tall)
    ring = ring - ring.min(axis=0)
    step = step_mm(ring, gap)
    lean = abs(low - high) / 2.0
    assert step == pytest.approx((low + high) / 2.0 + gap * math.hypot(lean, tall) / tall)


@given(st.sampled_from([TRIANGLE, trapezium(80, 30, 60), trapezium(20, 90, 40)]), st.integers(2, 9), st.floats(0, 4))
def test_no_polygon_of_a_row_lies_over_another(ring: np.ndarray, count: int, gap: float) -> None:
    chains = chains_of([f"p{number}" for number in range(count)], ring, 1000.0, gap)
    assert sorted(name for chain in chains for name in chain.ids) == sorted(f"p{number}" for number in range(count))
    for chain in chains:
        wide, high = chain.size_mm
        assert wide <= 1000.0 + 1e-6
        for one, other in itertools.combinations(chain.rings_mm, 2):
            assert (area(one) ^ area(other)).area() == pytest.approx(0.0, abs=1e-6)
        every = np.concatenate(chain.rings_mm)
        assert every.min() >= -1e-9
        assert (every <= [wide + 1e-9, high + 1e-9]).all()


def test_what_gains_nothing_is_left_alone() -> None:
    assert chains_of(["a", "b"], HEXAGON, 1000.0, 2.0) == []
    assert chains_of(["a"], TRIANGLE, 1000.0, 2.0) == []
    concave = np.array([[0.0, 0.0], [10.0, 0.0], [10.0, 10.0], [5.0, 2.0], [0.0, 10.0]])
    assert not is_convex(concave)
    assert chains_of(["a", "b"], concave, 1000.0, 2.0) == []


def test_triangles_of_a_wall_take_fewer_sheets_than_the_rectangles_around_them() -> None:
    rise = 220.0 * (
        math.sqrt(3.0) / 2.0 - 1.0 / math.sqrt(3.0)
    )  # from the middle of one to that of its turned neighbour
    wall = tiles(
        *(
            Tile(sides=3, x_mm=110.0 * number, y_mm=rise * (number % 2), turn_deg=180.0 * (number % 2))
            for number in range(24)
        ),
        side_mm=220.0,
    )
    made = made_of(family(wall), CATALOGUE, ())
    for one in made.sheets:
        assert one.plan is not None
        rectangles = 8  # four side by side, two on top of each other: 24 of them fill three sheets
        assert one.bought < math.ceil(24 / rectangles)
        names = [placed.name for sheet in one.plan.sheets for placed in sheet.placed]
        assert sorted(names) == sorted(name for piece in one.sheet_list.pieces for name in piece.ids)
        for sheet in one.plan.sheets:
            assert sheet.used < 1.0
            for first, second in itertools.combinations(sheet.placed, 2):
                assert first.ring_mm is not None
                assert second.ring_mm is not None
                assert (area(first.ring_mm) ^ area(second.ring_mm)).area() == pytest.approx(0.0, abs=1e-3)
            for placed in sheet.placed:
                assert placed.ring_mm is not None
                assert placed.area_mm2 == pytest.approx(math.sqrt(3.0) / 4.0 * 220.0**2, rel=1e-3)
                assert (placed.ring_mm >= -1e-6).all()
                assert (placed.ring_mm <= [1000.0 + 1e-6, 500.0 + 1e-6]).all()


def test_a_polygon_that_could_lie_closer_is_not_called_proven() -> None:
    """Six hexagons of 220 mm over the corners: two sheets by their rectangles, one by their area."""
    wall = tiles(*(Tile(sides=6, x_mm=0.0, y_mm=110.0 * math.sqrt(3.0) * number) for number in range(7)), side_mm=110.0)
    for one in made_of(family(wall), CATALOGUE, ()).sheets:
        assert one.plan is not None
        whole = 7 * 1.5 * math.sqrt(3.0) * 110.0**2 / (1000.0 * 500.0)
        assert one.plan.bound <= math.ceil(whole) * one.size.price + 1e-9


@pytest.mark.parametrize("copies", [1, 3])
def test_tables_and_pages_hold_every_facet_of_a_funnel(copies: int) -> None:
    what = family(head(sides=6))
    made = made_of(with_making(what, copies=copies), CATALOGUE, ())
    rows = encode_sheets(made).decode().splitlines()
    assert sum("facet-" in row for row in rows) == 6 * copies
    assert encode_making("Test", made, ".pdf").startswith(b"%PDF")


DISC = np.array([[50.0 * math.cos(a), 50.0 * math.sin(a)] for a in np.linspace(0.0, 2.0 * math.pi, 96, endpoint=False)])


@pytest.mark.parametrize(
    ("ring", "step"),
    [(HEXAGON, 150.0), (DISC, 100.0 * math.sqrt(3.0) / 2.0)],
    ids=["hexagon", "disc"],
)
def test_shifted_columns_are_those_of_a_honeycomb(ring: np.ndarray, step: float) -> None:
    """Hexagons of side a lie 3a/2 apart, discs of diameter d d sqrt(3)/2: the densest packings there are."""
    (patch, *_) = patches_of([f"p{number}" for number in range(200)], ring, (2000.0, 2000.0), 0.0)
    columns = np.unique(np.round([one[:, 0].min() for one in patch.rings_mm], 3))
    rows = np.unique(np.round([one[:, 1].min() for one in patch.rings_mm], 3))
    assert min(abs(np.diff(axis)[0] - step) for axis in (columns, rows)) < 0.01 * step


@given(st.sampled_from([HEXAGON, DISC, trapezium(80, 60, 70)]), st.integers(2, 40), st.floats(0, 4))
def test_no_polygon_of_a_patch_lies_over_another(ring: np.ndarray, count: int, gap: float) -> None:
    names = [f"p{number}" for number in range(count)]
    patches = patches_of(names, ring, (700.0, 500.0), gap)
    assert not patches or sorted(name for one in patches for name in one.ids) == sorted(names)
    for patch in patches:
        assert patch.size_mm[0] <= 700.0 + 1e-6
        assert patch.size_mm[1] <= 500.0 + 1e-6
        grown = [area(one).offset(gap / 2.0 - 1e-4) for one in patch.rings_mm]
        for one, other in itertools.combinations(grown, 2):
            assert (one ^ other).area() == pytest.approx(0.0, abs=1e-3)


def test_a_laser_takes_fewer_sheets_for_hexagons_than_a_saw() -> None:
    wall = tiles(*(Tile(sides=6, x_mm=0.0, y_mm=60.0 * math.sqrt(3.0) * number) for number in range(40)), side_mm=60.0)
    what = family(wall)
    bought = {
        way: [one.bought for one in made_of(with_making(what, sheets_cut=way), CATALOGUE, ()).sheets]
        for way in ("straight", "free")
    }
    assert all(free <= straight for free, straight in zip(bought["free"], bought["straight"], strict=True))
    assert sum(bought["free"]) < sum(bought["straight"])
