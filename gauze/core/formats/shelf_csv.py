"""The shelf as a table: CSV with a line of names and a line for each thing. See docs/shelf.md."""

import csv
import io
import types
import typing
from collections.abc import Mapping, Sequence
from typing import Any

import msgspec

from gauze.core.design.labels import read_label
from gauze.core.errors import DesignError, FormatError
from gauze.core.formats.json_reading import plain_words
from gauze.core.formats.table_reading import text_of
from gauze.core.materials import Catalogue
from gauze.core.materials.labels import KINDS, Label, Thing
from gauze.core.printable import printable
from gauze.core.words import Fixed

MOST_BYTES = 4_000_000
MOST_LINES = 5_000
_MOST_TOLD = 50
_FIRST = ("kind", "name", "on_hand")
_YES, _NO = ("yes", "true", "1"), ("no", "false", "0")
_ID = "own-import"  # of what is read; whoever puts it on a shelf gives it one of its own


def key_of(kind: type[Label]) -> str:
    """Return the word for a kind in a table and a file."""
    return str(kind.__struct_config__.tag)


BY_KEY: Mapping[str, type[Label]] = {key_of(kind): kind for kind in KINDS}
COLUMNS = tuple(
    dict.fromkeys(
        (*_FIRST, *(name for kind in KINDS for name in kind.__struct_fields__ if name not in ("id", *_FIRST)))
    )
)


def encode_shelf(things: Sequence[Thing]) -> bytes:
    """Write things as a table, with the columns that any of them fills."""
    rows = [_written(thing) for thing in things]
    used = [name for name in COLUMNS if name in _FIRST or any(row.get(name) for row in rows)]
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(used)
    table.writerows([row.get(name, "") for name in used] for row in rows)
    return out.getvalue().encode()


def _written(thing: Thing) -> dict[str, str]:
    row = {"kind": key_of(type(thing))}
    for name in thing.__struct_fields__:
        value = getattr(thing, name)
        if name == "id" or value is None:
            continue
        row[name] = (
            ("yes" if value else "no")
            if isinstance(value, bool)
            else f"{value:.12g}"
            if isinstance(value, float)
            else str(value)
        )
    return row


def decode_shelf(data: bytes, catalogue: Catalogue) -> tuple[Thing, ...]:
    """Read a table of things; empty cells stand for what a label does not say.

    Raises
    ------
    FormatError
        When the table cannot be read, or a thing in it cannot be; its message has a line for each such row, with its number.
    """
    text = _text(data)
    mark = max(",;\t", key=text.split("\n", 1)[0].count)
    try:
        lines = [
            (n, row)
            for n, row in _numbered(text, mark)
            if any(cell.strip() for cell in row) and not row[0].lstrip().startswith("#")
        ]
    except csv.Error as error:
        raise FormatError("The table cannot be read: {error}. Correct the quotes.", error=str(error)) from None
    if not lines:
        raise FormatError(
            "The table is empty. Give a line of names (kind, name, on_hand, …) and a line for each thing."
        )
    names = [name.strip().lower() for name in lines[0][1]]
    _check_names(names, lines[0][0])
    things, problems = [], []
    for number, row in lines[1:]:
        try:
            things.append(_thing(row, names, mark, catalogue))
        except (DesignError, ValueError) as error:
            problems.append(f"Line {number}: {error}")
    if problems:
        more = [f"And {len(problems) - _MOST_TOLD} more lines."] if len(problems) > _MOST_TOLD else []
        raise FormatError("\n".join([*problems[:_MOST_TOLD], *more]))
    if not things:
        raise FormatError("The table has names but no things. Add a line for each.")
    return tuple(things)


def _text(data: bytes) -> str:
    if len(data) > MOST_BYTES:
        raise FormatError(
            "The table has {size} MB; at most {most} MB are read.",
            size=Fixed(len(data) / 1e6, ".0f"),
            most=Fixed(MOST_BYTES / 1e6, ".0f"),
        )
    text = text_of(data)
    text = text.replace("\r\n", "\n").replace("\r", "\n")
    if text.count("\n") > MOST_LINES:
        raise FormatError("The table has more than {most} lines. Divide it.", most=MOST_LINES)
    return text


def _numbered(text: str, mark: str) -> list[tuple[int, list[str]]]:
    reader = csv.reader(io.StringIO(text), delimiter=mark, strict=True)
    return [(reader.line_num, row) for row in reader]


def _check_names(names: list[str], line: int) -> None:
    unknown = [f"“{printable(name, 30)}”" for name in names if name not in COLUMNS]
    missing = [name for name in ("kind", "name") if name not in names]
    twice = sorted({name for name in names if names.count(name) > 1})
    for columns, words in (
        (missing, "Line {line}: the columns {columns} are missing."),
        (unknown[:20], "Line {line}: the columns {columns} are not known. The known ones are {known}."),
        (twice[:20], "Line {line}: the columns {columns} appear twice."),
    ):
        if columns:
            raise FormatError(words, line=line, columns=", ".join(columns), known=", ".join(COLUMNS))


def _thing(row: list[str], names: list[str], mark: str, catalogue: Catalogue) -> Thing:
    if len(row) != len(names):
        raise ValueError(f"{len(row)} cells for {len(names)} columns. Give one for each, empty where nothing is known.")
    cells = {name: cell.strip() for name, cell in zip(names, row, strict=True) if cell.strip()}
    key = cells.pop("kind", "")
    kind = BY_KEY.get(key.lower())
    if kind is None:
        raise ValueError(f"“{printable(key, 30)}” is no kind. Choose one of {', '.join(BY_KEY)}.")
    foreign = [name for name in cells if name not in kind.__struct_fields__]
    if foreign:
        raise ValueError(f"a {key} has no {', '.join(foreign)}. Empty the cell, or correct the kind.")
    types = typing.get_type_hints(kind)
    values: dict[str, Any] = {name: _read(cell, types[name], mark) for name, cell in cells.items()}
    try:
        thing = msgspec.convert({"id": _ID, **values}, kind, strict=False)
    except msgspec.ValidationError as error:
        raise ValueError(plain_words(str(error))) from None
    read_label(thing, catalogue)  # type: ignore[arg-type]  # every kind of BY_KEY is a Thing
    return thing  # type: ignore[return-value]  # as above


def _read(cell: str, kind: Any, mark: str) -> Any:
    if _has(kind, bool):
        if cell.lower() not in _YES + _NO:
            raise ValueError(f"“{printable(cell, 30)}” is neither yes nor no.")
        return cell.lower() in _YES
    numeric = _has(kind, float) or _has(kind, int)
    return cell.replace(",", ".") if numeric and mark != "," else cell  # a decimal comma


def _has(kind: Any, wanted: type) -> bool:
    if typing.get_origin(kind) in (typing.Union, types.UnionType):
        return any(_has(one, wanted) for one in typing.get_args(kind))
    return kind is wanted
