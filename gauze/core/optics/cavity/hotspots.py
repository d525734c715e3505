"""Hotspots of emitters that stand in no known pattern: the ripple of the lit face that follows their places.

The face is filtered by bands, each an octave wide or so (the difference of two Gaussians, which at its middle passes a sinusoid
in full), and so is the pattern of the emitters themselves, each drawn where its axis meets the face. The ripple is what of the
light goes with the pattern (regression over the face): the fall-off to the rim and slow changes do not, however steep they
are. It is taken as a sinusoid of the band's pitch: amplitude = sqrt(2) times its root mean square over the local mean. Bands
run from the closest neighbours to half again the usual gap.
"""

import numpy as np
from scipy.ndimage import gaussian_filter
from scipy.spatial import Delaunay, QhullError, cKDTree

from gauze.core.layout.model import FloatArray
from gauze.core.layout.tiles import Tile
from gauze.core.optics.cavity.alike import alike
from gauze.core.optics.cavity.baffled import BaffledLight
from gauze.core.optics.cavity.chart import Chart
from gauze.core.optics.cavity.face import CavityFace
from gauze.core.optics.visibility import Modulation

_NARROW, _RATIO = 0.14, 1.6  # of the band's pitch: the narrower Gaussian's sigma; the wider's over it
_STEP = 2**0.5  # from band to band
_LARGEST = 1.5  # times the largest usual gap
_MOST_BANDS = 10
_HOW = "√2 × root mean square of what follows the emitters' places in the band about this pitch, over the local mean"
_LEAST_INSIDE = 16  # pixels that a band must leave

_HALVINGS = 26
_MOST_SORTED = 4000  # places whose neighbours are sought


def band_gain() -> float:
    """What the band passes of a sinusoid of its own pitch, along one direction."""
    wave = 2.0 * np.pi
    narrow, wide = (np.exp(-0.5 * (wave * sigma) ** 2) for sigma in (_NARROW, _NARROW * _RATIO))
    return float(narrow - wide)


def spacings_mm(places_mm: FloatArray) -> tuple[float, float] | None:
    """Closest usual and largest usual distance of neighbours in space, or None for a single place.

    The closest is the tenth part of the distances to the nearest, the largest the ninth tenth of the edges between neighbours
    (Delaunay), or of those distances where all stand in a line.
    """
    rounded = np.round(places_mm, 3)
    places = rounded[alike(rounded).first]
    if len(places) < 2:
        return None
    nearest = cKDTree(places).query(places, k=2)[0][:, 1]
    return float(np.percentile(nearest, 10)), max(float(np.percentile(nearest, 90)), _usual_gap(places))


def _usual_gap(places: FloatArray) -> float:
    if len(places) > _MOST_SORTED:  # those about the middle stand for all
        middle = np.median(places, axis=0)
        places = places[np.argpartition(((places - middle) ** 2).sum(axis=1), _MOST_SORTED)[:_MOST_SORTED]]
    flat = places[:, np.sort(np.argsort(np.ptp(places, axis=0))[1:])]
    try:
        edges = Delaunay(flat).simplices
    except (QhullError, ValueError):  # fewer than three, or all in a line
        return 0.0
    pairs = np.concatenate([edges[:, [0, 1]], edges[:, [1, 2]], edges[:, [2, 0]]])
    lengths = np.linalg.norm(places[pairs[:, 0]] - places[pairs[:, 1]], axis=1)
    return float(np.percentile(lengths, 50))


def hotspots(luminance: FloatArray, face: CavityFace) -> list[Modulation]:
    """Read the ripple of a luminance map (m, n) at every scale of the emitters' spacing; none for a single emitter."""
    chart, emitters = face.chart, face.light.emitters
    lit = emitters.flux_lm.sum(axis=1) > 0
    scales = spacings_mm(emitters.places_mm[lit])
    if scales is None or not (luminance[chart.inside] > 0).any():
        return []
    pattern = _pattern(face)
    pitches = _pitches(scales, chart)
    found = [Modulation("dots", pitch, _amplitude(luminance, pattern, chart, pitch), _HOW) for pitch in pitches]
    return [modulation for modulation in found if modulation.amplitude > 0]


def _pattern(face: CavityFace) -> FloatArray:
    """The emitters' flux on the map, each in the pixel that it looks at, per area: shape (m, n)."""
    chart, emitters = face.chart, face.light.emitters
    _, pixel = cKDTree(chart.places_mm).query(_ahead(face))
    flux = np.bincount(pixel, emitters.flux_lm @ face.basis_xyz[:, 1], len(chart.s))
    return chart.spread_out(flux / chart.areas_mm2)


def _ahead(face: CavityFace) -> FloatArray:
    """Where each emitter's axis meets the surface; of one that looks along the face, a place beside it."""
    light, emitters = face.light, face.light.emitters
    places, axes = emitters.places_mm, emitters.axes
    if isinstance(light, BaffledLight):
        return np.column_stack([places[:, :2], np.full(len(places), light.box.depth_mm)])
    if all(tile.is_flat for tile in light.cavity.tiles):
        return places + _to_planes(light.cavity.tiles, places, axes)[:, None] * axes
    low, high = np.zeros(len(places)), np.full(len(places), float(np.ptp(face.chart.places_mm, axis=0).max()) * 3.0)
    for _ in range(_HALVINGS):
        middle = (low + high) / 2.0
        inside = light.cavity.clearance_mm(places + middle[:, None] * axes) > 0.0
        low, high = np.where(inside, middle, low), np.where(inside, high, middle)
    return np.asarray(places + low[:, None] * axes)


def _to_planes(tiles: tuple[Tile, ...], places: FloatArray, axes: FloatArray) -> FloatArray:
    """Distance along each axis to the first of the planes that close a cavity."""
    middle = np.array(0.5)
    nearest = np.full(len(places), np.inf)
    for tile in {tile.surface: tile for tile in tiles}.values():
        towards = -(axes @ tile.normals(middle, middle))
        away = np.maximum(tile.clearance_mm(places), 0.0)
        nearest = np.where(towards > 1e-9, np.minimum(nearest, away / np.maximum(towards, 1e-9)), nearest)
    return np.where(np.isfinite(nearest), nearest, 0.0)


def _pitches(scales: tuple[float, float], chart: Chart) -> list[float]:
    shortest = max(scales[0], 4.0 * chart.step_mm)
    wide, high = float(np.ptp(chart.u_mm)), float(np.ptp(chart.v_mm))
    longest = min(_LARGEST * scales[1], max(wide, high, min(wide, high) + chart.step_mm) / 2.0)
    if longest < shortest:
        return [shortest]
    count = min(int(np.log(longest / shortest) / np.log(_STEP)) + 1, _MOST_BANDS)
    return [float(pitch) for pitch in shortest * _STEP ** np.arange(count)]


def _amplitude(luminance: FloatArray, pattern: FloatArray, chart: Chart, pitch_mm: float) -> float:
    """Amplitude of the ripple at a pitch that follows the pattern, over the local mean."""
    rim = _smoothed(chart.inside.astype(float), np.ones(chart.inside.shape), 0.25 * pitch_mm / chart.step_mm) > 0.97
    rim &= chart.inside
    if rim.sum() < _LEAST_INSIDE:
        rim = chart.inside
    seen, own = (_band(values, chart, pitch_mm)[rim] for values in (luminance, pattern))
    seen, own = seen - seen.mean(), own - own.mean()
    squared = float((own**2).sum())
    if squared <= 0.0:
        return 0.0
    follows = abs(float((seen * own).sum())) / squared
    return follows * float(np.sqrt(2.0 * np.mean(own**2))) / band_gain()


def _band(values: FloatArray, chart: Chart, pitch_mm: float) -> FloatArray:
    """What a band passes, over the local mean."""
    inside = chart.inside.astype(float)
    narrow, wide, local = (
        _smoothed(values, inside, sigma * pitch_mm / chart.step_mm) for sigma in (_NARROW, _NARROW * _RATIO, 1.0)
    )
    return np.asarray((narrow - wide) / np.maximum(local, 1e-9 * max(float(local.max()), 1e-30)))


def _smoothed(values: FloatArray, inside: FloatArray, sigma: float) -> FloatArray:
    weight = np.maximum(gaussian_filter(inside, sigma, mode="nearest"), 1e-9)
    return np.asarray(gaussian_filter(values * inside, sigma, mode="nearest") / weight)
