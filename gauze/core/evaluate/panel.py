"""A strip panel through all solvers."""

import functools
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from gauze.core.design import Design
from gauze.core.design.design import catalogue_of
from gauze.core.electrical.supply import supply_needs
from gauze.core.evaluate.evaluation import Detail, Evaluation, LitChannel, Output, camera_limit, target_plane
from gauze.core.evaluate.units import colour_words
from gauze.core.layout import AnyLayout, Layout
from gauze.core.layout.model import FloatArray
from gauze.core.materials import Catalogue, Stack
from gauze.core.optics.box_light import Map, light_box, map_axes
from gauze.core.optics.colour import channel_xyz
from gauze.core.optics.evenness import evenness_of
from gauze.core.optics.face import LitFace, map_step_mm
from gauze.core.optics.intensity import intensity_cd
from gauze.core.optics.target import target_map
from gauze.core.optics.visibility import dot_visibility, ripples


@dataclass(frozen=True, kw_only=True)
class BoxEvaluation(Evaluation):
    """What is computed of emitters on a grid in a box."""

    layout: Layout
    face: LitFace

    @property
    def diffuser(self) -> Stack:
        return self.face.diffuser

    @property
    def output(self) -> Output:
        light = self.face.light
        direct = sum(share.flux_lm * light.grids[share.grid_index].direct_share for share in light.shares)
        error = max(abs(grid.balance_error) for grid in light.grids)
        return Output(light.flux_lm, direct, light.lid_flux_lm, self.face.flux_out_lm, error)

    @property
    def channels(self) -> tuple[LitChannel, ...]:
        return tuple(
            LitChannel(
                emitters.channel.name,
                emitters.channel.level,
                share.flux_lm,
                xyz,
                emitters.channel.cct_k,
                colour_words(emitters.channel),
                share.grid_index,
            )
            for emitters, share, xyz in zip(
                self.layout.emitters, self.face.light.shares, self.face.xyz_per_lumen, strict=True
            )
        )

    @property
    def illuminance_lx(self) -> Map:
        return self.face.light.illuminance_lx(self.x_mm, self.y_mm)

    @functools.cached_property
    def map_error(self) -> float:
        box, whole = self.layout.box, self.face.light.lid_flux_lm
        drawn = float(self.illuminance_lx.mean(dtype=float)) * box.width_mm * box.height_mm / 1e6
        return drawn / whole - 1.0 if whole > 0 else 0.0

    @property
    def reflectances(self) -> tuple[float, float, float]:
        box = self.layout.box
        return box.back_reflectance, box.wall_reflectance, box.lid_reflectance

    @property
    def opening_mm(self) -> tuple[float, float, float]:
        return self.layout.box.width_mm, self.layout.box.height_mm, 0.0

    def intensity_cd(self, gamma_deg: FloatArray, c_deg: FloatArray) -> FloatArray:
        return intensity_cd(self.face, gamma_deg, c_deg)


@dataclass(frozen=True, kw_only=True)
class PanelEvaluation(BoxEvaluation):
    """What is computed of a strip panel."""


def panel_of(evaluation: Evaluation) -> PanelEvaluation:
    """Return what is computed of a strip panel; raises :class:`TypeError` for another family."""
    if not isinstance(evaluation, PanelEvaluation):
        raise TypeError(f"{type(evaluation).__name__} is no strip panel's")
    return evaluation


def light_panel(
    design: Design, layout: Layout, catalogue: Catalogue, fineness: float, cancelled: Callable[[], bool]
) -> LitFace:
    """Light a laid-out panel."""
    light = light_box(layout.box, layout.emitters, fineness, cancelled)
    colours = np.array([channel_xyz(emitters.channel) for emitters in layout.emitters])
    return LitFace(light, catalogue_of(design, catalogue).sheet(design.build.layers), colours)


def evaluate_panel(
    design: Design, layout: Layout, catalogue: Catalogue, detail: Detail, cancelled: Callable[[], bool]
) -> PanelEvaluation:
    """Light and judge a laid-out panel."""
    found = evaluate_box(design, layout, layout, catalogue, detail, cancelled)
    return PanelEvaluation(**{name: getattr(found, name) for name in found.__dataclass_fields__})


def evaluate_box(
    design: Design,
    layout: Layout,
    whole: AnyLayout,
    catalogue: Catalogue,
    detail: Detail,
    cancelled: Callable[[], bool],
) -> BoxEvaluation:
    """Light and judge rows in a box; ``whole`` is what draws power."""
    face = light_panel(design, layout, catalogue, detail.fineness, cancelled)
    x_mm, y_mm = map_axes(layout.box, map_step_mm(face, detail.most_pixels, detail.pixel_mm))
    xyz = face.xyz(x_mm, y_mm)
    evenness = evenness_of(xyz[1])
    face_mm = (layout.box.width_mm, layout.box.height_mm)
    return BoxEvaluation(
        design=design,
        catalogue=catalogue_of(design, catalogue),
        detail=detail,
        x_mm=x_mm,
        y_mm=y_mm,
        xyz=xyz,
        inside=np.ones(xyz.shape[1:], bool),
        weight=np.full(xyz.shape[1:], np.float32(1.0 / xyz[0].size)),
        evenness=evenness,
        dots=dot_visibility(ripples(face, layout), evenness.mean_cd_m2, face_mm, camera_limit(design)),
        target=target_map(face, target_plane(design), detail.target_points),
        supplies=tuple(supply_needs(design, whole, catalogue)),
        layout=layout,
        face=face,
    )
