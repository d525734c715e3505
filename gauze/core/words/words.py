"""Sentences and quantities as data. ``str()`` of any of them is English, lengths in millimetres."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Self


class _Spoken:
    """What a reader can write out."""

    def __str__(self) -> str:
        from gauze.core.words.reader import ENGLISH  # noqa: PLC0415 - the reader knows all kinds of words

        return ENGLISH.read(self)  # type: ignore[arg-type]  # a base of just those kinds that it reads


@dataclass(frozen=True)
class Length(_Spoken):
    """A length in millimetres, written in the reader's unit."""

    mm: float
    with_unit: bool = True

    __str__ = _Spoken.__str__


@dataclass(frozen=True)
class Distance(_Spoken):
    """A distance across a room in millimetres, written in metres or feet."""

    mm: float

    __str__ = _Spoken.__str__


@dataclass(frozen=True)
class Number(_Spoken):
    """A number, written to some significant figures."""

    value: float
    significant: int = 3

    __str__ = _Spoken.__str__


@dataclass(frozen=True)
class Percent(_Spoken):
    """A share, written in per cent to some decimals."""

    share: float
    decimals: int = 0

    __str__ = _Spoken.__str__


@dataclass(frozen=True)
class Fixed(_Spoken):
    """A number written by a format of Python, such as ``+.4f``."""

    value: float
    spec: str

    __str__ = _Spoken.__str__


@dataclass(frozen=True)
class Words(_Spoken):
    """A template in English with places in braces, which a translation may put in another order, and what stands in them."""

    template: str
    values: "tuple[tuple[str, Text], ...]" = ()

    __str__ = _Spoken.__str__

    def __add__(self, other: "Words") -> "Words":
        """One sentence after another; both keep their own translation."""
        return Words("{first}{second}", (("first", self), ("second", other)))


@dataclass(frozen=True)
class Joined(_Spoken):
    """Several texts one after another, with a separator between them."""

    texts: "tuple[Text, ...]"
    separator: str = ", "

    __str__ = _Spoken.__str__

    @classmethod
    def of(cls, texts: "Sequence[Text]", separator: str = ", ") -> Self:
        """Join texts that lie in any sequence."""
        return cls(tuple(texts), separator)


Text = str | int | Length | Distance | Number | Percent | Fixed | Words | Joined
"""What can be read: words, quantities, and data such as names, which stay as they are (``str``)."""


def say(template: str, /, **values: Text) -> Words:
    """Return words: a template in English, which is what a translation is looked up by, and the values of its places."""
    return Words(template, tuple(values.items()))
