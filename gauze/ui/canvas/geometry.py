"""Rectangles and windows of the drawing, as plain numbers: no Qt, so that they are tested without a screen."""

from dataclasses import dataclass, replace
from typing import TypeVar

from gauze.core.layout.model import FloatArray

Place = TypeVar("Place", float, FloatArray)
Range = tuple[float, float, float, float]


@dataclass(frozen=True)
class Rect:
    """A rectangle in pixels."""

    x: float
    y: float
    width: float
    height: float

    @property
    def right(self) -> float:
        """Right edge."""
        return self.x + self.width

    @property
    def bottom(self) -> float:
        """Bottom edge."""
        return self.y + self.height

    def contains(self, x: float, y: float, slack: float = 0.0) -> bool:
        """Whether a point lies inside, or nearly."""
        return self.x - slack <= x <= self.right + slack and self.y - slack <= y <= self.bottom + slack


@dataclass(frozen=True)
class Window:
    """One drawing to scale: millimetres from (``left_mm``, ``low_mm``) upwards, in a rectangle of pixels."""

    rect: Rect
    scale: float
    left_mm: float
    low_mm: float
    mirrored: bool = False

    def x(self, value_mm: Place) -> Place:
        """Pixel of a place to the right, or of many."""
        if self.mirrored:
            return self.rect.right - (value_mm - self.left_mm) * self.scale
        return self.rect.x + (value_mm - self.left_mm) * self.scale

    def y(self, value_mm: Place) -> Place:
        """Pixel of a place upwards, or of many."""
        return self.rect.bottom - (value_mm - self.low_mm) * self.scale

    def at_mm(self, x: float, y: float) -> tuple[float, float]:
        """Millimetres under a pixel, beside the drawing too."""
        across = self.rect.right - x if self.mirrored else x - self.rect.x
        return self.left_mm + across / self.scale, self.low_mm + (self.rect.bottom - y) / self.scale

    def place_mm(self, x: float, y: float, beside_px: float = 0.0) -> tuple[float, float] | None:
        """Millimetres under a pixel; None more than so many pixels beside the drawing."""
        across = self.rect.x - beside_px <= x <= self.rect.x + self.rect.width + beside_px
        if not (across and self.rect.y - beside_px <= y <= self.rect.bottom + beside_px):
            return None
        return self.at_mm(x, y)

    def zoomed(self, factor: float, x: float, y: float) -> "Window":
        """Enlarged about a pixel."""
        rect = self.rect
        grown = Rect(x + (rect.x - x) * factor, y + (rect.y - y) * factor, rect.width * factor, rect.height * factor)
        return replace(self, rect=grown, scale=self.scale * factor)

    def moved(self, dx: float, dy: float) -> "Window":
        """Moved by pixels."""
        rect = self.rect
        return replace(self, rect=Rect(rect.x + dx, rect.y + dy, rect.width, rect.height))

    def held(self, reach_mm: Range) -> "Window":
        """The same scale and place for a drawing that has changed its size under the hand."""
        left, low, width, height = reach_mm
        bottom = self.y(low)
        x = self.x(left + width) if self.mirrored else self.x(left)
        rect = Rect(x, bottom - height * self.scale, width * self.scale, height * self.scale)
        return Window(rect, self.scale, left, low, self.mirrored)
