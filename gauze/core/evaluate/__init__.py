"""Where the solvers are joined: a design evaluated, its findings, and the fixes that would help."""

from gauze.core.evaluate.cavity import CavityEvaluation
from gauze.core.evaluate.evaluation import AT_REST, SMALL_PICTURE, WHILE_DRAGGING, Detail, Evaluation
from gauze.core.evaluate.families import evaluate
from gauze.core.evaluate.finding import Caution, Figure, Finding, Fix, State
from gauze.core.evaluate.findings import find
from gauze.core.evaluate.fixes import search_fixes
from gauze.core.evaluate.group import GroupEvaluation
from gauze.core.evaluate.panel import BoxEvaluation, PanelEvaluation, panel_of
from gauze.core.layout import lay_out

__all__ = [
    "AT_REST",
    "SMALL_PICTURE",
    "WHILE_DRAGGING",
    "BoxEvaluation",
    "Caution",
    "CavityEvaluation",
    "Detail",
    "Evaluation",
    "Figure",
    "Finding",
    "Fix",
    "GroupEvaluation",
    "PanelEvaluation",
    "State",
    "evaluate",
    "find",
    "lay_out",
    "panel_of",
    "search_fixes",
]
