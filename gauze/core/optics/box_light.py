"""The light in a rectangular box: direct and bounced illuminance on the lid, from any emitters in it.

1. Direct light is summed exactly at every point of the lid, and exactly averaged over the cells of the meshes.
2. The bounced light is balanced on a coarse mesh (:mod:`radiosity`).
3. It is then gathered again on a fine mesh, with the direct light at full detail: from lid to back, from both to the
   walls, and from all of them to the lid. The pattern of the rows, which the coarse mesh cannot carry, so makes its way
   to the back and home; what is left out of it has been reflected four times. The sum is scaled to the balanced flux.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from gauze.core.errors import Cancelled
from gauze.core.layout.model import EmitterSet, FloatArray, LightBox
from gauze.core.optics.box_mesh import BoxMesh, chebyshev_matrix, chebyshev_weights
from gauze.core.optics.box_transport import BoxTransport, transport_of
from gauze.core.optics.direct import plane_cells, plane_points, wall_cells
from gauze.core.optics.gaussian_sum import GaussianSum, plane_kernel
from gauze.core.optics.radiosity import BoxFaces
from gauze.core.optics.sources import SourceGrid, SourceShare, gather_sources

Map = NDArray[np.float32]


@dataclass(frozen=True)
class GridLight:
    """Light of one source grid on the lid, per lumen, in 1/mm^2.

    ``bounced_at_points`` is the bounced illuminance at the Chebyshev points of the lid; ``lid_share`` the
    flux that reaches the lid in all, ``direct_share`` without a bounce; ``balance_error`` is by how much
    absorbed and transmitted flux miss the emitted one.
    """

    source: SourceGrid
    depth_mm: float
    bounced_at_points: FloatArray
    lid_share: float
    direct_share: float
    balance_error: float


@dataclass(frozen=True)
class BoxLight:
    """Light on the inner face of the lid, for every source grid and for the channels that use it."""

    box: LightBox
    grids: tuple[GridLight, ...]
    shares: tuple[SourceShare, ...]

    @property
    def flux_lm(self) -> float:
        """Flux emitted in all."""
        return sum(share.flux_lm for share in self.shares)

    @property
    def lid_flux_lm(self) -> float:
        """Flux that falls on the inner face of the lid, direct and bounced."""
        return sum(share.flux_lm * self.grids[share.grid_index].lid_share for share in self.shares)

    def direct(self, grid: GridLight, x_mm: FloatArray, y_mm: FloatArray, spread_mm: float = 0.0) -> Map:
        """Direct illuminance per lumen at the crossings of x and y, shape (len(y_mm), len(x_mm))."""
        return plane_points(grid.source, self.kernel(grid), x_mm, y_mm, spread_mm)

    def kernel(self, grid: GridLight) -> GaussianSum:
        """Direct illuminance in the plane of the lid from one emitter of a grid, of 1 lm."""
        return plane_kernel(grid.source.power, grid.depth_mm, math.hypot(self.box.width_mm, self.box.height_mm))

    def bounced(self, grid: GridLight, x_mm: FloatArray, y_mm: FloatArray) -> Map:
        """Bounced illuminance per lumen at the crossings of x and y, shape (len(y_mm), len(x_mm))."""
        values = grid.bounced_at_points
        spread_x = chebyshev_matrix(self.box.width_mm, values.shape[0], x_mm).astype(np.float32)
        spread_y = chebyshev_matrix(self.box.height_mm, values.shape[1], y_mm).astype(np.float32)
        # interpolation swings a trace below zero where it is almost dark
        return np.asarray(np.maximum(spread_y @ values.T.astype(np.float32) @ spread_x.T, np.float32(0.0)))

    def illuminance_lx(self, x_mm: FloatArray, y_mm: FloatArray) -> Map:
        """Total illuminance on the inner face, shape (len(y_mm), len(x_mm))."""
        total = np.zeros((len(y_mm), len(x_mm)), np.float32)
        for index, grid in enumerate(self.grids):
            flux_lm = sum(share.flux_lm for share in self.shares if share.grid_index == index)
            total += np.float32(flux_lm * 1e6) * (self.direct(grid, x_mm, y_mm) + self.bounced(grid, x_mm, y_mm))
        return total


def map_axes(box: LightBox, step_mm: float) -> tuple[FloatArray, FloatArray]:
    """Return the centres of a map's pixels along x and y: whole pixels of about ``step_mm``."""
    columns, rows = (max(8, round(extent / step_mm)) for extent in (box.width_mm, box.height_mm))
    return (
        (np.arange(columns) + 0.5) * box.width_mm / columns,
        (np.arange(rows) + 0.5) * box.height_mm / rows,
    )


def light_box(
    box: LightBox, emitters: Sequence[EmitterSet], fineness: float, cancelled: Callable[[], bool] = lambda: False
) -> BoxLight:
    """Compute the light on the lid; ``fineness`` 1 is exact at rest, less is for following a hand.

    Raises
    ------
    Cancelled
        Between two source grids, when ``cancelled()`` says so.
    """
    sources, shares = gather_sources(emitters)
    transport = transport_of(box, fineness)
    grids = []
    for source in sources:
        if cancelled():
            raise Cancelled("The light was no longer wanted.")
        grids.append(_light_grid(transport, source))
    return BoxLight(box, tuple(grids), tuple(shares))


def _light_grid(transport: BoxTransport, source: SourceGrid) -> GridLight:
    box, fine, coarse = transport.box, transport.fine, transport.exchange.mesh
    depth_mm = box.inner_depth_mm - source.z_mm
    kernel = plane_kernel(source.power, depth_mm, math.hypot(box.width_mm, box.height_mm))
    direct = _direct_faces(box, source, fine, kernel)
    balanced, on_lid = transport.balance(direct)
    lid_share = float((balanced.lid * np.outer(np.diff(coarse.x_nodes), np.diff(coarse.y_nodes))).sum())
    direct_share = float((direct.lid * np.outer(np.diff(fine.x_nodes), np.diff(fine.y_nodes))).sum())
    # the gathered light has the detail, the balanced one the right sum: they differ by some parts in a thousand
    mean = chebyshev_weights(on_lid.shape[0]) @ on_lid @ chebyshev_weights(on_lid.shape[1])
    gathered = float(mean) * box.width_mm * box.height_mm
    scale = max(lid_share - direct_share, 0.0) / gathered if gathered > 0.0 else 1.0
    return GridLight(
        source=source,
        depth_mm=depth_mm,
        bounced_at_points=on_lid * scale,
        lid_share=lid_share,
        direct_share=direct_share,
        balance_error=_balance_error(box, coarse, balanced),
    )


def _direct_faces(box: LightBox, source: SourceGrid, mesh: BoxMesh, kernel: GaussianSum) -> BoxFaces:
    lid = plane_cells(source, kernel, mesh.x_nodes, mesh.y_nodes)
    x0, x1 = wall_cells(source, "x", box.width_mm, mesh.y_nodes, mesh.z_nodes)
    y0, y1 = wall_cells(source, "y", box.height_mm, mesh.x_nodes, mesh.z_nodes)
    return BoxFaces(back=np.zeros_like(lid), lid=lid, x0=x0, x1=x1, y0=y0, y1=y1)


def _balance_error(box: LightBox, mesh: BoxMesh, balanced: BoxFaces) -> float:
    """Absorbed and transmitted flux per emitted lumen, less one."""
    dx, dy, dz = np.diff(mesh.x_nodes), np.diff(mesh.y_nodes), np.diff(mesh.z_nodes)
    plane, x_wall, y_wall = np.outer(dx, dy), np.outer(dy, dz), np.outer(dx, dz)
    lost = (1.0 - box.back_reflectance) * (balanced.back * plane).sum()
    lost += (1.0 - box.lid_reflectance) * (balanced.lid * plane).sum()
    on_walls = (balanced.x0 * x_wall).sum() + (balanced.x1 * x_wall).sum()
    on_walls += (balanced.y0 * y_wall).sum() + (balanced.y1 * y_wall).sum()
    return float(lost + (1.0 - box.wall_reflectance) * on_walls - 1.0)
