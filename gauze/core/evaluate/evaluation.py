"""What is computed of any design."""

import abc
import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from gauze.core.design import Design
from gauze.core.electrical.supply import SupplyNeed
from gauze.core.layout.model import FloatArray
from gauze.core.materials import Catalogue, Stack
from gauze.core.optics.box_light import Map
from gauze.core.optics.evenness import Evenness
from gauze.core.optics.target import MAP_POINTS, TargetMap, TargetPlane
from gauze.core.optics.visibility import DotVisibility


@dataclass(frozen=True)
class Detail:
    """How finely to compute: ``fineness`` of the meshes, ``most_pixels`` of the map, places along a side of the target.

    The map's pixels are as fine as the light asks for, or ``pixel_mm`` where that is finer, but never more than ``most_pixels``.
    """

    fineness: float
    most_pixels: int
    target_points: int = MAP_POINTS
    pixel_mm: float = math.inf


AT_REST = Detail(fineness=1.0, most_pixels=160_000)
SMALL_PICTURE = Detail(fineness=0.4, most_pixels=20_000, target_points=1)
WHILE_DRAGGING = Detail(fineness=0.4, most_pixels=11_000, target_points=3)


@dataclass(frozen=True)
class Output:
    """Flux in lm: emitted, on the inner face without a bounce and in all, out; and by how much in and out do not balance."""

    emitted_lm: float
    direct_lm: float
    lid_lm: float
    out_lm: float
    balance_error: float

    @property
    def efficiency(self) -> float:
        """Flux that leaves over flux emitted; 0 for a dark design."""
        return self.out_lm / self.emitted_lm if self.emitted_lm > 0 else 0.0


@dataclass(frozen=True)
class LitChannel:
    """One colour: its name, level, flux at that level, XYZ per lumen, CCT where it has one, and the places that it shares."""

    name: str
    level: float
    flux_lm: float
    xyz_per_lumen: FloatArray
    cct_k: float | None
    words: str
    place_group: int


@dataclass(frozen=True, kw_only=True)
class Evaluation(abc.ABC):
    """Everything computed of a design, whatever its family.

    ``xyz`` is the map of the face seen straight on, shape (3, len(y_mm), len(x_mm)), Y in cd/m^2, y upwards. What is round is
    unrolled; ``inside`` says which pixels lie on a face at all, ``weight`` what share of its area each stands for.
    """

    design: Design
    catalogue: Catalogue
    detail: Detail
    x_mm: FloatArray
    y_mm: FloatArray
    xyz: Map
    inside: NDArray[np.bool_]
    weight: FloatArray
    evenness: Evenness
    dots: DotVisibility
    target: TargetMap
    supplies: tuple[SupplyNeed, ...]

    @property
    @abc.abstractmethod
    def diffuser(self) -> Stack:
        """What the face is closed with."""

    @property
    @abc.abstractmethod
    def output(self) -> Output:
        """Where the flux goes."""

    @property
    @abc.abstractmethod
    def channels(self) -> tuple[LitChannel, ...]:
        """The colours that are driven apart, or that stand apart."""

    @property
    @abc.abstractmethod
    def illuminance_lx(self) -> Map:
        """Illuminance on the inner side of the face, shape (len(y_mm), len(x_mm))."""

    @property
    @abc.abstractmethod
    def reflectances(self) -> tuple[float, float, float]:
        """Total reflectances of back, walls, and the sheet's inner side."""

    @property
    @abc.abstractmethod
    def opening_mm(self) -> tuple[float, float, float]:
        """Width, height and depth of the lit face as seen from the front; the depth of a flat one is 0."""

    @abc.abstractmethod
    def intensity_cd(self, gamma_deg: FloatArray, c_deg: FloatArray) -> FloatArray:
        """Luminous intensity far away, shape (len(c_deg), len(gamma_deg))."""

    @property
    @abc.abstractmethod
    def map_error(self) -> float:
        """Flux on the map over the flux on the face by the balance, less one; of several faces that of the worst."""

    @property
    def unresolved(self) -> int:
        """Of how many emitters the light on the face is sharper than the map's pixels."""
        return 0

    @property
    def shows_cells(self) -> bool:
        """Whether cells between partitions are meant to stand apart, as pixels do."""
        return False

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
