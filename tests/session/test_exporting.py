"""Everything of a design into a folder: all of it or nothing, and nothing overwritten unasked."""

import json
import os
from pathlib import Path

import msgspec
import pytest

from gauze.__main__ import main
from gauze.core.design import RowPlan
from gauze.core.errors import GauzeError, StorageError, WriteError
from gauze.core.formats.design_file import decode_design
from gauze.demo import demo
from gauze.session.exporting import KINDS, files_of, known_kinds
from gauze.session.storage import write_folder
from tests.builders import CATALOGUE, design

BARS = decode_design(demo("press_bars").read(), CATALOGUE)
DISPLAY = decode_design(demo("tide_board").read(), CATALOGUE)
LOOSE = decode_design(demo("harbour_sign").read(), CATALOGUE)


def saved(tmp_path: Path, key: str = "press_bars") -> Path:
    file = tmp_path / f"{key}.gauze"
    file.write_bytes(demo(key).read())
    return file


def test_every_kind_is_written_and_what_a_design_has_not_is_left_out() -> None:
    names = set(files_of(BARS, CATALOGUE, (), tuple(KINDS), "bars"))
    assert {"bars-cuts.csv", "bars-bill.csv", "bars-wires.csv", "bars-drawing.pdf", "bars-parts.json"} <= names
    assert not any("pixels" in name for name in names)
    assert "d-pixels.csv" in files_of(DISPLAY, CATALOGUE, (), ("pixels",), "d")
    assert files_of(LOOSE, CATALOGUE, (), ("wires", "pixels"), "l") == {}


def test_the_command_writes_a_folder_and_refuses_to_overwrite(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file, folder = saved(tmp_path), tmp_path / "new" / "folder"
    words = ["export", str(file), "--to", str(folder), "--what", "bill", "--what", "parts"]
    assert main(words) == 0
    assert sorted(one.name for one in folder.iterdir()) == ["press_bars-bill.csv", "press_bars-parts.json"]
    assert json.loads((folder / "press_bars-parts.json").read_bytes())["format"] == "gauze-parts"
    (folder / "press_bars-bill.csv").write_text("mine")
    capsys.readouterr()
    assert main(words) == 2
    assert "press_bars-bill.csv" in capsys.readouterr().err
    assert (folder / "press_bars-bill.csv").read_text() == "mine"
    assert main([*words, "--overwrite"]) == 0
    assert (folder / "press_bars-bill.csv").read_text() != "mine"


def test_things_of_a_table_are_used_first(tmp_path: Path) -> None:
    table = tmp_path / "shelf.csv"
    width, depth = BARS.build.width_mm, BARS.build.depth_mm
    table.write_text(
        f"kind,name,on_hand,like,width_mm,depth_mm,length_mm\nprofile,Channel,9,usual-15,{width},{depth},2000\n"
    )
    folder = tmp_path / "out"
    words = ["export", str(saved(tmp_path)), "--to", str(folder), "--what", "cuts", "--table", str(table)]
    assert main(words) == 0
    assert ",shelf," in (folder / "press_bars-cuts.csv").read_text()


def test_nothing_is_left_of_what_could_not_be_written(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    folder = tmp_path / "out"
    folder.mkdir()
    (folder / "b").write_text("old")

    def full(path: Path, data: bytes) -> None:
        if path.name == "b":
            raise WriteError("The disk is full.")
        path.write_bytes(data)

    monkeypatch.setattr("gauze.session.storage.write_file", full)
    with pytest.raises(WriteError):
        write_folder(folder, {"a": b"new", "b": b"new"}, overwrite=True)
    assert [one.name for one in folder.iterdir()] == ["b"]
    assert (folder / "b").read_text() == "old"


def test_a_folder_that_cannot_be_is_told_in_words(tmp_path: Path) -> None:
    file = tmp_path / "file"
    file.write_text("no folder")
    with pytest.raises(WriteError, match="cannot be written to"):
        write_folder(file, {"a": b""})
    with pytest.raises(WriteError):
        write_folder(Path(str(tmp_path) + "/" + "x" * 5000), {"a": b""})
    with pytest.raises(StorageError, match="already"):
        write_folder(tmp_path, {"file": b""})
    assert file.read_text() == "no folder"
    if os.getuid() == 0:
        return  # who may write everywhere is refused nowhere
    locked = tmp_path / "locked"
    locked.mkdir(mode=0o500)
    with pytest.raises(WriteError):
        write_folder(locked, {"a": b""})


def test_what_is_not_known_is_named() -> None:
    assert known_kinds(()) == tuple(KINDS)
    assert known_kinds(("bill", "bill")) == ("bill",)
    with pytest.raises(GauzeError, match=r"hologram.*bill"):
        known_kinds(("hologram",))


def test_templates_for_too_many_pages_are_told_and_all_else_is_written() -> None:
    large = msgspec.structs.replace(
        design(face_width_mm=4800.0, face_height_mm=4800.0, rows=RowPlan(count=12, side_margin_mm=200.0)), name="Large"
    )
    files = files_of(large, CATALOGUE, (), ("templates",), "l")
    assert sorted(files) == ["l-templates-not-written.txt", "l-templates.dxf", "l-templates.svg"]
    assert "pages" in files["l-templates-not-written.txt"].decode()
    small = files_of(design(), CATALOGUE, (), ("templates", "printed", "book"), "s")
    assert {"s-templates.pdf", "s-templates-mirrored.pdf", "s-build-book.pdf"} <= set(small)
