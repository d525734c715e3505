"""Pictures of the builder's own that are kept with a build: by their path, found again where the folder has moved."""

from pathlib import Path

from gauze.core.printable import printable_path
from gauze.session.storage import path_of, path_text

BESIDE = "pictures"  # a folder beside the design in which they are looked for as well


def picture_text(path: Path) -> str:
    """Return what is kept of a picture: where it lies now."""
    return path_text(path)


def picture_name(text: str) -> str:
    """Name of a kept picture, fit to be shown."""
    return printable_path(path_of(text).name)


def find_picture(text: str, design_path: Path | None) -> Path | None:
    """Return where a kept picture is: at its path, or by its name beside the design or in its folder of pictures.

    None where it is gone.
    """
    kept = path_of(text)
    places = [kept]
    if design_path is not None:
        places += [design_path.parent / kept.name, design_path.parent / BESIDE / kept.name]
    for place in places:
        try:
            if place.is_file():
                return place
        except (OSError, ValueError):
            continue
    return None
