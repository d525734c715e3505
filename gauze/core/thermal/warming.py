"""How warm a build gets: its bodies in balance, and from there every piece of strip and every module."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.design.surroundings import VENTED, BodyKind, Surroundings
from gauze.core.electrical.power import PiecePower, levels_of
from gauze.core.layout import Layout
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.pieces import Piece, StripPiece
from gauze.core.optics.colour import band_efficacy_lm_w
from gauze.core.parts.flux import FluxFactors
from gauze.core.thermal.body import Body, Warmth, warmth_of
from gauze.core.thermal.convection import rise_of_strip_k

# W/(m K), typical, from memory
CONDUCTIVITY_W_M_K = {
    "timber": 0.13,
    "fibreboard": 0.12,
    "plastic": 0.2,
    "acrylic": 0.19,
    "steel": 50.0,
    "aluminium": 180.0,
}
WHITE_LM_W = 320.0  # lumens in a watt of white light; typical, from memory
LEAVES = 0.5  # of the LEDs' light that leaves the build, the rest warming it; typical, and some tenth of the watts is at stake
LID_W_M_K = 0.2  # conductivity of a sheet; typical, from memory
TAPE_M2_K_W = 1.0e-3  # from solder point to the back, through tape and adhesive, by area; typical, from memory
_FOOTPRINT = 4.0  # areas of a package over which its heat spreads in the copper; typical, from memory
FALLS_PER_K = 0.002  # of the lumens, for each kelvin above that of the label; typical, from memory
LABEL_C = 25.0
_USUAL_H, _FARTHEST_M = (
    10.0,
    0.1,
)  # W/(m^2 K) of a warm surface in a room, and how far beside a strip its heat is followed
_ALIKE = 0.02  # by which loads may differ and be taken for the same
_SAMPLES = 4
_STEPS = 3  # loads between which a body's warmth is interpolated


@dataclass(frozen=True)
class PieceWarmth:
    """One piece: the watts that it turns into heat, the back under it, and its solder points."""

    id: str
    watts: float
    back_c: float
    solder_c: float

    @property
    def flux_factor(self) -> float:
        """Lumens over those at the temperature of the label."""
        return max(1.0 - FALLS_PER_K * max(self.solder_c - LABEL_C, 0.0), 0.0)


@dataclass(frozen=True)
class BuildWarmth:
    """A build in its surroundings: the hottest of its bodies, and every piece. ``chosen`` says that the builder chose them."""

    surroundings: Surroundings
    chosen: bool
    hottest: Warmth
    pieces: tuple[PieceWarmth, ...]
    watts: float

    @property
    def worst(self) -> PieceWarmth:
        """The piece with the warmest solder points."""
        return max(self.pieces, key=lambda one: one.solder_c)

    def factors(self, of_volts: FluxFactors, pieces: Sequence[PiecePower]) -> FluxFactors:
        """Multiply what the volts leave of the light by what the warmth does."""
        there = {one.id: one.share for one in pieces} if of_volts else {}
        return FluxFactors(
            {one.id: np.round(one.flux_factor * there.get(one.id, np.ones((1, 1))), 4) for one in self.pieces}
        )


def warmth_of_build(
    layout: Layout, powers: Sequence[PiecePower], kind: BodyKind, surroundings: Surroundings, *, chosen: bool
) -> BuildWarmth | None:
    """Balance every body of a build; None for one without pieces."""
    pieces = layout.pieces
    if not pieces:
        return None
    watts = {piece.id: _heat_w(piece, own) for piece, own in zip(pieces, powers, strict=True)}
    found: list[PieceWarmth] = []
    hottest: Warmth | None = None
    for cavity, members in _units(layout):
        loads = [sum(watts[piece.id] for piece in unit) for unit in members]
        shape = _body(cavity, members[0], kind, surroundings)
        warmths = _warmths(shape, loads, surroundings)
        for unit, load, warmth in zip(members, loads, warmths, strict=True):
            found += [_piece(piece, watts[piece.id], shape, (warmth, load), (kind, surroundings)) for piece in unit]
            if hottest is None or warmth.back_c > hottest.back_c:
                hottest = warmth
    assert hottest is not None
    order = {piece.id: number for number, piece in enumerate(pieces)}
    found.sort(key=lambda one: order[one.id])
    return BuildWarmth(surroundings, chosen, hottest, tuple(found), sum(watts.values()))


def _units(layout: Layout) -> list[tuple[CavityLayout, list[list[Piece]]]]:
    """Each shape of body with the pieces in every one of that shape."""
    if not layout.instances:
        return [(layout.cavities[0], [list(layout.pieces)])]
    by_id = {piece.id: piece for piece in layout.pieces}
    met: set[str] = set()
    found: dict[int, tuple[CavityLayout, list[list[Piece]]]] = {}
    for instance in layout.instances:
        names = dict.fromkeys(name for name, _ in instance.pieces if name in by_id)
        own = [by_id[name] for name in names if name not in met]  # one that goes round a corner belongs to the first
        met |= set(names)
        if own:
            cavity = layout.cavities[instance.cavity]
            found.setdefault(id(cavity.shape), (cavity, []))[1].append(own)
    return list(found.values())


# -- watts ---------------------------------------------------------------------------------------------------------------


def _heat_w(piece: Piece, own: PiecePower) -> float:
    """Mean electrical watts of a piece, less the light that leaves the build."""
    levels = np.array(levels_of(piece))
    electrical = float((own.volts_v[:, None] * own.current_a * levels).sum())
    return max(electrical - LEAVES * _light_w(piece, own, levels), 0.0)


def _light_w(piece: Piece, own: PiecePower, levels: np.ndarray) -> float:
    if isinstance(piece, StripPiece):
        if not piece.lit:
            return 0.0
        each = piece.strip.segment_mm / 1000.0
        rows = [(one.flux_lm_per_m * each, one.peak_nm, one.width_nm) for one in piece.strip.channel]
    else:
        rows = [(one.flux_lm, one.peak_nm, one.width_nm) for one in piece.module.channel]
    watts = [
        flux / (WHITE_LM_W if peak is None else band_efficacy_lm_w(peak, width or 20.0)) for flux, peak, width in rows
    ]
    return float((own.share * levels * np.array(watts)).sum())


# -- bodies --------------------------------------------------------------------------------------------------------------


def _body(cavity: CavityLayout, pieces: Sequence[Piece], kind: BodyKind, surroundings: Surroundings) -> Body:
    """The body around a unit, without its load."""
    area, size = _areas_m2(cavity.surface), _size_m(cavity.surface)
    wide, high, deep = (max(value, 1e-3) for value in size)
    back_r = surroundings.back_mm / 1000.0 / CONDUCTIVITY_W_M_K[surroundings.back]
    sink = 0.0 if surroundings.sink_k_per_w is None else 1.0 / surroundings.sink_k_per_w
    usual = Body(
        watts=0.0,
        back_m2=0.0 if surroundings.against_wall else area["back"],
        inside_m2=area["back"],
        lid_m2=area["lid"],
        wall_m2=area["wall"],
        gap_m=deep,
        height_m=high,
        span_m=wide * high / (2.0 * (wide + high)),
        back_r=back_r,
        lid_r=0.003 / LID_W_M_K,
        sink_w_k=sink,
        vent_m2=(surroundings.vent_mm2 or 0.0) / 1e6 if kind in VENTED else 0.0,
        stack_m=high if surroundings.stance == "upright" else deep / 2.0,
    )
    if kind == "one_piece":  # back and walls are one, and all of it is as warm
        whole = area["wall"] + (0.0 if surroundings.against_wall else area["back"])
        return replace(usual, back_m2=whole, inside_m2=area["back"] + area["wall"], wall_m2=0.0)
    strips_m2 = sum(_length_m(piece) * _width_m(piece) for piece in pieces)
    if kind == "carrier":
        length = max(size)
        around = area["lid"] / (math.pi * length)
        stack = length if surroundings.stance == "upright" else around / 2.0
        return replace(
            usual,
            back_m2=0.0,
            inside_m2=2.0 * strips_m2,
            wall_m2=0.0,
            diameter_m=around,
            gap_m=around / 2.0,
            stack_m=stack,
        )
    if kind == "open":
        length = sum(_length_m(piece) for piece in pieces)
        beside = min(
            math.sqrt(surroundings.back_mm / 1000.0 * CONDUCTIVITY_W_M_K[surroundings.back] / _USUAL_H), _FARTHEST_M
        )
        strips_m2 += 2.0 * beside * length  # of what it lies on, as far as its heat gets
        return replace(
            usual,
            back_m2=strips_m2 if surroundings.against_wall else 2.0 * strips_m2,
            inside_m2=0.0,
            lid_m2=0.0,
            wall_m2=0.0,
            height_m=length if surroundings.stance == "upright" else strips_m2 / length,
            span_m=strips_m2 / length / 2.0,
            back_r=0.0,
        )
    return usual


def _areas_m2(surface: Cavity | BaffledBox) -> dict[str, float]:
    found = {"back": 0.0, "lid": 0.0, "wall": 0.0}
    if isinstance(surface, BaffledBox):
        face = surface.width_mm * surface.height_mm / 1e6
        around = 2.0 * (surface.width_mm + surface.height_mm) * surface.depth_mm / 1e6
        return {"back": face, "lid": face, "wall": around}
    at = (np.arange(_SAMPLES) + 0.5) / _SAMPLES
    s, t = np.meshgrid(at, at)
    for tile in surface.tiles:
        if tile.role in found:
            found[tile.role] += float(tile.density(s, t).mean()) / 1e6
    return found


def _size_m(surface: Cavity | BaffledBox) -> tuple[float, float, float]:
    if isinstance(surface, BaffledBox):
        return surface.width_mm / 1000.0, surface.height_mm / 1000.0, surface.depth_mm / 1000.0
    ends = np.linspace(0.0, 1.0, 3)
    s, t = np.meshgrid(ends, ends)
    points = np.concatenate([tile.points(s, t).reshape(-1, 3) for tile in surface.tiles])
    wide, high, deep = (float(value) / 1000.0 for value in np.ptp(points, axis=0))
    return wide, high, deep


def _warmths(shape: Body, loads: Sequence[float], surroundings: Surroundings) -> list[Warmth]:
    """Warmth under every load; between a few of them in straight lines, as it hardly bends."""
    least, most = min(loads), max(loads)
    at = np.unique(np.linspace(least, most, _STEPS)) if most - least > _ALIKE * most else np.array([most])
    known = [warmth_of(replace(shape, watts=float(load)), surroundings.ambient_c, surroundings.stance) for load in at]
    if len(known) == 1:
        return known * len(loads)
    columns = np.array([[getattr(one, name) for one in known] for name in Warmth.__dataclass_fields__])
    return [Warmth(*(float(np.interp(load, at, row)) for row in columns)) for load in loads]


# -- pieces --------------------------------------------------------------------------------------------------------------


def _piece(
    piece: Piece, watts: float, shape: Body, own: tuple[Warmth, float], given: tuple[BodyKind, Surroundings]
) -> PieceWarmth:
    """The back under a piece, by how its heat spreads in it; and its solder points, by the tape under them."""
    (warmth, load), (kind, surroundings) = own, given
    rise_k = warmth.back_c - surroundings.ambient_c
    spread_m2 = shape.inside_m2 if kind in ("box", "edge") else 0.0
    local_k = rise_k
    if spread_m2 > 0 and load > 0 and rise_k > 0:
        loses = load / (spread_m2 * rise_k)
        sheet = CONDUCTIVITY_W_M_K[surroundings.back], surroundings.back_mm / 1000.0
        length, width = _length_m(piece), _width_m(piece)
        share = watts / load  # of the sheet, as of the heat
        gap = max(share * spread_m2 / length - width, 0.0)
        half = gap if kind == "edge" else gap / 2.0
        factor = 2.0 if kind == "edge" else 1.0  # one side only: as two of half the heat
        local_k = max(rise_of_strip_k(factor * watts / length, factor * width, half, sheet, loses), rise_k)
    back_c = surroundings.ambient_c + local_k
    return PieceWarmth(piece.id, watts, back_c, back_c + _through_tape_k(piece, watts))


def _through_tape_k(piece: Piece, watts: float) -> float:
    """Rise of the solder points over what is under the tape: each package's heat through a few times its area."""
    if isinstance(piece, StripPiece):
        package, room = (
            piece.strip.package_mm[0] * piece.strip.package_mm[1],
            piece.strip.pitch_mm * piece.strip.width_mm,
        )
        count = piece.emitters
    else:
        package = piece.module.package_mm**2
        room = piece.module.board_mm[0] * piece.module.board_mm[1] / piece.module.emitters
        count = piece.module.emitters
    return watts / max(count, 1) * TAPE_M2_K_W / (min(_FOOTPRINT * package, room) / 1e6)


def _length_m(piece: Piece) -> float:
    return (piece.length_mm if isinstance(piece, StripPiece) else piece.module.board_mm[0]) / 1000.0


def _width_m(piece: Piece) -> float:
    return (piece.strip.width_mm if isinstance(piece, StripPiece) else piece.module.board_mm[1]) / 1000.0
