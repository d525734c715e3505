"""One cell of a baffled box in patches: back and lid, the partitions around it, and where its gaps are closed by the wall.

Cells are alike except at the rims of the box. One mesh has the patches of all of them, and the rims at which a cell
lies tell which of these it has. Where no partition runs along a rim ("open"), the cells there reach to the wall: back, lid and
the partitions that end at it go on as far, and no partition on that line is in the way of what is seen from there.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.families.tiles import FlatTile, Role
from gauze.core.layout.model import BoolArray, FloatArray, IndexArray
from gauze.core.optics.box_mesh import GRADING, graded_nodes
from gauze.core.optics.cavity.mesh import Mesh, assemble
from gauze.core.optics.kernel.pieces import Pieces

LEFT, RIGHT, LOW, HIGH = 1, 2, 4, 8  # the rims at which a cell lies are a sum of these
RIMS = 16
Detail = tuple[int, ...]  # patches along the back, the lid, a side across and up, a closing up
EVERYWHERE = np.array([-1e9, -1e9, 1e9, 1e9])  # the lines in mm between which partitions stand: all
_WEIGHTS = np.sqrt([2.0, 3.0, 5.0, 7.0, 11.0, 13.0, 17.0, 19.0, 23.0, 29.0])  # of place, normal, and the four rims
_SAME_MM = 1e-6  # by which the places of images may differ: rounding


@dataclass(frozen=True)
class CellMesh:
    """Patches of one cell.

    ``there`` (patches, 16) says which a cell has by the rims at which it lies; ``opened`` (patches,) at which of these no
    partition stands for it.
    """

    mesh: Mesh
    there: BoolArray
    opened: IndexArray

    @property
    def roles(self) -> list[Role]:
        """Role of every patch."""
        return [self.mesh.tiles[int(index)].tile.role for index in self.mesh.tile_index]


def rims_of(columns: int, rows: int) -> IndexArray:
    """At which rims each cell lies, (columns, rows)."""
    along, up = np.zeros(columns, int), np.zeros(rows, int)
    along[0] += LEFT
    along[-1] += RIGHT
    up[0] += LOW
    up[-1] += HIGH
    return np.asarray(along[:, None] + up[None, :])


def parts_of(rims: int) -> Iterator[int]:
    """All that some of several rims may be, none and all of them included."""
    return (some for some in range(rims + 1) if some & rims == some)


def spans_of(box: BaffledBox, opened: IndexArray) -> FloatArray | None:
    """Between which lines of a cell partitions stand, (n, 4) as for the kernel; None where on all of them."""
    if not opened.any():
        return None
    spans = np.tile(EVERYWHERE, (len(opened), 1))
    for place, (rim, line) in enumerate(((LEFT, 0.0), (LOW, 0.0), (RIGHT, box.pitch_x_mm), (HIGH, box.pitch_y_mm))):
        spans[opened & rim > 0, place] = line
    return spans


class _Pieces:
    """The pieces of a cell as they are found."""

    def __init__(self) -> None:
        self.tiles: list[FlatTile] = []
        self.nodes: list[tuple[FloatArray, FloatArray]] = []
        self.there: list[BoolArray] = []
        self.opened: list[int] = []

    def add(
        self, role: Role, corners: FloatArray, cells: tuple[int, int], there: BoolArray | None = None, opened: int = 0
    ) -> None:
        """Add a piece cut into cells along both sides; ``there`` (16,) in which cells of the box it is, None in all."""
        self.tiles.append(FlatTile(f"{role} {len(self.tiles)}", role, corners))
        along, across = (graded_nodes(1.0, count, GRADING if count > 2 else 0.0) for count in cells)
        self.nodes.append((along, across))
        count = cells[0] * cells[1]
        self.there += [np.ones(RIMS, bool) if there is None else there] * count
        self.opened += [opened] * count

    def mesh(self) -> CellMesh:
        """All of them."""
        return CellMesh(assemble(Pieces(self.tiles), self.nodes), np.array(self.there), np.array(self.opened))


def cell_mesh(box: BaffledBox, detail: Detail) -> CellMesh:
    """Cut a cell of a box into patches."""
    return _at_open_rims(box, detail) if box.open_rim else _framed(box, detail)


def _framed(box: BaffledBox, detail: Detail) -> CellMesh:
    """A cell with half a partition on every side."""
    on_back, on_lid, along, up, closing = detail
    outer, inner = _ring(0.0, box), _ring(box.partition_mm / 2, box)
    found = _Pieces()
    found.add("back", _level(outer if box.low_mm > 0 else inner, 0.0), (on_back, on_back))
    found.add("lid", _level(outer if box.high_mm < box.depth_mm else inner, box.depth_mm)[::-1], (on_lid, on_lid))
    for index, rim in enumerate((LOW, RIGHT, HIGH, LEFT)):
        following, at_rim = (index + 1) % 4, (np.arange(RIMS) & rim) > 0
        found.add("wall", _upright(inner[index], inner[following], box.low_mm, box.high_mm), (along, up))
        strip = np.array([outer[index], outer[following], inner[following], inner[index]])
        closed = outer[index], outer[following]
        if box.high_mm < box.depth_mm:
            found.add("wall", _level(strip, box.high_mm), (along, 1))
            found.add("wall", _upright(*closed, box.high_mm, box.depth_mm), (along, closing), at_rim)
        if box.low_mm > 0:
            found.add("wall", _level(strip, box.low_mm)[::-1], (along, 1))
            found.add("wall", _upright(*closed, 0.0, box.low_mm), (along, closing), at_rim)
    return found.mesh()


def _ring(inset: float, box: BaffledBox) -> FloatArray:
    x, y = box.pitch_x_mm, box.pitch_y_mm
    return np.array([[inset, inset], [x - inset, inset], [x - inset, y - inset], [inset, y - inset]])


def _level(corners: FloatArray, z_mm: float) -> FloatArray:
    return np.column_stack([corners, np.full(4, z_mm)])


def _upright(a: FloatArray, b: FloatArray, low_mm: float, high_mm: float) -> FloatArray:
    """A wall along a line, facing to its left."""
    return np.array([[*b, low_mm], [*a, low_mm], [*a, high_mm], [*b, high_mm]])


# -- cells that reach to the wall ----------------------------------------------------------------------------------------


@dataclass(frozen=True)
class _Field:
    """One of nine fields of a cell: its middle, or where half a partition stands along the ``rims``; in so many patches."""

    low: FloatArray
    high: FloatArray
    rims: int
    cells: tuple[int, int]

    @property
    def corners(self) -> FloatArray:
        (x0, y0), (x1, y1) = self.low, self.high
        return np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]])

    def is_free(self, opened: int) -> bool:
        """Whether no partition stands there when none stands along some rims."""
        return opened & self.rims == self.rims


def _at_open_rims(box: BaffledBox, detail: Detail) -> CellMesh:
    """A cell in which a partition stands on a side unless that is a rim."""
    on_back, on_lid, along, up, closing = detail
    found = _Pieces()
    for field in _fields(box, on_back).values():
        _add_level(found, box, "back", field)
    for field in _fields(box, on_lid).values():
        _add_level(found, box, "lid", field)
    fields = _fields(box, along)
    for (column, row), field in fields.items():
        for beside in ((column + 1, row), (column, row + 1)):
            if beside in fields:
                _add_faces(found, box, field, fields[beside], up)
        if field.rims:
            _add_closings(found, box, field, (up, closing))
        _add_ledges(found, box, field)
    return found.mesh()


def _fields(box: BaffledBox, count: int) -> dict[tuple[int, int], _Field]:
    """The nine fields, the middle cut into so many patches along either side."""
    half = box.partition_mm / 2
    lines = [(0.0, half, pitch - half, pitch) for pitch in (box.pitch_x_mm, box.pitch_y_mm)]
    narrow = [max(round(2 * count * half / (line[2] - line[1])), 1) for line in lines]
    counts = [(few, count, few) for few in narrow]
    rims = (LEFT, 0, RIGHT), (LOW, 0, HIGH)
    return {
        (column, row): _Field(
            np.array([lines[0][column], lines[1][row]]),
            np.array([lines[0][column + 1], lines[1][row + 1]]),
            rims[0][column] | rims[1][row],
            (counts[0][column], counts[1][row]),
        )
        for column in range(3)
        for row in range(3)
    }


def _where(rims: int, opened: int) -> BoolArray:
    """In which cells of the box exactly these of some rims are met."""
    return np.asarray(np.arange(RIMS) & rims == opened)


def _add_level(found: _Pieces, box: BaffledBox, role: Role, field: _Field) -> None:
    """Back or lid over a field: where no partition touches it."""
    is_gap = box.low_mm > 0 if role == "back" else box.high_mm < box.depth_mm
    corners = _level(field.corners, 0.0) if role == "back" else _level(field.corners, box.depth_mm)[::-1]
    for opened in parts_of(field.rims):
        if is_gap or field.is_free(opened):
            found.add(role, corners, field.cells, _where(field.rims, opened), opened)


def _add_ledges(found: _Pieces, box: BaffledBox, field: _Field) -> None:
    """Upper and lower side of the partition in a field."""
    for opened in parts_of(field.rims):
        if field.is_free(opened):
            continue
        there = _where(field.rims, opened)
        if box.high_mm < box.depth_mm:
            found.add("wall", _level(field.corners, box.high_mm), field.cells, there, opened)
        if box.low_mm > 0:
            found.add("wall", _level(field.corners, box.low_mm)[::-1], field.cells, there, opened)


def _add_faces(found: _Pieces, box: BaffledBox, one: _Field, other: _Field, up: int) -> None:
    """The side of a partition that stands in one of two fields: ``other`` is to the right of ``one``, or above it."""
    sideways = bool(one.low[1] == other.low[1])
    ends = (
        (other.low, np.array([other.low[0], other.high[1]]))
        if sideways
        else (other.low, np.array([other.high[0], other.low[1]]))
    )
    rims = one.rims | other.rims
    for opened in parts_of(rims):
        frees = one.is_free(opened), other.is_free(opened)
        if frees[0] == frees[1]:
            continue
        a, b = ends if frees[0] == sideways else ends[::-1]
        cells = one.cells[1] if sideways else one.cells[0]
        found.add("wall", _upright(a, b, box.low_mm, box.high_mm), (cells, up), _where(rims, opened), opened)


def _add_closings(found: _Pieces, box: BaffledBox, field: _Field, counts: tuple[int, int]) -> None:
    """The wall of the body along a field at a rim: as high as the field is free."""
    up, closing = counts
    for index, rim in enumerate((LOW, RIGHT, HIGH, LEFT)):
        if not field.rims & rim:
            continue
        a, b = field.corners[index], field.corners[(index + 1) % 4]
        cells = field.cells[index % 2]
        for opened in parts_of(field.rims):
            if not opened & rim:
                continue
            heights = [(0.0, box.low_mm, closing), (box.high_mm, box.depth_mm, closing)]
            if field.is_free(opened):
                heights.append((box.low_mm, box.high_mm, up))
            for low_mm, high_mm, count in heights:
                if high_mm > low_mm:
                    there = _where(field.rims, opened)
                    found.add("wall", _upright(a, b, low_mm, high_mm), (cells, count), there, opened)


# -- images --------------------------------------------------------------------------------------------------------------


def mirror_images(
    box: BaffledBox, places: FloatArray, normals: FloatArray, opened: IndexArray
) -> tuple[IndexArray, IndexArray]:
    """For each place of a cell its mirror image, left to right and low to high; those opened at a rim at the other one."""
    here = np.hstack([places, normals, _bits(opened)])
    found = []
    for axis, pitch in ((0, box.pitch_x_mm), (1, box.pitch_y_mm)):
        there = here.copy()
        there[:, axis] = pitch - there[:, axis]
        there[:, 3 + axis] *= -1.0
        there[:, [6 + 2 * axis, 7 + 2 * axis]] = there[:, [7 + 2 * axis, 6 + 2 * axis]]
        image = _matched(here, there)
        assert image is not None  # a cell is cut alike on both sides
        found.append(image)
    return found[0], found[1]


def diagonal_images(box: BaffledBox, places: FloatArray, normals: FloatArray, opened: IndexArray) -> IndexArray | None:
    """For each place its image with x and y exchanged; None where the cell is no square, or is not cut alike both ways."""
    if box.pitch_x_mm != box.pitch_y_mm:
        return None
    here = np.hstack([places, normals, _bits(opened)])
    return _matched(here, here[:, [1, 0, 2, 4, 3, 5, 8, 9, 6, 7]])


def _bits(opened: IndexArray) -> FloatArray:
    return np.stack([opened & rim > 0 for rim in (LEFT, RIGHT, LOW, HIGH)], axis=1).astype(float)


def _matched(here: FloatArray, there: FloatArray) -> IndexArray | None:
    """For each row of the one the number of the row of the other that is the same; None where one has none.

    Both are put in the order of a sum of their numbers with weights that no two different rows share but by accident. Rows are
    compared as they are: rounded ones can lie on either side of where rounding turns.
    """
    order_here, order_there = np.argsort(here @ _WEIGHTS), np.argsort(there @ _WEIGHTS)
    image = np.empty(len(here), int)
    image[order_there] = order_here
    return image if np.abs(here[image] - there).max(initial=0.0) <= _SAME_MM else None
