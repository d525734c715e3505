"""Mitred frames and paths: sides lit with those beside them, clipped at their mitres, drawn where they are."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.design.channel_bar import (
    ChannelBar,
    Frame,
    bed_height_mm,
    bed_width_mm,
    most_side_by_side,
    path_of,
    turns_deg,
)
from gauze.core.errors import DesignError
from gauze.core.families import lay_out
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.families.channel_bar import ChannelLayout
from gauze.core.layout.placing import in_plan, placed_cavities, turn_of, within
from tests.builders import CATALOGUE
from tests.families import bars, family, frame

points = st.tuples(st.floats(-500, 500), st.floats(-500, 500))


def laid(build: ChannelBar) -> ChannelLayout:
    layout = lay_out(family(build), CATALOGUE)
    assert isinstance(layout, ChannelLayout)
    return layout


def test_a_path_turns_by_what_its_corners_say() -> None:
    square = [(0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0)]
    assert turns_deg(square, closed=True) == pytest.approx([90.0] * 4)
    assert turns_deg(square[::-1], closed=True) == pytest.approx([-90.0] * 4)
    assert turns_deg(square, closed=False) == pytest.approx([0.0, 90.0, 90.0, 0.0])


@given(st.lists(points, min_size=3, max_size=9))
def test_a_closed_path_turns_by_whole_turns(corners: list[tuple[float, float]]) -> None:
    steps = [math.dist(a, b) for a, b in zip(corners, corners[1:] + corners[:1], strict=True)]
    if min(steps) < 1.0:
        return
    whole = sum(turns_deg(corners, closed=True)) / 360.0
    assert whole == pytest.approx(round(whole), abs=1e-6)


@pytest.mark.parametrize("sides", range(3, 13))
def test_a_frame_is_a_closed_path_of_equal_turns(sides: int) -> None:
    corners, closed = path_of(frame(sides, 200.0))
    assert closed
    assert turns_deg(corners, closed=True) == pytest.approx([360.0 / sides] * sides)
    lengths = [math.dist(a, b) for a, b in zip(corners, corners[1:] + corners[:1], strict=True)]
    assert lengths == pytest.approx([lengths[0]] * sides)


def test_light_of_the_neighbours_comes_round_the_corner() -> None:
    """A side's cavity holds the LEDs at the near ends of the sides beside it, where these stand on the plan."""
    layout = laid(frame(4, 317.4))
    unit, instance = layout.cavities[0], layout.instances[0]
    surface = unit.surface
    assert isinstance(surface, Cavity)
    assert surface.legs is not None
    assert surface.legs.count == 3
    assert instance.clip_mm is not None
    own = within(unit.places_mm[:, :2], instance.clip_mm)
    assert own.sum() == layout.strips[0].emitters
    assert np.array_equal(surface.leg_of(unit.places_mm) == surface.legs.own, own)
    assert unit.surface.clearance_mm(unit.places_mm).min() > 0
    everywhere = np.concatenate(
        [np.array(run.start_mm)[:2] + run.along_mm()[:, None] * np.array(run.along)[:2] for run in layout.strips]
    )
    for place in in_plan(instance, unit.places_mm[~own, :2]):
        assert np.hypot(*(everywhere - place).T).min() < 1e-4


@pytest.mark.parametrize("turn_deg", [-120.0, -45.0, 30.0, 90.0])
@pytest.mark.parametrize(
    "section", [{"section": "rectangle"}, {"section": "u", "depth_mm": 24.0}, {"lens_rise_mm": 5.0}]
)
def test_a_mitred_cavity_is_closed(turn_deg: float, section: dict[str, object]) -> None:
    """The areas of a closed surface, each times its normal, sum to nothing; its mitres bring no gap into it."""
    build = bars(**{"bars": (), "corners_mm": _corner(turn_deg), "width_mm": 20.0, "depth_mm": 12.0, **section})
    surface = laid(build).cavities[0].surface
    assert isinstance(surface, Cavity)
    share = (np.arange(40) + 0.5) / 40
    s, t = (grid.ravel() for grid in np.meshgrid(share, share))
    whole = np.zeros(3)
    for tile in surface.tiles:
        whole += (tile.normals(s, t) * tile.density(s, t)[:, None]).mean(axis=0)
    area = sum(tile.density(s, t).mean() for tile in surface.tiles)
    assert np.abs(whole).max() < 1e-3 * area
    for tile in surface.lids:
        assert np.array(tile.locate(*tile.to_chart(s, t))) == pytest.approx(np.array([s, t]), abs=1e-9)


def _corner(turn_deg: float) -> tuple[tuple[float, float], ...]:
    turn = math.radians(turn_deg)
    return (0.0, 0.0), (150.0, 0.0), (150.0 + 150.0 * math.cos(turn), 150.0 * math.sin(turn))


def test_an_open_path_ends_with_a_wall() -> None:
    layout = laid(bars(bars=(), corners_mm=((0.0, 0.0), (150.0, 0.0), (150.0, 120.0))))
    first, last = layout.instances[0], layout.instances[-1]
    assert first.clip_mm is not None
    assert last.clip_mm is not None
    unit = layout.cavities[first.cavity]
    assert first.clip_mm[[0, 3], 0] == pytest.approx([0.0, 0.0])  # nothing ahead of an open end
    assert last.clip_mm[[1, 2], 0] == pytest.approx([layout.cavities[last.cavity].surface.plan[1, 0]] * 2)
    assert unit.places_mm[:, 0].min() > 0
    assert len(layout.corners) == 1
    assert layout.corners[0].turn_deg == pytest.approx(90.0)


def test_the_sides_meet_at_their_mitres() -> None:
    layout = laid(frame(5, 150.0))
    clips = [in_plan(instance, instance.clip_mm) for instance in layout.instances if instance.clip_mm is not None]
    for index, clip in enumerate(clips):
        following = clips[(index + 1) % len(clips)]
        assert clip[1] == pytest.approx(following[0], abs=1e-6)  # outer ends of the mitre
        assert clip[2] == pytest.approx(following[3], abs=1e-6)  # inner ends


def test_every_led_of_a_frame_is_drawn_once_on_its_own_side() -> None:
    layout = laid(frame(6, 160.0))
    placed = placed_cavities(layout)
    assert sum(unit.emitter_count for unit in placed) == sum(run.emitters for run in layout.strips)
    from_runs = np.concatenate(
        [np.array(run.start_mm)[:2] + run.along_mm()[:, None] * np.array(run.along)[:2] for run in layout.strips]
    )
    from_units = np.concatenate([unit.places_mm[:, :2] for unit in placed])
    assert np.sort(from_units.round(4), axis=0) == pytest.approx(np.sort(from_runs.round(4), axis=0), abs=1e-3)


@given(points, st.floats(-360, 360))
def test_an_instance_turns_its_unit_and_back(place: tuple[float, float], turn_deg: float) -> None:
    layout = laid(frame(4, 160.0))
    instance = layout.instances[0].__class__(0, *place, turn_deg)
    corners = np.array([[0.0, 0.0], [10.0, 0.0], [0.0, 5.0]])
    moved = in_plan(instance, corners)
    assert np.hypot(*(moved[1] - moved[0])) == pytest.approx(10.0)
    back = (moved - np.array(place)) @ turn_of(instance)[:2, :2]
    assert back == pytest.approx(corners, abs=1e-9)


def test_what_lies_in_a_polygon() -> None:
    square = np.array([[0.0, 0.0], [2.0, 0.0], [2.0, 2.0], [0.0, 2.0]])
    found = within(np.array([[1.0, 1.0], [2.0, 1.0], [2.1, 1.0], [-0.1, 1.0]]), square)
    assert found.tolist() == [True, True, False, False]


# -- the bed -------------------------------------------------------------------------------------------------------------


def test_strips_lie_side_by_side_in_the_middle_of_the_bed() -> None:
    layout = laid(bars(width_mm=30.0, side_by_side=3))
    lanes = sorted({run.start_mm[1] for run in layout.strips})
    assert lanes == pytest.approx([-8.0, 0.0, 8.0])
    assert len(layout.strips) == 3


def test_in_a_round_bottom_a_strip_lies_where_its_edges_touch() -> None:
    round_ = bars(section="u", width_mm=20.0, depth_mm=16.0)
    height = bed_height_mm(round_, 8.0)
    assert height == pytest.approx(10.0 - math.sqrt(100.0 - 16.0))
    assert laid(round_).strips[0].start_mm[2] == pytest.approx(height + 1.5)
    assert bed_width_mm(round_) < 20.0


@pytest.mark.parametrize(("bed", "fits"), [(9.0, 1), (17.0, 2), (7.0, 0)])
def test_a_v_takes_what_its_bed_takes(bed: float, fits: int) -> None:
    build = bars(section="v", width_mm=30.0, depth_mm=12.0, bed_mm=bed)
    assert most_side_by_side(build, CATALOGUE.strip("24v-white-120")) == fits
    if fits:
        laid(build)
    else:
        with pytest.raises(DesignError, match="does not fit"):
            laid(build)


def test_a_gap_at_the_corners_shortens_the_strips() -> None:
    full, short = laid(frame(4, 317.4)), laid(frame(4, 317.4, corner_gap_mm=20.0))
    assert short.strips[0].segments == full.strips[0].segments - 1
    assert short.corners[0].between_leds_mm > full.corners[0].between_leds_mm
    with pytest.raises(DesignError, match="leave no length"):
        laid(frame(4, 120.0, corner_gap_mm=70.0))


def test_a_frame_of_another_size_by_hand_is_the_frame_typed() -> None:
    layout = laid(frame(6, 200.0))
    handle = next(one for one in layout.sketch.handles if one.field == "build.frame.size_mm")
    grown = laid(frame(6, 200.0 + handle.gain * 5.0))
    middle = layout.sketch.plan_mm[0] + layout.sketch.plan_mm[2] / 2
    right = grown.sketch.plan_mm[0] + grown.sketch.plan_mm[2] - middle
    before = layout.sketch.plan_mm[2] / 2
    # a hexagon that stands on a side reaches farther to its corners than to its flats: the hand has hold of the corner's side
    assert right - before == pytest.approx(5.0 / math.cos(math.pi / 6), rel=1e-3)


def test_profiles_of_the_catalogue_stand_with_a_strip_that_fits() -> None:
    for profile in CATALOGUE.profiles.values():
        build = bars(
            section=profile.section,
            width_mm=profile.width_mm,
            depth_mm=profile.depth_mm,
            bed_mm=profile.bed_mm,
            lens_rise_mm=profile.lens_rise_mm,
            wall_mm=profile.wall_mm,
        )
        laid(build)
        assert profile.source.startswith("typical")


def test_frames_are_sized_by_the_inner_edge_too() -> None:
    inner = laid(bars(bars=(), frame=Frame(sides=4, size_mm=300.0, edge="inner")))
    outer = laid(bars(bars=(), frame=Frame(sides=4, size_mm=300.0 + 2 * 17.4, edge="outer")))
    assert inner.sketch.plan_mm == pytest.approx(outer.sketch.plan_mm)


@given(
    corners=st.integers(3, 7),
    turn=st.floats(0.0, 6.0),
    points=st.lists(st.tuples(st.floats(-60.0, 60.0), st.floats(-60.0, 60.0)), max_size=30),
    twice=st.booleans(),
)
def test_what_lies_in_a_polygon_is_to_the_left_of_all_its_sides(
    corners: int, turn: float, points: list[tuple[float, float]], twice: bool
) -> None:
    angle = turn + np.arange(corners) * 2 * math.pi / corners
    polygon = np.stack([50.0 * np.cos(angle), 30.0 * np.sin(angle)], axis=1)
    if twice:  # a corner that is there twice is no side
        polygon = np.concatenate([polygon, polygon[-1:]])
    asked = np.array([*points, *polygon.tolist(), [0.0, 0.0]])
    ends = np.roll(polygon, -1, axis=0)
    to_the_left = np.array(
        [
            (end[0] - start[0]) * (asked[:, 1] - start[1]) - (end[1] - start[1]) * (asked[:, 0] - start[0])
            for start, end in zip(polygon, ends, strict=True)
            if (start != end).any()
        ]
    )
    found = within(asked, polygon)
    assert (found <= (to_the_left >= -1e-4).all(axis=0)).all()
    assert (found >= (to_the_left > 1e-4).all(axis=0)).all()
    assert found[-1 - len(polygon) :].all()  # its corners and its middle
