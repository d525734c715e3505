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
from gauze.core.optics.target import MAP_POINTS, TargetMap, TargetPlane, target_map
from gauze.core.optics.visibility import DotVisibility, dot_visibility, ripples


@dataclass(frozen=True)
class Detail:
    """How finely to compute: ``fineness`` of the meshes, ``most_pixels`` of the map, places along a side of the target."""

    fineness: float
    most_pixels: int
    target_points: int = MAP_POINTS


AT_REST = Detail(fineness=1.0, most_pixels=160_000)
WHILE_DRAGGING = Detail(fineness=0.4, most_pixels=11_000, target_points=3)


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
    target: TargetMap
    supplies: tuple[SupplyNeed, ...]

    @property
    def target_lx(self) -> float:
        """Illuminance at the middle of the target."""
        rows, columns = self.target.illuminance_lx.shape
        return float(self.target.illuminance_lx[rows // 2, columns // 2])

    @property
    def luminance_cd_m2(self) -> Map:
        """Luminance map, shape (len(y_mm), len(x_mm))."""
        return np.asarray(self.xyz[1])

    def luminance_at(self, x_mm: float, y_mm: float) -> float:
        """Luminance of the map's cell at a place on the face, in cd/m^2; beside the face that of the nearest cell."""
        column = int(np.abs(self.x_mm - x_mm).argmin())
        row = int(np.abs(self.y_mm - y_mm).argmin())
        return float(self.xyz[1, row, column])


def target_plane(design: Design) -> TargetPlane:
    """Return the target as it stands in front of the face."""
    target = design.purpose.target
    return TargetPlane(
        distance_mm=design.purpose.target_distance_mm,
        offset_x_mm=target.offset_x_mm,
        offset_y_mm=target.offset_y_mm,
        turn_deg=target.turn_deg,
        tilt_deg=target.tilt_deg,
        width_mm=target.width_mm,
        height_mm=target.height_mm,
    )


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
        target=target_map(face, target_plane(design), detail.target_points),
        supplies=tuple(supply_needs(design, layout, catalogue)),
    )
