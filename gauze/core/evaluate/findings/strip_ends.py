"""Does the light reach the ends of a tube, a bar, or a side: what the cut marks leave dark."""

import numpy as np

from gauze.core.design.channel_bar import ChannelBar
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.evaluate.findings.row_ends import (
    cut_figure,
    end_light_figure,
    end_state,
    read_from_rim_mm,
)
from gauze.core.evaluate.light import CavityFaceLight, GroupFaceLight
from gauze.core.layout.pieces import StripPiece
from gauze.core.optics.cavity.face import CavityFace
from gauze.core.words import Length, Percent, Text, say

_NOTHING_MM = 0.5


def find_in_tube(evaluation: Evaluation) -> list[Finding]:
    """Judge the worst end of the strips of a tube."""
    light = evaluation.light
    if not isinstance(light, CavityFaceLight):
        return []
    return [_finding(evaluation, light.built.strips, [light.face], say("the cap"))]


def find_in_bars(evaluation: Evaluation) -> list[Finding]:
    """Judge the worst end of the strips of straight bars; mitred sides have corners instead."""
    light = evaluation.light
    if not evaluation.design.build_as(ChannelBar).bars or not isinstance(light, GroupFaceLight):
        return []
    lit = [face for face in light.faces if face.emitted_lm > 0]
    return [_finding(evaluation, light.built.strips, lit, say("the end of the bar"))] if lit else []


def _finding(evaluation: Evaluation, strips: tuple[StripPiece, ...], faces: list[CavityFace], where: Text) -> Finding:
    gap_mm = max(max(piece.start_gap_mm, piece.end_gap_mm) for piece in strips)
    share, read_mm = min(end_share(face) for face in faces)
    state = end_state(evaluation, share)
    opening = (
        say("The strip reaches {where}", where=where)
        if gap_mm < _NOTHING_MM
        else say("The strip stops {gap} short of {where}", gap=Length(gap_mm), where=where)
    )
    worst = max(strips, key=lambda piece: max(piece.start_gap_mm, piece.end_gap_mm))
    return Finding(
        code="strip ends",
        place="lay",
        state=state,
        sentence=say(
            "{opening}; the face there has {share} of the middle's light.", opening=opening, share=Percent(share)
        ),
        value=gap_mm,
        unit="mm",
        limit=None,
        figures=(
            cut_figure(say("Piece of {name}", name=worst.strip.name), worst),
            Figure(
                say("Shortfall"), Length(gap_mm), say("from {where} to the end of the strip, the worst", where=where)
            ),
            end_light_figure(share, read_mm),
        ),
        fixable=gap_mm >= _NOTHING_MM or state in (State.WATCH, State.FAILS),
    )


def end_share(face: CavityFace) -> tuple[float, float]:
    """Luminance at the worse end of a long face over that in its middle, averaged across it, and how far from the end in mm.

    A dark one has 0.
    """
    luminance = face.luminance_map()
    inside = face.chart.inside
    along = luminance.sum(axis=0) / np.maximum(inside.sum(axis=0), 1)
    along = along[inside.any(axis=0)]
    count = len(along)
    middle = float(along[round(0.4 * count) : max(round(0.6 * count), round(0.4 * count) + 1)].mean())
    step_mm = face.chart.step_mm
    wide_mm = float(inside.any(axis=1).sum()) * step_mm
    read_mm = read_from_rim_mm(count * step_mm, wide_mm)
    rim = int(read_mm / step_mm)
    return (float(min(along[rim], along[-1 - rim])) / middle if middle > 0 else 0.0), read_mm
