"""Where things stand on the canvas, as plain numbers: no Qt, so that it is tested without a screen.

Plan and side cut share their horizontal scale and place. Pixels run right and down; the design's y runs up.
"""

from dataclasses import dataclass, replace

from gauze.core.layout import LightBox

MARGIN_LEFT, MARGIN_RIGHT, MARGIN_TOP = 92.0, 108.0, 50.0
PLAN_BELOW = 64.0  # room for the dimensions below the plan
CUT_BELOW = 18.0  # room for the scale below the cut
CUT_SHARE = 0.32  # of the canvas height
LEAST_PROFILE = 64.0
LEAST_ZOOM, MOST_ZOOM = 0.2, 40.0


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
class View:
    """How the design is laid on the canvas.

    ``scale`` is in pixels per mm; ``left`` and ``plan_bottom`` are the face's lower left corner on the plan;
    ``cut_bottom`` is the back's inner face in the side cut; ``cut_top`` the upper edge of the cut's area.
    """

    width: float
    height: float
    scale: float
    left: float
    plan_bottom: float
    cut_bottom: float
    cut_top: float
    box: LightBox

    def x(self, x_mm: float) -> float:
        """Pixel column of a place."""
        return self.left + x_mm * self.scale

    def y(self, y_mm: float) -> float:
        """Pixel row of a place on the plan."""
        return self.plan_bottom - y_mm * self.scale

    def z(self, z_mm: float) -> float:
        """Pixel row of a height in the side cut."""
        return self.cut_bottom - z_mm * self.scale

    def x_mm(self, x: float) -> float:
        """Place of a pixel column."""
        return (x - self.left) / self.scale

    def y_mm(self, y: float) -> float:
        """Place of a pixel row on the plan."""
        return (self.plan_bottom - y) / self.scale

    def z_mm(self, y: float) -> float:
        """Height of a pixel row in the side cut."""
        return (self.cut_bottom - y) / self.scale

    @property
    def plan(self) -> Rect:
        """The face on the plan."""
        height = self.box.height_mm * self.scale
        return Rect(self.left, self.plan_bottom - height, self.box.width_mm * self.scale, height)

    @property
    def cut(self) -> Rect:
        """The inside of the box in the side cut."""
        depth = self.box.inner_depth_mm * self.scale
        return Rect(self.left, self.cut_bottom - depth, self.box.width_mm * self.scale, depth)


def fit_view(width: float, height: float, box: LightBox) -> View:
    """Lay the whole design on a canvas of that size, as large as it goes."""
    width, height = max(width, 320.0), max(height, 320.0)
    cut_height = CUT_SHARE * height
    plan_height = height - cut_height
    scale = min(
        (width - MARGIN_LEFT - MARGIN_RIGHT) / box.width_mm,
        (plan_height - MARGIN_TOP - PLAN_BELOW) / box.height_mm,
        (cut_height - LEAST_PROFILE - CUT_BELOW - 30.0) / box.inner_depth_mm,
    )
    scale = max(scale, 1e-3)
    left = MARGIN_LEFT + (width - MARGIN_LEFT - MARGIN_RIGHT - box.width_mm * scale) / 2
    middle = MARGIN_TOP + (plan_height - MARGIN_TOP - PLAN_BELOW) / 2
    return View(
        width=width,
        height=height,
        scale=scale,
        left=left,
        plan_bottom=middle + box.height_mm * scale / 2,
        cut_bottom=height - CUT_BELOW,
        cut_top=plan_height,
        box=box,
    )


def zoomed(view: View, fitted: View, factor: float, x: float, y: float) -> View:
    """Zoom about a point of the plan, within bounds; the cut keeps its base and the common scale."""
    factor = min(max(view.scale * factor / fitted.scale, LEAST_ZOOM), MOST_ZOOM) * fitted.scale / view.scale
    return replace(
        view,
        scale=view.scale * factor,
        left=x - (x - view.left) * factor,
        plan_bottom=y - (y - view.plan_bottom) * factor,
    )


def panned(view: View, dx: float, dy: float) -> View:
    """Move the plan; the cut follows sideways only."""
    return replace(view, left=view.left + dx, plan_bottom=view.plan_bottom + dy)


def with_box(view: View, box: LightBox) -> View:
    """Keep scale and place while the box changes under the hand."""
    return replace(view, box=box)
