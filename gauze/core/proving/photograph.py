"""A photograph as it was decoded: its codes, how they stand for light, and what the camera says of it."""

import importlib
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from gauze.core.layout.model import BoolArray, FloatArray
from gauze.core.srgb import light_of_values

Codes = NDArray[np.unsignedinteger[Any]]
LUMINANCE = np.array([0.2126, 0.7152, 0.0722], np.float32)  # of linear sRGB: IEC 61966-2-1
SRGB_TO_XYZ = np.array(  # linear sRGB to CIE 1931 XYZ, white D65: IEC 61966-2-1
    [[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]], np.float32
)
_FULL_FRAME_WIDTH_MM = 36.0


@dataclass(frozen=True)
class CameraNotes:
    """What EXIF says: focal length as on a frame 36 mm wide, whether the white balance was automatic, exposure; None unknown.

    ``from_camera`` says that a camera wrote the file, whose own tone curve may lie over the standard one.
    """

    focal_35_mm: float | None = None
    auto_white_balance: bool | None = None
    exposure_s: float | None = None
    f_number: float | None = None
    iso: float | None = None
    from_camera: bool = False


@dataclass(frozen=True)
class Photograph:
    """An upright picture.

    ``codes`` (rows, columns, 3), the upper row first, are what the file holds; ``light_of`` (top + 1,) is the light over that
    of the largest code for which each stands. ``linearised_from`` names the curve. ``grey`` says that it has no colours.
    ``notes`` is None without EXIF.
    """

    codes: Codes
    light_of: FloatArray
    top: int
    linearised_from: str
    grey: bool
    notes: CameraNotes | None

    @property
    def width_px(self) -> int:
        """Columns."""
        return int(self.codes.shape[1])

    @property
    def height_px(self) -> int:
        """Rows."""
        return int(self.codes.shape[0])

    @property
    def focal_px(self) -> float | None:
        """Focal length in pixels; None where EXIF does not tell it."""
        if self.notes is None or self.notes.focal_35_mm is None:
            return None
        return self.notes.focal_35_mm / _FULL_FRAME_WIDTH_MM * max(self.width_px, self.height_px)

    def light(self, rows: slice, columns: slice) -> NDArray[np.float32]:
        """Linear light of a part of it, (rows, columns, 3)."""
        part = np.ascontiguousarray(self.codes[rows, columns])
        table = self.light_of.astype(np.float32)
        if part.dtype == np.uint8 and part.size:
            cv2: Any = importlib.import_module("cv2")
            return np.asarray(cv2.LUT(part, table))
        return np.asarray(np.take(table, part))

    def clipped(self, rows: slice, columns: slice) -> BoolArray:
        """Which pixels of a part have a channel at its largest code, or one below."""
        part = self.codes[rows, columns] >= self.top - 1
        return np.asarray(part[:, :, 0] | part[:, :, 1] | part[:, :, 2])


def srgb_light(top: int) -> FloatArray:
    """Return the light of every code of a file by the curve of sRGB."""
    return np.asarray(light_of_values(np.arange(top + 1) / top))


def power_light(top: int, exponent: float) -> FloatArray:
    """Return the light of every code by a power of it; 1 for codes that are linear."""
    return np.asarray((np.arange(top + 1) / top) ** exponent)
