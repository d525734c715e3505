"""Pieces of a cavity's inner surface: each maps the unit square (s, t) to points with normals that look inwards.

All arrays of points have the shape of s and t with a last axis of 3. Lengths in mm.
"""

import functools
import math
from dataclasses import dataclass
from typing import Literal, Protocol

import numpy as np

from gauze.core.layout.model import FloatArray

Role = Literal["lid", "back", "wall", "opening"]


@dataclass(frozen=True)
class Chart:
    """The flat plane (u, v) in which a lit piece is drawn: where its own origin lies there."""

    u_mm: float = 0.0
    v_mm: float = 0.0


_ROUNDING = 1e-13  # of a piece's sides


def _cross(a: FloatArray, b: FloatArray) -> tuple[float, float, float]:
    """The cross product of two vectors: NumPy's takes ten times as long for so few."""
    (a_x, a_y, a_z), (b_x, b_y, b_z) = a.tolist(), b.tolist()
    return a_y * b_z - a_z * b_y, a_z * b_x - a_x * b_z, a_x * b_y - a_y * b_x


def _unmapped(corners: FloatArray, places: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Return (s, t) of places (..., 2) in a quadrilateral (4, 2) with bilinear coordinates; NaN where there is none.

    a + s e + t f + s t g = p, crossed with e + t g, leaves a quadratic in t: (g x f) t^2 + (e x f + h x g) t + h x e = 0 with
    h = p - a. Of its two roots the one is taken that lies in the piece, or nearer to it. Of a parallelogram, g = 0, there is
    one.
    """
    a, b, c, d = corners
    (e_x, e_y), (f_x, f_y), (g_x, g_y) = ((one.tolist()) for one in (b - a, d - a, a - b + c - d))
    h_x, h_y = places[..., 0] - a[0], places[..., 1] - a[1]
    flat = e_x * f_y - e_y * f_x
    if flat != 0.0 and max(abs(g_x), abs(g_y)) <= _ROUNDING * max(abs(e_x), abs(e_y), abs(f_x), abs(f_y)):
        return (h_x * f_y - h_y * f_x) / flat, (h_y * e_x - h_x * e_y) / flat
    square, linear, constant = g_x * f_y - g_y * f_x, flat + h_x * g_y - h_y * g_x, h_x * e_y - h_y * e_x
    with np.errstate(divide="ignore", invalid="ignore"):  # the far root of a parallelogram; places that have none
        rooted = -0.5 * (linear + np.copysign(np.sqrt(linear**2 - 4.0 * square * constant), linear))
        pairs = []
        for t in (constant / rooted, rooted / square):
            along_x, along_y = e_x + t * g_x, e_y + t * g_y
            s = ((h_x - t * f_x) * along_x + (h_y - t * f_y) * along_y) / (along_x**2 + along_y**2)
            pairs.append((s, t, np.nan_to_num(np.maximum(np.abs(s - 0.5), np.abs(t - 0.5)), nan=np.inf)))
    (near_s, near_t, near), (far_s, far_t, far) = pairs
    return np.where(far < near, far_s, near_s), np.where(far < near, far_t, near_t)


class Tile(Protocol):
    """One smooth piece of surface."""

    @property
    def name(self) -> str:
        """Words for a person."""

    @property
    def role(self) -> Role:
        """What the piece does: a lid lets light out, an opening swallows it."""

    @property
    def is_flat(self) -> bool:
        """Whether the piece sees nothing of itself."""

    @property
    def surface(self) -> object:
        """What pieces of one smooth surface have in common, hashable."""

    @property
    def lengths_mm(self) -> tuple[float, float]:
        """Lengths along s and t at their longest, for the choice of a mesh."""

    def points(self, s: FloatArray, t: FloatArray) -> FloatArray:
        """Places."""

    def normals(self, s: FloatArray, t: FloatArray) -> FloatArray:
        """Unit normals that look into the cavity."""

    def density(self, s: FloatArray, t: FloatArray) -> FloatArray:
        """Area per unit of s and t, mm^2."""

    def clearance_mm(self, places: FloatArray) -> FloatArray:
        """Signed distance of places from the whole surface of which this is a piece, inwards; shape (...)."""

    def locate(self, u: FloatArray, v: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Return (s, t) of places on the chart; outside 0 to 1, or not a number, where they lie beside the piece."""

    def to_chart(self, s: FloatArray, t: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Return (u, v) on the chart."""


@dataclass(frozen=True)
class FlatTile:
    """A flat quadrilateral, its corners at (s, t) = (0, 0), (1, 0), (1, 1), (0, 1), counter-clockwise seen from inside.

    The chart's axes are ``right`` and the normal turned a quarter round it.
    """

    name: str
    role: Role
    corners: FloatArray  # (4, 3)
    right: tuple[float, float, float] = (1.0, 0.0, 0.0)
    origin: tuple[float, float, float] = (0.0, 0.0, 0.0)  # lies at the chart's (u, v)
    chart: Chart = Chart()
    flip: bool = False  # the chart is seen from outside: its v axis is turned over

    @property
    def is_flat(self) -> bool:
        return True

    @functools.cached_property
    def surface(self) -> object:
        normal = self.normal.tolist()
        away = sum(n * p for n, p in zip(normal, self.corners[0].tolist(), strict=True))
        return tuple(round(one, 6) + 0.0 for one in (*normal, away))

    @functools.cached_property
    def lengths_mm(self) -> tuple[float, float]:
        a, b, c, d = self.corners.tolist()
        lengths = [math.dist(p, q) for p, q in ((a, b), (d, c), (a, d), (b, c))]
        return max(lengths[:2]), max(lengths[2:])

    @functools.cached_property
    def normal(self) -> FloatArray:
        """The one normal."""
        across = _cross(self.corners[2] - self.corners[0], self.corners[3] - self.corners[1])
        length = math.hypot(*across)
        return np.array([one / length for one in across])

    def points(self, s: FloatArray, t: FloatArray) -> FloatArray:
        a, b, c, d = self.corners
        s, t = s[..., None], t[..., None]
        return np.asarray((1 - s) * (1 - t) * a + s * (1 - t) * b + s * t * c + (1 - s) * t * d)

    def normals(self, s: FloatArray, t: FloatArray) -> FloatArray:
        del t
        return np.broadcast_to(self.normal, (*s.shape, 3))

    @functools.cached_property
    def densities(self) -> tuple[float, float, float]:
        """Area over that of (s, t): at the first corner, at the second and at the fourth."""
        a, b, c, d = self.corners
        sides = ((b - a, d - a), (b - a, c - b), (c - d, d - a))
        here, along, up = (
            sum(x * n for x, n in zip(_cross(p, q), self.normal.tolist(), strict=True)) for p, q in sides
        )
        return here, along, up

    def density(self, s: FloatArray, t: FloatArray) -> FloatArray:
        here, along, up = self.densities  # the area of a flat piece changes linearly with s and with t
        return np.asarray(here + s * (along - here) + t * (up - here))

    def clearance_mm(self, places: FloatArray) -> FloatArray:
        return np.asarray((places - self.corners[0]) @ self.normal)

    @functools.cached_property
    def _axes(self) -> tuple[FloatArray, FloatArray]:
        right = np.array(self.right)
        up = np.array(_cross(self.normal, right))
        return right, -up if self.flip else up

    def locate(self, u: FloatArray, v: FloatArray) -> tuple[FloatArray, FloatArray]:
        right, up = self._axes
        flat = np.stack([(self.corners - self.origin) @ right, (self.corners - self.origin) @ up], axis=1)
        return _unmapped(flat, np.stack([u - self.chart.u_mm, v - self.chart.v_mm], axis=-1))

    def to_chart(self, s: FloatArray, t: FloatArray) -> tuple[FloatArray, FloatArray]:
        right, up = self._axes
        away = self.points(s, t) - np.array(self.origin)
        return away @ right + self.chart.u_mm, away @ up + self.chart.v_mm


@dataclass(frozen=True)
class RoundTile:
    """A piece of a surface of revolution whose profile is a straight line: cylinder, cone, disc.

    At angle a about the axis and share s of the way along the profile the point is
    base + z(s) axis + r(s) (cos a e1 + sin a e2), r and z running straight from ``start_rz_mm`` to ``end_rz_mm``; the angle runs
    from ``angles_rad[0]`` to ``angles_rad[1]`` with t. ``looks_in`` is +1 where the normal looks towards the axis (or, on a
    disc, along it), -1 where it looks away.

    A cylinder may be cut off at an angle: at each end so much is added to z for each mm along e1, ``slants``.

    The chart of a cylinder or cone has u along the profile and v along the arc (halfway up), 0 where the angle is a right
    one; that of a disc is its plane.
    """

    name: str
    role: Role
    base: tuple[float, float, float]
    e1: tuple[float, float, float]
    e2: tuple[float, float, float]
    start_rz_mm: tuple[float, float]
    end_rz_mm: tuple[float, float]
    angles_rad: tuple[float, float]
    looks_in: int = 1
    chart: Chart = Chart()
    slants: tuple[float, float] = (0.0, 0.0)

    @property
    def is_flat(self) -> bool:
        return self.start_rz_mm[1] == self.end_rz_mm[1]

    @property
    def surface(self) -> object:
        return self.base, self.e1, self.e2, self.start_rz_mm, self.end_rz_mm

    @property
    def lengths_mm(self) -> tuple[float, float]:
        around = max(self.start_rz_mm[0], self.end_rz_mm[0]) * abs(self.angles_rad[1] - self.angles_rad[0])
        longer = self._cut_off(np.array([0.0, 0.5, 1.0]))[1]
        return self.profile_mm + float(np.max(longer)), around

    @property
    def profile_mm(self) -> float:
        """Length of the profile at right angles to e1."""
        (r0, z0), (r1, z1) = self.start_rz_mm, self.end_rz_mm
        return math.hypot(r1 - r0, z1 - z0)

    def _cut_off(self, t: FloatArray) -> tuple[FloatArray | float, FloatArray | float]:
        """How much later it starts for its slants, and by how much it is longer for them."""
        if self.slants == (0.0, 0.0):
            return 0.0, 0.0
        along_e1 = self.start_rz_mm[0] * np.cos(self._angle(t))
        return self.slants[0] * along_e1, (self.slants[1] - self.slants[0]) * along_e1

    @functools.cached_property
    def axis(self) -> FloatArray:
        """Unit vector of the axis of revolution."""
        return np.cross(self.e1, self.e2)

    def _radius(self, s: FloatArray) -> FloatArray:
        return self.start_rz_mm[0] + s * (self.end_rz_mm[0] - self.start_rz_mm[0])

    def _angle(self, t: FloatArray) -> FloatArray:
        return self.angles_rad[0] + t * (self.angles_rad[1] - self.angles_rad[0])

    def _outward(self, t: FloatArray) -> FloatArray:
        angle = self._angle(t)[..., None]
        return np.asarray(np.cos(angle) * self.e1 + np.sin(angle) * np.asarray(self.e2))

    def points(self, s: FloatArray, t: FloatArray) -> FloatArray:
        height = self.start_rz_mm[1] + s * (self.end_rz_mm[1] - self.start_rz_mm[1])
        later, longer = self._cut_off(t)
        height = height + later + s * longer
        return np.asarray(self.base + height[..., None] * self.axis + self._radius(s)[..., None] * self._outward(t))

    def slope(self) -> tuple[float, float]:
        """Unit normal in the (r, z) plane, towards the axis or along it."""
        (r0, z0), (r1, z1) = self.start_rz_mm, self.end_rz_mm
        long = math.hypot(r1 - r0, z1 - z0)
        return -self.looks_in * (z1 - z0) / long, self.looks_in * (r1 - r0) / long

    def normals(self, s: FloatArray, t: FloatArray) -> FloatArray:
        outward, along = self.slope()
        return np.asarray(outward * self._outward(t) + along * self.axis) * np.ones((*s.shape, 1))

    def density(self, s: FloatArray, t: FloatArray) -> FloatArray:
        turn = abs(self.angles_rad[1] - self.angles_rad[0])
        return np.asarray((self.profile_mm + self._cut_off(t)[1]) * self._radius(s) * turn + 0.0 * t)

    def clearance_mm(self, places: FloatArray) -> FloatArray:
        away = places - np.array(self.base)
        height = away @ self.axis
        radius = np.linalg.norm(away - height[..., None] * self.axis, axis=-1)
        outward, along = self.slope()
        return np.asarray((radius - self.start_rz_mm[0]) * outward + (height - self.start_rz_mm[1]) * along)

    def locate(self, u: FloatArray, v: FloatArray) -> tuple[FloatArray, FloatArray]:
        u, v = u - self.chart.u_mm, v - self.chart.v_mm
        r0, r1 = self.start_rz_mm[0], self.end_rz_mm[0]
        if not self.is_flat:
            t = self._share(np.pi / 2 - v / ((r0 + r1) / 2))
            later, longer = self._cut_off(t)
            return (u - later) / (self.profile_mm + longer), t
        angle = np.arctan2(v, u)
        turns = np.ceil((self.angles_rad[0] - 1e-9 - angle) / (2 * np.pi))
        return (np.hypot(u, v) - r0) / (r1 - r0), self._share(angle + 2 * np.pi * turns)

    def _share(self, angle: FloatArray) -> FloatArray:
        return np.asarray((angle - self.angles_rad[0]) / (self.angles_rad[1] - self.angles_rad[0]))

    def to_chart(self, s: FloatArray, t: FloatArray) -> tuple[FloatArray, FloatArray]:
        angle, radius = self._angle(t), self._radius(s)
        if self.is_flat:
            return radius * np.cos(angle) + self.chart.u_mm, radius * np.sin(angle) + self.chart.v_mm
        halfway = (self.start_rz_mm[0] + self.end_rz_mm[0]) / 2
        later, longer = self._cut_off(t)
        u = later + s * (self.profile_mm + longer)
        return u + self.chart.u_mm, halfway * (np.pi / 2 - angle) + self.chart.v_mm


@dataclass(frozen=True)
class SphereTile:
    """A piece of a sphere seen from inside: t is the azimuth, s the angle from the pole (+z).

    Its chart keeps distances from the pole: u = R theta cos(azimuth), v = R theta sin(azimuth).
    """

    name: str
    role: Role
    centre: tuple[float, float, float]
    radius_mm: float
    polar_rad: tuple[float, float]
    azimuth_rad: tuple[float, float]
    chart: Chart = Chart()

    @property
    def is_flat(self) -> bool:
        return False

    @property
    def surface(self) -> object:
        return self.centre, self.radius_mm

    @property
    def lengths_mm(self) -> tuple[float, float]:
        widest = 1.0 if self.polar_rad[0] <= np.pi / 2 <= self.polar_rad[1] else max(np.sin(self.polar_rad))
        polar, azimuth = (abs(b - a) for a, b in (self.polar_rad, self.azimuth_rad))
        return self.radius_mm * polar, self.radius_mm * float(widest) * azimuth

    def _angles(self, s: FloatArray, t: FloatArray) -> tuple[FloatArray, FloatArray]:
        return (
            self.polar_rad[0] + s * (self.polar_rad[1] - self.polar_rad[0]),
            self.azimuth_rad[0] + t * (self.azimuth_rad[1] - self.azimuth_rad[0]),
        )

    def normals(self, s: FloatArray, t: FloatArray) -> FloatArray:
        polar, azimuth = self._angles(s, t)
        across = np.sin(polar)
        return -np.stack([across * np.cos(azimuth), across * np.sin(azimuth), np.cos(polar) + 0.0 * azimuth], axis=-1)

    def points(self, s: FloatArray, t: FloatArray) -> FloatArray:
        return np.asarray(np.array(self.centre) - self.radius_mm * self.normals(s, t))

    def density(self, s: FloatArray, t: FloatArray) -> FloatArray:
        polar, _ = self._angles(s, t)
        spans = abs((self.polar_rad[1] - self.polar_rad[0]) * (self.azimuth_rad[1] - self.azimuth_rad[0]))
        return np.asarray(self.radius_mm**2 * np.sin(polar) * spans)

    def clearance_mm(self, places: FloatArray) -> FloatArray:
        return np.asarray(self.radius_mm - np.linalg.norm(places - np.array(self.centre), axis=-1))

    def locate(self, u: FloatArray, v: FloatArray) -> tuple[FloatArray, FloatArray]:
        u, v = u - self.chart.u_mm, v - self.chart.v_mm
        polar, azimuth = np.hypot(u, v) / self.radius_mm, np.arctan2(v, u)
        azimuth = azimuth + 2 * np.pi * np.ceil((self.azimuth_rad[0] - 1e-9 - azimuth) / (2 * np.pi))
        return (
            np.asarray((polar - self.polar_rad[0]) / (self.polar_rad[1] - self.polar_rad[0])),
            np.asarray((azimuth - self.azimuth_rad[0]) / (self.azimuth_rad[1] - self.azimuth_rad[0])),
        )

    def to_chart(self, s: FloatArray, t: FloatArray) -> tuple[FloatArray, FloatArray]:
        polar, azimuth = self._angles(s, t)
        reach = self.radius_mm * polar
        return reach * np.cos(azimuth) + self.chart.u_mm, reach * np.sin(azimuth) + self.chart.v_mm
