"""The packages of a build as they are drawn: each once, in the colour that its channels make together; no painting."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from gauze.core.evaluate.light.one_cavity import package_xyz, packages_of
from gauze.core.layout import CavityLayout, Instance, Layout
from gauze.core.layout.model import FloatArray
from gauze.core.layout.placing import turn_of, within
from gauze.core.optics.appearance import Viewing, true_colour

_DARK = (110, 110, 110)
_MOST_KEPT = 12
_LARGEST_KEY = 20_000  # emitters up to which their places are worth a key


@dataclass(frozen=True)
class Dots:
    """Places and axes (n, 3) in mm, screen colours (n, 3) from 0 to 255, the side of a package."""

    places_mm: FloatArray
    axes: FloatArray
    colours: NDArray[np.uint8]
    size_mm: float


_kept: dict[object, tuple[CavityLayout, Dots]] = {}


def dots_of(cavity: CavityLayout) -> Dots:
    """Return the packages of one cavity; kept as long as they are the same, though a sheet or a wall moves."""
    small = cavity.emitter_count <= _LARGEST_KEY
    key: object = id(cavity)
    if small:
        key = (cavity.places_mm.tobytes(), cavity.flux_lm.tobytes(), cavity.cct_k.tobytes(), cavity.channels)
    known = _kept.get(key)
    if known is not None and (small or known[0] is cavity):
        return known[1]
    while len(_kept) >= _MOST_KEPT:
        _kept.pop(next(iter(_kept)))
    _kept[key] = (cavity, _made(cavity))
    return _kept[key][1]


def _made(cavity: CavityLayout) -> Dots:
    first, which = packages_of(cavity)
    flux = np.bincount(which, cavity.flux_lm, len(first))
    xyz = np.asarray(package_xyz(cavity)[first].T[:, None, :], dtype=np.float32)
    pixels = true_colour(xyz, Viewing(1.25, 0.0, 0.0))[0]
    colours = np.where((flux > 0)[:, None], pixels[:, :3], _DARK).astype(np.uint8)
    return Dots(cavity.places_mm[first], cavity.axes[first], colours, cavity.emitter_size_mm)


def dots_in_plan(layout: Layout) -> Dots:
    """Return the packages of all cavities where they stand in the plan; of a clipped one only those that are its own."""
    if not layout.instances:
        return dots_of(layout.cavity)
    found = [_of_instance(layout.cavities[instance.cavity], instance) for instance in layout.instances]
    places, axes, colours = (np.concatenate(parts) for parts in zip(*found, strict=True))
    return Dots(places, axes, colours, max(cavity.emitter_size_mm for cavity in layout.cavities))


def dots_in_cut(layout: Layout) -> Dots:
    """Return the packages of the cavity that is cut, in its own axes; of a clipped one only those that are its own."""
    return _own(layout.cavity, layout.instances[0]) if layout.instances else dots_of(layout.cavity)


def _own(cavity: CavityLayout, instance: Instance) -> Dots:
    dots = dots_of(cavity)
    if instance.clip_mm is None:
        return dots
    mine = within(dots.places_mm[:, :2], instance.clip_mm)
    return Dots(dots.places_mm[mine], dots.axes[mine], dots.colours[mine], dots.size_mm)


def _of_instance(cavity: CavityLayout, instance: Instance) -> tuple[FloatArray, FloatArray, NDArray[np.uint8]]:
    dots, turn = _own(cavity, instance), turn_of(instance).T
    return dots.places_mm @ turn + (instance.x_mm, instance.y_mm, 0.0), dots.axes @ turn, dots.colours
