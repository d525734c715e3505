"""One design through all solvers, whatever its family."""

from collections.abc import Callable

from gauze.core.design import Design
from gauze.core.design.design import catalogue_of
from gauze.core.evaluate.cavity import evaluate_cavity
from gauze.core.evaluate.display import evaluate_display
from gauze.core.evaluate.evaluation import AT_REST, Detail, Evaluation
from gauze.core.evaluate.group import evaluate_group
from gauze.core.evaluate.panel import evaluate_panel
from gauze.core.layout import BuiltLayout, lay_out
from gauze.core.layout.pixel_display import DisplayLayout
from gauze.core.materials import Catalogue


def evaluate(
    design: Design,
    catalogue: Catalogue,
    detail: Detail = AT_REST,
    cancelled: Callable[[], bool] = lambda: False,
) -> Evaluation:
    """Lay a design out, light it and judge it.

    Raises
    ------
    DesignError
        When the design is invalid.
    Cancelled
        When ``cancelled()`` says so between two steps.
    """
    layout = lay_out(design, catalogue)
    if not isinstance(layout, BuiltLayout):
        return evaluate_panel(design, layout, catalogue, detail, cancelled)
    if isinstance(layout, DisplayLayout):
        return evaluate_display(design, layout, catalogue_of(design, catalogue), detail, cancelled)
    if layout.instances:
        return evaluate_group(design, layout, catalogue_of(design, catalogue), detail, cancelled)
    return evaluate_cavity(design, layout, catalogue_of(design, catalogue), detail, cancelled)
