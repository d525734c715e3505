"""Boxes of boards: what is cut fits together, whatever the corners and the seat of the sheet."""

import itertools
import math
from collections import Counter

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gauze.core.design import Design, RowPlan
from gauze.core.design.box_frame import BoxFrame
from gauze.core.design.making import Making
from gauze.core.design.surroundings import Surroundings
from gauze.core.drawing.templates import templates_of
from gauze.core.evaluate import AT_REST, State, evaluate, search_fixes
from gauze.core.evaluate.building.steps import steps_of
from gauze.core.evaluate.evaluation import Detail
from gauze.core.evaluate.findings import frame as frame_finding
from gauze.core.evaluate.findings.weight import weight_of
from gauze.core.evaluate.made import made_of
from gauze.core.families import box_in, lay_out, parts_of
from gauze.core.formats.parts_list import parts_json, parts_text
from gauze.core.making.cut_lists import cut_lists
from gauze.core.parts import BodyPart, Parts
from gauze.core.parts.frame.hardware import clashes, segments_apart
from gauze.core.parts.frame.joinery import Box, offset
from tests.builders import CATALOGUE, design
from tests.families import FAMILIES, family

QUICK = Detail(fineness=0.5, most_pixels=6_000, target_points=1)
CORNERS = ("butt", "mitre", "lap", "splined")
SEATS = ("on_top", "groove", "rebate", "ledge", "standoffs")


def framed(wall_mm: float | None = 18.0, what: Design | None = None, **choices: object) -> Design:
    base = what or design(
        face_width_mm=400.0, face_height_mm=300.0, depth_mm=80.0, rows=RowPlan(count=6, spacing_mm=40.0)
    )
    return msgspec.structs.replace(base, making=Making(wall_mm=wall_mm, frame=BoxFrame(**choices)))  # type: ignore[arg-type]  # values of the cases


def parts_and_box(what: Design) -> tuple[Parts, Box]:
    layout = lay_out(what, CATALOGUE)
    box = box_in(what, layout, CATALOGUE)
    assert box is not None
    return parts_of(what, layout, CATALOGUE), box


def body(parts: Parts) -> dict[str, BodyPart]:
    return {part.id: part for part in parts.body}


def test_without_a_thickness_nothing_is_framed() -> None:
    what = framed(None, screw_mm=4.0)
    assert box_in(what, lay_out(what, CATALOGUE), CATALOGUE) is None
    assert parts_of(what, lay_out(what, CATALOGUE), CATALOGUE).fixings == ()


@pytest.mark.parametrize(("corners", "seat"), list(itertools.product(CORNERS, SEATS)))
def test_boards_close_the_outer_rectangle(corners: str, seat: str) -> None:
    """Whatever the corners: the footprints of four boards cover the ring between inside and outside, once."""
    parts, box = parts_and_box(framed(corners=corners, seat=seat))
    wide, high = np.ptp(box.inner_mm, axis=0).tolist()
    own = body(parts)
    ring_mm2 = (wide + 36.0) * (high + 36.0) - wide * high
    covered = 0.0
    for side in ("bottom", "right", "top", "left"):
        board = own[f"wall-{side}"]
        lost = 18.0 * 18.0 * (math.tan(math.radians(board.start_cut_deg)) + math.tan(math.radians(board.end_cut_deg)))
        laps = sum(g.width_mm * (g.depth_mm or 0.0) for g in board.grooves if g.id.startswith("lap-"))
        covered += board.length_mm * 18.0 - lost / 2.0 - laps
    assert covered == pytest.approx(ring_mm2, rel=1e-9)
    assert own["back"].length_mm == pytest.approx(wide + 36.0)
    assert own["back"].width_mm == pytest.approx(high + 36.0)


@pytest.mark.parametrize("seat", ["groove", "rebate", "ledge"])
def test_the_sheet_has_its_play_when_it_is_warm(seat: str) -> None:
    """Acrylic grows by 0.07 mm for each metre and kelvin (typical): 40 K warmer it still has room, and no more than that."""
    parts, box = parts_and_box(framed(seat=seat))
    wide, high = np.ptp(box.inner_mm, axis=0).tolist()
    sheet = body(parts)["sheet-1"]
    reach = 0.0 if seat == "ledge" else 9.0
    room = wide + 2.0 * reach
    assert sheet.length_mm * (1.0 + 7e-5 * 40.0) == pytest.approx(room, abs=0.01)
    if seat != "groove":  # there it lies on the loose board above
        assert sheet.width_mm * (1.0 + 7e-5 * 40.0) == pytest.approx(high + 2.0 * reach, abs=0.01)


def test_a_groove_leaves_one_board_low_and_closes_it() -> None:
    parts, box = parts_and_box(framed(seat="groove"))
    own = body(parts)
    assert own["wall-top"].width_mm == pytest.approx(box.depth_mm)
    assert not own["wall-top"].grooves
    for side in ("bottom", "right", "left"):
        board = own[f"wall-{side}"]
        (groove,) = board.grooves
        low = groove.start_mm[1] - groove.width_mm / 2.0
        assert low == pytest.approx(box.depth_mm)  # the sheet lies where the light is computed for
        assert groove.width_mm > box.sheet_mm
        assert board.width_mm > groove.start_mm[1] + groove.width_mm / 2.0
        assert own["closing-strip"].width_mm + own["wall-top"].width_mm + groove.width_mm == pytest.approx(
            board.width_mm
        )


@pytest.mark.parametrize("sides", [(4.0,) * 4, (1.0, 2.0, 3.0, 4.0)])
def test_an_offset_moves_every_edge_by_its_own(sides: tuple[float, ...]) -> None:
    """Against the areas: of a rectangle by hand."""
    ring = np.array([[0.0, 0.0], [10.0, 0.0], [10.0, 6.0], [0.0, 6.0]])
    grown = offset(ring, sides)
    bottom, right, top, left = sides
    assert grown == pytest.approx(
        np.array([[-left, -bottom], [10 + right, -bottom], [10 + right, 6 + top], [-left, 6 + top]])
    )


# -- screws ------------------------------------------------------------------------------------------------------------

points = st.tuples(*[st.floats(-20.0, 20.0)] * 3)


@settings(max_examples=60, deadline=None)
@given(points, points, points, points)
def test_segments_are_as_far_apart_as_their_nearest_points(
    a: tuple[float, ...], b: tuple[float, ...], c: tuple[float, ...], d: tuple[float, ...]
) -> None:
    """Against a dense grid of places on both."""
    p, q, r, s = (np.array(one) for one in (a, b, c, d))
    if min(np.linalg.norm(q - p), np.linalg.norm(s - r)) < 0.1:
        return
    t = np.linspace(0.0, 1.0, 301)[:, None]
    first, second = p + t * (q - p), r + t * (s - r)
    grid = float(np.min(np.linalg.norm(first[:, None] - second[None], axis=2)))
    step = float(np.linalg.norm(q - p) + np.linalg.norm(s - r)) / 300.0
    found = float(segments_apart(p[None], q[None], r[None], s[None])[0])
    assert grid - step <= found <= grid + 1e-9


def test_every_screw_goes_through_one_board_into_the_middle_of_another() -> None:
    parts, box = parts_and_box(framed(screw_mm=3.5, screw_long_mm=35.0, stand="quarter_inch", hang="hooks"))
    low, high = box.inner_mm.min(axis=0), box.inner_mm.max(axis=0)
    screws = [one for one in parts.fixings if one.kind == "screw"]
    assert screws
    for one in screws:
        tip = np.array(one.end_mm)
        between = (tip[:2] > low - 18.0) & (tip[:2] < high + 18.0)
        assert between.all()
        assert not ((tip[:2] > low + 1e-9) & (tip[:2] < high - 1e-9)).all()  # in a board, not in the room
        assert 0.0 < tip[2] < box.depth_mm
        hole = next(hole for part in parts.body if part.id == one.through for hole in part.holes if hole.id == one.id)
        assert hole.width_mm > one.diameter_mm
        assert one.pilot_mm is not None
        assert 0.5 * one.diameter_mm < one.pilot_mm < one.diameter_mm
    kinds = Counter(one.kind for one in parts.fixings)
    assert kinds["stand"] == 1
    assert kinds["hook"] == 2
    assert not clashes(parts.fixings)
    apart = np.diff(sorted(one.head_mm[0] for one in screws if one.into == "wall-top" and one.through == "back"))
    assert max(apart) <= 150.0 + 30.0  # those beside a hook have moved


@pytest.mark.parametrize(
    ("wall_mm", "choices", "state", "said"),
    [
        (18.0, {"screw_mm": 4.0, "screw_long_mm": 40.0}, State.GOOD, "miss each other and hold"),
        (15.0, {"screw_mm": 3.5, "screw_long_mm": 30.0, "seat": "groove"}, State.GOOD, "hold"),
        (18.0, {}, State.GOOD, "glued"),
        (18.0, {"corners": "splined", "seat": "rebate"}, State.GOOD, "glued"),
        (18.0, {"screw_mm": 4.0, "screw_long_mm": 120.0}, State.FAILS, "come out at the front edge"),
        (18.0, {"screw_mm": 4.0, "screw_long_mm": 22.0}, State.FAILS, "hold by only"),
        (9.0, {"screw_mm": 3.5, "screw_long_mm": 25.0}, State.WATCH, "splits the edge"),
        (3.0, {"seat": "groove"}, State.WATCH, "held by only"),
        (12.0, {"stand": "quarter_inch"}, State.WATCH, "glue a block behind it"),
        (18.0, {"stand": "quarter_inch"}, State.GOOD, "fits together"),
    ],
)
def test_good_joints_pass_and_bad_ones_are_told(
    wall_mm: float, choices: dict[str, object], state: State, said: str
) -> None:
    """What a joiner would say; common practice, no source."""
    (found,) = frame_finding.find(evaluate(framed(wall_mm, **choices), CATALOGUE, QUICK))
    assert found.state is state, str(found.sentence)
    assert said in str(found.sentence)
    assert len(found.figures) > 0


def test_screws_too_long_for_a_small_box_meet() -> None:
    small = design(face_width_mm=120.0, face_height_mm=120.0, depth_mm=80.0, rows=RowPlan(count=2, spacing_mm=40.0))
    (found,) = frame_finding.find(evaluate(framed(18.0, small, screw_mm=4.0, screw_long_mm=70.0), CATALOGUE, QUICK))
    assert found.state is State.FAILS
    assert "meet inside the wood" in str(found.sentence)
    assert found.fixable


def test_other_screws_are_found_for_bad_ones() -> None:
    bad = framed(12.0, screw_mm=5.0, screw_long_mm=120.0)
    (fix,) = search_fixes("frame", bad, CATALOGUE)
    (after,) = frame_finding.find(evaluate(fix.design, CATALOGUE, QUICK))
    assert after.state is State.GOOD
    making = fix.design.making
    assert making is not None
    assert making.frame.screw_mm is not None
    assert making.frame.screw_mm <= 4.0


# -- where it goes -----------------------------------------------------------------------------------------------------


def test_all_that_is_made_follows_the_frame() -> None:
    """Cut list, bill, weight, templates, steps and lists tell of the same boards and screws."""
    what = framed(seat="groove", corners="lap", screw_mm=3.5, screw_long_mm=35.0, hang="keyholes", stand="quarter_inch")
    parts, box = parts_and_box(what)
    assert what.making is not None
    lists = {piece.ids: piece.length_mm for one in cut_lists(parts, None, what.making) for piece in one.pieces}
    own = body(parts)
    assert lists[("wall-right", "wall-left")] == pytest.approx(own["wall-right"].length_mm, abs=0.05)
    made = made_of(what, CATALOGUE, ())
    counts = Counter(one.kind for one in parts.fixings)
    billed = {line.key: line.used for line in made.bill.lines if line.key.startswith("fixing:screw")}
    assert list(billed.values()) == [counts["screw"]]
    evaluation = evaluate(what, CATALOGUE, AT_REST)
    weighed = {one.id for one in weight_of(evaluation).parts}
    assert {one.id for one in parts.fixings} <= weighed
    steps = steps_of(evaluation, made)
    used = {one for step in steps for one in step.parts}
    assert {one.id for one in parts.fixings} <= used
    words = " ".join(str(line) for step in steps for line in step.how)
    for expected in (
        "groove for the sheet",
        "pilot holes",
        "lapped",
        "Slide the sheet into the groove",
        "Keyhole plate",
    ):
        assert expected in words
    assert f"The inside height is {box.depth_mm:g} mm" in words
    templates = templates_of(parts, evaluation.layout, what.making.wall_mm)
    drawn = {one for template in templates for one in template.ids}
    assert {"back", "wall-left", "wall-bottom"} <= drawn
    assert b'"fixings"' in parts_json(what, parts)
    assert "pilot hole 2.5 mm" in parts_text(what, parts)


def test_prices_of_boards_stay_when_their_thickness_changes() -> None:
    keys = [
        {one.key for one in cut_lists(parts_and_box(framed(mm))[0], None, Making(wall_mm=mm))} for mm in (12.0, 18.0)
    ]
    assert keys[0] == keys[1]


@pytest.mark.parametrize("build", FAMILIES.values(), ids=FAMILIES.keys())
def test_every_family_takes_a_frame(build: object) -> None:
    """A box gets one, and what is none stays as it is."""
    what = family(build)  # type: ignore[arg-type]  # a build of some family
    full = framed(12.0, what, corners="splined", seat="ledge", screw_mm=3.0, screw_long_mm=20.0, hang="hooks")
    layout = lay_out(what, CATALOGUE)
    before, after = parts_of(what, layout, CATALOGUE), parts_of(full, layout, CATALOGUE)
    if box_in(full, layout, CATALOGUE) is None:
        assert before == after
    else:
        assert len(set(after.ids())) == len(list(after.ids()))
        assert set(before.ids()) <= set(after.ids())
        assert all(np.isfinite(part.length_mm) and part.length_mm > 0 for part in after.body)


def test_overhead_hooks_are_on_two_boards() -> None:
    what = msgspec.structs.replace(framed(hang="hooks"), surroundings=Surroundings(stance="face_down"))
    parts, _ = parts_and_box(what)
    assert {one.into for one in parts.fixings if one.kind == "hook"} == {"wall-top", "wall-bottom"}
