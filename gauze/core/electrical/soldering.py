"""In which order the wires of a build are soldered, so that each piece can be tried before the next is begun.

A piece lights once its plus and every one of its returns lead back to the supply; its own copper carries them on to what hangs
on it. Wires are taken in their order as soon as they hang on something that is there; a step ends when a piece can be lit.
"""

from collections.abc import Collection, Sequence
from dataclasses import dataclass

from gauze.core.electrical.power import PiecePower, Power
from gauze.core.electrical.wire_list import Run, runs_of
from gauze.core.layout.pieces import Piece
from gauze.core.parts import Joint

TOLERANCE = 0.15  # of the amps that are expected; common practice, no source


@dataclass(frozen=True)
class SolderingStep:
    """Wires to solder, by their numbers and conductors; data lines to the pieces that light then; what the supply then gives.

    ``lights`` is empty for a step that feeds in once more. ``least_v`` is the least volts at the new pieces, or at those fed.
    """

    number: int
    wires: tuple[tuple[int, str], ...]
    data_from: tuple[tuple[str, str], ...]
    lights: tuple[str, ...]
    supply_a: float
    least_v: float

    @property
    def joints(self) -> int:
        """How many ends are soldered."""
        return 2 * (len(self.wires) + len(self.data_from))


@dataclass(frozen=True)
class _Wire:
    run: Run
    conductor: str
    start: str
    end: str


def soldering_steps(power: Power, pieces: Sequence[Piece], joints: Sequence[Joint]) -> tuple[SolderingStep, ...]:
    """Return the steps, from the supply outwards; every wire is in exactly one of them."""
    waiting = [
        _Wire(run, one.wire.conductor, run.start.piece, run.end.piece) for run in runs_of(power) for one in run.wires
    ]
    needed: dict[str, set[str]] = {piece.id: set() for piece in pieces}
    for wire in waiting:
        for name in (wire.start, wire.end):
            if name:
                needed[name].add(wire.conductor)
    found: list[SolderingStep] = []
    there: dict[str, set[str]] = {name: set() for name in needed}
    lit: dict[str, None] = {}  # in the order in which they light
    by_id = {one.id: one for one in power.pieces}
    data = [(joint.first, joint.second) for joint in joints if joint.kind == "data"]
    while waiting:
        soldered, new = _until_one_lights(waiting, there, needed, lit, next(reversed(lit), ""))
        if not soldered:  # hangs on nothing: no circuit of ours, but nothing is left out
            soldered, waiting = waiting, []
        lit |= dict.fromkeys(new)
        amps = sum(_amps(by_id[name]) for name in lit)
        about = new or list(dict.fromkeys(wire.end for wire in soldered if wire.end))
        least = min((float(by_id[name].volts_v.min()) for name in about), default=0.0)
        lines = tuple(pair for pair in data if pair[1] in new)
        wires = tuple((wire.run.number, wire.conductor) for wire in soldered)
        found.append(SolderingStep(len(found) + 1, wires, lines, tuple(new), amps, least))
    return tuple(found)


def _until_one_lights(
    waiting: list[_Wire], there: dict[str, set[str]], needed: dict[str, set[str]], lit: Collection[str], last: str
) -> tuple[list[_Wire], list[str]]:
    """Take wires that hang on what is there, until a piece has all that it needs; without such, all that can be taken."""
    soldered: list[_Wire] = []
    while True:
        hanging = [one for one in waiting if _hangs(one, there)]
        if not hanging:
            return soldered, []
        wire = min(hanging, key=lambda one: _how_far(one, soldered, last))  # of equals the first
        waiting.remove(wire)
        soldered.append(wire)
        for name in (wire.start, wire.end):
            if name:
                there[name].add(wire.conductor)
        new = [name for name in (wire.start, wire.end) if name and name not in lit and there[name] >= needed[name]]
        if new:
            return soldered, new


def _how_far(wire: _Wire, soldered: list[_Wire], last: str) -> int:
    """The other conductors of a run come first, then what hangs on the piece that was lit last, then the rest."""
    if soldered and wire.run.number == soldered[-1].run.number:
        return 0
    return 1 if last and last in (wire.start, wire.end) else 2


def _hangs(wire: _Wire, there: dict[str, set[str]]) -> bool:
    return not wire.start or not wire.end or any(wire.conductor in there[name] for name in (wire.start, wire.end))


def _amps(piece: PiecePower) -> float:
    return float(piece.current_a.sum())
