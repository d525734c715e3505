"""What one painting of the drawing shows, and how."""

from dataclasses import dataclass

from PyQt6.QtCore import QRectF

from gauze.core.design import Design
from gauze.core.evaluate import Evaluation
from gauze.core.layout import Layout
from gauze.core.layout.model import FloatArray
from gauze.core.layout.sketch import Handle, MovableItem
from gauze.core.units import LengthUnit
from gauze.ui.canvas.sheet import Sheet
from gauze.ui.theme import Theme
from gauze.ui.view_state import ViewState


@dataclass(frozen=True)
class Scene:
    """A design laid out, its light as far as it is known, and the light of another to compare it with."""

    design: Design
    layout: Layout
    evaluation: Evaluation | None
    other: Evaluation | None = None


@dataclass(frozen=True)
class Lively:
    """What stands out at the moment: what is held, focused or under the pointer; dimensions hovered, focused and refused."""

    what: Handle | MovableItem | None = None
    line: str | None = None
    hovered: str | None = None
    focused: str | None = None
    refused: str | None = None


@dataclass(frozen=True)
class Frame:
    """A scene on its sheet, as large as ``area``, looked at in a state, theme and unit.

    ``picked`` are outlines in the plan, (n, 2) in mm, of parts that are picked in a list or on the drawing; ``picked_in_cut``
    the same in the side cut.
    """

    area: QRectF
    scene: Scene
    sheet: Sheet
    state: ViewState
    theme: Theme
    unit: LengthUnit
    lively: Lively
    picked: tuple[FloatArray, ...] = ()
    picked_in_cut: tuple[FloatArray, ...] = ()
