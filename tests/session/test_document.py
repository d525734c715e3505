import errno
import os
from pathlib import Path

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.design import Design, RowPlan
from gauze.core.errors import DesignError, FormatError, StorageError
from gauze.session import edits
from gauze.session.build_edits import with_choice_at, with_dragged
from gauze.session.document import Document
from gauze.session.settings import Settings, load_settings, save_settings
from gauze.ui.canvas.hand.hold import dragged_value
from tests.builders import CATALOGUE, design, warm_and_cool


@pytest.fixture
def document() -> Document:
    return Document(design(), CATALOGUE)


def set_depth(document: Document, depth_mm: float, gesture: object | None = None) -> None:
    document.apply(edits.with_build(document.design, depth_mm=depth_mm), f"Depth {depth_mm:g}", gesture)


def test_edits_undo_and_redo_by_name(document: Document) -> None:
    set_depth(document, 40)
    set_depth(document, 50)
    assert document.undo_name == "Depth 50"
    document.undo()
    assert document.design.build.depth_mm == 40
    assert document.redo_name == "Depth 50"
    document.undo()
    assert document.design == design()
    document.undo()  # nothing left: nothing happens
    document.redo()
    document.redo()
    document.redo()
    assert document.design.build.depth_mm == 50
    set_depth(document, 60)
    assert document.redo_name is None


def test_a_drag_undoes_as_one(document: Document) -> None:
    gesture = object()
    for depth in (31, 32, 33):
        set_depth(document, depth, gesture)
    set_depth(document, 34, object())
    document.undo()
    assert document.design.build.depth_mm == 33
    document.undo()
    assert document.design.build.depth_mm == 30


def test_a_design_that_cannot_stand_leaves_the_last_good_one(document: Document) -> None:
    with pytest.raises(DesignError):
        set_depth(document, -5)
    with pytest.raises(DesignError):
        document.apply(edits.with_build(document.design, rows=RowPlan(count=300, spacing_mm=5)), "Rows")
    assert document.design == design()
    assert document.undo_name is None


@given(st.lists(st.one_of(st.floats(2, 90), st.sampled_from(["undo", "redo"])), max_size=30))
def test_undo_and_redo_walk_one_line(steps: list[float | str]) -> None:
    document = Document(design(), CATALOGUE)
    line, place = [document.design], 0
    for step in steps:
        if step == "undo":
            document.undo()
            place = max(place - 1, 0)
        elif step == "redo":
            document.redo()
            place = min(place + 1, len(line) - 1)
        else:
            set_depth(document, float(step))
            if document.design != line[place]:
                line, place = [*line[: place + 1], document.design], place + 1
        assert document.design == line[place]


def test_saving_makes_it_clean_and_undo_dirty_again(document: Document, tmp_path: Path) -> None:
    set_depth(document, 40)
    assert document.modified
    document.save(tmp_path / "a.gauze")
    assert not document.modified
    document.undo()
    assert document.modified
    document.redo()
    assert not document.modified
    assert Document.open(tmp_path / "a.gauze", CATALOGUE).design == document.design


def test_a_file_that_cannot_be_read_is_explained(tmp_path: Path) -> None:
    with pytest.raises(StorageError, match="does not exist"):
        Document.open(tmp_path / "none.gauze", CATALOGUE)
    with pytest.raises(StorageError, match="folder"):
        Document.open(tmp_path, CATALOGUE)
    (tmp_path / "bad.gauze").write_bytes(b"{")
    with pytest.raises(FormatError, match="truncated"):
        Document.open(tmp_path / "bad.gauze", CATALOGUE)
    assert (tmp_path / "bad.gauze").read_bytes() == b"{"


@pytest.mark.parametrize("code", [errno.ENOSPC, errno.EDQUOT, errno.EROFS, errno.EIO])
def test_a_disk_that_refuses_leaves_the_old_file(
    document: Document, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, code: int
) -> None:
    path = tmp_path / "a.gauze"
    document.save(path)
    before = path.read_bytes()
    set_depth(document, 40)

    def refuse(_handle: int) -> None:
        raise OSError(code, os.strerror(code))

    monkeypatch.setattr(os, "fsync", refuse)
    with pytest.raises(StorageError, match="untouched"):
        document.save(path)
    assert path.read_bytes() == before
    assert document.modified
    assert [entry.name for entry in tmp_path.iterdir() if entry.is_file()] == [
        "a.gauze"
    ]  # nothing half-written beside it


def test_settings_are_sparse_and_survive_damage(tmp_path: Path) -> None:
    path = tmp_path / "deep" / "settings.json"
    assert load_settings(path) == Settings()
    changed = msgspec.structs.replace(Settings(), theme="light").with_recent(tmp_path / "a.gauze")
    save_settings(changed, path)
    assert load_settings(path) == changed
    assert b"length_unit" not in path.read_bytes()
    path.write_bytes(b"\x00")
    assert load_settings(path) == Settings()
    for index in range(20):
        changed = changed.with_recent(tmp_path / f"{index % 10}.gauze")
    assert len(changed.recent_files) == 8
    assert changed.recent_files[0].endswith("9.gauze")


def test_rows_spacing_and_margin_drive_each_other(document: Document) -> None:
    by_count = with_choice_at(document.design, "build.rows.count", 5)
    assert by_count.build.rows == RowPlan(count=5, side_margin_mm=20.0)
    by_spacing = with_choice_at(by_count, "build.rows.spacing_mm", 50.0)
    assert by_spacing.build.rows == RowPlan(spacing_mm=50.0, side_margin_mm=20.0)
    by_margin = with_choice_at(document.design, "build.rows.side_margin_mm", 30.0)
    assert by_margin.build.rows == RowPlan(count=11, side_margin_mm=30.0)
    with pytest.raises(DesignError, match="whole number"):
        with_choice_at(document.design, "build.rows.count", 2.5)


def test_a_dragged_row_spreads_all_rows_and_stays_on_the_face(document: Document) -> None:
    handles = {str(one.name): one for one in document.layout.sketch.handles}
    outer = handles["row 11"]

    def dragged(by_mm: float) -> Design:
        return with_dragged(document.design, outer.field, dragged_value(outer, (0.0, 380.0), (0.0, 380.0 + by_mm), 1.0))

    assert dragged(5.0).build.rows == RowPlan(count=11, spacing_mm=37.0)
    for way in (5.0, 3620.0, -4380.0):
        Document(dragged(way), CATALOGUE)  # stands
    assert "row 6" not in handles  # the middle one leads nowhere


def test_a_dragged_lid_never_meets_the_leds(document: Document) -> None:
    lid = document.layout.sketch.handles[0]
    down = with_dragged(document.design, lid.field, dragged_value(lid, (0.0, 30.0), (0.0, -50.0), 1.0))
    Document(down, CATALOGUE)
    assert down.build.depth_mm == 1.5
    assert dragged_value(lid, (0.0, 30.0), (0.0, 33.3), 1.0) == 33.5


def test_every_other_row_gets_warm_and_cool(document: Document) -> None:
    both = edits.with_alternate_strip(document.design, CATALOGUE, alternate=True)
    assert [choice.cct_k for choice in both.build.strips] == [2700.0, 6500.0]
    assert edits.with_alternate_strip(both, CATALOGUE, alternate=True) == both
    assert len(edits.with_alternate_strip(both, CATALOGUE, alternate=False).build.strips) == 1


def test_levels_and_whites_are_set_for_one_strip() -> None:
    both = design(strips=warm_and_cool())
    dimmed = edits.with_level(both, CATALOGUE, 1, 0, 0.4)
    assert [choice.levels for choice in dimmed.build.strips] == [(), (0.4,)]
    assert edits.with_cct(both, 0, 3000).build.strips[0].cct_k == 3000
    turned = edits.with_rows_turned(both)
    assert turned.build.row_direction == "along_height"
    assert edits.with_rows_turned(turned) == both
