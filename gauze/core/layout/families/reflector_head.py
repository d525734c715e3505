"""Layout of the reflector head: a board of chips at the bottom of its funnel."""

import numpy as np

from gauze.core.design.reflector_head import Dies, ReflectorHead, board_of
from gauze.core.layout.built import Layout
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.cavity_sketch import reach_of, rectangle
from gauze.core.layout.inner import inner_faces
from gauze.core.layout.modules import board_places_mm, module_sources
from gauze.core.layout.pieces import ModulePiece, filled
from gauze.core.layout.shapes import regular, surface_of
from gauze.core.layout.sketch import Choice, Entry, Handle, Measure, Outline, Sketch
from gauze.core.materials import Catalogue, Module
from gauze.core.words import Fixed, say

_FACETS = (
    (0, say("round, straight")),
    (4, say("4 facets")),
    (6, say("6 facets")),
    (8, say("8 facets")),
    (12, say("12 facets")),
)
_ROUND = 48


def lay_out_reflector_head(build: ReflectorHead, catalogue: Catalogue) -> Layout:
    """Lay out a checked head."""
    assert build.module is not None
    module = board_of(build, catalogue)
    flat = board_places_mm(module)
    places = np.column_stack([flat, np.full(len(flat), module.emitter_height_mm)])
    axes = np.tile([0.0, 0.0, 1.0], (len(flat), 1))
    surface = surface_of(build.cavity, inner_faces(build, catalogue))
    assert isinstance(surface, Cavity)
    sources = module_sources(module, build.module, places, axes)
    cavity = filled(
        build.cavity, surface, sources, module.package_mm, "build.back_mm", (module.pitch_mm, module.pitch_mm)
    )
    board = ModulePiece("board-1", module, build.module, (0.0, 0.0, module.emitter_height_mm))
    return Layout(cavities=(cavity,), sketches=(_sketch(build, surface, module),), modules=(board,))


def _sketch(build: ReflectorHead, cavity: Cavity, module: Module) -> Sketch:
    half_back, half_open, depth = build.back_mm / 2.0, build.opening_mm / 2.0, build.depth_mm
    wide, high = module.board_mm
    floor = regular(build.sides or _ROUND, half_back)
    mouth = regular(build.sides or _ROUND, half_open)
    plan = [Outline("body", mouth), Outline("back", floor)] if half_open >= half_back else [Outline("back", floor)]
    plan.append(Outline("part", rectangle(-wide / 2, -high / 2, wide, high)))
    cut = [Outline("body", cavity.section), *(Outline("lit", line, closed=False) for line in cavity.lit_lines)]
    cut.append(
        Outline(
            "strip",
            np.array([[-wide / 2, module.emitter_height_mm / 2], [wide / 2, module.emitter_height_mm / 2]]),
            closed=False,
        )
    )
    return Sketch(
        plan_mm=reach_of(mouth if half_open >= half_back else floor),
        cut_mm=reach_of(cavity.section),
        plan=tuple(plan),
        cut=tuple(cut),
        measures=(
            Measure("build.opening_mm", say("Mouth width"), build.opening_mm, "cut", "above", -half_open, half_open),
            Measure("build.back_mm", say("Bottom width"), build.back_mm, "cut", "below", -half_back, half_back),
            Measure("build.depth_mm", say("Depth to the film"), depth, "cut", "left", 0.0, depth),
            Measure(
                "build.flank_deg",
                say("Flank from the axis"),
                round(build.flank_deg, 2),
                "cut",
                "right",
                0.0,
                depth,
                "angle",
                say("° flank"),
            ),
        ),
        handles=(
            Handle(
                "build.depth_mm", say("the film"), "cut", (-half_open, depth), (half_open, depth), (0.0, 1.0), depth
            ),
            Handle(
                "build.opening_mm",
                say("rim of the mouth"),
                "cut",
                (half_open, depth * 0.8),
                (half_open, depth),
                (1.0, 0.0),
                build.opening_mm,
                2.0,
            ),
            Handle(
                "build.back_mm",
                say("rim of the bottom"),
                "cut",
                (half_back, 0.0),
                (half_back, depth * 0.2),
                (1.0, 0.0),
                build.back_mm,
                2.0,
            ),
        ),
        choices=(Choice("build.sides", say("Funnel"), build.sides, _FACETS), *_die_choices(build, module)),
        notes=(
            say(
                "{columns} × {rows} chips on a board; flanks lean {flank}° from the axis.",
                columns=module.columns,
                rows=module.rows,
                flank=Fixed(build.flank_deg, ".1f"),
            ),
        ),
        seam=True,
    )


def _die_choices(build: ReflectorHead, module: Module) -> list[Choice | Entry]:
    own = build.dies or Dies(
        columns=module.columns, rows=module.rows, pitch_mm=module.pitch_mm, size_mm=module.package_mm
    )
    found: list[Choice | Entry] = [
        Choice("build.dies", say("Dies"), build.dies, ((None, say("as sold")), (own, say("custom"))))
    ]
    if build.dies is not None:
        found += [
            Entry("build.dies.columns", say("Dies across"), build.dies.columns, "count"),
            Entry("build.dies.rows", say("Dies up"), build.dies.rows, "count"),
            Entry("build.dies.pitch_mm", say("Die pitch"), build.dies.pitch_mm, "length"),
            Entry("build.dies.size_mm", say("Die size"), build.dies.size_mm, "length"),
        ]
    return found
