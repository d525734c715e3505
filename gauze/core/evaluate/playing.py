"""A display that plays: what its pixels make of a picture behind the sheet, fast enough to be looked at.

Light adds, and behind one sheet every pixel spreads alike: a picture is the sum of one pixel's spread at every place, by a
product of Fourier transforms. Near the rim, where walls give light back, the sum of all pixels is brought to the light of all
pixels as it is computed, so a display with everything on is exact. What walls give back is that of mirror images of the pixels
beyond them, as bright as brings the two sums nearest to each other.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import msgspec
import numpy as np
from numpy.typing import NDArray

from gauze.core.design import Design, with_build
from gauze.core.design.pixel_display import PixelDisplay, Show
from gauze.core.effects import Screen
from gauze.core.electrical.data_line import pixel_runs
from gauze.core.electrical.elements import IDLE_A
from gauze.core.evaluate.evaluation import Detail, Evaluation
from gauze.core.evaluate.stages import evaluate
from gauze.core.layout.families.pixel_display import DisplayLayout
from gauze.core.layout.model import Channel, FloatArray, IndexArray
from gauze.core.materials import Catalogue
from gauze.core.optics.colour import channel_xyz

_SAMPLES = 4  # along each side of a pixel
_MOST_SAMPLES = 400_000  # of the picture; of larger displays a pixel has fewer
_DETAIL = Detail(fineness=0.4, most_pixels=60_000, target_points=1)
_SHARES = np.linspace(0.0, 1.0, 41)  # of a mirror image's light over its pixel's, that are tried
_FARTHEST = 12  # pixels to either side over which one pixel's light is followed


@dataclass(frozen=True)
class Response:
    """What a display makes of its pixels.

    ``spread`` is the Fourier transform of one pixel's luminance over the padded picture, of shape ``padded``, with ``samples``
    along each side of a pixel; ``rim`` brings the sum to what is computed, (rows, columns) of samples. ``xyz`` of each channel at
    full level, (channels, 3), are those of a pixel; ``amps`` what each channel of a pixel draws, ``idle_a`` what a dark one does.
    ``white_cd_m2`` is the display's luminance with all on. ``images`` says how bright each pixel and each of its mirror images
    is, over the display with ``far`` pixels beyond it on every side.
    """

    screen: Screen
    samples: int
    far: int
    images: FloatArray
    padded: tuple[int, int]
    spread: NDArray[np.complexfloating]
    rim: FloatArray
    xyz: FloatArray
    amps: FloatArray
    idle_a: float
    white_cd_m2: float

    def channel_levels(self, rgb: FloatArray) -> FloatArray:
        """Levels of the channels for those of red, green and blue: one white takes their mean, a fourth what all three share."""
        channels = len(self.xyz)
        if channels == 3:
            return rgb
        if channels == 4:
            common = rgb.min(axis=-1, keepdims=True)
            return np.concatenate([rgb - common, common], axis=-1)
        return np.repeat(rgb.mean(axis=-1, keepdims=True), channels, axis=-1)

    def picture(self, rgb: FloatArray) -> FloatArray:
        """XYZ of the face for levels of red, green and blue (rows, columns, 3): (3, rows, columns) of samples, from below."""
        pixel_xyz = self.channel_levels(rgb) @ self.xyz
        found = [self._spread(pixel_xyz[..., axis]) * self.rim for axis in range(3)]
        return np.maximum(np.stack(found), 0.0)

    def _spread(self, pixels: FloatArray) -> FloatArray:
        """The sum of what all pixels and their images spread."""
        field = _field(np.pad(pixels, self.far, mode="symmetric") * self.images, self.samples, self.padded)
        return _inside(
            np.fft.irfft2(np.fft.rfft2(field) * self.spread, s=self.padded), self.screen, self.samples, self.far
        )

    def drawn_a(self, rgb: FloatArray) -> float:
        """Amps that the pixels draw."""
        levels = self.channel_levels(rgb)
        return float((levels @ self.amps).sum() + self.idle_a * levels.shape[0] * levels.shape[1])


def response_of(design: Design, catalogue: Catalogue, cancelled: Callable[[], bool] = lambda: False) -> Response:
    """Light a display with all pixels on, and one pixel alone far from any wall; take from that what any picture makes.

    Raises
    ------
    TypeError
        For a design of another family.
    Cancelled
        When ``cancelled()`` says so.
    """
    plain = msgspec.structs.replace(design, wiring=None, surroundings=None)
    lit = evaluate(with_build(plain, show=Show()), catalogue, _DETAIL, cancelled)
    large = _large(plain, lit.catalogue)
    column, row = large.columns // 2, large.rows // 2
    lines = [["000000"] * large.columns for _ in range(large.rows)]
    lines[large.rows - 1 - row][column] = "FFFFFF"
    picture = Show(kind="picture", picture=tuple("".join(line) for line in lines))
    alone = msgspec.structs.replace(plain, build=msgspec.structs.replace(large, show=picture))
    return _response(lit, evaluate(alone, catalogue, _DETAIL, cancelled), (column, row))


def _large(design: Design, catalogue: Catalogue) -> PixelDisplay:
    """The display with so many pixels that the walls are far from its middle."""
    build = design.build_as(PixelDisplay)
    columns, rows = 1, 1
    if build.module is not None:
        module = catalogue.module(build.module.module)
        columns, rows = module.columns, module.rows
    least = 2 * _FARTHEST + 1
    return msgspec.structs.replace(
        build,
        columns=max(build.columns, -(-least // columns) * columns),
        rows=max(build.rows, -(-least // rows) * rows),
    )


def _response(lit: Evaluation, alone: Evaluation, at: tuple[int, int]) -> Response:
    """Of a display with all on, and of a large one with one pixel on, at a column and row."""
    layout, build = lit.layout.as_kind(DisplayLayout), lit.design.build_as(PixelDisplay)
    rows, columns = build.rows, build.columns
    samples = max(min(_SAMPLES, int(math.sqrt(_MOST_SAMPLES / (rows * columns)))), 1)
    every = _sampled(lit, layout, samples, lit.light.xyz[1])
    one = _sampled(alone, alone.layout.as_kind(DisplayLayout), samples, alone.xyz[1])
    from scipy import fft

    screen = _screen(lit, layout)
    far = _FARTHEST
    high, wide = (int(fft.next_fast_len((count + 2 * far) * samples, real=True)) for count in (rows, columns))
    kernel = np.zeros((high, wide), np.float32)
    middle = np.array([at[1], at[0]]) * samples + samples // 2
    y, x = (np.arange(count) - first for count, first in zip(one.shape, middle, strict=True))
    near_y, near_x = np.abs(y) <= far * samples, np.abs(x) <= far * samples
    kernel[np.ix_(y[near_y] % high, x[near_x] % wide)] = one[np.ix_(near_y, near_x)]
    spread = np.fft.rfft2(kernel)
    beyond = _beyond(rows, columns, far)
    sums = [
        _inside(
            np.fft.irfft2(
                np.fft.rfft2(_field((beyond == walls).astype(float), samples, (high, wide))) * spread, s=(high, wide)
            ),
            screen,
            samples,
            far,
        )
        for walls in range(3)
    ]
    share = min(_SHARES, key=lambda one: float(np.std(every / _summed(sums, one))))
    rim = (every / _summed(sums, share)).astype(np.float32)
    xyz, amps = _channels(lit, build)
    return Response(
        screen=screen,
        samples=samples,
        far=far,
        images=np.array([1.0, share, share**2])[beyond],
        padded=(high, wide),
        spread=spread,
        rim=rim,
        xyz=xyz,
        amps=amps,
        idle_a=IDLE_A,
        white_cd_m2=float(every.mean()),
    )


def _field(pixels: FloatArray, samples: int, padded: tuple[int, int]) -> FloatArray:
    """A point for every pixel, among the samples of a padded picture."""
    field = np.zeros(padded, np.float32)
    middle, (rows, columns) = samples // 2, pixels.shape
    field[middle : rows * samples : samples, middle : columns * samples : samples] = pixels
    return field


def _inside(padded: FloatArray, screen: Screen, samples: int, far: int) -> FloatArray:
    """The display's own part of a padded picture."""
    first = far * samples
    return padded[first : first + screen.rows * samples, first : first + screen.columns * samples]


def _beyond(rows: int, columns: int, far: int) -> IndexArray:
    """Beyond how many walls each pixel and image is: none, one, or two at the corners."""
    y, x = (np.abs(np.arange(-far, count + far) - (count - 1) / 2) > count / 2 for count in (rows, columns))
    return np.asarray(y[:, None].astype(int) + x[None, :].astype(int))


def _summed(sums: Sequence[FloatArray], share: float) -> FloatArray:
    """What all pixels and images make, with images so bright; never nothing."""
    total = sums[0] + share * sums[1] + share**2 * sums[2]
    return np.asarray(np.maximum(total, 1e-6 * max(float(total.max()), 1e-12)))


def _sampled(lit: Evaluation, layout: DisplayLayout, samples: int, luminance: FloatArray) -> FloatArray:
    """A map at so many places along each side of every pixel, each the mean of what of the map lies about it."""
    from scipy.interpolate import RegularGridInterpolator

    places = layout.pixels_mm
    offsets = (np.arange(samples) + 0.5) / samples - 0.5
    x = (places[0, :, 0][:, None] + offsets * layout.pitch_mm[0]).ravel()
    y = (places[:, 0, 1][:, None] + offsets * layout.pitch_mm[1]).ravel()
    grid = RegularGridInterpolator(
        (lit.y_mm, lit.x_mm), np.asarray(luminance, float), bounds_error=False, fill_value=None
    )
    return np.asarray(np.maximum(grid(tuple(np.meshgrid(y, x, indexing="ij"))), 0.0))


def _channels(lit: Evaluation, build: PixelDisplay) -> tuple[FloatArray, FloatArray]:
    """XYZ of each channel as a share of the light of all, and the amps of each, of one pixel at the levels that are set."""
    catalogue = lit.catalogue
    if build.module is not None:
        module = catalogue.module(build.module.module)
        levels = build.module.levels_for(module)
        white = build.module.cct_k
        rows = [
            (one.name, one.flux_lm, one.power_w, one.cct_k, one.peak_nm, one.width_nm, module.emitters, module.volts)
            for one in module.channel
        ]
    else:
        choice = build.strips[0]
        strip = catalogue.strip(choice.strip)
        levels, white = choice.levels_for(strip), choice.cct_k
        metre = strip.segment_mm / 1000.0
        rows = [
            (
                one.name,
                one.flux_lm_per_m * metre,
                one.power_w_per_m * metre,
                one.cct_k,
                one.peak_nm,
                one.width_nm,
                1,
                strip.volts,
            )
            for one in strip.channel
        ]
    xyz, amps = [], []
    for index, (level, (name, flux, watts, cct_k, peak, width, share, volts)) in enumerate(
        zip(levels, rows, strict=True)
    ):
        own = Channel(name, 0, index, 1.0, cct_k or (white if peak is None else None), peak, width)
        xyz.append(level * flux * channel_xyz(own))
        amps.append(level * watts / volts / share)
    total = sum(float(one[1]) for one in xyz)
    return np.array(xyz) / max(total, 1e-12), np.array(amps)


def _screen(lit: Evaluation, layout: DisplayLayout) -> Screen:
    """The pixels in the order of the data, by their nearest places."""
    rows, columns = layout.pixels_mm.shape[:2]
    runs = pixel_runs(layout.pieces, lit.network.joints)
    x, y = layout.pixels_mm[0, :, 0], layout.pixels_mm[:, 0, 1]
    order, piece = [], []
    for number, run in enumerate(runs):
        places = run.places_mm
        at = np.stack([np.abs(places[:, 1:2] - y).argmin(axis=1), np.abs(places[:, :1] - x).argmin(axis=1)], axis=1)
        order.append(at)
        piece.append(np.full(len(at), number))
    if not order:
        index = np.arange(rows * columns)
        return Screen(columns, rows, np.stack(np.divmod(index, columns), axis=1), np.zeros(len(index), int))
    return Screen(columns, rows, np.concatenate(order), np.concatenate(piece))
