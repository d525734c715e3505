"""Texts of the interface: one translation for the window and for what the core says."""

from collections.abc import Callable

from gauze.core.units import LengthUnit
from gauze.core.words import Reader, Text
from gauze.core.words.reader import as_written

_chosen: list[Callable[[str], str]] = [as_written]


def use_translation(translate: Callable[[str], str]) -> None:
    """Translate by a function from here on; what is shown already stays as it is."""
    _chosen[0] = translate


def tr(text: str) -> str:
    """Return a text of the window in the user's language."""
    return _chosen[0](text)


def reader(unit: LengthUnit) -> Reader:
    """Return the reader of the window, for what the core says: in the user's language, with lengths in a unit."""
    return Reader(unit, _chosen[0])


def told(error: Exception, unit: LengthUnit = LengthUnit.MM) -> str:
    """Write out what an error says, in the user's language."""
    return reader(unit).read_error(error)


def spoken(text: Text, unit: LengthUnit = LengthUnit.MM) -> str:
    """Write out what the core says, in the user's language."""
    return reader(unit).read(text)
