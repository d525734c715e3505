"""Loose emitters through all solvers."""

import functools
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from gauze.core.design import Design
from gauze.core.design.cavity import lit_by_reflection
from gauze.core.design.loose import LooseEmitters
from gauze.core.errors import pausing
from gauze.core.evaluate.evaluation import (
    Detail,
    Evaluation,
    LitChannel,
    Output,
    camera_limit,
    target_plane,
)
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.loose import LooseLayout
from gauze.core.layout.model import FloatArray
from gauze.core.materials import Catalogue, Stack
from gauze.core.materials.stack import matt_wall
from gauze.core.optics.box_light import Map
from gauze.core.optics.cavity.alike import alike
from gauze.core.optics.cavity.baffled import light_baffled
from gauze.core.optics.cavity.distribution import DistributionTable, table_of
from gauze.core.optics.cavity.emitters import Emitters
from gauze.core.optics.cavity.face import CavityFace, Light, colour_columns, light_face
from gauze.core.optics.cavity.hotspots import hotspots
from gauze.core.optics.cavity.light import light_cavity
from gauze.core.optics.cavity.outlook import intensity_cd, opening_mm, target_map
from gauze.core.optics.colour import planck_xyz, xyz_of_chromaticity
from gauze.core.optics.crosstalk import Crosstalk, crosstalk_of
from gauze.core.optics.evenness import evenness_of
from gauze.core.optics.visibility import dot_visibility

_MOST_CHANNELS = 12  # that are told apart in words


@dataclass(frozen=True)
class LooseEvaluation(Evaluation):
    """What is computed of loose emitters in a cavity; ``crosstalk`` where partitions divide it."""

    layout: LooseLayout
    face: CavityFace
    crosstalk: Crosstalk | None

    @property
    def diffuser(self) -> Stack:
        return self.face.diffuser

    @property
    def output(self) -> Output:
        face = self.face
        return Output(face.emitted_lm, face.direct_lm, face.lid_flux_lm, face.flux_out_lm, face.balance_error)

    @property
    def channels(self) -> tuple[LitChannel, ...]:
        return tuple(_channels(self.layout))

    @property
    def illuminance_lx(self) -> Map:
        return self.face.illuminance_lx()

    @property
    def reflectances(self) -> tuple[float, float, float]:
        inside = self.layout.cavity.reflectances
        return inside.back, inside.wall, inside.lid

    @property
    def shows_cells(self) -> bool:
        return self.crosstalk is not None

    @functools.cached_property
    def opening_mm(self) -> tuple[float, float, float]:
        return opening_mm(self.face.light)

    def intensity_cd(self, gamma_deg: FloatArray, c_deg: FloatArray) -> FloatArray:
        return intensity_cd(self.face, gamma_deg, c_deg)


def evaluate_loose(
    design: Design, layout: LooseLayout, catalogue: Catalogue, detail: Detail, cancelled: Callable[[], bool]
) -> LooseEvaluation:
    """Light and judge laid-out loose emitters."""
    build = design.build
    assert isinstance(build, LooseEmitters)
    columns, basis = colour_columns(layout.flux_lm, xyz_per_lumen(layout))
    emitters = Emitters(layout.places_mm, layout.axes, layout.power, columns, layout.distribution, tables_of(layout))
    pause = pausing(cancelled)
    light: Light
    if isinstance(layout.cavity, BaffledBox):
        light = light_baffled(layout.cavity, emitters, detail.fineness, pause)
    else:
        light = light_cavity(layout.cavity, build.cavity, emitters, detail.fineness, pause)
    sheet = _sheet(build, layout, catalogue)
    face = light_face(light, sheet, basis, layout.emitter_size_mm, detail.most_pixels, detail.fineness**3, pause)
    pause()
    xyz, chart = face.xyz(), face.chart
    weight = chart.spread_out((chart.areas_mm2 / chart.areas_mm2.sum()).astype(np.float32))
    evenness = evenness_of(xyz[1], weight)
    size = (float(np.ptp(chart.u_mm)) + chart.step_mm, float(np.ptp(chart.v_mm)) + chart.step_mm)
    ripples = hotspots(xyz[1].astype(float), face)
    pause()
    return LooseEvaluation(
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
        supplies=(),
        layout=layout,
        face=face,
        crosstalk=crosstalk_of(face, detail.fineness, pause) if isinstance(layout.cavity, BaffledBox) else None,
    )


def tables_of(layout: LooseLayout) -> tuple[DistributionTable, ...]:
    """Tables of the measured distributions."""
    return tuple(
        table_of(np.array(one.gamma_deg), np.array(one.c_deg), np.array(one.candela)) for one in layout.distributions
    )


def _sheet(build: LooseEmitters, layout: LooseLayout, catalogue: Catalogue) -> Stack:
    if lit_by_reflection(build.cavity):
        return matt_wall(layout.cavity.reflectances.lid)
    return catalogue.sheet(build.layers)


def xyz_per_lumen(layout: LooseLayout, every: int = 1) -> FloatArray:
    """XYZ with Y = 1 of every emitter (or every so many), shape (n, 3): a black body's of its CCT, or that of its x and y."""
    colours = np.column_stack([layout.cct_k[::every], layout.cie_xy[::every]])
    kinds = alike(colours)
    table = np.array(
        [
            planck_xyz(cct_k) if cct_k > 0 else xyz_of_chromaticity(float(x), float(y))
            for cct_k, x, y in colours[kinds.first]
        ]
    )
    return np.asarray(table[kinds.which])


def _channels(layout: LooseLayout) -> list[LitChannel]:
    """One channel for each colour, the brightest first; many colours are not told apart."""
    colours = np.column_stack([layout.cct_k, layout.cie_xy])
    kinds = alike(colours)
    flux = np.bincount(kinds.which, layout.flux_lm)
    xyz = xyz_per_lumen(layout)
    found = []
    for index in np.argsort(-flux)[:_MOST_CHANNELS]:
        cct_k, x, y = (float(value) for value in colours[kinds.first[index]])
        words = f"{cct_k:g} K, taken as a black body's colour" if cct_k > 0 else f"CIE x {x:.4f}, y {y:.4f}"
        count = int(kinds.counts[index])
        name = f"{count} emitter" if count == 1 else f"{count} emitters"
        found.append(
            LitChannel(
                name, layout.level, float(flux[index]), xyz[kinds.first[index]], cct_k or None, words, int(index)
            )
        )
    return found
