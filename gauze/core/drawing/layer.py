"""A layer over the plan: what is drawn, by what it is, and a legend."""

from dataclasses import dataclass

from gauze.core.layout.sketch import Outline, OutlineRole
from gauze.core.words import Text


@dataclass(frozen=True)
class Legend:
    """What the roles of a layer's shapes mean, in words."""

    entries: tuple[tuple[OutlineRole, Text], ...]


@dataclass(frozen=True)
class Layer:
    """A display list: shapes in mm of the plan, in the order in which they are drawn."""

    key: str
    name: Text
    shapes: tuple[Outline, ...]
    legend: Legend
