"""Text from outside (names of files, keys, cells of a table) made fit to stand in a message."""

import os
import re
from collections.abc import Mapping
from pathlib import Path

LONGEST = 60  # characters of a text from outside that a message repeats
_MARK = "…"
_PLACE = re.compile(r"\{(\w+)\}")


def printable(text: str, most: int = LONGEST) -> str:
    r"""Return a text on one line, without control characters or undecodable bytes, cut to a number of characters.

    What a terminal or a window could take for a command (escape codes, line ends, marks of direction) is written as its
    escape, such as ``\x1b``, and so is a byte that was not UTF-8.
    """
    cut = text if len(text) <= most else text[: most - 1] + _MARK
    return "".join(letter if letter.isprintable() else _escaped(letter) for letter in cut)


def printable_path(path: str | Path) -> str:
    """Return a path fit to be shown; all of it, however long, so that the file can be found."""
    text = os.fspath(path)
    return printable(text, most=len(text))


def _escaped(letter: str) -> str:
    code = ord(letter)
    if 0xDC80 <= code <= 0xDCFF:  # a byte that was not UTF-8, as the file system's encoding carries it
        return f"\\x{code - 0xDC00:02x}"
    return letter.encode("unicode_escape").decode("ascii")


def filled(template: str, values: Mapping[str, str]) -> str:
    """Fill the places of a template, names in braces; braces about anything else stay as they are, as in the name of a file."""
    return _PLACE.sub(lambda match: values.get(match[1], str(match[0])), template)
