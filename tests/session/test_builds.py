"""Edits of builds, their files, and versions: what is typed, dragged, moved, kept."""

from typing import Any

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from gauze.core.design import Design
from gauze.core.design.build import FamilyBuild
from gauze.core.design.channel_bar import Bar
from gauze.core.design.differences import differences
from gauze.core.design.fields import get_field, with_field
from gauze.core.design.tile_wall import Tile, apothem_mm
from gauze.core.errors import DesignError, QuantityError
from gauze.core.evaluate.comparison import changed_findings
from gauze.core.evaluate.finding import Finding, State
from gauze.core.families import Change, lay_out
from gauze.core.formats.design_file import decode_design, encode_design
from gauze.core.layout import Layout
from gauze.core.layout.families.tile_wall import TileLayout
from gauze.core.layout.sketch import MovableItem
from gauze.core.units import LengthUnit
from gauze.demo import DEMOS
from gauze.session.build_edits import (
    item_edits,
    read_value,
    with_choice_at,
    with_dragged,
    with_moved,
    with_picture,
)
from gauze.session.document import Document
from gauze.session.edits import with_cavity, with_module, with_module_level
from gauze.session.versions import design_of, forget, keep_version, take_up
from tests.builders import CATALOGUE, CAVITIES, design, emitter, loose_design
from tests.families import FAMILIES, bars, builds, display, family, head, strip_display, tiles, tube


def named_edits(what: Design, item: MovableItem) -> dict[str, Change]:
    """What the menu of an item offers, by its English name."""
    return {str(name): change for name, change in item_edits(what, item)}


@given(builds())
def test_a_file_brings_back_exactly_what_was_saved(build: FamilyBuild) -> None:
    made = family(build)
    try:
        lay_out(made, CATALOGUE)
    except DesignError:
        assume(False)
    data = encode_design(keep_version(made))
    again = decode_design(data, CATALOGUE)
    assert again == keep_version(made)
    assert encode_design(again) == data


@pytest.mark.parametrize("demo", DEMOS, ids=lambda one: one.key)
def test_every_demo_stands_and_is_written_as_it_would_be_saved(demo: Any) -> None:
    made = decode_design(demo.read(), CATALOGUE)
    lay_out(made, CATALOGUE)
    assert decode_design(encode_design(made), CATALOGUE) == made


def test_paths_lead_to_choices_and_back() -> None:
    made = family(bars(bars=(Bar(length_mm=100.0), Bar(length_mm=200.0))))
    assert get_field(made, "build.bars[1].length_mm") == 200.0
    changed = with_field(made, "build.bars[1].length_mm", 250.0)
    assert get_field(changed, "build.bars[1].length_mm") == 250.0
    assert get_field(changed, "build.bars[0].length_mm") == 100.0
    with pytest.raises(DesignError, match="whole number"):
        with_field(made, "build.side_by_side", 1.5)
    assert get_field(with_field(made, "build.side_by_side", 2.0), "build.side_by_side") == 2


def test_what_follows_from_other_choices_changes_them() -> None:
    wider = with_choice_at(family(head(depth_mm=50.0, back_mm=46.0)), "build.flank_deg", 45.0)
    assert get_field(wider, "build.opening_mm") == pytest.approx(146.0)
    for impossible in (-89.0, 89.0):
        with pytest.raises(DesignError):
            with_choice_at(wider, "build.flank_deg", impossible)


@pytest.mark.parametrize(
    ("kind", "words", "value"),
    [
        ("length", "3,2 cm", 32.0),
        ("count", "6 sides", 6.0),
        ("angle", "12.5° up", 12.5),
        ("share", "45 %", 0.45),
        ("text", " tide ", " tide "),
    ],
)
def test_what_is_typed_is_read_by_its_kind(kind: str, words: str, value: object) -> None:
    read = read_value(kind, words, LengthUnit.MM)
    assert read == (pytest.approx(value) if isinstance(value, float) else value)


@pytest.mark.parametrize(("kind", "words"), [("length", "wide"), ("count", ""), ("angle", "°"), ("count", "many")])
def test_nonsense_is_not_read(kind: str, words: str) -> None:
    with pytest.raises(QuantityError):
        read_value(kind, words, LengthUnit.MM)


def test_bars_are_added_and_taken_away_by_their_number() -> None:
    more = with_choice_at(family(bars()), "build.bars", 3.0)
    assert [bar.length_mm for bar in more.build.bars] == [150.0] * 3
    assert len(with_choice_at(more, "build.bars", 1.0).build.bars) == 1
    for impossible in (0.0, 2.5, 1e6):
        with pytest.raises(DesignError):
            with_choice_at(more, "build.bars", impossible)


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_every_choice_that_is_offered_stands(name: str) -> None:
    made = family(FAMILIES[name])
    layout = lay_out(made, CATALOGUE)
    assert isinstance(layout, Layout)
    for choice in layout.sketch.choices:
        for value, _ in getattr(choice, "options", ()):
            if value != choice.value and choice.field != "build.carrier" and "profile" not in str(choice.name).lower():
                lay_out(with_choice_at(made, choice.field, value), CATALOGUE)


@pytest.mark.parametrize("name", sorted(FAMILIES))
@given(share=st.floats(-0.3, 0.3))
def test_a_drag_leaves_a_design_that_stands_or_is_refused(name: str, share: float) -> None:
    document = Document(family(FAMILIES[name]), CATALOGUE)
    layout = document.layout
    assert isinstance(layout, Layout)
    for handle in layout.sketch.handles:
        before = document.design
        changed = with_dragged(before, handle.field, handle.value * (1 + share))
        try:
            document.apply(changed, "Drag", "one")
        except DesignError:
            assert document.design == before


def test_tiles_are_moved_to_the_nearest_free_edge_and_back() -> None:
    wall = family(tiles(Tile(sides=6, x_mm=0.0, y_mm=0.0), branches=True))
    grown = with_choice_at(wall, "build.tiles", 4.0)
    lay_out(grown, CATALOGUE)
    layout = lay_out(grown, CATALOGUE)
    assert isinstance(layout, Layout)
    item = layout.sketch.movable_items[3]
    moved = with_moved(grown, item, 400.0, 0.0)
    lay_out(moved, CATALOGUE)
    assert moved.build.tiles[3].x_mm > item.x_mm
    assert with_moved(grown, item, 1.0, 1.0) == grown
    names = list(named_edits(grown, item))
    assert "Remove tile" in names
    for _, change in item_edits(grown, item):
        lay_out(change(grown), CATALOGUE)


def test_the_order_of_the_chain_is_changed_by_hand() -> None:
    wall = family(tiles(Tile(sides=6, x_mm=0.0, y_mm=0.0), branches=True))
    grown = with_choice_at(wall, "build.tiles", 5.0)
    layout = lay_out(grown, CATALOGUE)
    assert isinstance(layout, TileLayout)
    order = layout.chain.order
    edits = named_edits(grown, layout.sketch.movable_items[order[2]])
    later = edits["Later in the chain"](grown)
    assert later.build.chain[3] == order[2]
    changed = lay_out(later, CATALOGUE)
    assert isinstance(changed, TileLayout)
    assert changed.chain.order == later.build.chain
    again = named_edits(later, layout.sketch.movable_items[order[2]])["Propose the chain again"](later)
    assert again == grown


def test_emitters_and_corners_are_moved_copied_and_removed() -> None:
    shape, place = CAVITIES["box"]
    lamp = loose_design(shape, emitter(*place), emitter(10.0, 10.0))
    layout = lay_out(lamp, CATALOGUE)
    assert isinstance(layout, Layout)
    moved = with_moved(lamp, layout.sketch.movable_items[1], 5.0, 2.5)
    assert (moved.loose.emitters[1].x_mm, moved.loose.emitters[1].y_mm) == (15.0, 12.5)
    edits = named_edits(lamp, layout.sketch.movable_items[1])
    assert len(edits["Copy emitter"](lamp).loose.emitters) == 3
    assert len(edits["Remove emitter"](lamp).loose.emitters) == 1
    path = family(FAMILIES["path"])
    layout = lay_out(path, CATALOGUE)
    assert isinstance(layout, Layout)
    bent = with_moved(path, layout.sketch.movable_items[2], 20.0, 0.0)
    assert bent.build.corners_mm[2] == (170.0, 120.0)
    lay_out(bent, CATALOGUE)
    edits = named_edits(path, layout.sketch.movable_items[0])
    assert len(edits["Insert corner"](path).build.corners_mm) == 4
    assert len(edits["Remove corner"](path).build.corners_mm) == 2
    with pytest.raises(TypeError):
        with_moved(design(), MovableItem("nothing", 0, "nothing", 0.0, 0.0, layout.sketch.plan[0].points_mm), 1.0, 1.0)


def test_a_module_keeps_its_white_as_near_as_it_is_sold() -> None:
    lamp = family(head())
    other = with_module(lamp, CATALOGUE, "24v-chips-4x4")
    assert other.build.module.cct_k == 3000.0
    dimmed = with_module_level(other, CATALOGUE, 0, 0.4)
    assert dimmed.build.module.levels == (0.4,)
    grid = with_module(family(display()), CATALOGUE, "5v-rgb-grid-16x16")
    assert grid.build.module.cct_k is None
    with pytest.raises(TypeError):
        with_module_level(family(tube()), CATALOGUE, 0, 0.5)


def test_a_picture_is_shown_as_it_was_chosen() -> None:
    shown = with_picture(family(strip_display()), ("ff0000" * 8,) * 5)
    lay_out(shown, CATALOGUE)
    assert shown.build.show.kind == "picture"


# -- versions -------------------------------------------------------------------------------------------------------------


def test_versions_are_kept_taken_up_and_forgotten() -> None:
    first = family(tube())
    second = with_choice_at(keep_version(first), "build.diameter_mm", 40.0)
    assert [one.name for one in second.kept] == ["Version 1"]
    assert design_of(second, 0).build == first.build
    back = take_up(second, 0)
    assert back.build == first.build
    assert design_of(back, 0).build == second.build
    assert take_up(back, 0) == second
    third = keep_version(second)
    assert [one.name for one in third.kept] == ["Version 1", "Version 2"]
    assert [one.name for one in forget(third, 0).kept] == ["Version 2"]
    crowd: Design = first
    for _ in range(13):
        crowd = keep_version(crowd)
    with pytest.raises(DesignError, match="delete one"):
        lay_out(crowd, CATALOGUE)


def test_what_differs_is_named_with_its_number() -> None:
    before = family(bars(bars=(Bar(length_mm=100.0), Bar(length_mm=200.0))))
    after = with_choice_at(with_choice_at(before, "build.bars[1].length_mm", 250.0), "build.depth_mm", 12.0)
    found = {one.path: one for one in differences(before, after)}
    assert set(found) == {"build.bars[1].length_mm", "build.depth_mm"}
    assert str(found["build.bars[1].length_mm"].words) == "Length, bar 2"
    assert (found["build.depth_mm"].before, found["build.depth_mm"].after) == (10.0, 12.0)
    assert differences(before, before) == []
    assert differences(before, keep_version(before)) == []
    assert [one.path for one in differences(before, family(tube()))] == ["build"]


def test_what_only_follows_is_no_difference() -> None:
    wall = with_choice_at(family(tiles(Tile(sides=6, x_mm=0.0, y_mm=0.0), branches=True)), "build.tiles", 6.0)
    larger = with_choice_at(wall, "build.side_mm", 97.3)
    assert [(one.path, one.before, one.after) for one in differences(wall, larger)] == [("build.side_mm", 90.0, 97.3)]
    layout = lay_out(larger, CATALOGUE)
    assert isinstance(layout, Layout)
    moved = with_moved(larger, layout.sketch.movable_items[5], 500.0, 0.0)
    assert {one.path.partition("[")[0] for one in differences(wall, moved)} == {"build.side_mm", "build.tiles"}
    assert all(one.path.startswith("build.tiles[5]") for one in differences(larger, moved))
    more = with_choice_at(wall, "build.tiles", 8.0)
    assert [(one.path, one.before, one.after) for one in differences(wall, more)] == [("build.tiles", 6, 8)]
    bedded = with_choice_at(family(tube()), "build.carrier", "bed")
    assert [one.path for one in differences(family(tube()), bedded)] == ["build.carrier"]


def _finding(code: str, state: State, sentence: str) -> Finding:
    return Finding(code, "lay", state, sentence, 0.0, "", None, ())


def test_findings_that_came_went_or_changed_are_told() -> None:
    before = [_finding("a", State.GOOD, "A."), _finding("b", State.GOOD, "B."), _finding("c", State.NOTE, "C 1.")]
    after = [_finding("a", State.FAILS, "A."), _finding("c", State.NOTE, "C 2."), _finding("d", State.NOTE, "D.")]
    changes = changed_findings(before, after)
    assert [change.code for change in changes] == ["a", "d", "b", "c"]
    assert [change.state_changed for change in changes] == [True, True, True, False]
    assert changed_findings(before, before) == []


@given(
    side_mm=st.floats(60.0, 220.0).map(lambda value: round(value, 2)),
    back_mm=st.floats(60.0, 220.0).map(lambda value: round(value, 2)),
)
def test_tiles_of_another_side_still_share_their_edges(side_mm: float, back_mm: float) -> None:
    first = Tile(sides=6, x_mm=0.0, y_mm=0.0)
    wall = with_choice_at(family(tiles(first, branches=True)), "build.tiles", 5.0)
    for sides in (3, 4):
        layout = lay_out(wall, CATALOGUE)
        assert isinstance(layout, Layout)
        name = {3: "Add triangle beside", 4: "Add square beside"}[sides]
        wall = named_edits(wall, layout.sketch.movable_items[0])[name](wall)
    before = lay_out(wall, CATALOGUE)
    assert isinstance(before, TileLayout)
    larger = with_choice_at(with_choice_at(wall, "build.side_mm", side_mm), "build.side_mm", back_mm)
    laid = lay_out(larger, CATALOGUE)
    assert isinstance(laid, TileLayout)
    assert [(link.start, link.end) for link in laid.chain.links] == [
        (link.start, link.end) for link in before.chain.links
    ]
    assert (larger.build.tiles[0].x_mm, larger.build.tiles[0].y_mm) == (0.0, 0.0)
    away = np.hypot(larger.build.tiles[1].x_mm, larger.build.tiles[1].y_mm)
    assert away == pytest.approx(2.0 * apothem_mm(6, back_mm), abs=0.01)


def test_the_hand_holds_the_wall_of_a_tile() -> None:
    for tile in (
        Tile(sides=3, x_mm=0.0, y_mm=0.0),
        Tile(sides=4, x_mm=0.0, y_mm=0.0),
        Tile(sides=6, x_mm=0.0, y_mm=0.0),
    ):
        wall = family(tiles(tile))
        before = lay_out(wall, CATALOGUE)
        assert isinstance(before, TileLayout)
        (handle,) = [one for one in before.sketch.handles if one.field == "build.side_mm"]
        after = lay_out(with_choice_at(wall, handle.field, handle.value + 5.0 * handle.gain), CATALOGUE)
        assert isinstance(after, TileLayout)
        (moved,) = [one for one in after.sketch.handles if one.field == "build.side_mm"]
        assert moved.start_mm[0] - handle.start_mm[0] == pytest.approx(5.0)


def test_a_tube_is_given_a_bed_that_stands() -> None:
    bedded = with_choice_at(family(tube()), "build.carrier", "bed")
    assert bedded.build.bed_height_mm == pytest.approx(bedded.build.diameter_mm / 4.0)
    lay_out(bedded, CATALOGUE)
    own = with_choice_at(with_choice_at(bedded, "build.bed_height_mm", 5.0), "build.carrier", "back")
    assert with_choice_at(own, "build.carrier", "bed").build.bed_height_mm == 5.0


@pytest.mark.parametrize("closed", [False, True])
def test_a_path_is_given_more_corners_and_fewer(closed: bool) -> None:
    corners = ((0.0, 0.0), (300.0, 0.0), (300.0, 250.0))
    path = family(bars(bars=(), corners_mm=corners, closed=closed))
    longer = path
    for count in range(4, 8):
        longer = with_choice_at(longer, "build.corners_mm", float(count))
        layout = lay_out(longer, CATALOGUE)
        assert isinstance(layout, Layout)
        assert len(longer.build.corners_mm) == count
        assert set(corners) <= set(longer.build.corners_mm)
    assert with_choice_at(longer, "build.corners_mm", 3.0).build.corners_mm == longer.build.corners_mm[:3]
    with pytest.raises(DesignError, match="whole number"):
        with_choice_at(path, "build.corners_mm", 3.5)


def test_rows_of_a_tile_do_not_lie_on_each_other() -> None:
    wall = family(tiles(Tile(sides=4, x_mm=0.0, y_mm=0.0), lighting="back"))
    with pytest.raises(DesignError, match="overlap") as caught:
        lay_out(with_choice_at(wall, "build.row_spacing_mm", 0.001), CATALOGUE)
    assert caught.value.field == "build.row_spacing_mm"


@pytest.mark.parametrize("section", ["rectangle", "v", "u", "half_round"])
def test_a_channel_takes_any_section_and_keeps_it_while_it_is_sized(section: str) -> None:
    shape, place = CAVITIES["channel"]
    channel = with_cavity(loose_design(shape, emitter(*place)), "section", section)
    for name, factor in (("width_mm", 1.1), ("depth_mm", 1.2), ("width_mm", 0.95)):
        value = getattr(channel.loose.cavity, name) * factor
        channel = with_choice_at(channel, f"build.cavity.{name}", value)
        lay_out(channel, CATALOGUE)
        assert getattr(channel.loose.cavity, name) == value
    assert channel.loose.cavity.section == section


def test_a_half_round_profile_is_sized_by_either_side() -> None:
    round_bar = family(bars(section="half_round", width_mm=20.0, depth_mm=10.0))
    wider = with_choice_at(round_bar, "build.width_mm", 26.0)
    assert (wider.build.width_mm, wider.build.depth_mm) == (26.0, 13.0)
    deeper = with_choice_at(round_bar, "build.depth_mm", 15.0)
    assert (deeper.build.width_mm, deeper.build.depth_mm) == (30.0, 15.0)
    lay_out(deeper, CATALOGUE)
