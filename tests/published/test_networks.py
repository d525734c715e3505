"""Circuits against closed forms, against dense equations solved another way, and against a circuit simulator."""

import math
import re
import shutil
import subprocess
from pathlib import Path

import msgspec
import numpy as np
import pytest
from scipy.optimize import least_squares

from gauze.core.electrical.circuit import Solution
from gauze.core.electrical.solve import solve
from gauze.core.formats.network_file import circuit_of, decode_network, node_numbers
from tests.circuits import Rows, analog, constant, network, random_network, strip, supply, wire


def solved(rows: Rows) -> tuple[dict[str, float], Solution]:
    file = decode_network(msgspec.json.encode(rows))
    solution = solve(circuit_of(file))
    return dict(zip(node_numbers(file), solution.node_v.tolist(), strict=True)), solution


# -- closed forms: a line with an even load; any book on distribution networks ------------------------------------------


@pytest.mark.parametrize("segments", [1, 2, 7, 60])
@pytest.mark.parametrize("current_a", [0.1, 2.0])
def test_an_even_load_fed_at_one_end_drops_half_of_what_it_would_at_the_far_end(
    segments: int, current_a: float
) -> None:
    """I R L / 2 in each rail: with n loads in the middles of n parts, at the last of them I R (1/2 - 1/(8 n^2)) less the rest."""
    ohm = 0.09
    nodes, _ = solved(strip(segments, current_a, ohm))
    end = nodes[f"a{segments}"]
    assert 5.0 - end == pytest.approx(current_a * ohm / 2.0, rel=1e-4)
    assert nodes[f"b{segments}"] == pytest.approx(5.0 - end, rel=1e-6)


@pytest.mark.parametrize("segments", [2, 10, 60])
def test_an_even_load_fed_at_both_ends_drops_an_eighth_in_the_middle(segments: int) -> None:
    current_a, ohm = 2.0, 0.09
    nodes, _ = solved(strip(segments, current_a, ohm, ("start", "end")))
    assert 5.0 - nodes[f"a{segments // 2}"] == pytest.approx(current_a * ohm / 8.0, rel=1e-4)


@pytest.mark.parametrize("leds", [1, 3, 6])
def test_leds_behind_a_resistor_and_a_wire_take_what_ohms_law_leaves_them(leds: int) -> None:
    volts, forward, ohm, lead = 24.0, 3.1, 120.0, 2.5
    rows = network(
        [supply(volts)], [wire("p", "a", lead), wire("b", "0", lead)], [analog("one", "a", "b", leds, forward, ohm)]
    )
    _, found = solved(rows)
    assert found.load_a[0] == pytest.approx((volts - leds * forward) / (ohm + 2 * lead), rel=1e-9)


def test_a_constant_current_on_a_long_wire_drops_out_where_the_two_lines_cross() -> None:
    """Between zero and full it is a resistance of its own, (full - zero) / I, behind the volts at which it begins."""
    lead, amps, zero, full = 4.0, 1.0, 2.5, 3.5
    _, found = solved(network([supply(5.0)], [wire("p", "a", lead)], [constant("one", "a", "0", amps, zero, full)]))
    assert found.load_a[0] == pytest.approx((5.0 - zero) / (lead + (full - zero) / amps), rel=1e-9)


def test_a_wheatstone_bridge_in_balance_carries_nothing_across() -> None:
    arms = [wire("p", "x", 2.0), wire("x", "0", 3.0), wire("p", "y", 4.0), wire("y", "0", 6.0), wire("x", "y", 1.0)]
    _, found = solved(network([supply(10.0)], arms, []))
    assert found.resistor_a[4] == pytest.approx(0.0, abs=1e-9)
    assert found.source_a[0] == pytest.approx(10.0 / 5.0 + 10.0 / 10.0)


def test_two_supplies_share_by_millmans_theorem() -> None:
    feeds = [supply(12.0, "p", resistance_ohm=0.1), supply(12.4, "q", resistance_ohm=0.2)]
    nodes, found = solved(network(feeds, [wire("p", "x", 0.1), wire("q", "x", 0.3), wire("x", "0", 2.0)], []))
    expected = (12.0 / 0.2 + 12.4 / 0.5) / (1 / 0.2 + 1 / 0.5 + 1 / 2.0)
    assert nodes["x"] == pytest.approx(expected, rel=1e-9)
    assert found.source_a == pytest.approx([(12.0 - expected) / 0.2, (12.4 - expected) / 0.5], rel=1e-9)


# -- random nets against dense equations ----------------------------------------------------------------------------------


def load_current_a(row: Rows, volts: float) -> float:
    if row["kind"] == "analog":
        return max(0.0, (volts - row["leds_in_series"] * row["forward_v"]) / row["resistor_ohm"])
    share = (volts - row["zero_below_v"]) / (row["full_above_v"] - row["zero_below_v"])
    return row["current_a"] * min(max(share, 0.0), 1.0)


def densely(rows: Rows, start: dict[str, float]) -> dict[str, float]:
    """Kirchhoff's law at every node, written out from the rows alone, solved by least squares."""
    (source,) = rows["supplies"]
    names = sorted({one[side] for one in rows["resistors"] for side in ("from", "to")} | {"p"})
    free = [name for name in names if name != "0" and (name != "p" or source.get("resistance_ohm"))]

    def volts_of(values: np.ndarray) -> dict[str, float]:
        return {"0": 0.0, "p": source["volts"], **dict(zip(free, values.tolist(), strict=True))}

    def left_over(values: np.ndarray) -> list[float]:
        volts = volts_of(values)
        amps = dict.fromkeys(names, 0.0)
        for one in rows["resistors"]:
            through = (volts[one["from"]] - volts[one["to"]]) / one["ohm"]
            amps[one["from"]] -= through
            amps[one["to"]] += through
        for one in rows["loads"]:
            drawn = load_current_a(one, volts[one["plus"]] - volts[one["minus"]])
            amps[one["plus"]] -= drawn
            amps[one["minus"]] += drawn
        if source.get("resistance_ohm"):
            amps["p"] += (source["volts"] - volts["p"]) / source["resistance_ohm"]
        return [amps[name] for name in free]

    first = [start[name] + 0.05 * math.sin(index) for index, name in enumerate(free)]
    found = least_squares(left_over, first, xtol=1e-15, ftol=1e-15, gtol=1e-15, max_nfev=2000)
    assert np.abs(found.fun).max() < 1e-7
    return volts_of(found.x)


@pytest.mark.parametrize("tree", [True, False])
@pytest.mark.parametrize("seed", range(8))
def test_random_nets_have_the_volts_of_the_dense_equations(seed: int, tree: bool) -> None:
    rows = random_network(seed, 12, tree=tree)
    nodes, _ = solved(rows)
    expected = densely(rows, nodes)
    for name, volts in expected.items():
        assert nodes[name] == pytest.approx(volts, abs=2e-5)


# -- and against a circuit simulator, where one is installed --------------------------------------------------------------


def deck(rows: Rows) -> str:
    """The same circuit in the language of general-purpose circuit simulators."""
    lines = ["* a net", ".options reltol=1e-9 abstol=1e-13 vntol=1e-10 itl1=2000"]
    for number, one in enumerate(rows["supplies"]):
        inner = f"s{number}"
        lines.append(f"v{number} {inner} {one['minus']} dc {one['volts']!r}")
        lines.append(f"rs{number} {inner} {one['plus']} {max(one.get('resistance_ohm', 0.0), 1e-9)!r}")
    for number, one in enumerate(rows["resistors"]):
        lines.append(f"r{number} {one['from']} {one['to']} {one['ohm']!r}")
    for number, one in enumerate(rows["loads"]):
        across = f"v({one['plus']},{one['minus']})"
        if one["kind"] == "analog":
            drawn = f"max(0,({across}-{one['leds_in_series'] * one['forward_v']!r})/{one['resistor_ohm']!r})"
        else:
            slope = one["current_a"] / (one["full_above_v"] - one["zero_below_v"])
            drawn = f"min({one['current_a']!r},max(0,({across}-{one['zero_below_v']!r})*{slope!r}))"
        lines.append(f"b{number} {one['plus']} {one['minus']} i={drawn}")
    return "\n".join([*lines, ".control", "op", "print allv", ".endc", ".end", ""])


@pytest.mark.skipif(shutil.which("ngspice") is None, reason="an optional extra: the circuit simulator is not installed")
@pytest.mark.parametrize("seed", range(4))
def test_random_nets_have_the_volts_of_a_circuit_simulator(seed: int, tmp_path: Path) -> None:
    rows = random_network(100 + seed, 40, tree=seed % 2 == 0)
    (tmp_path / "net.cir").write_text(deck(rows))
    command = [str(shutil.which("ngspice")), "-b", str(tmp_path / "net.cir")]
    printed = subprocess.run(command, capture_output=True, text=True, check=False, timeout=300).stdout
    found = dict(re.findall(r"^(\w+) = (\S+)$", printed, re.MULTILINE))
    nodes, _ = solved(rows)
    compared = 0
    for name, volts in nodes.items():
        if name in found:
            assert float(found[name]) == pytest.approx(volts, abs=1e-4)
            compared += 1
    assert compared > 40
