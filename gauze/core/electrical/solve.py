"""Volts and amps of a circuit, by Kirchhoff's laws and Newton's method.

With v the unknown volts, the sum of the amps at every node is the gradient of a convex function: half of g d^2 of every
resistance, and of every load the integral of its current. So there is one solution, and Newton's method with a step that is
halved until that function falls finds it. Supplies at their limit are currents that are given; which are is found by trying.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from gauze.core.electrical.circuit import Circuit, Solution, Source, check_circuit
from gauze.core.electrical.ties import Ties, ties_of
from gauze.core.errors import Pause, carry_on
from gauze.core.layout.model import FloatArray, IndexArray

if TYPE_CHECKING:
    from scipy.sparse.linalg import SuperLU

_MOST_STEPS = 200
_MOST_HALVINGS = 40
_MOST_SWITCHES = 60  # of supplies between holding their volts and being at their limit
_CLOSED = 1e-9  # of the largest current: the amps at a node that may be left over
_DIGITS = 16  # last digits that many sums may cost
_LEAK_S = 1e-12  # to ground from every node: what is fed by a limited supply alone has volts too
_HOLDS = 1e-9  # of a supply's limit or volts, by which rounding may miss it


def solve(circuit: Circuit, start_v: FloatArray | None = None, pause: Pause = carry_on) -> Solution:
    """Solve a circuit; ``start_v`` are volts of its nodes to begin with, where they are known from one much like it.

    Raises
    ------
    CircuitError
        When it cannot be solved: see :func:`gauze.core.electrical.circuit.check_circuit` and
        :func:`gauze.core.electrical.ties.ties_of`.
    Cancelled
        By ``pause()``, between two steps.
    """
    component = check_circuit(circuit)
    held = [True] * len(circuit.sources)
    volts = start_v
    for _ in range(_MOST_SWITCHES):
        system = _System(circuit, ties_of(circuit, component, held), held)
        volts = system.solved(volts, pause)
        found = system.solution(volts)
        switched = _switched(circuit, held, found)
        if switched is None:
            return found
        held[switched] = not held[switched]
    raise ArithmeticError("no state of the supplies fits all of them")


def _switched(circuit: Circuit, held: list[bool], found: Solution) -> int | None:
    """Return the supply that is most in the wrong state: over its limit, or limited with more volts than its own."""
    worst, chosen = _HOLDS, None
    for index, source in enumerate(circuit.sources):
        if source.limit_a is None:
            continue
        if held[index]:
            off = found.source_a[index] / max(source.limit_a, 1e-12) - 1.0
        else:
            off = (found.source_v[index] + source.limit_a * source.resistance_ohm) / source.volts - 1.0
        if off > worst:
            worst, chosen = off, index
    return chosen


@dataclass(frozen=True)
class _Branches:
    """Straight lines of current over volts between nodes: resistances, and supplies behind theirs; I = g (v_s - v_e - emf)."""

    start: IndexArray
    end: IndexArray
    siemens: FloatArray
    emf_v: FloatArray

    def current_a(self, volts: FloatArray) -> FloatArray:
        return self.siemens * (volts[self.start] - volts[self.end] - self.emf_v)


class _System:
    """The equations of a circuit in one state of its supplies."""

    def __init__(self, circuit: Circuit, ties: Ties, held: list[bool]) -> None:
        self.circuit, self.ties, self.held = circuit, ties, held
        behind = [s for s, holds in zip(circuit.sources, held, strict=True) if holds and s.resistance_ohm > 0.0]
        resistors = circuit.resistors
        self.branches = _Branches(
            np.concatenate([resistors.start, [source.plus for source in behind]]).astype(int),
            np.concatenate([resistors.end, [source.minus for source in behind]]).astype(int),
            np.concatenate([1.0 / resistors.ohm, [1.0 / source.resistance_ohm for source in behind]]),
            np.concatenate([np.zeros(len(resistors.ohm)), [source.volts for source in behind]]),
        )
        self.given_a = np.zeros(circuit.nodes)  # into every node, by supplies at their limit
        for source, holds in zip(circuit.sources, held, strict=True):
            if not holds:
                self.given_a[source.plus] += source.limit_a or 0.0
                self.given_a[source.minus] -= source.limit_a or 0.0
        self._pattern()

    def _pattern(self) -> None:
        """Find where in the matrix every pair of a branch's or a load's nodes adds its conductance: once, not in every step."""
        loads, unknown, count = self.circuit.loads, self.ties.unknown, self.ties.count
        a = np.concatenate([unknown[self.branches.start], unknown[loads.plus]])
        b = np.concatenate([unknown[self.branches.end], unknown[loads.minus]])
        which = np.arange(len(a))
        rows, columns = np.concatenate([a, b, a, b]), np.concatenate([a, b, b, a])
        which, sign = np.tile(which, 4), np.repeat([1.0, 1.0, -1.0, -1.0], len(a))
        there = (rows >= 0) & (columns >= 0)
        diagonal = np.arange(count)
        keys = np.concatenate([columns[there] * count + rows[there], diagonal * count + diagonal])
        distinct, slot = np.unique(keys, return_inverse=True)
        self._slot, self._which, self._sign = slot[: there.sum()], which[there], sign[there]
        self._leak = np.bincount(slot[there.sum() :], minlength=len(distinct)) * _LEAK_S
        self._row = (distinct % count).astype(np.int32) if count else distinct.astype(np.int32)
        self._first = np.searchsorted(distinct // max(count, 1), np.arange(count + 1)).astype(np.int32)

    def _factorised(self, slopes: FloatArray) -> SuperLU:
        from scipy.sparse import csc_array
        from scipy.sparse.linalg import splu

        conductance = np.concatenate([self.branches.siemens, slopes])
        data = np.bincount(self._slot, self._sign * conductance[self._which], len(self._row)) + self._leak
        matrix = csc_array((data, self._row, self._first), shape=(self.ties.count, self.ties.count))
        return splu(matrix, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options={"SymmetricMode": True})

    def node_v(self, unknown_v: FloatArray) -> FloatArray:
        """Volts of all nodes."""
        padded = np.append(unknown_v, 0.0)  # of those that have no unknown
        return np.asarray(padded[self.ties.unknown] + self.ties.offset_v)

    def _into(self, volts: FloatArray) -> FloatArray:
        """Amps that come into every node less those that leave it."""
        loads, nodes = self.circuit.loads, self.circuit.nodes
        through = self.branches.current_a(volts)
        drawn = loads.current_a(volts[loads.plus] - volts[loads.minus])
        start = np.concatenate([self.branches.start, loads.plus])
        end = np.concatenate([self.branches.end, loads.minus])
        amps = np.concatenate([through, drawn])
        return np.asarray(self.given_a + np.bincount(end, amps, nodes) - np.bincount(start, amps, nodes))

    def _of_unknowns(self, into: FloatArray) -> FloatArray:
        """The same, summed over the nodes of every unknown."""
        return np.asarray(np.bincount(self.ties.unknown + 1, into, self.ties.count + 1)[1:], float)

    def _potential_w(self, volts: FloatArray) -> float:
        loads, branches = self.circuit.loads, self.branches
        across = volts[branches.start] - volts[branches.end] - branches.emf_v
        own = loads.potential_w(volts[loads.plus] - volts[loads.minus])
        return float(0.5 * branches.siemens @ across**2 + own.sum() - self.given_a @ volts)

    def solved(self, start_v: FloatArray | None, pause: Pause) -> FloatArray:
        """Return the volts of the unknowns."""
        unknown = self._without_loads() if start_v is None else self._from_nodes(start_v)
        loads = self.circuit.loads
        volts = self.node_v(unknown)
        for _ in range(_MOST_STEPS):
            pause()
            left = self._of_unknowns(self._into(volts))
            if np.abs(left).max(initial=0.0) <= _CLOSED * self._scale_a(volts) + self._rounding_a(volts):
                return volts
            slopes = loads.slope_s(volts[loads.plus] - volts[loads.minus])
            step = self._factorised(slopes).solve(left)
            unknown, volts = self._stepped(unknown, volts, step, left)
        raise ArithmeticError(f"the currents did not balance in {_MOST_STEPS} steps")

    def _stepped(
        self, unknown: FloatArray, volts: FloatArray, step: FloatArray, left: FloatArray
    ) -> tuple[FloatArray, FloatArray]:
        """Go as far along a step as the potential falls by a good share of what its slope says."""
        before, falls = self._potential_w(volts), float(left @ step)
        share = 1.0
        for _ in range(_MOST_HALVINGS):
            further = unknown + share * step
            there = self.node_v(further)
            if self._potential_w(there) <= before - 1e-4 * share * falls + 1e-12 * abs(before):
                return further, there
            share /= 2.0
        return further, there

    def _scale_a(self, volts: FloatArray) -> float:
        loads = self.circuit.loads
        drawn = loads.current_a(volts[loads.plus] - volts[loads.minus])
        through = self.branches.current_a(volts)
        return max(float(np.abs(drawn).sum()), float(np.abs(through).max(initial=0.0)), 1e-6)

    def _rounding_a(self, volts: FloatArray) -> float:
        """What rounding alone leaves over: volts are known to their last digits, of which a small resistance makes amps."""
        largest = float(self.branches.siemens.max(initial=0.0)) * float(np.abs(volts).max(initial=0.0))
        return _DIGITS * np.finfo(float).eps * largest

    def _without_loads(self) -> FloatArray:
        """Volts of the unknowns as if nothing were drawn: every conductor at those of its supply."""
        if not self.ties.count:
            return np.zeros(0)
        volts = self.node_v(np.zeros(self.ties.count))
        through = self.branches.current_a(volts)
        nodes = self.circuit.nodes
        into: FloatArray = np.subtract(
            *(np.bincount(at, through, nodes) for at in (self.branches.end, self.branches.start))
        )
        return np.asarray(self._factorised(np.zeros(len(self.circuit.loads.plus))).solve(self._of_unknowns(into)))

    def _from_nodes(self, volts: FloatArray) -> FloatArray:
        unknown = np.zeros(self.ties.count)
        known = self.ties.unknown >= 0
        unknown[self.ties.unknown[known]] = (volts - self.ties.offset_v)[known]
        return unknown

    def solution(self, volts: FloatArray) -> Solution:
        """Return everything that follows from the volts of the nodes."""
        loads, resistors = self.circuit.loads, self.circuit.resistors
        load_v = volts[loads.plus] - volts[loads.minus]
        into = self._into(volts)
        source_a = self._source_a(into, volts)
        source_v = np.array([volts[source.plus] - volts[source.minus] for source in self.circuit.sources])
        for source, amps, holds in zip(self.circuit.sources, source_a, self.held, strict=True):
            if holds and source.resistance_ohm == 0.0:
                into[source.plus] += amps
                into[source.minus] -= amps
        return Solution(
            volts,
            (volts[resistors.start] - volts[resistors.end]) / resistors.ohm,
            load_v,
            loads.current_a(load_v),
            source_a,
            source_v,
            tuple(not holds for holds in self.held),
            float(np.abs(into).max(initial=0.0)),
        )

    def _source_a(self, into: FloatArray, volts: FloatArray) -> FloatArray:
        """Amps of every supply: at its limit that, behind a resistance by Ohm's law, else what its nodes still ask for."""
        found = np.zeros(len(self.circuit.sources))
        ideal: list[int] = []
        for index, source in enumerate(self.circuit.sources):
            if not self.held[index]:
                found[index] = source.limit_a or 0.0
            elif source.resistance_ohm > 0.0:
                across = volts[source.plus] - volts[source.minus]
                found[index] = (source.volts - across) / source.resistance_ohm
            else:
                ideal.append(index)
        wanted = -into
        while ideal:  # tied nodes form trees: of each, supplies at the tips first
            tip, node = self._tip(ideal)
            source = self.circuit.sources[tip]
            amps = wanted[source.plus] if node == source.plus else -wanted[source.minus]
            found[tip] = amps
            wanted[source.plus] -= amps
            wanted[source.minus] += amps
            ideal.remove(tip)
        return found

    def _tip(self, ideal: list[int]) -> tuple[int, int]:
        """Return a supply of which one node is joined to no other of them, and that node."""
        sources: list[Source] = [self.circuit.sources[index] for index in ideal]
        ends = [node for source in sources for node in (source.plus, source.minus)]
        for index, source in zip(ideal, sources, strict=True):
            for node in (source.plus, source.minus):
                if ends.count(node) == 1:
                    return index, node
        raise AssertionError("supplies that are tied in a ring were refused before")
