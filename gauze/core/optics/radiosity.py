"""Interreflection in a rectangular box with matt faces: the radiosity equation, split by symmetry.

The box has two planes of symmetry, so any light in it is a sum of four parts, each even or odd about
each plane. The parts do not mix: four systems of a quarter of the size replace one, and exchange areas are
needed from one quarter of the box only. The result is the same as that of the full system.
"""

from dataclasses import dataclass

import numpy as np

from gauze.core.layout.model import FloatArray, IndexArray, LightBox
from gauze.core.optics.box_mesh import BoxMesh
from gauze.core.optics.form_factors import parallel_exchange, perpendicular_exchange

_NEGLIGIBLE = 1e-9  # of the even part: rounding of a symmetric layout
PARITIES = ((1, 1), (1, -1), (-1, 1), (-1, -1))


@dataclass(frozen=True)
class BoxFaces:
    """One value for each cell of each face.

    ``back`` and ``lid`` have shape (nx, ny); ``x0`` and ``x1`` (walls at x = 0 and x = width) shape
    (ny, nz); ``y0`` and ``y1`` shape (nx, nz).
    """

    back: FloatArray
    lid: FloatArray
    x0: FloatArray
    x1: FloatArray
    y0: FloatArray
    y1: FloatArray


@dataclass(frozen=True)
class _System:
    """One symmetry's system: its factors, and the exchange of the walls among themselves."""

    factors: tuple[FloatArray, IndexArray]
    among_walls: FloatArray

    def solve(self, direct: FloatArray) -> FloatArray:
        """Return the balance of direct light.

        SciPy counts the pivots up by one, calls LAPACK without the interpreter's lock, and counts them down again, all in the
        array that it is given: threads that share one would solve with each other's. So each solves with its own.
        """
        from scipy.linalg import lu_solve

        matrix, pivots = self.factors
        found: FloatArray = lu_solve((matrix, pivots.copy()), direct, check_finite=False)
        return found


class BoxExchange:
    """The exchange of light in a box on a mesh: turns direct illuminance into total illuminance.

    Each of the four systems is assembled and factorised when it is first needed: light that is symmetric
    about a plane, as that of most layouts, needs only half of them. Several threads may share one: what is kept of a system is
    put in place whole, and at worst is made twice.
    """

    def __init__(self, mesh: BoxMesh, box: LightBox) -> None:
        self.mesh = mesh
        self._areas, self._blocks = _exchange_areas(mesh)
        shapes = _quarter_shapes(mesh)
        self._reflectance = _pack(
            BoxFaces(*(np.full(shape, value) for shape, value in zip(shapes, _values(box), strict=True)))
        )
        self._systems: dict[tuple[int, int], _System] = {}

    def illuminate(self, direct: BoxFaces) -> BoxFaces:
        """Return the illuminance, direct and bounced, from the direct one."""
        solved = {parity: self._system(parity).solve(part) for parity, part in _parts(direct).items()}
        return _unfold_faces(solved, self.mesh)

    def among_walls(self, total: BoxFaces) -> BoxFaces:
        """Return what the walls get from each other, of a balanced illuminance; zero on back and lid."""
        planes = 2 * _quarter_shapes(self.mesh)[0][0] * _quarter_shapes(self.mesh)[0][1]
        parts: dict[tuple[int, int], FloatArray] = {}
        for parity, part in _parts(total).items():
            leaving = self._reflectance * part
            among = self._system(parity).among_walls
            parts[parity] = np.concatenate([np.zeros(planes), among @ leaving[planes:]])
        return _unfold_faces(parts, self.mesh)

    def _system(self, parity: tuple[int, int]) -> _System:
        from scipy.linalg import lu_factor

        known = self._systems.get(parity)
        if known is None:
            factors = _assemble(self._blocks, *parity) / self._areas[:, None]
            planes = 2 * self._blocks.back_lid.shape[0] * self._blocks.back_lid.shape[1]
            system = np.eye(len(self._areas)) - factors * self._reflectance[None, :]
            known = _System(
                lu_factor(np.asfortranarray(system), overwrite_a=True, check_finite=False), factors[planes:, planes:]
            )
            self._systems[parity] = known
        return known


def _parts(faces: BoxFaces) -> dict[tuple[int, int], FloatArray]:
    """Parts of light by their symmetry; those that are nothing beside the largest are left out."""
    folded = {parity: _pack(_fold_faces(faces, *parity)) for parity in PARITIES}
    largest = max(float(np.abs(part).max()) for part in folded.values())
    return {parity: part for parity, part in folded.items() if float(np.abs(part).max()) > _NEGLIGIBLE * largest}


def form_factor_blocks(mesh: BoxMesh) -> tuple[FloatArray, FloatArray]:
    """Return (form factors of the even-even part (n, n), cell areas (n,)); rows of a closed box sum to 1."""
    areas, blocks = _exchange_areas(mesh)
    return _assemble(blocks, 1, 1) / areas[:, None], areas


def _values(box: LightBox) -> tuple[float, ...]:
    wall = box.wall_reflectance
    return (box.back_reflectance, box.lid_reflectance, wall, wall, wall, wall)


def _quarter_shapes(mesh: BoxMesh) -> list[tuple[int, int]]:
    nx, ny, nz = (len(nodes) - 1 for nodes in (mesh.x_nodes, mesh.y_nodes, mesh.z_nodes))
    hx, hy = nx // 2, ny // 2
    return [(hx, hy), (hx, hy), (hy, nz), (0, nz), (hx, nz), (0, nz)]


def _pack(faces: BoxFaces) -> FloatArray:
    return np.concatenate([faces.back.ravel(), faces.lid.ravel(), faces.x0.ravel(), faces.y0.ravel()])


def _fold(values: FloatArray, sign: int, axis: int) -> FloatArray:
    """Add the far half of an axis, mirrored, to the near half."""
    half = values.shape[axis] // 2
    before = (slice(None),) * axis
    near, far = values[(*before, slice(0, half))], values[(*before, slice(None, half - 1, -1))]
    return np.asarray(near + far if sign > 0 else near - far)


def _fold_faces(faces: BoxFaces, sx: int, sy: int) -> BoxFaces:
    quarter_x = _fold((faces.x0 + sx * faces.x1), sy, 0) / 4.0
    quarter_y = _fold((faces.y0 + sy * faces.y1), sx, 0) / 4.0
    back = _fold(_fold(faces.back, sx, 0), sy, 1) / 4.0
    lid = _fold(_fold(faces.lid, sx, 0), sy, 1) / 4.0
    empty = np.empty((0, faces.x0.shape[1]))
    return BoxFaces(back, lid, quarter_x, empty, quarter_y, empty)


def _unfold_faces(solved: dict[tuple[int, int], FloatArray], mesh: BoxMesh) -> BoxFaces:
    shapes = _quarter_shapes(mesh)
    nx, ny, nz = 2 * shapes[0][0], 2 * shapes[0][1], shapes[2][1]
    back, lid = np.zeros((nx, ny)), np.zeros((nx, ny))
    x0, x1, y0, y1 = np.zeros((ny, nz)), np.zeros((ny, nz)), np.zeros((nx, nz)), np.zeros((nx, nz))
    sizes = [first * second for first, second in (shapes[0], shapes[1], shapes[2], shapes[4])]
    ends = np.cumsum(sizes)[:-1].tolist()
    for (sx, sy), vector in solved.items():
        parts = np.split(vector, ends)
        back += _unfold(_unfold(parts[0].reshape(shapes[0]), sx, 0), sy, 1)
        lid += _unfold(_unfold(parts[1].reshape(shapes[1]), sx, 0), sy, 1)
        on_x = _unfold(parts[2].reshape(shapes[2]), sy, 0)
        on_y = _unfold(parts[3].reshape(shapes[4]), sx, 0)
        x0 += on_x
        x1 += sx * on_x
        y0 += on_y
        y1 += sy * on_y
    return BoxFaces(back, lid, x0, x1, y0, y1)


def _unfold(values: FloatArray, sign: int, axis: int) -> FloatArray:
    return np.concatenate([values, sign * np.flip(values, axis=axis)], axis=axis)


@dataclass(frozen=True)
class _Blocks:
    """Exchange areas from a quarter (first two axes) to whole faces (last two axes); names are from_to."""

    back_lid: FloatArray
    back_x0: FloatArray
    back_x1: FloatArray
    back_y0: FloatArray
    back_y1: FloatArray
    x0_x1: FloatArray
    y0_y1: FloatArray
    x0_y0: FloatArray
    x0_y1: FloatArray


def _exchange_areas(mesh: BoxMesh) -> tuple[FloatArray, _Blocks]:
    x, y, z = mesh.x_nodes, mesh.y_nodes, mesh.z_nodes
    near_x, near_y = x[: len(x) // 2 + 1], y[: len(y) // 2 + 1]
    width, height, depth = x[-1], y[-1], z[-1]
    from_x1, from_y1 = _reverse(width, near_x), _reverse(height, near_y)
    on_back = np.outer(np.diff(near_x), np.diff(near_y)).ravel()
    areas = np.concatenate(
        [on_back, on_back, np.outer(np.diff(near_y), np.diff(z)).ravel(), np.outer(np.diff(near_x), np.diff(z)).ravel()]
    )
    far_x = perpendicular_exchange(from_x1, near_y, z, y)[::-1]
    far_y = perpendicular_exchange(from_y1, near_x, z, x)[::-1]
    blocks = _Blocks(
        back_lid=parallel_exchange(near_x, near_y, x, y, depth),
        back_x0=perpendicular_exchange(near_x, near_y, z, y).transpose(0, 1, 3, 2),
        back_x1=far_x.transpose(0, 1, 3, 2),
        back_y0=perpendicular_exchange(near_y, near_x, z, x).transpose(1, 0, 3, 2),
        back_y1=far_y.transpose(1, 0, 3, 2),
        x0_x1=parallel_exchange(near_y, z, y, z, width),
        y0_y1=parallel_exchange(near_x, z, x, z, height),
        x0_y0=perpendicular_exchange(near_y, z, x, z),
        x0_y1=perpendicular_exchange(from_y1, z, x, z)[::-1],
    )
    return areas, blocks


def _reverse(extent: float, nodes: FloatArray) -> FloatArray:
    """Distances of ascending nodes from the far end, ascending again (the cells come out reversed)."""
    return np.asarray((extent - nodes)[::-1])


def _assemble(blocks: _Blocks, sx: int, sy: int) -> FloatArray:
    """Exchange areas between the quarters, with the mirror images folded in by their signs."""

    def flat(block: FloatArray) -> FloatArray:
        return block.reshape(block.shape[0] * block.shape[1], -1)

    back_lid = flat(_fold(_fold(blocks.back_lid, sx, 2), sy, 3))
    to_x = _fold(blocks.back_x0 + sx * blocks.back_x1, sy, 2)
    to_y = _fold(blocks.back_y0 + sy * blocks.back_y1, sx, 2)
    back_x, back_y = flat(to_x), flat(to_y)
    # the mesh is symmetric in z: what the back sends to a wall, the lid sends to the wall upside down
    lid_x, lid_y = flat(np.flip(to_x, 3)), flat(np.flip(to_y, 3))
    x_x = sx * flat(_fold(blocks.x0_x1, sy, 2))
    y_y = sy * flat(_fold(blocks.y0_y1, sx, 2))
    x_y = flat(_fold(blocks.x0_y0 + sy * blocks.x0_y1, sx, 2))
    n = back_lid.shape[0]
    none = np.zeros((n, n))
    return np.block(
        [
            [none, back_lid, back_x, back_y],
            [back_lid.T, none, lid_x, lid_y],
            [back_x.T, lid_x.T, x_x, x_y],
            [back_y.T, lid_y.T, x_y.T, y_y],
        ]
    )
