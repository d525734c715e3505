"""What all searches share: the present design, quick trials of changed ones, and the words for their cost."""

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import msgspec

from gauze.core.design import Design
from gauze.core.design.design import catalogue_of
from gauze.core.design.fields import get_field, has_field, with_field
from gauze.core.errors import Cancelled, DesignError
from gauze.core.evaluate.evaluation import AT_REST, Detail, Evaluation
from gauze.core.evaluate.finding import Fix
from gauze.core.evaluate.stages import evaluate
from gauze.core.evaluate.standards import standard_of
from gauze.core.families import family_of
from gauze.core.layout import RowLayout, panel_layout
from gauze.core.materials import Catalogue
from gauze.core.words import Fixed, Text, say

_DETAIL = Detail(fineness=1.0, most_pixels=14_000, target_points=1)
# a cavity of another depth is meshed again each time
_DETAIL_OF_CAVITIES = Detail(fineness=0.5, most_pixels=10_000, target_points=1)

_AT_A_GLANCE = Detail(fineness=0.3, most_pixels=2_000, target_points=1)
_PIXELS_PER_PITCH = 4.0  # at three the dots of a tube are lost

_DEPTHS = (
    "build.depth_mm",
    "build.diameter_mm",
    "build.cavity.depth_mm",
)  # of a tube the diameter is what brings its wall away from the strip


class Trial:
    """One search's view of the design: tries changes and writes them up."""

    def __init__(self, design: Design, catalogue: Catalogue, code: str, cancelled: Callable[[], bool]) -> None:
        self.design = design
        self.catalogue = catalogue_of(design, catalogue)
        self.code = code
        self._cancelled = cancelled
        self._detail = _DETAIL if family_of(design).has_row_plan else _DETAIL_OF_CAVITIES
        self.now = self._evaluate(design)
        finer = self._resolving(self.now)
        if finer > self._detail.most_pixels:
            self._detail = replace(self._detail, most_pixels=finer)
            self.now = self._evaluate(design)

    def shows_more(self, evaluation: Evaluation) -> bool:
        """Whether a change brings out dots that did not show before, as far as the standard minds."""
        viewing_mm = self.design.purpose.viewing_distance_mm
        allowed = max(self.now.dots.visibility(viewing_mm), standard_of(self.design).aim)
        return evaluation.dots.visibility(viewing_mm) > allowed

    @property
    def layout(self) -> RowLayout:
        """The panel as it is laid out."""
        return panel_layout(self.now.layout)

    def changed(self, **build_changes: Any) -> Design:
        """Return the design with other choices of its build."""
        return msgspec.structs.replace(self.design, build=msgspec.structs.replace(self.design.build, **build_changes))

    @property
    def depth_field(self) -> str | None:
        """Path of the choice that brings the sheet nearer or farther; None where a build has none."""
        return next((path for path in _DEPTHS if has_field(self.design, path)), None)

    @property
    def depth_name(self) -> Text:
        """That choice in words."""
        return say("Diameter") if (self.depth_field or "").endswith("diameter_mm") else say("Depth")

    @property
    def depth_mm(self) -> float:
        """That choice as it is; 0 where there is none."""
        return float(get_field(self.design, self.depth_field)) if self.depth_field is not None else 0.0

    def deeper(self, depth_mm: float) -> Design:
        """Return the design at another depth; loose emitters stay where they are."""
        if self.depth_field is None:
            return self.design
        changed: Design = with_field(self.design, self.depth_field, depth_mm)
        return changed

    def attempt(self, design: Design) -> Evaluation | None:
        """Evaluate a changed design, or return None when it is invalid."""
        try:
            return self._evaluate(design)
        except DesignError:
            return None

    def glance(self, design: Design) -> Evaluation | None:
        """Evaluate a changed design coarsely, to tell which of many are worth an attempt: enough for flux and evenness."""
        self._check()
        try:
            return evaluate(design, self.catalogue, _AT_A_GLANCE, self._cancelled)
        except DesignError:
            return None

    def fix(self, title: Text, evaluation: Evaluation, gain: Text = "") -> Fix:
        """Write a change up, with what it gains and what it does to output and watts."""
        cost = self._cost(evaluation)
        return Fix(title, say("{gain}\n{cost}", gain=gain, cost=cost) if gain else cost, evaluation.design)

    def _evaluate(self, design: Design) -> Evaluation:
        self._check()
        return evaluate(design, self.catalogue, self._detail, self._cancelled)

    def _check(self) -> None:
        if self._cancelled():
            raise Cancelled("The search was stopped.")

    def _resolving(self, evaluation: Evaluation) -> int:
        """Pixels in which the dots of the densest strip are seen: a long tube in few of them would show none."""
        pitches = [self.catalogue.strip(choice.strip).pitch_mm for choice in self.design.strips]
        step_mm = float(evaluation.x_mm[1] - evaluation.x_mm[0]) if len(evaluation.x_mm) > 1 else 0.0
        if not pitches or self._detail is _DETAIL or step_mm <= 0.0:
            return 0
        needed = len(evaluation.x_mm) * len(evaluation.y_mm) * (_PIXELS_PER_PITCH * step_mm / min(pitches)) ** 2
        return min(math.ceil(needed), AT_REST.most_pixels)

    def _cost(self, after: Evaluation) -> Text:
        flux = _change(self.now.output.out_lm, after.output.out_lm)
        if not after.supplies:
            return say("light out {flux}", flux=flux)
        watts = _change(sum(need.set_w for need in self.now.supplies), sum(need.set_w for need in after.supplies))
        return say("light out {flux}, watts {watts}", flux=flux, watts=watts)


def _change(before: float, after: float) -> Text:
    if before <= 0:
        return say("as before")
    percent = round(100.0 * (after / before - 1.0))
    return say("{percent} %", percent=Fixed(percent, "+d")) if percent else say("as before")


def least_that_holds(holds: Callable[[float], bool], low: float, high: float, tolerance: float) -> float | None:
    """Return the least value, to a tolerance, for which a question that turns from no to yes is answered yes.

    None when even ``high`` is not enough.
    """
    if not holds(high):
        return None
    while high - low > tolerance:
        middle = (low + high) / 2.0
        if holds(middle):
            high = middle
        else:
            low = middle
    return high
