"""Whether an eye sees the dots: the modulation at the emitters' pitches against the eye's contrast sensitivity."""

import functools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from gauze.core.layout.model import FloatArray, RowLayout
from gauze.core.optics.face import LitFace
from gauze.core.words import Text, say

NEAREST_MM, FARTHEST_MM = 50.0, 1_000_000.0
SAMPLES_PER_PITCH = 6
_MOST_PITCHES = 12  # of a line that are read, about its middle
_MOST_PERIODS = 4  # in the window over which a modulation is read
_MOST_LINES = 3  # rows, and places along the rows, that are read


_FIRST_HARMONIC = say("first harmonic over the mean, the median over the face")


@dataclass(frozen=True)
class Modulation:
    """A regular ripple of the luminance.

    ``amplitude`` is that of the first harmonic over the local mean, the median over the face; ``kind``
    is ``"dots"`` along the rows, ``"rows"`` across them, ``"alternate rows"`` at twice their spacing, or
    ``"alternate dots"`` at twice the pitch. ``how`` says how the amplitude was read.
    """

    kind: str
    pitch_mm: float
    amplitude: float
    how: Text = _FIRST_HARMONIC


def contrast_sensitivity(
    cycles_per_degree: FloatArray | float, luminance_cd_m2: float, area_deg2: FloatArray | float
) -> FloatArray:
    """Reciprocal of the least modulation that an eye sees.

    P. G. J. Barten, "Formula for the contrast sensitivity of the human eye", Proc. SPIE 5294 (2004), from memory:

        S(u) = 5200 exp(-0.0016 u^2 (1 + 100/L)^0.08) / sqrt((1 + 144/X0^2 + 0.64 u^2) (63/L^0.83 + 1/(1 - exp(-0.02 u^2))))

    Parameters
    ----------
    cycles_per_degree:
        Spatial frequency u, any shape, more than zero.
    luminance_cd_m2:
        Mean luminance L of what is looked at, more than zero.
    area_deg2:
        X0^2, the angular area of the face in square degrees; broadcasts with u.
    """
    u = np.asarray(cycles_per_degree, dtype=float)
    lens = np.exp(-0.0016 * u**2 * (1.0 + 100.0 / luminance_cd_m2) ** 0.08)
    size = 1.0 + 144.0 / np.asarray(area_deg2) + 0.64 * u**2
    noise = 63.0 / luminance_cd_m2**0.83 + 1.0 / -np.expm1(-0.02 * u**2)
    return np.asarray(5200.0 * lens / np.sqrt(size * noise))


def cycles_per_degree(pitch_mm: float, distance_mm: FloatArray | float) -> FloatArray:
    """Spatial frequency of a pitch seen from a distance."""
    return np.asarray(distance_mm, dtype=float) * math.tan(math.radians(1.0)) / pitch_mm


def angular_area_deg2(width_mm: float, height_mm: float, distance_mm: FloatArray | float) -> FloatArray:
    """Angular area of a face seen straight on, as the product of its two angles."""
    distance = np.asarray(distance_mm, dtype=float)
    angles = [np.degrees(2.0 * np.arctan(size / (2.0 * distance))) for size in (width_mm, height_mm)]
    return np.asarray(angles[0] * angles[1])


@dataclass(frozen=True)
class DotVisibility:
    """How far the ripples of a face can be seen.

    ``vanish_distance_mm`` is the distance beyond which no ripple is visible, 0 when none is visible at all;
    ``worst`` is the ripple that stays visible longest. With a ``camera_limit`` a camera looks: no model of the
    eye, but a plain limit of the modulation, whatever the distance.
    """

    modulations: tuple[Modulation, ...]
    mean_luminance_cd_m2: float
    face_mm: tuple[float, float]
    vanish_distance_mm: float
    worst: Modulation | None
    camera_limit: float | None = None

    def sensitivity(self, modulation: Modulation, distance_mm: FloatArray | float) -> FloatArray:
        """Contrast sensitivity for a ripple from a distance; a camera's is its limit's reciprocal, from anywhere."""
        if self.camera_limit is not None:
            return np.full_like(np.asarray(distance_mm, dtype=float), 1.0 / self.camera_limit)
        return contrast_sensitivity(
            cycles_per_degree(modulation.pitch_mm, distance_mm),
            self.mean_luminance_cd_m2,
            angular_area_deg2(*self.face_mm, distance_mm),
        )

    def visibility(self, distance_mm: float) -> float:
        """Modulation times sensitivity of the most visible ripple, in multiples of what an eye just sees."""
        return self._seen_from(distance_mm)[0]

    def most_visible(self, distance_mm: float) -> Modulation | None:
        """Return the ripple that is most visible from a distance; None where there is none."""
        return self._seen_from(distance_mm)[1]

    def _seen_from(self, distance_mm: float) -> tuple[float, Modulation | None]:
        if distance_mm not in self._kept:
            seen = [(float(one.amplitude * self.sensitivity(one, distance_mm)), one) for one in self.modulations]
            self._kept[distance_mm] = max(seen, key=lambda pair: pair[0], default=(0.0, None))
        return self._kept[distance_mm]

    @functools.cached_property
    def _kept(self) -> dict[float, tuple[float, Modulation | None]]:
        """What is asked more than once, for each sentence and figure again."""
        return {}


def dot_visibility(
    modulations: Sequence[Modulation],
    mean_luminance_cd_m2: float,
    face_mm: tuple[float, float],
    camera_limit: float | None = None,
) -> DotVisibility:
    """Find the distance beyond which no ripple is seen."""
    blank = DotVisibility(tuple(modulations), max(mean_luminance_cd_m2, 1e-6), face_mm, 0.0, None, camera_limit)
    distances = [(_vanish_distance_mm(blank, modulation), modulation) for modulation in modulations]
    farthest, worst = max(distances, key=lambda pair: (pair[0], pair[1].amplitude), default=(0.0, None))
    return DotVisibility(blank.modulations, blank.mean_luminance_cd_m2, face_mm, farthest, worst, camera_limit)


def _vanish_distance_mm(face: DotVisibility, modulation: Modulation) -> float:
    """Last distance at which a ripple is seen: between two distances 6 % apart its visibility falls almost evenly."""
    grid = np.linspace(math.log(NEAREST_MM), math.log(FARTHEST_MM), 160)
    visibility = modulation.amplitude * face.sensitivity(modulation, np.exp(grid))
    seen = visibility > 1.0
    if not seen.any():
        return 0.0
    last = int(np.flatnonzero(seen)[-1])
    if last == len(grid) - 1:
        return FARTHEST_MM
    above, below = (math.log(max(float(value), 1e-300)) for value in visibility[last : last + 2])
    return math.exp(grid[last] + above / (above - below) * (grid[last + 1] - grid[last]))


def ripples(face: LitFace, layout: RowLayout) -> list[Modulation]:
    """Read the modulation of the luminance at every pitch that the layout has."""
    found: list[Modulation] = []
    for strip_index in sorted({row.strip_index for row in layout.rows}):
        found += _ripples_along(face, layout, strip_index)
    return found + _ripples_across(face, layout)


def _luminance(face: LitFace, layout: RowLayout, along: FloatArray, across: FloatArray) -> FloatArray:
    """Luminance at the crossings, shape (len(across), len(along))."""
    if layout.row_direction == "along_width":
        return face.luminance_cd_m2(along, across).astype(float)
    return face.luminance_cd_m2(across, along).T.astype(float)


def _spread_choice(count: int, most: int) -> list[int]:
    return sorted({round(index) for index in np.linspace(0, count - 1, min(count, most))})


def _middle_samples(count: int, step_mm: float) -> FloatArray:
    """Sample the pitches between ``count`` places, or those about the middle where there are many."""
    pitches = min(count - 1, _MOST_PITCHES)
    first = (count - 1 - pitches) // 2
    return np.asarray((first * SAMPLES_PER_PITCH + np.arange(pitches * SAMPLES_PER_PITCH + 1)) * step_mm)


def _ripples_along(face: LitFace, layout: RowLayout, strip_index: int) -> list[Modulation]:
    rows = [row for row in layout.rows if row.strip_index == strip_index]
    chosen = [rows[index] for index in _spread_choice(len(rows), _MOST_LINES)]
    strip, count = chosen[0].strip, chosen[0].emitters
    if count < 2:
        return []
    step = strip.pitch_mm / SAMPLES_PER_PITCH
    samples = _middle_samples(count, step)
    lines = []
    for start_mm in sorted({row.start_mm for row in chosen}):
        along = start_mm + strip.pitch_mm / 2 + samples
        across = np.array([row.across_mm for row in chosen if row.start_mm == start_mm])
        lines.append(_luminance(face, layout, along, across))
    pitches = [("dots", strip.pitch_mm)]
    if strip.interleaved and count >= 3:
        pitches.append(("alternate dots", strip.pitch_mm * len(strip.channel)))
    return [Modulation(kind, pitch, local_amplitude(np.concatenate(lines), step, pitch)) for kind, pitch in pitches]


def _ripples_across(face: LitFace, layout: RowLayout) -> list[Modulation]:
    count, spacing = layout.lines, layout.spacing_mm
    if count < 2:
        return []
    row = layout.rows[0]
    step = spacing / SAMPLES_PER_PITCH
    across = layout.side_margin_mm + _middle_samples(count, step)
    pitch = row.strip.pitch_mm
    places = np.array(_spread_choice(row.emitters, _MOST_LINES))
    quarters = (np.arange(4) + 0.5) / 4.0  # of one pitch, to average the dots away
    along = row.start_mm + pitch * (places[:, None] + quarters[None, :])
    lines = _luminance(face, layout, along.ravel(), across).reshape(len(across), *along.shape).mean(axis=2).T
    pitches = [("rows", spacing)]
    if count >= 3 and len({line.strip_index for line in layout.rows}) > 1:
        pitches.append(("alternate rows", 2.0 * spacing))
    return [Modulation(kind, length, local_amplitude(lines, step, length)) for kind, length in pitches]


def local_amplitude(lines: FloatArray, step_mm: float, pitch_mm: float) -> float:
    """Median over all places of the first harmonic at a pitch, over the local mean.

    Differences of the fourth order at half a pitch come first: they leave a ripple of that pitch as it is, and
    take every trend up to the third degree away, so that the slow fall-off to the rim does not count (differences of the second
    order, and the first degree, where the line has fewer than three pitches). Then a Hann window over up to four
    whole periods slides along each line.

    Parameters
    ----------
    lines:
        Luminance, shape (lines, samples), evenly sampled over a whole number of pitches, an even number of
        samples to the pitch.
    """
    per_period = round(pitch_mm / step_mm)
    pitches = (lines.shape[1] - 1) // per_period
    if pitches < 1:
        return 0.0
    half = per_period // 2
    comb = np.array([-1.0, 4.0, -6.0, 4.0, -1.0]) / -16.0 if pitches >= 3 else np.array([1.0, -2.0, 1.0]) / -4.0
    ripple = np.zeros((len(lines), lines.shape[1] - half * (len(comb) - 1)))
    for index, weight in enumerate(comb):
        ripple += weight * lines[:, index * half : index * half + ripple.shape[1]]
    edge = half * (len(comb) - 1) // 2
    mean = lines[:, edge : edge + ripple.shape[1]]
    periods = min((ripple.shape[1] - 1) // per_period, _MOST_PERIODS)
    if periods < 1:
        return float(np.median(np.abs(ripple) / np.maximum(lines.mean(axis=1, keepdims=True), 1e-12)))
    window, wave = _window(periods, per_period)
    amplitudes = [
        2.0
        * np.abs(np.convolve(r, window * wave, mode="valid"))
        / np.maximum(np.convolve(m, window, mode="valid"), 1e-12)
        for r, m in zip(ripple, mean, strict=True)
    ]
    return float(np.median(np.concatenate(amplitudes)))


def _window(periods: int, per_period: int) -> tuple[FloatArray, NDArray[np.complex128]]:
    """Window over whole periods, its ends by the trapezoidal rule, and the wave that is looked for."""
    length = periods * per_period
    place = np.arange(length + 1) - length / 2.0
    window = np.ones(length + 1)
    window[0] = window[-1] = 0.5
    if periods > 1:
        window *= 0.5 + 0.5 * np.cos(2.0 * np.pi * place / length)
    return window, np.exp(2j * np.pi * place / per_period)
