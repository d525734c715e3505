"""Reading JSON of a known shape, with messages that say what is wrong, where, and what to do."""

import re
from typing import TypeVar

import msgspec

from gauze.core.errors import FormatError
from gauze.core.printable import printable

T = TypeVar("T")

_TYPE_WORDS = {
    "float": "a number",
    "int": "a whole number",
    "str": "text",
    "array": "a list",
    "object": "an object",
    "bool": "true or false",
    "null": "null",
    "float | null": "a number or null",
    "int | null": "a whole number or null",
    "str | float": "a name or a number",
}


def read_json(text: bytes, kind: type[T], what: str) -> T:
    """Read JSON as a type, so that what does not belong is refused where it stands instead of being built in memory.

    ``what`` the file should be, as in "a Gauze design".

    Raises
    ------
    FormatError
        When it is not JSON.
    msgspec.ValidationError
        When it is JSON of something else.
    """
    try:
        return msgspec.json.decode(text, type=kind)
    except msgspec.ValidationError:
        raise
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError, OverflowError, ValueError) as error:
        raise FormatError(_where_broken(text, str(error), what)) from None


def read_whole(data: bytes, kind: type[T], what: str, most_bytes: int) -> T:
    """Read a file of JSON as a type.

    Raises
    ------
    FormatError
        When the bytes are none: empty, too large, not JSON, with an unknown, missing or impossible value (with its place).
    """
    if not data.strip():
        raise FormatError("The file is empty.")
    if len(data) > most_bytes:
        raise FormatError(
            "The file is larger than {most} MB: this is not {what}.", most=most_bytes // 1_000_000, what=what
        )
    try:
        return read_json(data, kind, what)
    except msgspec.ValidationError as error:
        raise FormatError(plain_words(str(error))) from None


def _where_broken(data: bytes, reason: str, what: str) -> str:
    if "truncated" in reason:
        return "The file ends before its end: it is truncated. Restore it from a copy."
    if "out of range" in reason:
        return "The file holds a number too large to be read. Correct it."
    position = re.search(r"byte (\d+)", reason)
    if position is None:
        return f"The file is not JSON text. This is not {what}, or it is damaged."
    before = data[: int(position[1])].decode("utf-8", errors="replace")
    line, column = before.count("\n") + 1, len(before) - before.rfind("\n")
    return f"The file is damaged at line {line}, column {column}: this is not JSON. Correct it there or restore a copy."


def plain_words(reason: str) -> str:
    """Turn the decoder's message into ours: what, where, what to do."""
    text, _, place = reason.partition(" - at `$")
    where = f"At {printable(place.rstrip('`').lstrip('.'), 120)}: " if place.rstrip("`") else ""
    unknown = re.fullmatch(r"Object contains unknown field `(.+)`", text, re.DOTALL)
    if unknown:
        return f"{where}unknown key “{printable(unknown[1])}”. Take it out or correct its name."
    missing = re.fullmatch(r"Object missing required field `(.+)`", text)
    if missing:
        return f"{where}the key “{missing[1]}” is missing. Add it."
    for code, words in _TYPE_WORDS.items():
        text = text.replace(f"`{code}`", words)
    return f"{where}{text[0].lower()}{printable(text[1:], 240)}. Correct the value."
