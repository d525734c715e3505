"""Volts and amps of a build: its pieces as they are wired, solved."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from gauze.core.design.wiring import Injection, Wiring
from gauze.core.electrical.circuit import Circuit, Solution
from gauze.core.electrical.elements import Element, element_of
from gauze.core.electrical.growing import Growing, Wire
from gauze.core.electrical.schemes import PieceNodes, joined_up, leads_nowhere, source_of
from gauze.core.electrical.solve import solve
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import Piece, StripPiece
from gauze.core.materials import Module, Strip
from gauze.core.parts import Joint
from gauze.core.parts.flux import FluxFactors

_LAST: dict[tuple[int, int, int], FloatArray] = {}  # volts of the circuit that was solved last, by its size
_EXACT = 4  # decimals of a flux factor: finer than anyone sees, and the light is not computed again for it


@dataclass(frozen=True)
class PiecePower:
    """One piece: volts at its segments (n,), what each channel draws while on (n, channels), and its light over the label's.

    ``nominal_a`` (channels,) is what a segment's label says.
    """

    id: str
    volts_v: FloatArray
    current_a: FloatArray
    share: FloatArray
    nominal_a: FloatArray


@dataclass(frozen=True)
class WirePower:
    """One wire with what flows through it while everything is on."""

    wire: Wire
    current_a: float
    drop_v: float
    loss_w: float


@dataclass(frozen=True)
class SupplyPower:
    """One supply: its nominal volts and what it is set to, what it gives at once and in the mean, and whether it is too small.

    ``terminal_v`` is what is left at its terminals where it is. ``needed_a`` is what its pieces draw by their labels.
    """

    volts: float
    set_v: float
    peak_a: float
    mean_w: float
    terminal_v: float
    limited: bool
    needed_a: float


@dataclass(frozen=True)
class Power:
    """A build's volts and amps; ``lost`` are the injections that lead nowhere, and are left out."""

    pieces: tuple[PiecePower, ...]
    wires: tuple[WirePower, ...]
    supplies: tuple[SupplyPower, ...]
    residual_a: float
    lost: tuple[Injection, ...] = ()

    @property
    def least_share(self) -> float:
        """Least light of any channel of any segment over its label's; 1 where nothing is lit."""
        return min((float(piece.share.min()) for piece in self.pieces if piece.share.size), default=1.0)

    def factors(self) -> FluxFactors:
        """How much of its label's light each segment and channel gives."""
        return FluxFactors({piece.id: np.round(piece.share, _EXACT) for piece in self.pieces})


Change = Callable[[Circuit, Sequence[Wire]], Circuit]


def power_of(
    pieces: Sequence[Piece], joints: Sequence[Joint], wiring: Wiring, change: Change | None = None
) -> Power | None:
    """Solve the circuit of a build; None for one without pieces.

    ``change`` makes another circuit of it before it is solved, as a fault does; its wires are the last of the resistances.
    """
    if not pieces:
        return None
    growing = Growing()
    elements = _elements(pieces)
    cap = cap_share(pieces, wiring)
    marks: dict[str, list[int]] = {}
    for one in wiring.injections:
        if not leads_nowhere(pieces, one):
            marks.setdefault(one.piece, []).append(one.after)
    nodes = [
        _grown(growing, piece, element, sorted(set(marks.get(piece.id, ()))))
        for piece, element in zip(pieces, elements, strict=True)
    ]
    loads = [_loaded(growing, *one, cap) for one in zip(pieces, elements, nodes, strict=True)]
    voltages = joined_up(growing, pieces, nodes, joints, wiring)
    circuit = growing.closed()
    if change is not None:
        circuit = change(circuit, growing.wires)
    size = circuit.nodes, len(circuit.resistors.ohm), len(circuit.loads.zero_v)
    solution = solve(circuit, _LAST.get(size, growing.about_v()))
    _LAST.clear()  # one is enough: what follows is mostly much like it
    _LAST[size] = solution.node_v
    found = tuple(
        _piece_power(piece, element, own, solution, cap)
        for piece, element, own in zip(pieces, elements, nodes, strict=True)
    )
    return Power(
        found,
        _wires_power(growing, circuit.resistors.ohm, solution),
        tuple(_supplies(pieces, voltages, loads, solution, wiring)),
        solution.residual_a,
        tuple(one for one in wiring.injections if leads_nowhere(pieces, one)),
    )


def most_label_a(pieces: Sequence[Piece]) -> float:
    """What all pieces of one voltage draw by their labels while they are on; of several voltages the most."""
    found: dict[float, float] = {}
    for piece, element in zip(pieces, _elements(pieces), strict=True):
        if isinstance(piece, StripPiece) and not piece.lit:
            continue
        on = sum(curve.nominal_a for curve, level in zip(element.curves, levels_of(piece), strict=True) if level > 0)
        segments = piece.segments if isinstance(piece, StripPiece) else 1
        volts = kind_of(piece).volts
        found[volts] = found.get(volts, 0.0) + on * segments
    return max(found.values(), default=0.0)


def cap_share(pieces: Sequence[Piece], wiring: Wiring) -> float:
    """To what share of the levels that are set the pixels' controller dims everything, to keep to its cap; 1 within it.

    It adds up what the levels come to by the label, all pixels together, as controllers do (common practice, no source).
    """
    if wiring.capped_ma is None:
        return 1.0
    set_a = 0.0
    for piece, element in zip(pieces, _elements(pieces), strict=True):
        if element.pixels and (not isinstance(piece, StripPiece) or piece.lit):
            each = sum(curve.nominal_a * level for curve, level in zip(element.curves, levels_of(piece), strict=True))
            set_a += each * (piece.segments if isinstance(piece, StripPiece) else 1)
    return min(wiring.capped_ma / 1000.0 / set_a, 1.0) if set_a > 0 else 1.0


def _elements(pieces: Sequence[Piece]) -> list[Element]:
    """What a segment of each piece draws; of pieces of one kind it is asked once."""
    known: dict[int, Element] = {}
    for piece in pieces:
        if id(kind_of(piece)) not in known:
            known[id(kind_of(piece))] = element_of(piece)
    return [known[id(kind_of(piece))] for piece in pieces]


def _grown(growing: Growing, piece: Piece, element: Element, marks: Sequence[int]) -> PieceNodes:
    """The conductors of a piece: of a strip both ends, the middle of every segment and the marks that are soldered to."""
    plus_v = kind_of(piece).volts
    if not isinstance(piece, StripPiece):
        rails = [growing.row(piece.id, 1, 0.0 if back else plus_v) for back in range(1 + element.returns)]
        return PieceNodes(rails[0], tuple(rails[1:]), {mark: [int(rail[0]) for rail in rails] for mark in marks})
    count = piece.segments
    each = piece.strip.rail_ohm_per_m * piece.strip.segment_mm / 1000.0
    between = [mark for mark in marks if 0 < mark < count]
    stays = np.ones(count + 1, bool)
    stays[between] = False
    ohm = np.full(count + 1, each)
    ohm[[0, -1]] = each / 2.0
    rails, pads = [], {mark: list[int]() for mark in marks}
    for back in range(1 + element.returns):
        volts = 0.0 if back else plus_v
        rail = growing.row(piece.id, count + 2, volts)
        growing.resist(rail[:-1][stays], rail[1:][stays], ohm[stays])
        extra = growing.row(f"{piece.id}, mark", len(between), volts)
        for mark, node in zip(between, extra, strict=True):
            pair = np.array([rail[mark], node]), np.array([node, rail[mark + 1]])
            growing.resist(*pair, np.full(2, each / 2.0))
            pads[mark].append(int(node))
        for mark in set(marks) - set(between):
            pads[mark].append(int(rail[0 if mark == 0 else -1]))
        rails.append(rail)
    return PieceNodes(rails[0], tuple(rails[1:]), pads)


def _loaded(
    growing: Growing, piece: Piece, element: Element, nodes: PieceNodes, cap: float
) -> list[tuple[slice, float]]:
    """Add the loads of a piece, and return where they stand and for what share of the time each is on.

    Pixels under a cap draw what it leaves, all the time: their pulses are not in step, so that their mean is what flows.
    """
    found = []
    plus = nodes.segments(nodes.plus)
    levels = levels_of(piece)
    lit = not isinstance(piece, StripPiece) or piece.lit
    for channel, (curve, level) in enumerate(zip(element.curves, levels, strict=True)):
        minus = nodes.segments(nodes.minus[min(channel, element.returns - 1)])
        if lit and level > 0 and curve.nominal_a > 0:
            mean = cap * level if cap < 1.0 and element.pixels else 1.0
            load = growing.load(plus, minus, curve.zero_v, mean * curve.siemens, mean * curve.most_a)
            found.append((load, level if mean == 1.0 else 1.0))
    return found


def _piece_power(piece: Piece, element: Element, nodes: PieceNodes, solution: Solution, cap: float) -> PiecePower:
    plus = solution.node_v[nodes.segments(nodes.plus)]
    across = [
        plus - solution.node_v[nodes.segments(nodes.minus[min(channel, element.returns - 1)])]
        for channel in range(len(element.curves))
    ]
    share = np.stack([curve.share(volts) for curve, volts in zip(element.curves, across, strict=True)], axis=1)
    if element.pixels:
        share = cap * share
    nominal = np.array([curve.nominal_a for curve in element.curves])
    return PiecePower(piece.id, np.min(across, axis=0), share * nominal, share, nominal)


def _wires_power(growing: Growing, ohm: FloatArray, solution: Solution) -> tuple[WirePower, ...]:
    amps = np.abs(solution.resistor_a[growing.resistors :])
    drops = amps * ohm[growing.resistors :]
    rows = zip(growing.wires, amps.tolist(), drops.tolist(), (amps * drops).tolist(), strict=True)
    return tuple(WirePower(*row) for row in rows)


def _supplies(
    pieces: Sequence[Piece],
    voltages: Mapping[float, int],
    loads: Sequence[Sequence[tuple[slice, float]]],
    solution: Solution,
    wiring: Wiring,
) -> list[SupplyPower]:
    found = []
    for volts, source in voltages.items():
        duty = [one for piece, own in zip(pieces, loads, strict=True) if kind_of(piece).volts == volts for one in own]
        peak, on = float(solution.source_a[source]), sum(float(solution.load_a[part].sum()) for part, _ in duty)
        mean = sum(level * float(solution.load_a[part].sum()) for part, level in duty)
        set_v = source_of(wiring, volts, voltages).volts
        share = mean / on if on > 0 else 0.0
        terminal = float(solution.source_v[source])
        needed = most_label_a([piece for piece in pieces if kind_of(piece).volts == volts])
        found.append(
            SupplyPower(volts, set_v, peak, terminal * peak * share, terminal, solution.limited[source], needed)
        )
    return found


def kind_of(piece: Piece) -> Strip | Module:
    """What a piece is of."""
    return piece.strip if isinstance(piece, StripPiece) else piece.module


def levels_of(piece: Piece) -> tuple[float, ...]:
    """Level of each of its channels."""
    if isinstance(piece, StripPiece):
        return piece.choice.levels_for(piece.strip)
    return piece.choice.levels_for(piece.module)
