"""A photograph of a lit face, measured as the prediction is: corners, squaring up, figures, and what to beware of."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from gauze.core.design.cavity import TubeShape
from gauze.core.errors import PhotoError
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.layout.model import BoolArray, FloatArray
from gauze.core.layout.pieces import StripPiece
from gauze.core.proving.corners import BOW_SEEN, Found, check_corners, find_corners, refined
from gauze.core.proving.face_figures import Direction, FaceFigures, FaceGrid, figures_of
from gauze.core.proving.fitting import Reading
from gauze.core.proving.photograph import SRGB_TO_XYZ, Photograph
from gauze.core.proving.squared import Correction, SquaredFace, squared

Code = Literal["clipped", "dark", "vignetting", "white_balance", "off_axis", "distortion", "tone_curve", "no_exif"]
CLIPPED_SEEN = 1e-4  # of the face; with less they are single hot pixels and not reported
DARK_LIGHT, LOST_LIGHT = 0.01, 0.0005  # of the largest code's: a mean below which noise counts, and nothing is left
OFF_AXIS = 1.2  # longer over shorter of two opposite sides, about 15 degrees off at an arm's length; common practice, no source
FALL_SEEN = 0.02  # by which a lens darkens the face towards its edge before it is reported
USUAL_FOCAL_35_MM = 26.0  # of a telephone's main camera, where EXIF tells none; common practice, no source


@dataclass(frozen=True)
class PhotoMeasured:
    """What a photograph gives; ``figures`` and ``face`` are None where it cannot be measured, ``problem`` says why."""

    width_px: int
    height_px: int
    linearised_from: str
    vignetting: Correction
    corners_px: FloatArray | None
    clipped_share: float | None
    figures: FaceFigures | None
    face: SquaredFace | None
    warnings: tuple[Code, ...]
    problem: PhotoError | None = None


def measure_photo(
    photo: Photograph,
    evaluation: Evaluation,
    corners_px: FloatArray | None = None,
    flat: Photograph | None = None,
    correction: Correction = "none",
) -> PhotoMeasured:
    """Measure a photograph of the face of a design; corners are found where none are given.

    What cannot be measured is noted in the result; nothing is raised.
    """
    found: Found | None = None
    try:
        if corners_px is None:
            found = find_corners(photo)
        else:
            check_corners(corners_px, photo.width_px, photo.height_px)
            found = Found(corners_px, refined(photo, corners_px).edges_px, refined(photo, corners_px).bow)
        face = squared(photo, found, seen_size_mm(evaluation), flat, correction)
    except PhotoError as error:
        corners = None if found is None else found.corners_px
        return _unmeasured(photo, correction, corners, error)
    mean = float(face.luminance.mean())
    warnings = _warnings(photo, found, face, mean, correction)
    if mean < LOST_LIGHT:
        problem = PhotoError("The face is too dark in the picture to be measured: expose it longer.")
        return PhotoMeasured(
            photo.width_px, photo.height_px, photo.linearised_from, correction, found.corners_px, face.clipped_share,
            None, face, warnings, problem,
        )  # fmt: skip
    grid = face_grid(face, evaluation)
    figures = figures_of(grid, pitches_of(evaluation), grey=photo.grey)
    return PhotoMeasured(
        photo.width_px, photo.height_px, photo.linearised_from, correction, found.corners_px, face.clipped_share,
        figures, face, warnings,
    )  # fmt: skip


def _unmeasured(
    photo: Photograph, correction: Correction, corners: FloatArray | None, error: PhotoError
) -> PhotoMeasured:
    found: list[Code] = ["dark"] if _is_dark(photo) else []
    found += _of_the_file(photo)
    return PhotoMeasured(
        photo.width_px,
        photo.height_px,
        photo.linearised_from,
        correction,
        corners,
        None,
        None,
        None,
        tuple(found),
        error,
    )


def _is_dark(photo: Photograph) -> bool:
    """Whether nothing in the whole picture is brighter than what counts as dark."""
    step = max(1, max(photo.width_px, photo.height_px) // 400)
    light = photo.light(slice(None, None, step), slice(None, None, step))
    return float(np.percentile(light.max(axis=2), 99.5)) < DARK_LIGHT


def _warnings(
    photo: Photograph, found: Found, face: SquaredFace, mean: float, correction: Correction
) -> tuple[Code, ...]:
    codes: list[Code] = []
    if face.clipped_share >= CLIPPED_SEEN:
        codes.append("clipped")
    if mean < DARK_LIGHT:
        codes.append("dark")
    if correction == "none" and _fall(photo, found.corners_px) > FALL_SEEN:
        codes.append("vignetting")
    if _is_oblique(found.corners_px):
        codes.append("off_axis")
    if found.bow >= BOW_SEEN:
        codes.append("distortion")
    return (*codes, *_of_the_file(photo))


def _of_the_file(photo: Photograph) -> list[Code]:
    """What the file itself warns of."""
    codes: list[Code] = []
    notes = photo.notes
    if notes is None:
        codes.append("no_exif")
    else:
        if notes.auto_white_balance and not photo.grey and photo.linearised_from != "raw":
            codes.append("white_balance")
        if notes.from_camera and photo.linearised_from == "sRGB":
            codes.append("tone_curve")
    return codes


def _fall(photo: Photograph, corners_px: FloatArray) -> float:
    """By how much a simple lens darkens the farthest corner of the face against its nearest place to the axis."""
    focal = photo.focal_px or USUAL_FOCAL_35_MM / 36.0 * max(photo.width_px, photo.height_px)
    away = np.hypot(*(corners_px - np.array([photo.width_px - 1, photo.height_px - 1]) / 2.0).T)
    return 1.0 - float((1.0 / (1.0 + (away.max() / focal) ** 2)) ** 2)


def _is_oblique(corners_px: FloatArray) -> bool:
    sides = np.hypot(*(np.roll(corners_px, -1, axis=0) - corners_px).T)
    pairs = ((sides[0], sides[2]), (sides[1], sides[3]))
    return any(max(pair) > OFF_AXIS * min(pair) for pair in pairs)


# -- the design's side -------------------------------------------------------------------------------------------------


def seen_size_mm(evaluation: Evaluation) -> tuple[float, float]:
    """Width and height of the face as a camera in front of it sees it: of a tube its length and diameter."""
    if _is_tube(evaluation):
        wide, high, _ = evaluation.opening_mm
        return wide, high
    return evaluation.light.size_mm


def _is_tube(evaluation: Evaluation) -> bool:
    return isinstance(evaluation.layout.cavity.shape, TubeShape) and not evaluation.layout.instances


def pitches_of(evaluation: Evaluation) -> list[tuple[Direction, float]]:
    """Pitches of the design with the direction along which the light varies: dots along the strips, rows across them."""
    along = _strips_along(evaluation)
    across: Direction = "y" if along == "x" else "x"
    found: list[tuple[Direction, float]] = []
    for one in evaluation.dots.modulations:
        pair = (across if "rows" in one.kind else along), round(one.pitch_mm, 3)
        if pair not in found:
            found.append(pair)
    return found


def _strips_along(evaluation: Evaluation) -> Direction:
    reach = {"x": 0.0, "y": 0.0}
    for piece in evaluation.layout.pieces:
        if isinstance(piece, StripPiece):
            reach["x"] += abs(piece.along[0]) * piece.length_mm
            reach["y"] += abs(piece.along[1]) * piece.length_mm
    return "x" if reach["x"] >= reach["y"] else "y"


def face_grid(face: SquaredFace, evaluation: Evaluation) -> FaceGrid:
    """Return a squared face in XYZ, with what of it lies on the face of the design."""
    return FaceGrid(np.asarray(face.light @ SRGB_TO_XYZ.T, float), face.x_mm, face.y_mm, _inside(face, evaluation))


def _inside(face: SquaredFace, evaluation: Evaluation) -> BoolArray:
    known = evaluation.inside
    if known.all() or _is_tube(evaluation):
        return np.ones(face.light.shape[:2], bool)
    shares = [
        np.clip(((at - at[0]) / max(float(at[-1] - at[0]), 1e-9) * (count - 1)).round().astype(int), 0, count - 1)
        for at, count in ((face.y_mm, known.shape[0]), (face.x_mm, known.shape[1]))
    ]
    return np.asarray(known[np.ix_(*shares)])


def predicted_grid(evaluation: Evaluation) -> FaceGrid:
    """Return the prediction on a grid of the same kind: of a tube as it is seen from the front."""
    xyz = np.moveaxis(evaluation.xyz, 0, 2)
    x, y = evaluation.x_mm - evaluation.x_mm[0], evaluation.y_mm - evaluation.y_mm[0]
    if not _is_tube(evaluation):
        steps = [float(at[1] - at[0]) if len(at) > 1 else 1.0 for at in (x, y)]
        return FaceGrid(xyz, x + steps[0] / 2.0, y + steps[1] / 2.0, evaluation.inside)
    _, high = seen_size_mm(evaluation)
    radius, rows = high / 2.0, max(len(y), 24)
    seen = (np.arange(rows) + 0.5) / rows * high
    angle = np.arcsin(np.clip((seen - radius) / radius, -1.0, 1.0))
    middle = float(y[-1]) / 2.0
    share = np.clip((middle + radius * angle) / max(float(y[1] - y[0]), 1e-9), 0, len(y) - 1)
    low = np.minimum(np.floor(share).astype(int), len(y) - 2)
    part = (share - low)[:, None, None]
    step = float(x[1] - x[0])
    return FaceGrid(xyz[low] * (1 - part) + xyz[low + 1] * part, x + step / 2.0, seen, np.ones((rows, len(x)), bool))


def predicted_figures(evaluation: Evaluation) -> FaceFigures:
    """Return the prediction's figures, measured as those of a photograph are."""
    return figures_of(predicted_grid(evaluation), pitches_of(evaluation), grey=False)


# -- a photograph as readings ------------------------------------------------------------------------------------------

PHOTO_METER, PHOTO_LIMIT = (
    "photo",
    0.04,
)  # of a place against another: what is left after squaring up; common practice, no source


def photo_readings(measured: PhotoMeasured, evaluation: Evaluation) -> list[Reading]:
    """Return the light of nine places of a photographed face as readings that only tell how they stand to each other."""
    if measured.face is None or measured.figures is None:
        return []
    light, (wide, high) = measured.face.luminance, seen_size_mm(evaluation)
    rows, columns = light.shape
    found = []
    for up in (1, 3, 5):
        for across in (1, 3, 5):
            row, column = rows * up // 6, columns * across // 6
            around = light[
                max(row - rows // 60, 0) : row + rows // 60 + 1,
                max(column - columns // 60, 0) : column + columns // 60 + 1,
            ]
            found.append((f"{wide * across / 6.0:.5g},{high * up / 6.0:.5g}", float(around.mean())))
    mean = sum(value for _, value in found) / len(found)
    predicted = float((evaluation.xyz[1] * evaluation.weight).sum())
    if mean <= 0.0 or _is_tube(evaluation):  # a tube's places in a picture are not those of its unrolled map
        return []
    return [
        Reading(
            "cd_m2",
            place,
            value / mean * predicted,
            PHOTO_LIMIT * value / mean * predicted,
            meter=PHOTO_METER,
            free_gain=True,
        )
        for place, value in found
    ]
