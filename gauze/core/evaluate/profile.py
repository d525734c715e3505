"""The luminance along a cut through the face, with the band inside which a ripple passes."""

from dataclasses import dataclass, replace

import numpy as np

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.light import BoxFaceLight
from gauze.core.evaluate.standards import standard_of
from gauze.core.layout.model import FloatArray
from gauze.core.optics.visibility import Modulation

_SAMPLES_PER_PITCH = 16
_STRETCH = 3.0  # how many times the usual range of the profile lies below its tenth percentile
_LEAST_PIXELS = 4
_MOST_SAMPLES, _LEAST_SAMPLES = 1600, 240
_GAP_STEPS = 1.5  # from one point to the next, over the usual


@dataclass(frozen=True)
class Profile:
    """Luminance along x at one y, all arrays of shape (n,), in cd/m^2.

    ``trend`` is the running mean over ``pitch_mm``; a ripple of that pitch within ``threshold`` (a modulation) of it passes the
    design's standard from the viewing distance. ``pitch_mm`` is 0, and the threshold too, where nothing repeats along x.
    """

    x_mm: FloatArray
    luminance: FloatArray
    trend: FloatArray
    threshold: float
    pitch_mm: float

    def shown_range(self) -> tuple[float, float]:
        """Range of luminance to draw: from 0, or from higher where the face is so even that its ripple would not be seen."""
        most = float(self.luminance.max())
        usual = float(np.percentile(self.luminance, 10))
        headroom = 0.08 * most
        return max(0.0, usual - _STRETCH * (most - usual) - headroom), most + headroom

    def thinned(self, most: int) -> "Profile":
        """The same line thinned to about ``most`` points: each stretch keeps its darkest and its brightest."""
        stretches = max(most // 2, 1)
        if len(self.x_mm) <= 2 * stretches:
            return self
        long = -(-len(self.x_mm) // stretches)
        short = -len(self.x_mm) % long  # of the last stretch, filled up with its own last value
        values = np.pad(self.luminance, (0, short), mode="edge").reshape(-1, long)
        starts = np.arange(len(values)) * long
        kept = np.unique([starts + values.argmin(axis=1), starts + values.argmax(axis=1)])
        return replace(self, x_mm=self.x_mm[kept], luminance=self.luminance[kept], trend=self.trend[kept])

    def pieces(self) -> "list[Profile]":
        """The line in pieces: apart where no face is between."""
        steps = np.diff(self.x_mm)
        ends = np.flatnonzero(steps > _GAP_STEPS * steps.min(initial=np.inf)) + 1
        parts = (np.split(values, ends) for values in (self.x_mm, self.luminance, self.trend))
        return [
            replace(self, x_mm=x_mm, luminance=luminance, trend=trend)
            for x_mm, luminance, trend in zip(*parts, strict=True)
        ]

    @property
    def band(self) -> tuple[FloatArray, FloatArray]:
        """Lower and upper edge of the band in which a ripple passes."""
        return self.trend * (1.0 - self.threshold), self.trend * (1.0 + self.threshold)


def profile_at(evaluation: Evaluation, y_mm: float) -> Profile | None:
    """Cut a face at a height: of rows in a box at any fineness, of another in the pixels of its map; None where no face is."""
    if isinstance(evaluation.light, BoxFaceLight) and evaluation.shown is None:
        return _along_box(evaluation, evaluation.light, y_mm)
    return _along_map(evaluation, y_mm)


def _along_box(evaluation: Evaluation, light: BoxFaceLight, y_mm: float) -> Profile:
    box = light.layout.box
    ripple = _ripple_along_x(evaluation, light)
    wanted = _LEAST_SAMPLES if ripple is None else _SAMPLES_PER_PITCH * box.width_mm / ripple.pitch_mm
    count = int(min(max(wanted, _LEAST_SAMPLES), _MOST_SAMPLES))
    x_mm = (np.arange(count) + 0.5) * box.width_mm / count
    luminance = light.face.luminance_cd_m2(x_mm, np.array([y_mm]))[0].astype(float)
    if ripple is None:
        return Profile(x_mm, luminance, luminance, 0.0, 0.0)
    threshold = _most_that_passes(evaluation, ripple)
    trend = _running_mean(luminance, ripple.pitch_mm / (box.width_mm / count))
    return Profile(x_mm, luminance, trend, threshold, ripple.pitch_mm)


def _along_map(evaluation: Evaluation, v_mm: float) -> Profile | None:
    row = int(np.abs(evaluation.y_mm - v_mm).argmin())
    there = np.flatnonzero(evaluation.inside[row])
    if len(there) < _LEAST_PIXELS:
        return None
    u_mm, luminance = evaluation.x_mm[there], evaluation.luminance_cd_m2[row, there].astype(float)
    ripple = max(evaluation.dots.modulations, key=lambda one: one.amplitude, default=None)
    if ripple is None:
        return Profile(u_mm, luminance, luminance, 0.0, 0.0)
    threshold = _most_that_passes(evaluation, ripple)
    trend = _running_mean(luminance, ripple.pitch_mm / float(evaluation.x_mm[1] - evaluation.x_mm[0]))
    return Profile(u_mm, luminance, trend, threshold, ripple.pitch_mm)


def _most_that_passes(evaluation: Evaluation, ripple: Modulation) -> float:
    """Modulation up to which a ripple passes; 0, no band, where cells are meant to be seen or nobody looks."""
    standard = standard_of(evaluation.design)
    if standard.key in {"crisp", "light_only"}:
        return 0.0
    sensitivity = float(evaluation.dots.sensitivity(ripple, evaluation.design.purpose.viewing_distance_mm))
    return min(standard.passes_to / max(sensitivity, 1e-9), 1.0)


def _ripple_along_x(evaluation: Evaluation, light: BoxFaceLight) -> Modulation | None:
    """Return the strongest ripple that runs along x."""
    along = light.layout.row_direction == "along_width"
    kinds = ("dots", "alternate dots") if along else ("rows", "alternate rows")
    candidates = [ripple for ripple in evaluation.dots.modulations if ripple.kind in kinds]
    return max(candidates, key=lambda ripple: ripple.amplitude, default=None)


def _running_mean(values: FloatArray, window: float) -> FloatArray:
    """Mean over a window of (not whole) samples, narrowing towards the ends so that it stays centred."""
    count = len(values)
    middle = np.arange(count) + 0.5
    half = np.minimum(np.minimum(window / 2.0, middle), count - middle)
    edges = np.arange(count + 1)
    total = np.concatenate([[0.0], np.cumsum(values)])
    return np.asarray((np.interp(middle + half, edges, total) - np.interp(middle - half, edges, total)) / (2.0 * half))
