"""Nodes whose difference in volts is given: those of a supply without resistance, and one of each part that counts as zero."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from gauze.core.electrical.circuit import Circuit, Source
from gauze.core.errors import CircuitError
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.words import Number

_SAME_V = 1e-9


@dataclass(frozen=True)
class Ties:
    """Every node as an unknown plus an offset: ``unknown`` is its number, -1 where there is none; ``offset_v`` what is added."""

    unknown: IndexArray
    offset_v: FloatArray
    count: int


def ties_of(circuit: Circuit, component: IndexArray, held: Sequence[bool]) -> Ties:
    """Tie the nodes of supplies that hold their volts without resistance, and ground each part at its first supply's minus.

    ``component`` says of which part each node is.

    Raises
    ------
    CircuitError
        When two such supplies are joined to the same nodes.
    """
    root, offset = np.arange(circuit.nodes), np.zeros(circuit.nodes)
    for source, holds in zip(circuit.sources, held, strict=True):
        if holds and source.resistance_ohm == 0.0:
            _tie(root, offset, source)
    grounded: dict[int, int] = {}
    for source in circuit.sources:
        grounded.setdefault(int(component[source.minus]), source.minus)
    zero = np.zeros(circuit.nodes, bool)
    for node in grounded.values():
        mine = root == root[node]
        offset[mine] -= offset[node]
        zero[mine] = True
    free = np.unique(root[~zero])
    number = np.full(circuit.nodes, -1)
    number[free] = np.arange(len(free))
    return Ties(np.where(zero, -1, number[root]), offset, len(free))


def _tie(root: IndexArray, offset: FloatArray, source: Source) -> None:
    """Bring both nodes of a supply under one root; the arrays are changed in place."""
    if root[source.plus] == root[source.minus]:
        between = offset[source.plus] - offset[source.minus]
        if abs(between - source.volts) > _SAME_V:
            raise CircuitError(
                "Supply “{name}” of {volts} V is joined to nodes that another holds at {between} V: two supplies of "
                "different volts are joined. Separate them, or give their resistances.",
                name=source.name,
                volts=Number(source.volts),
                between=Number(float(between)),
            )
        raise CircuitError(
            "Supply “{name}” is joined to the same nodes as another: how much each of them gives cannot be determined. Give "
            "their resistances, or give each its own wires.",
            name=source.name,
        )
    mine = root == root[source.plus]
    offset[mine] += offset[source.minus] + source.volts - offset[source.plus]
    root[mine] = root[source.minus]
