"""A circuit that grows: nodes, resistances, loads and wires are added one after the other, then it is closed."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import overload

import numpy as np

from gauze.core.electrical.circuit import Circuit, Loads, Resistors, Source
from gauze.core.electrical.wires import wire_ohm
from gauze.core.layout.model import FloatArray, IndexArray

Place = tuple[float, float]
SUPPLY = "supply"
PLUS = "+"  # the conductor of that name; every other one leads back
_SHORTEST_MM = 10.0  # of a wire: even pads that touch are joined by some solder


@dataclass(frozen=True)
class Pad:
    """Where a wire ends: on which piece, at an end of it or after so many segments, and where in the plan.

    The supply's terminals are on no piece; in the plan they stand where their wire leads to.
    """

    piece: str
    at: str | int
    place_mm: Place

    def __str__(self) -> str:
        """Its name, as ids are."""
        if not self.piece:
            return SUPPLY
        return f"{self.piece} {self.at}" if isinstance(self.at, str) else f"{self.piece} after {self.at}"


@dataclass(frozen=True)
class Wire:
    """One conductor: what it joins; its length and section."""

    start: Pad
    end: Pad
    conductor: str
    length_mm: float
    section_mm2: float


class _NodeNames(Sequence[str]):
    """Names of nodes, made only when one is asked for: there are thousands."""

    def __init__(self, count: int, known: dict[int, str]) -> None:
        self._count, self._known = count, known

    def __len__(self) -> int:
        return self._count

    @overload
    def __getitem__(self, index: int) -> str: ...
    @overload
    def __getitem__(self, index: slice) -> Sequence[str]: ...
    def __getitem__(self, index: int | slice) -> str | Sequence[str]:
        if isinstance(index, slice):
            return [self[one] for one in range(*index.indices(self._count))]
        before = max((node for node in self._known if node <= index), default=-1)
        return self._known.get(before, "node") + ("" if before == index else f", {index - before} further on")


class Growing:
    """Adds to a circuit; numbers of nodes and resistors are given out one after the other."""

    def __init__(self) -> None:
        self.nodes = 0
        self.resistors = 0
        self.loads = 0
        self.wires: list[Wire] = []
        self._wire_nodes: list[tuple[int, int]] = []
        self._wire_ohms: list[float] = []
        self._names: dict[int, str] = {}
        self._volts: list[FloatArray] = []
        self._starts: list[IndexArray] = []
        self._ends: list[IndexArray] = []
        self._ohms: list[FloatArray] = []
        self._loads: list[tuple[IndexArray, IndexArray, FloatArray, FloatArray, FloatArray]] = []
        self._sources: list[Source] = []

    def node(self, name: str, volts: float = 0.0) -> int:
        """Add one node, of about so many volts."""
        return int(self.row(name, 1, volts)[0])

    def row(self, name: str, count: int, volts: float = 0.0) -> IndexArray:
        """Add nodes in a row, of about so many volts."""
        first = self.nodes
        self._names[first] = name
        self._volts.append(np.full(count, volts))
        self.nodes += count
        return np.arange(first, first + count)

    def resist(self, start: IndexArray, end: IndexArray, ohm: FloatArray) -> None:
        """Add resistances; those of wires come after all of these."""
        self._starts.append(start)
        self._ends.append(end)
        self._ohms.append(ohm)
        self.resistors += len(start)

    def wire(
        self,
        nodes: tuple[int, int],
        ends: tuple[Pad, Pad],
        conductor: str,
        length_mm: float,
        section_mm2: float,
    ) -> None:
        """Add a wire between two nodes, from pad to pad."""
        long = max(length_mm, _SHORTEST_MM)
        self._wire_nodes.append(nodes)
        self._wire_ohms.append(wire_ohm(section_mm2, long))
        self.wires.append(Wire(*ends, conductor, long, section_mm2))

    def load(self, plus: IndexArray, minus: IndexArray, zero_v: float, siemens: float, most_a: float) -> slice:
        """Add loads of one curve, and return where they stand among all."""
        first, count = self.loads, len(plus)
        self.loads += count
        zeros, slopes, most = (np.full(count, value) for value in (zero_v, siemens, most_a))
        self._loads.append((plus, minus, zeros, slopes, most))
        return slice(first, first + count)

    def source(self, source: Source) -> None:
        """Add a supply."""
        self._sources.append(source)

    def about_v(self) -> FloatArray:
        """What is known of the volts of the nodes before they are computed."""
        return np.concatenate(self._volts)

    def closed(self) -> Circuit:
        """Return the whole."""
        wires = np.array(self._wire_nodes, int).reshape(-1, 2)
        resistors = Resistors(
            np.concatenate([*self._starts, wires[:, 0]]),
            np.concatenate([*self._ends, wires[:, 1]]),
            np.concatenate([*self._ohms, self._wire_ohms]).astype(float),
        )
        none = np.zeros(0, int), np.zeros(0, int), np.zeros(0), np.zeros(0), np.zeros(0)
        loads = Loads(*(np.concatenate(parts) for parts in zip(none, *self._loads, strict=True)))
        return Circuit(_NodeNames(self.nodes, self._names), resistors, loads, tuple(self._sources))
