"""Hotspots of emitters that stand in no known pattern: the ripple of the lit face that follows their places.

The face is filtered by bands, each an octave wide or so (the difference of two Gaussians, which at its middle passes a sinusoid
in full), and so is the emitters' own pattern: how near the nearest is, in space, to every place of the face. The ripple is
what of the light goes with the pattern (regression, away from the rim): slow changes do not count. It is taken as a
sinusoid of the band's pitch: amplitude = sqrt(2) times its root mean square over the local mean. Bands run from the closest
neighbours to half again the usual gap.
"""

import numpy as np

from gauze.core.layout.model import BoolArray, FloatArray
from gauze.core.materials import Stack
from gauze.core.optics.cavity.alike import alike
from gauze.core.optics.cavity.chart import Chart
from gauze.core.optics.cavity.face import CavityFace
from gauze.core.optics.cavity.light import CavityLight
from gauze.core.optics.kernel.outlook import nearest2_mm2
from gauze.core.optics.visibility import Modulation
from gauze.core.words import Length, say

_NARROW, _RATIO = 0.14, 1.6  # of the band's pitch: the narrower Gaussian's sigma; the wider's over it
_LOCAL = 0.45  # of the pitch: sigma of the local mean, in which a fiftieth of the ripple is left
_STEP = 2**0.5  # from band to band
_LARGEST = 1.5  # times the largest usual gap
_MOST_BANDS = 10
_HOW = say(
    "√2 × root mean square of what follows the emitters' places in the band about this pitch, over the local mean"
)
_LESS = say(
    "the most that emitters at this pitch can make so far from the face; what follows their places more is a slow change"
)
_ASKEW = 3.0  # times: emitters that do not all look straight at one face; a safe guess
_FROM_RIM = (1.5, 1.0, 0.75, 0.5)  # pitches from the rim within which its fall-off may be taken for ripple
_LEAST_LEFT, _LEAST_INSIDE = 0.2, 16  # of the face, and pixels, that must be left

_NOTHING = 1e-4  # of ripple
_FAR = 2.0  # times the pitch: from there on the ripple is under a ten-thousandth
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
    from scipy.spatial import cKDTree

    rounded = np.round(places_mm, 3)
    places = rounded[alike(rounded).first]
    if len(places) < 2:
        return None
    nearest = cKDTree(places).query(places, k=2)[0][:, 1]
    return float(np.percentile(nearest, 10)), max(float(np.percentile(nearest, 90)), _usual_gap(places))


def _usual_gap(places: FloatArray) -> float:
    from scipy.spatial import Delaunay, QhullError

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


def hotspots(luminance: FloatArray, face: CavityFace, known_mm: tuple[float, float] | None = None) -> list[Modulation]:
    """Read the ripple of a luminance map (m, n) at every scale of the emitters' spacing; none for a single emitter.

    ``known_mm`` are the closest and the widest distance of neighbours, where they are known; else they are sought.
    """
    chart, emitters = face.chart, face.light.emitters
    lit = emitters.flux_lm.sum(axis=1) > 0
    if known_mm is not None and isinstance(face.light, CavityLight):
        clearance_mm = face.light.clearance_mm
        is_far = clearance_mm > _FAR * known_mm[1]
        if is_far and _through_the_sheet(face.diffuser, known_mm[1], clearance_mm) < _NOTHING:
            return [_of_rows(known_mm[1], clearance_mm)]
    scales = spacings_mm(emitters.places_mm[lit]) if known_mm is None or lit.sum() < 2 else known_mm
    if scales is None or not (luminance[chart.inside] > 0).any():
        return []
    waves = _Waves(luminance, _pattern(face), chart)
    pitches = _pitches(scales, chart, known=known_mm is not None)
    found = []
    for pitch in pitches:
        most = _most_that_arrives(face, pitch)
        amplitude = waves.amplitude(pitch, _reach2_mm2(face, pitch))
        found.append(Modulation("dots", pitch, min(amplitude, most), _HOW if amplitude <= most else _LESS))
    return [modulation for modulation in found if modulation.amplitude > 0]


def _most_that_arrives(face: CavityFace, pitch_mm: float) -> float:
    """The most ripple that emitters at a pitch can make on a face that is as far away as the nearest of them is, over the mean.

    Slow changes that happen to follow the places of the emitters, as the fall-off from a rim that is lit, are more than that
    and no ripple. Emitters that do not all look straight at one face may make some times as much as those that do.
    """
    light = face.light
    if not isinstance(light, CavityLight) or light.emitters.tables or light.clearance_mm <= 0.0:
        return np.inf
    lit = light.emitters.flux_lm.sum(axis=1) > 0
    askew = float(np.ptp(light.emitters.axes[lit], axis=0).max(initial=0.0)) > 1e-3 or len(light.cavity.lids) > 1
    most = row_ripple(pitch_mm, light.clearance_mm, float(light.emitters.power[lit].max(initial=1.0)))
    return most * (_ASKEW if askew else 1.0) + _through_the_sheet(face.diffuser, pitch_mm, light.clearance_mm)


def _through_the_sheet(sheet: Stack, pitch_mm: float, distance_mm: float) -> float:
    """The most ripple that light makes which keeps its way through the sheet, over the mean: each LED is a blob of its own.

    A lobe of width sigma draws it sigma times the distance wide, 2 exp(-(k sigma d)^2 / 2) of its share of the luminance straight
    on; what goes straight through draws the LED itself, without a limit.
    """
    if sheet.regular > 0.0:
        return np.inf
    wave = 2.0 * np.pi * distance_mm / pitch_mm
    bright = [lobe.transmittance / (2.0 * np.pi * lobe.sigma**2) for lobe in sheet.lobes]
    whole = sheet.diffuse / np.pi + sum(bright)
    ripples = (
        2.0 * share / whole * np.exp(-0.5 * (wave * lobe.sigma) ** 2)
        for share, lobe in zip(bright, sheet.lobes, strict=True)
    )
    return float(sum(ripples)) if whole > 0.0 else 0.0


def row_ripple(pitch_mm: float, distance_mm: float, power: float = 1.0) -> float:
    """Amplitude over the mean right over a row of cos^m emitters that look at a plane.

    The light of one along the row is d^(m + 1) / (x^2 + d^2)^((m + 3) / 2), whose Fourier transform is that of a Matern
    covariance: twice 2 (k d / 2)^nu K_nu(k d) / Gamma(nu), nu = (m + 2) / 2, of the mean; 2 (1 + k d) exp(-k d) for m = 1.
    """
    from scipy.special import gamma, kv

    nu, way = (power + 2.0) / 2.0, 2.0 * np.pi * distance_mm / pitch_mm
    return float(4.0 * (way / 2.0) ** nu * kv(nu, way) / gamma(nu))


def _of_rows(pitch_mm: float, clearance_mm: float) -> Modulation:
    """Ripple of LEDs so far from every face that the face's picture is too coarse for it, by the closed form of rows."""
    from scipy.special import k1

    depth = 2.0 * np.pi * clearance_mm / pitch_mm
    how = say(
        "closed form of Lambertian LEDs this far from the face: 2 k d K₁(k d), d = {clearance}",
        clearance=Length(clearance_mm),
    )
    return Modulation("dots", pitch_mm, float(2.0 * depth * k1(depth)), how)


def _pattern(face: CavityFace) -> FloatArray:
    """How near each pixel is to an emitter, -r^2 in space, on the map: its waves are in step with the emitters on any surface."""
    emitters = face.light.emitters
    lit = emitters.flux_lm.sum(axis=1) > 0
    return face.chart.spread_out(-nearest2_mm2(face.chart.places_mm, emitters.places_mm[lit]))


def _pitches(scales: tuple[float, float], chart: Chart, *, known: bool) -> list[float]:
    """Middles of the bands; where the spacings are known nothing beyond them is looked for."""
    shortest = max(scales[0], 4.0 * chart.step_mm)
    wide, high = float(np.ptp(chart.u_mm)), float(np.ptp(chart.v_mm))
    longest = min((1.0 if known else _LARGEST) * scales[1], max(wide, high, min(wide, high) + chart.step_mm) / 2.0)
    if longest < shortest:
        return [shortest]
    count = min(int(np.log(longest / shortest) / np.log(_STEP)) + 1, _MOST_BANDS)
    return [float(pitch) for pitch in shortest * _STEP ** np.arange(count)]


def _reach2_mm2(face: CavityFace, pitch_mm: float) -> float:
    """Squared distance in space up to which a place of the face counts as being over emitters of a pitch: one pitch aside."""
    light = face.light
    return (light.clearance_mm**2 if isinstance(light, CavityLight) else np.inf) + pitch_mm**2


class _Waves:
    """A luminance map and the emitters' pattern by their waves, mirrored at the map's edges: one transform for all bands."""

    def __init__(self, luminance: FloatArray, pattern: FloatArray, chart: Chart) -> None:
        self._chart, self._pattern = chart, pattern
        self._depth_mm = _from_rim(chart.inside) * chart.step_mm
        inside = chart.inside.astype(float)
        self._spectra = [_spectrum(values * inside) for values in (luminance, pattern)]
        self._share = None if chart.inside.all() else _spectrum(inside)
        self._weights: dict[float, FloatArray] = {}  # how much of a Gaussian lies on the face, by its width

    def amplitude(self, pitch_mm: float, reach2_mm2: float = np.inf) -> float:
        """Amplitude of the ripple at a pitch that follows the pattern, over the local mean; of few emitters where these are."""
        away = self._away_from_rim(pitch_mm)
        over = away & (-self._pattern <= reach2_mm2)
        if over.sum() >= _LEAST_INSIDE:
            away = over
        pitch = pitch_mm / self._chart.step_mm
        local = self._smoothed(self._spectra[0], _LOCAL * pitch)
        mean = np.maximum(local, 1e-9 * float(local.max()))[away]
        seen, own = (self._band(spectrum, pitch)[away] for spectrum in self._spectra)
        seen, own = seen / mean - (seen / mean).mean(), own - own.mean()
        squared = float((own**2).sum())
        if squared <= 0.0:
            return 0.0
        follows = abs(float((seen * own).sum())) / squared
        return follows * float(np.sqrt(2.0 * np.mean(own**2))) / band_gain()

    def _away_from_rim(self, pitch_mm: float) -> BoolArray:
        """Places so far from the rim that its fall-off does not reach them, as far as enough of the face is left."""
        for pitches in _FROM_RIM:
            away = self._depth_mm > pitches * pitch_mm
            if away.sum() >= max(_LEAST_LEFT * self._chart.inside.sum(), _LEAST_INSIDE):
                return np.asarray(away)
        return self._chart.inside

    def _band(self, spectrum: FloatArray, pitch: float) -> FloatArray:
        """What the band about a pitch in pixels passes of a map."""
        narrow, wide = _NARROW * pitch, _NARROW * _RATIO * pitch
        if self._share is None:
            kept = _kept(spectrum.shape, narrow) - _kept(spectrum.shape, wide)
            return _map(spectrum * kept, self._chart.inside.shape)
        return self._smoothed(spectrum, narrow) - self._smoothed(spectrum, wide)

    def _smoothed(self, spectrum: FloatArray, sigma: float) -> FloatArray:
        """Means over a Gaussian, of what lies on the face."""
        shape = self._chart.inside.shape
        if self._share is None:
            return _map(spectrum * _kept(spectrum.shape, sigma), shape)
        if sigma not in self._weights:
            self._weights[sigma] = np.maximum(_map(self._share * _kept(spectrum.shape, sigma), shape), 1e-9)
        return _map(spectrum * _kept(spectrum.shape, sigma), shape) / self._weights[sigma]


def _kept(shape: tuple[int, ...], sigma: float) -> FloatArray:
    """How much a Gaussian leaves of each wave: of one with k half periods over n pixels exp(-(pi k sigma / n)^2 / 2)."""
    up, across = (np.exp(-0.5 * (np.pi * sigma * np.arange(n, dtype=np.float32) / n) ** 2) for n in shape)
    return np.asarray(up[:, None] * across)


def _from_rim(inside: BoolArray) -> FloatArray:
    """How far each pixel is from the nearest that is not inside, or from beyond the map, in pixels."""
    if inside.all():
        up, across = (np.minimum(np.arange(1, n + 1), np.arange(n, 0, -1)) for n in inside.shape)
        return np.asarray(np.minimum(up[:, None], across[None, :]), float)
    from scipy.ndimage import distance_transform_edt

    return np.asarray(distance_transform_edt(np.pad(inside, 1))[1:-1, 1:-1])


def _spectrum(values: FloatArray) -> FloatArray:
    """The cosine transform of a map, continued by its mirror image to a size that is fast to transform; in single precision."""
    from scipy.fft import dctn, next_fast_len

    more = [(0, int(next_fast_len(n, real=True)) - n) for n in values.shape]
    return np.asarray(dctn(np.pad(values.astype(np.float32), more, mode="symmetric"), norm="ortho"))


def _map(spectrum: FloatArray, shape: tuple[int, ...]) -> FloatArray:
    """The map of a spectrum, of the size that it had."""
    from scipy.fft import idctn

    return np.asarray(idctn(spectrum, norm="ortho", overwrite_x=True)[: shape[0], : shape[1]])
