"""Does the far end get as much light as the near one, and is it of the same colour?"""

from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from gauze.core.design.wiring import Injection
from gauze.core.electrical.elements import SOURCE as CURVES_SOURCE
from gauze.core.electrical.power import PiecePower, Power, kind_of, levels_of
from gauze.core.electrical.wires import SOURCE as WIRES_SOURCE
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.evaluate.wording import scheme_words
from gauze.core.layout.model import Channel, FloatArray
from gauze.core.layout.pieces import Piece, StripPiece
from gauze.core.lazy import Lazy
from gauze.core.optics.colour import channel_xyz, uv_1976
from gauze.core.words import Fixed, Length, Number, Percent, Text, say

GOOD_SHARE = 0.90  # of the brightest segment's light; common practice, no source
FAIR_SHARE = 0.75  # common practice, no source
_DARK = 0.05  # of the label's light: below it even the brightest segment hardly glows
_NEAR_END = 0.1  # of a piece: pads nearer to an end than this are left for those of the end
SEEN_DELTA_UV = 0.010  # in CIE 1976 u' v': a visibly different white; common practice, no source


@dataclass(frozen=True)
class Ends:
    """The brightest and the dimmest segment of what is lit, by their light over the label's; where the dimmest is, and its volts.

    ``delta_uv`` is how far the colour of any segment is from what its label's channels make.
    """

    most: float
    least: float
    piece: str
    segment: int
    least_v: float
    delta_uv: float

    @property
    def share(self) -> float:
        """Light of the dimmest over that of the brightest."""
        return self.least / self.most if self.most > 0 else 1.0


def ends_of(pieces: tuple[Piece, ...], power: Power) -> Ends | None:
    """Find the brightest and the dimmest segment, by all light of each; None where nothing is lit."""
    found: list[Ends] = []
    known: dict[tuple[int, int], tuple[FloatArray, FloatArray]] = {}
    for piece, own in zip(pieces, power.pieces, strict=True):
        if isinstance(piece, StripPiece) and not piece.lit:
            continue
        key = id(kind_of(piece)), id(piece.choice)
        if key not in known:
            flux, colours = _channels(piece)
            known[key] = flux * np.array(levels_of(piece)), colours
        weight, colours = known[key]
        if weight.any():
            share, off = _light(own, weight, colours)
            dim = int(share.argmin())
            found.append(
                Ends(float(share.max()), float(share[dim]), piece.id, dim, float(own.volts_v[dim]), float(off.max()))
            )
    if not found:
        return None
    dimmest = min(found, key=lambda one: one.least)
    return replace(dimmest, most=max(one.most for one in found), delta_uv=max(one.delta_uv for one in found))


def pads_of_dimmest(pieces: tuple[Piece, ...], ends: Ends) -> Injection:
    """Return the pads beside the dimmest segment, on its side away from the middle; those of an end where that is near."""
    piece = next(one for one in pieces if one.id == ends.piece)
    last = piece.segments if isinstance(piece, StripPiece) else 0
    after = ends.segment + 1 if ends.segment >= last / 2 else ends.segment
    near = _NEAR_END * last
    return Injection(piece=piece.id, after=0 if after <= near else last if after >= last - near else after)


def _light(own: PiecePower, weight: FloatArray, colours: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Of every segment its light over the label's, and how far its colour is from that."""
    there = own.share @ weight
    if len(weight) == 1 or (own.share == own.share[:, :1]).all():  # all colours dim alike
        return there / weight.sum(), np.zeros(len(there))
    off, lit = np.zeros(len(there)), there > 0  # what is dark has no colour
    apart = uv_1976(own.share[lit] * weight @ colours) - uv_1976(weight @ colours)
    off[lit] = np.hypot(apart[:, 0], apart[:, 1])
    return there / weight.sum(), off


def _channels(piece: Piece) -> tuple[FloatArray, FloatArray]:
    """Flux of each channel at full level, in the same unit, and its colour, XYZ with Y = 1."""
    if isinstance(piece, StripPiece):
        rows = [(one.flux_lm_per_m, one.name, one.cct_k, one.peak_nm, one.width_nm) for one in piece.strip.channel]
    else:
        rows = [(one.flux_lm, one.name, one.cct_k, one.peak_nm, one.width_nm) for one in piece.module.channel]
    white = piece.choice.cct_k
    colours = [
        channel_xyz(Channel(name, 0, index, 1.0, cct_k or (white if peak is None else None), peak, width))
        for index, (_, name, cct_k, peak, width) in enumerate(rows)
    ]
    return np.array([flux for flux, *_ in rows]), np.array(colours)


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the dimmest segment of all pieces, as they are wired."""
    power = evaluation.network.power
    if power is None:
        return []
    ends = ends_of(evaluation.layout.pieces, power)
    found = [] if ends is None else [_finding(evaluation, power, ends)]
    return [*found, _lost(power)] if power.lost else found


def _lost(power: Power) -> Finding:
    """Feeds whose piece is gone, or shorter than it was."""
    first = power.lost[0]
    words: dict[str, Text] = {"piece": first.piece, "after": first.after, "count": len(power.lost)}
    if len(power.lost) == 1:
        sentence = say(
            "A feed on {piece}, after segment {after}, leads nowhere: that piece is gone or shorter now.", **words
        )
    else:
        sentence = say(
            "{count} feeds lead nowhere, such as that on {piece}, after segment {after}: their pieces are gone or shorter now.",
            **words,
        )
    return Finding(
        code="lost feeds",
        place="feed",
        state=State.WATCH,
        sentence=sentence,
        value=float(len(power.lost)),
        unit="",
        limit=0.0,
        figures=(
            Figure(
                say("Left out"),
                say("{count}", count=len(power.lost)),
                say("they stay in the design until they are removed, and have no effect"),
            ),
        ),
        fixable=True,
    )


def drop_state(ends: Ends, *, wired: bool) -> State:
    """Judge the dimmest segment; wiring that is not chosen yet never fails."""
    share = ends.share
    if ends.most < _DARK:
        return State.FAILS if wired else State.WATCH
    if share >= GOOD_SHARE and ends.delta_uv <= SEEN_DELTA_UV:
        return State.GOOD
    if share >= FAIR_SHARE or not wired:
        return State.WATCH
    return State.FAILS


def _finding(evaluation: Evaluation, power: Power, ends: Ends) -> Finding:
    wired = evaluation.network.wired
    state = drop_state(ends, wired=wired)
    scheme = scheme_words(evaluation.network.wiring.scheme)
    words: dict[str, Text] = {
        "share": Percent(ends.share),
        "piece": ends.piece,
        "volts": Number(ends.least_v, 3),
        "scheme": scheme,
    }
    if ends.most < _DARK:
        sentence = say("Wired {scheme}, hardly anything lights: {piece} gets {volts} V.", **words)
    elif state is State.GOOD:
        sentence = say("Wired {scheme}, the dimmest segment has {share} of the brightest one's light.", **words)
    else:
        sentence = say(
            "Wired {scheme}, the far end on {piece} is left with {volts} V and {share} of the brightest segment's light.",
            **words,
        )
    if ends.delta_uv > SEEN_DELTA_UV:
        sentence += say(" Its white shifts visibly.")
    if not wired and state is not State.GOOD:
        sentence += say(" No wiring is chosen yet: the picture shows full volts everywhere.")
    return Finding(
        code="drop",
        place="feed",
        state=state,
        sentence=sentence,
        value=ends.share,
        unit="",
        limit=GOOD_SHARE,
        figures=Lazy(partial(_figures, evaluation, power, ends)),
        fixable=state in (State.WATCH, State.FAILS),
    )


def _figures(evaluation: Evaluation, power: Power, ends: Ends) -> list[Figure]:
    wiring = evaluation.network.wiring
    strips = [piece for piece in evaluation.layout.pieces if isinstance(piece, StripPiece)]
    rail: Text = say("boards have no rails of their own")
    if strips:
        rail = say(
            "{ohm} Ω/m each way, {source}", ohm=Number(strips[0].strip.rail_ohm_per_m), source=strips[0].strip.source
        )
    lost = sum(one.loss_w for one in power.wires)
    given = sum(one.terminal_v * one.peak_a for one in power.supplies)
    used = sum(float((own.current_a * own.volts_v[:, None]).sum()) for own in power.pieces)
    return [
        Figure(
            say("Dimmest segment"),
            Percent(ends.least),
            say(
                "of its label's light, at {volts} V on {piece}, segment {segment}",
                volts=Number(ends.least_v, 4),
                piece=ends.piece,
                segment=ends.segment + 1,
            ),
            say("{curves}; {limits}", curves=say(CURVES_SOURCE), limits=say("limits: common practice, no source")),
        ),
        Figure(say("Brightest segment"), Percent(ends.most), say("of its label's light")),
        Figure(
            say("Colour at low volts"),
            say("Δu′v′ {delta}", delta=Fixed(ends.delta_uv, ".4f")),
            say(
                "largest shift of any segment from its colour at full volts; visible from {limit}",
                limit=Fixed(SEEN_DELTA_UV, ".3f"),
            ),
        ),
        Figure(say("Copper of the strip"), rail, say("the return drops as well: both rails are computed")),
        Figure(
            say("Wire"),
            say("{section} mm², lead {lead}", section=Number(wiring.wire_mm2), lead=Length(wiring.lead_mm)),
            say(
                "lengths along both axes with a tenth of slack; {count} have a section of their own",
                count=len(wiring.sections),
            )
            if wiring.sections
            else say("lengths along both axes with a tenth of slack"),
            say(WIRES_SOURCE),
        ),
        Figure(
            say("Where the watts go"),
            say("{given} W from the supply", given=Number(given)),
            say(
                "{wires} W in wires, {rails} W in the strips' copper, with everything on at once",
                wires=Number(lost),
                rails=Number(max(given - used - lost, 0.0)),
            ),
        ),
        Figure(
            say("Residual"),
            say("{amps} A", amps=Fixed(power.residual_a, ".1e")),
            say("largest sum of currents at any node; rounding only"),
        ),
    ]
