"""Emitters on a grid in a box: the light of panels, and of displays without partitions."""

import functools
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from gauze.core.evaluate.light.face_light import Detail, FaceLight, LitChannel, Output
from gauze.core.evaluate.light.one_cavity import colour_words
from gauze.core.layout import RowLayout
from gauze.core.layout.model import FloatArray
from gauze.core.materials import Stack
from gauze.core.optics.box_light import Map, light_box, map_axes
from gauze.core.optics.colour import channel_xyz
from gauze.core.optics.evenness import evenness_of
from gauze.core.optics.face import LitFace, map_step_mm
from gauze.core.optics.intensity import intensity_cd
from gauze.core.optics.target import TargetMap, TargetPlane, target_map
from gauze.core.optics.uniformity import FaceView
from gauze.core.optics.visibility import Modulation, ripples


@dataclass(frozen=True, kw_only=True)
class BoxFaceLight(FaceLight):
    """The lit face of rows in a box."""

    layout: RowLayout
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

    @property
    def views(self) -> tuple[FaceView, ...]:
        step_mm = float(self.x_mm[1] - self.x_mm[0]), float(self.y_mm[1] - self.y_mm[0])
        return (FaceView(self.xyz[1], self.inside, step_mm),)

    def intensity_cd(self, gamma_deg: FloatArray, c_deg: FloatArray) -> FloatArray:
        return intensity_cd(self.face, gamma_deg, c_deg)

    def target_map(self, plane: TargetPlane, points: int) -> TargetMap:
        return target_map(self.face, plane, points)

    def _ripples(self) -> tuple[Modulation, ...]:
        return tuple(ripples(self.face, self.layout))


def lit_face(layout: RowLayout, sheet: Stack, fineness: float, cancelled: Callable[[], bool]) -> LitFace:
    """Light laid-out rows behind a sheet."""
    light = light_box(layout.box, layout.emitters, fineness, cancelled)
    return LitFace(light, sheet, np.array([channel_xyz(emitters.channel) for emitters in layout.emitters]))


def light_rows(layout: RowLayout, sheet: Stack, detail: Detail, cancelled: Callable[[], bool]) -> BoxFaceLight:
    """Light rows in a box, and read their face."""
    face = lit_face(layout, sheet, detail.fineness, cancelled)
    x_mm, y_mm = map_axes(layout.box, map_step_mm(face, detail.most_pixels, detail.pixel_mm))
    xyz = face.xyz(x_mm, y_mm)
    return BoxFaceLight(
        x_mm=x_mm,
        y_mm=y_mm,
        xyz=xyz,
        inside=np.ones(xyz.shape[1:], bool),
        weight=np.full(xyz.shape[1:], np.float32(1.0 / xyz[0].size)),
        evenness=evenness_of(xyz[1]),
        size_mm=(layout.box.width_mm, layout.box.height_mm),
        layout=layout,
        face=face,
    )
