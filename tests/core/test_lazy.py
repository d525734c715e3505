"""Sequences made when they are first read."""

import pickle
from functools import partial

from gauze.core.lazy import Lazy


def _noted(made: list[str], items: tuple[int, ...]) -> tuple[int, ...]:
    made.append("made")
    return items


def test_it_is_made_once_and_only_when_it_is_read() -> None:
    made: list[str] = []
    numbers = Lazy(partial(_noted, made, (1, 2, 3)))
    assert made == []
    assert numbers[1:] == (2, 3)
    assert list(numbers) == [1, 2, 3]
    assert len(numbers) == 3
    assert made == ["made"]


def test_it_goes_to_another_process_made_or_not() -> None:
    numbers = Lazy(partial(tuple, [4, 5]))
    assert list(pickle.loads(pickle.dumps(numbers))) == [4, 5]
    assert numbers[0] == 4
    assert list(pickle.loads(pickle.dumps(numbers))) == [4, 5]


def test_it_equals_what_has_the_same_items() -> None:
    numbers = Lazy(partial(tuple, [4, 5]))
    assert numbers == (4, 5)
    assert numbers == Lazy(partial(tuple, [4, 5]))
    assert hash(numbers) == hash((4, 5))
    assert numbers != (4, 6)
    assert numbers != 4
