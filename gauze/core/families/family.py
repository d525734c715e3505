"""What is known of a family: the record that all other code asks, so that none of it names families."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from gauze.core.design import Design
from gauze.core.design.design import StandardKey
from gauze.core.design.surroundings import BodyKind, Surroundings
from gauze.core.layout import Layout
from gauze.core.layout.sketch import MovableItem
from gauze.core.materials import Catalogue
from gauze.core.parts import Parts
from gauze.core.words import Text

Change = Callable[[Design], Design]


def _no_edits(_design: Design, _item: MovableItem) -> list[tuple[Text, Change]]:
    return []


def _as_a_lamp(_build: object) -> StandardKey:
    return "clean"


def as_decoration(_build: object) -> StandardKey:
    """Return the usual standard of what decorates a wall or a room."""
    return "soft"


_USUAL = Surroundings()


@dataclass(frozen=True, kw_only=True)
class Family:
    """One family of builds.

    ``build`` is the class of its choices; the functions take an object of that class, so that their types are those of the
    family's own modules. Beside them stands what the drawing offers:

    counts
        Paths of choices of which a number says how many, where more takes a rule of its own: returns the changed design and
        raises :class:`~gauze.core.errors.DesignError` for a count that is invalid.
    item_edits
        What can be done with an item on the drawing besides moving it: names and changes.
    move_item
        Moves an item by so many mm from where it was drawn; None where nothing is moved.
    has_row_plan
        Whether its rows can be turned, and set against its depth.
    body_kind, usual_surroundings
        How a build of it loses its heat, and what it usually sits on.
    usual_standard
        How a build of it is looked at where nothing is chosen: see :mod:`gauze.core.evaluate.standards`.
    """

    build: type
    check: Callable[[Any, Catalogue], None]
    lay_out: Callable[[Any, Catalogue], Layout]
    parts: Callable[[Any, Any, Catalogue], Parts]
    counts: Mapping[str, Callable[[Design, float], Design]] = field(default_factory=dict)
    item_edits: Callable[[Design, MovableItem], list[tuple[Text, Change]]] = _no_edits
    move_item: Callable[[Design, MovableItem, float, float], Design] | None = None
    has_row_plan: bool = False
    usual_standard: Callable[[Any], StandardKey] = _as_a_lamp
    body_kind: BodyKind = "box"
    usual_surroundings: Surroundings = _USUAL
