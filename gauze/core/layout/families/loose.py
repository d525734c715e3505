"""Layout of loose emitters: the cavity's surface from its choices, every emitter checked to lie inside."""

import numpy as np

from gauze.core.design.cavity import lit_by_reflection
from gauze.core.design.loose import LooseEmitters, emitter_table
from gauze.core.design.numbering import numbers_of
from gauze.core.design.strip_panel import finish_of
from gauze.core.errors import DesignError
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.built import Layout
from gauze.core.layout.cavity import Cavity, Reflectances
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.cavity_sketch import MOST_THINGS, cavity_sketch, emitter_things
from gauze.core.layout.model import FloatArray
from gauze.core.layout.shapes import surface_of
from gauze.core.materials import Catalogue
from gauze.core.words import Length, Text, say

_HAIR_MM = 0.1
_TOUCHING_MM = 0.01  # how far an emitter may lie in a surface: rounding of what was typed


def lay_out_loose(build: LooseEmitters, catalogue: Catalogue, path: str = "build") -> Layout:
    """Lay out checked choices; raises :class:`DesignError` where an emitter lies outside."""
    cavity = loose_cavity(build, catalogue, path)
    count = len(build.emitters)
    numbers = numbers_of(build.numbers, count) if build.numbers else range(1, count + 1)
    movable_items = emitter_things(cavity.places_mm, numbers) if cavity.emitter_count <= MOST_THINGS else ()
    sketch = cavity_sketch(build.cavity, cavity.surface, "build.cavity", movable_items)
    return Layout(cavities=(cavity,), sketches=(sketch,), emitter_numbers=numbers)


def loose_cavity(build: LooseEmitters, catalogue: Catalogue, path: str = "build") -> CavityLayout:
    """Return the cavity with its emitters; raises as :func:`lay_out_loose`."""
    table = emitter_table(build.emitters)
    cavity = cavity_of(build, catalogue)
    places = table[:, :3]
    clearance = cavity.clearance_mm(places)
    outside = np.flatnonzero(clearance < -_TOUCHING_MM)
    if len(outside):
        worst = int(outside[0])
        x, y, z = (Length(value) for value in places[worst])
        raise DesignError(
            f"{path}.emitters[{worst}]",
            "Emitter {emitter} at x {x}, y {y}, z {z} lies {beyond} outside of the cavity{others}. Move"
            " it, or make the cavity larger.",
            emitter=worst + 1,
            x=x,
            y=y,
            z=z,
            beyond=Length(-clearance[worst]),
            others=_others(len(outside) - 1),
        )
    axes = table[:, 3:6] / np.linalg.norm(table[:, 3:6], axis=1, keepdims=True)
    return CavityLayout(
        shape=build.cavity,
        surface=cavity,
        places_mm=_off_the_surface(cavity, places, axes, clearance),
        axes=axes,
        power=table[:, 7],
        flux_lm=table[:, 6] * build.level,
        cct_k=table[:, 8],
        cie_xy=table[:, 9:11],
        distribution=table[:, 11].astype(int),
        emitter_size_mm=build.emitter_size_mm,
        level=build.level,
        distributions=build.distributions,
    )


def _off_the_surface(
    cavity: Cavity | BaffledBox, places: FloatArray, axes: FloatArray, clearance_mm: FloatArray
) -> FloatArray:
    """Places of the emitters, those that lie on a surface and look at it moved a hair's breadth off, so that they light it."""
    close = np.flatnonzero(clearance_mm < _HAIR_MM)
    if not len(close):
        return places
    ahead = cavity.clearance_mm(places[close] + _HAIR_MM * axes[close])
    facing = close[ahead < clearance_mm[close] - 1e-9]
    moved = places.copy()
    moved[facing] -= (_HAIR_MM - clearance_mm[facing])[:, None] * axes[facing]
    return np.asarray(moved)


def _others(count: int) -> Text:
    return say(", and {count} more do", count=count) if count else ""


def cavity_of(build: LooseEmitters, catalogue: Catalogue) -> Cavity | BaffledBox:
    """Build the surface of the chosen shape."""
    back, walls = (finish_of(value, catalogue).reflectance for value in (build.back, build.walls))
    lid = walls if lit_by_reflection(build.cavity) else catalogue.sheet(build.layers).reflectance
    return surface_of(build.cavity, Reflectances(back, walls, lid))
