"""What a drawing of a build shows beyond its emitters: outlines, the sizes that are typed, and what can be dragged; no pixels.

A layout states its own drawing, so that a family is drawn, typed into and dragged without the interface knowing it.
"""

import math
from dataclasses import dataclass
from typing import Literal

from gauze.core.layout.model import FloatArray
from gauze.core.words import Text

Where = Literal["plan", "cut"]
OutlineRole = Literal[
    "body", "back", "partition", "strip", "sheet", "part", "dark", "lit", "path", "eye",
    "emitter", "label", "data", "supply", "hole", "dimension", "cut", "fold", "mark", "marked",
    "plus", "minus", "light-full", "light-fair", "light-poor", "light-least",
]  # fmt: skip
Kind = Literal["length", "count", "angle"]
Edge = Literal["left", "right", "above", "below"]


@dataclass(frozen=True)
class Outline:
    """A polygon or an open line of the drawing, shape (n, 2), in mm.

    ``marks_mm`` are lines across it, shape (k, 2, 2), as where a strip may be cut; None for none.
    """

    role: OutlineRole
    points_mm: FloatArray
    closed: bool = True
    words: Text = ""
    marks_mm: FloatArray | None = None


@dataclass(frozen=True)
class Measure:
    """A dimension line along an edge of the drawing, from ``start_mm`` to ``end_mm`` along it; it is an input.

    ``field`` is the path of the choice that it shows. A count or an angle stands as a text of its own, ``words`` after it.
    ``tier`` is how many lines lie between it and the drawing. A length with a ``text`` stands as that, which holds its value.
    Where a value is shown with an ``offset`` over the choice, ``key`` names the line apart from that of the choice.
    """

    field: str
    name: Text
    value: float
    where: Where
    edge: Edge
    start_mm: float
    end_mm: float
    kind: Kind = "length"
    words: Text = ""
    tier: int = 0
    text: Text = ""
    offset: float = 0.0
    key: str = ""


@dataclass(frozen=True)
class Handle:
    """A line that can be dragged: ``field`` grows by ``gain`` for each mm of the hand along ``direction``.

    ``snap`` is an offset and a step of values that attract, as where a whole number of segments fits. Values lie between
    ``least`` and ``most`` and are rounded to ``step``. ``visited`` says whether Tab stops here: of many alike one is enough.
    """

    field: str
    name: Text
    where: Where
    start_mm: tuple[float, float]
    end_mm: tuple[float, float]
    direction: tuple[float, float]
    value: float
    gain: float = 1.0
    snap: tuple[float, float] | None = None
    least: float = 0.1
    most: float = math.inf
    step: float = 0.1
    visited: bool = True


@dataclass(frozen=True, eq=False)  # by identity: an outline is an array, whose comparison is no yes or no
class MovableItem:
    """Something that is moved about the plan by hand: the n-th of its kind, with its outline."""

    kind: str
    index: int
    name: Text
    x_mm: float
    y_mm: float
    outline_mm: FloatArray


@dataclass(frozen=True)
class Together:
    """Several choices that are made at once: their paths with their values."""

    changes: tuple[tuple[str, object], ...]


@dataclass(frozen=True)
class Choice:
    """A choice that has no place on the drawing: one of a few, each with its words.

    A value may be :class:`Together`: several choices made at once.
    """

    field: str
    name: Text
    value: object
    options: tuple[tuple[object, Text], ...]


@dataclass(frozen=True)
class Entry:
    """A number or a text that has no place on the drawing."""

    field: str
    name: Text
    value: float | str
    kind: Literal["length", "count", "angle", "share", "text", "picture"]


@dataclass(frozen=True)
class Sketch:
    """The whole; ``seam`` says that the lit face lies over the plan, so that both are compared across the seam.

    ``plan_mm`` and ``cut_mm`` are what the drawings reach over: left, low, width, height. ``cut_axis`` names what runs to the
    right in the side cut.
    """

    plan_mm: tuple[float, float, float, float]
    cut_mm: tuple[float, float, float, float]
    plan: tuple[Outline, ...] = ()
    cut: tuple[Outline, ...] = ()
    measures: tuple[Measure, ...] = ()
    handles: tuple[Handle, ...] = ()
    movable_items: tuple[MovableItem, ...] = ()
    choices: tuple[Choice | Entry, ...] = ()
    notes: tuple[Text, ...] = ()
    seam: bool = False
    cut_axis: Literal["x", "y"] = "x"
