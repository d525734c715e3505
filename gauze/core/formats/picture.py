"""Pictures as PNG."""

import io
import math

import numpy as np
from PIL import Image

from gauze.core.evaluate import Evaluation
from gauze.core.optics.appearance import Picture, Viewing, false_colour, true_colour

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


def viewing_of(evaluation: Evaluation, room_lx: float, exposure_stops: float) -> Viewing:
    """Return the viewing in which the brightest place is a little short of white, opened by so many stops."""
    reflectance = evaluation.diffuser.outer_reflectance
    brightest = evaluation.evenness.max_cd_m2 + reflectance * room_lx / math.pi
    return Viewing(_HEADROOM * max(brightest, 1.0) / 2.0**exposure_stops, room_lx, reflectance)
