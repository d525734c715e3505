"""Texts and pictures as pixels: a plain alphabet of five by seven, drawn for Gauze."""

import numpy as np

from gauze.core.layout.model import FloatArray
from gauze.core.srgb import light_of_values

GLYPH_COLUMNS, GLYPH_ROWS = 5, 7
_SPACE = 1  # columns between letters

# each letter from above, rows of five as binary figures
_ALPHABET = {
    "A": (14, 17, 17, 31, 17, 17, 17), "B": (30, 17, 17, 30, 17, 17, 30), "C": (14, 17, 16, 16, 16, 17, 14),
    "D": (30, 17, 17, 17, 17, 17, 30), "E": (31, 16, 16, 30, 16, 16, 31), "F": (31, 16, 16, 30, 16, 16, 16),
    "G": (14, 17, 16, 19, 17, 17, 14), "H": (17, 17, 17, 31, 17, 17, 17), "I": (14, 4, 4, 4, 4, 4, 14),
    "J": (7, 2, 2, 2, 2, 18, 12), "K": (17, 18, 20, 24, 20, 18, 17), "L": (16, 16, 16, 16, 16, 16, 31),
    "M": (17, 27, 21, 21, 17, 17, 17), "N": (17, 25, 25, 21, 19, 19, 17), "O": (14, 17, 17, 17, 17, 17, 14),
    "P": (30, 17, 17, 30, 16, 16, 16), "Q": (14, 17, 17, 17, 21, 18, 13), "R": (30, 17, 17, 30, 20, 18, 17),
    "S": (15, 16, 16, 14, 1, 1, 30), "T": (31, 4, 4, 4, 4, 4, 4), "U": (17, 17, 17, 17, 17, 17, 14),
    "V": (17, 17, 17, 17, 17, 10, 4), "W": (17, 17, 17, 21, 21, 27, 17), "X": (17, 17, 10, 4, 10, 17, 17),
    "Y": (17, 17, 10, 4, 4, 4, 4), "Z": (31, 1, 2, 4, 8, 16, 31), "0": (14, 17, 19, 21, 25, 17, 14),
    "1": (4, 12, 4, 4, 4, 4, 14), "2": (14, 17, 1, 6, 8, 16, 31), "3": (30, 1, 1, 14, 1, 1, 30),
    "4": (2, 6, 10, 18, 31, 2, 2), "5": (31, 16, 30, 1, 1, 17, 14), "6": (6, 8, 16, 30, 17, 17, 14),
    "7": (31, 1, 2, 4, 8, 8, 8), "8": (14, 17, 17, 14, 17, 17, 14), "9": (14, 17, 17, 15, 1, 2, 12),
    ":": (0, 4, 4, 0, 4, 4, 0), ".": (0, 0, 0, 0, 0, 12, 12), ",": (0, 0, 0, 0, 12, 4, 8),
    "-": (0, 0, 0, 14, 0, 0, 0), "+": (0, 4, 4, 31, 4, 4, 0), "!": (4, 4, 4, 4, 4, 0, 4),
    "?": (14, 17, 1, 2, 4, 0, 4), "/": (1, 1, 2, 4, 8, 16, 16), "%": (25, 25, 2, 4, 8, 19, 19), "°": (12, 18, 18, 12, 0, 0, 0),
}  # fmt: skip
_UNKNOWN = (31, 31, 31, 31, 31, 31, 31)
_NARROW = {":": (1, 4), ".": (1, 3), ",": (1, 3), "!": (1, 4), "I": (1, 4)}  # columns that such letters use


def text_pixels(text: str, columns: int, rows: int) -> tuple[FloatArray, int]:
    """Return a text as levels 0 or 1 of shape (rows, columns), first row below, and the height of its letters in pixels.

    It stands in the middle, as large as whole pixels allow; where it is too long its end is cut off.
    """
    line = text_line(text)
    scale = max(min(columns // max(line.shape[1], 1), rows // GLYPH_ROWS), 1)
    drawn = np.kron(line, np.ones((scale, scale)))
    shown = drawn[: min(drawn.shape[0], rows), : min(drawn.shape[1], columns)]
    field = np.zeros((rows, columns))
    top, left = (rows - shown.shape[0]) // 2, (columns - shown.shape[1]) // 2
    field[top : top + shown.shape[0], left : left + shown.shape[1]] = shown
    return field[::-1].copy(), min(GLYPH_ROWS * scale, rows)


def text_line(text: str, like: str = "") -> FloatArray:
    """Return a text in one line, levels 0 or 1 of shape (GLYPH_ROWS, columns), first row above.

    Where ``like`` is given, each letter is as wide as that in its place.
    """
    glyphs = []
    for letter, other in zip(text.upper(), (like or text).upper(), strict=True):
        glyph = np.zeros((GLYPH_ROWS, 3)) if other == " " else _glyph(other)
        if letter != other:
            glyph = np.zeros_like(glyph)
        glyphs += [glyph, np.zeros((GLYPH_ROWS, _SPACE))]
    return np.concatenate(glyphs[:-1], axis=1) if glyphs else np.zeros((GLYPH_ROWS, 1))


def _glyph(letter: str) -> FloatArray:
    rows = _ALPHABET.get(letter, _UNKNOWN)
    bits = np.array([[row >> shift & 1 for shift in range(GLYPH_COLUMNS - 1, -1, -1)] for row in rows], dtype=float)
    first, last = _NARROW.get(letter, (0, GLYPH_COLUMNS))
    return bits[:, first:last]


def picture_pixels(lines: tuple[str, ...], columns: int, rows: int) -> FloatArray:
    """Return a picture as linear levels of red, green and blue, shape (3, rows, columns), first row below.

    Digits are sRGB; a picture of another size is cut off, or stands in the middle.
    """
    values = np.array([[int(line[i : i + 2], 16) for i in range(0, len(line), 2)] for line in lines], dtype=float)
    image = values.reshape(len(lines), -1, 3) / 255.0
    linear = light_of_values(image)
    field = np.zeros((rows, columns, 3))
    high, wide = min(rows, linear.shape[0]), min(columns, linear.shape[1])
    top, left = (rows - high) // 2, (columns - wide) // 2
    field[top : top + high, left : left + wide] = linear[:high, :wide]
    return np.ascontiguousarray(field[::-1].transpose(2, 0, 1))
