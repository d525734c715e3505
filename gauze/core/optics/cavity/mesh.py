"""The inner surface of a cavity cut into patches, fine towards its edges, where the light changes fastest."""

import functools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from gauze.core.layout.families.tiles import Tile
from gauze.core.layout.model import BoolArray, FloatArray, IndexArray
from gauze.core.optics.box_mesh import GRADING, graded_nodes
from gauze.core.optics.kernel.pairs import HoldsArrays, PatchArrays, patch_arrays
from gauze.core.optics.kernel.pieces import Pieces

_LEAST_CELLS = 4  # along each side of a piece that is looked at or large
_GAUSS = 0.5 * (1.0 + np.array([-math.sqrt(0.6), 0.0, math.sqrt(0.6)]))
_GAUSS_ST = np.column_stack([np.repeat(_GAUSS, 3), np.tile(_GAUSS, 3)])
_GAUSS_WEIGHTS = np.array([5.0, 8.0, 5.0]) / 18.0
_GAUSS_BOTH = np.outer(_GAUSS_WEIGHTS, _GAUSS_WEIGHTS).ravel()
_ROUGH = 2  # parts along each side of a piece that tell how thick a cavity is


@dataclass(frozen=True)
class TileMesh:
    """One piece's share of the patches: its nodes along s and t, and where its patches start among all."""

    tile: Tile
    s_nodes: FloatArray
    t_nodes: FloatArray
    first: int

    @property
    def shape(self) -> tuple[int, int]:
        """Number of patches along s and t."""
        return len(self.s_nodes) - 1, len(self.t_nodes) - 1

    @property
    def part(self) -> slice:
        """Where its patches lie among all."""
        return slice(self.first, self.first + math.prod(self.shape))


@dataclass(frozen=True)
class Mesh(HoldsArrays):
    """All patches.

    Corners (n, 4, 3), centres (n, 3), normals (n, 3), areas (n,), widths (n,); for each patch the piece and the smooth
    surface that it is of, whether that is round, and where it lies on its piece: the least s and t, and how far it reaches
    along both, shape (n, 2). ``pieces`` are the tiles, to be asked together.
    """

    tiles: tuple[TileMesh, ...]
    pieces: Pieces
    corners: FloatArray
    centres: FloatArray
    normals: FloatArray
    areas_mm2: FloatArray
    widths_mm: FloatArray
    tile_index: IndexArray
    surface_index: IndexArray
    curved: BoolArray
    low_st: FloatArray
    size_st: FloatArray

    def places(
        self, patches: IndexArray, share_s: FloatArray, share_t: FloatArray
    ) -> tuple[FloatArray, FloatArray, FloatArray]:
        """Points, normals, and area per unit of a patch's own s and t, of patches (n,) at shares of those.

        The shares have shape (n,) or (n, k); points and normals have a last axis of 3.
        """
        low, size, which = self.low_st[patches], self.size_st[patches], self.tile_index[patches]
        whole = size.prod(axis=1)
        if share_s.ndim > 1:
            low, size, which, whole = low[:, :, None], size[:, :, None], which[:, None], whole[:, None]
        s, t = low[:, 0] + size[:, 0] * share_s, low[:, 1] + size[:, 1] * share_t
        points, normals, density = self.pieces.at(np.broadcast_to(which, s.shape), s, t)
        return points, normals, density * whole

    @functools.cached_property
    def arrays(self) -> PatchArrays:
        """The same for the kernel."""
        return patch_arrays(self)

    @property
    def leg(self) -> IndexArray:
        """In which leg of the cavity each lies, 0 if it has only one."""
        legs = self.pieces.legs
        return np.zeros(self.count, int) if legs is None else legs.of_tiles[self.tile_index]

    @property
    def count(self) -> int:
        """Number of patches."""
        return len(self.areas_mm2)


_LEAST_GRADING = 0.15
_OVER_BUDGET = 1.1  # patches may be as many as this times what is asked for, so that all that are alike are divided
_ALIKE = 1e-9  # of a width: patches that differ by no more are equally wide


def mesh_of(pieces: Pieces, budget: int, widest_mm: float) -> Mesh:
    """Cut every piece into patches, about ``budget`` in all, of much the same width.

    Patches narrow towards the edges of their piece, while those in its middle stay within ``widest_mm``.
    """
    nodes = []
    lengths = np.array([tile.lengths_mm for tile in pieces.tiles])
    for sides, counts in zip(lengths / widest_mm, _counts(pieces.tiles, lengths, budget), strict=True):
        nodes.append((_nodes(int(counts[0]), float(sides[0])), _nodes(int(counts[1]), float(sides[1]))))
    return assemble(pieces, nodes)


@functools.lru_cache(maxsize=64)  # many pieces of a surface are cut alike
def _nodes(cells: int, least_cells: float) -> FloatArray:
    nodes = graded_nodes(1.0, cells, min(max(cells / max(least_cells, 1e-9) - 1.0, _LEAST_GRADING), GRADING))
    nodes.flags.writeable = False
    return nodes


def thickness_mm(pieces: Pieces) -> tuple[float, float]:
    """Twice the volume over the surface, which is the depth of a flat box, and the surface in mm^2.

    The volume is that of cones from one place to all of the surface.

    Both by Gauss's rule on a few parts of every piece.
    """
    which, share = np.arange(len(pieces.tiles)), (np.arange(_ROUGH)[:, None] + _GAUSS).ravel() / _ROUGH
    s, t = (grid.ravel() for grid in np.meshgrid(share, share))
    shape = (len(which), len(s))
    places, normals, density = pieces.at(
        np.broadcast_to(which[:, None], shape), np.broadcast_to(s, shape), np.broadcast_to(t, shape)
    )
    one = np.tile(_GAUSS_WEIGHTS, _ROUGH) / _ROUGH
    area = density * np.outer(one, one).ravel()
    volume = -(area * ((places - places.mean(axis=(0, 1))) * normals).sum(axis=2)).sum() / 3.0
    return float(2.0 * volume / area.sum()), float(area.sum())


def refined(mesh: Mesh, budget: int) -> Mesh:
    """Divide every patch alike within each piece, wide ones first, to about ``budget`` patches.

    Pieces that are alike are divided alike: what is symmetric stays so.
    """
    widest = np.array([[np.diff(nodes).max() * length for nodes, length in _axes(one)] for one in mesh.tiles])
    counts = np.array([math.prod(one.shape) for one in mesh.tiles])
    parts = np.ones((len(mesh.tiles), 2), int)
    fits = np.ones(parts.shape, bool)
    while fits.any():
        width = np.where(fits, widest / parts, 0.0)
        chosen = width >= width.max() * (1.0 - _ALIKE)
        if (counts * (parts + chosen).prod(axis=1)).sum() > _OVER_BUDGET * budget:
            fits &= ~chosen
        else:
            parts += chosen
    nodes = [
        (_divided(one.s_nodes.tobytes(), int(part[0])), _divided(one.t_nodes.tobytes(), int(part[1])))
        for one, part in zip(mesh.tiles, parts, strict=True)
    ]
    return assemble(mesh.pieces, nodes)


def _axes(one: TileMesh) -> tuple[tuple[FloatArray, float], tuple[FloatArray, float]]:
    along, across = one.tile.lengths_mm
    return (one.s_nodes, along), (one.t_nodes, across)


@functools.lru_cache(maxsize=64)
def _divided(nodes_bytes: bytes, parts: int) -> FloatArray:
    nodes, steps = np.frombuffer(nodes_bytes), np.arange(parts) / parts
    divided = np.append((nodes[:-1, None] + np.diff(nodes)[:, None] * steps).ravel(), nodes[-1])
    divided.flags.writeable = False
    return divided


def _counts(tiles: Sequence[Tile], lengths: FloatArray, budget: int) -> FloatArray:
    """Numbers of patches along s and t of every piece, shape (n, 2); ``lengths`` are those of the pieces."""
    least = np.array([[_least_cells(tile)] * 2 for tile in tiles])

    def counts(width_mm: float) -> FloatArray:
        return np.asarray(np.maximum(np.round(lengths / width_mm), least))

    narrow, wide = 1e-3 * lengths.max(), float(lengths.max())
    for _ in range(40):
        middle = math.sqrt(narrow * wide)
        if counts(middle).prod(axis=1).sum() > budget:
            narrow = middle
        else:
            wide = middle
    return counts(wide)


def _least_cells(tile: Tile) -> int:
    return 2 if tile.name == "end" else _LEAST_CELLS


def assemble(pieces: Pieces, nodes: Sequence[tuple[FloatArray, FloatArray]]) -> Mesh:
    """Build the patches between the given nodes of every piece."""
    meshes: list[TileMesh] = []
    lows, sizes = [], []
    first = 0
    for tile, (s_nodes, t_nodes) in zip(pieces.tiles, nodes, strict=True):
        one = TileMesh(tile, s_nodes, t_nodes, first)
        meshes.append(one)
        first += math.prod(one.shape)
        low, size = _cells(s_nodes.tobytes(), t_nodes.tobytes())
        lows.append(low)
        sizes.append(size)
    counts = [math.prod(one.shape) for one in meshes]
    which = np.repeat(np.arange(len(meshes)), counts)
    low, size = np.concatenate(lows), np.concatenate(sizes)
    return Mesh(
        tuple(meshes),
        pieces,
        *pieces.patches(which, low, size, (_GAUSS_ST, _GAUSS_BOTH)),
        which,
        np.repeat(pieces.surfaces, counts),
        np.repeat([not tile.is_flat for tile in pieces.tiles], counts),
        low,
        size,
    )


@functools.lru_cache(maxsize=256)
def _cells(s_bytes: bytes, t_bytes: bytes) -> tuple[FloatArray, FloatArray]:
    """Low (s, t) and size of the cells between nodes, shape (cells, 2): many pieces of a surface are cut alike."""
    s, t = np.frombuffer(s_bytes), np.frombuffer(t_bytes)
    low, size = (np.meshgrid(*one, indexing="ij") for one in ((s[:-1], t[:-1]), (np.diff(s), np.diff(t))))
    return np.stack([grid.ravel() for grid in low], axis=1), np.stack([grid.ravel() for grid in size], axis=1)
