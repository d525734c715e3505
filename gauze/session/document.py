"""The open document: a design, where it is saved, and every edit since, to be undone and redone."""

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from gauze.core.design import Design
from gauze.core.errors import ChangedOnDiskError
from gauze.core.families import lay_out
from gauze.core.formats.design_file import MOST_BYTES, decode_design, encode_design
from gauze.core.layout import Layout
from gauze.core.materials import Catalogue
from gauze.session.storage import FileStamp, differs, read_file, same_file, stamp_of, write_file

_MOST_EDITS = 1000


@dataclass(frozen=True)
class Edit:
    """A named change. ``gesture`` is the same for all steps of one drag, which undo as one."""

    name: str
    before: Design
    after: Design
    gesture: object | None = None


class Document:
    """A design that can be edited; every design in it stands (it lays out).

    ``on_change`` is called after every change of the design, the path or the saved state. ``stamp`` is what its file held
    when it was last read or written here; None where there is no file, or it is not known.
    """

    def __init__(
        self, design: Design, catalogue: Catalogue, path: Path | None = None, stamp: FileStamp | None = None
    ) -> None:
        self._catalogue = catalogue
        self._layout = lay_out(design, catalogue)
        self._design = design
        self._saved: Design | None = design
        self.path = path
        self.stamp = stamp
        self._done: list[Edit] = []
        self._undone: list[Edit] = []
        self._seen = _mark_of(path)
        self.on_change: Callable[[], None] = lambda: None

    @classmethod
    def open(cls, path: Path, catalogue: Catalogue) -> "Document":
        """Read a document from disk.

        Raises
        ------
        StorageError, FormatError, DesignError
            When it cannot be read, is no design, or is invalid.
        """
        data = read_file(path, MOST_BYTES)
        return cls(decode_design(data, catalogue), catalogue, path, stamp_of(data))

    @property
    def design(self) -> Design:
        """The design as it stands."""
        return self._design

    @property
    def layout(self) -> Layout:
        """The design laid out."""
        return self._layout

    @property
    def modified(self) -> bool:
        """Whether the design differs from what is saved."""
        return self._design != self._saved

    @property
    def undo_name(self) -> str | None:
        """Name of the edit that undo would take back."""
        return self._done[-1].name if self._done else None

    @property
    def redo_name(self) -> str | None:
        """Name of the edit that redo would bring back."""
        return self._undone[-1].name if self._undone else None

    def apply(self, design: Design, name: str, gesture: object | None = None, layout: Layout | None = None) -> None:
        """Put a changed design in place; ``layout`` is the design laid out, where that is known already.

        Raises
        ------
        DesignError
            When it is invalid; the design stays as it was.
        """
        if design == self._design:
            return
        layout = layout or lay_out(design, self._catalogue)
        last = self._done[-1] if self._done else None
        if gesture is not None and last is not None and last.gesture == gesture:
            self._done[-1] = Edit(name, last.before, design, gesture)
        else:
            self._done.append(Edit(name, self._design, design, gesture))
            del self._done[:-_MOST_EDITS]
        self._undone.clear()
        self._design, self._layout = design, layout
        self.on_change()

    def undo(self) -> None:
        """Take the last edit back, if there is one."""
        if self._done:
            edit = self._done.pop()
            self._undone.append(edit)
            self._restore(edit.before)

    def redo(self) -> None:
        """Bring the edit last taken back into force again, if there is one."""
        if self._undone:
            edit = self._undone.pop()
            self._done.append(Edit(edit.name, edit.before, edit.after))
            self._restore(edit.after)

    def save(self, path: Path, *, over_changes: bool = False) -> None:
        """Write the design atomically.

        Raises
        ------
        ChangedOnDiskError
            When it is the document's own file and another program has written to it since, unless ``over_changes``.
        StorageError
            When it cannot be written. Either way the design stays modified and the file as it is.
        """
        own = self.path is not None and (path == self.path or same_file(path, self.path))
        if own and not over_changes and self.changed_on_disk():
            raise ChangedOnDiskError(
                "“{name}” was changed by another program since it was opened here.", name=path.name
            )
        data = encode_design(self._design)
        write_file(path, data)
        self.path, self.stamp, self._seen = path, stamp_of(data), _mark_of(path)
        self._saved = self._design
        self.on_change()

    def changed_on_disk(self) -> bool:
        """Whether the file holds something else than when it was last read or written here; one that is gone does not."""
        return self.path is not None and differs(self.path, self.stamp, MOST_BYTES)

    def changed_on_disk_anew(self) -> bool:
        """Whether the file was changed by another program, as :meth:`changed_on_disk`; once for each change.

        Cheap while its date and size stay, so that it can be asked whenever the window comes to the front.
        """
        mark = _mark_of(self.path)
        if mark is None or mark == self._seen:
            return False
        self._seen = mark
        return self.changed_on_disk()

    def mark_unsaved(self) -> None:
        """Treat the design as differing from any file, as after a recovery."""
        self._saved = None
        self.on_change()

    def _restore(self, design: Design) -> None:
        self._design, self._layout = design, lay_out(design, self._catalogue)
        self.on_change()


def _mark_of(path: Path | None) -> tuple[int, int, int] | None:
    """What changes with a file whenever it is written, known without reading it; None where there is none."""
    try:
        status = path.stat() if path is not None else None
    except OSError:
        return None
    return None if status is None else (status.st_ino, status.st_size, status.st_mtime_ns)
