"""Rectangles cut out of sheets: plans that can be counted by hand, and what must hold of any."""

import itertools
from collections.abc import Sequence

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gauze.core.errors import Cancelled, CuttingError
from gauze.core.making.sheets import Cutout, CutSheet, Placed, SheetPlan, SheetSize, plan_sheets


def parts_straight(placed: Sequence[Placed]) -> bool:
    """Whether straight cuts from edge to edge can free every piece: tried here by parting at every edge."""
    if len(placed) < 2:
        return True
    for low, size in (("x_mm", "width_mm"), ("y_mm", "height_mm")):
        for at in sorted({getattr(one, low) for one in placed})[1:]:
            before = [one for one in placed if getattr(one, low) + getattr(one, size) <= at + 1e-6]
            after = [one for one in placed if getattr(one, low) >= at - 1e-6]
            if before and len(before) + len(after) == len(placed):
                return parts_straight(before) and parts_straight(after)
    return False


def check(plan: SheetPlan, wanted: Sequence[Cutout], kerf_mm: float, rim_mm: float) -> None:
    names = sorted(one.name for sheet in plan.sheets for one in sheet.placed)
    assert names == sorted(one.name for one in wanted for _ in range(one.quantity))
    sizes = {one.name: sorted((one.width_mm, one.height_mm)) for one in wanted}
    for sheet in plan.sheets:
        for one in sheet.placed:
            assert sorted((one.width_mm, one.height_mm)) == pytest.approx(sizes[one.name])
            assert one.x_mm >= rim_mm - 1e-6
            assert one.y_mm >= rim_mm - 1e-6
            assert one.x_mm + one.width_mm <= sheet.size.width_mm - rim_mm + 1e-6
            assert one.y_mm + one.height_mm <= sheet.size.height_mm - rim_mm + 1e-6
        for one, other in itertools.combinations(sheet.placed, 2):
            apart = max(
                one.x_mm - other.x_mm - other.width_mm,
                other.x_mm - one.x_mm - one.width_mm,
                one.y_mm - other.y_mm - other.height_mm,
                other.y_mm - one.y_mm - one.height_mm,
            )
            assert apart >= kerf_mm - 1e-6
        assert parts_straight(sheet.placed)
    assert plan.bound <= plan.cost + 1e-6


def test_six_tiles_fill_a_sheet_to_the_kerf() -> None:
    """3 x 332 + 2 x 2 = 1000, 2 x 249 + 2 = 500: six out of one sheet, and seven take a second."""
    sheet = SheetSize(1000.0, 500.0, 20.0)
    six, seven = (plan_sheets([sheet], [Cutout("tile", 332.0, 249.0, many)], 2.0) for many in (6, 7))
    assert (six.cost, six.bound, six.optimal, six.bought) == (20.0, 20.0, True, 1)
    assert (seven.cost, seven.optimal) == (40.0, True)
    check(six, [Cutout("tile", 332.0, 249.0, 6)], 2.0, 0.0)


def test_pieces_of_which_no_two_fit_take_a_sheet_each() -> None:
    plan = plan_sheets([SheetSize(600.0, 400.0, 9.0)], [Cutout("lid", 310.0, 305.0, 4)])
    assert (plan.bought, plan.cost, plan.bound) == (4, 36.0, 36.0)


def test_an_offcut_is_taken_first_and_the_cheaper_size_is_bought() -> None:
    sizes = [
        SheetSize(310.0, 210.0, quantity=1, offcut=True),
        SheetSize(1000.0, 500.0, 30.0),
        SheetSize(320.0, 220.0, 5.0),
    ]
    plan = plan_sheets(sizes, [Cutout("lid", 300.0, 200.0, 2)])
    assert sorted(sheet.size.offcut for sheet in plan.sheets) == [False, True]
    assert (plan.cost, plan.optimal) == (5.0, True)


@settings(max_examples=40)
@given(
    st.lists(st.tuples(st.integers(20, 400), st.integers(20, 400), st.integers(1, 4)), min_size=1, max_size=8),
    st.sampled_from([0.0, 2.0, 4.0]),
    st.sampled_from([0.0, 5.0]),
)
def test_every_piece_lies_once_on_a_sheet_and_straight_cuts_free_it(
    pieces: list[tuple[int, int, int]], kerf_mm: float, rim_mm: float
) -> None:
    wanted = [Cutout(f"piece {index}", float(w), float(h), many) for index, (w, h, many) in enumerate(pieces)]
    plan = plan_sheets([SheetSize(600.0, 420.0, 7.0)], wanted, kerf_mm, rim_mm, most_s=0.1)
    check(plan, wanted, kerf_mm, rim_mm)


def test_squares_of_which_ten_fit_are_proven_by_how_many_lie_beside_each_other() -> None:
    """5 x 183 = 915 of 1003 mm, 2 x 183 = 366 of 503 mm: ten on a sheet, and an eleventh would have to overlap."""
    plan = plan_sheets([SheetSize(1000.0, 500.0, 1.0)], [Cutout("tile", 180.0, 180.0, 200)], 3.0, most_s=5.0)
    assert (plan.bought, plan.bound, plan.optimal) == (20, 20.0, True)


@settings(max_examples=30)
@given(st.integers(2, 6), st.integers(2, 5), st.sampled_from([0.0, 3.0]))
def test_the_bound_is_never_above_a_plan_that_fills_a_sheet(columns: int, rows: int, kerf_mm: float) -> None:
    """A sheet that is cut into equal pieces all over needs one sheet for these, whatever is counted."""
    wide, high = (600.0 - (columns - 1) * kerf_mm) / columns, (420.0 - (rows - 1) * kerf_mm) / rows
    plan = plan_sheets(
        [SheetSize(600.0, 420.0, 1.0)], [Cutout("piece", wide, high, columns * rows)], kerf_mm, most_s=0.5
    )
    assert plan.bound == 1.0


def test_two_hundred_tiles_are_planned_to_a_stated_gap() -> None:
    wanted = [Cutout("large", 180.0, 180.0, 60), Cutout("small", 95.0, 95.0, 140)]
    plan = plan_sheets([SheetSize(1000.0, 500.0, 1.0)], wanted, 3.0, most_s=1.0)
    check(plan, wanted, 3.0, 0.0)
    assert plan.cost <= 1.35 * plan.bound
    assert all(isinstance(sheet, CutSheet) and 0.0 < sheet.used <= 1.0 for sheet in plan.sheets)


@pytest.mark.parametrize(
    ("sizes", "wanted", "words"),
    [
        ([SheetSize(600.0, 400.0)], [Cutout("door", 700.0, 300.0)], r"Larger than any sheet.*door \(700 × 300 mm\)"),
        ([], [Cutout("lid", 10.0, 10.0)], "Larger than any sheet"),
        ([SheetSize(600.0, 400.0, quantity=1)], [Cutout("lid", 500.0, 300.0, 2)], "not enough"),
        ([SheetSize(600.0, 400.0)], [Cutout("lid", 1.0, 1.0, 99_999)], "At most"),
    ],
)
def test_what_fits_on_no_sheet_is_named(sizes: list[SheetSize], wanted: list[Cutout], words: str) -> None:
    with pytest.raises(CuttingError, match=words):
        plan_sheets(sizes, wanted, most_s=0.2)


def test_nothing_wanted_takes_nothing_and_it_stops_when_told() -> None:
    assert plan_sheets([SheetSize(10.0, 10.0, 1.0)], []).sheets == ()

    def pause() -> None:
        raise Cancelled

    with pytest.raises(Cancelled):
        plan_sheets([SheetSize(10.0, 10.0, 1.0)], [Cutout("a", 1.0, 1.0)], pause=pause)
