"""What arrives at a target in front of the face: at a point, or over a plane that may stand beside the axis and be turned."""

import functools
import math
from dataclasses import dataclass

import numpy as np

from gauze.core.layout.model import FloatArray
from gauze.core.materials.distribution import axial_intensity_cd
from gauze.core.optics.box_light import GridLight, map_axes
from gauze.core.optics.face import LitFace
from gauze.core.optics.gaussian_sum import lobe_share_inside

_CELLS = 32  # of the face along its longer side; the integrand is smooth at any distance in use
_TABLE_SINES = np.linspace(0.0, 1.0, 65)
_RINGS, _SPOKES = 160, 96
_MOST_AT_ONCE = 400_000  # ways from emitters to places that are held at once
MAP_POINTS = 9  # along each side of a target's map


@dataclass(frozen=True)
class TargetPlane:
    """A rectangle in front of the face.

    ``distance_mm`` is along the axis from the face to its middle, ``offset_x_mm`` and ``offset_y_mm`` how far that
    lies beside the axis. ``turn_deg`` turns it about its upright middle line (positive: its right edge comes nearer to the
    face), ``tilt_deg`` about its level one (positive: its upper edge comes nearer). At 0 it is parallel to the face.
    """

    distance_mm: float
    offset_x_mm: float = 0.0
    offset_y_mm: float = 0.0
    turn_deg: float = 0.0
    tilt_deg: float = 0.0
    width_mm: float = 0.0
    height_mm: float = 0.0

    def axes(self) -> tuple[FloatArray, FloatArray, FloatArray]:
        """Unit vectors along its width, along its height, and square to it towards the face."""
        turn, tilt = math.radians(self.turn_deg), math.radians(self.tilt_deg)
        right = np.array([math.cos(turn), 0.0, -math.sin(turn)])
        up = np.array([-math.sin(turn) * math.sin(tilt), math.cos(tilt), -math.cos(turn) * math.sin(tilt)])
        return right, up, -np.cross(right, up)

    def grid(self, points: int) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray]:
        """Even places over it, its edges included (its middle for ``points`` 1).

        Returns the places along its width and along its height, shapes (points,); where they lie from the middle of the
        face, shape (points^2, 3), row by row; and the way that it looks.
        """
        right, up, normal = self.axes()
        share = np.linspace(-0.5, 0.5, points) if points > 1 else np.zeros(1)
        right_mm, up_mm = share * self.width_mm, share * self.height_mm
        middle = np.array([self.offset_x_mm, self.offset_y_mm, self.distance_mm])
        places = middle + up_mm[:, None, None] * up + right_mm[None, :, None] * right
        return right_mm, up_mm, places.reshape(-1, 3), normal


@dataclass(frozen=True)
class TargetMap:
    """Illuminance over a target plane: places on it from its middle, shapes (n,) and (m,); lux, shape (m, n)."""

    right_mm: FloatArray
    up_mm: FloatArray
    illuminance_lx: FloatArray

    @property
    def min_over_mean(self) -> float:
        """Uniformity U0 over the target; 0 in the dark."""
        mean = float(self.illuminance_lx.mean())
        return float(self.illuminance_lx.min()) / mean if mean > 0 else 0.0


def target_map(face: LitFace, plane: TargetPlane, points: int = MAP_POINTS) -> TargetMap:
    """Illuminance at even places over a plane, its edges included (at its middle for ``points`` 1).

    What leaves the face evenly (diffuse and bounced light) is summed over the face as it is,
    E = sum of L cos(theta_face) cos(theta_target) dA / R^2, good at any distance. What leaves in the lobe or straight on is
    summed over the emitters, each with the intensity that the sheet leaves it towards the target, where the straight way
    passes the sheet; its place on the sheet is taken above the emitter, which is good from a few depths on.
    What would come from behind the plane, or is behind the face, counts as nothing.
    """
    right_mm, up_mm, places, normal = plane.grid(points)
    box = face.light.box
    flat = places + np.array([box.width_mm / 2, box.height_mm / 2, 0.0])
    lux = _even_part(face, flat, normal) + _directed_part(face, flat, normal)
    return TargetMap(right_mm, up_mm, lux.reshape(points, points))


def exposure_f_number(illuminance_lx: float, exposure_s: float, iso_speed: float, calibration: float = 250.0) -> float:
    """F-number of a right exposure by incident light: E = C N^2 / (t S), so N = sqrt(E t S / C).

    ISO 2720 allows a calibration constant C of 240 to 400 (from memory).
    """
    return math.sqrt(illuminance_lx * exposure_s * iso_speed / calibration)


def _even_part(face: LitFace, places: FloatArray, normal: FloatArray) -> FloatArray:
    box = face.light.box
    step_mm = max(max(box.width_mm, box.height_mm) / _CELLS, min(box.width_mm, box.height_mm) / 400)
    x_mm, y_mm = map_axes(box, step_mm)
    cell_mm2 = box.width_mm * box.height_mm / (len(x_mm) * len(y_mm))
    exitance = np.zeros((len(y_mm), len(x_mm)))
    for index, grid in enumerate(face.light.grids):
        own = face.diffuser.transmittance * face.light.bounced(grid, x_mm, y_mm)
        # widened by the cell, so that a coarse grid neither misses nor doubles a dot
        own = own + face.diffuser.diffuse * face.light.direct(grid, x_mm, y_mm, spread_mm=step_mm / 2)
        exitance += _flux_of(face, index) * own
    dx = places[:, 0, None, None] - x_mm[None, None, :]
    dy = places[:, 1, None, None] - y_mm[None, :, None]
    rise = places[:, 2, None, None]
    squared = dx**2 + dy**2 + rise**2
    # both cosines times R: from the face's axis, and from the target's normal
    to_target = np.maximum(-(dx * normal[0] + dy * normal[1] + rise * normal[2]), 0.0)
    weight = np.maximum(rise, 0.0) * to_target / squared**2
    return np.asarray(np.einsum("pyx,yx->p", weight, exitance) * (cell_mm2 / math.pi * 1e6))


def _directed_part(face: LitFace, places: FloatArray, normal: FloatArray) -> FloatArray:
    total = np.zeros(len(places))
    if face.diffuser.regular <= 0 and not face.diffuser.lobes:
        return total
    block = max(1, _MOST_AT_ONCE // max(grid.source.flux.size for grid in face.light.grids))
    for grid_index, grid in enumerate(face.light.grids):
        flux_lm = _flux_of(face, grid_index)
        for first in range(0, len(places), block):
            part = slice(first, first + block)
            total[part] += flux_lm * _from_emitters(face, grid, places[part], normal)
    return total * 1e6


def _from_emitters(face: LitFace, grid: GridLight, places: FloatArray, normal: FloatArray) -> FloatArray:
    """Illuminance per lumen of one grid's emitters at places, in lm/mm^2; nothing at or behind the face."""
    box, sheet, source = face.light.box, face.diffuser, grid.source
    in_front = places[:, 2] > 0
    rise = np.where(in_front, places[:, 2] + grid.depth_mm, grid.depth_mm)[:, None, None]
    dx = places[:, 0, None, None] - source.x_mm[None, :, None]
    dy = places[:, 1, None, None] - source.y_mm[None, None, :]
    squared = dx**2 + dy**2 + rise**2
    share = grid.depth_mm / rise
    crossing_x, crossing_y = source.x_mm[None, :, None] + share * dx, source.y_mm[None, None, :] + share * dy
    free = (crossing_x > 0) & (crossing_x < box.width_mm) & (crossing_y > 0) & (crossing_y < box.height_mm)
    intensity = sheet.regular * axial_intensity_cd(1.0, source.power) * (rise / np.sqrt(squared)) ** source.power
    if sheet.lobes:
        sine = np.sqrt((dx**2 + dy**2) / squared)
        for lobe in sheet.lobes:
            intensity = intensity + lobe.transmittance * lobe_intensity(sine, source.power, lobe.sigma)
    to_target = np.maximum(-(dx * normal[0] + dy * normal[1] + rise * normal[2]), 0.0)
    arriving = free * intensity * to_target / squared**1.5
    return np.asarray(np.where(in_front, np.einsum("pxy,xy->p", arriving, source.flux), 0.0))


def lobe_intensity(sine: FloatArray, power: float, sigma: float) -> FloatArray:
    """Intensity per lumen of an emitter behind a scattering lobe of unit transmittance.

    I(v) = cos(v) * integral over the unit disc of I(s) / cos(s) * lobe(beta_v - beta_s) / N(beta_s).

    Parameters
    ----------
    sine:
        sin of the angle from the axis, any shape.
    """
    table = _lobe_table(power, sigma)
    return np.asarray(np.interp(sine, _TABLE_SINES, table) * np.sqrt(np.maximum(1.0 - np.asarray(sine) ** 2, 0.0)))


@functools.lru_cache(maxsize=32)
def _lobe_table(power: float, sigma: float) -> FloatArray:
    beta_out = _TABLE_SINES
    beta_in = (np.arange(_RINGS) + 0.5) / _RINGS
    angle = (np.arange(_SPOKES) + 0.5) * (2.0 * math.pi / _SPOKES)
    ring = (
        axial_intensity_cd(1.0, power) * np.sqrt(1.0 - beta_in**2) ** (power - 1.0) / lobe_share_inside(beta_in, sigma)
    )
    ring *= beta_in / _RINGS * (2.0 * math.pi / _SPOKES) / (2.0 * math.pi * sigma**2)
    distance2 = (
        beta_out[:, None, None] ** 2
        + beta_in[None, :, None] ** 2
        - 2.0 * beta_out[:, None, None] * beta_in[None, :, None] * np.cos(angle)
    )
    lobe = np.exp(-distance2 / (2.0 * sigma**2)).sum(axis=2)
    return np.asarray(lobe @ ring)


def _flux_of(face: LitFace, grid_index: int) -> float:
    return sum(share.flux_lm for share in face.light.shares if share.grid_index == grid_index)
