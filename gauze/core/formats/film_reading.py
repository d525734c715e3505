"""Reads pictures and animations for a display: each is brought to as many pixels as it has, by light, and keeps its shape."""

import io
import struct
import warnings

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageSequence

from gauze.core.effects.film import Film, light_of, values_of
from gauze.core.errors import FormatError
from gauze.core.layout.model import FloatArray

MOST_BYTES = 100_000_000
MOST_PICTURES = 1000
MOST_SECONDS = 600.0
_MOST_PIXELS = 16_000_000
_MOST_IN_ALL = 200_000_000  # of all its pictures together
_FORMATS = ("PNG", "GIF", "JPEG", "BMP", "WEBP")
_USUAL_MS = 100.0  # where a picture does not say how long it stands; common practice, no source
_DAMAGED = (OSError, ValueError, SyntaxError, EOFError, IndexError, KeyError, TypeError, struct.error)


def decode_film(data: bytes, name: str, columns: int, rows: int) -> Film:
    """Read a picture, or all pictures of an animation, for a display of so many pixels.

    Raises
    ------
    FormatError
        When it is none, is damaged, or is larger than can be played.
    """
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # of odd metadata, which are not read
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(data), formats=_FORMATS) as image:
                pictures, lengths_ms = _read(image, columns, rows)
    except (Image.DecompressionBombWarning, Image.DecompressionBombError):
        raise _too_large() from None
    except _DAMAGED:
        raise FormatError("It is not a picture, or it is damaged. Choose another.") from None
    until_s = np.cumsum(lengths_ms) / 1000.0
    if until_s[-1] > MOST_SECONDS:
        raise FormatError("It runs longer than {most} seconds: shorten it.", most=round(MOST_SECONDS))
    return Film(name, np.stack(pictures), until_s)


def _check_size(image: Image.Image) -> None:
    if image.width * image.height > _MOST_PIXELS:
        raise _too_large()


def _too_large() -> FormatError:
    return FormatError("It has more than {most} million pixels: make it smaller.", most=_MOST_PIXELS // 1_000_000)


def _read(image: Image.Image, columns: int, rows: int) -> tuple[list[NDArray[np.uint8]], list[float]]:
    pictures: list[NDArray[np.uint8]] = []
    lengths_ms: list[float] = []
    pixels = 0
    _check_size(image)
    for one in ImageSequence.Iterator(image):
        _check_size(one)
        pixels += one.width * one.height
        if pixels > _MOST_IN_ALL:
            raise FormatError(
                "Its pictures have more than {most} million pixels in all: make it smaller or shorter.",
                most=_MOST_IN_ALL // 1_000_000,
            )
        if len(pictures) == MOST_PICTURES:
            raise FormatError("It has more than {most} pictures: shorten it.", most=MOST_PICTURES)
        length = float(one.info.get("duration", 0.0))
        lengths_ms.append(length if 1.0 <= length < 1e9 else _USUAL_MS)
        pictures.append(values_of(_fitted(one, columns, rows)))
    return pictures, lengths_ms


def _fitted(image: Image.Image, columns: int, rows: int) -> FloatArray:
    """Return the light on each pixel, (rows, columns, 3), the first row below: all of the picture, dark beside it."""
    on_black = Image.new("RGBA", image.size, (0, 0, 0, 255))
    on_black.alpha_composite(image.convert("RGBA"))
    scale = min(columns / image.width, rows / image.height)
    wide, high = max(round(image.width * scale), 1), max(round(image.height * scale), 1)
    planes = [  # one after the other: as light they take four times as much memory
        np.asarray(Image.fromarray(light_of(np.asarray(plane))).resize((wide, high), Image.Resampling.BOX))
        for plane in on_black.convert("RGB").split()
    ]
    found = np.zeros((rows, columns, 3))
    left, top = (columns - wide) // 2, (rows - high) // 2
    found[top : top + high, left : left + wide] = np.stack(planes, axis=2)
    return found[::-1]
