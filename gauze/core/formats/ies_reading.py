"""Reads photometry of lamps and emitters: ANSI/IES LM-63 in its versions of 1986, 1991, 1995, 2002 and 2019.

The reader takes what the versions share and forgives what writers get wrong: any line breaks among the numbers, commas between
them, a missing first line, text after the end. It refuses what would make the light wrong, and says where.

Photometric types A and B, whose angles turn about other axes than type C's, are brought into type C by the directions that they
stand for (from memory: A is elevation over a level turn, B a tilt about the level axis across).
"""

import codecs
import math
import re
from dataclasses import dataclass

import numpy as np

from gauze.core.errors import FormatError
from gauze.core.layout.model import FloatArray
from gauze.core.printable import printable
from gauze.core.words import Fixed

MOST_BYTES = 4_000_000
_MOST_ANGLES = 2000
_MOST_VALUES = 400_000
_TYPE_C, _TYPE_B, _TYPE_A = 1, 2, 3
_RESAMPLED_GAMMA_DEG, _RESAMPLED_C_DEG = np.arange(0.0, 180.1, 2.5), np.arange(0.0, 360.1, 5.0)
_NUMBER = re.compile(r"[^\s,;]+")


@dataclass(frozen=True)
class Photometry:
    """A measured lamp.

    ``candela`` (c, gamma) already has all factors of the file in it; ``c_deg`` runs over the whole turn, or is the one plane 0 of
    a lamp that is alike all round. ``keywords`` are those of the head, such as LUMINAIRE.
    """

    version: str
    keywords: dict[str, str]
    gamma_deg: FloatArray
    c_deg: FloatArray
    candela: FloatArray
    watts: float

    @property
    def name(self) -> str:
        """What the file calls the lamp; empty when it does not."""
        return next((self.keywords[key] for key in ("LUMINAIRE", "LUMCAT", "LAMP") if self.keywords.get(key)), "")


def decode_ies(data: bytes) -> Photometry:
    """Read a file.

    Raises
    ------
    FormatError
        When the bytes are no photometry, break off, or hold angles or candela that cannot be; it says what and where.
    """
    if len(data) > MOST_BYTES:
        raise FormatError(
            "The file has {data} MB: too much for the photometry of one lamp.", data=Fixed(len(data) / 1000000.0, ".1f")
        )
    lines = data.removeprefix(codecs.BOM_UTF8).decode("latin-1").replace("\r\n", "\n").replace("\r", "\n").split("\n")
    tilt = next((index for index, line in enumerate(lines) if line.strip().upper().startswith("TILT=")), None)
    if tilt is None:
        raise FormatError("There is no line “TILT=”: this is not an IES LM-63 file, or its head is damaged.")
    version, keywords = _head(lines[:tilt])
    words = _Words(lines, tilt + 1)
    if lines[tilt].strip().upper().replace(" ", "").startswith("TILT=INCLUDE"):
        _skip_tilt(words)
    elif not lines[tilt].strip().upper().replace(" ", "").startswith("TILT=NONE"):
        raise FormatError(
            "Line {tilt}: the effect of tilt is in another file. Write it into this one (TILT=INCLUDE) or TILT=NONE.",
            tilt=tilt + 1,
        )
    return _body(words, version, keywords)


class _Words:
    """The numbers of a file in order, each known by its line."""

    def __init__(self, lines: list[str], first: int) -> None:
        self._words = [
            (match[0], first + n + 1) for n, line in enumerate(lines[first:]) for match in _NUMBER.finditer(line)
        ]
        self._next = 0

    def number(self, what: str) -> float:
        if self._next >= len(self._words):
            raise FormatError("The file ends before {what}: it is truncated. Restore it from a copy.", what=what)
        word, line = self._words[self._next]
        self._next += 1
        try:
            value = float(word)
        except ValueError:
            raise FormatError(
                "Line {line}: “{word}” is where {what} should be. Give a number there.",
                line=line,
                word=printable(word, 40),
                what=what,
            ) from None
        if not math.isfinite(value):
            raise FormatError(
                "Line {line}: {what} is “{word}”. Give a finite number.", line=line, what=what, word=printable(word, 40)
            )
        return value

    def whole(self, what: str, least: int, most: int) -> int:
        value = self.number(what)
        if value != int(value) or not least <= value <= most:
            line = self._words[self._next - 1][1]
            raise FormatError(
                "Line {line}: {what} is {value}; it must be a whole number from {least} to {most}.",
                line=line,
                what=what,
                value=Fixed(value, "g"),
                least=least,
                most=most,
            )
        return int(value)

    def numbers(self, what: str, count: int) -> FloatArray:
        return np.array([self.number(what) for _ in range(count)])


def _head(lines: list[str]) -> tuple[str, dict[str, str]]:
    first = lines[0].strip() if lines else ""
    version = first if first.upper().startswith(("IESNA", "IES:")) else "1986"
    keywords: dict[str, str] = {}
    last = ""
    for line in lines:
        match = re.match(r"\s*\[([^\]]{1,40})\]\s*(.*)", line)
        if match is None:
            continue
        key, value = match[1].strip().upper(), match[2].strip()
        if key == "MORE" and last:
            keywords[last] = f"{keywords[last]} {value}".strip()
        else:
            last = key.lstrip("_")
            keywords.setdefault(last, value)
    return version, keywords


def _skip_tilt(words: _Words) -> None:
    """Pass over how a lamp's output falls when it is tilted: emitters here do not mind."""
    words.number("the lamp's position")
    count = words.whole("the number of tilt angles", 1, _MOST_ANGLES)
    words.numbers("a tilt angle or factor", 2 * count)


def _body(words: _Words, version: str, keywords: dict[str, str]) -> Photometry:
    words.number("the number of lamps")
    words.number("the lumens of a lamp")
    factor = words.number("the multiplier of the candela")
    down = words.whole("the number of vertical angles", 1, _MOST_ANGLES)
    across = words.whole("the number of horizontal angles", 1, _MOST_ANGLES)
    if down * across > _MOST_VALUES:
        raise FormatError(
            "The file announces {down} x {across} values: more than the {most_values} that are read.",
            down=down,
            across=across,
            most_values=_MOST_VALUES,
        )
    kind = words.whole("the photometric type", 1, 3)
    words.whole("the unit of the opening", 1, 2)
    words.numbers("a size of the opening", 3)
    factor *= words.number("the ballast factor")
    factor *= words.number("the ballast-lamp factor, or what later versions keep for the future") or 1.0
    watts = words.number("the watts")
    vertical = _rising(words.numbers("a vertical angle", down), "vertical")
    horizontal = _rising(words.numbers("a horizontal angle", across), "horizontal")
    candela = words.numbers("a candela value", down * across).reshape(across, down) * factor
    if candela.min() < 0:
        raise FormatError("A candela value is below zero. Correct it.")
    if candela.max() <= 0:
        raise FormatError("All candela values are zero: the lamp gives no light. Give another file.")
    if kind == _TYPE_C:
        gamma, c, candela = _whole_turn(vertical, horizontal, candela)
    else:
        gamma, c, candela = _from_other_type(kind, vertical, horizontal, candela)
    return Photometry(version, keywords, gamma, c, candela, watts)


def _rising(angles: FloatArray, which: str) -> FloatArray:
    if len(angles) > 1 and not (np.diff(angles) > 0).all():
        raise FormatError("The {which} angles do not increase. Correct them.", which=which)
    return angles


def _whole_turn(gamma: FloatArray, c: FloatArray, candela: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Unfold the symmetry that the first and last plane of type C tell of."""
    if gamma[0] < 0 or gamma[-1] > 180 or len(gamma) < 2:
        raise FormatError(
            "The vertical angles of type C run within 0 to 180 degrees, at least two of them. Correct them."
        )
    if len(c) == 1:
        return gamma, np.array([0.0]), candela
    first, last = float(c[0]), float(c[-1])
    if (first, last) == (90.0, 270.0):  # alike left and right of the plane of 90 and 270
        c, candela = np.append(c, c[1:] + 180.0), np.vstack([candela, candela[-2::-1]])
        order = np.argsort(c % 360.0, kind="stable")
        c, candela = (c % 360.0)[order], candela[order]
        keep = np.append(True, np.diff(c) > 0)
        c, candela = c[keep], candela[keep]
        return gamma, np.append(c, 360.0), np.vstack([candela, candela[:1]])
    if first != 0 or last not in (90.0, 180.0, 360.0):
        if first == 0 and 180.0 < last < 360.0:  # the plane of 360 was left out
            return gamma, np.append(c, 360.0), np.vstack([candela, candela[:1]])
        raise FormatError(
            "The horizontal angles run from {first} to {last}: they must be one, or end at 90, 180 or"
            " 360. Correct them.",
            first=Fixed(first, "g"),
            last=Fixed(last, "g"),
        )
    while c[-1] < 360.0:
        c, candela = np.append(c, 2 * c[-1] - c[-2::-1]), np.vstack([candela, candela[-2::-1]])
    return gamma, c, candela


def _from_other_type(
    kind: int, vertical: FloatArray, horizontal: FloatArray, candela: FloatArray
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Read type A or B in the directions of type C."""
    from scipy.interpolate import RegularGridInterpolator

    if len(vertical) < 2 or vertical[0] < -90 or vertical[-1] > 90 or abs(horizontal).max() > 180:
        raise FormatError("The angles of photometric types A and B run from -90 to 90 degrees. Correct them.")
    for axis, angles in ((1, vertical), (0, horizontal)):
        if len(angles) > 1 and angles[0] == 0:  # alike on both sides
            mirrored = np.take(candela, np.arange(len(angles) - 1, 0, -1), axis=axis)
            candela = np.concatenate([mirrored, candela], axis=axis)
            if axis == 1:
                vertical = np.concatenate([-vertical[:0:-1], vertical])
            else:
                horizontal = np.concatenate([-horizontal[:0:-1], horizontal])
    if len(horizontal) == 1:
        horizontal, candela = np.array([-180.0, 180.0]), np.repeat(candela, 2, axis=0)
    c, gamma = (np.radians(grid) for grid in np.meshgrid(_RESAMPLED_C_DEG, _RESAMPLED_GAMMA_DEG, indexing="ij"))
    right, up, ahead = np.sin(gamma) * np.cos(c), np.sin(gamma) * np.sin(c), np.cos(gamma)
    if kind == _TYPE_A:
        turn, rise = np.arctan2(right, ahead), np.arcsin(np.clip(up, -1, 1))
    else:
        turn, rise = np.arcsin(np.clip(right, -1, 1)), np.arctan2(up, ahead)
    read = RegularGridInterpolator((horizontal, vertical), candela, bounds_error=False, fill_value=0.0)
    values = read(np.degrees(np.stack([turn, rise], axis=-1)))
    if values.max() <= 0:
        raise FormatError("There is no light within the angles of the file. Correct them.")
    return _RESAMPLED_GAMMA_DEG, _RESAMPLED_C_DEG, np.asarray(values)
