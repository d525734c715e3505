"""Where the solvers are joined: a design evaluated, its findings, and the fixes that would help."""

from gauze.core.evaluate.evaluation import AT_REST, WHILE_DRAGGING, Detail, Evaluation, evaluate
from gauze.core.evaluate.finding import Caution, Figure, Finding, Fix, State
from gauze.core.evaluate.findings import find
from gauze.core.evaluate.fixes import search_fixes

__all__ = [
    "AT_REST",
    "WHILE_DRAGGING",
    "Caution",
    "Detail",
    "Evaluation",
    "Figure",
    "Finding",
    "Fix",
    "State",
    "evaluate",
    "find",
    "search_fixes",
]
