"""Parts of a build of loose emitters: the body that its shape of cavity asks for, and the emitters by their numbers."""

import numpy as np

from gauze.core.design.cavity import (
    BaffledShape,
    BoxShape,
    ChannelShape,
    CupShape,
    FrustumShape,
    PrismShape,
    SphereShape,
    TubeShape,
)
from gauze.core.design.loose import LooseEmitters
from gauze.core.layout.built import Layout
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.model import FloatArray
from gauze.core.layout.shapes import regular
from gauze.core.materials import Catalogue
from gauze.core.parts.bodies import (
    Materials,
    box_body,
    flat,
    funnel_body,
    materials_of,
    partition_grid,
    rectangle,
    sheets,
    shell_body,
    tube_body,
    walls_about,
)
from gauze.core.parts.model import BodyPart, Parts, Placement

_ROUND = 96


def loose_parts(build: LooseEmitters, layout: Layout, catalogue: Catalogue) -> Parts:
    """State the parts of a build; how its emitters are wired is not known."""
    materials = materials_of(build.back, build.walls, build.layers, catalogue)
    return Parts((), tuple(_body(build, layout, materials)), (), (), layout.emitter_numbers)


def _body(build: LooseEmitters, layout: Layout, materials: Materials) -> list[BodyPart]:
    shape = build.cavity
    match shape:
        case BoxShape():
            return box_body(shape.width_mm, shape.height_mm, shape.depth_mm, materials)
        case PrismShape():
            return _prism(np.asarray(layout.cavity.surface.plan, float), shape.depth_mm, materials)
        case BaffledShape():
            size = (shape.columns * shape.pitch_x_mm, shape.rows * shape.pitch_y_mm)
            return box_body(*size, shape.depth_mm, materials) + partition_grid(shape, materials.walls)
        case FrustumShape():
            return funnel_body(shape, materials)
        case TubeShape():
            return tube_body(shape, materials)
        case ChannelShape():
            return _channel(shape, materials)
        case SphereShape() | CupShape():
            base = shape.base_mm if isinstance(shape, SphereShape) else shape.back_mm
            floor = (
                [flat("back", "back", "Base", regular(_ROUND, base / 2.0), 0.0, material=materials.back)]
                if base
                else []
            )
            return floor + shell_body(shape, materials.layers, None)
        case _:
            assert isinstance(layout.cavity.surface, Cavity)  # a wall or a corner of a room: nothing is built
            return []


def _prism(floor: FloatArray, depth_mm: float, materials: Materials) -> list[BodyPart]:
    back = flat("back", "back", "Back", floor, 0.0, material=materials.back)
    return [back, *walls_about(floor, depth_mm, materials.walls), *sheets(floor, depth_mm, materials.layers)]


def _channel(shape: ChannelShape, materials: Materials) -> list[BodyPart]:
    along = Placement((0.0, 0.0, 0.0))
    found = [
        BodyPart(
            "profile",
            "profile",
            "housing",
            "Channel profile",
            shape.length_mm,
            shape.width_mm,
            shape.depth_mm,
            materials.walls,
            placement=along,
        )
    ]
    for number, layer in enumerate(materials.layers, start=1):
        found.append(
            BodyPart(
                "lens" if number == 1 else f"lens-{number}",
                "lens",
                "diffuser",
                f"Lens, {layer.name}",
                shape.length_mm,
                shape.width_mm,
                layer.thickness_mm,
                layer.name,
                placement=Placement((0.0, 0.0, shape.depth_mm)),
            )
        )
    outline = rectangle(shape.width_mm, shape.depth_mm)
    found += [
        BodyPart(f"cap-{end}", "cap", "cover", f"Cap at the {end}", shape.width_mm, shape.depth_mm, None, "", outline)
        for end in ("start", "end")
    ]
    return found
