"""A measured photograph as it is shown: the picture with its corners, and the face squared up beside the prediction."""

import importlib
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.layout.model import FloatArray
from gauze.core.proving.face_figures import FaceFigures
from gauze.core.proving.fitting import Reading
from gauze.core.proving.photo_measure import (
    PhotoMeasured,
    measure_photo,
    photo_readings,
    predicted_figures,
    predicted_grid,
)
from gauze.core.proving.photograph import Photograph
from gauze.core.proving.squared import Correction
from gauze.core.srgb import values_of_light
from gauze.core.words import Fixed, Joined, Number, Text, say

_PICTURE_PX, _FACE_PX = 1000, 500
Pixels = NDArray[np.uint8]


@dataclass(frozen=True)
class PhotoShown:
    """What the window of a photograph shows.

    ``picture`` (rows, columns, 3) is the whole picture, reduced by ``scale``. ``photographed`` and ``predicted`` are the face
    on one scale of relative luminance, each over its own mean, the upper row first; None where nothing was measured.
    ``predicted_by`` are the prediction's figures, ``readings`` what the picture gives to a fit, ``exposed`` says how it was
    exposed.
    """

    measured: PhotoMeasured
    picture: Pixels
    scale: float
    photographed: FloatArray | None
    predicted: FloatArray | None
    predicted_by: FaceFigures | None
    readings: tuple[Reading, ...] = ()
    exposed: Text = ""


def show_photo(
    photo: Photograph,
    evaluation: Evaluation,
    corners_px: FloatArray | None,
    flat: Photograph | None,
    correction: Correction,
) -> PhotoShown:
    """Measure a photograph and make what is shown of it."""
    measured = measure_photo(photo, evaluation, corners_px, flat, correction)
    cv2: Any = importlib.import_module("cv2")
    scale = min(1.0, _PICTURE_PX / max(photo.width_px, photo.height_px))
    size = max(1, round(photo.width_px * scale)), max(1, round(photo.height_px * scale))
    step = max(1, int(0.5 / scale))
    light = photo.light(slice(None, None, step), slice(None, None, step))
    small = cv2.resize(light, size, interpolation=cv2.INTER_AREA)
    picture = np.round(np.clip(values_of_light(small), 0.0, 1.0) * 255.0).astype(np.uint8)
    if measured.face is None or measured.figures is None:
        return PhotoShown(measured, picture, scale, None, None, None, exposed=_exposed(photo))
    grid = predicted_grid(evaluation)
    wide, high = grid.size_mm
    across = _FACE_PX if wide >= high else max(2, round(_FACE_PX * wide / high))
    down = max(2, round(across * high / wide))
    faces = [
        cv2.resize(one[::-1].astype(np.float32), (across, down), interpolation=cv2.INTER_AREA)
        for one in (measured.face.luminance, grid.luminance)
    ]
    seen, expected = (one / max(float(one.mean()), 1e-30) for one in faces)
    readings = tuple(photo_readings(measured, evaluation))
    return PhotoShown(
        measured, picture, scale, seen, expected, predicted_figures(evaluation), readings, _exposed(photo)
    )


def _exposed(photo: Photograph) -> Text:
    """Time, aperture and sensitivity as far as EXIF tells them."""
    notes = photo.notes
    if notes is None:
        return ""
    found: list[Text] = []
    if notes.exposure_s is not None:
        slow = notes.exposure_s >= 1.0
        found.append(
            say("{time} s", time=Number(notes.exposure_s))
            if slow
            else say("1/{part} s", part=Fixed(1.0 / notes.exposure_s, ".0f"))
        )
    if notes.f_number is not None:
        found.append(say("f/{stop}", stop=Number(notes.f_number)))
    if notes.iso is not None:
        found.append(say("ISO {speed}", speed=Fixed(notes.iso, ".0f")))
    return Joined.of(found) if found else ""
