"""One design through all solvers."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from gauze.core.design import Design
from gauze.core.design.design import catalogue_of, check_design
from gauze.core.electrical.supply import SupplyNeed, supply_needs
from gauze.core.layout import Layout, lay_out_strip_panel
from gauze.core.layout.model import FloatArray
from gauze.core.materials import Catalogue
from gauze.core.optics.box_light import Map, light_box, map_axes
from gauze.core.optics.colour import channel_xyz
from gauze.core.optics.evenness import Evenness, evenness_of
from gauze.core.optics.face import LitFace, map_step_mm
from gauze.core.optics.target import target_illuminance_lx
from gauze.core.optics.visibility import DotVisibility, dot_visibility, ripples


@dataclass(frozen=True)
class Detail:
    """How finely to compute: ``fineness`` of the meshes, ``most_pixels`` of the map."""

    fineness: float
    most_pixels: int


AT_REST = Detail(fineness=1.0, most_pixels=160_000)
WHILE_DRAGGING = Detail(fineness=0.4, most_pixels=14_000)


@dataclass(frozen=True)
class Evaluation:
    """Everything computed of a design.

    ``xyz`` is the map of the face seen straight on, shape (3, len(y_mm), len(x_mm)), Y in cd/m^2, y upwards.
    """

    design: Design
    catalogue: Catalogue
    detail: Detail
    layout: Layout
    face: LitFace
    x_mm: FloatArray
    y_mm: FloatArray
    xyz: Map
    evenness: Evenness
    dots: DotVisibility
    target_lx: float
    supplies: tuple[SupplyNeed, ...]

    @property
    def luminance_cd_m2(self) -> Map:
        """Luminance map, shape (len(y_mm), len(x_mm))."""
        return np.asarray(self.xyz[1])

    def luminance_at(self, x_mm: float, y_mm: float) -> float:
        """Luminance of the map's cell at a place on the face, in cd/m^2; beside the face that of the nearest cell."""
        column = int(np.abs(self.x_mm - x_mm).argmin())
        row = int(np.abs(self.y_mm - y_mm).argmin())
        return float(self.xyz[1, row, column])


def _camera_limit(design: Design) -> float | None:
    return design.purpose.camera_contrast_limit if design.purpose.viewer == "camera" else None


def lay_out(design: Design, catalogue: Catalogue) -> Layout:
    """Check a design and lay it out; raises :class:`gauze.core.errors.DesignError`."""
    check_design(design, catalogue)
    return lay_out_strip_panel(design.build, catalogue_of(design, catalogue))


def light_face(
    design: Design, layout: Layout, catalogue: Catalogue, fineness: float, cancelled: Callable[[], bool]
) -> LitFace:
    """Light a laid-out design."""
    light = light_box(layout.box, layout.emitters, fineness, cancelled)
    colours = np.array([channel_xyz(emitters.channel) for emitters in layout.emitters])
    return LitFace(light, catalogue_of(design, catalogue).sheet(design.build.layers), colours)


def evaluate(
    design: Design,
    catalogue: Catalogue,
    detail: Detail = AT_REST,
    cancelled: Callable[[], bool] = lambda: False,
) -> Evaluation:
    """Lay a design out, light it and judge it.

    Raises
    ------
    DesignError
        When the design cannot stand.
    Cancelled
        When ``cancelled()`` says so between two steps.
    """
    layout = lay_out(design, catalogue)
    face = light_face(design, layout, catalogue, detail.fineness, cancelled)
    x_mm, y_mm = map_axes(layout.box, map_step_mm(face, detail.most_pixels))
    xyz = face.xyz(x_mm, y_mm)
    evenness = evenness_of(xyz[1])
    face_mm = (layout.box.width_mm, layout.box.height_mm)
    return Evaluation(
        design=design,
        catalogue=catalogue_of(design, catalogue),
        detail=detail,
        layout=layout,
        face=face,
        x_mm=x_mm,
        y_mm=y_mm,
        xyz=xyz,
        evenness=evenness,
        dots=dot_visibility(ripples(face, layout), evenness.mean_cd_m2, face_mm, _camera_limit(design)),
        target_lx=target_illuminance_lx(face, design.purpose.target_distance_mm),
        supplies=tuple(supply_needs(design, layout, catalogue)),
    )
