"""A photographed face squared up: straight on, on a grid of its own millimetres, with lens and vignetting taken out."""

import importlib
import math
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from gauze.core.errors import PhotoError
from gauze.core.layout.model import FloatArray
from gauze.core.proving.corners import BOW_SEEN, Found
from gauze.core.proving.photograph import LUMINANCE, Photograph

_MOST_CELLS = 800_000  # of the grid: finer than anything that is measured on it
_MOST_BEND = 0.4  # of a lens, either way
_LIKE = 0.02  # by which the shape of a picture of a flat field may differ
Correction = Literal["none", "exif", "flat"]
Image = NDArray[np.float32]


@dataclass(frozen=True)
class Lens:
    """Radial distortion about the middle of a picture: what should be at r is at r (1 + bend (r / half diagonal)^2)."""

    bend: float
    middle_px: tuple[float, float]
    half_px: float

    def bent(self, points: FloatArray) -> FloatArray:
        """Where straight places (..., 2) lie in the picture."""
        away = points - np.array(self.middle_px)
        square = np.sum(away**2, axis=-1, keepdims=True) / self.half_px**2
        return np.asarray(np.array(self.middle_px) + away * (1.0 + self.bend * square))

    def straight(self, points: FloatArray) -> FloatArray:
        """The other way round, by going back until it holds."""
        middle = np.array(self.middle_px)
        away = points - middle
        found = away.copy()
        for _ in range(12):
            square = np.sum(found**2, axis=-1, keepdims=True) / self.half_px**2
            found = away / (1.0 + self.bend * square)
        return np.asarray(middle + found)


@dataclass(frozen=True)
class SquaredFace:
    """The face on a grid: linear light (rows, columns, 3), the lowest row first, over that of the largest code.

    ``x_mm`` and ``y_mm`` are the middles of its cells from the lower left corner; ``clipped_share`` is the share of the face that
    was clipped; ``px_per_mm`` how finely it was photographed.
    """

    light: Image
    x_mm: FloatArray
    y_mm: FloatArray
    clipped_share: float
    px_per_mm: float
    lens: Lens

    @property
    def luminance(self) -> FloatArray:
        """Relative luminance, (rows, columns)."""
        return np.asarray(self.light @ LUMINANCE, float)


def lens_of(photo: Photograph, found: Found) -> Lens:
    """Return the distortion that makes the edges of the face straight; none where they bow too little to tell (plumb lines)."""
    from scipy.optimize import minimize_scalar

    middle = (photo.width_px - 1) / 2.0, (photo.height_px - 1) / 2.0
    half = math.hypot(photo.width_px, photo.height_px) / 2.0
    edges = [one for one in found.edges_px if len(one) > 8]
    if found.bow < BOW_SEEN or not edges:
        return Lens(0.0, middle, half)

    def crooked(bend: float) -> float:
        lens = Lens(bend, middle, half)
        left = 0.0
        for edge in edges:
            points = lens.straight(edge)
            away = points - points.mean(axis=0)
            left += float(np.linalg.svd(away, compute_uv=False)[1] ** 2) / len(edge)
        return left

    best = minimize_scalar(crooked, bounds=(-_MOST_BEND, _MOST_BEND), method="bounded", options={"xatol": 1e-5})
    return Lens(float(best.x) if best.fun < 0.5 * crooked(0.0) else 0.0, middle, half)


def squared(
    photo: Photograph,
    found: Found,
    size_mm: tuple[float, float],
    flat: Photograph | None = None,
    correction: Correction = "none",
) -> SquaredFace:
    """Square a face of some size up.

    ``correction`` takes vignetting out: by the picture of an even field through the same lens, or by the fourth power of the
    cosine at the focal length of EXIF.

    Raises
    ------
    PhotoError
        When the face is only a few pixels large, the flat field has another shape, or EXIF tells no focal length.
    """
    cv2: Any = importlib.import_module("cv2")
    lens = lens_of(photo, found)
    corners = lens.straight(found.corners_px)
    (wide, high), px = size_mm, _px_per_mm(corners, size_mm)
    if min(wide, high) * px < 8.0:
        raise PhotoError("The face is only a few pixels large: take the picture from nearer.")
    step = max(1.0 / px, math.sqrt(wide * high / _MOST_CELLS))
    columns, rows = max(round(wide / step), 8), max(round(high / step), 8)
    x, y = (np.arange(columns) + 0.5) * wide / columns, (np.arange(rows) + 0.5) * high / rows
    plane = np.array([[0.0, high], [wide, high], [wide, 0.0], [0.0, 0.0]], np.float32)
    way = cv2.getPerspectiveTransform(plane, corners.astype(np.float32))
    mesh = np.stack(np.meshgrid(x, y), axis=-1)
    places = lens.bent(cv2.perspectiveTransform(mesh.reshape(1, -1, 2), way.astype(float)).reshape(rows, columns, 2))
    return _sampled(cv2, photo, places, (x, y), lens, px, _shading(photo, flat, correction))


def _px_per_mm(corners: FloatArray, size_mm: tuple[float, float]) -> float:
    sides = np.hypot(*(np.roll(corners, -1, axis=0) - corners).T)
    return math.sqrt(float(max(sides[0], sides[2]) / size_mm[0] * max(sides[1], sides[3]) / size_mm[1]))


def _sampled(
    cv2: Any,
    photo: Photograph,
    places: FloatArray,
    axes: tuple[FloatArray, FloatArray],
    lens: Lens,
    px: float,
    shading: Image | None,
) -> SquaredFace:
    """Read the picture at the places of all cells, made coarser by areas first where these lie far apart."""
    low = np.floor(places.reshape(-1, 2).min(axis=0)).astype(int) - 8
    high = np.ceil(places.reshape(-1, 2).max(axis=0)).astype(int) + 9
    low = np.clip(low, 0, [photo.width_px - 1, photo.height_px - 1])
    high = np.clip(high, low + 1, [photo.width_px, photo.height_px])
    apart = float(axes[0][1] - axes[0][0]) * px
    factor = max(1, int(apart))
    fit = low, low + ((high - low) // factor) * factor
    fit = (low, np.maximum(fit[1], low + 1))
    rows, columns = slice(fit[0][1], fit[1][1]), slice(fit[0][0], fit[1][0])
    size = max(1, (columns.stop - columns.start) // factor), max(1, (rows.stop - rows.start) // factor)
    light = photo.light(rows, columns)
    if shading is not None:
        light = light / shading[rows, columns, None]
    clipped = photo.clipped(rows, columns).astype(np.float32)
    if factor > 1:
        light = cv2.resize(light, size, interpolation=cv2.INTER_AREA)
        clipped = cv2.resize(clipped, size, interpolation=cv2.INTER_AREA)
    local = ((places - fit[0] + 0.5) / factor - 0.5).astype(np.float32)
    how = {"interpolation": cv2.INTER_LINEAR, "borderMode": cv2.BORDER_REPLICATE}
    # OpenCV reads no more than 32767 columns at once: long faces are read in parts
    read = [
        (cv2.remap(light, one[:, :, 0], one[:, :, 1], **how), cv2.remap(clipped, one[:, :, 0], one[:, :, 1], **how))
        for one in np.array_split(local, max(1, local.shape[1] // 30_000 + 1), axis=1)
    ]
    face = np.concatenate([one for one, _ in read], axis=1)
    share = float(np.concatenate([one for _, one in read], axis=1).mean())
    return SquaredFace(face, *axes, share, px, lens)


def _shading(photo: Photograph, flat: Photograph | None, correction: Correction) -> Image | None:
    if correction == "flat":
        assert flat is not None
        return _flat_shading(photo, flat)
    if correction == "exif":
        return _cosine_shading(photo)
    return None


def _flat_shading(photo: Photograph, flat: Photograph) -> Image:
    """The light of an even field over its most, smooth."""
    cv2: Any = importlib.import_module("cv2")
    shape = photo.width_px / photo.height_px, flat.width_px / flat.height_px
    if abs(shape[0] / shape[1] - 1.0) > _LIKE:
        raise PhotoError(
            "The picture of the even field has another shape: take both with the same camera, held the same way."
        )
    step = max(1, max(flat.width_px, flat.height_px) // 800)
    coarse = flat.light(slice(None), slice(None)) @ LUMINANCE if step == 1 else None
    if coarse is None:
        whole = flat.light(slice(None, None, max(step // 2, 1)), slice(None, None, max(step // 2, 1))) @ LUMINANCE
        size = max(1, flat.width_px // step), max(1, flat.height_px // step)
        coarse = cv2.resize(whole, size, interpolation=cv2.INTER_AREA)
    smooth = cv2.GaussianBlur(np.ascontiguousarray(coarse, np.float32), (0, 0), 4.0)
    top = float(np.percentile(smooth, 99.5))
    if top <= 0.0 or float(smooth.min()) <= 0.05 * top:
        raise PhotoError("The picture of the even field is dark, or dark at an edge: take one of an evenly lit wall.")
    full = cv2.resize(smooth / top, (photo.width_px, photo.height_px), interpolation=cv2.INTER_LINEAR)
    return np.asarray(full, np.float32)


def _cosine_shading(photo: Photograph) -> Image:
    """The fourth power of the cosine from the axis of a simple lens."""
    focal = photo.focal_px
    if focal is None:
        raise PhotoError(
            "The picture does not record its focal length: correct it with a picture of an even field, or not at all."
        )
    x = np.arange(photo.width_px, dtype=np.float32) - (photo.width_px - 1) / 2.0
    y = np.arange(photo.height_px, dtype=np.float32) - (photo.height_px - 1) / 2.0
    square = (x[None] ** 2 + y[:, None] ** 2) / np.float32(focal**2)
    return np.asarray(1.0 / (1.0 + square) ** 2, np.float32)
