"""Numbers by which the tiles, bars and corners of a design are known, so that one keeps its number when another is removed.

A design holds them only where they are no longer 1, 2, 3 and so on.
"""

from collections import Counter
from collections.abc import Sequence

from gauze.core.errors import DesignError


def numbers_of(numbers: Sequence[int], count: int) -> tuple[int, ...]:
    """Return a number for each of ``count`` things; those beyond the given numbers get the next ones that are free."""
    known = tuple(numbers[:count])
    first = max(known, default=0) + 1
    return (*known, *range(first, first + count - len(known)))


def without(numbers: Sequence[int], count: int, index: int) -> tuple[int, ...]:
    """Return the numbers when one of ``count`` things is removed."""
    every = numbers_of(numbers, count)
    return kept((*every[:index], *every[index + 1 :]))


def inserted(numbers: Sequence[int], count: int, index: int) -> tuple[int, ...]:
    """Return the numbers when one thing is put before the one at ``index`` of ``count``."""
    every = numbers_of(numbers, count)
    return kept((*every[:index], max(every, default=0) + 1, *every[index:]))


def kept(numbers: tuple[int, ...]) -> tuple[int, ...]:
    """Return what a design has to hold of numbers: none where they are 1, 2, 3 and so on."""
    return () if numbers == tuple(range(1, len(numbers) + 1)) else numbers


def check_numbers(numbers: Sequence[int], path: str) -> None:
    """Check that no number is given twice; raises :class:`DesignError`."""
    wrong = next((number for number, often in Counter(numbers).items() if often > 1 or number < 1), None)
    if wrong is not None:
        raise DesignError(
            path,
            "{wrong} is invalid: each has a number of its own, from 1. Leave them out to count again.",
            wrong=wrong,
        )
