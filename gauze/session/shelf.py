"""The shelf: a builder's own sheets, kept from one design to the next."""

import contextlib
from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

import msgspec
import platformdirs

from gauze.core.errors import FormatError
from gauze.core.materials import OwnDiffuser
from gauze.session.storage import read_file, write_file

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
    except msgspec.MsgspecError as error:
        aside = path.with_suffix(".damaged")
        with contextlib.suppress(OSError):
            path.replace(aside)
        raise FormatError(
            f"The shelf of your own sheets could not be read ({error}). It was put aside as “{aside}”; "
            "the shelf starts empty."
        ) from None


def save_shelf(sheets: Sequence[OwnDiffuser], path: Path) -> None:
    """Write the own sheets; raises :class:`StorageError` when the disk refuses."""
    with contextlib.suppress(OSError):  # a folder that cannot be made is reported by the write below
        path.parent.mkdir(parents=True, exist_ok=True)
    body = msgspec.json.encode(_ShelfFile(_FORMAT, _VERSION, tuple(sheets)))
    write_file(path, msgspec.json.format(body, indent=2) + b"\n")


def put_on_shelf(sheets: Sequence[OwnDiffuser], sheet: OwnDiffuser) -> tuple[OwnDiffuser, ...]:
    """Add a sheet, in place of one with the same id."""
    return (*(other for other in sheets if other.id != sheet.id), sheet)
