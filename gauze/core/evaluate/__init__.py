"""Where the solvers are joined: a design evaluated, its findings, and the fixes that would help."""

from gauze.core.evaluate.evaluation import AT_REST, SMALL_PICTURE, WHILE_DRAGGING, Detail, Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, Fix, State
from gauze.core.evaluate.light import BoxFaceLight, CavityFaceLight, FaceLight, GroupFaceLight
from gauze.core.evaluate.questions import find, search_fixes
from gauze.core.evaluate.stages import evaluate
from gauze.core.evaluate.verdict import Verdict, verdict_of

__all__ = [
    "AT_REST",
    "SMALL_PICTURE",
    "WHILE_DRAGGING",
    "BoxFaceLight",
    "Caution",
    "CavityFaceLight",
    "Detail",
    "Evaluation",
    "FaceLight",
    "Figure",
    "Finding",
    "Fix",
    "GroupFaceLight",
    "State",
    "Verdict",
    "evaluate",
    "find",
    "search_fixes",
    "verdict_of",
]
