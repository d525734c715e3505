"""Faults that builds have, each simulated on the present design: what lights then, and what meters read.

How often each happens is common practice, no source; so are the ohms of bad joints.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import msgspec
import numpy as np

from gauze.core.electrical.circuit import Circuit
from gauze.core.electrical.elements import IDLE_A
from gauze.core.electrical.growing import PLUS, Wire
from gauze.core.electrical.network import Network
from gauze.core.electrical.power import Power, kind_of, power_of
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import StripPiece
from gauze.core.parts.joining import carries_data
from gauze.core.words import Number, Text, say

FaultKind = Literal[
    "bad_joint", "open_joint", "feed_missing", "thin_wire", "supply_low", "supply_folds", "supply_off",
    "reversed_piece", "dead_segment", "colour_order", "data_broken", "logic_level", "no_common_ground",
    "channel_open", "channels_swapped", "other_white", "dimmed", "loose_joint",
]  # fmt: skip
Look = Literal["normal", "dim", "dark"]
Sign = Literal[
    "flicker", "clicks", "wrong_colours", "first_only", "dark_segment", "colour_shift", "colour_missing", "other_white"
]
DARK, DIM, DIMMEST = 0.08, 0.93, 0.85  # of the light without the fault: in the mean, and at the dimmest segment
SHIFT = 0.08  # by which channels of one pixel differ before it looks tinted
BAD_OHM = (0.3, 1.0, 3.0)
_OPEN_OHM = 1e7
_THIN, _LOW, _FOLDS = 4.0, 0.9, 0.6  # times the resistance; of the volts; of the amps that are needed


@dataclass(frozen=True)
class Fault:
    """One fault at one place; ``ohm`` of a joint. ``weight`` is how often it happens beside the others."""

    kind: FaultKind
    piece: str = ""
    ohm: float = 0.0
    weight: float = 1.0

    @property
    def name(self) -> Text:
        """What it is, and where."""
        return (
            say("{fault}: {piece}", fault=WORDS[self.kind][0], piece=self.piece) if self.piece else WORDS[self.kind][0]
        )

    @property
    def remedy(self) -> Text:
        """What to do about it."""
        return WORDS[self.kind][1]


WORDS: dict[FaultKind, tuple[Text, Text]] = {
    "bad_joint": (
        say("Bad joint"),
        say(
            "Measure volts along plus and along minus, from wire to pad: the joint that drops some is bad. Solder it again."
        ),
    ),
    "open_joint": (say("Open joint"), say("Look for a wire that came off, or a cold joint, and solder it again.")),
    "feed_missing": (say("A feed is not connected"), say("Follow the wire from this pad back to the supply.")),
    "thin_wire": (
        say("Wire too thin or too long"),
        say("Measure volts at both ends of the wires; use a larger section."),
    ),
    "supply_low": (say("Supply set too low"), say("Trim the supply at its terminals, under load.")),
    "supply_folds": (
        say("Supply overloaded"),
        say("Use a larger supply, or dim: it limits its current or starts again and again."),
    ),
    "supply_off": (
        say("No volts from the supply"),
        say("Check fuse, switch and plug. Leave the mains side to an electrician."),
    ),
    "reversed_piece": (say("Piece soldered the wrong way round"), say("Swap plus and minus at its pads.")),
    "dead_segment": (say("Dead segment"), say("Bridge or replace the segment between its cut marks.")),
    "colour_order": (say("Wrong order of colours"), say("Set the order of colours in the controller.")),
    "data_broken": (
        say("Data do not get into this piece"),
        say(
            "Solder the data pad, turn the piece if its arrow points the wrong way, or replace the last pixel that lights."
        ),
    ),
    "logic_level": (
        say("Data signal too weak"),
        say("Use a level shifter near the first pixel, and a short data wire."),
    ),
    "no_common_ground": (say("No common minus"), say("Join the minus of the controller and of the supply.")),
    "channel_open": (say("A colour's wire is open"), say("Solder the pad of that colour again.")),
    "channels_swapped": (say("Colours swapped at the pads"), say("Swap the two wires.")),
    "other_white": (say("Another white"), say("Compare the labels of the reels; replace the piece.")),
    "dimmed": (say("Dimmer or level below full"), say("Set dimmer and levels to full, and look again.")),
    "loose_joint": (say("Loose joint"), say("Move the wires one by one; solder the one that makes it flicker.")),
}


@dataclass(frozen=True)
class Simulated:
    """A build with a fault: how each piece looks, what else is seen, and its network.

    ``shares`` are the light of segments over that without the fault.
    """

    fault: Fault
    looks: dict[str, Look]
    signs: frozenset[Sign]
    network: Network
    shares: Mapping[str, FloatArray] = field(default_factory=dict)


def faults_of(evaluation: Evaluation, near: Sequence[str]) -> list[Fault]:
    """Return the faults that a design can have, those of single pieces at the pieces told."""
    pieces = evaluation.layout.pieces
    if not pieces or evaluation.network.power is None:
        return []
    found = [
        Fault("supply_low", weight=0.8),
        Fault("supply_folds", weight=0.8),
        Fault("supply_off", weight=0.7),
        Fault("thin_wire", weight=0.6),
        Fault("dimmed", weight=0.5),
    ]
    if evaluation.network.wiring.injections:
        found.append(Fault("feed_missing", evaluation.network.wiring.injections[0].piece, weight=0.8))
    known = {piece.id: piece for piece in pieces}
    pixels = any(carries_data(piece) for piece in pieces)
    if pixels:
        found += [
            Fault("colour_order", weight=1.2),
            Fault("logic_level", weight=0.8),
            Fault("no_common_ground", weight=0.8),
        ]
    for name in near:
        piece = known.get(name)
        if piece is None:
            continue
        found += [Fault("bad_joint", name, ohm, 1.0) for ohm in BAD_OHM]
        found += [Fault("open_joint", name, weight=1.2), Fault("reversed_piece", name, weight=0.6)]
        found += [Fault("loose_joint", name, weight=0.6)]
        if isinstance(piece, StripPiece):
            found.append(Fault("dead_segment", name, weight=0.8))
        if carries_data(piece):
            found.append(Fault("data_broken", name, weight=1.5))
        elif len(kind_of(piece).channel) > 1:
            found += [Fault("channel_open", name, weight=0.7), Fault("channels_swapped", name, weight=0.4)]
        elif isinstance(piece, StripPiece) and len(pieces) > 1:
            found.append(Fault("other_white", name, weight=0.3))
    return found


def simulate(evaluation: Evaluation, fault: Fault) -> Simulated:
    """Return a build with a fault."""
    network = evaluation.network
    healthy = network.power
    assert healthy is not None
    power, signs = _SIMULATE[fault.kind](evaluation, fault)
    shares = {
        before.id: after.share / np.maximum(before.share, 1e-9)
        for before, after in zip(healthy.pieces, power.pieces, strict=True)
    }
    looks = {name: _look(share) for name, share in shares.items()}
    if any(_is_tinted(before.share, after.share) for before, after in zip(healthy.pieces, power.pieces, strict=True)):
        signs = signs | {"colour_shift"}
    return Simulated(fault, looks, frozenset(signs), replace(network, power=power), shares)


def _look(share: FloatArray) -> Look:
    if not share.size or share.mean() < DARK:
        return "dark"
    return "dim" if share.mean() < DIM or share.min() < DIMMEST else "normal"


def _is_tinted(before: FloatArray, after: FloatArray) -> bool:
    """Whether any segment that lights has its colours dimmed by different shares."""
    if before.ndim < 2 or before.shape[1] < 2:
        return False
    share = np.where(before > 0, after / np.maximum(before, 1e-9), np.nan)
    with np.errstate(all="ignore"):
        lit = np.nanmax(share, axis=1) > DARK
        apart = np.nanmax(share, axis=1) - np.nanmin(share, axis=1)
    return bool((apart[lit] > SHIFT).any())


# -- how each is simulated ---------------------------------------------------------------------------------------------

Result = tuple[Power, set[Sign]]


def _solved(
    evaluation: Evaluation, change: Callable[[Circuit, Sequence[Wire]], Circuit] | None = None, **wiring: object
) -> Power:
    network = evaluation.network
    chosen = msgspec.structs.replace(network.wiring, **wiring) if wiring else network.wiring
    power = power_of(evaluation.layout.pieces, network.joints, chosen, change)
    assert power is not None
    return power


def _more_ohm(piece: str, ohm: float) -> Callable[[Circuit, Sequence[Wire]], Circuit]:
    """More resistance in the plus wires that lead to a piece: in minus it would drop as much."""

    def change(circuit: Circuit, wires: Sequence[Wire]) -> Circuit:
        first = len(circuit.resistors.ohm) - len(wires)
        own = circuit.resistors.ohm.copy()
        for index, wire in enumerate(wires):
            if wire.end.piece == piece and wire.start.piece != piece and wire.conductor == PLUS:
                own[first + index] += ohm
        return replace(circuit, resistors=replace(circuit.resistors, ohm=own))

    return change


def _joint(evaluation: Evaluation, fault: Fault) -> Result:
    return _solved(evaluation, _more_ohm(fault.piece, fault.ohm)), set()


def _open(evaluation: Evaluation, fault: Fault) -> Result:
    return _solved(evaluation, _more_ohm(fault.piece, _OPEN_OHM)), set()


def _feed_missing(evaluation: Evaluation, _fault: Fault) -> Result:
    injections = evaluation.network.wiring.injections[1:]
    return _solved(evaluation, injections=injections), set()


def _thin(evaluation: Evaluation, _fault: Fault) -> Result:
    def change(circuit: Circuit, wires: Sequence[Wire]) -> Circuit:
        own = circuit.resistors.ohm.copy()
        own[len(own) - len(wires) :] *= _THIN
        return replace(circuit, resistors=replace(circuit.resistors, ohm=own))

    return _solved(evaluation, change), set()


def _low(evaluation: Evaluation, _fault: Fault) -> Result:
    def change(circuit: Circuit, _wires: Sequence[Wire]) -> Circuit:
        return replace(circuit, sources=tuple(replace(one, volts=_LOW * one.volts) for one in circuit.sources))

    return _solved(evaluation, change), set()


def _folds(evaluation: Evaluation, _fault: Fault) -> Result:
    healthy = evaluation.network.power
    assert healthy is not None
    limits = [max(_FOLDS * one.peak_a, 1e-6) for one in healthy.supplies]

    def change(circuit: Circuit, _wires: Sequence[Wire]) -> Circuit:
        sources = tuple(replace(one, limit_a=limit) for one, limit in zip(circuit.sources, limits, strict=False))
        return replace(circuit, sources=sources)

    return _solved(evaluation, change), {"clicks", "flicker"}


def _masked(evaluation: Evaluation, dark: Callable[[int, str, FloatArray], FloatArray]) -> Power:
    """The healthy build with light and current of some segments taken away; volts stay as they are."""
    power = evaluation.network.power
    assert power is not None
    kept = [(one, dark(number, one.id, np.ones(one.share.shape))) for number, one in enumerate(power.pieces)]
    pieces = tuple(replace(one, share=one.share * mask, current_a=one.current_a * mask) for one, mask in kept)
    whole = sum(float(one.current_a.sum()) for one in power.pieces)
    left = sum(float(one.current_a.sum()) for one in pieces)
    part = left / whole if whole > 0 else 0.0
    supplies = tuple(replace(one, peak_a=one.peak_a * part, mean_w=one.mean_w * part) for one in power.supplies)
    return replace(power, pieces=pieces, supplies=supplies)


def _off(evaluation: Evaluation, _fault: Fault) -> Result:
    power = _masked(evaluation, lambda _number, _name, mask: 0.0 * mask)
    pieces = tuple(replace(one, volts_v=0.0 * one.volts_v) for one in power.pieces)
    supplies = tuple(replace(one, terminal_v=1e-9) for one in power.supplies)
    return replace(power, pieces=pieces, supplies=supplies), set()


def _of_piece(fault: Fault) -> Callable[[int, str, FloatArray], FloatArray]:
    return lambda _number, name, mask: mask * (0.0 if name == fault.piece else 1.0)


def _reversed(evaluation: Evaluation, fault: Fault) -> Result:
    return _masked(evaluation, _of_piece(fault)), set()


def _dead(evaluation: Evaluation, fault: Fault) -> Result:
    def dark(_number: int, name: str, mask: FloatArray) -> FloatArray:
        if name == fault.piece and len(mask):
            mask[len(mask) // 2] = 0.0
        return mask

    return _masked(evaluation, dark), {"dark_segment"}


def _after(evaluation: Evaluation, fault: Fault) -> Callable[[int, str, FloatArray], FloatArray]:
    """Everything dark from a piece on, in the order of the data."""
    names = [piece.id for piece in evaluation.layout.pieces]
    first = names.index(fault.piece)
    return lambda number, _name, mask: mask * (0.0 if number >= first else 1.0)


def _data_broken(evaluation: Evaluation, fault: Fault) -> Result:
    signs: set[Sign] = {"first_only"} if fault.piece == evaluation.layout.pieces[0].id else set()
    power = _masked(evaluation, _after(evaluation, fault))
    pieces = tuple(
        one
        if one.share.any()
        else replace(one, current_a=np.full(one.current_a.shape, IDLE_A / one.current_a.shape[1]))
        for one in power.pieces
    )
    idle = sum(
        float(after.current_a.sum() - before.current_a.sum())
        for after, before in zip(pieces, power.pieces, strict=True)
    )
    supplies = tuple(
        replace(one, peak_a=one.peak_a + idle, mean_w=one.mean_w + idle * one.terminal_v) if number == 0 else one
        for number, one in enumerate(power.supplies)
    )
    return replace(power, pieces=pieces, supplies=supplies), signs


def _logic(evaluation: Evaluation, _fault: Fault) -> Result:
    return _masked(evaluation, lambda _number, _name, mask: mask), {"flicker", "wrong_colours", "first_only"}


def _ground(evaluation: Evaluation, _fault: Fault) -> Result:
    return _masked(evaluation, lambda _number, _name, mask: mask), {"flicker", "wrong_colours"}


def _channel_open(evaluation: Evaluation, fault: Fault) -> Result:
    def dark(_number: int, name: str, mask: FloatArray) -> FloatArray:
        if name == fault.piece and mask.ndim > 1:
            mask[:, 0] = 0.0
        return mask

    return _masked(evaluation, dark), {"colour_missing"}


def _unchanged(*signs: Sign) -> Callable[[Evaluation, Fault], Result]:
    """A fault by which volts and amps stay as they are."""
    return lambda evaluation, _fault: (_masked(evaluation, lambda _number, _name, mask: mask), set(signs))


def _dimmed(evaluation: Evaluation, _fault: Fault) -> Result:
    return _masked(evaluation, lambda _number, _name, mask: 0.6 * mask), set()


_SIMULATE: dict[FaultKind, Callable[[Evaluation, Fault], Result]] = {
    "bad_joint": _joint,
    "open_joint": _open,
    "feed_missing": _feed_missing,
    "thin_wire": _thin,
    "supply_low": _low,
    "supply_folds": _folds,
    "supply_off": _off,
    "reversed_piece": _reversed,
    "dead_segment": _dead,
    "colour_order": _unchanged("wrong_colours"),
    "data_broken": _data_broken,
    "logic_level": _logic,
    "no_common_ground": _ground,
    "channel_open": _channel_open,
    "channels_swapped": _unchanged("wrong_colours"),
    "other_white": _unchanged("other_white"),
    "dimmed": _dimmed,
    "loose_joint": _unchanged("flicker"),
}


def joint_words(fault: Fault) -> Text:
    """The ohms of a bad joint; nothing for other faults."""
    return say("about {ohm} Ω", ohm=Number(fault.ohm)) if fault.ohm else ""
