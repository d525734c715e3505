"""Reading and writing files so that nothing already saved is ever lost."""

import contextlib
import errno
import os
import tempfile
from pathlib import Path

from gauze.core.errors import StorageError

_REASONS = {
    errno.ENOENT: "it does not exist",
    errno.EACCES: "you may not",
    errno.EPERM: "you may not",
    errno.EROFS: "the disk is read-only",
    errno.ENOSPC: "the disk is full",
    errno.EDQUOT: "your share of the disk is used up",
    errno.EISDIR: "it is a folder",
    errno.ENOTDIR: "a part of its path is no folder",
    errno.ENAMETOOLONG: "its name is too long",
}


def read_file(path: Path, most_bytes: int) -> bytes:
    """Read a file of at most so many bytes (and one, so that the reader sees it is too long).

    Raises
    ------
    StorageError
        When it cannot be read.
    """
    try:
        with path.open("rb") as stream:
            return stream.read(most_bytes + 1)
    except OSError as error:
        raise _refused(f"Could not read “{path}”", error, "Choose another file.") from None


def write_file(path: Path, data: bytes) -> None:
    """Write a file atomically: all of it, or the old one stays.

    The bytes go to a new file beside it, reach the disk, and then take its name.

    Raises
    ------
    StorageError
        When it cannot be written; the old file is untouched.
    """
    try:
        mode = path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~_umask()
        handle, temporary = tempfile.mkstemp(prefix=f".{path.name[:60]}.", dir=path.parent)
        try:
            with os.fdopen(handle, "wb") as stream:
                stream.write(data)
                stream.flush()
                os.fsync(stream.fileno())
            Path(temporary).chmod(mode)
            Path(temporary).replace(path)
        except BaseException:
            with contextlib.suppress(OSError):
                Path(temporary).unlink()
            raise
    except OSError as error:
        raise _refused(
            f"Could not write “{path}”", error, "What was saved before is untouched. Save it somewhere else."
        ) from None


def _umask() -> int:
    current = os.umask(0)
    os.umask(current)
    return current


def _refused(what: str, error: OSError, advice: str) -> StorageError:
    reason = _REASONS.get(error.errno or 0, (error.strerror or str(error)).lower())
    return StorageError(f"{what}: {reason}. {advice}")
