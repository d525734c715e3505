"""Unsaved work: found after any end, claimed by one window at a time, deleted only when the user says so."""

import os
import subprocess
import sys
from pathlib import Path

import msgspec
import pytest

from gauze.core.errors import StorageError
from gauze.core.formats.design_file import encode_design
from gauze.session import autosave as autosave_module
from gauze.session.autosave import Autosave, Recovered, find_recoverable
from gauze.session.document import Document
from tests.builders import CATALOGUE, design

NOT_UTF8 = os.fsdecode(b"pan\xffel.gauze")

KEEP_AND_DIE = """
import os, sys
from pathlib import Path
from gauze.core.formats.design_file import decode_design
from gauze.core.materials import load_catalogue
from gauze.session.autosave import Autosave
from gauze.session.document import Document
catalogue = load_catalogue()
for data in sys.argv[3:]:
    autosave = Autosave(Path(sys.argv[1]))
    path = Path(sys.argv[2]) if sys.argv[2] else None
    document = Document.open(path, catalogue) if path else Document(decode_design(data.encode(), catalogue), catalogue)
    document.apply(decode_design(data.encode(), catalogue), "Edit")
    autosave.want(document)
    autosave.write()
    globals().setdefault("all", []).append(autosave)
os.kill(os.getpid(), 9)
"""


def crash_with(folder: Path, path: Path | None, *depths_mm: float) -> None:
    texts = [encode_design(design(depth_mm=depth)).decode() for depth in depths_mm]
    where = os.fspath(path) if path is not None else ""
    subprocess.run([sys.executable, "-c", KEEP_AND_DIE, str(folder), where, *texts], check=False, timeout=300)


def depths(found: list[Recovered]) -> list[float]:
    return sorted(one.design.build.depth_mm for one in found)


def keep(folder: Path, depth_mm: float, path: Path | None = None) -> Autosave:
    autosave = Autosave(folder)
    autosave.want(Document(design(depth_mm=depth_mm), CATALOGUE, path))
    autosave.write()
    return autosave


def test_work_of_every_crashed_window_is_found_and_that_of_living_ones_is_not(tmp_path: Path) -> None:
    living = keep(tmp_path, 33.0)
    crash_with(tmp_path, None, 44.0, 45.0)
    found = find_recoverable(tmp_path, CATALOGUE)
    assert depths(found) == [44.0, 45.0]
    assert find_recoverable(tmp_path, CATALOGUE) == []  # claimed: another window starting now must not offer them too
    for one in found:
        one.put_back()
    living.leave()
    found = find_recoverable(tmp_path, CATALOGUE)
    assert depths(found) == [33.0, 44.0, 45.0]
    for one in found:
        one.discard()
    assert list(tmp_path.iterdir()) == []


def test_a_process_number_in_use_again_hides_nothing(tmp_path: Path) -> None:
    text = encode_design(design(depth_mm=46.0)).decode()
    (tmp_path / "x.keep").write_bytes(msgspec.json.encode({"process": os.getpid(), "path": None, "design": text}))
    found = find_recoverable(tmp_path, CATALOGUE)
    assert depths(found) == [46.0]
    found[0].put_back()


def test_work_taken_up_is_never_off_the_disk(tmp_path: Path) -> None:
    crash_with(tmp_path, None, 44.0)
    (found,) = find_recoverable(tmp_path, CATALOGUE)
    autosave = Autosave(tmp_path, found)
    assert found.kept_in.exists()
    assert find_recoverable(tmp_path, CATALOGUE) == []
    autosave.want(Document(design(depth_mm=47.0), CATALOGUE))
    autosave.write()
    assert [file.name for file in tmp_path.glob("*.keep")] == [found.kept_in.name]
    autosave.drop()
    assert list(tmp_path.iterdir()) == []


def test_an_autosave_that_was_dropped_writes_nothing_more(tmp_path: Path) -> None:
    autosave = Autosave(tmp_path)
    autosave.want(Document(design(), CATALOGUE))
    autosave.drop()
    autosave.write()  # a thread that comes late
    assert list(tmp_path.iterdir()) == []


def test_what_is_wanted_while_something_is_written_is_written_next(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    autosave = Autosave(tmp_path)
    real = autosave_module.write_file

    def slowly(path: Path, data: bytes) -> None:
        if b"44.0" in data:
            autosave.want(Document(design(depth_mm=45.0), CATALOGUE))  # an edit in the meantime
        real(path, data)

    monkeypatch.setattr(autosave_module, "write_file", slowly)
    autosave.want(Document(design(depth_mm=44.0), CATALOGUE))
    autosave.write()
    autosave.write()
    autosave.leave()
    (found,) = find_recoverable(tmp_path, CATALOGUE)
    assert found.design.build.depth_mm == 45.0
    found.discard()


def test_what_the_disk_refused_is_tried_again(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    autosave = Autosave(tmp_path)

    def refuse(*_: object) -> None:
        raise StorageError("the disk is full")

    autosave.want(Document(design(depth_mm=44.0), CATALOGUE))
    with monkeypatch.context() as full:
        full.setattr(autosave_module, "write_file", refuse)
        with pytest.raises(StorageError):
            autosave.write()
    autosave.write()
    autosave.leave()
    (found,) = find_recoverable(tmp_path, CATALOGUE)
    assert found.design.build.depth_mm == 44.0
    found.discard()


def test_what_cannot_be_read_hides_nothing_and_stays(tmp_path: Path) -> None:
    keep(tmp_path, 44.0).leave()
    text = encode_design(design()).decode()
    (tmp_path / "a.keep").write_bytes(b"{}")
    (tmp_path / "b.keep").write_bytes(b"\x00")
    (tmp_path / "c.keep").symlink_to(tmp_path / "nowhere")
    for index, number in enumerate(("1" + "0" * 400, "1e999", "9" * 5000, "-1e400")):
        huge = text.replace('"depth_mm": 30.0', f'"depth_mm": {number}')
        assert huge != text
        (tmp_path / f"d{index}.keep").write_bytes(msgspec.json.encode({"path": None, "design": huge}))
    (tmp_path / "e.keep").write_bytes(b'{"path": null, "design": ' + b"[" * 100_000)
    (tmp_path / "f.keep").mkdir()
    os.mkfifo(tmp_path / "g.keep")
    found = find_recoverable(tmp_path, CATALOGUE)
    assert depths(found) == [44.0]
    found[0].put_back()
    assert len(list(tmp_path.glob("*.keep"))) == 11
    assert find_recoverable(tmp_path / "none", CATALOGUE) == []


def test_the_offer_knows_whether_the_file_has_changed_since(tmp_path: Path) -> None:
    path = tmp_path / NOT_UTF8
    Document(design(), CATALOGUE).save(path)
    crash_with(tmp_path / "kept", path, 44.0)
    (found,) = find_recoverable(tmp_path / "kept", CATALOGUE)
    assert found.path == path
    assert not found.file_changed()
    path.write_bytes(encode_design(design(depth_mm=71.0)))
    assert found.file_changed()
    path.unlink()
    assert not found.file_changed()
    found.put_back()


def test_a_folder_without_locks_still_keeps(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    import fcntl

    def refuse(*_: object) -> None:
        raise OSError(95, "not supported")

    monkeypatch.setattr(fcntl, "flock", refuse)
    keep(tmp_path, 44.0)
    found = find_recoverable(tmp_path, CATALOGUE)
    assert depths(found) == [44.0]
    found[0].discard()
    assert list(tmp_path.iterdir()) == []
