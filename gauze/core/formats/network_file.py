"""A bare circuit as JSON: supplies, resistors and loads between named nodes (docs/network-file.md), and its solution as JSON."""

from typing import Annotated, Any, Literal

import msgspec
import numpy as np

from gauze.core.electrical.circuit import (
    Circuit,
    Loads,
    Resistors,
    Solution,
    Source,
    constant_current,
    series_leds,
)
from gauze.core.errors import CircuitError, FormatError
from gauze.core.formats.json_reading import read_whole
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.printable import printable

FORMAT = "gauze-network"
MOST_BYTES = 64_000_000
_WHAT = "a Gauze network"
_LONGEST_NAME = 120

Name = Annotated[str, msgspec.Meta(min_length=1, max_length=_LONGEST_NAME)]
Positive = Annotated[float, msgspec.Meta(gt=0, le=1e9)]
NotNegative = Annotated[float, msgspec.Meta(ge=0, le=1e9)]


class _Row(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    id: Name


class Supply(_Row, frozen=True, kw_only=True):
    """A supply: its minus is the reference of what it feeds."""

    plus: Name
    minus: Name
    volts: Positive
    limit_a: Positive | None = None
    resistance_ohm: NotNegative = 0.0


class Resistor(_Row, frozen=True, kw_only=True, rename={"start": "from", "end": "to"}):
    """A resistance between two nodes."""

    start: Name
    end: Name
    ohm: Positive


class AnalogLoad(_Row, frozen=True, kw_only=True, tag="analog", tag_field="kind"):
    """LEDs in series with a resistor: (V - n V_f) / R, and nothing below n V_f."""

    plus: Name
    minus: Name
    leds_in_series: NotNegative
    forward_v: NotNegative
    resistor_ohm: Positive
    nominal_v: Positive | None = None


class ConstantCurrentLoad(_Row, frozen=True, kw_only=True, tag="constant_current", tag_field="kind"):
    """A constant current down to ``full_above_v``, falling in a straight line to nothing at ``zero_below_v``."""

    plus: Name
    minus: Name
    current_a: Positive
    full_above_v: Positive
    zero_below_v: NotNegative


LoadRow = AnalogLoad | ConstantCurrentLoad


class NetworkFile(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """The whole file."""

    format: Literal["gauze-network"]
    format_version: Literal[1]
    supplies: tuple[Supply, ...]
    resistors: tuple[Resistor, ...] = ()
    loads: tuple[LoadRow, ...] = ()


def decode_network(data: bytes) -> NetworkFile:
    """Read a bare circuit.

    Raises
    ------
    FormatError
        When the bytes are none: empty, too large, not JSON, with an unknown, missing or impossible value (with its place).
    """
    network = read_whole(data, NetworkFile, _WHAT, MOST_BYTES)
    for rows in (network.supplies, network.resistors, network.loads):
        _check_ids(rows)
    for load in network.loads:
        if isinstance(load, ConstantCurrentLoad) and load.full_above_v <= load.zero_below_v:
            raise FormatError(
                "Load “{id}” has all of its current above {full} V and none below {zero} V: give a full_above_v that is "
                "higher than zero_below_v.",
                id=printable(load.id),
                full=load.full_above_v,
                zero=load.zero_below_v,
            )
    return network


def _check_ids(rows: tuple[_Row, ...]) -> None:
    seen: set[str] = set()
    for row in rows:
        if row.id in seen:
            raise FormatError("Two have the id “{id}”: every id is given once.", id=printable(row.id))
        seen.add(row.id)


def circuit_of(network: NetworkFile) -> Circuit:
    """Return the circuit, its nodes numbered in the order in which they are named.

    Raises
    ------
    CircuitError
        When the two ends of something are one node.
    """
    for row, start, end in (
        *((row, row.plus, row.minus) for row in network.supplies),
        *((row, row.start, row.end) for row in network.resistors),
        *((row, row.plus, row.minus) for row in network.loads),
    ):
        if start == end:
            raise CircuitError(
                "Both ends of “{id}” are at “{node}”: name two nodes.", id=printable(row.id), node=printable(start)
            )
    nodes = node_numbers(network)

    def number(rows: tuple[Any, ...], side: str) -> IndexArray:
        return np.array([nodes[getattr(row, side)] for row in rows], int)

    plus, minus = number(network.supplies, "plus"), number(network.supplies, "minus")
    ohm = np.array([row.ohm for row in network.resistors], float)
    resistors = Resistors(number(network.resistors, "start"), number(network.resistors, "end"), ohm)
    loads = Loads(number(network.loads, "plus"), number(network.loads, "minus"), *_curves(network.loads))
    sources = tuple(
        Source(printable(row.id), int(plus[index]), int(minus[index]), row.volts, row.limit_a, row.resistance_ohm)
        for index, row in enumerate(network.supplies)
    )
    return Circuit(tuple(printable(name) for name in nodes), resistors, loads, sources)


def node_numbers(network: NetworkFile) -> dict[str, int]:
    """Return the number of every node: in the order in which supplies, then resistors, then loads first name it."""
    ends = [name for row in network.supplies for name in (row.plus, row.minus)]
    ends += [name for row in network.resistors for name in (row.start, row.end)]
    ends += [name for row in network.loads for name in (row.plus, row.minus)]
    return {name: number for number, name in enumerate(dict.fromkeys(ends))}


def _curves(rows: tuple[LoadRow, ...]) -> tuple[FloatArray, FloatArray, FloatArray]:
    found = [np.zeros(len(rows)), np.ones(len(rows)), np.zeros(len(rows))]
    for kind in (AnalogLoad, ConstantCurrentLoad):
        mine = [index for index, row in enumerate(rows) if isinstance(row, kind)]
        if not mine:
            continue
        values = _curve([rows[index] for index in mine])
        for whole, some in zip(found, values, strict=True):
            whole[mine] = some
    return found[0], found[1], found[2]


def _curve(rows: list[LoadRow]) -> tuple[FloatArray, FloatArray, FloatArray]:
    if isinstance(rows[0], AnalogLoad):
        return series_leds(*(np.array([getattr(row, name) for row in rows], float) for name in _ANALOG))
    return constant_current(*(np.array([getattr(row, name) for row in rows], float) for name in _CONSTANT))


_ANALOG = ("leds_in_series", "forward_v", "resistor_ohm")
_CONSTANT = ("current_a", "zero_below_v", "full_above_v")


def _nominal_a(row: LoadRow) -> float | None:
    """What a load draws when it has what it is made for; None where that is not said."""
    if isinstance(row, ConstantCurrentLoad):
        return row.current_a
    if row.nominal_v is None:
        return None
    return max(row.nominal_v - row.leds_in_series * row.forward_v, 0.0) / row.resistor_ohm


def solution_json(network: NetworkFile, solution: Solution) -> bytes:
    """Write a solution: volts of the nodes, amps and watts of supplies and resistors, volts and amps of the loads."""
    body = {
        "supplies": {
            row.id: {
                "current_a": float(amps),
                "power_w": float(amps * volts),
                "voltage_v": float(volts),
                "limited": limited,
            }
            for row, amps, volts, limited in zip(
                network.supplies, solution.source_a, solution.source_v, solution.limited, strict=True
            )
        },
        "nodes": {name: float(volts) for name, volts in zip(node_numbers(network), solution.node_v, strict=True)},
        "loads": {
            row.id: {"voltage_v": float(volts), "current_a": float(amps), "share": _share(row, float(amps))}
            for row, volts, amps in zip(network.loads, solution.load_v, solution.load_a, strict=True)
        },
        "resistors": {
            row.id: {"current_a": float(amps), "power_w": float(amps * amps * row.ohm)}
            for row, amps in zip(network.resistors, solution.resistor_a, strict=True)
        },
        "residual_a": solution.residual_a,
    }
    return msgspec.json.format(msgspec.json.encode(body), indent=2) + b"\n"


def solution_text(network: NetworkFile, solution: Solution) -> str:
    """Write what supplies give, and which loads have most and least, for a terminal."""
    lines = ["Supplies"]
    for row, amps, volts, limited in zip(
        network.supplies, solution.source_a, solution.source_v, solution.limited, strict=True
    ):
        state = ", at its limit" if limited else ", current flows back into it" if amps < -1e-9 else ""
        lines.append(f"  {row.id}: {amps:.4g} A at {volts:.4g} V, {amps * volts:.4g} W{state}")
    lines.append("Loads")
    shares = [_share(row, float(amps)) for row, amps in zip(network.loads, solution.load_a, strict=True)]
    for load, volts, amps, share in zip(network.loads, solution.load_v, solution.load_a, shares, strict=True):
        lines.append(f"  {load.id}: {volts:.4g} V, {amps:.4g} A{'' if share is None else f', {share:.1%} of its own'}")
    lost = sum(amps**2 * wire.ohm for wire, amps in zip(network.resistors, solution.resistor_a, strict=True))
    lines.append(f"Lost in resistances: {lost:.4g} W; amps left over at a node: {solution.residual_a:.1e} A")
    return "\n".join(printable(line, most=max(len(line), 1)) for line in lines)


def _share(row: LoadRow, amps: float) -> float | None:
    nominal = _nominal_a(row)
    return amps / nominal if nominal else None
