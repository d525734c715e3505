"""A build that is one cavity: its lit face."""

import functools
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.errors import Pause
from gauze.core.evaluate.light.face_light import Detail, FaceLight, LitChannel, Output
from gauze.core.evaluate.light.one_cavity import channels_of, light_one_cavity, view_of
from gauze.core.layout import Layout
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.model import FloatArray
from gauze.core.materials import Catalogue, Layer, Stack
from gauze.core.optics.box_light import Map
from gauze.core.optics.cavity.face import CavityFace
from gauze.core.optics.cavity.hotspots import hotspots
from gauze.core.optics.cavity.outlook import intensity_cd, opening_mm, target_map
from gauze.core.optics.crosstalk import Crosstalk, crosstalk_of
from gauze.core.optics.evenness import evenness_of
from gauze.core.optics.target import TargetMap, TargetPlane
from gauze.core.optics.uniformity import FaceView
from gauze.core.optics.visibility import Modulation


@dataclass(frozen=True, kw_only=True)
class CavityFaceLight(FaceLight):
    """The lit face of emitters in one cavity; ``crosstalk`` where partitions divide it."""

    built: Layout
    face: CavityFace
    crosstalk: Crosstalk | None

    @property
    def layout(self) -> CavityLayout:
        """The cavity with its emitters."""
        return self.built.cavity

    @property
    def diffuser(self) -> Stack:
        return self.face.diffuser

    @property
    def output(self) -> Output:
        face = self.face
        return Output(face.emitted_lm, face.direct_lm, face.lid_flux_lm, face.flux_out_lm, face.balance_error)

    @property
    def channels(self) -> tuple[LitChannel, ...]:
        return tuple(channels_of(self.layout))

    @property
    def illuminance_lx(self) -> Map:
        return self.face.illuminance_lx()

    @property
    def reflectances(self) -> tuple[float, float, float]:
        inside = self.layout.surface.reflectances
        return inside.back, inside.wall, inside.lid

    @functools.cached_property
    def map_error(self) -> float:
        return self.face.map_error

    @property
    def unresolved(self) -> int:
        return self.face.unresolved

    @property
    def shows_cells(self) -> bool:
        return self.crosstalk is not None

    @functools.cached_property
    def opening_mm(self) -> tuple[float, float, float]:
        return opening_mm(self.face.light)

    @property
    def views(self) -> tuple[FaceView, ...]:
        return (view_of(self.face, self.layout),)

    def intensity_cd(self, gamma_deg: FloatArray, c_deg: FloatArray) -> FloatArray:
        return intensity_cd(self.face, gamma_deg, c_deg)

    def target_map(self, plane: TargetPlane, points: int) -> TargetMap:
        return target_map(self.face, plane, points)

    def _ripples(self) -> tuple[Modulation, ...]:
        return tuple(hotspots(self.xyz[1].astype(float), self.face, self.layout.spacings_mm))


def light_cavity_build(
    layout: Layout,
    layers: tuple[Layer, ...],
    catalogue: Catalogue,
    detail: Detail,
    pause: Pause,
    known: CavityFaceLight | None = None,
) -> CavityFaceLight:
    """Light a build that is one cavity, and read its face; ripples and crosstalk are those of one nearly alike, if known."""
    cavity = layout.cavity
    face = light_one_cavity(cavity, layers, catalogue, detail, pause)
    pause()
    if known is not None:
        crosstalk = known.crosstalk
    else:
        crosstalk = crosstalk_of(face, detail.fineness, pause) if isinstance(cavity.surface, BaffledBox) else None
    return _read(layout, face, crosstalk, known)


def standing_in(layout: Layout, face: CavityFace, known: CavityFaceLight) -> CavityFaceLight:
    """Return a light that lies on the chart of a face as a display shows something, and is judged as one nearly alike."""
    return replace(_read(layout, face, known.crosstalk, known), evenness=known.evenness)


def _read(
    layout: Layout, face: CavityFace, crosstalk: Crosstalk | None, known: CavityFaceLight | None
) -> CavityFaceLight:
    """Read a face; ripples are those of one nearly alike, if known."""
    xyz, chart = face.xyz(), face.chart
    weight = chart.spread_out((chart.areas_mm2 / chart.areas_mm2.sum()).astype(np.float32))
    return CavityFaceLight(
        x_mm=chart.u_mm,
        y_mm=chart.v_mm,
        xyz=xyz,
        inside=chart.inside,
        weight=weight,
        evenness=evenness_of(xyz[1], weight),
        known_ripples=None if known is None else known.ripples,
        size_mm=(float(np.ptp(chart.u_mm)) + chart.step_mm, float(np.ptp(chart.v_mm)) + chart.step_mm),
        built=layout,
        face=face,
        crosstalk=crosstalk,
    )
