"""What the user likes, kept between sittings: one table, sparse on disk."""

import contextlib
from pathlib import Path
from typing import Annotated, Literal

import msgspec
import platformdirs

from gauze.core.errors import StorageError
from gauze.core.units import LengthUnit
from gauze.session.storage import UNREADABLE, exclusive, path_of, path_text, read_file, write_file

_MOST_RECENT = 8
_MOST_BYTES = 200_000


class Settings(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """All settings with their defaults; only what differs is written."""

    theme: Literal["dark", "light"] = "dark"
    length_unit: Literal["mm", "in"] = "mm"
    language: str = "en"  # ISO 639-1; one that there is no translation for is English
    divider: Annotated[float, msgspec.Meta(ge=0.1, le=0.95)] | None = None  # share of the findings beside the choices
    recent_files: tuple[str, ...] = ()

    @property
    def unit(self) -> LengthUnit:
        """The unit in which lengths are shown."""
        return LengthUnit(self.length_unit)

    @property
    def recent_paths(self) -> tuple[Path, ...]:
        """The files last opened or saved, newest first."""
        return tuple(path_of(text) for text in self.recent_files)

    def with_recent(self, path: Path) -> "Settings":
        """Return the settings with a file at the head of the recent ones."""
        head = path_text(path)
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
    except (StorageError, *UNREADABLE):
        return Settings()


def save_settings(settings: Settings, path: Path) -> None:
    """Write the settings, with the files that another window has put among the recent ones meanwhile.

    Raises
    ------
    StorageError
        When the disk refuses.
    """
    with contextlib.suppress(OSError):  # a folder that cannot be made is reported by the write below
        path.parent.mkdir(parents=True, exist_ok=True)
    with exclusive(path):
        others = (file for file in load_settings(path).recent_files if file not in settings.recent_files)
        merged = msgspec.structs.replace(settings, recent_files=(*settings.recent_files, *others)[:_MOST_RECENT])
        write_file(path, msgspec.json.format(msgspec.json.encode(merged), indent=2) + b"\n")
