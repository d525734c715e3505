"""A circuit of direct current in plain arrays: nodes joined by resistances, loads between them, supplies that drive it.

Loads draw a current that rises in a straight line from nothing at one voltage, and may stop rising at another:

    I = min(max(V - V0, 0) g, I_most)

- LEDs in series with a resistor: V0 = n V_f, g = 1 / R, and no most.
- A constant current with a drop-out: nothing at or below V0, all of I_most at or above V_full, g = I_most / (V_full - V0).
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from gauze.core.errors import CircuitError
from gauze.core.layout.model import FloatArray, IndexArray

LEAST_OHM = 1e-6  # a resistance below it is none: such nodes are one


@dataclass(frozen=True)
class Resistors:
    """Resistances ``ohm`` (n,) between nodes."""

    start: IndexArray
    end: IndexArray
    ohm: FloatArray


@dataclass(frozen=True)
class Loads:
    """Loads between nodes: ``zero_v`` is V0, ``siemens`` g, ``most_a`` I_most (infinite where there is none); shape (n,)."""

    plus: IndexArray
    minus: IndexArray
    zero_v: FloatArray
    siemens: FloatArray
    most_a: FloatArray

    def current_a(self, volts: FloatArray) -> FloatArray:
        """What they draw at some volts each."""
        return np.asarray(np.minimum(np.maximum(volts - self.zero_v, 0.0) * self.siemens, self.most_a))

    def slope_s(self, volts: FloatArray) -> FloatArray:
        """By how much that rises with the volts."""
        above = volts - self.zero_v
        return np.where((above > 0.0) & (above * self.siemens < self.most_a), self.siemens, 0.0)

    def potential_w(self, volts: FloatArray) -> FloatArray:
        """The integral of the current over the volts, from 0."""
        above = np.maximum(volts - self.zero_v, 0.0)
        bend = self.most_a / self.siemens
        flat = np.where(np.isfinite(bend), self.most_a, 0.0) * np.maximum(above - bend, 0.0)
        return np.asarray(0.5 * self.siemens * np.minimum(above, bend) ** 2 + flat)


def series_leds(leds: FloatArray, forward_v: FloatArray, ohm: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Return V0, g and I_most of LEDs in series with a resistor."""
    return leds * forward_v, 1.0 / ohm, np.full(np.shape(ohm), np.inf)


def constant_current(
    current_a: FloatArray, zero_below_v: FloatArray, full_above_v: FloatArray
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Return V0, g and I_most of a constant current with its drop-out."""
    return zero_below_v, current_a / (full_above_v - zero_below_v), current_a


@dataclass(frozen=True)
class Source:
    """A supply: ``volts`` between two nodes behind a resistance, until it would give more than ``limit_a``; then just that."""

    name: str
    plus: int
    minus: int
    volts: float
    limit_a: float | None = None
    resistance_ohm: float = 0.0


@dataclass(frozen=True)
class Circuit:
    """All of it; ``names`` are those of the nodes, for messages about them."""

    names: Sequence[str]
    resistors: Resistors
    loads: Loads
    sources: tuple[Source, ...]

    @property
    def nodes(self) -> int:
        """Number of nodes."""
        return len(self.names)


@dataclass(frozen=True)
class Solution:
    """Volts of every node, amps of everything, and by how much the amps at any node fail to sum to nothing.

    ``limited`` says of which supplies the current is at its limit; ``source_v`` is what stands between their nodes.
    """

    node_v: FloatArray
    resistor_a: FloatArray
    load_v: FloatArray
    load_a: FloatArray
    source_a: FloatArray
    source_v: FloatArray
    limited: tuple[bool, ...]
    residual_a: float


def check_circuit(circuit: Circuit) -> IndexArray:
    """Check that a circuit can be solved, and return the number of each node's part of it, as :func:`components_of` does.

    Raises
    ------
    CircuitError
        When it has no supply, a resistance is too small, or something is joined to no supply.
    """
    if not circuit.sources:
        raise CircuitError("The circuit has no supply: give at least one.")
    small = np.flatnonzero(circuit.resistors.ohm < LEAST_OHM)
    if len(small):
        start, end = (circuit.names[int(one[small[0]])] for one in (circuit.resistors.start, circuit.resistors.end))
        raise CircuitError(
            "Between “{start}” and “{end}” there is a resistance of less than a millionth of an ohm: give the two nodes "
            "one name instead.",
            start=start,
            end=end,
        )
    return _check_joined(circuit)


def _check_joined(circuit: Circuit) -> IndexArray:
    """Everything that carries current lies in one conductor with a supply."""
    component = components_of(circuit)
    fed = np.zeros(component.max() + 1, bool)
    fed[component[[source.minus for source in circuit.sources]]] = True
    loose = np.flatnonzero(~fed[component])
    if len(loose):
        raise CircuitError(
            "“{node}” is joined to no supply, neither by copper nor through a supply: join it, or leave it out.",
            node=circuit.names[int(loose[0])],
        )
    apart = np.flatnonzero(component[circuit.loads.plus] != component[circuit.loads.minus])
    if len(apart):
        plus, minus = (circuit.names[int(one[apart[0]])] for one in (circuit.loads.plus, circuit.loads.minus))
        raise CircuitError(
            "A load lies between “{plus}” and “{minus}”, which belong to circuits that have no conductor in common: no "
            "current comes back. Join their minus.",
            plus=plus,
            minus=minus,
        )
    return component


def components_of(circuit: Circuit) -> IndexArray:
    """Return for every node the number of the part of the circuit that copper and supplies hold together."""
    from scipy.sparse import coo_array
    from scipy.sparse.csgraph import connected_components

    one = np.concatenate([circuit.resistors.start, [source.plus for source in circuit.sources]]).astype(int)
    other = np.concatenate([circuit.resistors.end, [source.minus for source in circuit.sources]]).astype(int)
    graph = coo_array((np.ones(len(one)), (one, other)), shape=(circuit.nodes, circuit.nodes))
    return np.asarray(connected_components(graph, directed=False)[1])
