"""How light is reflected back and forth in a box: all that depends on its shape and finishes, and not on what lights it.

Kept from one computation to the next, so that moving a row or a level does not pay for it again.
"""

import functools
from dataclasses import dataclass

import numpy as np

from gauze.core.layout.model import FloatArray, LightBox
from gauze.core.optics.box_mesh import (
    BoxMesh,
    centres,
    chebyshev_points,
    coarse_mesh,
    even_count,
    fine_mesh,
    linear_matrix,
    mean_over_cells,
    sharpened_means,
    sharpened_points,
)
from gauze.core.optics.gather import PlaneGather, PlaneToWallsGather, Points, WallGather
from gauze.core.optics.radiosity import BoxExchange, BoxFaces

_COARSE = 0.75  # fineness below which a transport is one of a drag
FINE_PASSES = 2  # of the pattern of the rows between lid and back; the next would change it by less than 1e-3

_WALLS = ("x0", "x1", "y0", "y1")
_GRIDS = {
    "back": ("x_nodes", "y_nodes"),
    "lid": ("x_nodes", "y_nodes"),
    "x0": ("y_nodes", "z_nodes"),
    "x1": ("y_nodes", "z_nodes"),
    "y0": ("x_nodes", "z_nodes"),
    "y1": ("x_nodes", "z_nodes"),
}


def grid_of(mesh: BoxMesh, face: str) -> tuple[FloatArray, FloatArray]:
    """Return the two node arrays of a face."""
    first, second = _GRIDS[face]
    return getattr(mesh, first), getattr(mesh, second)


@dataclass(frozen=True)
class BoxTransport:
    """Meshes, exchange and gathering operators of one box; ``refine`` carries cells to finer ones, by axis.

    ``planes_to_walls`` is left out while dragging: the walls then keep the coarse mesh's light.
    """

    box: LightBox
    fine: BoxMesh
    exchange: BoxExchange
    refine: dict[str, FloatArray]
    plane_to_plane: PlaneGather
    walls_to_back: tuple[WallGather, WallGather]
    plane_to_lid_points: PlaneGather
    walls_to_lid_points: tuple[WallGather, WallGather]
    planes_to_walls: tuple[PlaneToWallsGather, PlaneToWallsGather] | None

    def balance(self, fine_direct: BoxFaces) -> tuple[BoxFaces, FloatArray]:
        """Balance the bounced light and gather it on the lid.

        Parameters
        ----------
        fine_direct:
            Mean direct illuminance on the cells of the fine mesh.

        Returns
        -------
        The illuminance on the coarse mesh, and the bounced illuminance at the lid's Chebyshev points.
        """
        coarse_direct = BoxFaces(
            **{
                face: mean_over_cells(
                    getattr(fine_direct, face), grid_of(self.fine, face), grid_of(self.exchange.mesh, face)
                )
                for face in _GRIDS
            }
        )
        balanced = self.exchange.illuminate(coarse_direct)
        return balanced, self._gather(coarse_direct, fine_direct, balanced)

    def _gather(self, coarse_direct: BoxFaces, fine_direct: BoxFaces, balanced: BoxFaces) -> FloatArray:
        def refined(face: str) -> FloatArray:
            bounced = getattr(balanced, face) - getattr(coarse_direct, face)
            first, second = (self.refine[nodes] for nodes in _GRIDS[face])
            smooth = np.asarray(first @ bounced @ second.T)
            return sharpened_points(smooth) + sharpened_means(getattr(fine_direct, face))

        rho_lid, rho_back = self.box.lid_reflectance, self.box.back_reflectance
        walls = tuple(self.box.wall_reflectance * refined(face) for face in _WALLS)
        lid, lid_direct = refined("lid"), sharpened_means(fine_direct.lid)
        back = sharpened_points(self.plane_to_plane(rho_lid * lid) + _from_walls(self.walls_to_back, walls))
        if self.planes_to_walls is not None:
            walls = self._walls_anew(self.planes_to_walls, fine_direct, balanced, rho_lid * lid, rho_back * back)
        upside_down = tuple(np.flip(wall, axis=1) for wall in walls)
        wall_light = _from_walls(self.walls_to_back, walls)
        lid_wall_light = _from_walls(self.walls_to_back, upside_down)
        for remaining in reversed(range(FINE_PASSES)):
            back = sharpened_points(self.plane_to_plane(rho_lid * lid) + wall_light)
            if remaining:
                lid = lid_direct + sharpened_points(self.plane_to_plane(rho_back * back) + lid_wall_light)
        return self.plane_to_lid_points(rho_back * back) + _from_walls(self.walls_to_lid_points, upside_down)

    def _walls_anew(
        self,
        gathers: tuple[PlaneToWallsGather, PlaneToWallsGather],
        fine_direct: BoxFaces,
        balanced: BoxFaces,
        lid: FloatArray,
        back: FloatArray,
    ) -> tuple[FloatArray, ...]:
        """Radiosity of the walls with what lid and back send them gathered at full detail."""
        among = self.exchange.among_walls(balanced)
        from_back = (*gathers[0](back), *gathers[1](back.T))
        from_lid = (*gathers[0](lid), *gathers[1](lid.T))
        walls = []
        for face, below, above in zip(_WALLS, from_back, from_lid, strict=True):
            first, second = (self.refine[nodes] for nodes in _GRIDS[face])
            bounced = first @ getattr(among, face) @ second.T + below + np.flip(above, axis=1)
            light = sharpened_points(np.asarray(bounced)) + sharpened_means(getattr(fine_direct, face))
            walls.append(self.box.wall_reflectance * light)
        return tuple(walls)


def _from_walls(gather: tuple[WallGather, WallGather], walls: tuple[FloatArray, ...]) -> FloatArray:
    return np.asarray(gather[0](walls[0], walls[1]) + gather[1](walls[2], walls[3]).T)


def transport_of(box: LightBox, fineness: float) -> BoxTransport:
    """Return the transport of a box, kept while the box stays as it is; ``fineness`` 1 is exact at rest."""
    return _coarse_transport(box, fineness) if fineness < _COARSE else _exact_transport(box, fineness)


def forget_transports() -> None:
    """Drop every kept transport, as a benchmark wants it."""
    _coarse_transport.cache_clear()
    _exact_transport.cache_clear()


@functools.lru_cache(maxsize=64)
def _coarse_transport(box: LightBox, fineness: float) -> BoxTransport:
    """A hand that drags the lid comes by the same depths again and again; coarse ones take half a megabyte each."""
    return _make_transport(box, fineness)


@functools.lru_cache(maxsize=4)
def _exact_transport(box: LightBox, fineness: float) -> BoxTransport:
    return _make_transport(box, fineness)


def _make_transport(box: LightBox, fineness: float) -> BoxTransport:
    coarse = coarse_mesh(box, fineness)
    fine = fine_mesh(coarse, fineness)
    nodes = (fine.x_nodes, fine.y_nodes)
    middle = (centres(fine.x_nodes), centres(fine.y_nodes))
    points = lid_points(box, fineness)
    depth_mm = box.inner_depth_mm
    return BoxTransport(
        box=box,
        fine=fine,
        exchange=BoxExchange(coarse, box),
        refine={
            name: linear_matrix(centres(getattr(coarse, name)), centres(getattr(fine, name)))
            for name in ("x_nodes", "y_nodes", "z_nodes")
        },
        plane_to_plane=PlaneGather(nodes, middle, depth_mm),
        walls_to_back=_wall_gathers(box, fine, middle),
        plane_to_lid_points=PlaneGather(nodes, points, depth_mm),
        walls_to_lid_points=_wall_gathers(box, fine, points),
        planes_to_walls=None if fineness < _COARSE else _plane_to_walls(fine),
    )


def _plane_to_walls(fine: BoxMesh) -> tuple[PlaneToWallsGather, PlaneToWallsGather]:
    rise = centres(fine.z_nodes)  # symmetric, so that it also measures from the lid, with the cells in reverse
    return (
        PlaneToWallsGather(fine.x_nodes, fine.y_nodes, centres(fine.y_nodes), rise),
        PlaneToWallsGather(fine.y_nodes, fine.x_nodes, centres(fine.x_nodes), rise),
    )


def _wall_gathers(box: LightBox, fine: BoxMesh, points: Points) -> tuple[WallGather, WallGather]:
    return (
        WallGather(fine.y_nodes, fine.z_nodes, points[0], points[1], box.width_mm),
        WallGather(fine.x_nodes, fine.z_nodes, points[1], points[0], box.height_mm),
    )


def lid_points(box: LightBox, fineness: float) -> Points:
    """Return the Chebyshev points along x and y at which the bounced light on the lid is gathered."""
    # few points cost little, and too few would lose the pattern of the rows while dragging
    density = max(fineness, 0.8)

    def count(extent_mm: float) -> int:
        wanted = 1.8 * density * extent_mm / box.inner_depth_mm
        return even_count(wanted, even_count(28 * fineness, 12, 64), even_count(112 * density, 16, 224))

    return (
        chebyshev_points(box.width_mm, count(box.width_mm)),
        chebyshev_points(box.height_mm, count(box.height_mm)),
    )
