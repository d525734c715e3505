"""Lengths cut out of bars: instances with known optima, exhaustive search, and what must hold of any plan.

V. Chvatal, Linear Programming, chapter 13 (1983), from memory: raws of 100 in; 97 finals of 45, 610 of 36, 395 of 31 and 211 of
14 in. The linear programme has 452.25, and 453 raws are needed.
Paper reels of 5600 mm with 13 widths, the worked example of the encyclopaedic article on the cutting-stock problem, from memory:
the least is 73 reels.
"""

import itertools
import math
from collections.abc import Sequence

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gauze.core.errors import Cancelled, CuttingError
from gauze.core.making.cutting import CuttingPlan, Saw, Stock, Wanted, plan_cuts

REELS = dict(
    zip(
        (1380, 1520, 1560, 1710, 1820, 1880, 1930, 2000, 2050, 2100, 2140, 2150, 2200),
        (22, 25, 12, 14, 18, 18, 20, 10, 12, 14, 16, 18, 20),
        strict=True,
    )
)


def wanted(counts: dict[int, int]) -> list[Wanted]:
    return [Wanted(f"{length} mm", float(length), count) for length, count in counts.items()]


def test_chvatals_raws() -> None:
    plan = plan_cuts([Stock(100.0, 1.0)], wanted({45: 97, 36: 610, 31: 395, 14: 211}), Saw())
    assert (plan.cost, plan.bound, plan.optimal) == (453.0, 453.0, True)


def test_reels_of_paper() -> None:
    plan = plan_cuts([Stock(5600.0, 1.0)], wanted(REELS), Saw())
    assert (plan.cost, plan.optimal) == (73.0, True)


@pytest.mark.parametrize("length_mm", [1e-320, 1e-200, 1e-9])
def test_pieces_of_nearly_no_length_all_come_out_of_one_bar(length_mm: float) -> None:
    plan = plan_cuts([Stock(2000.0, 9.5)], [Wanted("speck", length_mm, 6), Wanted("top", 1500.0, 1)], Saw())
    assert (plan.cost, len(plan.bars), plan.optimal) == (9.5, 1, True)
    assert len(plan.bars[0].pieces) == 7


def test_without_prices_it_is_the_length_that_counts() -> None:
    plan = plan_cuts([Stock(5600.0)], wanted(REELS), Saw())
    assert len(plan.bars) == 73
    assert plan.shortest


def exhaustive(stocks: Sequence[Stock], pieces: Sequence[float], saw: Saw) -> tuple[float, float]:
    """Least cost and then least length, by putting one piece after the other on every bar that is begun, or on a new one."""
    best = (math.inf, math.inf)

    def deeper(left: list[float], at: int, cost: float, length: float, used: tuple[int, ...]) -> None:
        nonlocal best
        if (cost, length) >= best:
            return
        if at == len(pieces):
            best = (cost, length)
            return
        need = pieces[at] + saw.kerf_mm
        for index, room in enumerate(left):
            if need <= room + 1e-9:
                deeper([*left[:index], room - need, *left[index + 1 :]], at + 1, cost, length, used)
        for index, stock in enumerate(stocks):
            if stock.quantity is not None and used[index] >= stock.quantity:
                continue
            room = stock.length_mm - 2 * saw.trim_mm + (0.0 if saw.kerf_after_last_piece else saw.kerf_mm)
            if need <= room + 1e-9:
                price = 0.0 if stock.offcut else stock.price
                now = tuple(count + (which == index) for which, count in enumerate(used))
                deeper([*left, room - need], at + 1, cost + price, length + stock.length_mm, now)

    deeper([], 0, 0.0, 0.0, (0,) * len(stocks))
    return best


LENGTHS = st.integers(20, 200).map(float)
JOBS = st.tuples(
    st.lists(LENGTHS, min_size=1, max_size=6),
    st.lists(st.tuples(st.integers(100, 420).map(float), st.integers(1, 40).map(float)), min_size=1, max_size=2),
    st.lists(st.integers(60, 300).map(float), max_size=2),
    st.builds(Saw, st.sampled_from([0.0, 2.0, 3.2]), st.sampled_from([0.0, 5.0]), st.booleans()),
)


@settings(max_examples=60)
@given(JOBS)
def test_no_plan_is_cheaper_nor_shorter_than_the_best_of_all(
    job: tuple[list[float], list[tuple[float, float]], list[float], Saw],
) -> None:
    pieces, priced, offcuts, saw = job
    stocks = [Stock(length, 0.0, 1, offcut=True) for length in offcuts]
    stocks += [Stock(length, price) for length, price in priced]
    best = exhaustive(stocks, sorted(pieces, reverse=True), saw)
    named = [Wanted(f"piece {index}", length) for index, length in enumerate(pieces)]
    if math.isinf(best[0]):
        with pytest.raises(CuttingError):
            plan_cuts(stocks, named, saw)
        return
    plan = plan_cuts(stocks, named, saw)
    check(plan, stocks, named, saw)
    assert plan.bound <= best[0] + 1e-6
    assert plan.cost == pytest.approx(best[0])
    assert plan.optimal
    assert plan.stock_length_mm == pytest.approx(best[1])


def check(plan: CuttingPlan, stocks: Sequence[Stock], named: Sequence[Wanted], saw: Saw) -> None:
    """Everything is cut once, fits, and no more stock is taken than there is."""
    cut = sorted(name for bar in plan.bars for name, _ in bar.pieces)
    assert cut == sorted(one.name for one in named for _ in range(one.quantity))
    for bar in plan.bars:
        ends = [*bar.marks_mm]
        starts = [saw.trim_mm, *(mark + saw.kerf_mm for mark in ends[:-1])]
        assert [end - start for start, end in zip(starts, ends, strict=True)] == pytest.approx(
            [one for _, one in bar.pieces]
        )
        last = ends[-1] + (saw.kerf_mm if saw.kerf_after_last_piece else 0.0)
        assert last <= bar.length_mm - saw.trim_mm + 1e-6
        assert bar.left_mm >= 0.0
    for stock in stocks:
        if stock.quantity is not None:
            alike = [one for one in stocks if (one.length_mm, one.offcut) == (stock.length_mm, stock.offcut)]
            there = sum(one.quantity or 0 for one in alike)
            assert sum((bar.length_mm, bar.offcut) == (stock.length_mm, stock.offcut) for bar in plan.bars) <= there


def test_an_offcut_is_taken_before_anything_is_bought_and_the_saw_may_run_off_the_end() -> None:
    """600 + 2 + 600 + 2 + 600 + 2 + 192 = 2000: three sides, and from the offcut of 1200 a fourth and a fifth, less a kerf."""
    stocks = [Stock(1202.0, quantity=1, offcut=True), Stock(2000.0, 9.5)]
    plan = plan_cuts(stocks, [Wanted("side", 600.0, 5)], Saw(2.0))
    assert plan.cost == 9.5
    offcut, bar = sorted(plan.bars, key=lambda one: one.length_mm)
    assert offcut.offcut
    assert offcut.left_mm == 0.0
    assert offcut.marks_mm == (600.0, 1202.0)
    assert bar.left_mm == pytest.approx(2000 - 3 * 602)
    with_last = plan_cuts(stocks, [Wanted("side", 600.0, 5)], Saw(2.0, kerf_after_last_piece=True))
    assert with_last.cost == 19.0  # then only one comes out of the offcut


@pytest.mark.parametrize(
    ("stocks", "pieces", "words"),
    [
        ([Stock(2000.0)], [Wanted("long", 2100.0)], r"Longer than any stock.*long \(2100 mm\)"),
        ([Stock(2000.0)], [Wanted("just", 1995.0)], r"Longer than any stock"),
        ([], [Wanted("one", 10.0)], "There is no stock"),
        ([Stock(1000.0, quantity=2)], [Wanted("half", 600.0, 3)], r"used up before.*half"),
        ([Stock(1000.0, quantity=0)], [Wanted("half", 600.0)], "used up"),
        ([Stock(100.0)], [Wanted("half", 60.0, 50_000)], "At most"),
    ],
)
def test_what_cannot_be_cut_is_named(stocks: list[Stock], pieces: list[Wanted], words: str) -> None:
    with pytest.raises(CuttingError, match=words):
        plan_cuts(stocks, pieces, Saw(kerf_mm=3.0, trim_mm=3.0))


def test_nothing_wanted_costs_nothing() -> None:
    plan = plan_cuts([Stock(100.0, 1.0)], [Wanted("none", 10.0, 0)], Saw())
    assert (plan.bars, plan.cost, plan.optimal) == ((), 0.0, True)


def test_it_stops_when_told() -> None:
    calls = itertools.count()

    def pause() -> None:
        if next(calls) > 2:
            raise Cancelled

    with pytest.raises(Cancelled):
        plan_cuts([Stock(5600.0, 1.0)], wanted(REELS), Saw(), pause)
