"""Where a reading was taken: the place that a builder writes, and what is predicted there."""

import re
from dataclasses import dataclass
from typing import Literal

from gauze.core.errors import ReadingError
from gauze.core.printable import printable

SUPPLY, TARGET, FACE = "supply", "target", "face"
_NUMBERS = re.compile(r"\s*[-+]?[\d.]+(e[-+]?\d+)?\s*(,\s*[-+]?[\d.]+(e[-+]?\d+)?\s*){1,2}", re.IGNORECASE)
_PAD = re.compile(r"(?P<part>.+?)[\s/]+(?P<end>start|end|after\s+(?P<after>\d+))$")
End = Literal["start", "end", "after", ""]


@dataclass(frozen=True)
class Place:
    """A place: a part with an end or a cut mark of it, a place in mm, or a name (supply, target, face)."""

    part: str = ""
    end: End = ""
    after: int = 0
    mm: tuple[float, ...] = ()


def read_place(text: str) -> Place:
    """Read a place as it is written.

    Raises
    ------
    ReadingError
        When nothing is written, or numbers that are none.
    """
    text = text.strip()
    if not text:
        raise ReadingError("No place is given: write a part, supply, target, face, or x,y in mm.")
    if _NUMBERS.fullmatch(text):
        try:
            return Place(mm=tuple(float(one) for one in text.split(",")))
        except ValueError:
            raise ReadingError("“{place}” is no place: write x,y or x,y,z in mm.", place=printable(text, 60)) from None
    pad = _PAD.fullmatch(text)
    if pad is None:
        return Place(part=text)
    end: End = "after" if pad["after"] else "start" if pad["end"] == "start" else "end"
    return Place(part=pad["part"].strip(), end=end, after=int(pad["after"] or 0))
