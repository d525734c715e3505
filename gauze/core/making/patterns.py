"""The cutting-stock problem in one dimension, exactly.

Patterns (what is cut out of one bar) are found as they are needed: a linear programme over those that are known, and for its
prices the best pattern of every stock, until none helps (P. C. Gilmore, R. E. Gomory, Operations Research 9 (1961), 849-859).
That gives a bound. Whole numbers of patterns give a plan; if it costs more than the bound, all patterns whose reduced cost is
below the difference are added, as no other can be part of a cheaper plan, and whole numbers of these are proven the best. First
the least money, then, at no more than that, the least length.
"""

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from gauze.core.layout.model import FloatArray
from gauze.core.making.filling import TINY, fitting, full_patterns, fullest

_MOST_ROUNDS, _MOST_PATTERNS = 400, 12_000
MOST_S = 5.0
_LEAST_S, _QUICK_S, _MIP_S = 0.05, 0.5, 3.0
_LEAST_PART = 1e-6  # of a bar, that is worth a bar when nothing else is left

Pause = Callable[[], None]


@dataclass(frozen=True)
class Roll:
    """Stock: ``room`` for pieces with a kerf each, its price and its length; ``quantity`` None where there is no end of it."""

    room: float
    price: float
    length: float
    quantity: int | None = None


@dataclass(frozen=True)
class Demand:
    """So many pieces that take so much room each."""

    size: float
    count: int


@dataclass(frozen=True)
class Cheapest:
    """What is taken: (stock, pieces of each demand, how often); how many of each demand are missing; the bound of the cost.

    ``proven`` says that no plan costs less, ``shortest`` that none that costs as little takes less length.
    """

    taken: tuple[tuple[int, tuple[int, ...], int], ...]
    missing: tuple[int, ...]
    bound: float
    proven: bool
    shortest: bool


@dataclass(frozen=True)
class _Prices:
    """Dual prices: what a piece of each demand is worth, and what a bar of each stock costs beside its own price."""

    worth: FloatArray
    of_stock: FloatArray
    value: float
    times: FloatArray


@dataclass
class _Problem:
    rolls: Sequence[Roll]
    demands: Sequence[Demand]
    pause: Pause
    ends: float = 0.0
    patterns: dict[tuple[int, tuple[int, ...]], None] = field(default_factory=dict)

    def left_s(self, most_s: float) -> float:
        return min(max(self.ends - time.monotonic(), _LEAST_S), most_s)

    @property
    def counts(self) -> FloatArray:
        return np.array([one.count for one in self.demands], float)

    def columns(self) -> tuple[FloatArray, FloatArray]:
        """Number of the stock of every pattern, and the pieces in it (demands, patterns)."""
        stock = np.array([index for index, _ in self.patterns], int)
        return stock, np.array([counts for _, counts in self.patterns], float).T


def cheapest(
    rolls: Sequence[Roll], demands: Sequence[Demand], pause: Pause = lambda: None, most_s: float = MOST_S
) -> Cheapest:
    """Cover all demands by the least money, then the least length; ``missing`` where there is not enough stock.

    A good plan is found within a second or two; its proof is given up after ``most_s``, and the bound told instead.
    """
    if not demands:
        return Cheapest((), (), 0.0, proven=True, shortest=True)
    problem = _Problem(rolls, demands, pause, ends=time.monotonic() + most_s)
    _begin(problem)
    price = np.array([roll.price for roll in rolls])
    money, bound, dear = _least(problem, price, None)
    if any(money.missing):
        return Cheapest(money.taken, money.missing, bound, proven=False, shortest=False)
    cost = sum(times * rolls[index].price for index, _, times in money.taken)
    if time.monotonic() > problem.ends:
        return Cheapest(money.taken, money.missing, cost if dear else bound, proven=dear, shortest=False)
    length = np.array([roll.length for roll in rolls])
    short, _, long = _least(problem, length, (price, cost), money)
    return Cheapest(short.taken, short.missing, cost if dear else bound, proven=dear, shortest=dear and long)


@dataclass(frozen=True)
class _Plan:
    taken: tuple[tuple[int, tuple[int, ...], int], ...]
    missing: tuple[int, ...]
    value: float


def _least(
    problem: _Problem, cost: FloatArray, budget: tuple[FloatArray, float] | None, known: _Plan | None = None
) -> tuple[_Plan, float, bool]:
    """Return the best plan for a cost of each stock, the bound of its value, and whether the plan is proven to be the best."""
    prices = _priced_out(problem, cost, budget)
    if prices is None:  # known does, so that this is a matter of rounding
        assert known is not None
        return known, 0.0, False
    bound = _attainable(problem, cost, budget, prices.value)
    best = _dived(problem, cost, budget)
    if known is not None:
        value = sum(times * float(cost[index]) for index, _, times in known.taken)
        best = _Plan(known.taken, known.missing, value) if best is None or value <= best.value else best
    assert best is not None  # without a budget everything may be missing
    if best.value > bound + TINY * max(1.0, bound):
        whole = _whole(problem, cost, budget, most_s=_QUICK_S)
        best = whole if whole is not None and whole.value < best.value else best
    if best.value <= bound + TINY * max(1.0, bound):
        return best, bound, True
    room = best.value - prices.value
    if time.monotonic() > problem.ends or not _add_all_below(problem, cost, prices, room):
        return best, bound, False
    exact = _whole(problem, cost, budget, most_s=_MIP_S, must_prove=True)
    if exact is None:
        return best, bound, False
    return (exact if exact.value < best.value else best), min(exact.value, best.value), True


def _dived(problem: _Problem, cost: FloatArray, budget: tuple[FloatArray, float] | None) -> _Plan | None:
    """A good plan: what the programme takes in whole is taken, else its largest part as one bar, and the rest is asked again.

    ``None`` where what is left of the budget is not enough.
    """
    counts, left = problem.counts.astype(int), [roll.quantity for roll in problem.rolls]
    taken: dict[tuple[int, tuple[int, ...]], int] = {}
    spent = 0.0
    patterns = dict(problem.patterns)
    while counts.any():
        rest = _Problem(
            [replace(roll, quantity=many) for roll, many in zip(problem.rolls, left, strict=True)],
            [replace(one, count=int(count)) for one, count in zip(problem.demands, counts, strict=True)],
            problem.pause,
            problem.ends,
            {one: None for one in patterns if all(a <= b for a, b in zip(one[1], counts, strict=True))},
        )
        _begin(rest)
        limit = None if budget is None else (budget[0], budget[1] - spent)
        prices = _priced_out(rest, cost, limit)
        if prices is None:
            return None
        patterns |= rest.patterns
        whole = {
            one: int(times + TINY) for one, times in zip(rest.patterns, prices.times, strict=True) if times >= 1 - TINY
        }
        if not whole:
            most = int(prices.times.argmax()) if len(prices.times) else -1
            if most < 0 or prices.times[most] < _LEAST_PART:
                break  # what is left is missing
            whole = {list(rest.patterns)[most]: 1}
        for (index, pieces), times in whole.items():
            fits = [times, *(int(have // of) for have, of in zip(counts, pieces, strict=True) if of > 0)]
            many = min(fits) if left[index] is None else min(*fits, left[index] or 0)
            if many > 0:
                taken[index, pieces] = taken.get((index, pieces), 0) + many
                counts = counts - many * np.array(pieces)
                left[index] = None if left[index] is None else (left[index] or 0) - many
                spent += 0.0 if budget is None else many * float(budget[0][index])
        if budget is not None and spent > budget[1] + TINY * max(1.0, budget[1]):
            return None  # a bar was taken for a part of one
    problem.patterns |= patterns
    value = sum(times * float(cost[index]) for (index, _), times in taken.items())
    missing = tuple(int(count) for count in counts)
    if budget is not None and any(missing):
        return None
    value += sum(missing) * _missing_cost(problem, cost)
    return _Plan(tuple((*one, times) for one, times in taken.items()), missing, value)


def _begin(problem: _Problem) -> None:
    """Patterns of one kind of piece each, to begin with."""
    for index, roll in enumerate(problem.rolls):
        for which, demand in enumerate(problem.demands):
            fits = fitting(roll.room, demand.size, demand.count)
            if fits > 0:
                pattern = tuple(fits if other == which else 0 for other in range(len(problem.demands)))
                problem.patterns[index, pattern] = None


def _missing_cost(problem: _Problem, cost: FloatArray) -> float:
    """What a missing piece costs: more than any plan."""
    return 1.0 + float(cost.max(initial=0.0)) * float(problem.counts.sum())


def _bounds(patterns: int, demands: int, budget: object) -> FloatArray:
    """Least and most of every number: with a budget a plan is known already, and nothing may be missing."""
    found = np.zeros((patterns + demands, 2))
    found[:, 1] = np.inf
    if budget is not None:
        found[patterns:, 1] = 0.0
    return found


def _rows(
    problem: _Problem, budget: tuple[FloatArray, float] | None
) -> tuple[FloatArray, FloatArray, list[int], FloatArray]:
    """Rows of the programme, all at most: demands (negative), stock that has an end, the budget."""
    stock, pieces = problem.columns()
    few = [index for index, roll in enumerate(problem.rolls) if roll.quantity is not None]
    rows = [np.hstack([-pieces, -np.eye(len(problem.demands))])]
    most = [-problem.counts]
    zeros = np.zeros(len(problem.demands))
    for index in few:
        rows.append(np.concatenate([(stock == index).astype(float), zeros])[None])
        most.append(np.array([float(problem.rolls[index].quantity or 0)]))
    if budget is not None:
        rows.append(np.concatenate([budget[0][stock], zeros])[None])
        most.append(np.array([budget[1] + TINY * max(1.0, budget[1])]))
    return np.vstack(rows), np.concatenate(most), few, stock


def _priced_out(problem: _Problem, cost: FloatArray, budget: tuple[FloatArray, float] | None) -> _Prices | None:
    """Add patterns until none helps the linear programme, and return its prices; None where the patterns cannot do."""
    from scipy.optimize import linprog

    missing = _missing_cost(problem, cost)
    sizes = np.array([one.size for one in problem.demands])
    for _ in range(_MOST_ROUNDS):
        problem.pause()
        rows, most, few, stock = _rows(problem, budget)
        values = np.concatenate([cost[stock], np.full(len(problem.demands), missing)])
        solved = linprog(
            values, A_ub=rows, b_ub=most, bounds=_bounds(len(stock), len(problem.demands), budget), method="highs"
        )
        if solved.status != 0:
            return None
        duals = -np.asarray(solved.ineqlin.marginals)
        worth = duals[: len(problem.demands)]
        of_stock = np.zeros(len(problem.rolls))
        of_stock[few] = duals[len(problem.demands) : len(problem.demands) + len(few)]
        if budget is not None:
            of_stock += duals[-1] * budget[0]
        prices = _Prices(worth, of_stock, float(solved.fun), np.asarray(solved.x[: len(stock)]))
        new = False
        for index, roll in enumerate(problem.rolls):
            value, counts = fullest(roll.room, sizes, worth, problem.counts)
            if (
                value > cost[index] + of_stock[index] + TINY * max(1.0, value)
                and (index, counts) not in problem.patterns
            ):
                problem.patterns[index, counts] = None
                new = True
        if not new:
            return prices
    return prices  # still a bound, for these patterns: the plan is then told as not proven


def _add_all_below(problem: _Problem, cost: FloatArray, prices: _Prices, room: float) -> bool:
    """Add every full pattern whose reduced cost is below ``room``; False, and none added, where these are too many."""
    before = dict(problem.patterns)
    sizes = [one.size for one in problem.demands]
    most = [one.count for one in problem.demands]
    for index, roll in enumerate(problem.rolls):
        least = float(cost[index] + prices.of_stock[index]) - room + TINY
        for added, counts in enumerate(full_patterns(roll.room, sizes, most, prices.worth.tolist(), least), start=1):
            problem.patterns[index, counts] = None
            if len(problem.patterns) > _MOST_PATTERNS or (added % 512 == 0 and time.monotonic() > problem.ends):
                # left in, they would be weighed again: the solver looks at its clock too seldom with so many
                problem.patterns = before
                return False
            if added % 512 == 0:
                problem.pause()
    return True


def _whole(
    problem: _Problem,
    cost: FloatArray,
    budget: tuple[FloatArray, float] | None,
    *,
    most_s: float,
    must_prove: bool = False,
) -> _Plan | None:
    """The best whole numbers of the known patterns; None where none is found in time, or proven where that is asked."""
    from scipy.optimize import Bounds, LinearConstraint, milp

    problem.pause()
    rows, most, _, stock = _rows(problem, budget)
    missing = _missing_cost(problem, cost)
    values = np.concatenate([cost[stock], np.full(len(problem.demands), missing)])
    solved = milp(
        values,
        constraints=LinearConstraint(rows, -np.inf, most),
        integrality=np.ones(len(values)),
        bounds=Bounds(*_bounds(len(stock), len(problem.demands), budget).T),
        options={"time_limit": problem.left_s(most_s), "mip_rel_gap": 0.0},
    )
    if solved.x is None or (must_prove and solved.status != 0):
        return None
    whole = np.round(solved.x).astype(int)
    taken = tuple(
        (index, counts, int(times))
        for (index, counts), times in zip(problem.patterns, whole[: len(stock)], strict=True)
        if times > 0
    )
    lacking = tuple(int(one) for one in whole[len(stock) :])
    return _Plan(taken, lacking, float(values @ whole))


def _attainable(problem: _Problem, cost: FloatArray, budget: tuple[FloatArray, float] | None, value: float) -> float:
    """The least cost of whole bars that is not below a value and has room for all pieces: no plan costs anything between."""
    from scipy.optimize import LinearConstraint, milp

    room = np.array([roll.room for roll in problem.rolls])
    needed = sum(one.size * one.count for one in problem.demands)
    slack = TINY * max(1.0, value)
    constraints = [
        LinearConstraint(cost[None], value - slack, np.inf),
        LinearConstraint(room[None], needed - TINY * max(1.0, needed), np.inf),
    ]
    if budget is not None:
        constraints.append(LinearConstraint(budget[0][None], -np.inf, budget[1] + TINY * max(1.0, budget[1])))
    most = np.array([np.inf if roll.quantity is None else roll.quantity for roll in problem.rolls])
    solved = milp(
        cost,
        constraints=constraints,
        integrality=np.ones(len(cost)),
        bounds=(np.zeros(len(cost)), most),
        options={"time_limit": _QUICK_S, "mip_rel_gap": 0.0},
    )
    if solved.x is None or solved.status != 0:
        return value
    return max(float(cost @ np.round(solved.x)), value)
