"""The shelf: a builder's own sheets, kept from one design to the next."""

import contextlib
from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

import msgspec
import platformdirs

from gauze.core.errors import FormatError
from gauze.core.materials import OwnDiffuser
from gauze.core.printable import printable
from gauze.session.edits import free_id
from gauze.session.storage import UNREADABLE, exclusive, read_file, write_file

_MOST_BYTES = 2_000_000
_FORMAT, _VERSION = "gauze-shelf", 1


class _ShelfFile(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    format: str
    format_version: Annotated[int, msgspec.Meta(ge=1, le=_VERSION)]
    own_diffusers: tuple[OwnDiffuser, ...]


def shelf_path() -> Path:
    """Return where the shelf is kept."""
    return Path(platformdirs.user_data_dir("gauze")) / "shelf.json"


def load_shelf(path: Path) -> tuple[OwnDiffuser, ...]:
    """Read the own sheets; none where there is no file yet.

    Raises
    ------
    StorageError
        When the file is there and cannot be read.
    FormatError
        When it is damaged. It has been put aside under another name by then, so that a new one may be written.
    """
    if not path.exists():
        return ()
    data = read_file(path, _MOST_BYTES)
    try:
        return msgspec.json.decode(data, type=_ShelfFile).own_diffusers
    except UNREADABLE as error:
        aside = path.with_suffix(".damaged")
        with contextlib.suppress(OSError):
            path.replace(aside)
        raise FormatError(
            "The shelf of your own sheets could not be read ({error}). It was put aside as “{aside}”;"
            " the shelf starts empty.",
            error=printable(str(error), 160),
            aside=aside,
        ) from None


def add_to_shelf(sheet: OwnDiffuser, path: Path) -> tuple[tuple[OwnDiffuser, ...], OwnDiffuser]:
    """Put a sheet on the shelf as it is on the disk now; return all of them, and the sheet as it is kept.

    What another window has put there meanwhile stays: should that have the same id, the new sheet gets another.

    Raises
    ------
    StorageError, FormatError
        As :func:`load_shelf`, and when the disk refuses.
    """
    with exclusive(path):
        sheets, kept = put_on_shelf(load_shelf(path), sheet)
        _save(sheets, path)
    return sheets, kept


def put_on_shelf(sheets: Sequence[OwnDiffuser], sheet: OwnDiffuser) -> tuple[tuple[OwnDiffuser, ...], OwnDiffuser]:
    """Add a sheet, under another id where its own belongs to other readings; return all sheets and the one added."""
    if sheet in sheets:
        return tuple(sheets), sheet
    kept = msgspec.structs.replace(sheet, id=free_id(sheet.id, {other.id for other in sheets}))
    return (*sheets, kept), kept


def _save(sheets: Sequence[OwnDiffuser], path: Path) -> None:
    with contextlib.suppress(OSError):  # a folder that cannot be made is reported by the write below
        path.parent.mkdir(parents=True, exist_ok=True)
    body = msgspec.json.encode(_ShelfFile(_FORMAT, _VERSION, tuple(sheets)))
    write_file(path, msgspec.json.format(body, indent=2) + b"\n")
