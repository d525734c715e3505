"""The shelf: a builder's own sheets, and all that lies there with a label, kept from one design to the next."""

import contextlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Annotated

import msgspec
import platformdirs

from gauze.core.design.design import OWN_PREFIX
from gauze.core.design.labels import read_label
from gauze.core.design.making import LONGEST_KEY
from gauze.core.errors import DesignError, FormatError
from gauze.core.materials import Catalogue, OwnDiffuser
from gauze.core.materials.labels import Lamp, ModuleLabel, StripLabel, Thing
from gauze.core.printable import printable
from gauze.session.edits import free_id
from gauze.session.storage import UNREADABLE, exclusive, read_file, write_file

MOST_THINGS = 5000
MOST_PRICES = 2000
PriceKey = Annotated[str, msgspec.Meta(max_length=LONGEST_KEY)]
Price = Annotated[float, msgspec.Meta(ge=0, le=1_000_000)]
_MOST_BYTES = 8_000_000
_FORMAT, _VERSION = "gauze-shelf", 1


@dataclass(frozen=True)
class Shelf:
    """Measured ``sheets``, and ``things`` by their labels; ids differ among each. ``prices`` are those last paid, by material."""

    sheets: tuple[OwnDiffuser, ...] = ()
    things: tuple[Thing, ...] = ()
    prices: Mapping[str, float] = field(default_factory=dict)

    @property
    def lamps(self) -> tuple[Lamp, ...]:
        """The strips and modules, which a design may be lit by."""
        return tuple(thing for thing in self.things if isinstance(thing, StripLabel | ModuleLabel))

    def with_sheet(self, sheet: OwnDiffuser) -> tuple["Shelf", OwnDiffuser]:
        """Add a sheet, under another id where its own belongs to other readings; return the shelf and the sheet."""
        if sheet in self.sheets:
            return self, sheet
        kept = msgspec.structs.replace(sheet, id=free_id(sheet.id, {other.id for other in self.sheets}))
        return replace(self, sheets=(*self.sheets, kept)), kept

    def with_thing(self, thing: Thing) -> "Shelf":
        """Put a thing in place of the one of its id, or behind all others."""
        if any(other.id == thing.id for other in self.things):
            return replace(self, things=tuple(thing if other.id == thing.id else other for other in self.things))
        return replace(self, things=(*self.things, thing))

    def with_price(self, key: str, price: float) -> "Shelf":
        """Keep the price of a material; of too many the oldest is forgotten."""
        prices = {one: self.prices[one] for one in self.prices if one != key} | {key: price}
        return replace(self, prices=dict(list(prices.items())[-MOST_PRICES:]))

    def without(self, thing_id: str) -> "Shelf":
        """Take a thing away."""
        return replace(self, things=tuple(thing for thing in self.things if thing.id != thing_id))

    def with_all(self, things: Sequence[Thing]) -> "Shelf":
        """Add things, each under an id of its own; one that is there already under another id is not added again."""
        shelf = self
        for thing in things:
            alike = (msgspec.structs.replace(other, id=thing.id) for other in shelf.things)
            if thing not in alike:
                shelf = shelf.with_thing(msgspec.structs.replace(thing, id=shelf.free_id(thing.name)))
        return shelf

    def free_id(self, name: str) -> str:
        """Return an id for a new thing of a name."""
        words = "-".join("".join(letter if letter.isalnum() else " " for letter in name.lower()).split())[:40]
        return free_id(OWN_PREFIX + (words or "thing"), {thing.id for thing in self.things})


def usable(shelf: Shelf, catalogue: Catalogue) -> Shelf:
    """Leave out the things whose labels cannot be read, such as one like a row that the catalogue no longer has."""

    def can_be(thing: Thing) -> bool:
        try:
            read_label(thing, catalogue)
        except DesignError:
            return False
        return True

    return replace(shelf, things=tuple(thing for thing in shelf.things if can_be(thing)))


class _ShelfFile(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    format: str
    format_version: Annotated[int, msgspec.Meta(ge=1, le=_VERSION)]
    own_diffusers: tuple[OwnDiffuser, ...]
    things: tuple[Thing, ...] = ()
    prices: dict[PriceKey, Price] = {}


def shelf_path() -> Path:
    """Return where the shelf is kept."""
    return Path(platformdirs.user_data_dir("gauze")) / "shelf.json"


def load_shelf(path: Path) -> Shelf:
    """Read the shelf; an empty one where there is no file yet.

    Raises
    ------
    StorageError
        When the file is there and cannot be read.
    FormatError
        When it is damaged. It has been put aside under another name by then, so that a new one may be written.
    """
    if not path.exists():
        return Shelf()
    data = read_file(path, _MOST_BYTES)
    try:
        file = msgspec.json.decode(data, type=_ShelfFile)
    except UNREADABLE as error:
        aside = path.with_suffix(".damaged")
        with contextlib.suppress(OSError):
            path.replace(aside)
        raise FormatError(
            "The shelf could not be read ({error}). It was put aside as “{aside}”; the shelf starts empty.",
            error=printable(str(error), 160),
            aside=aside,
        ) from None
    return Shelf(file.own_diffusers, file.things, file.prices)


def change_shelf(path: Path, change: Callable[[Shelf], Shelf]) -> Shelf:
    """Change the shelf as it is on the disk now, so that what another window has put there stays; return it.

    Raises
    ------
    StorageError, FormatError
        As :func:`load_shelf`, and when the disk refuses.
    """
    with exclusive(path):
        shelf = change(load_shelf(path))
        _save(shelf, path)
    return shelf


def _save(shelf: Shelf, path: Path) -> None:
    if len(shelf.things) > MOST_THINGS:
        raise FormatError("The shelf holds at most {most} things: take some away first.", most=MOST_THINGS)
    with contextlib.suppress(OSError):  # a folder that cannot be made is reported by the write below
        path.parent.mkdir(parents=True, exist_ok=True)
    body = msgspec.json.encode(_ShelfFile(_FORMAT, _VERSION, shelf.sheets, shelf.things, dict(shelf.prices)))
    write_file(path, msgspec.json.format(body, indent=2) + b"\n")
