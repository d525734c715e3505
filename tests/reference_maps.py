"""The path-traced reference maps, and the engine's light averaged over the same cells."""

import json
from collections.abc import Hashable
from dataclasses import dataclass
from pathlib import Path

import msgspec
import numpy as np

from gauze.core.design.cavity import MitredChannelShape
from gauze.core.layout.cavity import Cavity, Reflectances
from gauze.core.layout.model import FloatArray
from gauze.core.layout.shapes import surface_of
from gauze.core.optics.cavity.baffled import BaffledLight
from gauze.core.optics.cavity.chart import stretch
from gauze.core.optics.cavity.emitters import Emitters
from gauze.core.optics.cavity.face import Light
from gauze.core.optics.cavity.light import CavityLight

FOLDER = Path(__file__).parent / "reference"
LID = 0.38  # reflectance of the sheet of all reference maps
_PLACES = 6  # along each side of a cell


@dataclass(frozen=True)
class ReferenceMap:
    """Middles of cells on the chart, their sizes, E in lm/mm^2 and its standard error."""

    u_mm: FloatArray
    v_mm: FloatArray
    cell_mm: tuple[float, float]
    illuminance: FloatArray
    error: FloatArray


def read_reference(name: str) -> ReferenceMap:
    rows = np.loadtxt(FOLDER / f"{name}.csv", delimiter=",", skiprows=1)
    cell = tuple(float(np.diff(np.unique(np.round(rows[:, axis], 3))).min()) for axis in (0, 1))
    return ReferenceMap(rows[:, 0], rows[:, 1], (cell[0], cell[1]), rows[:, 2], rows[:, 3])


def traced_corner(name: str) -> tuple[Cavity, Hashable, Emitters]:
    """A mitred corner that was traced: its surface, what stands for its geometry, and its LEDs."""
    case = json.loads((FOLDER / f"{name}.json").read_text("utf-8"))["build"]
    shape = msgspec.convert(case["cavity"], MitredChannelShape)
    surface = surface_of(shape, Reflectances(case["back"], case["walls"], LID))
    assert isinstance(surface, Cavity)
    rows = np.array(case["emitters"])
    emitters = Emitters(
        rows[:, :3], rows[:, 3:6], np.ones(len(rows)), rows[:, 6:], size_mm=float(case["emitter_size_mm"])
    )
    return surface, shape, emitters


def light_over_cells(light: Light, reference: ReferenceMap) -> FloatArray:
    """Mean E of the engine over each cell of the reference, in lm/mm^2."""
    if not isinstance(light, CavityLight):
        return _over_baffled_cells(light, reference)
    share = (np.arange(_PLACES) + 0.5) / _PLACES - 0.5
    a, b = (grid.ravel() for grid in np.meshgrid(share, share))
    u = (reference.u_mm[:, None] + a * reference.cell_mm[0]).ravel()
    v = (reference.v_mm[:, None] + b * reference.cell_mm[1]).ravel()
    values, areas = (one.reshape(len(reference.u_mm), -1) for one in _at(light, u, v))
    return np.asarray((values * areas).sum(axis=1) / areas.sum(axis=1))


def _at(light: CavityLight, u: FloatArray, v: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Illuminance, and the area that a place of the chart stands for."""
    total, area = np.full(u.shape, np.nan), np.ones(u.shape)
    for index, tile in enumerate(light.cavity.lids):
        s, t = tile.locate(u, v)
        mine = np.flatnonzero((s > -1e-9) & (s < 1 + 1e-9) & (t > -1e-9) & (t < 1 + 1e-9))
        s, t = s[mine], t[mine]
        total[mine] = (light.direct(tile, s, t)[0] + light.bounced(index, s, t)).sum(axis=1)
        area[mine] = stretch(tile, s, t)
    return total, area


def _over_baffled_cells(light: BaffledLight, reference: ReferenceMap) -> FloatArray:
    """The direct light jumps at the partitions' shadows: it takes very many places to find its mean."""
    direct, bounced = (_blocks(light, values, reference) for values in (light.direct(240)[0], light.bounced(240)))
    row = np.floor(reference.v_mm / reference.cell_mm[1]).astype(int)
    column = np.floor(reference.u_mm / reference.cell_mm[0]).astype(int)
    return np.asarray((direct + bounced)[row, column])


def _blocks(light: BaffledLight, cells: FloatArray, reference: ReferenceMap) -> FloatArray:
    """Means of values (columns, rows, y, x, k) over the reference's cells, (rows, columns)."""
    count = cells.shape[2]
    fine = cells.sum(axis=4).transpose(1, 2, 0, 3).reshape(light.box.rows * count, light.box.columns * count)
    rows, columns = (len(np.unique(np.round(values, 3))) for values in (reference.v_mm, reference.u_mm))
    return np.asarray(fine.reshape(rows, len(fine) // rows, columns, fine.shape[1] // columns).mean(axis=(1, 3)))
