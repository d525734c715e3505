"""Layout of the shell string: one shell, as often as it stands on the wall."""

import functools
from dataclasses import dataclass

import numpy as np

from gauze.core.design.shell_string import ShellString
from gauze.core.layout.built import Instance, Layout
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.cavity_sketch import rectangle
from gauze.core.layout.inner import inner_faces
from gauze.core.layout.model import FloatArray
from gauze.core.layout.modules import module_sources
from gauze.core.layout.pieces import ModulePiece, filled
from gauze.core.layout.shapes import regular, surface_of
from gauze.core.layout.sketch import Choice, Entry, Handle, Measure, Outline, Sketch
from gauze.core.materials import Catalogue, Module
from gauze.core.words import say

_ROUND = 40
_SHELLS = (("ball", say("balls")), ("cup", say("cups")))
_CORDS = (("columns", say("up and down the columns")), ("rows", say("along the rows")))
_YES_NO = ((False, say("side by side")), (True, say("every other lowered by half")))


@dataclass(frozen=True, kw_only=True)
class ShellLayout(Layout):
    """Shells in place; ``order`` are their numbers along the cord, as stands."""

    places_mm: FloatArray | None = None
    order: tuple[int, ...] = ()


def lay_out_shell_string(build: ShellString, catalogue: Catalogue) -> ShellLayout:
    """Lay out checked choices."""
    assert build.module is not None
    module = catalogue.module(build.module.module)
    surface = surface_of(build.cavity, inner_faces(build, catalogue))
    assert isinstance(surface, Cavity)
    place = np.array([[0.0, 0.0, module.emitter_height_mm]])
    sources = module_sources(module, build.module, place, np.array([[0.0, 0.0, 1.0]]))
    cavity = filled(build.cavity, surface, sources, module.package_mm, "build.diameter_mm")
    places = shell_places_mm(build)
    modules = _modules(_as_far_as_it_counts(build), module)
    instances = tuple(
        Instance(0, one.place_mm[0], one.place_mm[1], id=one.id, pieces=((one.id, 0),)) for one in modules
    )
    order = cord_order(build)
    sketch = _sketch(build, surface, places, order)
    return ShellLayout(
        cavities=(cavity,), sketches=(sketch,), instances=instances, modules=modules, places_mm=places, order=order
    )


def _as_far_as_it_counts(build: ShellString) -> ShellString:
    """The build with nothing else in it than the places depend on, so that a drag of a shell's wall leaves them."""
    return ShellString(
        diameter_mm=1.0,
        base_mm=1.0,
        columns=build.columns,
        rows=build.rows,
        pitch_x_mm=build.pitch_x_mm,
        pitch_y_mm=build.pitch_y_mm,
        zigzag=build.zigzag,
        module=build.module,
    )


@functools.lru_cache(maxsize=4)
def _modules(build: ShellString, module: Module) -> tuple[ModulePiece, ...]:
    """Pixels of all shells, known by column and row, so that those keep their names when others are added."""
    assert build.module is not None
    places, height = shell_places_mm(build), module.emitter_height_mm
    return tuple(
        ModulePiece(
            f"shell-{index % build.columns + 1}-{index // build.columns + 1}",
            module,
            build.module,
            (float(x), float(y), height),
        )
        for index, (x, y) in enumerate(places)
    )


def shell_places_mm(build: ShellString) -> FloatArray:
    """Middles of all shells, row by row from below, shape (n, 2); the first at the origin."""
    found = []
    for row in range(build.rows):
        for column in range(build.columns):
            lowered = build.pitch_y_mm / 2.0 if build.zigzag and column % 2 else 0.0
            found.append((column * build.pitch_x_mm, row * build.pitch_y_mm - lowered))
    return np.array(found)


def cord_order(build: ShellString) -> tuple[int, ...]:
    """Numbers of the shells in the order of the cord: back and forth, from the lower left."""
    found = []
    if build.cord == "columns":
        for column in range(build.columns):
            rows = range(build.rows) if column % 2 == 0 else reversed(range(build.rows))
            found += [row * build.columns + column for row in rows]
    else:
        for row in range(build.rows):
            columns = range(build.columns) if row % 2 == 0 else reversed(range(build.columns))
            found += [row * build.columns + column for column in columns]
    return tuple(found)


def _sketch(build: ShellString, cavity: Cavity, places: FloatArray, order: tuple[int, ...]) -> Sketch:
    radius = max(build.diameter_mm, build.base_mm) / 2.0
    margin = radius + min(build.pitch_x_mm, build.pitch_y_mm) / 4.0
    low, high = places.min(axis=0) - margin, places.max(axis=0) + margin
    width, height = (float(value) for value in high - low)
    left, bottom = float(low[0]), float(low[1])
    circle = regular(_ROUND, radius)
    plan = [Outline("back", rectangle(left, bottom, width, height))]
    plan.append(Outline("path", places[list(order)], closed=False))
    plan += [Outline("body", circle + place) for place in places]
    section = cavity.section
    reach = section.min(axis=0), section.max(axis=0)
    depth = float(reach[1][1])
    half, base = build.diameter_mm / 2.0, build.base_mm / 2.0
    cut = [Outline("body", section), *(Outline("lit", line, closed=False) for line in cavity.lit_lines)]
    cut.append(Outline("eye", np.array([[-1.6 * radius, 0.0], [1.6 * radius, 0.0]]), closed=False))
    measures = [
        Measure(
            "build.columns", say("Columns"), build.columns, "plan", "above", left, left + width, "count", say("columns")
        ),
        Measure("build.rows", say("Rows"), build.rows, "plan", "left", bottom, bottom + height, "count", say("rows")),
        Measure("build.diameter_mm", say("Diameter"), build.diameter_mm, "cut", "above", -half, half),
        Measure("build.base_mm", say("Base width"), build.base_mm, "cut", "below", -base, base),
    ]
    if build.columns > 1:
        measures.append(
            Measure(
                "build.pitch_x_mm", say("Horizontal spacing"), build.pitch_x_mm, "plan", "below", 0.0, build.pitch_x_mm
            )
        )
    if build.rows > 1:
        measures.append(
            Measure(
                "build.pitch_y_mm", say("Vertical spacing"), build.pitch_y_mm, "plan", "right", 0.0, build.pitch_y_mm
            )
        )
    if build.shell == "cup":
        measures.append(
            Measure("build.cup_depth_mm", say("Cup depth"), build.cup_depth_mm, "cut", "left", 0.0, build.cup_depth_mm)
        )
    handles = [
        Handle(
            "build.diameter_mm",
            say("the shell"),
            "cut",
            (half, 0.2 * depth),
            (half, 0.8 * depth),
            (1.0, 0.0),
            build.diameter_mm,
            2.0,
        )
    ]
    if build.columns > 1:
        x = float(places[:, 0].max())
        handles.append(
            Handle(
                "build.pitch_x_mm",
                say("last column"),
                "plan",
                (x, bottom),
                (x, bottom + height),
                (1.0, 0.0),
                build.pitch_x_mm,
                1.0 / (build.columns - 1),
            )
        )
    if build.rows > 1:
        y = float(places[:, 1].max())
        handles.append(
            Handle(
                "build.pitch_y_mm",
                say("upper row"),
                "plan",
                (left, y),
                (left + width, y),
                (0.0, 1.0),
                build.pitch_y_mm,
                1.0 / (build.rows - 1),
            )
        )
    return Sketch(
        plan_mm=(left, bottom, width, height),
        cut_mm=(-1.6 * radius, 0.0, 3.2 * radius, depth),
        plan=tuple(plan),
        cut=tuple(cut),
        measures=tuple(measures),
        handles=tuple(handles),
        choices=(
            Choice("build.shell", say("Shells"), build.shell, _SHELLS),
            Choice("build.zigzag", say("Columns"), build.zigzag, _YES_NO),
            Choice("build.cord", say("The cord runs"), build.cord, _CORDS),
            Entry("build.shell_wall_mm", say("Wall of a shell"), build.shell_wall_mm, "length"),
        ),
        seam=True,
        cut_axis="y",
    )
