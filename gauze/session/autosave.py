"""Unsaved work kept beside the settings, and found again after a crash.

Each open document that differs from its file has a ``.keep`` file and a lock beside it, held as long as the window lives. The
kernel lets go of the lock when the process ends in any way, so whatever is not locked is left over from a crash; process
numbers, which are used again, play no part. A kept file goes only when its work was saved or the builder says so.
"""

import contextlib
import fcntl
import os
import threading
import uuid
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

import msgspec

from gauze.core.design import Design
from gauze.core.errors import GauzeError
from gauze.core.formats.design_file import MOST_BYTES, decode_design, encode_design
from gauze.core.materials import Catalogue
from gauze.session.document import Document
from gauze.session.storage import UNREADABLE, FileStamp, differs, path_of, path_text, read_file, write_file

_KEPT, _LOCK = ".keep", ".lock"


class _Keep(msgspec.Struct):
    """What an autosave file holds: which file it belongs to, what that held, the design file's text."""

    path: str | None
    design: str
    stamp: FileStamp | None = None


class _Lock:
    """The lock of one kept file; only one living window has it."""

    def __init__(self, file: Path, handle: int | None) -> None:
        self._file, self._handle = file, handle

    @classmethod
    def take(cls, file: Path) -> "_Lock | None":
        """Take it, or return None when another window has it; a file system without locks gives one that holds nobody."""
        try:
            handle = os.open(file, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
        except OSError:
            return cls(file, None)
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            os.close(handle)
            return None
        except OSError:
            os.close(handle)
            return cls(file, None)
        return cls(file, handle)

    def release(self, *, remove: bool) -> None:
        """Let another window have it; ``remove`` it when there is nothing left to lock."""
        if remove:
            with contextlib.suppress(OSError):
                self._file.unlink(missing_ok=True)
        if self._handle is not None:
            os.close(self._handle)
            self._handle = None


class Autosave:
    """Keeps one document's unsaved state in a folder. :meth:`want` is called by the window, :meth:`write` by any thread."""

    def __init__(self, folder: Path, adopted: "Recovered | None" = None) -> None:
        self._folder = folder
        self._changing = threading.Lock()
        self._wanted: tuple[Design, Path | None, FileStamp | None] | None = None
        if adopted is None:
            self._file = folder / f"{uuid.uuid4().hex}{_KEPT}"
            self._lock: _Lock | None = None
        else:  # what was found is kept on where it lies, and is never for a moment on no disk
            self._file, self._lock = adopted.kept_in, adopted.hand_over()

    def want(self, document: Document) -> None:
        """Take the state down, to be written by the next :meth:`write`."""
        self._wanted = (document.design, document.path, document.stamp)

    def write(self) -> None:
        """Write what is wanted, if anything is; raises :class:`StorageError` when the disk refuses."""
        with self._changing:
            wanted, self._wanted = self._wanted, None  # what is wanted while this is written is left for the next
            if wanted is None:
                return
            try:
                self._write(*wanted)
            except GauzeError:
                self._put_back(wanted)
                raise

    def _put_back(self, wanted: tuple[Design, Path | None, FileStamp | None]) -> None:
        """Let a later write try again what the disk has refused, unless something newer is wanted by then."""
        if self._wanted is None:
            self._wanted = wanted

    def _write(self, design: Design, path: Path | None, stamp: FileStamp | None) -> None:
        with contextlib.suppress(OSError):  # a folder that cannot be made is reported by the write below
            self._folder.mkdir(parents=True, exist_ok=True)
        if self._lock is None:
            self._lock = _Lock.take(self._file.with_suffix(_LOCK))
        keep = _Keep(path_text(path) if path else None, encode_design(design).decode(), stamp)
        write_file(self._file, msgspec.json.encode(keep))

    def drop(self) -> None:
        """Forget the kept state: the work is saved, or was discarded on purpose."""
        with self._changing:
            self._wanted = None
            with contextlib.suppress(OSError):
                self._file.unlink(missing_ok=True)
            if self._lock is not None:
                self._lock.release(remove=True)
                self._lock = None

    def leave(self) -> None:
        """End without forgetting: what is kept is found by the next start."""
        with self._changing:
            if self._lock is not None:
                self._lock.release(remove=False)
                self._lock = None


@dataclass
class Recovered:
    """Unsaved work of a window that is gone, claimed by this one until it is handed over, put back or discarded."""

    kept_in: Path
    path: Path | None
    stamp: FileStamp | None
    design: Design
    kept_at: datetime
    _lock: _Lock | None = None

    def file_changed(self) -> bool:
        """Whether the file that the work belongs to holds something else than when the work began."""
        return self.path is not None and differs(self.path, self.stamp, MOST_BYTES)

    def hand_over(self) -> _Lock | None:
        """Hand the lock over to the next keeper of the work."""
        lock, self._lock = self._lock, None
        return lock

    def put_back(self) -> None:
        """Leave it as it is, to be found again."""
        if self._lock is not None:
            self._lock.release(remove=False)
            self._lock = None

    def discard(self) -> None:
        """Delete it: the builder said so, or it is saved elsewhere."""
        with contextlib.suppress(OSError):
            self.kept_in.unlink(missing_ok=True)
        if self._lock is not None:
            self._lock.release(remove=True)
            self._lock = None


def find_recoverable(folder: Path, catalogue: Catalogue) -> list[Recovered]:
    """Claim the unsaved work of windows that are gone, newest first; what cannot be read is left alone where it lies."""
    found = []
    for file in _listed(folder):
        lock = _Lock.take(file.with_suffix(_LOCK))
        if lock is None:
            continue  # a window that lives, or that is offering it at this moment
        try:
            found.append(_read(file, lock, catalogue))
        except (GauzeError, OSError, *UNREADABLE):
            lock.release(remove=not file.exists())
    return sorted(found, key=lambda one: one.kept_at, reverse=True)


def _listed(folder: Path) -> list[Path]:
    try:
        return sorted(folder.glob(f"*{_KEPT}"))
    except OSError:
        return []


def _read(file: Path, lock: _Lock, catalogue: Catalogue) -> Recovered:
    keep = msgspec.json.decode(read_file(file, 2 * MOST_BYTES), type=_Keep)
    return Recovered(
        kept_in=file,
        path=path_of(keep.path) if keep.path else None,
        stamp=keep.stamp,
        design=decode_design(keep.design.encode(), catalogue),
        kept_at=datetime.fromtimestamp(file.stat().st_mtime, UTC),
        _lock=lock,
    )
