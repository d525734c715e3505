"""The compiled loops against the same formulas in plain array arithmetic, and a library that does not fit."""

import math
import pickle
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial import cKDTree

from gauze.core.errors import Cancelled, KernelError
from gauze.core.layout.families.tiles import SphereTile
from gauze.core.layout.model import FloatArray
from gauze.core.optics.cavity.distribution import measured_share, sides_of, table_of
from gauze.core.optics.cavity.emitters import Emitters, illuminance, per_lumen
from gauze.core.optics.cavity.factors import point_factors
from gauze.core.optics.cavity.mesh import mesh_of
from gauze.core.optics.kernel import build, library
from gauze.core.optics.kernel.outlook import lobes, nearest2_mm2, sums_by_part
from gauze.core.optics.kernel.pairs import SheetWeights, Window, direct_flux, direct_light
from gauze.core.optics.kernel.pieces import Pieces
from tests.builders import CAVITIES, surface


@pytest.mark.parametrize("name", CAVITIES)
def test_pieces_are_where_they_say_one_by_one(name: str) -> None:
    tiles = surface(name).tiles
    rng = np.random.default_rng(1)
    which, s, t = rng.integers(0, len(tiles), 500), rng.random(500), rng.random(500)
    places, normals, density = Pieces(tiles).at(which, s, t)
    size = float(np.ptp(places, axis=0).max())
    for number, tile in enumerate(tiles):
        mine = which == number
        assert places[mine] == pytest.approx(tile.points(s[mine], t[mine]), abs=1e-8 * size)
        assert normals[mine] == pytest.approx(tile.normals(s[mine], t[mine]), abs=1e-8)
        assert density[mine] == pytest.approx(tile.density(s[mine], t[mine]), rel=1e-8, abs=1e-8)


def test_a_piece_of_no_known_kind_is_refused() -> None:
    with pytest.raises(TypeError, match="object is no piece"):
        Pieces([object()])  # type: ignore[list-item]  the mistake of who adds a kind


def _emitters(seed: int, count: int, *, measured: bool) -> Emitters:
    rng = np.random.default_rng(seed)
    axes = rng.normal(size=(count, 3)) * [0.4, 0.4, 0.1] + [0.0, 0.0, 1.0]
    axes /= np.linalg.norm(axes, axis=1, keepdims=True)
    places = rng.uniform(0.0, 100.0, (count, 3)) * [1.0, 1.0, 0.1]
    table = np.arange(count) % 3 - 1 if measured else np.full(count, -1)
    gamma, c = np.linspace(0.0, 90.0, 19), np.linspace(0.0, 360.0, 13)
    beam = np.cos(np.radians(gamma)) ** 4 * (1.3 + np.cos(np.radians(c))[:, None])
    tables = (table_of(gamma, c, beam), table_of(gamma, np.array([0.0]), beam[:1])) if measured else ()
    power = np.where(np.arange(count) % 2, 1.0, rng.uniform(0.5, 60.0, count))
    return Emitters(places, axes, power, rng.uniform(0.0, 9.0, (count, 2)), table, tables)


def _plainly(points: np.ndarray, normals: np.ndarray, lamps: Emitters) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Share of every emitter at every point, r cos' and r^2, in double precision."""
    away = points[:, None, :] - lamps.places_mm[None]
    squared = np.maximum((away**2).sum(axis=2), 0.05**2)
    leaving = np.maximum((away * lamps.axes[None]).sum(axis=2), 0.0)
    arriving = np.maximum(-(away * normals[:, None, :]).sum(axis=2), 0.0)
    share = per_lumen(leaving, arriving, squared, lamps.power[None, :])
    for table, mine in lamps.measured():
        share[:, mine] = measured_share(table, lamps.axes[mine], away[:, mine], arriving[:, mine], squared[:, mine])
    return share, arriving, squared


@pytest.mark.parametrize("measured", [False, True])
@given(st.integers(0, 1000), st.integers(1, 200), st.integers(1, 700), st.sampled_from([0.3, 30.0]))
def test_direct_light_is_the_sum_over_emitters(
    measured: bool, seed: int, count: int, places: int, variance_mm2: float
) -> None:
    lamps = _emitters(seed, count, measured=measured)
    rng = np.random.default_rng(seed + 1)
    points = rng.uniform(0.0, 100.0, (places, 3)) * [1.0, 1.0, 0.0] + [0.0, 0.0, 25.0]
    normals = np.tile([0.0, 0.0, -1.0], (places, 1))
    weights = SheetWeights(np.linspace(2.0, 0.1, 4097, dtype=np.float32), 0.2, variance_mm2)
    plain, seen = illuminance(points, normals, lamps, weights)
    share, arriving, squared = _plainly(points, normals, lamps)
    assert plain == pytest.approx(share @ lamps.flux_lm, rel=2e-5, abs=1e-9)
    assert seen == pytest.approx((share * weights(arriving, squared)) @ lamps.flux_lm, rel=2e-3, abs=1e-9)


@pytest.mark.parametrize("distance", [3.0, 6.0])
def test_packages_are_squares_that_shine(distance: float) -> None:
    """Against the mean over many points of each square; nearer than three sides nothing is promised but the flux."""
    side, count = 4.0, 12
    lamps = replace(_emitters(7, count, measured=False), power=np.linspace(1.0, 3.0, count))
    rng = np.random.default_rng(8)
    facing = rng.normal(size=(300, 3)) * 0.3 - [0.0, 0.0, 1.0]
    normals = facing / np.linalg.norm(facing, axis=1, keepdims=True)
    points = rng.uniform(0.0, 100.0, (300, 3)) * [1.0, 1.0, 0.0] + [0.0, 0.0, 10.0 + distance * side]
    right, up = sides_of(lamps.axes)
    share = (np.arange(8) + 0.5) / 8 - 0.5
    spots = [replace(lamps, places_mm=lamps.places_mm + side * (x * right + y * up)) for x in share for y in share]
    wanted = np.mean([illuminance(points, normals, spot)[0] for spot in spots], axis=0)
    as_points = illuminance(points, normals, lamps)[0]
    found = illuminance(points, normals, replace(lamps, size_mm=side))[0]
    error, before = (np.sqrt(((one - wanted) ** 2).mean()) / wanted.mean() for one in (found, as_points))
    assert error < 0.1 * before
    assert before > 0.002


def test_near_and_far_light_are_all_light() -> None:
    lamps = _emitters(3, 60, measured=False)
    points = np.random.default_rng(4).uniform(0.0, 100.0, (300, 3)) * [1.0, 1.0, 0.0] + [0.0, 0.0, 20.0]
    normals = np.tile([0.0, 0.0, -1.0], (300, 1))
    whole, _ = direct_light(points, normals, lamps.arrays)
    near, _ = direct_light(points, normals, lamps.arrays, None, Window(20.0, 40.0, far=False))
    far, _ = direct_light(points, normals, lamps.arrays, None, Window(20.0, 40.0, far=True))
    assert near + far == pytest.approx(whole, rel=1e-5)
    assert 0.1 < near.sum() / whole.sum() < 0.95
    share, _, squared = _plainly(points, normals, lamps)
    inside = squared < 20.0**2
    assert (near >= (share * inside) @ lamps.flux_lm * 0.9999).all()
    assert (near <= (share * (squared < 40.0**2)) @ lamps.flux_lm * 1.0001).all()


def polygon_factor(points: FloatArray, normals: FloatArray, corners: FloatArray) -> FloatArray:
    """Lambert's formula for pairs of a point and a polygon wholly in front of it.

    Parameters
    ----------
    points, normals:
        Shape (n, 3).
    corners:
        Shape (n, k, 3), in order, either way round.
    """
    away = np.ascontiguousarray((corners - points[:, None, :]).transpose(1, 2, 0))
    away /= np.maximum(np.sqrt((away**2).sum(axis=1, keepdims=True)), 1e-12)
    nx, ny, nz = np.ascontiguousarray(normals.T)
    total = np.zeros(len(points))
    for index in range(len(away)):
        (ax, ay, az), (bx, by, bz) = away[index], away[index - 1]
        cx, cy, cz = ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx
        sine = np.sqrt(cx * cx + cy * cy + cz * cz)
        angle = np.arctan2(sine, ax * bx + ay * by + az * bz)
        total += np.where(sine > 1e-12, angle / np.maximum(sine, 1e-12), 1.0) * (cx * nx + cy * ny + cz * nz)
    return np.asarray(np.abs(total) / (2.0 * math.pi))


def test_near_patches_are_polygons_and_all_factors_sum_to_one() -> None:
    mesh = mesh_of(Pieces(surface("box").tiles), 400, math.inf)
    factors = point_factors(mesh.centres, mesh.normals, mesh, (mesh.surface_index, mesh.leg)).whole()
    assert factors.sum(axis=1) == pytest.approx(1.0, abs=1e-5)
    for one in (3, 90, 250):
        away = np.linalg.norm(mesh.centres - mesh.centres[one], axis=1)
        near = np.flatnonzero((away < 3.5 * mesh.widths_mm) & (mesh.surface_index != mesh.surface_index[one]))
        if not len(near):
            continue
        here = np.repeat(mesh.centres[one : one + 1], len(near), axis=0)
        exact = polygon_factor(here, np.repeat(mesh.normals[one : one + 1], len(near), axis=0), mesh.corners[near])
        rows = factors[one, near]
        assert rows / rows.sum() == pytest.approx(exact / exact.sum(), rel=2e-4, abs=1e-7)
    own = mesh.surface_index[:, None] == mesh.surface_index[None, :]
    assert not factors[own].any()  # a flat piece sees nothing of itself


def test_on_a_ball_every_patch_is_seen_by_its_area() -> None:
    shell = surface("sphere").tiles[0]
    assert isinstance(shell, SphereTile)
    mesh = mesh_of(Pieces(surface("sphere").tiles), 1600, math.inf)
    factors = point_factors(mesh.centres, mesh.normals, mesh, (mesh.surface_index, mesh.leg)).whole()
    share = mesh.areas_mm2[mesh.curved] / (4.0 * math.pi * shell.radius_mm**2)  # the rest is a flat back
    seen = factors[np.ix_(mesh.curved, mesh.curved)]
    assert np.abs(seen / share - 1.0).max() < 0.012


@given(st.integers(0, 1000), st.integers(1, 40), st.integers(1, 300))
def test_lobes_are_sums_of_gaussians(seed: int, parts: int, groups: int) -> None:
    rng = np.random.default_rng(seed)

    def ways(*shape: int) -> np.ndarray:
        found = rng.normal(size=(*shape, 3)) * 0.3 + [0.0, 0.0, 1.0]
        return found / np.linalg.norm(found, axis=-1, keepdims=True)

    heading, outward, beams = ways(5, parts), ways(parts), ways(parts, groups)
    weight, upright = rng.random((parts, groups)), (beams * outward[:, None]).sum(axis=2)
    across = ((heading[:, :, None] - beams[None]) ** 2).sum(axis=3)
    across -= ((heading * outward).sum(axis=2)[:, :, None] - upright[None]) ** 2
    wanted = (weight * np.exp(-across / (2.0 * 0.2**2))).sum(axis=2)
    assert lobes(heading, outward, beams, upright, weight, 0.2) == pytest.approx(wanted, rel=1e-3, abs=1e-6)


@pytest.mark.parametrize("places", [1, 40, 3000])
def test_the_nearest_place_is_found(places: int) -> None:
    rng = np.random.default_rng(places)
    points, known = rng.uniform(0.0, 500.0, (4000, 3)), rng.uniform(0.0, 500.0, (places, 3))
    assert nearest2_mm2(points, known) == pytest.approx(cKDTree(known).query(points)[0] ** 2, rel=1e-4, abs=1e-3)


@pytest.mark.parametrize("kind", sorted(CAVITIES))
def test_patches_lie_where_their_pieces_do(kind: str) -> None:
    """Corners and middles against the pieces themselves; areas against many places on each patch."""
    mesh = mesh_of(Pieces(surface(kind).tiles), 400, math.inf)
    share = (np.arange(40) + 0.5) / 40
    along, across = (one.ravel() for one in np.meshgrid(share, share))
    for patch in range(0, mesh.count, 37):
        tile = mesh.tiles[mesh.tile_index[patch]].tile
        low, size = mesh.low_st[patch], mesh.size_st[patch]
        corners = tile.points(low[0] + size[0] * np.array([0, 1, 1, 0]), low[1] + size[1] * np.array([0, 0, 1, 1]))
        assert mesh.corners[patch] == pytest.approx(corners, abs=1e-9)
        longest = max(np.linalg.norm(corners[0] - corners[2]), np.linalg.norm(corners[1] - corners[3]))
        assert mesh.widths_mm[patch] == pytest.approx(longest)
        s, t = low[0] + size[0] * along, low[1] + size[1] * across
        density = tile.density(s, t) * np.ones(len(s))
        assert mesh.areas_mm2[patch] == pytest.approx(float(density.mean() * size.prod()), rel=2e-4)
        middle = [np.array([float((one * density).sum() / density.sum())]) for one in (s, t)]
        assert mesh.centres[patch] == pytest.approx(tile.points(*middle)[0], abs=1e-3 * mesh.widths_mm[patch])
        assert mesh.normals[patch] == pytest.approx(tile.normals(*middle)[0], abs=1e-3)


@given(st.integers(0, 1000), st.integers(1, 300), st.integers(1, 600))
def test_the_nearest_place_is_found_by_looking_at_few(seed: int, places: int, points: int) -> None:
    """Along a line, as pixels are; what cannot be the nearest to any of a block is not looked at."""
    rng = np.random.default_rng(seed)
    line = np.linspace(0.0, 900.0, points)[:, None] * ways(rng) + rng.normal(0.0, 3.0, (points, 3))
    known = rng.uniform(-100.0, 600.0, (places, 3))
    assert nearest2_mm2(line, known) == pytest.approx(cKDTree(known).query(line)[0] ** 2, rel=1e-4, abs=1e-2)


def ways(rng: np.random.Generator) -> np.ndarray:
    way = rng.normal(size=3)
    return np.asarray(way / np.linalg.norm(way))


@given(st.integers(0, 1000), st.integers(1, 30), st.integers(1, 500), st.integers(1, 4))
def test_sums_by_part_are_those_of_numpy(seed: int, parts: int, count: int, columns: int) -> None:
    rng = np.random.default_rng(seed)
    part, weight, values = rng.integers(0, parts, count), rng.random(count), rng.normal(size=(count, columns))
    wanted = np.stack([np.bincount(part, weight * column, parts) for column in values.T], axis=1)
    assert sums_by_part(part, weight, values, parts) == pytest.approx(wanted, rel=1e-12, abs=1e-12)


@pytest.mark.parametrize("part", [-1, 3])
def test_a_part_that_there_is_not_is_refused(part: int) -> None:
    with pytest.raises(IndexError, match="of 3"):
        sums_by_part(np.array([0, part]), np.ones(2), np.ones((2, 1)), 3)


def test_a_long_sum_can_be_stopped() -> None:
    def pause() -> None:
        raise Cancelled

    with pytest.raises(Cancelled):
        direct_light(np.zeros((9, 3)), np.ones((9, 3)), _emitters(1, 5, measured=False).arrays, pause=pause)


def test_sides_of_a_measured_beam_are_at_right_angles() -> None:
    axes = _emitters(5, 30, measured=False).axes
    right, up = sides_of(axes)
    for one, other in ((right, up), (right, axes), (up, axes)):
        assert (one * other).sum(axis=1) == pytest.approx(0.0, abs=1e-12)


@pytest.mark.parametrize("damage", ["missing", "truncated", "older"])
def test_a_library_that_does_not_fit_is_told(damage: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    other = tmp_path / "kernel.lib"
    whole = build.LIBRARY.read_bytes()
    if damage == "truncated":
        other.write_bytes(whole[:3000])
    if damage == "older":
        other.write_bytes(whole[:-64] + b"0" * 64)
    monkeypatch.setattr(library, "LIBRARY", other)
    library.kernel.cache_clear()
    try:
        with pytest.raises(KernelError, match="compiled part of Gauze"):
            library.kernel()
    finally:
        monkeypatch.undo()
        library.kernel.cache_clear()


def test_it_can_be_compiled_anew(tmp_path: Path) -> None:
    build.build(tmp_path / "kernel.lib")
    assert build.is_sealed((tmp_path / "kernel.lib").read_bytes())
    assert [one.name for one in tmp_path.iterdir()] == ["kernel.lib"]


def test_what_holds_arrays_for_the_kernel_goes_to_another_process() -> None:
    lamps = _emitters(2, 9, measured=True)
    mesh = mesh_of(Pieces(surface("tube").tiles), 200, math.inf)
    before = direct_flux(mesh.arrays, lamps.arrays, 4.0, 3)[0]
    there, also = pickle.loads(pickle.dumps((mesh, lamps)))
    assert direct_flux(there.arrays, also.arrays, 4.0, 3)[0] == pytest.approx(before)


def test_what_is_no_number_never_gets_into_the_kernel() -> None:
    lamps = _emitters(4, 5, measured=True)
    broken = replace(lamps, places_mm=np.full((5, 3), np.nan))
    points = np.zeros((3, 3))
    with pytest.raises(FloatingPointError):
        illuminance(points, points + 1.0, broken)
    with pytest.raises(FloatingPointError):
        illuminance(points + np.inf, points + 1.0, lamps)
    with pytest.raises(ValueError, match="columns"):
        illuminance(points, points + 1.0, replace(lamps, flux_lm=np.ones((5, 4))))
