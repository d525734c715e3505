"""The surfaces of a reference case, built again from the sizes in the file: nothing is shared with the light model."""

import math
import tempfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import drjit as dr
import mitsuba as mi
import numpy as np

Array = np.ndarray[Any, np.dtype[np.float64]]
Scene = dict[str, Any]
EMITTER_MM = 0.2
LID = "lid"


@dataclass(frozen=True)
class Chart:
    """The lid unrolled.

    It is level at height ``middle_z`` (radius 0, v from y = ``start``), or part of a cylinder along x about
    (0, ``middle_z``), v from the angle ``start`` clockwise. ``ends`` are u0, u1, v0, v1; ``outline`` a convex polygon or None.
    """

    ends: tuple[float, float, float, float]
    middle_z: float
    start: float = 0.0
    radius: float = 0.0
    outline: Array | None = None

    def place(self, u: Array, v: Array) -> tuple[Array, Array]:
        """Points and inward normals of chart places."""
        if not self.radius:
            return np.stack([u, v + self.start, np.full_like(u, self.middle_z)], 1), np.tile(
                [0.0, 0.0, -1.0], (len(u), 1)
            )
        angle = self.start - v / self.radius
        away = np.stack([np.zeros_like(u), np.cos(angle), np.sin(angle)], 1)
        return np.array([0, 0, self.middle_z]) + self.radius * away + np.stack([u, 0 * u, 0 * u], 1), -away

    def locate(self, point: Any) -> tuple[Any, Any]:
        """Chart places of points of the renderer."""
        if not self.radius:
            return point.x, point.y - self.start
        turned = self.start - dr.atan2(point.z - self.middle_z, point.y)
        return point.x, self.radius * (turned - 2 * math.pi * dr.floor(turned / (2 * math.pi)))

    def stretch(self, u: Array, v: Array) -> Array:
        """Area on the lid over that on the chart: 1, as it unrolls without stretching."""
        del v
        return np.ones_like(u)

    def inside(self, u: Array, v: Array) -> Array:
        """Whether chart places lie in the outline."""
        result = np.ones(u.shape, bool)
        if self.outline is None:
            return result
        after = np.roll(self.outline, -1, axis=0)
        turn = np.sign(sum(a[0] * b[1] - a[1] * b[0] for a, b in zip(self.outline, after, strict=True)))
        for a, b in zip(self.outline, after, strict=True):
            result &= turn * ((b[0] - a[0]) * (v - a[1]) - (b[1] - a[1]) * (u - a[0])) >= -1e-9
        return result


@dataclass(frozen=True)
class BallChart:
    """A ball unrolled about its top: distances from there are true. Its base begins at the angle ``widest`` from there."""

    radius: float
    widest: float

    @property
    def ends(self) -> tuple[float, float, float, float]:
        """The square about it."""
        reach = self.radius * self.widest
        return -reach, reach, -reach, reach

    @property
    def middle_z(self) -> float:
        """Height of the ball's middle over its base."""
        return -self.radius * math.cos(self.widest)

    def place(self, u: Array, v: Array) -> tuple[Array, Array]:
        """Points and inward normals of chart places."""
        polar, azimuth = np.hypot(u, v) / self.radius, np.arctan2(v, u)
        away = np.stack([np.sin(polar) * np.cos(azimuth), np.sin(polar) * np.sin(azimuth), np.cos(polar)], 1)
        return np.array([0, 0, self.middle_z]) + self.radius * away, -away

    def locate(self, point: Any) -> tuple[Any, Any]:
        """Chart places of points of the renderer."""
        height = dr.clip((point.z - self.middle_z) / self.radius, -1.0, 1.0)
        reach, across = self.radius * dr.acos(height), dr.maximum(dr.sqrt(point.x**2 + point.y**2), 1e-9)
        return reach * point.x / across, reach * point.y / across

    def inside(self, u: Array, v: Array) -> Array:
        """Whether chart places lie on the ball."""
        return np.asarray(np.hypot(u, v) <= self.radius * self.widest)

    def stretch(self, u: Array, v: Array) -> Array:
        """Area on the ball over that on the chart."""
        polar = np.hypot(u, v) / self.radius
        return np.asarray(np.sinc(polar / math.pi))


class Body:
    """Triangles under construction: polygons with a reflectance, facing anywhere."""

    def __init__(self) -> None:
        self.scene: Scene = {"type": "scene"}
        self.folder = tempfile.TemporaryDirectory()

    def polygon(self, corners: Array, reflectance: float, name: str = "") -> None:
        """Add a flat convex polygon, lit from both sides."""
        corners = np.asarray(corners, dtype=float)
        self.mesh(corners, [[0, i, i + 1] for i in range(1, len(corners) - 1)], reflectance, name)

    def mesh(self, corners: Array, faces: list[list[int]], reflectance: float, name: str = "") -> None:
        """Add triangles."""
        mesh = mi.Mesh("mesh", len(corners), len(faces))
        params = mi.traverse(mesh)
        params["vertex_positions"] = np.asarray(corners).ravel().astype(np.float32)
        params["faces"] = np.array(faces).ravel().astype(np.uint32)
        params.update()
        path = Path(self.folder.name) / f"{len(self.scene)}.ply"
        mesh.write_ply(str(path))
        self.add({"type": "ply", "filename": str(path), "face_normals": True}, reflectance, name)

    def add(self, shape: Scene, reflectance: float, name: str = "") -> None:
        """Add a shape of the renderer's own."""
        diffuse = {"type": "diffuse", "reflectance": {"type": "rgb", "value": [reflectance] * 3}}
        shape["bsdf"] = {"type": "twosided", "bsdf": diffuse}
        self.scene[name or f"shape{len(self.scene)}"] = shape

    def emitter(self, place: Array, axis: Array, flux: float) -> None:
        """Add a small Lambertian square that lets light through."""
        axis = np.asarray(axis, dtype=float)
        side = np.array([1.0, 0.0, 0.0]) if abs(axis[0]) < 0.9 * np.linalg.norm(axis) else np.array([0.0, 1.0, 0.0])
        turn = mi.ScalarTransform4f().look_at(list(place), list(np.asarray(place) + axis), list(side))
        self.scene[f"shape{len(self.scene)}"] = {
            "type": "rectangle",
            "to_world": turn @ mi.ScalarTransform4f().scale(EMITTER_MM / 2),
            "bsdf": {"type": "null"},
            "emitter": {"type": "area", "radiance": {"type": "rgb", "value": [flux / (math.pi * EMITTER_MM**2)] * 3}},
        }


def prism_walls(body: Body, floor: Array, lid: Array, depth: float, walls: float) -> None:
    """Walls between two polygons of as many corners."""
    for i in range(len(floor)):
        j = (i + 1) % len(floor)
        body.polygon(np.array([[*floor[i], 0], [*floor[j], 0], [*lid[j], depth], [*lid[i], depth]]), walls)


def level(corners: Array, z: float) -> Array:
    """Lift a flat polygon."""
    return np.column_stack([corners, np.full(len(corners), z)])


def regular(sides: int, apothem: float) -> Array:
    """Regular polygon, a flat side down."""
    angles = [-math.pi / 2 + math.pi / sides + 2 * math.pi * i / sides for i in range(sides)]
    return apothem / math.cos(math.pi / sides) * np.array([[math.cos(a), math.sin(a)] for a in angles])


def build(shape: Scene, back: float, walls: float, lid: float) -> tuple[Body, Chart | BallChart]:
    """Build the surfaces of a cavity (its part of the file) and the chart of its lid."""
    body, kind = Body(), shape["shape"]
    if kind in ("box", "baffled"):
        width = shape.get("width_mm") or shape["columns"] * shape["pitch_x_mm"]
        height = shape.get("height_mm") or shape["rows"] * shape["pitch_y_mm"]
        floor = np.array([[0, 0], [width, 0], [width, height], [0, height]], float)
        top = floor
    elif kind == "prism":
        floor = top = np.array(shape["corners_mm"], float)
    elif kind == "frustum" and shape.get("sides", 0):
        floor, top = (regular(shape["sides"], shape[key] / 2) for key in ("back_mm", "lid_mm"))
    elif kind == "sphere":
        return build_ball(body, shape, back, lid)
    else:
        return build_round(body, shape, back, walls, lid)
    depth = shape["depth_mm"]
    body.polygon(level(floor, 0.0), back)
    body.polygon(level(top, depth), lid, LID)
    prism_walls(body, floor, top, depth, walls)
    if kind == "baffled":
        add_partitions(body, shape, walls)
    low, high = top.min(axis=0), top.max(axis=0)
    return body, Chart((low[0], high[0], low[1], high[1]), depth, outline=top)


def add_partitions(body: Body, shape: Scene, walls: float) -> None:
    """Partitions as bars on every line, whole thickness; at the rim half of each stands outside of the box, where no light is.

    None stands there where the shape says so.
    """
    px, py, t = shape["pitch_x_mm"], shape["pitch_y_mm"], shape["partition_mm"]
    z0 = shape.get("gap_below_mm", 0.0)
    z1 = min(z0 + shape["partition_height_mm"], shape["depth_mm"])
    width, height = shape["columns"] * px, shape["rows"] * py
    first = 0 if shape.get("rim_partition", True) else 1
    for i in range(first, shape["columns"] + 1 - first):
        bar(body, (i * px - t / 2, i * px + t / 2), (0.0, height), (z0, z1), walls)
    for j in range(first, shape["rows"] + 1 - first):
        bar(body, (0.0, width), (j * py - t / 2, j * py + t / 2), (z0, z1), walls)


def bar(body: Body, x: tuple[float, float], y: tuple[float, float], z: tuple[float, float], reflectance: float) -> None:
    """An upright block."""
    size = [(b - a) / 2 for a, b in (x, y, z)]
    middle = [(a + b) / 2 for a, b in (x, y, z)]
    turn = mi.ScalarTransform4f().translate(middle) @ mi.ScalarTransform4f().scale(size)
    body.add({"type": "cube", "to_world": turn}, reflectance)


def build_ball(body: Body, shape: Scene, back: float, lid: float) -> tuple[Body, BallChart]:
    """Build a ball on a flat round base, about the z axis; below the base of the renderer's whole ball no light gets."""
    radius, base = shape["diameter_mm"] / 2, shape["base_mm"] / 2
    chart = BallChart(radius, math.pi - math.asin(base / radius))
    body.add({"type": "sphere", "center": [0.0, 0.0, chart.middle_z], "radius": radius}, lid, LID)
    disc = mi.ScalarTransform4f().scale(base)
    body.add({"type": "disk", "to_world": disc}, back)
    return body, chart


def build_round(body: Body, shape: Scene, back: float, walls: float, lid: float) -> tuple[Body, Chart]:
    """Bodies drawn along x, with polygons of many sides for what is round (and the true chart for the places of the lid)."""
    length = shape["length_mm"]
    if shape["shape"] == "tube":
        radius, bed_height = shape["diameter_mm"] / 2, shape.get("bed_height_mm", 0.0)
        bed = 2 * math.acos(1 - bed_height / radius) if bed_height else 0.0
        lit = min(math.radians(shape.get("lit_deg", 360.0)), 2 * math.pi - bed)
        arc_of(body, radius, radius, (math.pi / 2 - lit / 2, math.pi / 2 + lit / 2), length, lid, LID)
        rest = (2 * math.pi - bed - lit) / 2
        role = walls if bed else back
        if rest > 1e-6:
            arc_of(body, radius, radius, (math.pi / 2 + lit / 2, math.pi / 2 + lit / 2 + rest), length, role)
            arc_of(body, radius, radius, (math.pi / 2 - lit / 2 - rest, math.pi / 2 - lit / 2), length, role)
        if bed:
            half = radius * math.sin(bed / 2)
            low = [[0, -half], [length, -half], [length, half], [0, half]]
            body.polygon(level(np.array(low), bed_height), back)
        outline = np.array(
            [[radius * math.cos(a), radius + radius * math.sin(a)] for a in np.linspace(0, 2 * math.pi, 361)[:-1]]
        )
        caps(body, outline, length, walls)

        return body, Chart((0.0, length, 0.0, radius * lit), radius, math.pi / 2 + lit / 2, radius)
    return build_channel(body, shape, back, walls, lid)


def build_channel(body: Body, shape: Scene, back: float, walls: float, lid: float) -> tuple[Body, Chart]:
    """Rectangular or V channel with a flat or curved lens."""
    length, half, depth = shape["length_mm"], shape["width_mm"] / 2, shape["depth_mm"]
    bed = half if shape["section"] == "rectangle" else shape["bed_mm"] / 2
    for (y0, z0), (y1, z1), rho in (
        ((-bed, 0), (bed, 0), back),
        ((bed, 0), (half, depth), walls),
        ((-half, depth), (-bed, 0), walls),
    ):
        body.polygon(np.array([[0, y0, z0], [length, y0, z0], [length, y1, z1], [0, y1, z1]], float), rho)
    rise = shape.get("lens_rise_mm", 0.0)
    if not rise:
        corners = [[0, half, depth], [length, half, depth], [length, -half, depth], [0, -half, depth]]
        body.polygon(np.array(corners), lid, LID)
        caps(body, np.array([[-bed, 0], [bed, 0], [half, depth], [-half, depth]]), length, walls)
        return body, Chart((0.0, length, 0.0, 2 * half), depth, -half)
    radius = (half**2 + rise**2) / (2 * rise)
    opening, middle = math.asin(half / radius), depth + rise - radius
    arc_of(body, radius, middle, (math.pi / 2 - opening, math.pi / 2 + opening), length, lid, LID)
    arch = [
        [radius * math.cos(a), middle + radius * math.sin(a)]
        for a in np.linspace(math.pi / 2 - opening, math.pi / 2 + opening, 90)
    ]
    caps(body, np.array([[-bed, 0], [bed, 0], *arch]), length, walls)

    return body, Chart((0.0, length, 0.0, 2 * opening * radius), middle, math.pi / 2 + opening, radius)


def arc_of(
    body: Body, radius: float, middle: float, angles: tuple[float, float], length: float, rho: float, name: str = ""
) -> None:
    """Part of a cylinder along x as one smooth-enough mesh: strips of half a degree."""
    count = max(8, math.ceil(math.degrees(angles[1] - angles[0]) * 2))
    grid = np.linspace(*angles, count + 1)
    ring = np.array([[radius * math.cos(a), middle + radius * math.sin(a)] for a in grid])
    corners = np.array([[x, *point] for point in ring for x in (0.0, length)])
    faces = [[2 * i, 2 * i + 1, 2 * i + 3] for i in range(count)] + [
        [2 * i, 2 * i + 3, 2 * i + 2] for i in range(count)
    ]
    body.mesh(corners, faces, rho, name)


def caps(body: Body, outline: Array, length: float, walls: float) -> None:
    """Ends of a body along x."""
    for x in (0.0, length):
        body.polygon(np.array([[x, *point] for point in outline]), walls)
