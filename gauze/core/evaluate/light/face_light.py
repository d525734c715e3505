"""What is known of a lit face, however it was lit."""

import abc
import functools
import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from gauze.core.layout.model import FloatArray
from gauze.core.materials import Stack
from gauze.core.optics.box_light import Map
from gauze.core.optics.evenness import Evenness
from gauze.core.optics.target import MAP_POINTS, TargetMap, TargetPlane
from gauze.core.optics.uniformity import FaceView
from gauze.core.optics.visibility import Modulation
from gauze.core.words import Text


@dataclass(frozen=True)
class Detail:
    """How finely to compute: ``fineness`` of the meshes, ``most_pixels`` of the map, places along a side of the target.

    The map's pixels are as fine as the light asks for, or ``pixel_mm`` where that is finer, but never more than ``most_pixels``.
    ``in_motion`` is for what is replaced at once: cavities are meshed and drawn more coarsely still, and light may go back and
    forth in them as in one that is nearly alike and known.
    """

    fineness: float
    most_pixels: int
    target_points: int = MAP_POINTS
    pixel_mm: float = math.inf
    in_motion: bool = False

    @property
    def of_cavities(self) -> "Detail":
        """The same for cavities."""
        if not self.in_motion:
            return self
        return replace(self, fineness=_IN_MOTION * self.fineness, most_pixels=round(_IN_MOTION * self.most_pixels))


_IN_MOTION = 0.5  # of what is so good enough for the box of a panel
AT_REST = Detail(fineness=1.0, most_pixels=160_000)
SMALL_PICTURE = Detail(fineness=0.4, most_pixels=20_000, target_points=1)
WHILE_DRAGGING = Detail(fineness=0.4, most_pixels=11_000, target_points=1, in_motion=True)


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

    name: Text
    level: float
    flux_lm: float
    xyz_per_lumen: FloatArray
    cct_k: float | None
    words: Text
    place_group: int


@dataclass(frozen=True, kw_only=True)
class FaceLight(abc.ABC):
    """The light on the faces of a build.

    ``xyz`` is the map of the face seen straight on, shape (3, len(y_mm), len(x_mm)), Y in cd/m^2, y upwards. What is round is
    unrolled; ``inside`` says which pixels lie on a face at all, ``weight`` what share of its area each stands for.
    ``size_mm`` is its width and height; ``known_ripples`` are those of a face nearly alike that stand in for its own, None where
    these are sought.
    """

    x_mm: FloatArray
    y_mm: FloatArray
    xyz: Map
    inside: NDArray[np.bool_]
    weight: FloatArray
    evenness: Evenness
    size_mm: tuple[float, float]
    known_ripples: tuple[Modulation, ...] | None = None

    @functools.cached_property
    def ripples(self) -> tuple[Modulation, ...]:
        """The modulations found on it: sought when they are first asked for."""
        return self._ripples() if self.known_ripples is None else self.known_ripples

    @abc.abstractmethod
    def _ripples(self) -> tuple[Modulation, ...]:
        """Seek them."""

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

    @abc.abstractmethod
    def target_map(self, plane: TargetPlane, points: int) -> TargetMap:
        """Illuminance on a plane in front."""

    @property
    @abc.abstractmethod
    def views(self) -> tuple[FaceView, ...]:
        """Its faces as they are measured, each kind once."""

    @property
    def face_means(self) -> FloatArray:
        """Mean luminances of all faces."""
        return np.array([self.evenness.mean_cd_m2])

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
