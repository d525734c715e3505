"""What is kept of costly values: how much, and what of a making that fails."""

import pickle
from concurrent.futures import ThreadPoolExecutor
from threading import Event

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
    kept: Kept[list[int]] = Kept(3000, _bytes)
    with ThreadPoolExecutor(8) as pool:
        found = list(pool.map(lambda n: (n * n % 97, kept.get(n * n % 97, lambda: [n * n % 97])), range(20_000)))
    assert all(value == [key] for key, value in found)
    kept.clear()
    assert len(kept) == 0


def test_who_asks_for_what_is_being_made_waits_for_it() -> None:
    kept: Kept[list[int]] = Kept(100, _bytes)
    begun, go_on, made = Event(), Event(), []

    def slowly() -> list[int]:
        begun.set()
        assert go_on.wait(60)
        made.append(1)
        return [3]

    with ThreadPoolExecutor(2) as pool:
        first = pool.submit(kept.get, "a", slowly)
        assert begun.wait(60)
        second = pool.submit(kept.get, "a", slowly)
        go_on.set()
        assert first.result() is second.result()
    assert len(made) == 1


def test_who_waits_for_a_making_that_is_cancelled_makes_it_himself() -> None:
    kept: Kept[list[int]] = Kept(100, _bytes)
    begun, go_on = Event(), Event()

    def stopped() -> list[int]:
        begun.set()
        assert go_on.wait(60)
        raise Cancelled("no longer wanted")

    with ThreadPoolExecutor(2) as pool:
        first = pool.submit(kept.get, "a", stopped)
        assert begun.wait(60)
        second = pool.submit(kept.get, "a", lambda: [5])
        go_on.set()
        with pytest.raises(Cancelled):
            first.result()
        assert second.result() == [5]
    assert kept.get("a", lambda: [6]) == [5]


def test_another_process_gets_none_of_what_is_kept() -> None:
    kept: Kept[list[int]] = Kept(100, _bytes)
    kept.get("a", lambda: [40])
    assert len(pickle.loads(pickle.dumps(kept))) == 0


def test_a_cancelled_exchange_ends_within_its_computing() -> None:
    forget_exchanges()
    box = BaffledBox(4, 4, 25.0, 25.0, 22.0, 1.2, 0.0, 20.0, Reflectances(0.9, 0.9, 0.4))
    asked = iter([False, False, True])
    with pytest.raises(Cancelled):
        exchange_of(box, 0.4, pausing(lambda: next(asked, True)))
    assert next(asked, None) is None  # it went on until it was told to end
