"""Surfaces of cavities: sizes against geometry, charts there and back, what lies inside."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull

from gauze.core.design.cavity import BaffledShape, BoxShape, CavityShape, check_cavity
from gauze.core.errors import DesignError
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import Cavity, frustum
from gauze.core.layout.enclosing import KINDS, Kind, cavity_around
from gauze.core.layout.families.loose import cavity_of, lay_out_loose
from gauze.core.optics.cavity.emitters import Emitters
from gauze.core.optics.kernel.cells import light_past_partitions, partitions_of
from tests.builders import CATALOGUE, CAVITIES, emitter, loose

SHARE = (np.arange(24) + 0.5) / 24
S, T = (grid.ravel() for grid in np.meshgrid(SHARE, SHARE))


def cavity(name: str) -> Cavity:
    shape, place = CAVITIES[name]
    found = cavity_of(loose(shape, emitter(*place)), CATALOGUE)
    assert isinstance(found, Cavity)
    return found


def area(found: Cavity, role: str | None = None) -> float:
    return sum(float(tile.density(S, T).mean()) for tile in found.tiles if role is None or tile.role == role)


def volume(found: Cavity) -> float:
    """By the divergence theorem: a third of the flux of the place vector through the surface, normals inwards."""
    total = 0.0
    for tile in found.tiles:
        outward = -(tile.points(S, T) * tile.normals(S, T)).sum(axis=1)
        total += float((outward * tile.density(S, T)).mean()) / 3.0
    return total


# area of the lids, of all, and the volume, by school geometry
SIZES = {
    "box": (90 * 60, 2 * (90 * 60 + 90 * 25 + 60 * 25), 90 * 60 * 25),
    "round frustum": (
        math.pi * 40**2,
        math.pi * (15**2 + 40**2 + (15 + 40) * math.hypot(25, 40)),
        math.pi * 40 / 3 * (15**2 + 15 * 40 + 40**2),
    ),
    "channel": (90 * 15, 2 * 90 * (15 + 10) + 2 * 150, 90 * 150),
    "half round": (90 * 20, 90 * (20 + math.pi * 10) + math.pi * 100, 90 * math.pi * 50),
    "slit tube": (90 * 30 * math.pi / 3, 90 * 30 * math.pi + 2 * math.pi * 225, 90 * math.pi * 225),
}


@pytest.mark.parametrize("name", SIZES)
def test_areas_and_volumes_are_those_of_geometry(name):
    found = cavity(name)
    lids, whole, inside = SIZES[name]
    assert area(found, "lid") == pytest.approx(lids, rel=2e-3)
    assert area(found) == pytest.approx(whole, rel=1e-2)
    assert volume(found) == pytest.approx(inside, rel=1e-2)  # the ends of what is round are polygons


@pytest.mark.parametrize("name", CAVITIES)
def test_the_surface_is_closed(name):
    """The areas with their directions add up to nothing, or there is a hole."""
    found = cavity(name)
    total = np.zeros(3)
    for tile in found.tiles:
        total += (tile.normals(S, T) * tile.density(S, T)[:, None]).mean(axis=0)
    assert np.abs(total).max() < 4e-3 * area(found)


@pytest.mark.parametrize("name", CAVITIES)
def test_charts_lead_there_and_back(name):
    for tile in cavity(name).lids:
        s, t = tile.locate(*tile.to_chart(S, T))
        assert s == pytest.approx(S, abs=1e-6)
        assert t == pytest.approx(T, abs=1e-6)


@given(
    radii=st.lists(st.floats(5.0, 200.0), min_size=3, max_size=7),
    turn=st.floats(0.0, 6.28),
    stretch=st.floats(0.2, 5.0),
)
def test_every_place_of_a_convex_face_is_found(radii, turn, stretch):
    """The pieces of a polygon are kites, some with corners in line: none of their places may be lost."""
    angle = turn + 2.0 * math.pi * np.arange(len(radii)) / len(radii)
    radii = np.array(radii)
    points = np.stack([radii * np.cos(angle), stretch * radii * np.sin(angle)], axis=1)
    corners = points[ConvexHull(points).vertices]
    lids = [tile for tile in frustum(corners, corners, 10.0) if tile.role == "lid"]
    share = np.random.default_rng(3).dirichlet(np.ones(len(corners)), 300)
    u, v = (share @ corners).T
    found = np.zeros(len(u), bool)
    for tile in lids:
        s, t = tile.locate(u, v)
        mine = (s > -1e-6) & (s < 1 + 1e-6) & (t > -1e-6) & (t < 1 + 1e-6)
        back = np.stack(tile.to_chart(s[mine], t[mine]))
        assert back == pytest.approx(np.stack([u[mine], v[mine]]), abs=1e-6)
        found |= mine
    assert found.all()


def test_a_place_beside_a_piece_is_outside_of_it():
    (lid,) = [tile for tile in cavity("box").tiles if tile.role == "lid"]
    s, t = lid.locate(np.array([-5.0, 45.0, 95.0]), np.array([30.0, 70.0, -10.0]))
    assert (((s < 0) | (s > 1)) | ((t < 0) | (t > 1))).all()


@pytest.mark.parametrize("name", CAVITIES)
def test_normals_look_inwards_and_the_emitter_is_inside(name):
    shape, place = CAVITIES[name]
    found = cavity(name)
    assert found.clearance_mm(np.array([place]))[0] > 0
    for tile in found.tiles:
        points, normals = tile.points(S, T), tile.normals(S, T)
        assert np.linalg.norm(normals, axis=1) == pytest.approx(1.0)
        assert (((np.array(place) - points) * normals).sum(axis=1) > -1e-6).all()
    check_cavity(shape, "build.cavity")


@pytest.mark.parametrize("name", CAVITIES)
def test_an_emitter_outside_is_refused_with_its_place(name):
    shape, place = CAVITIES[name]
    with pytest.raises(DesignError, match="outside of the cavity") as caught:
        lay_out_loose(loose(shape, emitter(*place), emitter(-2000.0, -2000.0, 5.0)), CATALOGUE)
    assert caught.value.field == "build.emitters[1]"


places = st.tuples(st.floats(-200, 200), st.floats(-200, 200), st.floats(1, 60))


def is_too_thin(shape: CavityShape) -> bool:
    """Whether a cavity is too flat or long to be computed, as around a line of emitters within a hair's breadth."""
    try:
        check_cavity(shape, "build.cavity")
    except DesignError as error:
        if "too small compared with" not in str(error):
            raise
        return True
    return False


@given(kind=st.sampled_from(KINDS), where=st.lists(places, min_size=1, max_size=8))
@settings(max_examples=80, deadline=None)
def test_a_cavity_around_emitters_holds_them(kind: Kind, where: list[tuple[float, float, float]]):
    if kind not in ("box", "prism", "frustum", "cup", "sphere", "channel", "tube"):
        where = [(abs(x), abs(y), z) for x, y, z in where]
    if kind in ("channel", "tube"):
        where = [(abs(x), y / 8, z) for x, y, z in where]
    emitters = tuple(emitter(*place) for place in where)
    shape = cavity_around(kind, emitters)
    if is_too_thin(shape) or isinstance(shape, BaffledShape):  # there an emitter may stand in a partition
        return
    lay_out_loose(loose(shape, *emitters), CATALOGUE)


def test_a_box_stands_on_the_origin_or_gives_way_to_a_prism():
    assert isinstance(cavity_around("box", (emitter(10, 10), emitter(30, 10))), BoxShape)
    assert not isinstance(cavity_around("box", (emitter(-10, 10), emitter(30, 10))), BoxShape)


# -- partitions ----------------------------------------------------------------------------------------------------------


def baffled(**changes: float) -> BaffledBox:
    sizes = {"columns": 3, "rows": 2, "pitch_x_mm": 20.0, "pitch_y_mm": 25.0, "depth_mm": 15.0}
    sizes |= {"partition_mm": 1.2, "partition_height_mm": 9.0, "gap_below_mm": 2.0}
    shape = BaffledShape(**(sizes | changes))
    found = cavity_of(loose(shape, emitter(10.0, 10.0)), CATALOGUE)
    assert isinstance(found, BaffledBox)
    return found


def stands_in_the_way(box: BaffledBox, start: np.ndarray, end: np.ndarray) -> bool:
    """Whether any of very many places on the way lies in a partition."""
    way = start + np.linspace(0, 1, 4001)[:, None] * (end - start)
    half = box.partition_mm / 2 - 1e-6
    near = np.abs(way[:, 0] - 20 * np.round(way[:, 0] / 20)) < half
    near |= np.abs(way[:, 1] - 25 * np.round(way[:, 1] / 25)) < half
    return bool((near & (way[:, 2] > box.low_mm + 1e-6) & (way[:, 2] < box.high_mm - 1e-6)).any())


def is_blocked(box: BaffledBox, start: np.ndarray, end: np.ndarray) -> bool:
    """Whether light from one place does not reach a surface at another, though both look at each other."""
    axis = ((end - start) / np.linalg.norm(end - start))[None]
    lamp = Emitters(start[None], axis, np.ones(1), np.ones((1, 1))).arrays
    return not light_past_partitions(end[None], -axis, lamp, None, partitions_of(box)).any()


@given(st.integers(0, 10_000))
@settings(max_examples=150, deadline=None)
def test_lines_of_sight_are_blocked_where_a_partition_stands(seed: int):
    box = baffled()
    start, end = np.random.default_rng(seed).uniform([0.7, 0.7, 0], [59.3, 49.3, 15], (2, 3))
    found = is_blocked(box, start, end)
    wanted = stands_in_the_way(box, start, end)
    if found != wanted:  # a corner that is cut by less than the steps of the slow way
        away = np.array([0.02, 0.02, 0.02])
        around = {stands_in_the_way(box, start + sign * away, end + sign * away) for sign in (-1, 1)}
        assert found in around | {wanted}


def test_partitions_of_full_height_let_nothing_pass():
    box = baffled(gap_below_mm=0.0, partition_height_mm=15.0)
    start = np.array([10.0, 10.0, 5.0])
    assert is_blocked(box, start, np.array([30.0, 10.0, 5.0]))
    assert not is_blocked(box, start, np.array([15.0, 20.0, 14.0]))


def test_an_emitter_in_a_partition_is_refused():
    shape = BaffledShape(
        columns=2,
        rows=1,
        pitch_x_mm=20.0,
        pitch_y_mm=20.0,
        depth_mm=15.0,
        partition_mm=2.0,
        partition_height_mm=15.0,
    )
    with pytest.raises(DesignError, match="outside of the cavity"):
        lay_out_loose(loose(shape, emitter(20.2, 10.0)), CATALOGUE)


def test_an_emitter_at_the_rim_stands_in_a_partition_or_at_the_bare_wall():
    box = baffled(columns=2, rows=1, gap_below_mm=0.0, partition_height_mm=15.0, partition_mm=2.0)
    bare = baffled(columns=2, rows=1, gap_below_mm=0.0, partition_height_mm=15.0, partition_mm=2.0, rim_partition=False)
    places = np.array([[0.5, 10.0, 5.0], [20.2, 10.0, 5.0], [10.0, 0.5, 5.0]])
    assert (box.clearance_mm(places) < 0).all()
    assert bare.clearance_mm(places) == pytest.approx([0.5, -0.8, 0.5])
