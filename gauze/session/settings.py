"""What the user likes, kept between sittings: one table, sparse on disk."""

import contextlib
from pathlib import Path
from typing import Literal

import msgspec
import platformdirs

from gauze.core.errors import StorageError
from gauze.core.units import LengthUnit
from gauze.session.storage import read_file, write_file

_MOST_RECENT = 8
_MOST_BYTES = 200_000


class Settings(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """All settings with their defaults; only what differs is written."""

    theme: Literal["dark", "light"] = "dark"
    length_unit: Literal["mm", "in"] = "mm"
    recent_files: tuple[str, ...] = ()

    @property
    def unit(self) -> LengthUnit:
        """The unit in which lengths are shown."""
        return LengthUnit(self.length_unit)

    def with_recent(self, path: Path) -> "Settings":
        """Return the settings with a file at the head of the recent ones."""
        head = str(path.absolute())
        files = (head, *(file for file in self.recent_files if file != head))[:_MOST_RECENT]
        return msgspec.structs.replace(self, recent_files=files)


def settings_path() -> Path:
    """Return where the settings are kept."""
    return Path(platformdirs.user_config_dir("gauze")) / "settings.json"


def recovery_folder() -> Path:
    """Return where unsaved work is kept."""
    return Path(platformdirs.user_state_dir("gauze")) / "recovery"


def load_settings(path: Path) -> Settings:
    """Read the settings; a missing or damaged file means the defaults, since nothing of a design is in it."""
    try:
        return msgspec.json.decode(read_file(path, _MOST_BYTES), type=Settings)
    except (StorageError, msgspec.MsgspecError):
        return Settings()


def save_settings(settings: Settings, path: Path) -> None:
    """Write the settings; raises :class:`StorageError` when the disk refuses."""
    with contextlib.suppress(OSError):  # a folder that cannot be made is reported by the write below
        path.parent.mkdir(parents=True, exist_ok=True)
    write_file(path, msgspec.json.format(msgspec.json.encode(settings), indent=2) + b"\n")
