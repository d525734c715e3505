"""The lit face: what the diffuser makes of the light behind it, seen straight on.

Four parts add up (tau_d, tau_s, tau_r the diffuse, lobe and regular transmittance, tau their sum; stacks have several lobes):

    L = tau_d E_direct / pi  +  tau_s * lobe of every emitter  +  tau_r * the emitters themselves  +  tau E_bounced / pi
"""

import math
from dataclasses import dataclass

import numpy as np

from gauze.core.layout.model import FloatArray
from gauze.core.materials import Stack
from gauze.core.materials.distribution import axial_intensity_cd
from gauze.core.optics.box_light import BoxLight, GridLight, Map
from gauze.core.optics.direct import plane_points
from gauze.core.optics.gaussian_sum import joined, lobe_kernel
from gauze.core.optics.sources import SourceGrid

_LEAST_PIXELS = 60  # along the shorter side: a soft face still wants a smooth picture
TO_CD_M2 = 1e6  # lm/(mm^2 sr) to cd/m^2


@dataclass(frozen=True)
class LitFace:
    """A box's light behind a diffuser. Channels are in the order of ``light.shares``.

    ``xyz_per_lumen`` has shape (channels, 3), each row with Y = 1.
    """

    light: BoxLight
    diffuser: Stack
    xyz_per_lumen: FloatArray

    @property
    def flux_out_lm(self) -> float:
        """Flux that leaves the face."""
        return self.diffuser.transmittance * self.light.lid_flux_lm

    @property
    def efficiency(self) -> float:
        """Flux that leaves over flux emitted; 0 for a dark design."""
        emitted = self.light.flux_lm
        return self.flux_out_lm / emitted if emitted > 0 else 0.0

    def luminance_per_lumen(self, grid: GridLight, x_mm: FloatArray, y_mm: FloatArray) -> Map:
        """Luminance straight on of one source grid, in cd/m^2 per lumen, shape (len(y_mm), len(x_mm))."""
        sheet, spread_mm = self.diffuser, self.diffuser.sideways_spread_mm
        total = (self.diffuser.transmittance / math.pi) * self.light.bounced(grid, x_mm, y_mm)
        kernels = []
        if sheet.diffuse > 0:
            kernels.append(self.light.kernel(grid).scaled(sheet.diffuse / math.pi))
        kernels += [
            lobe_kernel(grid.source.power, lobe.sigma, grid.depth_mm).scaled(lobe.transmittance) for lobe in sheet.lobes
        ]
        if kernels:
            total += plane_points(grid.source, joined(kernels), x_mm, y_mm, spread_mm)
        if sheet.regular > 0:
            total += sheet.regular * _emitters_seen(grid.source, x_mm, y_mm)
        # interpolation and fit leave a trace below zero where it is almost dark
        return np.asarray(np.maximum(total, np.float32(0.0)) * np.float32(TO_CD_M2))

    def xyz(self, x_mm: FloatArray, y_mm: FloatArray) -> Map:
        """CIE XYZ with Y in cd/m^2, shape (3, len(y_mm), len(x_mm))."""
        result = np.zeros((3, len(y_mm), len(x_mm)), np.float32)
        for index, grid in enumerate(self.light.grids):
            weights = np.zeros(3)
            for share, xyz in zip(self.light.shares, self.xyz_per_lumen, strict=True):
                if share.grid_index == index:
                    weights += share.flux_lm * xyz
            if weights.any():
                result += weights.astype(np.float32)[:, None, None] * self.luminance_per_lumen(grid, x_mm, y_mm)
        return result

    def luminance_cd_m2(self, x_mm: FloatArray, y_mm: FloatArray) -> Map:
        """Luminance straight on, shape (len(y_mm), len(x_mm))."""
        result = np.zeros((len(y_mm), len(x_mm)), np.float32)
        for index, grid in enumerate(self.light.grids):
            flux_lm = sum(share.flux_lm for share in self.light.shares if share.grid_index == index)
            if flux_lm:
                result += np.float32(flux_lm) * self.luminance_per_lumen(grid, x_mm, y_mm)
        return result


def _emitters_seen(source: SourceGrid, x_mm: FloatArray, y_mm: FloatArray) -> Map:
    """Luminance of the bare emitting faces, in lm/(mm^2 sr) per lumen: I0 / area where there is one.

    Each sample stands for the strip between its neighbours, so that small faces are neither lost nor
    counted twice.
    """
    width, height = source.package_mm
    luminance = axial_intensity_cd(1.0, source.power) / (width * height)
    across = _overlap(x_mm, source.x_mm, width)
    up = _overlap(y_mm, source.y_mm, height)
    return np.asarray(luminance * (up @ source.flux.T @ across.T), np.float32)


def _overlap(points: FloatArray, middles: FloatArray, width: float) -> FloatArray:
    step = float(np.diff(points).min()) if len(points) > 1 else 0.5 * width
    near = np.maximum(points[:, None] - step / 2, middles[None, :] - width / 2)
    far = np.minimum(points[:, None] + step / 2, middles[None, :] + width / 2)
    return np.asarray(np.maximum(far - near, 0.0) / step)


def map_step_mm(face: LitFace, most_pixels: int, wanted_mm: float = math.inf) -> float:
    """Return a pixel size that resolves the sharpest light on the face, and what is wanted, within a budget of pixels."""
    depth_mm = min(grid.depth_mm for grid in face.light.grids)
    finest = min(depth_mm / 8.0, wanted_mm)
    for lobe in face.diffuser.lobes:
        finest = min(finest, lobe.sigma * depth_mm / 2.5)
    if face.diffuser.regular > 0:
        finest = min(finest, min(min(grid.source.package_mm) for grid in face.light.grids) / 1.5)
    box = face.light.box
    finest = min(finest, min(box.width_mm, box.height_mm) / _LEAST_PIXELS)
    return max(finest, math.sqrt(box.width_mm * box.height_mm / most_pixels))
