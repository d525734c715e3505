"""The lit faces of a cavity drawn flat: a grid over their unfolded coordinates."""

import functools
import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.families.tiles import FlatTile, RoundTile, Tile
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.cavity.kept import Kept
from gauze.core.optics.kernel.pieces import Pieces

_SPARE = 0.05  # of a piece's size on the chart: more than an arc bulges between two of nine places of its rim
_SAME = 6  # decimals of a pixel, to which pieces have to lie alike on a chart to have the same grid
_EVENLY = np.meshgrid(*2 * [(np.arange(16) + 0.5) / 16])  # places on a piece whose mean is that of all of it
_EDGE = 1e-6  # of a piece's (s, t), taken in at its edges


@dataclass(frozen=True)
class Chart:
    """Pixels over the unfolded faces.

    ``u_mm`` (n,) and ``v_mm`` (m,) are the middles of the pixels; ``inside`` (m, n) says which lie on a face. For those, in the
    order of ``inside``'s true places: the lid that each is of, its (s, t) there, and the area that it stands for. ``lids`` are
    all pieces that they are of.
    """

    u_mm: FloatArray
    v_mm: FloatArray
    inside: NDArray[np.bool_]
    lid: IndexArray
    s: FloatArray
    t: FloatArray
    areas_mm2: FloatArray
    lids: Pieces

    def __getstate__(self) -> dict[str, object]:
        """Give another process what it shows in a quarter of the bytes: a grid of pixels is large."""
        state = {name: value for name, value in self.__dict__.items() if name not in ("_in_space", "pixels_of_lids")}
        for name in ("s", "t", "areas_mm2"):
            state[name] = state[name].astype(np.float32)
        return state | {"lid": self.lid.astype(np.int16)}

    @functools.cached_property
    def _in_space(self) -> tuple[FloatArray, FloatArray]:
        places, normals, _ = self.lids.at(self.lid, self.s, self.t)
        return places, normals

    def locate(self) -> None:
        """Find the places in space now: two that ask at once would both look for them."""
        _ = self._in_space

    @property
    def places_mm(self) -> FloatArray:
        """Places in space, (pixels, 3)."""
        return self._in_space[0]

    @property
    def normals(self) -> FloatArray:
        """Their inward normals, (pixels, 3)."""
        return self._in_space[1]

    @functools.cached_property
    def pixels_of_lids(self) -> list[IndexArray | slice]:
        """The pixels of every lid."""
        count = len(self.lids.tiles)
        return [slice(None)] if count == 1 else [np.flatnonzero(self.lid == index) for index in range(count)]

    def of_all_lids(self, values: list[FloatArray]) -> FloatArray:
        """Put values of the pixels of every lid, (n, ...), in the order of the pixels."""
        if len(values) == 1:
            return values[0]
        whole = np.empty((len(self.s), *values[0].shape[1:]))
        for mine, some in zip(self.pixels_of_lids, values, strict=True):
            whole[mine] = some
        return whole

    @property
    def step_mm(self) -> float:
        """Width of a pixel."""
        return float(self.u_mm[1] - self.u_mm[0])

    def spread_out(self, values: FloatArray, outside: float = 0.0) -> FloatArray:
        """Put values of the inside pixels, shape (..., pixels), on the grid: (..., m, n)."""
        if self.inside.all():
            return values.reshape(*values.shape[:-1], *self.inside.shape)
        grid = np.full((*values.shape[:-1], *self.inside.shape), outside, dtype=values.dtype)
        grid[..., self.inside] = values
        return grid


def chart_of(cavity: Cavity, step_mm: float) -> Chart:
    """Lay a grid of about ``step_mm`` over all lids."""
    rim = np.linspace(0.0, 1.0, 9)
    s_rim, t_rim = (grid.ravel() for grid in np.meshgrid(rim, rim))
    outlines = [np.stack(tile.to_chart(s_rim, t_rim)) for tile in cavity.lids]
    low, high = np.min([o.min(axis=1) for o in outlines], axis=0), np.max([o.max(axis=1) for o in outlines], axis=0)
    key = (
        tuple(type(tile) for tile in cavity.lids),
        np.round(np.array(outlines) / step_mm, _SAME).tobytes(),
        None if cavity.legs is None else tuple(round(tile.lengths_mm[0] / step_mm, _SAME) for tile in cavity.lids),
    )
    grid = _GRIDS.get(key, lambda: _grid(cavity, outlines, (low, high), step_mm))
    rows, columns = grid.inside.shape
    u_mm, v_mm = (_middles(float(a), float(b), count) for a, b, count in zip(low, high, (columns, rows), strict=True))
    lid, s, t = grid.lid, grid.s, grid.t
    chart = Chart(u_mm, v_mm, grid.inside, lid, s, t, np.empty(0), Pieces(cavity.lids))
    areas = []
    for tile, mine in zip(cavity.lids, chart.pixels_of_lids, strict=True):
        own = stretch(tile, s[mine], t[mine])
        areas.append(own * (_tile_area(tile) / max(float(own.sum()), 1e-12)))
    return replace(chart, areas_mm2=chart.of_all_lids(areas))


@dataclass(frozen=True)
class _Grid:
    """What of a chart is the same for all whose pieces lie alike on it, whatever their size and their place in space."""

    inside: NDArray[np.bool_]
    lid: IndexArray
    s: FloatArray
    t: FloatArray


_GRIDS: Kept[_Grid] = Kept(20_000_000, lambda grid: 4 * grid.s.nbytes)


def _grid(cavity: Cavity, outlines: list[FloatArray], span: tuple[FloatArray, FloatArray], step_mm: float) -> _Grid:
    """Find for every pixel the lid on which it lies, and where there."""
    counts = [max(2, math.ceil((b - a) / step_mm - 1e-9)) for a, b in zip(*span, strict=True)]
    u_mm, v_mm = (_middles(float(a), float(b), count) for a, b, count in zip(*span, counts, strict=True))
    shape = len(v_mm), len(u_mm)
    lid, s, t = np.full(shape, -1), np.zeros(shape), np.zeros(shape)
    for index, (tile, outline) in enumerate(zip(cavity.lids, outlines, strict=True)):
        columns, rows = (_reached(middles, values) for middles, values in zip((u_mm, v_mm), outline, strict=True))
        left = lid[rows, columns] < 0
        u, v = (grid[left] for grid in np.meshgrid(u_mm[columns], v_mm[rows]))
        on_s, on_t = tile.locate(u, v)
        beyond = _EDGE if cavity.legs is None else step_mm / tile.lengths_mm[0]  # pixels that a mitre cuts in two
        hit = (on_s > -beyond) & (on_s < 1 + beyond) & (on_t > -_EDGE) & (on_t < 1 + _EDGE)
        mine = np.zeros(left.shape, bool)
        mine[left] = hit
        for values, found in ((lid, index), (s, np.clip(on_s[hit], 0.0, 1.0)), (t, np.clip(on_t[hit], 0.0, 1.0))):
            values[rows, columns][mine] = found
    inside = lid >= 0
    return _Grid(inside, lid[inside], s[inside], t[inside])


def _reached(middles: FloatArray, outline: FloatArray) -> slice:
    """Which pixels along an axis a piece may reach: those of its outline, and a little more where it is round."""
    low, high = float(outline.min()), float(outline.max())
    spare = _SPARE * (high - low) + float(middles[1] - middles[0])
    return slice(*np.searchsorted(middles, [low - spare, high + spare]).tolist())


def stretch(tile: Tile, s: FloatArray, t: FloatArray) -> FloatArray:
    """Area in space over area on the chart: 1 for flat pieces and cylinders."""
    if tile.is_flat or (isinstance(tile, RoundTile) and tile.start_rz_mm[0] == tile.end_rz_mm[0]):
        return np.ones(len(s))
    if isinstance(tile, RoundTile):  # as wide on the chart as halfway up
        return np.asarray(tile.density(s, t) / tile.density(np.array(0.5), np.array(0.5)))
    step = 1e-4
    s, t = np.clip(s, 2 * step, 1 - 2 * step), np.clip(t, 2 * step, 1 - 2 * step)
    (u0, v0), (u1, v1) = tile.to_chart(s - step, t), tile.to_chart(s + step, t)
    (u2, v2), (u3, v3) = tile.to_chart(s, t - step), tile.to_chart(s, t + step)
    on_chart = np.abs((u1 - u0) * (v3 - v2) - (v1 - v0) * (u3 - u2)) / (4 * step**2)
    return np.asarray(tile.density(s, t) / np.maximum(on_chart, 1e-12))


def _tile_area(tile: Tile) -> float:
    return float(tile.density(*_EVENLY).mean())


def _middles(low: float, high: float, count: int) -> FloatArray:
    return low + (np.arange(count) + 0.5) * (high - low) / count


def chart_of_cells(box: BaffledBox, pixels: int) -> Chart:
    """Lay ``pixels`` x ``pixels`` over the lid of every cell."""
    u_mm = (np.arange(box.columns * pixels) + 0.5) * box.pitch_x_mm / pixels
    v_mm = (np.arange(box.rows * pixels) + 0.5) * box.pitch_y_mm / pixels
    u, v = (grid.ravel() for grid in np.meshgrid(u_mm, v_mm))
    count = len(u)
    return Chart(
        u_mm,
        v_mm,
        np.ones((len(v_mm), len(u_mm)), bool),
        np.zeros(count, int),
        u / box.width_mm,
        1.0 - v / box.height_mm,
        np.full(count, box.pitch_x_mm * box.pitch_y_mm / pixels**2),
        Pieces([_lid_of(box)]),
    )


def _lid_of(box: BaffledBox) -> FlatTile:
    """The whole lid of a box, s to the right and t down: it looks inwards."""
    outline = np.column_stack([box.plan, np.full(4, box.depth_mm)])
    return FlatTile("lid", "lid", outline[::-1])
