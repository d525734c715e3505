"""Where the solvers are joined: a design evaluated, its findings, and the fixes that would help."""

from gauze.core.evaluate.evaluation import AT_REST, WHILE_DRAGGING, Detail, Evaluation
from gauze.core.evaluate.families import evaluate, lay_out
from gauze.core.evaluate.finding import Caution, Figure, Finding, Fix, State
from gauze.core.evaluate.findings import find
from gauze.core.evaluate.fixes import search_fixes
from gauze.core.evaluate.loose import LooseEvaluation
from gauze.core.evaluate.panel import PanelEvaluation, panel_of

__all__ = [
    "AT_REST",
    "WHILE_DRAGGING",
    "Caution",
    "Detail",
    "Evaluation",
    "Figure",
    "Finding",
    "Fix",
    "LooseEvaluation",
    "PanelEvaluation",
    "State",
    "evaluate",
    "find",
    "lay_out",
    "panel_of",
    "search_fixes",
]
