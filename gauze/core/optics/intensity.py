"""The lamp from far away: its luminous intensity in every direction of the C planes."""

import numpy as np

from gauze.core.layout.model import FloatArray
from gauze.core.materials.distribution import axial_intensity_cd
from gauze.core.optics.box_light import GridLight
from gauze.core.optics.face import LitFace
from gauze.core.optics.target import lobe_intensity


def intensity_cd(face: LitFace, gamma_deg: FloatArray, c_deg: FloatArray) -> FloatArray:
    """Luminous intensity of the face, far field.

    What leaves evenly follows the cosine, I = (flux / pi) cos(gamma). What leaves in a lobe or straight on comes
    from each LED with the intensity that the sheet leaves it, as long as the straight way from the LED in that direction
    passes the sheet and does not meet a wall first.

    Parameters
    ----------
    gamma_deg:
        Angles from the axis, 0 to 90, shape (n,).
    c_deg:
        C planes, 0 along +x and 90 along +y as seen from the front, shape (m,).

    Returns
    -------
    Array of shape (m, n).
    """
    gamma, plane = np.radians(gamma_deg), np.radians(c_deg)
    total = np.outer(np.ones(len(plane)), _even_flux_lm(face) / np.pi * np.cos(gamma))
    for index, grid in enumerate(face.light.grids):
        flux_lm = sum(share.flux_lm for share in face.light.shares if share.grid_index == index)
        total += flux_lm * _directed(face, grid, gamma)[None, :] * _free_share(face, grid, gamma, plane)
    return np.asarray(total)


def _even_flux_lm(face: LitFace) -> float:
    """Flux that leaves evenly: bounced light, and the diffuse share of the direct."""
    total = 0.0
    for share in face.light.shares:
        grid = face.light.grids[share.grid_index]
        bounced = face.diffuser.transmittance * (grid.lid_share - grid.direct_share)
        total += share.flux_lm * (bounced + face.diffuser.diffuse * grid.direct_share)
    return total


def _directed(face: LitFace, grid: GridLight, gamma: FloatArray) -> FloatArray:
    """Intensity per lumen of one LED behind the sheet, without walls."""
    power, sheet = grid.source.power, face.diffuser
    intensity = sheet.regular * axial_intensity_cd(1.0, power) * np.cos(gamma) ** power
    for lobe in sheet.lobes:
        intensity = intensity + lobe.transmittance * lobe_intensity(np.sin(gamma), power, lobe.sigma)
    return np.asarray(intensity)


def _free_share(face: LitFace, grid: GridLight, gamma: FloatArray, plane: FloatArray) -> FloatArray:
    """Share of the grid's flux whose straight way in a direction passes the sheet, shape (planes, gammas)."""
    box, source = face.light.box, grid.source
    reach = grid.depth_mm * np.tan(np.minimum(gamma, np.radians(89.9)))
    share = np.zeros((len(plane), len(gamma)))
    for row, angle in enumerate(plane):
        x = source.x_mm[:, None] + reach[None, :] * np.cos(angle)
        y = source.y_mm[:, None] + reach[None, :] * np.sin(angle)
        inside_x = ((x > 0) & (x < box.width_mm)).astype(float)
        inside_y = ((y > 0) & (y < box.height_mm)).astype(float)
        share[row] = np.einsum("xg,xy,yg->g", inside_x, source.flux, inside_y)
    return share
