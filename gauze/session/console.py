"""Writing to the terminal, or to whatever takes its place: an output in any encoding, one that is full, one that was closed.

Beside it the exit codes that all of Gauze ends with.
"""

import errno
import io
import os
import sys
from collections.abc import Callable
from typing import TextIO

from gauze.core.errors import WriteError

FINE, FAILS, BAD_INPUT, NOT_WRITTEN, SET_UP = 0, 1, 2, 3, 4
FAULT, INTERRUPTED = 70, 130
_Replace = Callable[[str], str]
_PLAIN = str.maketrans(
    {
        "“": '"',
        "”": '"',
        "‘": "'",
        "’": "'",
        "–": "-",
        "—": "-",
        "−": "-",
        "…": "...",
        "→": "->",
        "×": "x",
        "·": ".",
        "±": "+/-",
        "≥": ">=",
        "≤": "<=",
        "°": " deg",
        "²": "^2",
        "³": "^3",
        "⁻": "-",
        "Δ": "D",
        "Ω": " ohm",
        "µ": "u",
        "ρ": "rho",
        "τ": "tau",
        "′": "'",
        "½": "1/2",
        "¼": "1/4",
        "¾": "3/4",
        "\u00a0": " ",
        "\u202f": " ",
        "\u2009": " ",
    }
)


def write_text(text: str) -> None:
    """Print text; signs that the output's encoding lacks are written in plain letters.

    Raises
    ------
    WriteError
        When the output is full or not there. (One that was closed by its reader raises :class:`BrokenPipeError`.)
    """
    _write(text, lambda missing: missing.translate(_PLAIN))


def write_json(data: bytes) -> None:
    """Print JSON; letters that the output's encoding lacks are written as escapes, which mean the same. Raises as above."""
    _write(data.decode(), _escaped)


def tell(message: str) -> None:
    """Print a message to the error output; should that fail there is nowhere to say so."""
    try:
        stream = sys.stderr
        if stream is not None:
            stream.write(_fitting(message, stream, lambda missing: missing.translate(_PLAIN)) + "\n")
            stream.flush()
    except (OSError, ValueError):
        _give_up(sys.stderr)


def close_output() -> None:
    """Let go of an output that cannot be written, so that the interpreter does not try again as it ends."""
    _give_up(sys.stdout)


def _write(text: str, replace: _Replace) -> None:
    stream = sys.stdout
    if stream is None:
        raise WriteError("Nothing could be printed: there is no output. Give one, or write to a file with --out.")
    try:
        stream.write(_fitting(text, stream, replace))
        stream.flush()
    except BrokenPipeError:
        raise
    except (OSError, ValueError) as error:
        close_output()
        full = isinstance(error, OSError) and error.errno in (errno.ENOSPC, errno.EDQUOT)
        reason = "the disk is full" if full else str(getattr(error, "strerror", None) or error)
        raise WriteError(
            "The output could not be written: {reason}. Part of it may be missing.", reason=reason
        ) from None


def _fitting(text: str, stream: TextIO, replace: _Replace) -> str:
    """Return a text that the stream's encoding has all letters for."""
    encoding = stream.encoding or "ascii"
    try:
        text.encode(encoding)
    except UnicodeEncodeError:
        kept = [letter if _fits(letter, encoding) else replace(letter) for letter in text]
        return "".join(kept).encode(encoding, "replace").decode(encoding)
    return text


def _fits(letter: str, encoding: str) -> bool:
    try:
        letter.encode(encoding)
    except UnicodeEncodeError:
        return False
    return True


def _escaped(letter: str) -> str:
    """Write a letter as JSON's escapes, two for one beyond the basic plane."""
    return "".join(
        f"\\u{int.from_bytes(pair, 'big'):04x}" for pair in _pairs(letter.encode("utf-16-be", "surrogatepass"))
    )


def _pairs(data: bytes) -> list[bytes]:
    return [data[index : index + 2] for index in range(0, len(data), 2)]


def _give_up(stream: TextIO | None) -> None:
    if isinstance(stream, io.TextIOWrapper):
        try:
            nothing = os.open(os.devnull, os.O_WRONLY)
            os.dup2(nothing, stream.fileno())
            os.close(nothing)
        except (OSError, ValueError):
            return
