"""What is computed of any design: the results of the stages, side by side."""

import functools
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from gauze.core.design import Design
from gauze.core.electrical.network import Network
from gauze.core.electrical.supply import SupplyNeed
from gauze.core.evaluate.light.face_light import (
    AT_REST,
    SMALL_PICTURE,
    WHILE_DRAGGING,
    Detail,
    FaceLight,
    LitChannel,
    Output,
)
from gauze.core.evaluate.shown import Shown
from gauze.core.evaluate.spread import Spread, brightness_spread
from gauze.core.layout import Layout
from gauze.core.layout.model import FloatArray
from gauze.core.materials import Catalogue, Stack
from gauze.core.optics.box_light import Map
from gauze.core.optics.evenness import Evenness
from gauze.core.optics.target import TargetMap, TargetPlane
from gauze.core.optics.uniformity import Uniformity, field_mm, uniformity_of
from gauze.core.optics.visibility import DotVisibility
from gauze.core.thermal.warming import BuildWarmth

__all__ = [
    "AT_REST",
    "SMALL_PICTURE",
    "WHILE_DRAGGING",
    "Detail",
    "Evaluation",
    "FaceLight",
    "LitChannel",
    "Output",
    "camera_limit",
    "target_plane",
]


@dataclass(frozen=True, kw_only=True)
class Evaluation:
    """Everything computed of a design: layout, network, light, and what is judged of the light for the design's purpose.

    ``layout`` has every emitter at the flux that it gives. ``light`` is with every pixel on; where a display shows something else
    ``shown`` holds that, and the map is of it. ``warmth`` is None where there are no pieces.
    """

    design: Design
    catalogue: Catalogue
    detail: Detail
    layout: Layout
    network: Network
    light: FaceLight
    dots: DotVisibility
    target: TargetMap
    shown: Shown | None = None
    warmth: BuildWarmth | None = None

    @property
    def supplies(self) -> tuple[SupplyNeed, ...]:
        """What each voltage needs."""
        return self.network.supplies

    @property
    def x_mm(self) -> FloatArray:
        """Middles of the map's columns."""
        return self.light.x_mm

    @property
    def y_mm(self) -> FloatArray:
        """Middles of the map's rows."""
        return self.light.y_mm

    @property
    def xyz(self) -> Map:
        """The map of what is seen, as in :class:`FaceLight`."""
        return self.light.xyz if self.shown is None else self.shown.xyz

    @property
    def inside(self) -> NDArray[np.bool_]:
        """Which pixels lie on a face."""
        return self.light.inside

    @property
    def weight(self) -> FloatArray:
        """What share of the faces' area each pixel stands for."""
        return self.light.weight

    @property
    def evenness(self) -> Evenness:
        """How even the faces are, every pixel on."""
        return self.light.evenness

    @functools.cached_property
    def uniformity(self) -> Uniformity | None:
        """How even the faces are as they are looked at, every pixel on; None where they are dark."""
        widest_mm = max((ripple.pitch_mm for ripple in self.dots.modulations), default=0.0)
        wanted_mm = field_mm(self.design.purpose.viewing_distance_mm, widest_mm)
        return uniformity_of(self.light.views, self.light.face_means, wanted_mm)

    @functools.cached_property
    def spread(self) -> Spread | None:
        """How far everything that grows as the flux does can be trusted."""
        return brightness_spread(self)

    @property
    def diffuser(self) -> Stack:
        """What the face is closed with."""
        return self.light.diffuser

    @property
    def output(self) -> Output:
        """Where the flux goes."""
        return self.light.output

    @property
    def channels(self) -> tuple[LitChannel, ...]:
        """The colours that are driven apart, or that stand apart."""
        return self.light.channels

    @property
    def illuminance_lx(self) -> Map:
        """Illuminance on the inner side of the face, shape (len(y_mm), len(x_mm))."""
        return self.light.illuminance_lx

    @property
    def opening_mm(self) -> tuple[float, float, float]:
        """Width, height and depth of the lit face as seen from the front; the depth of a flat one is 0."""
        return self.light.opening_mm

    @property
    def target_lx(self) -> float:
        """Illuminance at the middle of the target."""
        rows, columns = self.target.illuminance_lx.shape
        return float(self.target.illuminance_lx[rows // 2, columns // 2])

    @property
    def luminance_cd_m2(self) -> Map:
        """Luminance map, shape (len(y_mm), len(x_mm))."""
        return np.asarray(self.xyz[1])

    @property
    def mean_xyz(self) -> FloatArray:
        """Mean colour of the faces."""
        return np.asarray((self.xyz * self.weight).sum(axis=(1, 2)), float)

    def intensity_cd(self, gamma_deg: FloatArray, c_deg: FloatArray) -> FloatArray:
        """Luminous intensity far away, shape (len(c_deg), len(gamma_deg))."""
        return self.light.intensity_cd(gamma_deg, c_deg)

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


def camera_limit(design: Design) -> float | None:
    """Return the contrast that a camera shows, or None where an eye looks."""
    return design.purpose.camera_contrast_limit if design.purpose.viewer == "camera" else None
