"""Pictures as PNG."""

import io
import itertools
import math

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from gauze.core.evaluate import Evaluation
from gauze.core.optics.appearance import Picture, Viewing, false_colour, true_colour

_BESIDE = 2  # pixels
_NEAREST_FIRST = sorted(itertools.product(range(-_BESIDE, _BESIDE + 1), repeat=2), key=lambda step: math.hypot(*step))
_HEADROOM = 1.25  # of white over the brightest place, so that its colour shows


def encode_png(picture: Picture) -> bytes:
    """Write a picture of shape (rows, columns, 3), or 4 with what is transparent, as PNG."""
    buffer = io.BytesIO()
    Image.fromarray(picture).save(buffer, format="PNG")
    return buffer.getvalue()


def face_picture(
    evaluation: Evaluation, *, room_lx: float = 0.0, exposure_stops: float = 0.0, false: bool = False
) -> Picture:
    """Picture of the lit face, one pixel for each cell of the map, first row at the top.

    Its shape is (rows, columns, 3); where the face does not fill the map it is (rows, columns, 4), transparent beside the face.
    """
    if false:
        even = evaluation.evenness
        picture = false_colour(evaluation.luminance_cd_m2, even.min_cd_m2, even.max_cd_m2)
    else:
        picture = true_colour(evaluation.xyz, viewing_of(evaluation, room_lx, exposure_stops))
    if evaluation.inside.all():
        return picture
    cut_out = np.empty((*picture.shape[:2], 4), np.uint8)
    cut_out[..., :3] = picture
    cut_out[..., 3] = np.where(evaluation.inside[::-1], 255, 0)
    return cut_out


def carried_on(picture: Picture) -> Picture:
    """Give the pixels next to a cut-out face the colour of the nearest on it, and take its transparency away.

    Drawn within the face's outline, which cuts through pixels, it has no seam. One without transparency stays as it is.
    """
    if picture.shape[2] == 3:
        return picture
    margin = 2 * _BESIDE
    rows, columns = picture.shape[:2]
    wide = np.zeros((rows + 2 * margin, columns + 2 * margin, 4), np.uint8)
    inner = wide[margin:-margin, margin:-margin]
    inner[...] = picture
    on_face = wide[..., 3] > 0
    missing = np.flatnonzero(_spread(_spread(on_face, 0), 1) & ~on_face)
    pixels, known = wide.view(np.uint32).ravel(), on_face.ravel()
    for down, right in _NEAREST_FIRST:
        source = missing + down * wide.shape[1] + right
        found = known[source]
        pixels[missing[found]] = pixels[source[found]]
        missing = missing[~found]
    return np.ascontiguousarray(inner[..., :3])


def _spread(mask: NDArray[np.bool_], axis: int) -> NDArray[np.bool_]:
    """True also beside what is true along an axis; the rim, which is false, comes round from the other side."""
    spread: NDArray[np.bool_] = np.any([np.roll(mask, step, axis) for step in range(-_BESIDE, _BESIDE + 1)], axis=0)
    return spread


def viewing_of(evaluation: Evaluation, room_lx: float, exposure_stops: float) -> Viewing:
    """Return the viewing in which the brightest place is a little short of white, opened by some stops."""
    reflectance = evaluation.diffuser.outer_reflectance
    brightest = evaluation.evenness.max_cd_m2 + reflectance * room_lx / math.pi
    return Viewing(_HEADROOM * max(brightest, 1.0) / 2.0**exposure_stops, room_lx, reflectance)
