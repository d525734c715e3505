"""Files: nothing lost, nothing but regular files touched, links and owners kept, other programs' changes noticed."""

import errno
import os
import stat
import threading
from collections.abc import Callable
from pathlib import Path

import pytest

from gauze.core.errors import ChangedOnDiskError, StorageError
from gauze.core.formats.design_file import encode_design
from gauze.core.materials import OwnDiffuser
from gauze.session import edits, storage
from gauze.session.document import Document
from gauze.session.settings import Settings, load_settings, save_settings
from gauze.session.shelf import change_shelf, load_shelf
from gauze.session.storage import check_output, path_of, path_text, read_file, write_file
from tests.builders import CATALOGUE, design

NOT_UTF8 = os.fsdecode(b"pan\xffel.gauze")


def test_a_missing_folder_is_explained(tmp_path: Path) -> None:
    with pytest.raises(StorageError, match="does not exist"):
        write_file(tmp_path / "nowhere" / "a.gauze", b"x")


def test_writing_keeps_the_mode_of_the_file(tmp_path: Path) -> None:
    path = tmp_path / "a.gauze"
    path.write_bytes(b"old")
    path.chmod(0o640)
    write_file(path, b"new")
    assert path.stat().st_mode & 0o777 == 0o640
    assert read_file(path, 100) == b"new"
    assert len(read_file(path, 1)) == 2  # one more than asked, to show that it is too long


def test_a_new_file_gets_what_the_mask_allows(tmp_path: Path) -> None:
    before = os.umask(0o027)
    try:
        write_file(tmp_path / "a.gauze", b"new")
    finally:
        os.umask(before)
    assert stat.S_IMODE((tmp_path / "a.gauze").stat().st_mode) == 0o640


@pytest.mark.skipif(os.geteuid() != 0, reason="only root can give a file away")
def test_writing_keeps_owner_and_group(tmp_path: Path) -> None:
    path = tmp_path / "a.gauze"
    path.write_bytes(b"old")
    os.chown(path, 12345, 23456)
    write_file(path, b"new")
    assert (path.stat().st_uid, path.stat().st_gid) == (12345, 23456)


def test_where_the_owner_cannot_be_kept_the_file_itself_is_written(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "a.gauze"
    path.write_bytes(b"old and longer than what comes")
    inode = path.stat().st_ino
    real = os.fstat

    def another_owner(handle: int) -> os.stat_result:
        found = real(handle)
        return os.stat_result((*found[:4], found.st_uid + 1, *found[5:]))

    def refuse(*_: object) -> None:
        raise PermissionError(errno.EPERM, "not yours")

    monkeypatch.setattr(os, "fchown", refuse)
    monkeypatch.setattr(storage.os, "fstat", another_owner)
    write_file(path, b"new")
    assert path.read_bytes() == b"new"
    assert path.stat().st_ino == inode
    assert [entry.name for entry in tmp_path.iterdir() if entry.is_file()] == ["a.gauze"]


def test_links_are_followed_and_stay(tmp_path: Path) -> None:
    (tmp_path / "far").mkdir()
    file = tmp_path / "far" / "panel.gauze"
    file.write_bytes(b"old")
    link = tmp_path / "link.gauze"
    link.symlink_to(file)
    write_file(link, b"new")
    assert link.is_symlink()
    assert file.read_bytes() == b"new"
    dangling = tmp_path / "dangling.gauze"
    dangling.symlink_to(tmp_path / "far" / "other.gauze")
    write_file(dangling, b"made")
    assert dangling.is_symlink()
    assert (tmp_path / "far" / "other.gauze").read_bytes() == b"made"
    loop = tmp_path / "loop.gauze"
    loop.symlink_to(loop)
    with pytest.raises(StorageError, match="leads back to itself"):
        write_file(loop, b"x")


def test_a_file_with_two_names_keeps_both(tmp_path: Path) -> None:
    one, other = tmp_path / "one.gauze", tmp_path / "other.gauze"
    one.write_bytes(b"old, and longer")
    os.link(one, other)
    write_file(one, b"new")
    assert other.read_bytes() == b"new"
    assert one.samefile(other)


@pytest.mark.parametrize("act", [lambda path: read_file(path, 10), lambda path: write_file(path, b"x"), check_output])
def test_pipes_devices_and_folders_are_refused_at_once(tmp_path: Path, act: Callable[[Path], object]) -> None:
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    for path, reason in ((pipe, "pipe"), (Path("/dev/null"), "device"), (tmp_path, "folder")):
        refused: list[str] = []

        def attempt(path: Path = path, refused: list[str] = refused) -> None:
            try:
                act(path)
            except StorageError as error:
                refused.append(str(error))

        thread = threading.Thread(target=attempt, daemon=True)
        thread.start()
        thread.join(60)
        assert not thread.is_alive(), f"{path} hangs"
        assert reason in refused[0]
    assert stat.S_ISFIFO(pipe.stat().st_mode)
    assert stat.S_ISCHR(Path("/dev/null").stat().st_mode)


def test_the_input_is_no_output(tmp_path: Path) -> None:
    source = tmp_path / "a.gauze"
    source.write_bytes(b"mine")
    (tmp_path / "link").symlink_to(source)
    for out in (source, tmp_path / "link", tmp_path / "." / "a.gauze"):
        with pytest.raises(StorageError, match="what is being read"):
            check_output(out, (source,))
    check_output(tmp_path / "b.gauze", (source,))
    with pytest.raises(StorageError, match=r"folder “.*nowhere” does not exist"):
        check_output(tmp_path / "nowhere" / "b.gauze", (source,))


def test_a_name_that_no_file_can_have_is_refused_in_words(tmp_path: Path) -> None:
    for act in (lambda p: read_file(p, 10), lambda p: write_file(p, b"x"), check_output):
        with pytest.raises(StorageError, match="no file name can have"):
            act(tmp_path / "a\0b")


def test_names_that_are_not_utf8_pass_through(tmp_path: Path) -> None:
    path = tmp_path / NOT_UTF8
    document = Document(design(), CATALOGUE)
    document.save(path)
    assert b"pan\xffel.gauze" in [os.fsencode(entry.name) for entry in tmp_path.iterdir()]
    assert path_of(path_text(path)) == path
    assert path_of(path_text(tmp_path / "plain %41.gauze")) == tmp_path / "plain %41.gauze"
    settings = Settings().with_recent(path)
    save_settings(settings, tmp_path / "settings.json")
    assert load_settings(tmp_path / "settings.json").recent_paths == (path,)
    with pytest.raises(StorageError, match=r"pan\\xffel"):
        read_file(tmp_path / "none" / NOT_UTF8, 10)


def test_a_change_by_another_program_is_not_overwritten(tmp_path: Path) -> None:
    path = tmp_path / "a.gauze"
    mine = Document(design(), CATALOGUE)
    mine.save(path)
    other = Document.open(path, CATALOGUE)
    other.apply(edits.with_build(other.design, depth_mm=55.0), "Depth")
    other.save(path)
    mine.apply(edits.with_build(mine.design, depth_mm=44.0), "Depth")
    assert mine.changed_on_disk()
    with pytest.raises(ChangedOnDiskError):
        mine.save(path)
    (tmp_path / "link.gauze").symlink_to(path)
    with pytest.raises(ChangedOnDiskError):
        mine.save(tmp_path / "link.gauze")
    assert Document.open(path, CATALOGUE).design.build.depth_mm == 55.0
    assert mine.modified
    mine.save(tmp_path / "beside.gauze")
    assert not mine.modified
    other.save(path)  # its own last state: nobody changed that
    path.touch()
    other.save(path)  # another date alone is no change
    path.unlink()
    assert not other.changed_on_disk()
    other.save(path)


def test_a_change_is_noticed_once(tmp_path: Path) -> None:
    path = tmp_path / "a.gauze"
    mine = Document(design(), CATALOGUE)
    mine.save(path)
    assert not mine.changed_on_disk_anew()
    path.write_bytes(encode_design(design(depth_mm=71.0)))
    assert mine.changed_on_disk_anew()
    assert not mine.changed_on_disk_anew()
    path.write_bytes(encode_design(design(depth_mm=72.0)) + b"\n")
    assert mine.changed_on_disk_anew()


def sheet(name: str, lux_with: float) -> OwnDiffuser:
    return OwnDiffuser(id=f"own-{name}", name=name, like="opal-acrylic-3", lux_without=1000.0, lux_with=lux_with)


def test_sheets_measured_in_two_windows_are_both_kept(tmp_path: Path) -> None:
    path = tmp_path / "shelf.json"
    for one in (sheet("a", 500), sheet("b", 600), sheet("a", 700)):  # by windows that have not seen each other's
        shelf = change_shelf(path, lambda shelf, one=one: shelf.with_sheet(one)[0])
    assert load_shelf(path) == shelf
    assert [(one.id, one.lux_with) for one in shelf.sheets] == [("own-a", 500), ("own-b", 600), ("own-a-2", 700)]
    assert shelf.with_sheet(sheet("b", 600))[0] == shelf  # the very same: nothing to add


def test_recent_files_of_two_windows_are_both_kept(tmp_path: Path) -> None:
    path = tmp_path / "settings.json"
    save_settings(Settings().with_recent(tmp_path / "a.gauze"), path)
    save_settings(Settings(theme="light").with_recent(tmp_path / "b.gauze"), path)
    assert load_settings(path).recent_paths == (tmp_path / "b.gauze", tmp_path / "a.gauze")
