"""Evenness, colour, ripple and dark places of a face on a grid: the same for what is predicted and what was photographed.

Light is read with a disc of 2 % of the face's shorter side that lies wholly on the face.
"""

import importlib
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from gauze.core.layout.model import BoolArray, FloatArray
from gauze.core.optics.colour import uv_1976

DISC = 0.02  # diameter over the shorter side of the face
DARK = 0.9  # of the surroundings, below which a place is reported as dark
_AROUND = 0.16  # of the shorter side: as far as surroundings are looked for
_LEAST_LIT = 1e-6
_PERIODS = 4  # in the window over which a ripple is read
_BANDS = 12  # across the direction of a ripple, each read by itself
_MOST_DARK = 40
_DEEP = 0.04  # amplitude from which on the dips of a ripple come near to what counts as dark
Direction = Literal["x", "y"]


@dataclass(frozen=True)
class FaceGrid:
    """Light on a face: XYZ or any measure whose middle channel is the luminance, (rows, columns, 3), the lowest row first.

    ``inside`` says which cells lie on the face. Places count from its lower left corner, in mm.
    """

    xyz: FloatArray
    x_mm: FloatArray
    y_mm: FloatArray
    inside: BoolArray

    @property
    def step_mm(self) -> tuple[float, float]:
        """Distance of columns and of rows."""
        return _step(self.x_mm), _step(self.y_mm)

    @property
    def size_mm(self) -> tuple[float, float]:
        """Width and height of the grid."""
        across, up = self.step_mm
        return across * len(self.x_mm), up * len(self.y_mm)

    @property
    def luminance(self) -> FloatArray:
        """The middle channel."""
        return self.xyz[:, :, 1]


def _step(places: FloatArray) -> float:
    return float((places[-1] - places[0]) / (len(places) - 1)) if len(places) > 1 else 1.0


@dataclass(frozen=True)
class Ripple:
    """A ripple at one pitch: the direction along which the light varies, and its amplitude over the local mean."""

    direction: Direction
    pitch_mm: float
    amplitude: float


@dataclass(frozen=True)
class DarkPlace:
    """A place that is darker than what is around it: its middle, and its light over that of its surroundings."""

    x_mm: float
    y_mm: float
    share: float


@dataclass(frozen=True)
class FaceFigures:
    """What is measured on a face; ``colour_spread_uv`` is None for a grey one."""

    nine_min_over_max: float
    min_over_mean: float
    ripple: tuple[Ripple, ...]
    colour_spread_uv: float | None
    dark_places: tuple[DarkPlace, ...]


def figures_of(face: FaceGrid, pitches: Sequence[tuple[Direction, float]], *, grey: bool) -> FaceFigures:
    """Measure a face; ``pitches`` are those of the design, with the direction along which the light varies."""
    smooth, whole = _discs(face)
    mean = float(face.luminance[face.inside].mean())
    ripples = tuple(Ripple(way, pitch, ripple_of(face, way, pitch)) for way, pitch in pitches)
    return FaceFigures(
        _nine(face, smooth[:, :, 1], whole),
        float(smooth[:, :, 1][whole].min()) / max(mean, 1e-30),
        ripples,
        None if grey else _colour_spread(face, smooth, whole),
        dark_places(face, ripples),
    )


def _discs(face: FaceGrid) -> tuple[FloatArray, BoolArray]:
    """Light averaged over the disc about every cell, and where the disc lies wholly on the face."""
    cv2: Any = importlib.import_module("cv2")
    kernel = disc_kernel(DISC * min(face.size_mm) / 2.0, face.step_mm)
    weight = kernel / kernel.sum()
    smooth = cv2.filter2D(face.xyz.astype(np.float32), -1, weight, borderType=cv2.BORDER_REPLICATE)
    rows, columns = kernel.shape[0] // 2, kernel.shape[1] // 2
    padded = np.pad(face.inside, ((rows, rows), (columns, columns)))
    on_face = cv2.erode(padded.astype(np.uint8), (kernel > 0.5).astype(np.uint8), borderValue=0)
    whole = on_face[rows : padded.shape[0] - rows, columns : padded.shape[1] - columns].astype(bool)
    if not whole.any():  # a face no larger than its disc
        whole = face.inside
    return np.asarray(smooth, float), whole


def disc_kernel(radius_mm: float, step_mm: tuple[float, float]) -> Any:
    """Share of every cell that a disc about the middle one covers, by 7 x 7 points in each."""
    half = [max(math.ceil(radius_mm / step - 0.5), 0) for step in step_mm]
    fine = (np.arange(7) - 3) / 7.0
    x = ((np.arange(-half[0], half[0] + 1)[:, None] + fine) * step_mm[0]).ravel()
    y = ((np.arange(-half[1], half[1] + 1)[:, None] + fine) * step_mm[1]).ravel()
    covered = (x[None] ** 2 + y[:, None] ** 2 <= radius_mm**2).astype(np.float32)
    kernel = covered.reshape(2 * half[1] + 1, 7, 2 * half[0] + 1, 7).mean(axis=(1, 3))
    if kernel.sum() <= 0.0:
        kernel[half[1], half[0]] = 1.0
    return kernel.astype(np.float32)


def _nine(face: FaceGrid, luminance: FloatArray, whole: BoolArray) -> float:
    """Least over most of the discs in the middles of 3 x 3 equal parts; those that are not wholly on the face do not count."""
    (wide, high), found = face.size_mm, []
    for x in (wide / 6.0, wide / 2.0, 5.0 * wide / 6.0):
        for y in (high / 6.0, high / 2.0, 5.0 * high / 6.0):
            column = int(np.abs(face.x_mm - face.x_mm[0] + face.step_mm[0] / 2.0 - x).argmin())
            row = int(np.abs(face.y_mm - face.y_mm[0] + face.step_mm[1] / 2.0 - y).argmin())
            if whole[row, column]:
                found.append(float(luminance[row, column]))
    return min(found) / max(found) if found and max(found) > 0 else 0.0


def _colour_spread(face: FaceGrid, smooth: FloatArray, whole: BoolArray) -> float:
    """Largest distance of a disc's colour from that of the mean of the face, in u'v' (CIE 1976)."""
    mean = uv_1976(face.xyz[face.inside].mean(axis=0))
    lit = whole & (smooth.sum(axis=2) > _LEAST_LIT)
    if not lit.any():
        return 0.0
    return float(np.hypot(*(uv_1976(smooth[lit]) - mean).T).max())


# -- ripple ------------------------------------------------------------------------------------------------------------


def ripple_of(face: FaceGrid, direction: Direction, pitch_mm: float) -> float:
    """Amplitude of the first harmonic of a pitch over the local mean, the median over the face.

    In bands across the direction the light is averaged, then multiplied with a wave of the pitch and with a window of a few whole
    periods, by which a slope and other harmonics add nothing (a Hann window has its zeros there).
    """
    light, inside, step = (
        (face.luminance, face.inside, face.step_mm[0])
        if direction == "x"
        else (face.luminance.T, face.inside.T, face.step_mm[1])
    )
    columns = light.shape[1]
    periods = min(_PERIODS, int(columns * step / pitch_mm))
    if periods < 1 or pitch_mm < 2.0 * step:
        return 0.0
    window, wave = _window(periods * pitch_mm, pitch_mm, step)
    found = []
    for rows in np.array_split(np.arange(light.shape[0]), min(_BANDS, light.shape[0])):
        on = inside[rows]
        count = on.sum(axis=0)
        there = count > len(rows) // 2
        if there.sum() < len(window):
            continue
        band = np.where(there, (light[rows] * on).sum(axis=0) / np.maximum(count, 1), 0.0)
        whole = np.convolve(there.astype(float), np.ones(len(window)), mode="valid") > len(window) - 0.5
        mean = np.convolve(band, window, mode="valid")
        size = np.abs(np.convolve(band, wave, mode="valid"))
        found.append((2.0 * size / np.maximum(mean, 1e-30))[whole & (mean > 0.0)])
    every = np.concatenate(found) if found else np.zeros(0)
    return float(np.median(every)) if every.size else 0.0


def _window(long_mm: float, pitch_mm: float, step: float) -> tuple[FloatArray, Any]:
    """A window as long as told, of sum 1, and the same times a wave, of which a constant and a slope are taken out."""
    half = int(long_mm / 2.0 / step)
    at = np.arange(-half, half + 1) * step
    window = 0.5 + 0.5 * np.cos(2.0 * np.pi * at / long_mm) if long_mm > 1.5 * pitch_mm else np.ones(len(at))
    window = window / window.sum()
    wave = window * np.exp(-2j * np.pi * at / pitch_mm)
    basis = np.stack([window, window * at])
    scale = np.stack([np.ones(len(at)), at])
    wave = wave - np.linalg.solve(scale @ basis.T, scale @ wave) @ basis
    return window, wave


# -- dark places -------------------------------------------------------------------------------------------------------


def dark_places(face: FaceGrid, ripples: Sequence[Ripple]) -> tuple[DarkPlace, ...]:
    """Places that are darker than what surrounds them, the darkest first.

    Ripples that are deep enough to look like dips are averaged away over their pitches. The surroundings are the light with
    every dip filled that is narrower than a share of the face (a closing with a disc), the rim continued outwards so that its own
    fall is no dip.
    """
    cv2: Any = importlib.import_module("cv2")
    light, step = _coarse(face)
    rim = math.ceil(DISC * min(face.size_mm) / 2.0 / step) + 1  # within it no disc lies wholly on the face
    if min(light.shape) <= 4 * rim:
        return ()
    inside = _eroded(face, light.shape, rim)[rim:-rim, rim:-rim]
    light = light[rim:-rim, rim:-rim]
    if not light.size or light.max() <= 0.0:
        return ()
    smooth = cv2.blur(light.astype(np.float32), (3, 3), borderType=cv2.BORDER_REFLECT)
    radius = _AROUND * min(face.size_mm)
    deep = [one for one in ripples if one.amplitude > _DEEP]
    for one in deep:
        cells = max(1, round(one.pitch_mm / step)) | 1
        size = (cells, 1) if one.direction == "x" else (1, cells)
        smooth = cv2.blur(smooth, size, borderType=cv2.BORDER_REFLECT)
    reach = max(round((radius + max((one.pitch_mm for one in deep), default=0.0)) / step), 2)
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * reach + 1, 2 * reach + 1))
    around = cv2.copyMakeBorder(smooth, 2 * reach, 2 * reach, 2 * reach, 2 * reach, cv2.BORDER_REPLICATE)
    filled = cv2.morphologyEx(around, cv2.MORPH_CLOSE, disc)[2 * reach : -2 * reach, 2 * reach : -2 * reach]
    share = np.where(filled > 0.02 * float(smooth.max()), smooth / np.maximum(filled, 1e-30), 1.0)
    count, labels = cv2.connectedComponents(((share < DARK) & inside).astype(np.uint8), connectivity=8)
    found = [_dark(share, labels == number, step, rim) for number in range(1, min(count, 4 * _MOST_DARK))]
    return tuple(sorted(found, key=lambda one: one.share)[:_MOST_DARK])


def _coarse(face: FaceGrid) -> tuple[FloatArray, float]:
    """Luminance on square cells no finer than is needed, and their size."""
    cv2: Any = importlib.import_module("cv2")
    wide, high = face.size_mm
    step = max(min(wide, high) / 120.0, math.sqrt(wide * high / 400_000.0), *face.step_mm)
    size = max(1, round(wide / step)), max(1, round(high / step))
    return np.asarray(cv2.resize(face.luminance.astype(np.float32), size, interpolation=cv2.INTER_AREA)), step


def _eroded(face: FaceGrid, shape: tuple[int, int], rim: int) -> BoolArray:
    """Which coarse cells lie at least a disc's radius within the face."""
    cv2: Any = importlib.import_module("cv2")
    on = cv2.resize(face.inside.astype(np.float32), shape[::-1], interpolation=cv2.INTER_AREA) > 0.99
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * rim + 1, 2 * rim + 1))
    return np.asarray(cv2.erode(on.astype(np.uint8), disc, borderValue=1).astype(bool))


def _dark(share: FloatArray, where: BoolArray, step: float, rim: int) -> DarkPlace:
    """The middle of a dark place, weighted by how dark it is, and the light of its core."""
    rows, columns = np.nonzero(where)
    values = share[rows, columns]
    weight = DARK + 1e-6 - values
    x, y = (float((np.asarray(at) + rim + 0.5) @ weight / weight.sum()) * step for at in (columns, rows))
    return DarkPlace(x, y, float(values.min()))
