"""What is kept of costly values: how much, and what of a making that fails."""

from concurrent.futures import ThreadPoolExecutor

import pytest

from gauze.core.errors import Cancelled, pausing
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import Reflectances
from gauze.core.optics.cavity.cells import exchange_of, forget_exchanges
from gauze.core.optics.cavity.kept import Kept


def _bytes(values: list[int]) -> int:
    return sum(values)


def test_a_value_is_made_once() -> None:
    kept: Kept[list[int]] = Kept(100, _bytes)
    first = kept.get("a", lambda: [40])
    assert kept.get("a", lambda: [41]) is first


def test_the_longest_unused_goes_when_there_is_no_room_for_another() -> None:
    kept: Kept[list[int]] = Kept(100, _bytes)
    for key in "abc":
        kept.get(key, lambda: [40])
    kept.get("a", lambda: [41])  # used again: now b is the oldest
    kept.get("d", lambda: [40])
    assert kept.get("a", lambda: [0]) == [40]
    assert kept.get("b", lambda: [7]) == [7]


def test_nothing_is_kept_of_a_making_that_fails() -> None:
    kept: Kept[list[int]] = Kept(100, _bytes)

    def fail() -> list[int]:
        raise Cancelled("no longer wanted")

    with pytest.raises(Cancelled):
        kept.get("a", fail)
    assert len(kept) == 0
    assert kept.get("a", lambda: [1]) == [1]


def test_many_threads_get_the_value_of_their_own_key() -> None:
    kept: Kept[list[int]] = Kept(50, _bytes)
    with ThreadPoolExecutor(8) as pool:
        found = list(pool.map(lambda n: (n % 7, kept.get(n % 7, lambda: [n % 7])), range(4000)))
    assert all(value == [key] for key, value in found)
    kept.clear()
    assert len(kept) == 0


def test_a_cancelled_exchange_ends_within_its_computing() -> None:
    forget_exchanges()
    box = BaffledBox(4, 4, 25.0, 25.0, 22.0, 1.2, 0.0, 20.0, Reflectances(0.9, 0.9, 0.4))
    asked = iter([False, False, True])
    with pytest.raises(Cancelled):
        exchange_of(box, 0.4, pausing(lambda: next(asked, True)))
    assert next(asked, None) is None  # it went on until it was told to end
