"""What depends on a cavity alone: how its patches light each other and its lids. Kept, since emitters change more often."""

import functools
import math
from collections import deque
from collections.abc import Hashable
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.families.tiles import Tile
from gauze.core.layout.model import FloatArray
from gauze.core.optics.box_mesh import chebyshev_points
from gauze.core.optics.cavity.conjugate import conjugate_gradients
from gauze.core.optics.cavity.exchange import balanced, exchange_areas
from gauze.core.optics.cavity.factors import point_factors
from gauze.core.optics.cavity.kept import Kept
from gauze.core.optics.cavity.mesh import Mesh, assemble, mesh_of, refined, thickness_mm
from gauze.core.optics.cavity.symmetry import Folded, unfolded
from gauze.core.optics.kernel.pieces import Pieces

_LEAST_COARSE, _MOST_COARSE = 800, 2400  # at rest: with more most traced maps are not met any better (record 24)
_LEAST_FINE, _MOST_FINE = 2900, 7500  # fine patches, at rest
_LEAST_KNOTS, _MOST_KNOTS = 800, 3600  # places on the lids, at rest
_COARSE_WIDTH, _FINE_WIDTH, _KNOT_WIDTH = (
    1.0,
    0.55,
    0.55,
)  # of the cavity's thickness: finer light does not pass through it
_NEARLY = 0.06  # by which distances may differ: interreflection then differs by less than a hundredth
_LEAST_SPAN_MM = 0.1  # shorter ones are rims, of which a share says nothing
_MOST_SEEN = 12  # transports kept for a hand in motion
_TOLERANCE = 1e-7  # of the light that is balanced
_STEPS, _MOST_STEPS = 400, 4000  # in single precision, and in double
_MOST_BYTES = 120_000_000  # of transports kept besides the present one
_MESH_BYTES, _PATCH_BYTES = 12_000_000, 150  # the same of meshes, and about what a patch takes


@dataclass(frozen=True)
class Knots:
    """The places on one lid at which bounced light is gathered: Chebyshev points along s and t."""

    tile: Tile
    s: FloatArray
    t: FloatArray
    first: int

    @property
    def part(self) -> slice:
        """Where its places lie among those of all lids."""
        return slice(self.first, self.first + len(self.s) * len(self.t))


@dataclass(frozen=True)
class Transport:
    """A meshed cavity with its exchange areas (coarse) and the factors from its lids' knots to the fine patches."""

    cavity: Cavity
    coarse: Mesh
    fine: Mesh
    exchange: Folded
    gather: Folded
    knots: tuple[Knots, ...]

    def balance(self, direct: FloatArray) -> FloatArray:
        """Solve E = E0 + F rho E on the coarse patches.

        With W = rho A the equation W E - rho S rho E = W E0 is symmetric and positive definite: conjugate gradients.

        Parameters
        ----------
        direct:
            E0, shape (patches, k).
        """
        rho = self.reflectances(self.coarse)
        area = self.coarse.areas_mm2
        some = np.flatnonzero(rho > 0)
        total = direct.copy()
        if not len(some):
            return total
        r = rho[some, None]
        weight = area[some, None] * r
        leaving = np.zeros((len(rho), direct.shape[1]), np.float32)

        def arriving(e: FloatArray) -> FloatArray:
            leaving[some] = r * e
            return self.exchange @ leaving

        def apply(e: FloatArray) -> FloatArray:
            return np.asarray(weight * e - r * arriving(e)[some])

        wanted, begin = weight * direct[some], direct[some]
        solved, settled = conjugate_gradients(apply, wanted, begin, weight[:, 0], _TOLERANCE, _STEPS)
        if not settled:  # rounding to single precision keeps a nearly closed, nearly white cavity from settling
            double = self.exchange.whole()[np.ix_(some, some)].astype(float)

            def exactly(e: FloatArray) -> FloatArray:
                return np.asarray(weight * e - r * (double @ (r * e)))

            solved, settled = conjugate_gradients(exactly, wanted, solved, weight[:, 0], _TOLERANCE, _MOST_STEPS)
        if not settled:
            raise ArithmeticError(f"the bounced light did not balance in {_MOST_STEPS} steps")
        return total + arriving(solved) / area[:, None]

    def reflectances(self, mesh: Mesh) -> FloatArray:
        """Reflectance of every patch."""
        return np.asarray(np.array([self.cavity.reflectance(one.tile) for one in mesh.tiles])[mesh.tile_index])

    def spread(self, values: FloatArray) -> FloatArray:
        """Carry means over coarse patches to the fine ones, smoothly within each piece; shape (patches, k)."""
        parts = []
        for rough, smooth in zip(self.coarse.tiles, self.fine.tiles, strict=True):
            along = _means_matrix(rough.s_nodes, smooth.s_nodes)
            across = _means_matrix(rough.t_nodes, smooth.t_nodes)
            grid = values[rough.part].reshape(*rough.shape, -1)
            half = np.tensordot(along, grid, axes=(1, 0))
            parts.append(np.matmul(across, half).reshape(-1, values.shape[1]))
        return np.concatenate(parts)


def _means_matrix(rough: FloatArray, smooth: FloatArray) -> FloatArray:
    """Matrix that carries means over cells to means over finer cells, keeping every sum: a cubic spline of the running integral.

    So a wave is not flattened as it would be by drawing a line through the means.
    """
    return _kept_means_matrix(rough.tobytes(), smooth.tobytes())  # many pieces of a surface are cut alike


@functools.lru_cache(maxsize=64)
def _kept_means_matrix(rough_bytes: bytes, smooth_bytes: bytes) -> FloatArray:
    from scipy.interpolate import make_interp_spline

    rough, smooth = np.frombuffer(rough_bytes), np.frombuffer(smooth_bytes)
    integral = np.vstack([np.zeros(len(rough) - 1), np.cumsum(np.diag(np.diff(rough)), axis=0)])
    spline = make_interp_spline(rough, integral, k=min(3, len(rough) - 1))
    return np.asarray(np.diff(spline(smooth), axis=0) / np.diff(smooth)[:, None])


def transport_of(cavity: Cavity, key: Hashable, fineness: float, pause: Pause = carry_on) -> Transport:
    """Return the transport of a cavity; ``key`` stands for its geometry (reflectances change nothing that is kept)."""
    shared = _KEPT.get((key, round(fineness, 3)), lambda: _geometry(cavity, key, fineness, pause))
    return replace(shared, cavity=cavity)


def transport_near(cavity: Cavity, key: Hashable, fineness: float, pause: Pause = carry_on) -> Transport:
    """Return the transport of a cavity for a hand in motion: what is known of one nearly alike, carried over to this one.

    Its patches lie on this surface and have its areas; what shares of their light they exchange is taken from the other, so that
    a cavity from which none of the distances between its pieces differs by more than ``_NEARLY`` serves for this one too.
    """
    kind = (tuple((type(tile), tile.role) for tile in cavity.tiles), round(fineness, 3))
    spans = _spans_mm(cavity)
    for known in reversed(tuple(_SEEN)):  # a copy: another thread may add to it meanwhile
        if known.kind == kind and np.abs(spans / known.spans_mm - 1.0).max() < _NEARLY:
            carried = _carried(known.transport, cavity)
            if carried is not None:
                return carried
    fresh = transport_of(cavity, key, fineness, pause)
    _SEEN.append(_Known(kind, spans, fresh))
    return fresh


def _spans_mm(cavity: Cavity) -> FloatArray:
    """Distances between the middles of all pieces, and the sizes of these."""
    half = np.full(len(cavity.tiles), 0.5)
    places, _, _ = Pieces(cavity.tiles).at(np.arange(len(half)), half, half)
    row, column = np.triu_indices(len(half), 1)
    apart = np.linalg.norm(places[row] - places[column], axis=1)
    return np.asarray(
        np.maximum(np.concatenate([apart, np.ravel([tile.lengths_mm for tile in cavity.tiles])]), _LEAST_SPAN_MM)
    )


def _carried(known: Transport, cavity: Cavity) -> Transport | None:
    """A transport carried over to a cavity nearly alike; None where its exchange cannot be brought to the new areas."""
    pieces = Pieces(cavity.tiles, cavity.legs)
    coarse, fine = (
        assemble(pieces, [(one.s_nodes, one.t_nodes) for one in mesh.tiles]) for mesh in (known.coarse, known.fine)
    )
    wider = np.sqrt(coarse.areas_mm2 / known.coarse.areas_mm2).astype(np.float32)
    exchange = balanced(unfolded(known.exchange).scaled(wider), coarse.areas_mm2)
    if exchange is None:
        return None
    knots = tuple(replace(knot, tile=tile) for knot, tile in zip(known.knots, cavity.lids, strict=True))
    return Transport(cavity, coarse, fine, exchange, known.gather, knots)


def forget_transports() -> None:
    """Drop what is kept, as a benchmark wants it."""
    _KEPT.clear()
    _MESHES.clear()
    _SEEN.clear()


@dataclass(frozen=True)
class _Known:
    kind: Hashable
    spans_mm: FloatArray
    transport: Transport


_SEEN: deque[_Known] = deque(maxlen=_MOST_SEEN)  # what a hand in motion met last


_KEPT: Kept[Transport] = Kept(
    _MOST_BYTES, lambda transport: transport.exchange.part.nbytes + transport.gather.part.nbytes
)


@dataclass(frozen=True)
class Meshes:
    """The patches of a cavity, by its thickness: few between which light goes back and forth, and many."""

    thick_mm: float
    coarse: Mesh
    fine: Mesh


_MESHES: Kept[Meshes] = Kept(_MESH_BYTES, lambda meshes: (meshes.coarse.count + meshes.fine.count) * _PATCH_BYTES)


def meshes_of(cavity: Cavity, key: Hashable, fineness: float) -> Meshes:
    """Return the patches of a cavity; ``key`` stands for its geometry, as in :func:`transport_of`."""
    return _MESHES.get((key, round(fineness, 3)), lambda: _meshes(cavity, fineness))


def _meshes(cavity: Cavity, fineness: float) -> Meshes:
    pieces = Pieces(cavity.tiles, cavity.legs)
    thick_mm, area = thickness_mm(pieces)

    def wanted(width: float, least: int, most: int) -> int:
        return round(min(max(area / (width * thick_mm) ** 2, least), most) * fineness)

    coarse = mesh_of(pieces, wanted(_COARSE_WIDTH, _LEAST_COARSE, _MOST_COARSE), _COARSE_WIDTH * thick_mm)
    return Meshes(thick_mm, coarse, refined(coarse, wanted(_FINE_WIDTH, _LEAST_FINE, _MOST_FINE)))


def _geometry(cavity: Cavity, key: Hashable, fineness: float, pause: Pause) -> Transport:
    meshes = meshes_of(cavity, key, fineness)
    coarse, fine = meshes.coarse, meshes.fine
    knots = _knots(cavity, meshes.thick_mm, fineness)
    # patches may be those of a cavity of other pieces, alike and in the same order
    surface_of = {id(tile): fine.surface_index[one.first] for tile, one in zip(cavity.tiles, fine.tiles, strict=True)}
    places, facing, index = [], [], []
    for knot in knots:
        s, t = np.meshgrid(knot.s, knot.t, indexing="ij")
        places.append(knot.tile.points(s, t).reshape(-1, 3))
        facing.append(knot.tile.normals(s, t).reshape(-1, 3))
        index.append(np.full(s.size, surface_of[id(knot.tile)]))
    leg = np.full(len(np.concatenate(index)), 0 if cavity.legs is None else cavity.legs.own)
    gather = point_factors(np.concatenate(places), np.concatenate(facing), fine, (np.concatenate(index), leg), pause)
    return Transport(cavity, coarse, fine, exchange_areas(coarse, pause), gather, tuple(knots))


def _knots(cavity: Cavity, thick_mm: float, fineness: float) -> list[Knots]:
    lengths = np.array([tile.lengths_mm for tile in cavity.lids])
    area = float(lengths.prod(axis=1).sum())
    wanted = min(max(area / (_KNOT_WIDTH * thick_mm) ** 2, _LEAST_KNOTS), _MOST_KNOTS) * fineness
    width_mm = math.sqrt(area / wanted)
    knots: list[Knots] = []
    first = 0
    for tile, (along, across) in zip(cavity.lids, lengths, strict=True):
        counts = [int(min(max(round(length / width_mm), 8), 320)) for length in (along, across)]
        knots.append(Knots(tile, chebyshev_points(1.0, counts[0]), chebyshev_points(1.0, counts[1]), first))
        first += counts[0] * counts[1]
    return knots
