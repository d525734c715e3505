"""Parts: every family states them, they hold together, and their ids stay."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given

from gauze.core.design import Design
from gauze.core.design.cavity import BaffledShape, BoxShape
from gauze.core.design.channel_bar import ChannelBar
from gauze.core.design.fields import with_field
from gauze.core.design.strip_panel import FreeBand
from gauze.core.design.tile_wall import Tile, TileWall
from gauze.core.errors import DesignError
from gauze.core.families import lay_out, parts_of
from gauze.core.formats.design_file import decode_design
from gauze.core.layout import Layout, ModulePiece, PanelLayout, StripPiece
from gauze.core.layout.sketch import MovableItem
from gauze.core.materials import load_catalogue
from gauze.core.parts import Parts
from gauze.core.parts.bodies import rolled_cone
from gauze.core.parts.families.tile_wall import wall_at
from gauze.core.parts.joining import BUS, CONTROLLER
from gauze.core.parts.pads import pads_of
from gauze.demo import DEMOS, Demo
from gauze.session.build_edits import item_edits, with_choice_at
from tests.builders import CATALOGUE, CAVITIES, design, emitter, loose_design
from tests.families import FAMILIES, PIXELS, WHITE, bars, builds, cells, family, frame, shells, tiles

LOOSE = loose_design(
    BoxShape(width_mm=90.0, height_mm=60.0, depth_mm=25.0), *(emitter(10.0 * place, 20.0) for place in range(1, 6))
)
DESIGNS = {name: family(build) for name, build in FAMILIES.items()} | {
    "panel": design(),
    "panel of double rows": design(double_rows=True),
    "loose": LOOSE,
}


def parts(what: Design) -> Parts:
    return parts_of(what, lay_out(what, CATALOGUE), CATALOGUE)


def hold_together(what: Design) -> None:
    """Ids differ; joints join what is there, through holes that are there; every LED is on a piece."""
    layout = lay_out(what, CATALOGUE)
    found = parts_of(what, layout, CATALOGUE)
    ids = list(found.ids())
    assert len(set(ids)) == len(ids)
    holes = {
        f"{place}/{hole.id}"
        for part in found.body
        for hole in part.holes
        for place in (part.id, *hole.only, *part.places)
    }
    known = {*ids, BUS, CONTROLLER}
    for joint in found.joints:
        assert {joint.first, joint.second} <= known
        assert not joint.through or any(hole.startswith(joint.through) for hole in holes), joint.through
    fed = {joint.second for joint in found.joints if joint.kind == "supply"}
    assert fed == {piece.id for piece in found.pieces}
    if isinstance(layout, Layout) and not found.pieces:
        assert len(found.emitter_numbers) == layout.emitter_count
    for part in found.body:
        assert part.length_mm > 0
        assert part.width_mm > 0
        if part.outline_mm is not None:
            low, high = part.outline_mm.min(axis=0), part.outline_mm.max(axis=0)
            for hole in part.holes:
                assert (low - 1e-6 <= [hole.x_mm, hole.y_mm]).all()
                assert ([hole.x_mm, hole.y_mm] <= high + 1e-6).all()


@pytest.mark.parametrize("name", sorted(DESIGNS))
def test_the_parts_of_every_family_hold_together(name: str) -> None:
    hold_together(DESIGNS[name])


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.key)
def test_the_parts_of_every_demo_hold_together(demo: Demo) -> None:
    hold_together(decode_design(demo.read(), CATALOGUE))


@given(builds())
def test_the_parts_of_any_build_hold_together(build: object) -> None:
    try:
        lay_out(family(build), CATALOGUE)
    except DesignError:
        return
    hold_together(family(build))


@pytest.mark.parametrize("name", sorted(set(CAVITIES) - {"open wall", "open corner"}))
def test_every_shape_about_loose_emitters_has_a_body(name: str) -> None:
    shape, place = CAVITIES[name]
    hold_together(loose_design(shape, emitter(*place)))
    found = parts(loose_design(shape, emitter(*place)))
    assert any(part.use == "diffuser" for part in found.body)
    assert list(found.emitter_numbers) == [1]


def test_cells_about_loose_emitters_have_partitions() -> None:
    grid = BaffledShape(
        columns=3, rows=2, pitch_x_mm=30, pitch_y_mm=30, depth_mm=30, partition_mm=1, partition_height_mm=25
    )
    assert sum(part.kind == "partition" for part in parts(loose_design(grid, emitter(15.0, 15.0))).body) == 3


@pytest.mark.parametrize("name", ["open wall", "open corner"])
def test_of_a_room_nothing_is_built(name: str) -> None:
    shape, place = CAVITIES[name]
    assert parts(loose_design(shape, emitter(*place))).body == ()


# -- emitters know their pieces -------------------------------------------------------------------------------------------


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_every_emitter_lies_on_its_segment_of_its_piece(name: str) -> None:
    """An emitter's place along its piece lies between the cut marks of the segment that it is said to be of."""
    layout = lay_out(family(FAMILIES[name]), CATALOGUE)
    assert isinstance(layout, Layout)
    pieces = {piece.id: piece for piece in layout.pieces}
    for instance in layout.instances or (None,):
        unit = layout.cavities[0 if instance is None else instance.cavity]
        assert unit.piece is not None
        assert unit.segment is not None
        here = [(piece.id, 0) for piece in layout.pieces] if instance is None else list(instance.pieces)
        assert set(unit.piece.tolist()) == set(range(len(here)))
        for index, (piece_id, first) in enumerate(here):
            piece, mine = pieces[piece_id], unit.piece == index
            if isinstance(piece, ModulePiece):
                assert set(unit.segment[mine].tolist()) == set(range(piece.module.emitters))
                continue
            segment = unit.segment[mine] + first
            assert segment.min() >= 0
            assert segment.max() < piece.segments
            if instance is None:  # in the frame of the build itself
                along = (unit.places_mm[mine] - piece.start_mm) @ np.array(piece.along)
                assert (np.floor(along / piece.strip.segment_mm) == segment).all()


def test_a_neighbours_light_round_a_mitre_is_told_as_its_own() -> None:
    """The cavity of a side holds the near ends of the sides beside it, under their names and segments."""
    layout = lay_out(family(frame(4, 400.0)), CATALOGUE)
    assert isinstance(layout, Layout)
    first = layout.instances[0]
    names = dict(first.pieces)
    assert set(names) == {"side-1/strip-1", "side-2/strip-1", "side-4/strip-1"}
    length = next(piece.segments for piece in layout.strips if piece.id == "side-4/strip-1")
    assert names["side-1/strip-1"] == 0
    assert names["side-2/strip-1"] == 0  # it begins at the corner
    assert 0 < names["side-4/strip-1"] < length  # only its last segments are near


def test_rows_of_a_panel_know_their_emitters() -> None:
    layout = lay_out(design(), CATALOGUE)
    assert isinstance(layout, PanelLayout)
    for emitters in layout.panel.emitters:
        for row in layout.panel.rows:
            along = emitters.x_mm[emitters.piece == row.index] - row.start_mm
            assert (np.floor(along / row.strip.segment_mm) == emitters.segment[emitters.piece == row.index]).all()


# -- ids stay ------------------------------------------------------------------------------------------------------------


def places(what: Design) -> dict[str, tuple[float, ...]]:
    found = {}
    for piece in parts(what).pieces:
        place = piece.start_mm if isinstance(piece, StripPiece) else piece.place_mm
        found[piece.id] = tuple(round(value, 4) for value in place)
    return found


@pytest.mark.parametrize("name", sorted(DESIGNS))
def test_depth_and_finish_concern_no_id(name: str) -> None:
    what = DESIGNS[name]
    changed = with_choice_at(what, "build.walls", 0.5)
    for field in ("build.depth_mm", "build.diameter_mm"):
        if hasattr(what.build, field.removeprefix("build.")):
            changed = with_field(changed, field, getattr(what.build, field.removeprefix("build.")) + 2.0)
    assert list(parts(changed).ids()) == list(parts(what).ids())


def test_row_6_stays_row_6_when_row_3_makes_way() -> None:
    before = places(design())
    free = before["row-3"][1] - 2.0
    after = places(design(free=(FreeBand(start_mm=free, width_mm=4.0),)))
    assert set(before) - set(after) == {"row-3"}
    assert after == {name: place for name, place in before.items() if name != "row-3"}


def _tile(index: int) -> MovableItem:
    return MovableItem("tile", index, "", 0.0, 0.0, np.zeros((0, 2)))


def _edited(what: Design, item: MovableItem, words: str) -> Design:
    return next(change for name, change in item_edits(what, item) if str(name) == words)(what)


def test_tiles_keep_their_numbers_when_another_is_removed_or_added() -> None:
    square = [Tile(sides=4, x_mm=90.0 * column, y_mm=90.0 * row) for row in range(2) for column in range(2)]
    wall = family(tiles(*square))
    before = places(wall)
    fewer = _edited(wall, _tile(1), "Remove tile")
    after = places(fewer)
    assert after == {name: place for name, place in before.items() if not name.startswith("tile-2/")}
    more = _edited(fewer, _tile(0), "Add square beside")
    assert {name.split("/")[0] for name in places(more)} == {"tile-1", "tile-3", "tile-4", "tile-5"}
    assert isinstance(more.build, TileWall)
    assert more.build.numbers == (1, 3, 4, 5)
    assert str(list(lay_out(more, CATALOGUE).sketch.movable_items)[1].name) == "tile 3, square"


def test_the_chain_begins_at_the_tile_where_it_did() -> None:
    square = [Tile(sides=4, x_mm=90.0 * column, y_mm=0.0) for column in range(4)]
    wall = family(tiles(*square, first=3))
    fewer = _edited(wall, _tile(0), "Remove tile")
    assert isinstance(fewer.build, TileWall)
    assert fewer.build.tile_numbers[fewer.build.first] == 4


def test_sides_keep_their_numbers_when_a_corner_is_put_in() -> None:
    path = family(bars(bars=(), corners_mm=((0.0, 0.0), (300.0, 0.0), (300.0, 300.0), (600.0, 300.0))))
    before = places(path)
    corner = MovableItem("corner", 0, "", 0.0, 0.0, np.zeros((0, 2)))
    after = places(_edited(path, corner, "Insert corner"))
    assert set(after) - set(before) == {"side-5/strip-1"}
    assert after["side-3/strip-1"] == before["side-3/strip-1"]
    removed = _edited(
        _edited(path, corner, "Insert corner"),
        MovableItem("corner", 1, "", 0.0, 0.0, np.zeros((0, 2))),
        "Remove corner",
    )
    assert removed == path


def test_pushing_a_closed_path_out_numbers_the_new_corner_last() -> None:
    path = family(bars(bars=(), closed=True, corners_mm=((0.0, 0.0), (900.0, 0.0), (600.0, 300.0))))
    more = with_choice_at(path, "build.corners_mm", 4)
    assert isinstance(more.build, ChannelBar)
    assert len(more.build.corners_mm) == 4
    assert sorted(more.build.numbers) == [1, 2, 3, 4]


def test_shells_are_known_by_column_and_row() -> None:
    before, after = places(family(shells())), places(family(shells(columns=5, rows=3)))
    assert set(before) < set(after)
    assert all(after[name] == place for name, place in before.items())


def test_emitters_keep_their_numbers() -> None:
    what = LOOSE
    second = MovableItem("emitter", 1, "", 0.0, 0.0, np.zeros((0, 2)))
    fewer = _edited(what, second, "Remove emitter")
    count = len(what.loose.emitters)
    assert tuple(parts(fewer).emitter_numbers) == tuple(number for number in range(1, count + 1) if number != 2)


def test_a_number_given_twice_is_refused_with_its_place() -> None:
    with pytest.raises(DesignError, match="2 is invalid") as refused:
        parts(family(bars(bars=FAMILIES["bars"].bars, numbers=(2, 2))))
    assert refused.value.field == "build.numbers"


# -- sizes, by closed forms -----------------------------------------------------------------------------------------------


def test_the_sheet_of_a_funnel_has_the_area_of_its_flank() -> None:
    """Lateral area of a frustum of a cone: pi (r + R) s."""
    for r, big, depth in ((23.0, 55.0, 50.0), (55.0, 23.0, 50.0), (30.0, 30.0, 50.0)):
        x, y = rolled_cone(r, big, depth).T
        area = 0.5 * abs(float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y)))
        slant = math.hypot(depth, big - r)
        assert area == pytest.approx(math.pi * (r + big) * slant, rel=1e-3)


def test_a_mitred_hexagon_takes_six_sides_of_its_outer_edge() -> None:
    """A regular hexagon of outer side a, cut at 30 degrees: six pieces of length a."""
    profiles = [part for part in parts(family(frame(6, 400.0))).body if part.kind == "profile"]
    assert [part.length_mm for part in profiles] == pytest.approx([400.0] * 6)
    assert {(round(part.start_cut_deg, 9), round(part.end_cut_deg, 9)) for part in profiles} == {(30.0, 30.0)}
    lenses = [part for part in parts(family(frame(6, 400.0))).body if part.kind == "lens"]
    assert lenses[0].length_mm == pytest.approx(400.0 - 2 * 1.2 * math.tan(math.radians(30)))


def test_a_path_that_turns_right_has_its_longer_edge_on_the_left() -> None:
    path = bars(bars=(), corners_mm=((0.0, 0.0), (300.0, 0.0), (300.0, -300.0)))
    profiles = [part for part in parts(family(path)).body if part.kind == "profile"]
    assert (profiles[0].start_cut_deg, profiles[0].end_cut_deg) == pytest.approx((0.0, -45.0))
    assert profiles[0].length_mm == pytest.approx(300.0 + 17.4 / 2)


def test_the_walls_of_a_hexagon_close_round_it() -> None:
    """Walls of thickness t about an inner hexagon: outer edge as long as the tile's side, ends cut at 30 degrees."""
    walls = [part for part in parts(family(tiles())).body if part.use == "wall"]
    assert len(walls) == 6
    assert [wall.length_mm for wall in walls] == pytest.approx([90.0] * 6)
    assert {round(wall.start_cut_deg, 9) for wall in walls} == {30.0}


def test_partitions_are_halved_into_each_other() -> None:
    found = [part for part in parts(family(cells())).body if part.kind == "partition"]
    assert len(found) == 3 + 2
    for part in found:
        for groove in part.grooves:
            assert abs(groove.end_mm[1] - groove.start_mm[1]) == pytest.approx(part.width_mm / 2)
    across, along = found[0], found[-1]
    assert {groove.start_mm[1] for groove in across.grooves} == {0.0}  # from below, the others from above
    assert {groove.end_mm[1] for groove in along.grooves} == {along.width_mm}


def test_links_have_windows_in_both_walls_that_face_each_other() -> None:
    wall = tiles(*(Tile(sides=4, x_mm=90.0 * column, y_mm=0.0) for column in range(3)))
    walls = {part.id: part for part in parts(family(wall)).body if part.use == "wall"}
    assert walls["square-wall-right"].holes[0].only == ("tile-1", "tile-2")
    assert walls["square-wall-left"].holes[0].only in {("tile-2", "tile-3"), ("tile-3", "tile-2")}
    assert not walls["square-wall-top"].holes
    hole = walls["square-wall-right"].holes[0]
    assert (hole.width_mm, hole.height_mm) == (wall.link_wide_mm, wall.link_high_mm)


def test_the_wall_towards_a_place_is_found_whatever_the_turn() -> None:
    layout = lay_out(family(tiles(Tile(sides=6, x_mm=10.0, y_mm=5.0, turn_deg=60.0))), CATALOGUE)
    assert isinstance(layout, Layout)
    tile = layout.instances[0]
    for wall in range(6):
        angle = math.radians(-90.0 + 60.0 + 60.0 * wall)
        assert wall_at(6, tile, 10.0 + math.cos(angle), 5.0 + math.sin(angle)) == wall


# -- what is joined to what --------------------------------------------------------------------------------------------------


def test_pads_carry_data_one_way() -> None:
    pixel = next(piece for piece in parts(family(tiles())).pieces)
    assert pads_of(pixel, "start")[1] == "data in"
    assert pads_of(pixel, "end")[1] == "data out"
    white = next(piece for piece in parts(design()).pieces)
    assert pads_of(white, "start") == pads_of(white, "end") == ("+", "\N{MINUS SIGN}")
    assert load_catalogue().strip(PIXELS[0].strip).kind == "pixel"
    assert load_catalogue().strip(WHITE[0].strip).kind == "analog"


def test_the_rows_of_a_panel_hang_on_one_bus_and_a_string_is_a_chain() -> None:
    rows = [joint for joint in parts(design()).joints if joint.kind == "supply"]
    assert {joint.first for joint in rows} == {BUS}
    cord = [joint for joint in parts(family(shells())).joints if joint.kind == "supply"]
    assert [joint.first for joint in cord] == [BUS, *(joint.second for joint in cord[:-1])]


def test_the_data_of_grids_go_back_and_forth() -> None:
    wide = family(FAMILIES["grids"])
    wide = with_choice_at(with_choice_at(wide, "build.columns", 24), "build.rows", 16)
    data = [joint.second for joint in parts(wide).joints if joint.kind == "data"]
    assert data == ["grid-1-1", "grid-2-1", "grid-3-1", "grid-3-2", "grid-2-2", "grid-1-2"]


def test_a_closed_frame_is_fed_once_and_not_joined_in_a_ring() -> None:
    joints = [joint for joint in parts(family(frame(4, 400.0))).joints if joint.kind == "supply"]
    assert [joint.first for joint in joints].count(BUS) == 1
    assert len(joints) == 4
    mitres = [joint for joint in parts(family(frame(4, 400.0))).joints if joint.kind == "mitre"]
    assert len(mitres) == 4
    assert all(one.second != other.second for one, other in pairwise(mitres))
