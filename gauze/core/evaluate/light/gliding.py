"""Cavities under a dragging hand: most of what it passes lies on a straight line between two that are lit.

While a size is dragged every size and every emitter of a cavity moves along a straight line. What the hand reaches first is not
lit itself, but a cavity some steps ahead on that line; all between that and the one before take their bounced light from both.
It is smooth, and over so short a way straight to within a few thousandths. Direct light is always computed as it is. So are boxes
with partitions, as long as there are gaps above and below these, or none.
"""

from collections import deque
from collections.abc import Callable, Hashable
from dataclasses import dataclass, replace
from typing import Self

import numpy as np

from gauze.core.design.cavity import CavityShape, check_cavity
from gauze.core.errors import DesignError
from gauze.core.evaluate.light.sizes import sizes_in, with_sizes, without_sizes
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.model import FloatArray
from gauze.core.layout.shapes import surface_of
from gauze.core.optics.cavity.baffled import BaffledLight
from gauze.core.optics.cavity.between import cells_between, light_between
from gauze.core.optics.cavity.emitters import Emitters
from gauze.core.optics.cavity.light import CavityLight
from gauze.core.optics.cavity.mesh import thickness_mm
from gauze.core.optics.kernel.pieces import Pieces

_MOST_APART = 0.05  # of each size, by which two cavities may differ between which light is taken for straight
_MOST_MOVED = 0.25  # of the cavity's thickness, by which an emitter's distance from any piece may differ between them
_MOST_OPENED, _LEAST_GAP = (
    0.5,
    0.02,
)  # of the wider gap, by which gaps at partitions may differ; of the thickness, of any
_LEAST_SIZE = 0.25  # of the thickness: of a smaller one a share says nothing
_WORTH_AHEAD = 1.5  # times as far as the hand is: nearer than that lighting ahead spares nothing
_ASIDE_MM, _TURNED = 0.05, 0.01  # by which places and axes may lie beside the line
_LEAST_CLEARANCE_MM = 1.0
_ALIKE = 0.02  # of the brightest emitter, by which emitters may differ in strength
_NO_FARTHER = 1.0 + 1e-6  # in the farthest that two may be apart
_MOST_EMITTERS, _MOST_IN_CELLS = 3_000, 5_000
_MOST_LIT, _MOST_BYTES = 24, 30_000_000

AnyLight = CavityLight | BaffledLight
Light = Callable[[CavityLayout, Emitters], AnyLight]


@dataclass(frozen=True)
class _Where:
    """A cavity with its emitters: its sizes, places and axes of these (3 n each), their distances from pieces, its thickness.

    ``clear_mm`` (pieces, n) are the distances from all pieces, ``to_lids_mm`` (n,) those from the nearest that is looked at,
    ``gaps_mm`` those below and above partitions.
    """

    sizes: FloatArray
    places_mm: FloatArray
    axes: FloatArray
    clear_mm: FloatArray
    to_lids_mm: FloatArray
    thick_mm: float
    gaps_mm: FloatArray

    @classmethod
    def of(cls, cavity: CavityLayout, surface: Cavity | BaffledBox, emitters: Emitters) -> Self:
        """Read it off a cavity."""
        if isinstance(surface, BaffledBox):
            above = emitters.places_mm[:, 2]
            to_lid = surface.depth_mm - above
            sizes = np.array(list(sizes_in(cavity.shape)))
            ways, gaps = np.array([above, to_lid]), np.array([surface.low_mm, surface.depth_mm - surface.high_mm])
            lie = emitters.places_mm.ravel(), emitters.axes.ravel()
            return cls(sizes, *lie, ways, to_lid, surface.depth_mm, gaps)
        clear_mm = np.array([tile.clearance_mm(emitters.places_mm) for tile in surface.tiles])
        thick_mm, _ = thickness_mm(Pieces(surface.tiles, surface.legs))
        sizes = np.array(list(sizes_in(cavity.shape)))
        to_lids_mm = clear_mm[surface.looked_at].min(axis=0)
        lie = emitters.places_mm.ravel(), emitters.axes.ravel()
        return cls(sizes, *lie, clear_mm, to_lids_mm, thick_mm, np.zeros(0))

    def apart(self, other: "_Where") -> float:
        """How far another is away, in the farthest that two may be apart."""
        size = np.abs(other.sizes - self.sizes) / np.maximum(np.abs(self.sizes), _LEAST_SIZE * self.thick_mm)
        nearer = np.abs(other.to_lids_mm - self.to_lids_mm) / np.maximum(np.abs(self.to_lids_mm), _LEAST_CLEARANCE_MM)
        moved = np.abs(other.clear_mm - self.clear_mm) / self.thick_mm
        wider = np.maximum(np.maximum(self.gaps_mm, other.gaps_mm), _LEAST_GAP * self.thick_mm)
        opened = float((np.abs(other.gaps_mm - self.gaps_mm) / wider).max(initial=0.0))
        return max(
            max(float(size.max()), float(nearer.max())) / _MOST_APART,
            float(moved.max()) / _MOST_MOVED,
            opened / _MOST_OPENED,
        )

    def share_of(self, end: "_Where", at: "_Where") -> float | None:
        """How far on the way to an end a place is; None where it lies beside that way, or beyond either end."""
        lengths = [np.concatenate([one.sizes, one.places_mm]) for one in (self, end, at)]
        way, away = lengths[1] - lengths[0], lengths[2] - lengths[0]
        squared = float(way @ way)
        share = float(away @ way) / squared if squared > 0.0 else 0.0
        if not 0.0 <= share <= 1.0 or np.abs(away - share * way).max() > _ASIDE_MM:
            return None
        turned = at.axes - self.axes - share * (end.axes - self.axes)
        return share if np.abs(turned).max() <= _TURNED else None


@dataclass(frozen=True)
class _Lit:
    """A cavity that was lit: of what kind, where everything was in it, and its light."""

    kind: Hashable
    where: _Where
    light: AnyLight


_LIT: deque[_Lit] = deque(maxlen=_MOST_LIT)


def forget_gliding() -> None:
    """Drop what is kept, as a benchmark wants it."""
    _LIT.clear()


def _keep(lit: _Lit) -> None:
    """Keep a light, and of those before it as many as memory is given."""
    _LIT.append(lit)
    while len(_LIT) > 2 and sum(one.light.bounced_at_knots.nbytes for one in tuple(_LIT)) > _MOST_BYTES:
        _LIT.popleft()


def light_gliding(cavity: CavityLayout, emitters: Emitters, fineness: float, light: Light) -> AnyLight:
    """Return the light of a cavity for a hand in motion: between two that are known, or ``light``'s own."""
    surface = cavity.surface
    most = _MOST_IN_CELLS if isinstance(surface, BaffledBox) else _MOST_EMITTERS
    if emitters.count > most or not emitters.flux_lm.any():
        return light(cavity, emitters)
    kind, here = _kind_of(cavity, emitters, fineness), _Where.of(cavity, surface, emitters)
    known = [lit for lit in tuple(_LIT) if lit.kind == kind and _as_bright(lit.light.emitters, emitters)]
    between = _between(known, here, surface, emitters)
    if between is not None:
        return between
    nearest = min(known, key=lambda lit: lit.where.apart(here), default=None)
    apart = np.inf if nearest is None else nearest.where.apart(here)
    if nearest is not None and 0.0 < apart * _WORTH_AHEAD < 1.0:
        ahead = _ahead(cavity, emitters, nearest.where, here, 1.0 / apart)
        if ahead is not None and _kind_of(*ahead, fineness) == kind:
            there, lamps = ahead
            lit = _Lit(kind, _Where.of(there, there.surface, lamps), light(there, lamps))
            _keep(lit)
            between = _between([nearest, lit], here, surface, emitters)
            if between is not None:
                return between
    own = light(cavity, emitters)
    _keep(_Lit(kind, here, own))
    return own


def _between(known: list[_Lit], here: _Where, surface: Cavity | BaffledBox, emitters: Emitters) -> AnyLight | None:
    """The light from the two nearest to each other that have a cavity between them; None where no two have."""
    best: tuple[float, _Lit, _Lit, float] | None = None
    for index, one in enumerate(known):
        for other in known[index:]:
            apart = one.where.apart(other.where)
            if apart > _NO_FARTHER or (best is not None and apart >= best[0]):
                continue
            share = one.where.share_of(other.where, here)
            if share is not None:
                best = apart, one, other, share
    if best is None:
        return None
    _, one, other, share = best
    return _mixed((one.light, other.light), share, surface, emitters)


def _mixed(
    lights: tuple[AnyLight, AnyLight], share: float, surface: Cavity | BaffledBox, emitters: Emitters
) -> AnyLight | None:
    one, other = lights
    try:
        if isinstance(surface, BaffledBox):
            assert isinstance(one, BaffledLight)
            assert isinstance(other, BaffledLight)
            return cells_between(one, other, share, surface, emitters)
        assert isinstance(one, CavityLight)
        assert isinstance(other, CavityLight)
        return light_between(one, other, share, surface, emitters)
    except ValueError:
        return None


def _ahead(
    cavity: CavityLayout, emitters: Emitters, before: _Where, here: _Where, times: float
) -> tuple[CavityLayout, Emitters] | None:
    """The cavity so many times as far from another as it is; None where there can be none."""
    sizes, places, axes = (
        start + times * (end - start)
        for start, end in ((before.sizes, here.sizes), (before.places_mm, here.places_mm), (before.axes, here.axes))
    )
    shape: CavityShape = with_sizes(cavity.shape, iter(sizes.tolist()))
    try:
        check_cavity(shape, "")
    except DesignError:
        return None
    surface = surface_of(shape, cavity.surface.reflectances)
    places_mm, heading = places.reshape(-1, 3), axes.reshape(-1, 3)
    if surface.clearance_mm(places_mm).min() < min(float(here.clear_mm.min()), 0.0):
        return None  # an emitter would have come out of it
    heading = heading / np.linalg.norm(heading, axis=1, keepdims=True)
    moved = replace(emitters, places_mm=places_mm, axes=heading)
    return replace(cavity, shape=shape, surface=surface, places_mm=places_mm, axes=heading), moved


def _as_bright(one: Emitters, other: Emitters) -> bool:
    """Whether emitters are alike in strength, each colour measured by its sum."""
    if one.flux_lm.shape != other.flux_lm.shape:
        return False
    first, second = (lamps.flux_lm / np.maximum(lamps.flux_lm.sum(axis=0), 1e-30) for lamps in (one, other))
    return bool(np.abs(first - second).max() <= _ALIKE * second.max())


def _kind_of(cavity: CavityLayout, emitters: Emitters, fineness: float) -> Hashable:
    """All that has to be the same."""
    surface = cavity.surface
    if isinstance(surface, BaffledBox):
        made_of: Hashable = surface.low_mm > 0.0, surface.high_mm < surface.depth_mm, surface.open_rim
    else:
        made_of = len(surface.tiles)
    return (
        without_sizes(cavity.shape),
        surface.reflectances,
        made_of,
        emitters.power.tobytes(),
        emitters.table.tobytes(),
        tuple(table.per_steradian.tobytes() for table in emitters.tables),
        emitters.size_mm,
        fineness,
    )
