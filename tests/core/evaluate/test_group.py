"""Several bodies as one build: seen from the front, lighting a target, adding up."""

import math
from dataclasses import replace
from typing import Literal

import numpy as np
import pytest
from scipy.ndimage import binary_fill_holes

from gauze.core.design.build import FamilyBuild
from gauze.core.design.channel_bar import Bar
from gauze.core.design.tile_wall import Tile
from gauze.core.evaluate import WHILE_DRAGGING, Detail, Evaluation, GroupFaceLight, evaluate
from gauze.core.evaluate.profile import profile_at
from gauze.core.optics.cavity.outlook import illuminance_at, intensity_towards, parts_of
from gauze.core.optics.target import TargetPlane
from tests.builders import CATALOGUE
from tests.families import bars, family, frame, shells, tiles

QUICK = Detail(fineness=0.5, most_pixels=16_000, target_points=3)


def lit(build: FamilyBuild, **purpose: object) -> Evaluation:
    found = evaluate(family(build, **purpose), CATALOGUE, QUICK)
    assert isinstance(found.light, GroupFaceLight)
    return found


def pair(gap_mm: float = 0.0) -> tuple[Tile, Tile]:
    return Tile(sides=4, x_mm=0.0, y_mm=0.0), Tile(sides=4, x_mm=90.0 + gap_mm, y_mm=0.0)


def test_the_map_is_as_large_as_the_bodies_are() -> None:
    found = lit(tiles(Tile(sides=6, x_mm=0.0, y_mm=0.0)))
    step = float(found.x_mm[1] - found.x_mm[0])
    area = found.inside.sum() * step * float(found.y_mm[1] - found.y_mm[0])
    inner = 90.0 * math.sqrt(3) / 2 - 1.6  # apothem of the inside
    assert area == pytest.approx(2 * math.sqrt(3) * inner**2, rel=0.05)
    assert found.opening_mm[2] == 0.0


@pytest.mark.parametrize("sides", [3, 4, 6])
def test_the_face_of_a_tile_has_no_holes(sides: Literal[3, 4, 6]) -> None:
    for turn_deg in (0.0, 17.0):
        found = lit(tiles(Tile(sides=sides, x_mm=0.0, y_mm=0.0, turn_deg=turn_deg)))
        assert np.array_equal(binary_fill_holes(found.inside), found.inside)


def test_bars_are_seen_where_they_lie_and_gaps_are_dark() -> None:
    found = lit(bars(bars=(Bar(length_mm=100.0, gap_after_mm=50.0), Bar(length_mm=100.0))))
    row = found.luminance_cd_m2[found.luminance_cd_m2.shape[0] // 2]
    for x_mm, is_lit in ((50.0, True), (125.0, False), (200.0, True)):
        assert (row[int(np.abs(found.x_mm - x_mm).argmin())] > 0) == is_lit


def test_a_zone_that_is_off_is_seen_dark() -> None:
    both = (Bar(length_mm=100.0, zone=1), Bar(length_mm=100.0, zone=2))
    on, off = lit(bars(bars=both)), lit(bars(bars=both, dark_zones=(2,)))
    assert off.output.emitted_lm == pytest.approx(on.output.emitted_lm / 2)
    assert off.luminance_at(150.0, 0.0) == 0.0
    assert off.luminance_at(50.0, 0.0) > 0
    assert [need.label_w for need in off.supplies] == pytest.approx([need.label_w for need in on.supplies])


def test_balls_are_seen_as_discs() -> None:
    found = lit(shells(columns=1, rows=1))
    step = float(found.x_mm[1] - found.x_mm[0])
    area = found.inside.sum() * step * float(found.y_mm[1] - found.y_mm[0])
    assert area == pytest.approx(math.pi * 25.0**2, rel=0.08)
    assert found.opening_mm[2] > 20.0


def test_the_luminance_of_a_body_does_not_depend_on_where_it_stands() -> None:
    here, there = lit(tiles(Tile(sides=3, x_mm=0.0, y_mm=0.0))), lit(tiles(Tile(sides=3, x_mm=370.0, y_mm=-90.0)))
    assert there.evenness.mean_cd_m2 == pytest.approx(here.evenness.mean_cd_m2)
    assert there.evenness.min_over_mean == pytest.approx(here.evenness.min_over_mean)
    assert there.x_mm.mean() - here.x_mm.mean() == pytest.approx(370.0)
    assert there.target_lx == pytest.approx(here.target_lx, rel=1e-6)  # straight in front of its own middle


def test_evenness_is_of_the_faces_and_not_of_the_gaps() -> None:
    close, apart = (
        lit(bars(bars=(Bar(length_mm=150.0),))),
        lit(bars(bars=(Bar(length_mm=150.0, gap_after_mm=200.0),) * 2)),
    )
    assert apart.evenness.min_over_mean == pytest.approx(close.evenness.min_over_mean)
    assert apart.evenness.mean_cd_m2 == pytest.approx(close.evenness.mean_cd_m2)


def test_light_at_the_target_is_that_of_all_bodies() -> None:
    """Two tiles far off: twice one; the same by the inverse-square law of each one's intensity."""
    both = lit(tiles(*pair()), target_distance_mm=8000.0)
    straight = both.intensity_cd(np.array([0.0]), np.array([0.0]))[0, 0]
    assert both.target_lx == pytest.approx(straight / 8.0**2, rel=0.01)


def test_a_part_of_a_face_lights_as_much_as_it_gives() -> None:
    found = lit(tiles(Tile(sides=4, x_mm=0.0, y_mm=0.0)))
    face = found.light.faces[0]
    left = face.chart.places_mm[:, 0] < 0
    place, facing = np.array([[0.0, 0.0, 3000.0]]), np.array([0.0, 0.0, -1.0])
    whole, half, other = (
        float(illuminance_at(face, parts_of(face, 200, seen), place, facing)[0]) for seen in (None, left, ~left)
    )
    assert half + other == pytest.approx(whole, rel=0.01)
    up = np.array([[0.0, 0.0, 1.0]])
    assert intensity_towards(face, parts_of(face, 200, left), up)[0] == pytest.approx(
        intensity_towards(face, parts_of(face, 200), up)[0] / 2, rel=0.05
    )


def test_a_grid_over_the_target_is_where_the_target_is() -> None:
    plane = TargetPlane(1000.0, offset_x_mm=50.0, turn_deg=90.0, width_mm=200.0, height_mm=100.0)
    right, up, places, normal = plane.grid(3)
    assert right == pytest.approx([-100.0, 0.0, 100.0])
    assert up == pytest.approx([-50.0, 0.0, 50.0])
    assert places[4] == pytest.approx([50.0, 0.0, 1000.0])
    assert places[5] == pytest.approx([50.0, 0.0, 900.0])  # turned by a right angle, its right edge is nearer
    assert normal == pytest.approx([-1.0, 0.0, 0.0], abs=1e-9)
    assert plane.grid(1)[2] == pytest.approx(np.array([[50.0, 0.0, 1000.0]]))


def test_the_profile_runs_through_what_is_lit() -> None:
    found = lit(bars(bars=(Bar(length_mm=150.0),)))
    profile = profile_at(found, 0.0)
    assert profile is not None
    assert profile.luminance.max() <= found.evenness.max_cd_m2 * 1.001
    assert profile_at(lit(frame(6, 300.0)), 0.0) is not None
    assert (
        profile_at(lit(shells(columns=2, rows=2, pitch_y_mm=400.0)), 200.0) is None
    )  # between the rows there is no face


def test_channels_of_all_bodies_are_one() -> None:
    found = lit(tiles(*pair()))
    assert [channel.name for channel in found.channels] == ["red", "green", "blue"]
    assert sum(channel.flux_lm for channel in found.channels) == pytest.approx(found.output.emitted_lm)
    assert found.light.reflectances[0] == pytest.approx(0.85)
    assert found.illuminance_lx.shape == found.luminance_cd_m2.shape


def test_under_the_hand_what_is_alike_stands_where_it_stands_at_rest_to_a_pixel() -> None:
    """Looked up once and moved by whole pixels; one that reaches over the rim of the map is cut there."""
    design = family(shells())
    moving, still = (evaluate(design, CATALOGUE, replace(WHILE_DRAGGING, in_motion=hand)) for hand in (True, False))
    assert moving.inside.sum() == pytest.approx(still.inside.sum() * moving.inside.size / still.inside.size, rel=0.05)
    assert moving.xyz[1][moving.inside].mean() == pytest.approx(still.xyz[1][still.inside].mean(), rel=0.03)
    x, y = moving.x_mm[np.nonzero(moving.inside)[1]], moving.y_mm[np.nonzero(moving.inside)[0]]
    at_rest = still.x_mm[np.nonzero(still.inside)[1]], still.y_mm[np.nonzero(still.inside)[0]]
    step = float(moving.x_mm[1] - moving.x_mm[0])
    for ours, theirs in ((x, at_rest[0]), (y, at_rest[1])):
        assert ours.mean() == pytest.approx(theirs.mean(), abs=step)
        assert ours.min() == pytest.approx(theirs.min(), abs=2 * step)
        assert ours.max() == pytest.approx(theirs.max(), abs=2 * step)
