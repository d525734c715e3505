"""The solver of circuits: energy, supplies at their limit, and what cannot be solved."""

from typing import Any

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gauze.core.electrical.circuit import Circuit, Solution
from gauze.core.electrical.solve import solve
from gauze.core.errors import Cancelled, CircuitError
from gauze.core.formats.network_file import circuit_of, decode_network
from tests.circuits import analog, constant, network, random_network, strip, supply, wire


def circuit(rows: dict[str, Any]) -> Circuit:
    return circuit_of(decode_network(msgspec.json.encode(rows)))


def lost_w(what: Circuit, found: Solution) -> float:
    inside = sum(source.resistance_ohm * amps**2 for source, amps in zip(what.sources, found.source_a, strict=True))
    return float((found.resistor_a**2 * what.resistors.ohm).sum() + inside)


@settings(deadline=None, max_examples=40)
@given(st.integers(0, 10_000), st.integers(3, 40), st.booleans())
def test_what_the_supply_gives_is_what_loads_and_copper_take(seed: int, nodes: int, tree: bool) -> None:
    what = circuit(random_network(seed, nodes, tree=tree))
    found = solve(what)
    given_w = sum(source.volts * amps for source, amps in zip(what.sources, found.source_a, strict=True))
    taken_w = float((found.load_v * found.load_a).sum())
    assert given_w == pytest.approx(taken_w + lost_w(what, found), rel=1e-7, abs=1e-9)
    assert found.residual_a < 1e-6 * max(float(found.source_a.sum()), 1e-3)
    assert np.all(found.load_v <= what.sources[0].volts + 1e-9)
    again = solve(what, found.node_v)
    assert again.node_v == pytest.approx(found.node_v, abs=1e-6)


@given(st.integers(0, 10_000))
@settings(deadline=None, max_examples=20)
def test_a_thicker_wire_never_takes_light_from_the_whole(seed: int) -> None:
    rows = random_network(seed, 15, tree=True)
    thicker = {**rows, "resistors": [{**one, "ohm": one["ohm"] / 2} for one in rows["resistors"]]}
    before, after = (solve(circuit(one)) for one in (rows, thicker))
    assert after.load_a.sum() >= before.load_a.sum() - 1e-9


def test_a_supply_that_is_too_small_gives_its_limit_and_its_volts_fall() -> None:
    rows = strip(20, 4.0, 0.1)
    rows["supplies"] = [supply(5.0, limit_a=2.0)]
    found = solve(circuit(rows))
    assert found.limited == (True,)
    assert found.source_a[0] == pytest.approx(2.0, rel=1e-9)
    assert found.load_a.sum() == pytest.approx(2.0, rel=1e-9)
    assert 2.5 < found.source_v[0] < 3.6  # where the drop-out of the segments begins to bite
    large = solve(circuit({**rows, "supplies": [supply(5.0, limit_a=4.5)]}))
    assert large.limited == (False,)
    assert large.source_v[0] == 5.0


def test_a_limited_supply_beside_a_large_one_leaves_it_the_rest() -> None:
    rows = strip(10, 3.0, 0.2, ("start", "end"))
    small, large = supply(5.0, "q", limit_a=0.5), supply(5.0)
    rows["supplies"] = [large, small]
    for one in rows["resistors"]:
        if one["from"] == "p" and one["to"] == "a10":
            one["from"] = "q"
    found = solve(circuit(rows))
    assert found.limited == (False, True)
    assert found.source_a[1] == pytest.approx(0.5)
    assert found.source_a.sum() == pytest.approx(found.load_a.sum())


def test_supplies_in_series_add_their_volts() -> None:
    rows = network(
        [supply(12.0, "m"), supply(12.0, "p", "m")], [wire("p", "a", 1.0)], [analog("one", "a", "0", 6, 3.0, 100.0)]
    )
    found = solve(circuit(rows))
    assert found.source_a == pytest.approx([6.0 / 101.0, 6.0 / 101.0])
    assert found.node_v.max() == pytest.approx(24.0)


def test_below_their_forward_volts_nothing_is_drawn() -> None:
    rows = network(
        [supply(5.0)],
        [wire("p", "a", 1.0)],
        [analog("one", "a", "0", 3, 3.0), constant("two", "a", "0", 1.0, 5.5, 6.0)],
    )
    found = solve(circuit(rows))
    assert found.load_a == pytest.approx([0.0, 0.0])
    assert found.source_a[0] == pytest.approx(0.0, abs=1e-9)


BAD = {
    "no supply": (network([], [wire("p", "0", 1.0)], []), "no supply"),
    "a feed on nothing": (network([supply()], [wire("x", "y", 1.0)], []), "joined to no supply"),
    "a loop without a supply": (
        network([supply()], [wire("x", "y", 1.0), wire("y", "x2", 1.0), wire("x2", "x", 1.0)], []),
        "“x” is joined to no supply",
    ),
    "a load that leads nowhere": (
        network([supply()], [], [constant("one", "p", "q", 1.0)]),
        "“q” is joined to no supply",
    ),
    "two circuits": (
        network([supply(), supply(5.0, "p2", "02")], [], [constant("one", "p", "02", 1.0)]),
        "no conductor in common",
    ),
    "different volts": (
        network([supply(5.0), {**supply(12.0), "id": "other"}], [], []),
        "“other” of 12 V is joined to nodes that another holds at 5 V",
    ),
    "the same volts twice": (network([supply(5.0), {**supply(5.0), "id": "other"}], [], []), "cannot be determined"),
    "no resistance": (network([supply()], [wire("p", "a", 1e-9)], []), "a millionth of an ohm"),
    "both ends at one node": (network([supply()], [wire("p", "p", 1.0)], []), "Both ends of “p to p” are at “p”"),
}


@pytest.mark.parametrize("name", BAD)
def test_what_cannot_be_solved_is_refused_in_plain_words(name: str) -> None:
    rows, words = BAD[name]
    with pytest.raises(CircuitError, match=words):
        solve(circuit(rows))


def test_a_solution_can_be_cancelled() -> None:
    def pause() -> None:
        raise Cancelled

    with pytest.raises(Cancelled):
        solve(circuit(strip(5, 1.0, 0.1)), pause=pause)
