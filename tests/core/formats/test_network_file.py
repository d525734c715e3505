"""The network file: what is read, what is refused, and what is written."""

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.electrical.solve import solve
from gauze.core.errors import CircuitError, FormatError
from gauze.core.formats.network_file import circuit_of, decode_network, solution_json, solution_text
from tests.circuits import analog, constant, network, supply, wire

GOOD = network(
    [supply(12.0, limit_a=None, resistance_ohm=0.0)],
    [wire("p", "a1", 0.026), wire("b1", "0", 0.026)],
    [analog("row 1.1", "a1", "b1"), constant("pixel 1", "a1", "b1", 0.036)],
)


def test_the_answer_has_what_the_format_says() -> None:
    file = decode_network(msgspec.json.encode(GOOD))
    found = msgspec.json.decode(solution_json(file, solve(circuit_of(file))))
    assert set(found) == {"supplies", "nodes", "loads", "resistors", "residual_a"}
    whole = found["supplies"]["supply p"]
    assert whole["current_a"] == pytest.approx(sum(one["current_a"] for one in found["loads"].values()))
    assert whole["power_w"] == pytest.approx(12.0 * whole["current_a"])
    assert set(found["nodes"]) == {"p", "0", "a1", "b1"}
    assert found["nodes"]["0"] == 0.0
    assert found["loads"]["pixel 1"]["share"] == pytest.approx(1.0)
    assert found["loads"]["row 1.1"]["share"] is None
    assert found["resistors"]["p to a1"]["power_w"] == pytest.approx(0.026 * whole["current_a"] ** 2)
    assert found["residual_a"] < 1e-9


def test_the_share_of_leds_is_told_where_their_nominal_volts_are() -> None:
    rows = network([supply(11.0)], [], [{**analog("one", "p", "0"), "nominal_v": 12.0}])
    file = decode_network(msgspec.json.encode(rows))
    found = msgspec.json.decode(solution_json(file, solve(circuit_of(file))))
    assert found["loads"]["one"]["share"] == pytest.approx((11.0 - 9.0) / (12.0 - 9.0))
    assert "66.7% of its own" in solution_text(file, solve(circuit_of(file)))


BAD = {
    b"": "empty",
    b"   \n": "empty",
    b"{": "truncated",
    b"nonsense": "not JSON",
    b"\xff\xfe\x00": "not JSON",
    b"[]": "expected an object",
    b"{}": "format” is missing",
    msgspec.json.encode({**GOOD, "format": "else"}): "format",
    msgspec.json.encode({**GOOD, "format_version": 2}): "format_version",
    msgspec.json.encode({**GOOD, "colour": 1}): "unknown key “colour”",
    msgspec.json.encode(network([supply(0.0)], [], [])): "> 0",
    msgspec.json.encode(network([supply()], [wire("p", "a", -1.0)], [])): "> 0",
    msgspec.json.encode(
        network([supply()], [wire("p", "a", 1.0), wire("p", "a", 1.0)], [])
    ): "Two have the id “p to a”",
    msgspec.json.encode(network([supply()], [], [constant("x", "p", "0", 1.0, 3.0, 3.0)])): "higher than zero_below_v",
    msgspec.json.encode(network([{**supply(), "plus": ""}], [], [])): "length >= 1",
}


@pytest.mark.parametrize("data", BAD)
def test_what_is_no_network_is_refused_in_plain_words(data: bytes) -> None:
    with pytest.raises(FormatError, match=BAD[data]):
        decode_network(data)


@given(st.binary(max_size=200))
def test_any_bytes_are_read_or_refused(data: bytes) -> None:
    with pytest.raises(FormatError):
        decode_network(data)


@given(st.data())
def test_a_damaged_file_is_read_or_refused(data: st.DataObject) -> None:
    text = bytearray(msgspec.json.encode(GOOD))
    for _ in range(data.draw(st.integers(1, 4))):
        text[data.draw(st.integers(0, len(text) - 1))] = data.draw(st.integers(32, 126))
    try:
        found = solve(circuit_of(decode_network(bytes(text))))
    except (FormatError, CircuitError):
        return
    assert found.residual_a < 1e-3
