"""One design through all solvers, whatever its family."""

from collections.abc import Callable

from gauze.core.design import Design
from gauze.core.design.design import catalogue_of, check_design
from gauze.core.design.loose import LooseEmitters
from gauze.core.evaluate.evaluation import AT_REST, Detail, Evaluation
from gauze.core.evaluate.loose import evaluate_loose
from gauze.core.evaluate.panel import evaluate_panel
from gauze.core.layout import AnyLayout, LooseLayout, lay_out_strip_panel
from gauze.core.layout.loose import lay_out_loose
from gauze.core.materials import Catalogue


def lay_out(design: Design, catalogue: Catalogue) -> AnyLayout:
    """Check a design and lay it out; raises :class:`gauze.core.errors.DesignError`."""
    check_design(design, catalogue)
    own = catalogue_of(design, catalogue)
    if isinstance(design.build, LooseEmitters):
        return lay_out_loose(design.build, own)
    return lay_out_strip_panel(design.build, own)


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
        When the design cannot stand.
    Cancelled
        When ``cancelled()`` says so between two steps.
    """
    layout = lay_out(design, catalogue)
    if isinstance(layout, LooseLayout):
        return evaluate_loose(design, layout, catalogue_of(design, catalogue), detail, cancelled)
    return evaluate_panel(design, layout, catalogue, detail, cancelled)
