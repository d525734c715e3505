"""How the patches of one cell of a baffled box light those of the cells around it, past the partitions.

All cells have patches of one mesh, so the exchange of any two depends on how many columns and rows apart they are; which of the
patches a cell has depends on the rims at which it lies.
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
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.cavity.cell_knots import LidKnots
from gauze.core.optics.cavity.cell_mesh import CellMesh, Detail, cell_mesh, diagonal_images, mirror_images, spans_of
from gauze.core.optics.cavity.cell_sums import Block, CellSums, Offset
from gauze.core.optics.cavity.factors import Matrix
from gauze.core.optics.cavity.kept import Kept
from gauze.core.optics.cavity.symmetry import Folded, symmetries
from gauze.core.optics.kernel.cells import Looks, cell_factors, partitions_of
from gauze.core.optics.kernel.parallel import in_threads

_NEAR = 3.5  # patch widths within which a patch is a polygon
_GRAZING_MM = 1e-3
_MOST_BYTES = 60_000_000  # of exchanges kept besides the present one
_MOST_ARRIVED_BYTES = 20_000_000  # of direct lights of one emitter that are kept with an exchange
_CLOSELY, _FAR_CLOSELY = 4, 3  # places along each side of a patch that is seen in part
_FEW_CELLS, _USUAL_REACH = 36, 2
AnyBlock = TypeVar("AnyBlock")
Swaps = tuple[IndexArray, IndexArray, IndexArray | None]  # images left to right, low to high, x and y exchanged

# cells along the back, the lid, a side across and up, a closing up, by how many cells there are
_DETAIL = ((36, (12, 10, 12, 14, 4)), (400, (5, 6, 5, 4, 1)), (math.inf, (4, 5, 4, 3, 1)))
_COARSEST, IN_MOTION = (3, 4, 3, 2, 1), 0.3  # the same while a hand drags, and the fineness that means so
_KNOTS = ((36, 18), (400, 10), (math.inf, 8))


def _nbytes(values: FloatArray) -> int:
    return int(values.nbytes)


def nothing_arrived() -> Kept[FloatArray]:
    """Return room for the direct light of single emitters in the cells around them."""
    return Kept(_MOST_ARRIVED_BYTES, _nbytes)


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
    knots: LidKnots
    images: tuple[IndexArray, IndexArray]
    _arrived: Kept[FloatArray] = field(default_factory=nothing_arrived, compare=False)

    def __getstate__(self) -> dict[str, object]:
        """Leave to another process what its lights are asked there: not what they were computed from."""
        return {
            **{one.name: getattr(self, one.name) for one in fields(self)},
            "areas": {},
            "gather": {},
        }

    def arrived(self, key: Hashable, make: Callable[[], FloatArray]) -> FloatArray:
        """Direct light of one emitter in the cells around it, kept: it is the same in every grid of such cells."""
        return self._arrived.get(key, make)

    @functools.cached_property
    def sums(self) -> CellSums:
        """What the patches of each cell get from those of the cells around it."""
        height_mm = self.cell.mesh.centres[:, 2]
        upper = height_mm > float(height_mm.max()) / 2
        return CellSums(self.areas, [np.flatnonzero(upper), np.flatnonzero(~upper)])

    @functools.cached_property
    def knot_sums(self) -> CellSums:
        """The same of its knots."""
        return CellSums(self.gather)


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
    detail: Detail,
    knot_count: int,
    pause: Pause,
    *,
    packed: bool,
) -> CellExchange:
    """The exchange of such cells; ``reaches`` are how far light gets at once, and how far there are cells along x and along y."""
    reach, *met = reaches
    cell = cell_mesh(box, detail)
    placed = cell.mesh.centres, cell.mesh.normals, cell.opened
    swaps, diagonal = mirror_images(box, *placed), diagonal_images(box, *placed)
    areas: dict[Offset, Block] = {}
    looks = _looks(box, cell)

    def of(offset: Offset) -> Block:
        one = _exchange_areas(box, cell, looks, offset, _own_mirrors(offset, (*swaps, diagonal)), pause)
        return _packed(one) if packed and offset != (0, 0) else one

    found = _over_offsets(met, of, None if diagonal is None else lambda one: one[diagonal][:, diagonal])
    for (dx, dy), one in found.items():
        for across, up in itertools.product((False, True), repeat=2):
            order: IndexArray = np.arange(cell.mesh.count)
            order = swaps[0][order] if across else order
            order = swaps[1][order] if up else order
            areas[(-dx if across else dx, -dy if up else dy)] = one[order][:, order]
    symmetric = {(dx, dy): (areas[dx, dy] + areas[-dx, -dy].T) / 2.0 for dx, dy in areas}
    knots = LidKnots.of(box, knot_count)
    gather: dict[Offset, Block] = {}
    for offset, matrix in _gather(box, cell, (*swaps, diagonal), looks, knots, met).items():
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


# -- exchange ------------------------------------------------------------------------------------------------------------


def _looks(box: BaffledBox, cell: CellMesh) -> Looks:
    """The quarters of every patch, how closely they are looked at, and past which partitions."""
    mesh = cell.mesh
    size = (mesh.count, 4)
    along, across = (np.broadcast_to(one, size) for one in ([0.25, 0.25, 0.75, 0.75], [0.25, 0.75, 0.25, 0.75]))
    quarters, _, density = mesh.places(np.arange(mesh.count), along, across)
    shares = density / density.sum(axis=1, keepdims=True)
    return Looks(quarters, shares, _CLOSELY, _NEAR, _GRAZING_MM, spans_of(box, cell.opened))


def _own_mirrors(offset: Offset, swaps: Swaps) -> list[tuple[IndexArray, ...]]:
    """The mirrors of a cell that leave an offset as it is: what is seen from one side of them is seen from the other."""
    (dx, dy), (across, up, diagonal) = offset, swaps
    found: list[tuple[IndexArray, ...]] = [(image,) for image, stays in ((across, dx == 0), (up, dy == 0)) if stays]
    if diagonal is not None and dx == dy:
        found.append((diagonal,))
    return found


def _exchange_areas(
    box: BaffledBox,
    cell: CellMesh,
    looks: Looks,
    offset: Offset,
    mirrors: Sequence[tuple[IndexArray, ...]],
    pause: Pause,
) -> Matrix:
    mesh = cell.mesh
    (symmetry,) = symmetries(mirrors, (mesh.count,))
    first = symmetry.first
    spans = None if looks.spans is None else looks.spans[first]
    part = np.zeros((len(first), mesh.count), np.float32)
    for index in range(4):
        pause()
        points = looks.quarters[first, index], mesh.normals[first], spans
        factors = _factors(box, points, cell, looks, offset, (index, 3 - index))
        part += (looks.shares[first, index] * mesh.areas_mm2[first])[:, None].astype(np.float32) * factors
    return Folded(part, symmetry, symmetry, mesh.count).whole()


def _factors(
    box: BaffledBox,
    points: tuple[FloatArray, FloatArray, FloatArray | None],
    cell: CellMesh,
    looks: Looks,
    offset: Offset,
    looked_at: tuple[int, ...],
) -> Matrix:
    """Factors from points of one cell to the patches of another, past the partitions; ``looked_at`` are the quarters sought.

    ``points`` are places, normals, and between which lines partitions stand for each.
    """
    shift = (offset[0] * box.pitch_x_mm, offset[1] * box.pitch_y_mm, 0.0)
    if max(offset) > _USUAL_REACH:
        looks = replace(looks, closely=_FAR_CLOSELY)
    return cell_factors(*points, cell.mesh.arrays, looks, looked_at, shift, partitions_of(box))


def _gather(
    box: BaffledBox, cell: CellMesh, swaps: Swaps, looks: Looks, knots: LidKnots, met: Sequence[int]
) -> dict[Offset, Matrix]:
    """Factors from the knots of a lid to the patches of every cell around."""
    across, up, diagonal = swaps
    down = np.tile([0.0, 0.0, -1.0], (len(knots.places), 1))
    points = knots.places, down, spans_of(box, knots.variants.opened)

    def of(offset: Offset) -> Matrix:
        return _factors(box, points, cell, looks, offset, (0, 1, 2, 3))

    def swapped(one: Matrix) -> Matrix:
        return one[knots.diagonal][:, diagonal]

    found: dict[Offset, Matrix] = {}
    for (dx, dy), one in _over_offsets(met, of, None if diagonal is None else swapped).items():
        for left, low in itertools.product((False, True), repeat=2):
            turned = one[knots.images[0]][:, across] if left else one
            turned = turned[knots.images[1]][:, up] if low else turned
            found[-dx if left else dx, -dy if low else dy] = np.ascontiguousarray(turned)
    return found
