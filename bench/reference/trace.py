"""Trace the illuminance on the lid of a design of loose emitters, path by path, with a general-purpose renderer.

    python -m bench.reference.trace CASE.gauze --out CASE.csv --lid 0.38 --cells 24 18 --paths 10000000

Two ways, both unbiased:

``count``
    Paths start at the emitters and bounce on, weighted by the reflectances (Russian roulette once they are faint). Every
    meeting with the lid is counted in its cell. Only the renderer's ray intersections are used. ``--paths`` is the number of all
    paths.
``look``
    The renderer's stock path integrator looks at random places of every cell from a hair in front of it: E = pi L / rho.
    ``--paths`` is the number for each cell. Emitters are squares of 0.2 mm that let light through.

The result has one line for each cell: u and v of its middle on the chart (see docs/design-file.md), E in lm/mm^2, and
the standard error of E, from the scatter of batches. The renderer's compiler needs a recent LLVM library (DRJIT_LIBLLVM_PATH).
"""

import argparse
import json
import math
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import mitsuba as mi

mi.set_variant("llvm_ad_rgb")

import drjit as dr
import numpy as np

from bench.reference.bodies import LID, Array, BallChart, Body, Chart, Scene, build
from bench.reference.mitred import build_mitred

HAIR_MM = 2e-3
BATCHES = 24
_ROULETTE_BELOW = 0.25

Cells = tuple[Array, Array, float, float]


def cells_of(chart: Chart | BallChart, cells: tuple[int, int]) -> tuple[Cells, Any]:
    """Middles of the cells wholly on the lid, their width and height; which of all cells these are."""
    u0, u1, v0, v1 = chart.ends
    du, dv = (u1 - u0) / cells[0], (v1 - v0) / cells[1]
    u, v = (
        grid.ravel()
        for grid in np.meshgrid(u0 + (np.arange(cells[0]) + 0.5) * du, v0 + (np.arange(cells[1]) + 0.5) * dv)
    )
    keep = np.all([chart.inside(u + a * du, v + b * dv) for a in (-0.5, 0.5) for b in (-0.5, 0.5)], axis=0)
    return (u[keep], v[keep], du, dv), np.flatnonzero(keep)


def over_cells(values: Callable[[Array, Array], Array], cells: Cells) -> Array:
    """Means over cells of what is known everywhere on the chart."""
    u, v, du, dv = cells
    share = (np.arange(8) + 0.5) / 8 - 0.5
    parts = [values(u + a * du, v + b * dv) for a in share for b in share]
    return np.asarray(np.mean(parts, axis=0))


@dr.syntax  # type: ignore[untyped-decorator]  # the renderer ships no types
def count(
    scene: Any, chart: Chart | BallChart, emitters: Array, cells: tuple[int, int], paths: int, seed: int, side: float
) -> Array:
    """Illuminance of all cells (also those beside the lid, where it is 0) from one batch of forward paths.

    ``side`` is that of the emitters' squares.
    """
    u0, u1, v0, v1 = chart.ends
    du, dv = (u1 - u0) / cells[0], (v1 - v0) / cells[1]
    locate = chart.locate  # not the chart itself: what a loop names has to be of the renderer's own kinds
    lid = mi.ShapePtr(next(shape for shape in scene.shapes() if shape.id() == LID))
    random = mi.PCG32(size=paths, initstate=dr.opaque(mi.UInt64, seed))
    places, axes = (
        np.ascontiguousarray(part.T.astype(np.float32)) for part in (emitters[:, :3], unit(emitters[:, 3:6]))
    )
    flux = emitters[:, 6]
    chosen = dr.arange(mi.UInt32, paths) % len(emitters)  # as many paths from each
    weight = dr.gather(mi.Float, mi.Float((flux / flux.sum() * len(emitters)).astype(np.float32)), chosen)
    place = dr.gather(mi.Point3f, mi.Point3f(*places), chosen)
    normal = dr.gather(mi.Normal3f, mi.Normal3f(*axes), chosen)
    within = mi.Vector3f((random.next_float32() - 0.5) * side, (random.next_float32() - 0.5) * side, 0.0)
    right = mi.Vector3f(1.0, 0.0, 0.0) - normal.x * mi.Vector3f(
        normal
    )  # the sides of its square: towards x, or y for one along x
    right = dr.normalize(dr.select(dr.abs(normal.x) < 0.99, right, mi.Vector3f(0.0, 1.0, 0.0)))
    place = mi.Point3f(place + within.x * right + within.y * dr.cross(mi.Vector3f(normal), right))
    total = dr.zeros(mi.Float, cells[0] * cells[1])
    lives = mi.Bool(True)
    while lives:
        ray = mi.Ray3f(place, cosine_direction(normal, random))
        met = scene.ray_intersect(ray)
        u, v = locate(met.p)
        column, row = mi.Int32(dr.floor((u - u0) / du)), mi.Int32(dr.floor((v - v0) / dv))
        there = lives & met.is_valid() & (met.shape == lid)
        there &= (column >= 0) & (column < cells[0]) & (row >= 0) & (row < cells[1])
        dr.scatter_add(total, weight, mi.UInt32(row * cells[0] + column), there)
        normal = mi.Normal3f(met.n * dr.select(dr.dot(met.n, ray.d) > 0, mi.Float(-1.0), mi.Float(1.0)))
        place = mi.Point3f(met.p + HAIR_MM * normal)
        weight *= met.bsdf(mi.RayDifferential3f(ray)).eval_diffuse_reflectance(met).x
        lives &= met.is_valid() & (random.next_float32() * _ROULETTE_BELOW < weight)
        weight = dr.maximum(weight, _ROULETTE_BELOW)
    return np.asarray(np.array(total, dtype=float) * flux.sum() / paths / (du * dv))


def unit(vectors: Array) -> Array:
    """Directions of vectors."""
    return np.asarray(vectors / np.linalg.norm(vectors, axis=1)[:, None])


def cosine_direction(normal: Any, random: Any) -> Any:
    """Directions about normals as Lambert's law has them."""
    sample = mi.Point2f(random.next_float32(), random.next_float32())
    return mi.Frame3f(mi.Vector3f(normal)).to_world(mi.warp.square_to_cosine_hemisphere(sample))


def look(scene: Any, chart: Chart | BallChart, cells: Cells, reflectance: float, paths: int, seed: int) -> Array:
    """Illuminance of the kept cells from one batch of looks of the stock integrator, ``paths`` at each cell."""
    u, v, du, dv = cells
    random = np.random.default_rng(seed)
    where = np.repeat(np.arange(len(u)), paths)
    points, normals = chart.place(
        u[where] + (random.random(len(where)) - 0.5) * du, v[where] + (random.random(len(where)) - 0.5) * dv
    )
    integrator = mi.load_dict({"type": "path", "max_depth": -1, "rr_depth": 8})
    sampler = mi.load_dict({"type": "independent"})
    sampler.seed(seed, len(points))
    start = points + HAIR_MM * normals
    ray = mi.Ray3f(mi.Point3f(*start.T.astype(np.float32)), mi.Vector3f(*(-normals).T.astype(np.float32)))
    radiance, _, _ = integrator.sample(scene, sampler, mi.RayDifferential3f(ray))
    dr.eval(radiance)
    return np.asarray(np.array(radiance.x).reshape(len(u), paths).mean(axis=1) * math.pi / reflectance)


def trace(
    design: Scene, lid: float, cells: tuple[int, int], paths: int, way: str = "count", batches: int = BATCHES
) -> Array:
    """Trace a design of the file; rows u, v, E, standard error of E."""
    build_ = design["build"]
    inside = build_["cavity"], build_["back"], build_["walls"], lid
    mitred = build_["cavity"]["shape"] == "channel_mitred"
    body, chart = build_mitred(Body(), *inside) if mitred else build(*inside)
    emitters = np.array([[*row[:6], row[6]] for row in build_["emitters"]], dtype=float)
    kept, which = cells_of(chart, cells)
    if way == "check":
        for row in emitters:
            body.emitter(row[:3], row[3:6], row[6])
    scene = mi.load_dict(body.scene)
    each = max(1, paths // batches)
    sums = np.array(
        [
            look(scene, chart, kept, lid, each, seed)
            if way == "check"
            else count(scene, chart, emitters, cells, each, seed, float(build_.get("emitter_size_mm", 2.0)))[which]
            for seed in range(batches)
        ]
    )
    sums /= over_cells(chart.stretch, kept)
    return np.column_stack([kept[0], kept[1], sums.mean(axis=0), sums.std(axis=0, ddof=1) / math.sqrt(batches)])


def main() -> None:
    """Trace one case and write it."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("case", type=Path)
    parser.add_argument("--out", type=Path, required=True)
    parser.add_argument("--way", choices=("count", "check"), default="count")
    parser.add_argument("--paths", type=int, default=10_000_000)
    parser.add_argument("--cells", type=int, nargs=2, default=(24, 16))
    parser.add_argument("--lid", type=float, required=True, help="reflectance of the inner side of the sheet")
    chosen = parser.parse_args()
    design = json.loads(chosen.case.read_text("utf-8"))
    begin = time.perf_counter()
    rows = trace(design, chosen.lid, tuple(chosen.cells), chosen.paths, chosen.way)
    took = time.perf_counter() - begin
    lines = [
        "u_mm,v_mm,illuminance_lm_mm2,standard_error",
        *(",".join(f"{value:.6g}" for value in row) for row in rows),
    ]
    chosen.out.write_text("\n".join(lines) + "\n", "utf-8")
    noise = math.sqrt(float(np.mean((rows[:, 3] / rows[:, 2]) ** 2)))
    print(f"{chosen.case.stem}: {len(rows)} cells, noise {100 * noise:.2f} % a cell, {took:.1f} s")


if __name__ == "__main__":
    main()
