"""What arrives at a target straight in front of the middle of the face."""

import functools
import math

import numpy as np

from gauze.core.layout.model import FloatArray
from gauze.core.optics.box_light import map_axes
from gauze.core.optics.distribution import axial_intensity_cd
from gauze.core.optics.face import LitFace
from gauze.core.optics.gaussian_sum import lobe_share_inside

_CELLS = 48  # of the face along its longer side; the integrand is smooth at any distance in use
_TABLE_SINES = np.linspace(0.0, 1.0, 65)
_RINGS, _SPOKES = 160, 96


def target_illuminance_lx(face: LitFace, distance_mm: float) -> float:
    """Illuminance on a plane parallel to the face, on its axis.

    What leaves the face evenly (diffuse and bounced light) is summed over the face as it is,
    E = sum of L cos^2(theta) dA / R^2, good at any distance. What leaves in the lobe or straight on is
    summed over the emitters, each with the intensity that the sheet leaves it towards the target; its
    place on the sheet is taken above the emitter, which is good from a few depths on.
    """
    return _even_part(face, distance_mm) + _directed_part(face, distance_mm)


def exposure_f_number(illuminance_lx: float, exposure_s: float, iso_speed: float, calibration: float = 250.0) -> float:
    """F-number of a right exposure by incident light: E = C N^2 / (t S), so N = sqrt(E t S / C).

    ISO 2720 allows a calibration constant C of 240 to 400 (from memory).
    """
    return math.sqrt(illuminance_lx * exposure_s * iso_speed / calibration)


def _even_part(face: LitFace, distance_mm: float) -> float:
    box = face.light.box
    step_mm = max(max(box.width_mm, box.height_mm) / _CELLS, min(box.width_mm, box.height_mm) / 400)
    x_mm, y_mm = map_axes(box, step_mm)
    squared = (y_mm[:, None] - box.height_mm / 2) ** 2 + (x_mm[None, :] - box.width_mm / 2) ** 2
    weight = distance_mm**2 / (squared + distance_mm**2) ** 2
    cell_mm2 = box.width_mm * box.height_mm / (len(x_mm) * len(y_mm))
    total = 0.0
    for index, grid in enumerate(face.light.grids):
        flux_lm = _flux_of(face, index)
        exitance = face.diffuser.transmittance * face.light.bounced(grid, x_mm, y_mm)
        # widened by the cell, so that a coarse grid neither misses nor doubles a dot
        exitance = exitance + face.diffuser.diffuse * face.light.direct(grid, x_mm, y_mm, spread_mm=step_mm / 2)
        total += flux_lm * float((weight * exitance).sum()) * cell_mm2 / math.pi
    return total * 1e6


def _directed_part(face: LitFace, distance_mm: float) -> float:
    box, sheet = face.light.box, face.diffuser
    total = 0.0
    for index, grid in enumerate(face.light.grids):
        source = grid.source
        reach_mm = distance_mm + grid.depth_mm
        squared = (source.x_mm[:, None] - box.width_mm / 2) ** 2 + (source.y_mm[None, :] - box.height_mm / 2) ** 2
        radius2 = squared + reach_mm**2
        sine = np.sqrt(squared / radius2)
        cosine = reach_mm / np.sqrt(radius2)
        intensity = sheet.regular * axial_intensity_cd(1.0, source.power) * cosine**source.power
        for lobe in sheet.lobes:
            intensity = intensity + lobe.transmittance * lobe_intensity(sine, source.power, lobe.sigma)
        total += _flux_of(face, index) * float((source.flux * intensity * cosine / radius2).sum())
    return total * 1e6


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
