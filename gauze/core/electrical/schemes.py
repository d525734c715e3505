"""The schools of wiring: how pieces are joined to their supply, wire by wire."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np

from gauze.core.design.wiring import BatterySupply, Injection, Wiring
from gauze.core.electrical.battery import open_circuit_v
from gauze.core.electrical.circuit import Source
from gauze.core.electrical.growing import SUPPLY, Growing, Pad, Place
from gauze.core.layout.model import IndexArray
from gauze.core.layout.pieces import Piece, StripPiece
from gauze.core.parts import Joint
from gauze.core.parts.joining import BUS

_TURNED = -0.9  # cosine of the angle to the first piece
SLACK = 1.1  # times the way along both axes: wire lies in bends; common practice, no source


@dataclass(frozen=True)
class PieceNodes:
    """Nodes of a piece's conductors: plus, and each of those that lead back; of a strip start, middles of segments, end.

    ``pads`` has the nodes of all conductors at the cut marks that are soldered to, by after how many segments these lie.
    """

    plus: IndexArray
    minus: tuple[IndexArray, ...]
    pads: dict[int, list[int]] = field(default_factory=dict)

    def segments(self, rail: IndexArray) -> IndexArray:
        """Nodes of a conductor at the segments."""
        return rail[1:-1] if len(rail) > 1 else rail

    def at(self, rail: IndexArray, where: str) -> int:
        """Node of a conductor at an end."""
        return int(rail[0 if where == "start" else -1])

    @property
    def conductors(self) -> tuple[tuple[str, IndexArray], ...]:
        """All conductors with their names."""
        if len(self.minus) == 1:
            return ("+", self.plus), ("\N{MINUS SIGN}", self.minus[0])
        return ("+", self.plus), *(
            (f"\N{MINUS SIGN} {number}", rail) for number, rail in enumerate(self.minus, start=1)
        )


@dataclass(frozen=True)
class SourceFigures:
    """What a supply is for the circuit: its volts without load, the most that it gives, and its resistance."""

    volts: float
    limit_a: float | None
    resistance_ohm: float = 0.0


@dataclass(frozen=True)
class _Group:
    """Pieces of one voltage, with the nodes of their supply's terminals."""

    volts: float
    pieces: list[Piece]
    nodes: dict[str, PieceNodes]
    plus: int
    minus: int

    def terminal(self, conductor: str) -> int:
        """The supply's terminal of a conductor."""
        return self.plus if conductor == "+" else self.minus


def place_of(piece: Piece, where: str) -> Place:
    """Where the pads of an end of a piece lie in the plan."""
    if isinstance(piece, StripPiece):
        x, y, _ = piece.start_mm if where == "start" else piece.end_mm
    else:
        x, y, _ = piece.place_mm
    return x, y


def way_mm(one: Place, other: Place) -> float:
    """Length of a wire between two places: along both axes, with slack."""
    return SLACK * (abs(one[0] - other[0]) + abs(one[1] - other[1]))


def set_volts(wiring: Wiring, volts: float, among: Iterable[float]) -> float:
    """What a supply of nominal volts is set to; of several voltages the one that is nearest to what is chosen is meant."""
    chosen = wiring.supply_volts
    if chosen is None or volts != min(among, key=lambda one: abs(one - chosen)):
        return volts
    return chosen


def source_of(wiring: Wiring, volts: float, among: Iterable[float]) -> SourceFigures:
    """What feeds one of several voltages: a supply as it is set, or the battery, straight or through its converter."""
    choice = wiring.battery
    if choice is not None and volts == battery_feeds_v(choice, among):
        if choice.converter is not None:
            return SourceFigures(choice.converter.out_v, choice.converter.limit_a)
        open_v = float(open_circuit_v(choice.battery, np.array([choice.charge]))[0])
        return SourceFigures(open_v, None, choice.battery.inner_ohm)
    set_v = set_volts(wiring, volts, among)
    return SourceFigures(set_v, None if wiring.supply_w is None else wiring.supply_w / set_v)


def battery_feeds_v(choice: BatterySupply, among: Iterable[float]) -> float:
    """Which of the voltages of a build a battery feeds: that which is nearest to what it gives."""
    gives_v = choice.battery.full_v if choice.converter is None else choice.converter.out_v
    return min(among, key=lambda one: abs(one - gives_v))


def joined_up(
    growing: Growing, pieces: Sequence[Piece], nodes: Sequence[PieceNodes], joints: Sequence[Joint], wiring: Wiring
) -> dict[float, int]:
    """Add supplies and wires, and return which supply each voltage has; injections that lead nowhere are left out."""
    own = {piece.id: one for piece, one in zip(pieces, nodes, strict=True)}
    volts = {piece.id: piece.strip.volts if isinstance(piece, StripPiece) else piece.module.volts for piece in pieces}
    ground = growing.node(f"{SUPPLY} \N{MINUS SIGN}")
    found: dict[float, int] = {}
    for voltage in sorted(set(volts.values())):
        some = [piece for piece in pieces if volts[piece.id] == voltage]
        source = source_of(wiring, voltage, volts.values())
        plus = growing.node(f"{SUPPLY} {voltage:g} V +", source.volts)
        figures = source.volts, source.limit_a, source.resistance_ohm
        growing.source(Source(f"{SUPPLY} {voltage:g} V", plus, ground, *figures))
        found[voltage] = len(found)
        for alike in strips_apart(some) if wiring.apart else [some]:
            group = _Group(voltage, alike, {piece.id: own[piece.id] for piece in alike}, plus, ground)
            _SCHEMES[wiring.scheme](growing, group, joints, wiring)
            for injection in wiring.injections:
                if injection.piece in group.nodes and not leads_nowhere(alike, injection):
                    _inject(growing, group, injection, wiring)
    return found


def strips_apart(pieces: Sequence[Piece]) -> list[list[Piece]]:
    """Pieces by what was chosen for them, such as warm and cool rows: each can be dimmed by wires of its own."""
    found: list[tuple[object, list[Piece]]] = []
    for piece in pieces:
        own = next((some for choice, some in found if choice is piece.choice or choice == piece.choice), None)
        if own is None:
            found.append((piece.choice, [piece]))
        else:
            own.append(piece)
    return [some for _, some in found]


def _section_mm2(wiring: Wiring, ends: tuple[Pad, Pad]) -> float:
    return wiring.section_mm2(str(ends[0]), str(ends[1])) if wiring.sections else wiring.wire_mm2


def _lead(
    growing: Growing, group: _Group, piece: Piece, where: str, wiring: Wiring, conductors: Iterable[str] | None = None
) -> None:
    """Wires from the supply to an end of a piece: as long as the lead to the first piece, and the way on from there."""
    there = place_of(piece, where)
    length = wiring.lead_mm + way_mm(place_of(group.pieces[0], "start"), there)
    nodes, at = group.nodes[piece.id], there
    for conductor, rail in nodes.conductors:
        if conductors is None or (conductor == "+") == ("+" in conductors):
            ends = Pad("", "", at), Pad(piece.id, where, at)
            growing.wire(
                (group.terminal(conductor), nodes.at(rail, where)), ends, conductor, length, _section_mm2(wiring, ends)
            )


def _link(growing: Growing, group: _Group, ends: tuple[tuple[Piece, str], tuple[Piece, str]], wiring: Wiring) -> None:
    """Wires from one end of a piece to one of another; conductors that only one of them has end there."""
    (one, one_end), (other, other_end) = ends
    start, end = place_of(one, one_end), place_of(other, other_end)
    length = way_mm(start, end)
    a, b = group.nodes[one.id], group.nodes[other.id]
    for (conductor, from_rail), (_, to_rail) in zip(a.conductors, b.conductors, strict=False):
        pads = Pad(one.id, one_end, start), Pad(other.id, other_end, end)
        growing.wire(
            (a.at(from_rail, one_end), b.at(to_rail, other_end)), pads, conductor, length, _section_mm2(wiring, pads)
        )


def _bus(growing: Growing, group: _Group, where: str, wiring: Wiring, from_last: Iterable[str] = ()) -> None:
    """Buses along one end of all pieces, from piece to piece, fed at the first; those ``from_last`` at the last."""
    pads = _along_one_side(group.pieces, where)
    for one, other in pairwise(pads):
        if len(group.nodes[one[0].id].minus) == len(group.nodes[other[0].id].minus):
            _link(growing, group, (one, other), wiring)
        else:
            _lead(growing, group, *other, wiring)
    back = set(from_last)
    for conductor in ("+", "\N{MINUS SIGN}"):
        _lead(growing, group, *(pads[-1] if conductor in back else pads[0]), wiring, (conductor,))


def _along_one_side(pieces: Sequence[Piece], where: str) -> list[tuple[Piece, str]]:
    """At which end a bus meets each piece: at the same one, but at the other where a piece lies turned and that is nearer."""
    found = [(pieces[0], where)]
    for piece in pieces[1:]:
        turned = np.dot(piece.along, pieces[0].along) < _TURNED
        other = "end" if where == "start" else "start"
        before = place_of(*found[-1])
        nearer = turned and way_mm(before, place_of(piece, other)) < way_mm(before, place_of(piece, where))
        found.append((piece, other if nearer else where))
    return found


def _own(growing: Growing, group: _Group, joints: Sequence[Joint], wiring: Wiring) -> None:
    """As the family's joints say: what they feed from the supply hangs on one bus, the rest on the piece before."""
    by_id = {piece.id: piece for piece in group.pieces}
    fed: list[Piece] = []
    links = []
    joined = set()
    for joint in joints:
        if joint.kind != "supply" or joint.second not in by_id:
            continue
        second, joined_to = by_id[joint.second], by_id.get(joint.first)
        joined.add(second.id)
        same = joined_to is not None and len(group.nodes[joined_to.id].minus) == len(group.nodes[second.id].minus)
        if joint.first == BUS or joined_to is None or not same:
            fed.append(second)
        else:
            links.append(((joined_to, joint.first_end or "end"), (second, joint.second_end or "start")))
    fed += [piece for piece in group.pieces if piece.id not in joined]
    for ends in links:
        _link(growing, group, ends, wiring)
    _bus(growing, _Group(group.volts, fed, group.nodes, group.plus, group.minus), "start", wiring)


def _buses(growing: Growing, group: _Group, _joints: Sequence[Joint], wiring: Wiring) -> None:
    _bus(growing, group, "start", wiring)


def _opposite(growing: Growing, group: _Group, _joints: Sequence[Joint], wiring: Wiring) -> None:
    _bus(growing, group, "start", wiring, from_last=("\N{MINUS SIGN}",))


def _both_ends(growing: Growing, group: _Group, _joints: Sequence[Joint], wiring: Wiring) -> None:
    _bus(growing, group, "start", wiring)
    if any(isinstance(piece, StripPiece) for piece in group.pieces):
        _bus(growing, group, "end", wiring)


def _in_a_row(growing: Growing, group: _Group, _joints: Sequence[Joint], wiring: Wiring) -> None:
    """One piece after the other, each entered at the end that is nearer to where the one before ends."""
    before, left = group.pieces[0], "end"
    _lead(growing, group, before, "start", wiring)
    for piece in group.pieces[1:]:
        from_place = place_of(before, left)
        entered = min(("start", "end"), key=lambda end: way_mm(from_place, place_of(piece, end)))
        if len(group.nodes[before.id].minus) == len(group.nodes[piece.id].minus):
            _link(growing, group, ((before, left), (piece, entered)), wiring)
        else:
            _lead(growing, group, piece, entered, wiring)
        before, left = piece, "end" if entered == "start" else "start"


def _separate(growing: Growing, group: _Group, _joints: Sequence[Joint], wiring: Wiring) -> None:
    for piece in group.pieces:
        _lead(growing, group, piece, "start", wiring)


_SCHEMES: dict[str, Callable[[Growing, _Group, Sequence[Joint], Wiring], None]] = {
    "own": _own,
    "buses": _buses,
    "opposite": _opposite,
    "both_ends": _both_ends,
    "in_a_row": _in_a_row,
    "separate": _separate,
}


def leads_nowhere(pieces: Sequence[Piece], injection: Injection) -> bool:
    """Whether an injection is at no place of any piece: the piece is gone, or is shorter than it was."""
    piece = next((one for one in pieces if one.id == injection.piece), None)
    segments = piece.segments if isinstance(piece, StripPiece) else 0
    return piece is None or injection.after > segments


def _inject(growing: Growing, group: _Group, injection: Injection, wiring: Wiring) -> None:
    piece = next(one for one in group.pieces if one.id == injection.piece)
    segments = piece.segments if isinstance(piece, StripPiece) else 0
    nodes = group.nodes[piece.id]
    share = injection.after / segments if segments else 0.0
    (x0, y0), (x1, y1) = place_of(piece, "start"), place_of(piece, "end")
    there = x0 + share * (x1 - x0), y0 + share * (y1 - y0)
    length = wiring.lead_mm + way_mm(place_of(group.pieces[0], "start"), there)
    ends = Pad("", "", there), Pad(piece.id, injection.after, there)
    for index, (conductor, _) in enumerate(nodes.conductors):
        at = nodes.pads[injection.after][index]
        growing.wire((group.terminal(conductor), at), ends, conductor, length, _section_mm2(wiring, ends))
