"""A pixel display through all solvers: every pixel on, for what is judged; and what it shows, for what is seen."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.design import Design
from gauze.core.errors import pausing
from gauze.core.evaluate.cavity import CavityEvaluation, evaluate_cavity
from gauze.core.evaluate.evaluation import Detail, Evaluation
from gauze.core.evaluate.panel import BoxEvaluation, evaluate_box
from gauze.core.evaluate.units import light_unit
from gauze.core.layout import BuiltLayout
from gauze.core.layout.model import BoolArray, FloatArray
from gauze.core.layout.pixel_display import DisplayLayout
from gauze.core.materials import Catalogue
from gauze.core.optics.box_light import Map, light_box
from gauze.core.optics.face import LitFace

_LIT = 0.5  # of the largest level: a pixel counts as on


@dataclass(frozen=True)
class Legibility:
    """How a text stands out: mean luminance in the middles of pixels that are on, and of those beside them that are off.

    ``letter_mm`` is the height of its letters.
    """

    letter_mm: float
    on_cd_m2: float
    off_cd_m2: float

    @property
    def contrast(self) -> float:
        """Michelson contrast; 0 when nothing is lit."""
        total = self.on_cd_m2 + self.off_cd_m2
        return (self.on_cd_m2 - self.off_cd_m2) / total if total > 0 else 0.0


@dataclass(frozen=True, kw_only=True)
class DisplayEvaluation(BoxEvaluation):
    """What is computed of a display without partitions; ``full_cd_m2`` is the map with every pixel on."""

    built: BuiltLayout
    full_cd_m2: Map
    legibility: Legibility | None = None


@dataclass(frozen=True, kw_only=True)
class CellsEvaluation(CavityEvaluation):
    """What is computed of a display between partitions; as above."""

    full_cd_m2: Map
    legibility: Legibility | None = None


AnyDisplay = DisplayEvaluation | CellsEvaluation


def evaluate_display(
    design: Design, layout: DisplayLayout, catalogue: Catalogue, detail: Detail, cancelled: Callable[[], bool]
) -> Evaluation:
    """Light and judge a laid-out display."""
    if layout.panel is not None:
        return _glow(design, layout, catalogue, detail, cancelled)
    return _cells(design, layout, catalogue, detail, cancelled)


def _glow(
    design: Design, layout: DisplayLayout, catalogue: Catalogue, detail: Detail, cancelled: Callable[[], bool]
) -> DisplayEvaluation:
    assert layout.panel is not None
    full = evaluate_box(design, layout.panel, layout, catalogue, detail, cancelled)
    fields = {name: getattr(full, name) for name in full.__dataclass_fields__}
    found = DisplayEvaluation(**fields, built=layout, full_cd_m2=full.luminance_cd_m2)
    if layout.shown_panel is None:
        return found
    pausing(cancelled)()
    light = light_box(layout.shown_panel.box, layout.shown_panel.emitters, detail.fineness, cancelled)
    shown = LitFace(light, full.diffuser, full.face.xyz_per_lumen)
    return replace(
        found, xyz=shown.xyz(full.x_mm, full.y_mm), legibility=_legibility(layout, replace(found, face=shown))
    )


def _cells(
    design: Design, layout: DisplayLayout, catalogue: Catalogue, detail: Detail, cancelled: Callable[[], bool]
) -> CellsEvaluation:
    full = evaluate_cavity(design, layout, catalogue, detail, cancelled)
    fields = {name: getattr(full, name) for name in full.__dataclass_fields__}
    found = CellsEvaluation(**fields, full_cd_m2=full.luminance_cd_m2)
    if layout.shown_unit is None:
        return found
    face = light_unit(layout.shown_unit, design.build.layers, catalogue, detail, pausing(cancelled))
    shown = replace(found, xyz=face.xyz())
    return replace(shown, legibility=_legibility(layout, shown))


def _legibility(layout: DisplayLayout, evaluation: AnyDisplay) -> Legibility | None:
    """Compare pixels that are on with those beside them that are off; nothing where no text is shown."""
    if layout.shown is None or not layout.letter_rows:
        return None
    levels = layout.shown.max(axis=0)
    on = levels > _LIT * max(float(levels.max()), 1e-9)
    beside = ~on & _neighbours(on)
    if not on.any() or not beside.any():
        return None
    luminance = _at_pixels(layout, evaluation)
    return Legibility(
        layout.letter_rows * layout.pitch_mm[1], float(luminance[on].mean()), float(luminance[beside].mean())
    )


def _neighbours(on: BoolArray) -> BoolArray:
    padded = np.pad(on, 1)
    return np.asarray(padded[:-2, 1:-1] | padded[2:, 1:-1] | padded[1:-1, :-2] | padded[1:-1, 2:])


def _at_pixels(layout: DisplayLayout, evaluation: AnyDisplay) -> FloatArray:
    """Luminance in the middles of all pixels, shape (rows, columns)."""
    if isinstance(evaluation, DisplayEvaluation):
        return evaluation.face.luminance_cd_m2(layout.pixels_mm[0, :, 0], layout.pixels_mm[:, 0, 1]).astype(float)
    columns = np.abs(evaluation.x_mm[None, :] - layout.pixels_mm[0, :, 0][:, None]).argmin(axis=1)
    rows = np.abs(evaluation.y_mm[None, :] - layout.pixels_mm[:, 0, 1][:, None]).argmin(axis=1)
    return evaluation.luminance_cd_m2[np.ix_(rows, columns)].astype(float)


def pixel_evenness(layout: DisplayLayout, evaluation: AnyDisplay) -> float:
    """Least over mean of the luminance in the middles of the pixels, every one on; 0 for a dark display."""
    columns = np.abs(evaluation.x_mm[None, :] - layout.pixels_mm[0, :, 0][:, None]).argmin(axis=1)
    rows = np.abs(evaluation.y_mm[None, :] - layout.pixels_mm[:, 0, 1][:, None]).argmin(axis=1)
    middles = evaluation.full_cd_m2[np.ix_(rows, columns)].astype(float)
    mean = float(middles.mean())
    return float(middles.min()) / mean if mean > 0 else 0.0
