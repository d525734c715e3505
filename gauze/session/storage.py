"""Reading and writing files so that nothing already saved is ever lost.

Only regular files are read and written: a pipe would wait forever, a device would be changed. A file is replaced as a
whole, through a new one beside it; links are followed, and owner, group, mode and extended attributes stay.
"""

import contextlib
import errno
import fcntl
import hashlib
import os
import shutil
import stat
import tempfile
import time
import uuid
from collections.abc import Iterator, Mapping
from pathlib import Path
from urllib.parse import unquote_to_bytes, urlsplit

import msgspec

from gauze.core.errors import StorageError, WriteError
from gauze.core.printable import printable_path

_REASONS = {
    errno.ENOENT: "it does not exist",
    errno.EACCES: "you do not have permission",
    errno.EPERM: "you do not have permission",
    errno.EROFS: "the disk is read-only",
    errno.ENOSPC: "the disk is full",
    errno.EDQUOT: "your disk quota is used up",
    errno.EISDIR: "it is a folder",
    errno.ENOTDIR: "part of its path is not a folder",
    errno.ENAMETOOLONG: "its name is too long",
    errno.ELOOP: "its link leads back to itself",
}
_KINDS = {
    stat.S_IFIFO: "it is a pipe, not a file",
    stat.S_IFCHR: "it is a device, not a file",
    stat.S_IFBLK: "it is a device, not a file",
    stat.S_IFSOCK: "it is a socket, not a file",
}
_WRITE_ADVICE = "What was saved before is untouched. Save it somewhere else."
_LOCK_TRIES, _LOCK_PAUSE_S = 50, 0.005
_LONGEST_PREFIX = 60  # bytes of the file's name in the name of the new one beside it


# what decoding JSON raises for bytes that are none, or that hold something else
UNREADABLE = (msgspec.MsgspecError, ValueError, OverflowError, RecursionError)


class _HalfWrittenError(OSError):
    """The disk failed while a file was written in place."""


class FileStamp(msgspec.Struct, frozen=True):
    """What a file held when it was last read or written here: by it a change by another program is noticed."""

    size: int
    sha256: str


def stamp_of(data: bytes) -> FileStamp:
    """Return the stamp of a file that holds these bytes."""
    return FileStamp(len(data), hashlib.sha256(data).hexdigest())


def differs(path: Path, stamp: FileStamp | None, most_bytes: int) -> bool:
    """Whether a file holds something else than a stamp says; one that is gone does not, one that cannot be read does."""
    if not path.exists():
        return False
    try:
        return stamp_of(read_file(path, most_bytes)) != stamp
    except StorageError:
        return True


def read_file(path: Path, most_bytes: int) -> bytes:
    """Read at most this much of a regular file, and one byte more so that the reader sees it is too long.

    Raises
    ------
    StorageError
        When it cannot be read, or is a folder, a pipe or a device.
    """
    try:
        _check_kind(path.stat().st_mode)  # before it is opened: opening alone changes some devices
        with os.fdopen(os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC), "rb") as stream:
            _check_kind(os.fstat(stream.fileno()).st_mode)
            return stream.read(most_bytes + 1)
    except (OSError, ValueError) as error:  # a name with a NUL in it is a ValueError
        what = f"Could not read “{printable_path(path)}”"
        raise StorageError("{what}: {reason}. Choose another file.", what=what, reason=_reason(error)) from None


def write_file(path: Path, data: bytes) -> None:
    """Write a regular file: all of it, or the old one stays.

    The bytes go to a new file beside it, reach the disk, and then take its name. Where another file must not take the
    place (it belongs to someone else, or has several names), the new one is written first and then copied over.

    Raises
    ------
    WriteError
        When it cannot be written, or is a folder, a pipe or a device; the old file is untouched.
    """
    try:
        target = Path(os.path.realpath(path))
        before = _status(target)
        if before is not None:
            _check_kind(before.st_mode)
        _replace(target, data, before)
    except (OSError, ValueError) as error:
        raise _unwritten(path, error, _WRITE_ADVICE) from None


def write_folder(folder: Path, files: Mapping[str, bytes], *, overwrite: bool = False) -> None:
    """Write files into a folder, which is made where it is missing: all of them, or none.

    Raises
    ------
    StorageError
        When one of them is there already and is not to be overwritten.
    WriteError
        When they cannot be written; what was there stays as it was.
    """
    try:
        there = [name for name in files if (folder / name).exists()]
        if there and not overwrite:
            raise StorageError(
                "“{name}” is in the folder already: nothing was written. Choose another folder, or say that it may be "
                "overwritten.",
                name=printable_path(there[0]),
            )
        folder.mkdir(parents=True, exist_ok=True)
        draft = Path(tempfile.mkdtemp(prefix=".gauze-", dir=folder))
    except (OSError, ValueError) as error:
        raise WriteError(
            "The folder “{folder}” cannot be written to: {reason}. Choose another.",
            folder=printable_path(folder),
            reason=(isinstance(error, OSError) and error.strerror) or str(error),
        ) from None
    try:
        for name, data in files.items():
            write_file(draft / name, data)
        for name in files:
            (draft / name).replace(folder / name)
    except OSError as error:
        raise WriteError(
            "“{name}” cannot be written: {reason}.",
            name=printable_path(folder),
            reason=error.strerror or str(error),
        ) from None
    finally:
        with contextlib.suppress(OSError):
            shutil.rmtree(draft)


def free_folder(inside: Path, name: str) -> Path:
    """Return a folder that is not there yet: of a name, with a number behind it where it is taken."""
    number, found = 2, inside / name
    while os.path.lexists(found):
        found, number = inside / f"{name}-{number}", number + 1
    return found


def check_output(path: Path, inputs: tuple[Path, ...] = ()) -> None:
    """See that a file may be written to, before hours are spent on what is to be in it.

    Raises
    ------
    WriteError
        When its folder is missing, it is no regular file, or it is one of the inputs.
    """
    try:
        target = Path(os.path.realpath(path))
        found = _status(target)
        if found is not None:
            _check_kind(found.st_mode)
        elif not target.parent.is_dir():
            raise FileNotFoundError(errno.ENOENT, "")
        same = [one for one in inputs if found is not None and same_file(one, target)]
    except (OSError, ValueError) as error:
        raise _unwritten(path, error, "Choose another file.") from None
    if same:
        raise WriteError(
            "Could not write “{path_}”: it is what is being read. Choose another name, so that your input is kept.",
            path_=printable_path(path),
        )


@contextlib.contextmanager
def exclusive(path: Path) -> Iterator[None]:
    """Hold a lock beside a file while it is read, changed and written, so that two windows do so one after the other.

    Where the file system knows no locks there is none; the write itself is still whole.
    """
    handle = None
    with contextlib.suppress(OSError):
        path.parent.mkdir(parents=True, exist_ok=True)
        handle = os.open(path.with_name(path.name + ".lock"), os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
        _lock_soon(handle)
    try:
        yield
    finally:
        if handle is not None:
            os.close(handle)


def _lock_soon(handle: int) -> None:
    """Take a lock, or go on without it when another window does not let go of it: none may make this one wait forever."""
    for _ in range(_LOCK_TRIES):
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            time.sleep(_LOCK_PAUSE_S)
        else:
            return


def path_text(path: Path) -> str:
    """Return a path as text that JSON can hold: as it is, or as a file URI where its name is not UTF-8."""
    text = os.fspath(path.absolute())
    try:
        text.encode()
    except UnicodeEncodeError:
        return path.absolute().as_uri()
    return text


def path_of(text: str) -> Path:
    """Return the path that :func:`path_text` wrote, or that of a local file URI."""
    if not text.startswith("file:"):
        return Path(text)
    return Path(os.fsdecode(unquote_to_bytes(urlsplit(text).path)))


def _status(path: Path) -> os.stat_result | None:
    try:
        return path.stat()
    except FileNotFoundError:
        return None


def same_file(one: Path, other: Path) -> bool:
    """Whether two paths lead to one file that is there."""
    try:
        return one.samefile(other)
    except OSError:
        return False


def _check_kind(mode: int) -> None:
    """Refuse what is not a regular file; raises :class:`OSError` with the reason in words."""
    if stat.S_ISDIR(mode):
        raise IsADirectoryError(errno.EISDIR, "")
    if not stat.S_ISREG(mode):
        raise OSError(0, _KINDS.get(stat.S_IFMT(mode), "it is not a regular file"))


def _replace(target: Path, data: bytes, before: os.stat_result | None) -> None:
    start = os.fsdecode(os.fsencode(f".{target.name}")[:_LONGEST_PREFIX])
    temporary = target.with_name(f"{start}.{uuid.uuid4().hex}")
    # a new file gets what the mask allows; one that replaces another stays private until it has that one's mode
    mode = 0o666 if before is None else 0o600
    handle = os.open(temporary, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, mode)
    try:
        with os.fdopen(handle, "wb") as stream:
            stream.write(data)
            stream.flush()
            alike = before is None or _take_over(stream.fileno(), target, before)
            os.fsync(stream.fileno())
        if before is not None and (before.st_nlink > 1 or not alike):
            _copy_over(target, data, before.st_size, temporary)
            temporary.unlink()
        else:
            temporary.replace(target)
            _sync_folder(target.parent)
    except _HalfWrittenError:
        raise  # the new file beside it is the only whole one
    except BaseException:
        with contextlib.suppress(OSError):
            temporary.unlink()
        raise


def _take_over(handle: int, target: Path, before: os.stat_result) -> bool:
    """Give a new file owner, group, mode and extended attributes of the old one; False when it cannot have its owner."""
    try:
        os.fchown(handle, before.st_uid, before.st_gid)
    except OSError:
        now = os.fstat(handle)
        if (now.st_uid, now.st_gid) != (before.st_uid, before.st_gid):
            return False
    os.fchmod(handle, stat.S_IMODE(before.st_mode))
    with contextlib.suppress(OSError):
        for name in os.listxattr(target):
            with contextlib.suppress(OSError):
                os.setxattr(handle, name, os.getxattr(target, name))
    return True


def _copy_over(target: Path, data: bytes, old_size: int, whole: Path) -> None:
    """Write into the file itself, with its room on the disk made sure of first; ``whole`` is a copy that is complete."""
    handle = os.open(target, os.O_WRONLY | os.O_CLOEXEC)
    with os.fdopen(handle, "wb", buffering=0) as stream:
        try:
            if data:
                os.posix_fallocate(stream.fileno(), 0, len(data))
        except OSError:
            stream.truncate(old_size)
            raise
        try:
            left = memoryview(data)
            while left:
                left = left[stream.write(left) :]
            stream.truncate()
            os.fsync(stream.fileno())
        except OSError as error:
            raise _HalfWrittenError(
                error.errno, f"{error.strerror}; all of it is in “{printable_path(whole)}”"
            ) from error


def _sync_folder(folder: Path) -> None:
    """Let the new name reach the disk, where the file system can be asked for it."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _unwritten(path: Path, error: OSError | ValueError, advice: str) -> WriteError:
    what = f"Could not write “{printable_path(path)}”"
    if isinstance(error, _HalfWrittenError):
        return WriteError(
            "{what}: {strerror}. Copy that file to a disk that works.", what=what, strerror=error.strerror
        )
    if isinstance(error, FileNotFoundError):
        folder = printable_path(path.parent)
        return WriteError(
            "{what}: the folder “{folder}” does not exist. Make it, or choose another.", what=what, folder=folder
        )
    return WriteError("{what}: {reason}. {advice}", what=what, reason=_reason(error), advice=advice)


def _reason(error: OSError | ValueError) -> str:
    if isinstance(error, OSError):
        return _REASONS.get(error.errno or 0) or error.strerror or str(error)
    return "its name holds a character that no file name can have"
