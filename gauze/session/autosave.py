"""Unsaved work kept beside the settings, and found again after a crash."""

import contextlib
import os
import uuid
from dataclasses import dataclass
from pathlib import Path

import msgspec

from gauze.core.design import Design
from gauze.core.errors import GauzeError
from gauze.core.formats.design_file import MOST_BYTES, decode_design, encode_design
from gauze.core.materials import Catalogue
from gauze.session.storage import read_file, write_file


class _Keep(msgspec.Struct):
    """What an autosave file holds: who wrote it, which file it belongs to, the design file's text."""

    process: int
    path: str | None
    design: str


@dataclass(frozen=True)
class Recovered:
    """Unsaved work of an application that is no longer running."""

    kept_in: Path
    path: Path | None
    design: Design


class Autosave:
    """Keeps one document's unsaved state in a folder."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._file = folder / f"{uuid.uuid4().hex}.keep"

    def keep(self, design: Design, path: Path | None) -> None:
        """Write the state; raises :class:`StorageError` when the disk refuses."""
        with contextlib.suppress(OSError):  # a folder that cannot be made is reported by the write below
            self._folder.mkdir(parents=True, exist_ok=True)
        keep = _Keep(os.getpid(), str(path.absolute()) if path else None, encode_design(design).decode())
        write_file(self._file, msgspec.json.encode(keep))

    def drop(self) -> None:
        """Forget the kept state: the work is saved, or was discarded on purpose."""
        with contextlib.suppress(OSError):
            self._file.unlink(missing_ok=True)


def find_recoverable(folder: Path, catalogue: Catalogue) -> list[Recovered]:
    """Return the unsaved work of processes that have died, newest first; what cannot be read is left alone."""
    found = []
    with contextlib.suppress(OSError):
        for file in sorted(folder.glob("*.keep"), key=lambda file: file.stat().st_mtime, reverse=True):
            with contextlib.suppress(GauzeError, msgspec.MsgspecError):
                keep = msgspec.json.decode(read_file(file, 2 * MOST_BYTES), type=_Keep)
                if not _is_running(keep.process):
                    design = decode_design(keep.design.encode(), catalogue)
                    found.append(Recovered(file, Path(keep.path) if keep.path else None, design))
    return found


def discard(recovered: Recovered) -> None:
    """Remove kept work that was taken over or declined."""
    with contextlib.suppress(OSError):
        recovered.kept_in.unlink(missing_ok=True)


def _is_running(process: int) -> bool:
    if process == os.getpid():
        return True
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True
