"""The light in any cavity that is convex, or a row of convex legs: direct at every point, bounced light balanced and gathered.

1. Direct light of every emitter on every patch, near patches divided, each emitter's sum corrected to its flux (:mod:`emitters`).
2. The bounced light is balanced on coarse patches with exact reciprocity and closure (:mod:`exchange`, :mod:`transport`).
3. It is gathered at Chebyshev points of the lids from fine patches, which carry the direct light in full detail, and scaled to
   the balanced flux. In between it is interpolated.
"""

import math
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.families.tiles import Tile
from gauze.core.layout.model import FloatArray
from gauze.core.optics.box_mesh import chebyshev_at, chebyshev_matrix, chebyshev_weights
from gauze.core.optics.cavity.crowd import clearance_to, flux_of_crowd, gathered, on_tile
from gauze.core.optics.cavity.emitters import MOST_DIVISIONS, Emitters, flux_shares
from gauze.core.optics.cavity.grids import Grid, grid_of
from gauze.core.optics.cavity.mesh import Mesh
from gauze.core.optics.cavity.transport import Knots, Transport
from gauze.core.optics.kernel.pairs import SheetWeights

_MOST_KEPT = 400_000  # numbers of a matrix that is worth keeping
_MOST_GRID = 4  # places of a grid for each that is wanted
_NEAREST_SHARE = 0.1  # of the emitters are nearer to the lids: a single outlier does not decide
_LEAST_CLEARANCE_MM = 0.5
_MANY = 2500  # emitters (or what stands for them) whose light on the patches is no longer corrected one by one
_MANY_IN_MOTION = 400  # the same, while a hand drags
_COARSE_DIVISIONS = 3  # of patches near an emitter, while a hand drags
_LID_CELL = 0.3  # clearances: cells in which emitters are gathered for the lids
_MEANS_CELL = 0.6  # the same, for the means over patches of the lids
_PATCH_CELL = 0.7  # clearances: cells in which emitters are gathered for the patches, which take means anyway


@dataclass(frozen=True)
class DirectLight:
    """Direct light in a cavity.

    ``sources`` stand for the emitters where these are many (:mod:`crowd`), and come as near as ``clearance_mm`` to the lids.
    """

    cavity: Cavity
    emitters: Emitters
    sources: Emitters
    clearance_mm: float

    def direct(
        self,
        tile: Tile,
        s: FloatArray,
        t: FloatArray,
        weights: SheetWeights | None = None,
        pause: Pause = carry_on,
        sources: Emitters | None = None,
    ) -> tuple[FloatArray, FloatArray | None]:
        """Direct illuminance at places (n,) of one lid, plain and weighed, in lm/mm^2, each of shape (n, k).

        ``sources`` stand for those of the light, where some are drawn otherwise.
        """
        return on_tile(tile, s, t, self.sources if sources is None else sources, self.clearance_mm, weights, pause)


@dataclass(frozen=True)
class CavityLight(DirectLight):
    """Light on the lids of a cavity.

    ``bounced_at_knots`` has shape (knots of all lids, k) in lm/mm^2, k being the emitters' colours. ``lid_flux_lm`` is what falls
    on the lids in all and ``direct_flux_lm`` without a bounce, ``open_flux_lm`` what gets out by what is open after a bounce,
    for each colour. ``balance_error`` is by how much absorbed, transmitted and escaped flux miss the emitted one, ``corrected``
    the largest share by which an emitter's flux on the patches had to be corrected.
    """

    knots: tuple[Knots, ...]
    bounced_at_knots: FloatArray
    lid_flux_lm: FloatArray
    direct_flux_lm: FloatArray
    open_flux_lm: FloatArray
    balance_error: float
    corrected: float

    def bounced(self, lid: int, s: FloatArray, t: FloatArray) -> FloatArray:
        """Bounced illuminance at places (n,) of one lid, in lm/mm^2, shape (n, k)."""
        knot = self.knots[lid]
        grid = self.bounced_at_knots[knot.part].reshape(len(knot.s), len(knot.t), -1)
        found = _at_places(grid, s, t)
        return np.asarray(np.maximum(found, 0.0))  # interpolation swings a trace below zero where it is almost dark


def _at_places(grid: FloatArray, s: FloatArray, t: FloatArray) -> FloatArray:
    """Values at places (n,) from those at Chebyshev's points along both sides, (s, t, k): shape (n, k)."""

    def read(lines: Grid) -> FloatArray:
        on_s, on_t = (
            chebyshev_matrix(1.0, count, one) for count, one in zip(grid.shape[:2], (lines.s, lines.t), strict=True)
        )
        return lines.interpolated(on_s, on_t, grid)

    lines = grid_of(s, t)
    if lines is not None:
        return read(lines)
    columns, column = np.unique(s, return_inverse=True)
    rows, row = np.unique(t, return_inverse=True)
    if len(columns) * len(rows) <= _MOST_GRID * len(s):  # places on a grid share its lines
        return np.asarray(read(Grid(columns, rows, s_first=False))[column * len(rows) + row])
    if (
        max(grid.shape[:2]) * len(s) <= _MOST_KEPT
    ):  # a hand that drags asks for the same places again, whose matrices are kept
        half = np.tensordot(chebyshev_matrix(1.0, grid.shape[0], s), grid, axes=(1, 0))
        return np.asarray(np.einsum("ntk,nt->nk", half, chebyshev_matrix(1.0, grid.shape[1], t)))
    if len(rows) <= len(columns):  # as in a side between mitres: each row of the chart has places of its own along it
        return chebyshev_at(np.matmul(chebyshev_matrix(1.0, grid.shape[1], rows), grid), s, row)
    return chebyshev_at(np.matmul(chebyshev_matrix(1.0, grid.shape[0], columns), grid.swapaxes(0, 1)), t, column)


def direct_light_in(cavity: Cavity, emitters: Emitters) -> DirectLight:
    """Return the direct light of emitters in a cavity."""
    emitters = in_legs(cavity, emitters)
    to_lids = clearance_to(cavity.lids, emitters)
    nearest = _usual_clearance_mm(cavity, emitters, to_lids)
    return DirectLight(cavity, emitters, gathered(emitters, to_lids, _LID_CELL * nearest), nearest)


def direct_on_patches(fine: Mesh, direct: DirectLight, fineness: float, pause: Pause) -> tuple[FloatArray, float]:
    """Direct flux per mm^2 of every patch, (patches, k), and how far an emitter's sum had to be corrected."""
    pause()
    cavity, emitters, nearest = direct.cavity, direct.emitters, direct.clearance_mm
    crowd = gathered(emitters, clearance_to(cavity.tiles, emitters), _PATCH_CELL * nearest, apart=0.8)
    if crowd.legs is None and crowd.count > (_MANY if fineness >= 1.0 else _MANY_IN_MOTION):
        rough = gathered(emitters, clearance_to(cavity.lids, emitters), _MEANS_CELL * nearest)
        return flux_of_crowd(fine, crowd, rough, nearest, pause)
    return flux_shares(fine, crowd, pause, MOST_DIVISIONS if fineness >= 1.0 else _COARSE_DIVISIONS)


def light_cavity(
    transport: Transport,
    emitters: Emitters,
    fineness: float = 1.0,
    pause: Pause = carry_on,
    known: DirectLight | None = None,
    arrived: tuple[FloatArray, float] | None = None,
) -> CavityLight:
    """Compute the light on the lids of a cavity of which the transport is known; ``fineness`` 1 is exact at rest.

    ``known`` is the direct light, and ``arrived`` that on the patches, if they have been computed.

    Raises
    ------
    Cancelled
        By ``pause()``, between two steps.
    """
    cavity = transport.cavity
    pause()
    plain = known or direct_light_in(cavity, emitters)
    emitters, nearest = plain.emitters, plain.clearance_mm
    on_fine, corrected = arrived or direct_on_patches(transport.fine, plain, fineness, pause)
    pause()
    on_coarse = _summed(on_fine * transport.fine.areas_mm2[:, None], transport) / transport.coarse.areas_mm2[:, None]
    balanced = transport.balance(on_coarse)
    bounced = np.maximum(transport.spread(balanced - on_coarse), 0.0)
    leaving = transport.reflectances(transport.fine)[:, None] * (on_fine + bounced)
    at_knots = transport.gather @ leaving.astype(np.float32)
    open_tiles = np.array([one.tile.role == "opening" for one in transport.coarse.tiles])
    lid, opening = (tiles[transport.coarse.tile_index] for tiles in (cavity.looked_at, open_tiles))
    area = transport.coarse.areas_mm2[:, None]
    lid_flux = (balanced * area)[lid].sum(axis=0)
    direct_flux = (on_coarse * area)[lid].sum(axis=0)
    return CavityLight(
        cavity,
        emitters,
        plain.sources,
        nearest,
        transport.knots,
        _scaled(at_knots.astype(float), transport.knots, lid_flux - direct_flux),
        lid_flux,
        direct_flux,
        ((balanced - on_coarse) * area)[opening].sum(axis=0),
        _balance_error(transport, balanced, emitters),
        corrected,
    )


def in_legs(cavity: Cavity, emitters: Emitters) -> Emitters:
    """The emitters, each in its leg where the cavity has some."""
    if cavity.legs is None:
        return emitters
    return replace(emitters, legs=(cavity.legs, cavity.leg_of(emitters.places_mm)))


def nearest_mm(cavity: Cavity, emitters: Emitters) -> float:
    """How near emitters come to the lids of a cavity."""
    return _usual_clearance_mm(cavity, emitters, clearance_to(cavity.lids, emitters))


def _usual_clearance_mm(cavity: Cavity, emitters: Emitters, to_lids: FloatArray) -> float:
    """How near the emitters come to the lids; those that light none do not count, unless all are so."""
    distances = to_lids[np.isfinite(to_lids)]
    if not len(distances):
        distances = np.min([tile.clearance_mm(emitters.places_mm) for tile in cavity.lids], axis=0)
    place, distances = _NEAREST_SHARE * (len(distances) - 1), np.sort(distances)
    low, high = float(distances[math.floor(place)]), float(distances[math.ceil(place)])
    return max(low + (high - low) * (place % 1.0), _LEAST_CLEARANCE_MM)


def _summed(fluxes: FloatArray, transport: Transport) -> FloatArray:
    """Sum the flux of the fine patches over the coarse ones that they divide."""
    parts = []
    for rough, smooth in zip(transport.coarse.tiles, transport.fine.tiles, strict=True):
        rows, columns = rough.shape
        grid = fluxes[smooth.part].reshape(rows, smooth.shape[0] // rows, columns, smooth.shape[1] // columns, -1)
        parts.append(grid.sum(axis=(1, 3)).reshape(rows * columns, -1))
    return np.concatenate(parts)


def _scaled(at_knots: FloatArray, knots: tuple[Knots, ...], wanted: FloatArray) -> FloatArray:
    """Scale the gathered light, which has the detail, to the balanced flux, which has the right sum."""
    total = np.zeros(at_knots.shape[1])
    for knot in knots:
        weight = np.outer(chebyshev_weights(len(knot.s)), chebyshev_weights(len(knot.t)))
        density = knot.tile.density(*np.meshgrid(knot.s, knot.t, indexing="ij"))
        total += np.einsum("p,pk->k", (weight * density).ravel(), at_knots[knot.part])
    return np.asarray(at_knots * np.where(total > 0, wanted / np.where(total > 0, total, 1.0), 1.0))


def _balance_error(transport: Transport, balanced: FloatArray, emitters: Emitters) -> float:
    mesh: Mesh = transport.coarse
    lost = ((1.0 - transport.reflectances(mesh)) * mesh.areas_mm2) @ balanced
    emitted = emitters.flux_lm.sum(axis=0)
    lit = emitted > 0
    return float(np.abs(lost[lit] / emitted[lit] - 1.0).max(initial=0.0))
