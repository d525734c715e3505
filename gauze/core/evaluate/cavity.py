"""A build that is one cavity through all solvers."""

import functools
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from gauze.core.design import Design
from gauze.core.electrical.supply import supply_needs
from gauze.core.errors import pausing
from gauze.core.evaluate.evaluation import (
    Detail,
    Evaluation,
    LitChannel,
    Output,
    camera_limit,
    target_plane,
)
from gauze.core.evaluate.units import channels_of, light_unit
from gauze.core.layout import BuiltLayout
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.model import FloatArray
from gauze.core.materials import Catalogue, Stack
from gauze.core.optics.box_light import Map
from gauze.core.optics.cavity.face import CavityFace
from gauze.core.optics.cavity.hotspots import hotspots
from gauze.core.optics.cavity.outlook import intensity_cd, opening_mm, target_map
from gauze.core.optics.crosstalk import Crosstalk, crosstalk_of
from gauze.core.optics.evenness import evenness_of
from gauze.core.optics.visibility import dot_visibility


@dataclass(frozen=True, kw_only=True)
class CavityEvaluation(Evaluation):
    """What is computed of emitters in one cavity; ``crosstalk`` where partitions divide it."""

    built: BuiltLayout
    face: CavityFace
    crosstalk: Crosstalk | None

    @property
    def layout(self) -> CavityLayout:
        """The cavity with its emitters."""
        return self.built.unit

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
        inside = self.layout.cavity.reflectances
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

    def intensity_cd(self, gamma_deg: FloatArray, c_deg: FloatArray) -> FloatArray:
        return intensity_cd(self.face, gamma_deg, c_deg)


def evaluate_cavity(
    design: Design, layout: BuiltLayout, catalogue: Catalogue, detail: Detail, cancelled: Callable[[], bool]
) -> CavityEvaluation:
    """Light and judge a build that is one cavity."""
    pause, unit = pausing(cancelled), layout.unit
    face = light_unit(unit, design.build.layers, catalogue, detail, pause)
    pause()
    xyz, chart = face.xyz(), face.chart
    weight = chart.spread_out((chart.areas_mm2 / chart.areas_mm2.sum()).astype(np.float32))
    evenness = evenness_of(xyz[1], weight)
    size = (float(np.ptp(chart.u_mm)) + chart.step_mm, float(np.ptp(chart.v_mm)) + chart.step_mm)
    ripples = hotspots(xyz[1].astype(float), face, unit.spacings_mm)
    pause()
    return CavityEvaluation(
        design=design,
        catalogue=catalogue,
        detail=detail,
        x_mm=chart.u_mm,
        y_mm=chart.v_mm,
        xyz=xyz,
        inside=chart.inside,
        weight=weight,
        evenness=evenness,
        dots=dot_visibility(ripples, evenness.mean_cd_m2, size, camera_limit(design)),
        target=target_map(face, target_plane(design), detail.target_points),
        supplies=tuple(supply_needs(design, layout, catalogue)),
        built=layout,
        face=face,
        crosstalk=crosstalk_of(face, detail.fineness, pause) if isinstance(unit.cavity, BaffledBox) else None,
    )
