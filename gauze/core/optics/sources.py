"""Emitters gathered on the lines of a grid, so that their light can be summed line by line."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from gauze.core.layout.model import EmitterSet, FloatArray
from gauze.core.materials.distribution import cosine_power


@dataclass(frozen=True)
class SourceGrid:
    """Emitters of one kind on the crossings of grid lines.

    Attributes
    ----------
    x_mm, y_mm:
        The distinct coordinates, shapes (nx,) and (ny,).
    flux:
        Flux at each crossing as a share of the whole, shape (nx, ny), summing to 1.
    z_mm:
        Height of the emitting faces above the back.
    power:
        m of the distribution cos^m.
    package_mm:
        Size of the emitting face along x and y.
    """

    x_mm: FloatArray
    y_mm: FloatArray
    flux: FloatArray
    z_mm: float
    power: float
    package_mm: tuple[float, float]


@dataclass(frozen=True)
class SourceShare:
    """One set of emitters as a flux on a grid that it may share with other sets."""

    grid_index: int
    flux_lm: float


def gather_sources(sets: Sequence[EmitterSet]) -> tuple[list[SourceGrid], list[SourceShare]]:
    """Put every emitter set on a grid; sets at the same places (the channels of a pixel) share one.

    Their light then differs by a factor only and is computed once.
    """
    grids: list[SourceGrid] = []
    makers: list[EmitterSet] = []
    shares: list[SourceShare] = []
    for emitters in sets:
        total_lm = float(emitters.flux_lm.sum())
        index = next((i for i, other in enumerate(makers) if _same_places(emitters, other)), None)
        if index is None:
            index = len(grids)
            grids.append(_to_grid(emitters))
            makers.append(emitters)
        shares.append(SourceShare(index, total_lm))
    return grids, shares


def _same_places(one: EmitterSet, other: EmitterSet) -> bool:
    return (
        one.z_mm == other.z_mm
        and one.half_angle_deg == other.half_angle_deg
        and one.package_mm == other.package_mm
        and len(one.x_mm) == len(other.x_mm)
        and np.array_equal(one.x_mm, other.x_mm)
        and np.array_equal(one.y_mm, other.y_mm)
        and _proportional(one.flux_lm, other.flux_lm)
    )


def _proportional(one: FloatArray, other: FloatArray) -> bool:
    return bool(np.allclose(one * other.sum(), other * one.sum(), rtol=1e-9, atol=0.0))


def _to_grid(emitters: EmitterSet) -> SourceGrid:
    x_mm, x_index = np.unique(np.round(emitters.x_mm, 6), return_inverse=True)
    y_mm, y_index = np.unique(np.round(emitters.y_mm, 6), return_inverse=True)
    flux = np.zeros((len(x_mm), len(y_mm)))
    total_lm = float(emitters.flux_lm.sum())
    # a set that is dimmed to nothing still has places; its share of light is then scaled by zero
    share = emitters.flux_lm / total_lm if total_lm > 0 else np.full(len(emitters.x_mm), 1.0 / len(emitters.x_mm))
    np.add.at(flux, (x_index, y_index), share)
    return SourceGrid(x_mm, y_mm, flux, emitters.z_mm, cosine_power(emitters.half_angle_deg), emitters.package_mm)
