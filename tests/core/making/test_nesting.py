"""Outlines nested into each other: none over another, the gap kept, in ways that they may lie."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from manifold3d import JoinType

from gauze.core.design.making import Making, StockChoice
from gauze.core.errors import CuttingError
from gauze.core.layout.model import FloatArray
from gauze.core.layout.shapes import regular
from gauze.core.making.nesting import NestedShape, nested
from gauze.core.making.sheet_lists import SheetList, SheetPiece, plan_sheet_lists
from gauze.core.making.sheets import Cutout, Placed, SheetSize, plan_sheets, ring_area_mm2
from gauze.core.making.solids.shapes import area
from tests.builders import CATALOGUE

ELBOW = np.array([[0.0, 0.0], [200.0, 0.0], [200.0, 60.0], [60.0, 60.0], [60.0, 200.0], [0.0, 200.0]])
WEDGE = np.array([[0.0, 0.0], [120.0, 0.0], [0.0, 80.0]])
SHAPES = (ELBOW, WEDGE, regular(6, 45.0), regular(3, 50.0), regular(24, 30.0))


def ring(one: Placed) -> FloatArray:
    assert one.ring_mm is not None
    return one.ring_mm


@settings(max_examples=15, deadline=None)
@given(
    st.lists(st.sampled_from(range(len(SHAPES))), min_size=1, max_size=14),
    st.floats(0.0, 8.0),
    st.floats(0.0, 10.0),
    st.booleans(),
)
def test_nothing_overlaps_and_the_gap_is_kept(chosen: list[int], gap: float, rim: float, turns: bool) -> None:
    """Areas by a polygon library: outlines grown by half of the gap share nothing, and all lie within the rim."""
    shapes = [NestedShape(f"p{number}", SHAPES[kind], turns) for number, kind in enumerate(chosen)]
    plan = nested(shapes, [SheetSize(600.0, 400.0, 5.0)], gap, rim, most_s=60.0)
    assert plan is not None
    assert sorted(one.name for sheet in plan.sheets for one in sheet.placed) == sorted(one.name for one in shapes)
    assert plan.cost == 5.0 * len(plan.sheets)
    for sheet in plan.sheets:
        grown = [area(ring(one)).offset(gap / 2.0, JoinType.Round) for one in sheet.placed]
        together = grown[0]
        for one in grown[1:]:
            together = together + one
        assert together.area() == pytest.approx(sum(one.area() for one in grown), rel=1e-6)
        for one in sheet.placed:
            low, high = ring(one).min(axis=0), ring(one).max(axis=0)
            assert (low >= rim - 1e-6).all()
            assert high[0] <= 600.0 - rim + 1e-6
            assert high[1] <= 400.0 - rim + 1e-6


def test_elbows_lie_in_each_other() -> None:
    """Two elbows of 200 mm nest where their rectangles would need 400 mm: one sheet of 270 mm is enough."""
    shapes = [NestedShape(f"e{number}", ELBOW) for number in range(2)]
    plan = nested(shapes, [SheetSize(275.0, 275.0, 1.0)], 3.0, 0.0)
    assert plan is not None
    assert len(plan.sheets) == 1
    with pytest.raises(CuttingError):
        plan_sheets([SheetSize(275.0, 275.0, 1.0, quantity=1)], [Cutout("e", 200.0, 200.0, 2)], 3.0)


def test_a_wall_of_different_tiles_takes_fewer_sheets_by_laser() -> None:
    """Elbows with hexagons in their corners; the areas alone say that one sheet is too little."""
    pieces = (
        SheetPiece(tuple(f"elbow-{n}" for n in range(8)), 200.0, 200.0, rectangle=False, outline_mm=ELBOW),
        SheetPiece(tuple(f"six-{n}" for n in range(8)), 90.0, 78.0, rectangle=False, outline_mm=regular(6, 45.0)),
    )
    own = SheetList("sheet:x", "Sheet", pieces)
    (straight,) = plan_sheet_lists([own], Making(trim_mm=5.0), (), CATALOGUE)
    (free,) = plan_sheet_lists([own], Making(trim_mm=5.0, sheets_cut="free"), (), CATALOGUE)
    assert free.plan is not None
    assert straight.plan is not None
    needed = (8 * ring_area_mm2(ELBOW) + 8 * ring_area_mm2(regular(6, 45.0))) / 500_000.0
    assert math.ceil(needed) <= len(free.plan.sheets) <= len(straight.plan.sheets)


def test_offcuts_are_used_first_and_too_large_is_none() -> None:
    shapes = [NestedShape("w", WEDGE)]
    plan = nested(shapes, [SheetSize(150.0, 100.0, quantity=1, offcut=True), SheetSize(600.0, 400.0, 9.0)], 1.0, 0.0)
    assert plan is not None
    assert plan.cost == 0.0
    assert nested([NestedShape("big", ELBOW * 10.0)], [SheetSize(600.0, 400.0, 9.0)], 1.0, 0.0) is None
    assert nested([], [SheetSize(600.0, 400.0)], 1.0, 0.0) is None
    assert nested(shapes, [], 1.0, 0.0) is None
    assert nested([NestedShape(str(n), WEDGE) for n in range(1000)], [SheetSize(600.0, 400.0)], 1.0, 0.0) is None


def test_with_a_grain_nothing_is_turned() -> None:
    """Doors of 300 x 500 mm: turned they lie two side by side on 1000 x 500 mm, upright three."""
    with_grain, without = (
        plan_sheets([SheetSize(500.0, 300.0, 1.0)], [Cutout("door", 290.0, 240.0, 4, turns=turns)], 2.0)
        for turns in (False, True)
    )
    assert all(one.width_mm == pytest.approx(290.0) for sheet in with_grain.sheets for one in sheet.placed)
    assert len(without.sheets) < len(with_grain.sheets)
    with pytest.raises(CuttingError, match="Larger than any sheet"):
        plan_sheets([SheetSize(500.0, 300.0, 1.0)], [Cutout("door", 290.0, 400.0, turns=False)], 2.0)


def test_the_choice_of_a_grain_reaches_the_plan() -> None:
    piece = SheetPiece(("a", "b", "c", "d"), 290.0, 490.0, rectangle=True)
    own = SheetList("sheet:x", "Sheet", (piece,))
    for grain in (False, True):
        making = Making(stocks=(StockChoice(key="sheet:x", length_mm=1000.0, width_mm=500.0, grain=grain),))
        (planned,) = plan_sheet_lists([own], making, (), CATALOGUE)
        assert planned.grain is grain
        assert planned.plan is not None
        if grain:
            assert all(one.height_mm == pytest.approx(490.0) for sheet in planned.plan.sheets for one in sheet.placed)
