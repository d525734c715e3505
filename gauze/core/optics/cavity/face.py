"""The lit face of any cavity, seen straight on at every place: along the normal of what is curved.

The parts are those of :mod:`gauze.core.optics.face`; here each emitter's share at each place is weighted by what the sheet makes
of light from its direction. Where a wall is lit the "sheet" is the wall: all diffuse, its reflectance for the transmittance.
"""

import functools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.families.tiles import Tile
from gauze.core.layout.model import BoolArray, FloatArray
from gauze.core.layout.placing import within
from gauze.core.materials import Lobe, Stack
from gauze.core.optics.cavity.alike import alike
from gauze.core.optics.cavity.baffled import BaffledLight
from gauze.core.optics.cavity.chart import Chart, chart_of, chart_of_cells
from gauze.core.optics.cavity.crowd import NEAR_CLEARANCES
from gauze.core.optics.cavity.emitters import Emitters, illuminance
from gauze.core.optics.cavity.light import CavityLight, DirectLight
from gauze.core.optics.cavity.sharp import resolved
from gauze.core.optics.gaussian_sum import lobe_share_inside
from gauze.core.optics.kernel.pairs import SheetWeights
from gauze.core.optics.kernel.parallel import in_threads

TO_SI = 1e6  # per mm^2 to per m^2
_MOST_PAIRS = 14_000_000  # of pixels and emitters, at rest
_LEAST_ACROSS = 40  # pixels along the shorter side of the faces
_LEAST_PIXELS = 2_500
_MOST_TOGETHER = 1_000_000  # pairs of pixels and emitters: of more, each lid has its own mirrors and near emitters
_TABLE = 16_384  # steps of the squared sine: fine beside the sharpest lobe
_MOST_IN_CELL, _LEAST_IN_CELL = 40, 4

Light = CavityLight | BaffledLight


@dataclass(frozen=True)
class Pixels:
    """At most how many pixels a chart has, fewer where very many emitters are near each, the more so the less the ``detail``.

    They are as fine as the light asks for, or ``finest_mm`` where that is finer.
    """

    most: int
    finest_mm: float = math.inf
    detail: float = 1.0


@dataclass(frozen=True)
class CavityFace:
    """A cavity's light behind a sheet, on a chart.

    ``basis_xyz`` (k, 3) is the colour of one unit of each column of the light; ``direct`` and ``bounced`` (pixels, k) are
    illuminances in lm/mm^2, ``luminance`` (pixels, k) what is seen, in cd/m^2. ``unresolved`` says of how many sources the light
    is sharper than the pixels, and is drawn wider (:mod:`sharp`).
    """

    light: Light
    diffuser: Stack
    basis_xyz: FloatArray
    chart: Chart
    direct: FloatArray
    bounced: FloatArray
    luminance: FloatArray
    emitter_size_mm: float
    unresolved: int

    def __getstate__(self) -> dict[str, object]:
        """Give another process what it shows in half of the bytes."""
        light = {name: getattr(self, name).astype(np.float32) for name in ("direct", "bounced", "luminance")}
        return {name: value for name, value in self.__dict__.items() if name != "_within"} | light

    @functools.cached_property
    def _within(self) -> dict[bytes, BoolArray]:
        return {}

    def within(self, polygon_mm: FloatArray) -> BoolArray:
        """Which pixels lie in a convex polygon of the unit's plan; asked for by many, and kept."""
        key = polygon_mm.tobytes()
        if key not in self._within:
            self._within[key] = within(self.chart.places_mm[:, :2], polygon_mm)
        return self._within[key]

    @property
    def emitted_lm(self) -> float:
        """Flux emitted."""
        return float(self.light.emitters.flux_lm.sum(axis=0) @ self.basis_xyz[:, 1])

    @property
    def lid_flux_lm(self) -> float:
        """Flux that falls on the inner faces of the lids."""
        return float(self.light.lid_flux_lm @ self.basis_xyz[:, 1])

    @property
    def direct_lm(self) -> float:
        """Flux that falls there without a bounce."""
        return float(self.light.direct_flux_lm @ self.basis_xyz[:, 1])

    @property
    def flux_out_lm(self) -> float:
        """Flux that leaves the face: through the sheet, or from a lit wall into the open."""
        if isinstance(self.light, CavityLight) and self.light.cavity.lit_from_inside:
            return float(self.light.open_flux_lm @ self.basis_xyz[:, 1])
        return self.diffuser.transmittance * self.lid_flux_lm

    @property
    def efficiency(self) -> float:
        """Flux that leaves over flux emitted; 0 for a dark design."""
        return self.flux_out_lm / self.emitted_lm if self.emitted_lm > 0 else 0.0

    @property
    def balance_error(self) -> float:
        """Absorbed, transmitted and escaped flux per emitted, less one."""
        return self.light.balance_error

    @property
    def map_error(self) -> float:
        """Flux on the pixels over the flux on the lids of the balance, less one; 0 for a dark design."""
        whole = self.lid_flux_lm
        drawn = float(((self.direct + self.bounced) @ self.basis_xyz[:, 1]) @ self.chart.areas_mm2)
        return drawn / whole - 1.0 if whole > 0 else 0.0

    def illuminance_lx(self) -> NDArray[np.float32]:
        """Illuminance on the inner face, (m, n); nothing beside the faces."""
        values = (self.direct + self.bounced) @ (self.basis_xyz[:, 1] * TO_SI)
        return self.chart.spread_out(values.astype(np.float32))

    def luminance_map(self) -> FloatArray:
        """Luminance in cd/m^2, (m, n); nothing beside the faces."""
        return self.chart.spread_out(self.luminance @ self.basis_xyz[:, 1])

    def xyz(self) -> NDArray[np.float32]:
        """CIE XYZ with Y in cd/m^2, (3, m, n); nothing beside the faces."""
        return self.chart.spread_out((self.basis_xyz.T @ self.luminance.T).astype(np.float32))


@dataclass(frozen=True)
class DrawnDirect:
    """Direct light on a chart: illuminance and the luminance that it makes, (pixels, k), as in :class:`CavityFace`."""

    chart: Chart
    direct: FloatArray
    seen: FloatArray
    unresolved: int


def draw_direct(
    light: DirectLight | BaffledLight, diffuser: Stack, emitter_size_mm: float, wanted: Pixels, pause: Pause = carry_on
) -> DrawnDirect:
    """Draw the direct light of a cavity on a chart of the pixels that are wanted."""
    if isinstance(light, BaffledLight):
        cells = light.box.columns * light.box.rows
        budget = math.sqrt(wanted.most / cells)
        finest = max(light.box.pitch_x_mm, light.box.pitch_y_mm) / wanted.finest_mm
        pixels = int(max(min(budget, max(_MOST_IN_CELL, math.ceil(finest))), _LEAST_IN_CELL))
        chart = chart_of_cells(light.box, pixels)
    else:
        chart = chart_of(light.cavity, _step_mm(light, diffuser, emitter_size_mm, wanted))
    weights = _weights(diffuser, emitter_size_mm, chart.step_mm)
    return DrawnDirect(chart, *_direct(light, chart, diffuser.diffuse / math.pi, weights, pause))


def light_face(
    light: Light,
    diffuser: Stack,
    basis_xyz: FloatArray,
    emitter_size_mm: float,
    wanted: Pixels,
    pause: Pause = carry_on,
    known: DrawnDirect | None = None,
) -> CavityFace:
    """Draw the light of a cavity on a chart of the pixels that are wanted; ``known`` is its direct light, where that is drawn."""
    drawn = known or draw_direct(light, diffuser, emitter_size_mm, wanted, pause)
    chart = drawn.chart
    bounced = _as_much_as(_bounced(light, chart), chart, light.lid_flux_lm - light.direct_flux_lm)
    luminance: FloatArray = TO_SI * (drawn.seen + diffuser.transmittance / math.pi * bounced)
    luminance = _spread_sideways(chart, luminance, diffuser.sideways_spread_mm)
    shown = drawn.direct, bounced, luminance
    return CavityFace(light, diffuser, basis_xyz, chart, *shown, emitter_size_mm, drawn.unresolved)


def _weights(diffuser: Stack, emitter_size_mm: float, step_mm: float) -> SheetWeights | None:
    """What the sheet makes of light by its angle; None where all of it is scattered evenly, wherever it comes from.

    What keeps its direction shows the emitter itself, as the lobe of its own size and of the pixel's.
    """
    if not diffuser.lobes and diffuser.regular <= 0:
        return None
    variance_mm2 = (emitter_size_mm**2 + step_mm**2) / 12.0
    return SheetWeights(_by_squared_sine(diffuser.diffuse, diffuser.lobes), diffuser.regular, variance_mm2)


@functools.lru_cache(maxsize=16)
def _by_squared_sine(diffuse: float, lobes: tuple[Lobe, ...]) -> NDArray[np.float32]:
    """Luminance straight on per illuminance of a sheet that scatters so: a table over the squared sine of the angle."""
    squared_sine = np.linspace(0.0, 1.0, _TABLE + 1)
    total = np.full(_TABLE + 1, diffuse / math.pi)
    for lobe in lobes:
        inside = lobe_share_inside(np.sqrt(squared_sine), lobe.sigma)
        scale = lobe.transmittance / (2.0 * math.pi * lobe.sigma**2)
        total += scale * np.exp(-squared_sine / (2.0 * lobe.sigma**2)) / inside
    table = total.astype(np.float32)
    table.flags.writeable = False
    return table


def _direct(
    light: DirectLight | BaffledLight, chart: Chart, even: float, weights: SheetWeights | None, pause: Pause
) -> tuple[FloatArray, FloatArray, int]:
    """Direct illuminance of every pixel, the luminance that it makes, and how many sources are too sharp for the pixels."""
    if isinstance(light, BaffledLight):
        pixels = _cell_pixels(light, chart)
        plain, seen = (None if one is None else _over_cells(one) for one in light.direct(pixels, weights, pause))
        assert plain is not None
        return plain, even * plain if seen is None else seen, 0
    found: dict[int, tuple[FloatArray, FloatArray]] = {}
    unresolved = 0
    for lids in _by_surface(light.cavity.lids):
        sources, changed = resolved(light.cavity.lids[lids[0]], light.sources, chart.step_mm)
        arriving = _arriving(light, chart, lids, sources, weights, pause)
        for lid, (plain, weighed) in zip(lids, arriving, strict=True):
            found[lid] = plain, even * plain if weighed is None else weighed
        unresolved += changed
    total, seen = (chart.of_all_lids([found[lid][which] for lid in range(len(found))]) for which in (0, 1))
    return total, seen, unresolved


def _by_surface(lids: Sequence[Tile]) -> list[list[int]]:
    """The numbers of those that are pieces of one surface, as the quadrilaterals of a polygon are."""
    found: dict[object, list[int]] = {}
    for number, lid in enumerate(lids):
        found.setdefault(lid.surface, []).append(number)
    return list(found.values())


def _arriving(
    light: DirectLight, chart: Chart, lids: list[int], sources: Emitters, weights: SheetWeights | None, pause: Pause
) -> list[tuple[FloatArray, FloatArray | None]]:
    """Direct illuminance, plain and weighed, on the pixels of some lids; asked together where that is soon done."""
    pixels = [chart.pixels_of_lids[lid] for lid in lids]
    counts = [len(chart.s[mine]) for mine in pixels]
    if len(lids) == 1 or sum(counts) * sources.count > _MOST_TOGETHER:
        return [
            light.direct(light.cavity.lids[lid], chart.s[mine], chart.t[mine], weights, pause, sources)
            for lid, mine in zip(lids, pixels, strict=True)
        ]
    together = np.concatenate([np.arange(len(chart.s))[mine] for mine in pixels])
    plain, weighed = illuminance(chart.places_mm[together], chart.normals[together], sources, weights, pause=pause)
    parts = np.split(np.arange(len(together)), np.cumsum(counts)[:-1])
    return [(plain[part], None if weighed is None else weighed[part]) for part in parts]


def _bounced(light: Light, chart: Chart) -> FloatArray:
    if isinstance(light, BaffledLight):
        return _over_cells(light.bounced(_cell_pixels(light, chart)))
    return chart.of_all_lids(
        [light.bounced(index, chart.s[mine], chart.t[mine]) for index, mine in enumerate(chart.pixels_of_lids)]
    )


def _as_much_as(bounced: FloatArray, chart: Chart, flux_lm: FloatArray) -> FloatArray:
    """Scale the bounced light on the pixels to its flux: interpolation that is cut off at zero adds a trace."""
    drawn = chart.areas_mm2 @ bounced
    return np.asarray(bounced * np.where(drawn > 0, flux_lm / np.where(drawn > 0, drawn, 1.0), 1.0))


def _cell_pixels(light: BaffledLight, chart: Chart) -> int:
    return len(chart.u_mm) // light.box.columns


def _over_cells(cells: FloatArray) -> FloatArray:
    """Bring (columns, rows, y, x, k) in the order of a chart's pixels."""
    columns, rows, pixels, _, colours = cells.shape
    return cells.transpose(1, 2, 0, 3, 4).reshape(rows * pixels * columns * pixels, colours)


def _step_mm(light: DirectLight, diffuser: Stack, emitter_size_mm: float, wanted: Pixels) -> float:
    """Width of a pixel that resolves the sharpest light, within a budget."""
    nearest = light.clearance_mm
    finest = min(nearest / 8.0, wanted.finest_mm)
    for lobe in diffuser.lobes:
        finest = min(finest, lobe.sigma * nearest / 2.5)
    if diffuser.regular > 0:
        finest = min(finest, emitter_size_mm / 1.5)
    narrowest = math.sqrt(max(float(light.sources.power.max(initial=1.0)), 1.0))
    finest = min(finest, nearest / narrowest)  # the width of its spot
    lengths = np.array([tile.lengths_mm for tile in light.cavity.lids])
    area = float(lengths.prod(axis=1).sum())
    finest = min(finest, float(lengths.min()) / _LEAST_ACROSS * math.sqrt(len(lengths)))
    return max(finest, math.sqrt(area / _budget(light, wanted.most, wanted.detail)))


def _budget(light: DirectLight, most_pixels: int, detail: float) -> float:
    """Most pixels, fewer where very many emitters are near each."""
    from scipy.spatial import cKDTree

    if detail * _MOST_PAIRS >= most_pixels * light.sources.count:  # even if all are near
        return max(most_pixels, _LEAST_PIXELS)
    tile = max(light.cavity.lids, key=lambda one: math.prod(one.lengths_mm))
    s, t = (grid.ravel() for grid in np.meshgrid(*2 * [(np.arange(5) + 0.5) / 5]))
    tree = cKDTree(light.sources.places_mm)
    near = tree.query_ball_point(tile.points(s, t), NEAR_CLEARANCES * light.clearance_mm, return_length=True)
    return max(min(most_pixels, detail * _MOST_PAIRS / max(float(np.mean(near)), 1.0)), _LEAST_PIXELS)


def _spread_sideways(chart: Chart, luminance: FloatArray, spread_mm: float) -> FloatArray:
    """Blur by the sheet's sideways spread, keeping to the faces."""
    from scipy.ndimage import gaussian_filter

    sigma = spread_mm / chart.step_mm
    if sigma < 0.2:
        return luminance

    def blurred(column: FloatArray) -> FloatArray:
        return np.asarray(gaussian_filter(chart.spread_out(column), sigma, mode="nearest"))

    columns = in_threads(blurred, list(np.ascontiguousarray(luminance.T)))
    if chart.inside.all():
        return np.stack([column.ravel() for column in columns], axis=1)
    there = np.maximum(blurred(np.ones(len(luminance))), 1e-9)
    return np.stack([(column / there)[chart.inside] for column in columns], axis=1)


def colour_columns(flux_lm: FloatArray, xyz_per_lumen: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Bring emitters of any number of colours into at most three columns.

    Up to three colours keep a column each; more are carried as X, Y and Z, which add like flux does.

    Parameters
    ----------
    flux_lm, xyz_per_lumen:
        Shapes (n,) and (n, 3).

    Returns
    -------
    Columns (n, k) and their colours (k, 3).
    """
    rounded = np.round(xyz_per_lumen, 9)
    kinds = alike(rounded)
    colours = rounded[kinds.first]
    if len(colours) > 3:
        return flux_lm[:, None] * xyz_per_lumen, np.eye(3)
    columns = np.zeros((len(flux_lm), len(colours)))
    columns[np.arange(len(flux_lm)), kinds.which] = flux_lm
    return columns, colours
