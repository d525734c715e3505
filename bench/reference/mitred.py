"""The surfaces of a mitred corner: a side of channel between its corners, and the sides beside it, cut off at the mitres."""

import math
from dataclasses import dataclass, replace

import numpy as np

from bench.reference.bodies import LID, Array, Body, Chart, Scene

_FACET_RAD = math.radians(0.5)
_APART = 1e-6


@dataclass(frozen=True)
class MitredChart(Chart):
    """The lid of a side unrolled: it ends at x = ``slopes[0]`` y and at x = ``length`` + ``slopes[1]`` y."""

    slopes: tuple[float, float] = (0.0, 0.0)
    length: float = 0.0

    def inside(self, u: Array, v: Array) -> Array:
        """Whether chart places lie between both mitres."""
        y = self.place(np.ravel(u), np.ravel(v))[0][:, 1].reshape(np.shape(u))
        low, high = self.slopes[0] * y, self.length + self.slopes[1] * y
        return np.asarray((u >= low - 1e-9) & (u <= high + 1e-9))


def build_mitred(body: Body, shape: Scene, back: float, walls: float, lid: float) -> tuple[Body, Chart]:
    """Build a side of rectangular or V channel, from (0, 0) along x, with what is before and after it."""
    half, depth, length = shape["width_mm"] / 2, shape["depth_mm"], shape["length_mm"]
    bed = half if shape["section"] == "rectangle" else shape["bed_mm"] / 2
    section: list[tuple[Array, float]] = [
        (np.array([[-bed, 0.0], [bed, 0.0]]), back),
        (np.array([[bed, 0.0], [half, depth]]), walls),
        (np.array([[-half, depth], [-bed, 0.0]]), walls),
    ]
    chart, lens = _lens(half, depth, shape.get("lens_rise_mm", 0.0))
    ends = [
        math.tan(math.radians(leg["turn_deg"]) / 2) if leg else 0.0 for leg in (shape.get("before"), shape.get("after"))
    ]
    slopes = ends[0], -ends[1]
    beside = lid + _APART  # surfaces of one reflectance may be made one, which has no name
    _leg(body, (*section, (lens, lid)), (0.0, length), slopes, (np.zeros(2), 0.0), LID)
    for which, turn in (("before", -1), ("after", 1)):
        leg = shape.get(which)
        if leg is None:
            _cap(body, (*section, (lens, lid)), 0.0 if turn < 0 else length, (np.zeros(2), 0.0), walls)
            continue
        angle, far = turn * math.radians(leg["turn_deg"]), leg["length_mm"]
        along = np.array([math.cos(angle), math.sin(angle)])
        start = -far * along if turn < 0 else np.array([length, 0.0])
        own = (0.0, -ends[0]) if turn < 0 else (ends[1], 0.0)
        _leg(body, (*section, (lens, beside)), (0.0, far), own, (start, angle))
        _cap(body, (*section, (lens, lid)), 0.0 if turn < 0 else far, (start, angle), walls)
    reach = half * max(abs(slopes[0]), abs(slopes[1]))
    _, _, low, high = chart.ends
    return body, replace(chart, ends=(-reach, length + reach, low, high), slopes=slopes, length=length)


def _lens(half: float, depth: float, rise: float) -> tuple[MitredChart, Array]:
    if not rise:
        return MitredChart((0.0, 0.0, 0.0, 2 * half), depth, -half), np.array([[half, depth], [-half, depth]])
    radius = (half**2 + rise**2) / (2 * rise)
    opening, middle = math.asin(half / radius), depth + rise - radius
    angles = np.linspace(math.pi / 2 - opening, math.pi / 2 + opening, math.ceil(2 * opening / _FACET_RAD) + 1)
    arch = np.column_stack([radius * np.cos(angles), middle + radius * np.sin(angles)])
    return MitredChart((0.0, 0.0, 0.0, 2 * opening * radius), middle, math.pi / 2 + opening, radius), arch


def _leg(
    body: Body,
    section: tuple[tuple[Array, float], ...],
    between: tuple[float, float],
    slopes: tuple[float, float],
    stand: tuple[Array, float],
    lid: str = "",
) -> None:
    for number, (line, rho) in enumerate(section):
        low, high = (
            _placed(np.column_stack([x + slope * line[:, 0], line]), stand)
            for x, slope in zip(between, slopes, strict=True)
        )
        count = len(line)
        corners = np.concatenate([low, high])
        faces = [face for i in range(count - 1) for face in ([i, count + i, count + i + 1], [i, count + i + 1, i + 1])]
        body.mesh(corners, faces, rho, lid if number == len(section) - 1 else "")


def _cap(
    body: Body, section: tuple[tuple[Array, float], ...], x: float, stand: tuple[Array, float], reflectance: float
) -> None:
    base, right, left, lens = (line for line, _ in section)
    outline = np.concatenate([base, right[1:], lens[1:], left[1:-1]])
    body.polygon(_placed(np.column_stack([np.full(len(outline), x), outline]), stand), reflectance)


def _placed(points: Array, stand: tuple[Array, float]) -> Array:
    (x, y), angle = stand
    cosine, sine = math.cos(angle), math.sin(angle)
    turned = points[:, :2] @ np.array([[cosine, sine], [-sine, cosine]]) + [x, y]
    return np.column_stack([turned, points[:, 2]])
