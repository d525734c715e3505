"""One cell of a baffled box in patches, and how its patches light those of the cells around it, past the partitions.

All cells are alike, so the exchange of any two depends on how many columns and rows apart they are. Where a gap is closed by the
wall of the body there are patches too ("closings"); they count in the cells at the rim only.
"""

from __future__ import annotations

import functools
import itertools
import math
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass, field, fields, replace
from typing import TypeVar

import numpy as np

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.families.tiles import FlatTile, Role
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.box_mesh import GRADING, chebyshev_points, graded_nodes
from gauze.core.optics.cavity.cell_sums import Block, CellSums, Offset
from gauze.core.optics.cavity.factors import Matrix
from gauze.core.optics.cavity.kept import Kept
from gauze.core.optics.cavity.mesh import Mesh, assemble
from gauze.core.optics.cavity.symmetry import Folded, symmetries
from gauze.core.optics.kernel.cells import Looks, cell_factors, partitions_of
from gauze.core.optics.kernel.parallel import in_threads
from gauze.core.optics.kernel.pieces import Pieces

_NEAR = 3.5  # patch widths within which a patch is a polygon
_GRAZING_MM = 1e-3
_MOST_BYTES = 60_000_000  # of exchanges kept besides the present one
_MOST_ARRIVED = 16  # direct lights of one emitter that are kept with an exchange
_CLOSELY, _FAR_CLOSELY = 4, 3  # places along each side of a patch that is seen in part
_FEW_CELLS, _USUAL_REACH = 36, 2
AnyBlock = TypeVar("AnyBlock")
Swaps = tuple[IndexArray, IndexArray, IndexArray | None]  # images left to right, low to high, x and y exchanged

# cells along the back, the lid, a side across and up, a closing up, by how many cells there are
_DETAIL = ((36, (12, 10, 12, 14, 4)), (400, (5, 6, 5, 4, 1)), (math.inf, (4, 5, 4, 3, 1)))
_COARSEST, IN_MOTION = (3, 4, 3, 2, 1), 0.3  # the same while a hand drags, and what fineness tells of that
_KNOTS = ((36, 18), (400, 10), (math.inf, 8))


@dataclass(frozen=True)
class CellMesh:
    """Patches of one cell; ``side`` is the rim that a closing closes (0 left, 1 right, 2 low, 3 high), else -1."""

    mesh: Mesh
    side: FloatArray

    @property
    def roles(self) -> list[Role]:
        """Role of every patch."""
        return [self.mesh.tiles[int(index)].tile.role for index in self.mesh.tile_index]


@dataclass(frozen=True)
class CellExchange:
    """Exchange areas from a cell to one at an offset of columns and rows, and the factors from the knots on its lid.

    Partitions hide most of another cell: of few cells, where reading the blocks is what takes the time, these are packed.
    ``images`` are each patch's mirror images, left to right and low to high.
    """

    cell: CellMesh
    reach: int
    areas: dict[Offset, Block]
    gather: dict[Offset, Block]
    knots: FloatArray  # along either side, 0 to 1
    images: tuple[IndexArray, IndexArray]
    _arrived: dict[Hashable, FloatArray] = field(default_factory=dict, compare=False)

    def __getstate__(self) -> dict[str, object]:
        """Leave to another process what its lights are asked there: not what they were computed from."""
        return {
            **{one.name: getattr(self, one.name) for one in fields(self)},
            "areas": {},
            "gather": {},
            "_arrived": {},
        }

    def arrived(self, key: Hashable, make: Callable[[], FloatArray]) -> FloatArray:
        """Direct light of one emitter in the cells around it, kept: it is the same in every grid of such cells."""
        if key not in self._arrived:
            if len(self._arrived) >= _MOST_ARRIVED:
                self._arrived.clear()
            self._arrived[key] = make()
        return self._arrived[key]

    @functools.cached_property
    def sums(self) -> CellSums:
        """What the patches of each cell get from those of the cells around it."""
        return CellSums(self.areas)

    @functools.cached_property
    def knot_sums(self) -> CellSums:
        """The same of its knots."""
        return CellSums(self.gather)

    @property
    def knot_images(self) -> tuple[IndexArray, IndexArray]:
        """Mirror images of the knots: s runs along x, t along y."""
        number = np.arange(len(self.knots) ** 2).reshape(len(self.knots), -1)
        return number[::-1].ravel(), number[:, ::-1].ravel()


def reach_of(box: BaffledBox) -> int:
    """How many cells away light may get at once; that which is left out is scaled back in."""
    if box.low_mm <= 0.0 and box.high_mm >= box.depth_mm:
        return 0
    share = (box.high_mm - box.low_mm) / box.depth_mm
    return int(min(max(_USUAL_REACH, math.ceil(0.5 / max(share, 0.05) + 0.5)), 4))


def exchange_of(box: BaffledBox, fineness: float, pause: Pause = carry_on) -> CellExchange:
    """Return the exchange of a box's cells; it is kept, since it depends on the geometry of one cell alone."""
    cells = box.columns * box.rows
    detail = next(counts for most, counts in _DETAIL if cells <= most)
    if (
        reach_of(box) > _USUAL_REACH
    ):  # low partitions: the light gets far, and the many pairs of cells make up for the detail
        detail = min(detail, _DETAIL[1][1])
    reach = reach_of(box)
    if cells <= _FEW_CELLS and reach == _USUAL_REACH:  # what a narrow gap lets through goes on to the far rim
        reach += 1
    if fineness < 1.0:
        detail, reach = _DETAIL[-1][1] if fineness > IN_MOTION else _COARSEST, (reach + 1) // 2
    knots = next(count for most, count in _KNOTS if cells <= most)
    alone = replace(box, columns=1, rows=1, reflectances=replace(box.reflectances, back=0.0, wall=0.0, lid=0.0))
    packed = cells <= _FEW_CELLS
    reaches = reach, min(reach, box.columns - 1), min(reach, box.rows - 1)
    return _KEPT.get(
        (alone, reaches, detail, knots, packed), lambda: _exchange(alone, reaches, detail, knots, pause, packed=packed)
    )


def forget_exchanges() -> None:
    """Drop what is kept, as a benchmark wants it."""
    _KEPT.clear()


def _bytes(exchange: CellExchange) -> int:
    """Of its blocks, which stand in its sums once more."""
    blocks = [*exchange.areas.values(), *exchange.gather.values()]
    return 2 * sum(one.nbytes if isinstance(one, np.ndarray) else one.data.nbytes for one in blocks)


_KEPT: Kept[CellExchange] = Kept(_MOST_BYTES, _bytes)


def _exchange(
    box: BaffledBox,
    reaches: tuple[int, int, int],
    detail: tuple[int, ...],
    knot_count: int,
    pause: Pause,
    *,
    packed: bool,
) -> CellExchange:
    """The exchange of such cells; ``reaches`` are how far light gets at once, and how far there are cells along x and along y."""
    reach, *met = reaches
    cell = _cell_mesh(box, detail)
    swaps = _mirrors(cell.mesh, box)
    areas: dict[Offset, Block] = {}
    looks = _looks(cell.mesh)
    diagonal = _diagonal(cell.mesh, box)

    def of(offset: Offset) -> Block:
        one = _exchange_areas(box, cell.mesh, looks, offset, _own_mirrors(offset, (*swaps, diagonal)), pause)
        return _packed(one) if packed and offset != (0, 0) else one

    found = _over_offsets(met, of, None if diagonal is None else lambda one: one[diagonal][:, diagonal])
    for (dx, dy), one in found.items():
        for across, up in itertools.product((False, True), repeat=2):
            order: IndexArray = np.arange(cell.mesh.count)
            order = swaps[0][order] if across else order
            order = swaps[1][order] if up else order
            areas[(-dx if across else dx, -dy if up else dy)] = one[order][:, order]
    symmetric = {(dx, dy): (areas[dx, dy] + areas[-dx, -dy].T) / 2.0 for dx, dy in areas}
    knots = chebyshev_points(1.0, knot_count)
    gather: dict[Offset, Block] = {}
    for offset, matrix in _gather(box, cell.mesh, (*swaps, diagonal), knots, met).items():
        gather[offset] = _packed(matrix) if packed and offset != (0, 0) else matrix
    return CellExchange(cell, reach, symmetric, gather, knots, (swaps[0], swaps[1]))


def _packed(block: Matrix) -> Block:
    from scipy import sparse

    return sparse.csr_array(block)


def _over_offsets(
    met: Sequence[int], of: Callable[[Offset], AnyBlock], swapped: Callable[[AnyBlock], AnyBlock] | None
) -> dict[Offset, AnyBlock]:
    """What there is between a cell and each to its right and above; of square cells half of it is the other half's image."""
    along, up = met
    offsets = list(itertools.product(range(along + 1), range(up + 1)))
    wanted = offsets if swapped is None else list(dict.fromkeys((max(one), min(one)) for one in offsets))
    found = dict(zip(wanted, in_threads(of, wanted), strict=True))
    if swapped is not None:
        found |= {(dx, dy): swapped(found[dy, dx]) for dx, dy in offsets if dx < dy}
    return {offset: found[offset] for offset in offsets}


# -- patches -------------------------------------------------------------------------------------------------------------


def _cell_mesh(box: BaffledBox, detail: tuple[int, ...]) -> CellMesh:
    on_back, on_lid, along, up, closing = detail
    half = box.partition_mm / 2
    outer = _ring(0.0, box)
    inner = _ring(half, box)
    tiles: list[FlatTile] = []
    nodes: list[tuple[FloatArray, FloatArray]] = []
    sides: list[int] = []

    def add(name: str, role: Role, corners: FloatArray, cells: tuple[int, int], side: int = -1) -> None:
        tiles.append(FlatTile(name, role, corners))
        graded = [graded_nodes(1.0, count, GRADING if count > 2 else 0.0) for count in cells]
        nodes.append((graded[0], graded[1]))
        sides.extend([side] * (cells[0] * cells[1]))

    add("back", "back", _level(outer if box.low_mm > 0 else inner, 0.0), (on_back, on_back))
    add("lid", "lid", _level(outer if box.high_mm < box.depth_mm else inner, box.depth_mm)[::-1], (on_lid, on_lid))
    for index in range(4):
        following = (index + 1) % 4
        add(f"side {index}", "wall", _upright(inner, index, box.low_mm, box.high_mm), (along, up))
        strip = np.array([outer[index], outer[following], inner[following], inner[index]])
        if box.high_mm < box.depth_mm:
            add(f"top {index}", "wall", _level(strip, box.high_mm), (along, 1))
            add(
                f"over {index}",
                "wall",
                _upright(outer, index, box.high_mm, box.depth_mm),
                (along, closing),
                _RIMS[index],
            )
        if box.low_mm > 0:
            add(f"bottom {index}", "wall", _level(strip, box.low_mm)[::-1], (along, 1))
            add(f"under {index}", "wall", _upright(outer, index, 0.0, box.low_mm), (along, closing), _RIMS[index])
    return CellMesh(assemble(Pieces(tiles), nodes), np.array(sides))


_RIMS = (2, 1, 3, 0)  # the rim at which each side of the ring lies, in its order: low, right, high, left


def _ring(inset: float, box: BaffledBox) -> FloatArray:
    x, y = box.pitch_x_mm, box.pitch_y_mm
    return np.array([[inset, inset], [x - inset, inset], [x - inset, y - inset], [inset, y - inset]])


def _level(corners: FloatArray, z_mm: float) -> FloatArray:
    return np.column_stack([corners, np.full(4, z_mm)])


def _upright(ring: FloatArray, index: int, low_mm: float, high_mm: float) -> FloatArray:
    a, b = ring[index], ring[(index + 1) % 4]
    return np.array([[*b, low_mm], [*a, low_mm], [*a, high_mm], [*b, high_mm]])


def _mirrors(mesh: Mesh, box: BaffledBox) -> tuple[IndexArray, IndexArray]:
    """For each patch its mirror image, left to right and low to high."""
    found = []
    for axis, pitch in ((0, box.pitch_x_mm), (1, box.pitch_y_mm)):
        places, facing = mesh.centres.copy(), mesh.normals.copy()
        places[:, axis] = pitch - places[:, axis]
        facing[:, axis] *= -1.0
        here, there = (np.round(np.hstack(pair), 5) + 0.0 for pair in ((mesh.centres, mesh.normals), (places, facing)))
        order_here, order_there = np.lexsort(here.T), np.lexsort(there.T)
        image = np.empty(mesh.count, int)
        image[order_there] = order_here
        found.append(image)
    return found[0], found[1]


def _diagonal(mesh: Mesh, box: BaffledBox) -> IndexArray | None:
    """For each patch its image with x and y exchanged; None where the cell is no square, or is not cut alike both ways."""
    if box.pitch_x_mm != box.pitch_y_mm:
        return None
    exchanged = [1, 0, 2]
    here = np.round(np.hstack([mesh.centres, mesh.normals]), 5) + 0.0
    there = np.round(np.hstack([mesh.centres[:, exchanged], mesh.normals[:, exchanged]]), 5) + 0.0
    order_here, order_there = np.lexsort(here.T), np.lexsort(there.T)
    if not np.allclose(here[order_here], there[order_there], atol=1e-4):
        return None
    image = np.empty(mesh.count, int)
    image[order_there] = order_here
    return image


# -- exchange ------------------------------------------------------------------------------------------------------------


def _looks(mesh: Mesh) -> Looks:
    """The quarters of every patch, and how closely they are looked at."""
    size = (mesh.count, 4)
    along, across = (np.broadcast_to(one, size) for one in ([0.25, 0.25, 0.75, 0.75], [0.25, 0.75, 0.25, 0.75]))
    quarters, _, density = mesh.places(np.arange(mesh.count), along, across)
    return Looks(quarters, density / density.sum(axis=1, keepdims=True), _CLOSELY, _NEAR, _GRAZING_MM)


def _own_mirrors(offset: Offset, swaps: Swaps) -> list[tuple[IndexArray, ...]]:
    """The mirrors of a cell that leave an offset as it is: what is seen from one side of them is seen from the other."""
    (dx, dy), (across, up, diagonal) = offset, swaps
    found: list[tuple[IndexArray, ...]] = [(image,) for image, stays in ((across, dx == 0), (up, dy == 0)) if stays]
    if diagonal is not None and dx == dy:
        found.append((diagonal,))
    return found


def _exchange_areas(
    box: BaffledBox,
    mesh: Mesh,
    looks: Looks,
    offset: Offset,
    mirrors: Sequence[tuple[IndexArray, ...]],
    pause: Pause,
) -> Matrix:
    (symmetry,) = symmetries(mirrors, (mesh.count,))
    first = symmetry.first
    part = np.zeros((len(first), mesh.count), np.float32)
    for index in range(4):
        pause()
        factors = _factors(
            box, looks.quarters[first, index], mesh.normals[first], mesh, looks, offset, (index, 3 - index)
        )
        part += (looks.shares[first, index] * mesh.areas_mm2[first])[:, None].astype(np.float32) * factors
    return Folded(part, symmetry, symmetry, mesh.count).whole()


def _factors(
    box: BaffledBox,
    points: FloatArray,
    normals: FloatArray,
    mesh: Mesh,
    looks: Looks,
    offset: Offset,
    looked_at: tuple[int, ...],
) -> Matrix:
    """Factors from points of one cell to the patches of another, past the partitions; ``looked_at`` are the quarters sought."""
    shift = (offset[0] * box.pitch_x_mm, offset[1] * box.pitch_y_mm, 0.0)
    if max(offset) > _USUAL_REACH:
        looks = replace(looks, closely=_FAR_CLOSELY)
    return cell_factors(points, normals, mesh.arrays, looks, looked_at, shift, partitions_of(box))


def _gather(
    box: BaffledBox,
    mesh: Mesh,
    swaps: Swaps,
    knots: FloatArray,
    met: Sequence[int],
) -> dict[Offset, Matrix]:
    """Factors from the knots of a lid to the patches of every cell around; s runs along x, t down along y."""
    lid = next(one.tile for one in mesh.tiles if one.tile.role == "lid")
    s, t = np.meshgrid(knots, knots, indexing="ij")
    points, normals = lid.points(s, t).reshape(-1, 3), lid.normals(s, t).reshape(-1, 3)
    count = len(knots)
    found: dict[Offset, Matrix] = {}
    looks = _looks(mesh)
    diagonal = swaps[2]

    def of(offset: Offset) -> Matrix:
        return _factors(box, points, normals, mesh, looks, offset, (0, 1, 2, 3)).reshape(count, count, -1)

    def swapped(one: Matrix) -> Matrix:  # t runs against y: with x and y exchanged, s becomes 1 - t and t becomes 1 - s
        return np.asarray(one.transpose(1, 0, 2)[::-1, ::-1][:, :, diagonal])

    for (dx, dy), one in _over_offsets(met, of, None if diagonal is None else swapped).items():
        for across, up in itertools.product((False, True), repeat=2):
            turned = one[::-1][:, :, swaps[0]] if across else one
            turned = turned[:, ::-1][:, :, swaps[1]] if up else turned
            found[-dx if across else dx, -dy if up else dy] = np.ascontiguousarray(turned.reshape(count * count, -1))
    return found
