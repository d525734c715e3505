"""What all labels have in common, and how a figure is taken from one of several ways to state it."""

from dataclasses import dataclass
from typing import Annotated

import msgspec

from gauze.core.errors import DesignError
from gauze.core.words import Number, Text, Words, say

AGREES = 0.10  # within which two statements of one label say the same; common practice, no source
Name = Annotated[str, msgspec.Meta(min_length=1, max_length=80)]
Id = Annotated[str, msgspec.Meta(min_length=1, max_length=60)]
Count = Annotated[float, msgspec.Meta(ge=0, le=1_000_000)]


class Label(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """One thing on the shelf: ``on_hand`` of it, in pieces, or in metres where it is sold by length.

    None stands for what its label does not say.
    """

    id: Id
    name: Name
    on_hand: Count = 1.0


@dataclass(frozen=True)
class Statement:
    """One figure of a thing, and how it was got: from the label, computed of it, or typical."""

    name: Words
    value: Text
    how: Text
    typical: bool = False


@dataclass(frozen=True)
class Way:
    """One way in which a label may state a figure: the entry that says it, the value that it comes to, and how."""

    field: str
    value: float | None
    how: Text


def stated(ways: tuple[Way, ...], unit: str) -> Way | None:
    """Return the first way that the label goes; None where it says nothing.

    Raises
    ------
    DesignError
        When it says two things that differ by more than ``AGREES``.
    """
    said = [way for way in ways if way.value is not None]
    if not said:
        return None
    first = said[0]
    for other in said[1:]:
        assert first.value is not None
        assert other.value is not None
        if abs(other.value - first.value) > AGREES * max(first.value, other.value):
            raise DesignError(
                other.field,
                "The label says two things: {first} {unit} ({first_how}) and {second} {unit} ({second_how}). Correct one.",
                first=Number(first.value),
                second=Number(other.value),
                unit=unit,
                first_how=first.how,
                second_how=other.how,
            )
    return first


def over(value: float | None, divisor: float | None) -> float | None:
    """One over the other where both are known."""
    return None if value is None or divisor is None or divisor <= 0 else value / divisor


def times(*values: float | None) -> float | None:
    """The product where all are known."""
    product = 1.0
    for value in values:
        if value is None:
            return None
        product *= value
    return product


FROM_LABEL = say("the label")
