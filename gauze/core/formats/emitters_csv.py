"""Reads loose emitters from a table: CSV with a line of names, one emitter a line. See docs/design-file.md."""

import csv
import io
import math
from collections.abc import Callable
from dataclasses import dataclass

from gauze.core.design.loose import MOST_EMITTERS, LooseEmitter, emitter_problem
from gauze.core.errors import FormatError
from gauze.core.formats.table_reading import text_of
from gauze.core.printable import printable
from gauze.core.words import Fixed

MOST_BYTES = 64_000_000
_MOST_LINES = 2 * MOST_EMITTERS  # with remarks and empty ones
_MOST_COLUMNS = 40
_NEEDED = ("x_mm", "y_mm", "z_mm", "nx", "ny", "nz", "flux_lm")
_OPTIONAL = ("half_angle_deg", "m", "cct_k", "x", "y", "ies")
_MOST_TOLD = 100


@dataclass(frozen=True)
class EmitterTable:
    """Emitters, and the names of the files of photometry that they refer to by their number."""

    emitters: tuple[LooseEmitter, ...]
    photometry: tuple[str, ...]


def decode_emitters(data: bytes) -> EmitterTable:
    """Read a table of emitters.

    Raises
    ------
    FormatError
        When the table cannot be read; its message has a line for every malformed row, with the row's line number.
    """
    lines = _lines(data)
    if not lines:
        raise FormatError(
            "The table is empty. Give a line of names ({needed}, …) and a line for each emitter.",
            needed=", ".join(_NEEDED),
        )
    number, head = lines[0]
    mark = max(",;\t", key=head.count)
    if head.count(mark) >= _MOST_COLUMNS:
        raise FormatError(
            "Line {number} has {count} columns; at most {most_columns} are read.",
            number=number,
            count=head.count(mark) + 1,
            most_columns=_MOST_COLUMNS,
        )
    names = [name.strip().lower() for name in head.split(mark)]
    _check_names(names, number)
    if len(lines) - 1 > MOST_EMITTERS:
        raise FormatError(
            "The table has {lines} emitters; {most_emitters} can be computed. Divide it.",
            lines=len(lines) - 1,
            most_emitters=MOST_EMITTERS,
        )
    return _rows(lines[1:], names, mark)


def _lines(data: bytes) -> list[tuple[int, str]]:
    """Lines that say something, with their numbers; those that begin with # are remarks."""
    if len(data) > MOST_BYTES:
        raise FormatError(
            "The table has {data} MB; at most {most_bytes} MB are read.",
            data=Fixed(len(data) / 1000000.0, ".0f"),
            most_bytes=Fixed(MOST_BYTES / 1000000.0, ".0f"),
        )
    count = max(data.count(b"\n"), data.count(b"\r"))
    if count > _MOST_LINES:
        raise FormatError(
            "The table has {count} lines; at most {most_lines} are read. Divide it.",
            count=count,
            most_lines=_MOST_LINES,
        )
    text = text_of(data)
    numbered = enumerate(io.StringIO(text, newline=None), start=1)
    return [
        (n, line.rstrip("\n")) for n, line in numbered if line.strip(" ,;\t\n") and not line.lstrip().startswith("#")
    ]


def _check_names(names: list[str], line: int) -> None:
    problems = []
    missing = [name for name in _NEEDED if name not in names]
    if missing:
        problems.append(f"the columns {', '.join(missing)} are missing")
    unknown = [name for name in names if name not in _NEEDED + _OPTIONAL]
    if unknown:
        problems.append(f"the columns {', '.join(f'“{printable(name, 30)}”' for name in unknown)} are not known")
    twice = sorted({name for name in names if names.count(name) > 1})
    if twice:
        problems.append(f"the columns {', '.join(twice)} appear twice")
    for one, other in (("half_angle_deg", "m"), ("cct_k", "x")):
        if one in names and other in names:
            problems.append(f"give either {one} or {other}")
    if ("x" in names) != ("y" in names):
        problems.append("give x and y together")
    if problems:
        known = ", ".join(_NEEDED + _OPTIONAL)
        raise FormatError(
            "Line {line}: {problems}. The known names are {known}.",
            line=line,
            problems="; ".join(problems),
            known=known,
        )


def _rows(lines: list[tuple[int, str]], names: list[str], mark: str) -> EmitterTable:
    emitters: list[LooseEmitter] = []
    problems: list[str] = []
    files: dict[str, int] = {}
    for number, line in lines:
        try:
            words = next(csv.reader([line], delimiter=mark, strict=True))
            emitters.append(_emitter(dict(zip(names, words, strict=True)), mark, files))
        except csv.Error as error:
            problems.append(f"Line {number}: {error}. Correct the quotes.")
        except ValueError as error:
            problems.append(f"Line {number}: {_count_words(error, line, names, mark)}")
    if problems:
        told = problems[:_MOST_TOLD]
        if len(problems) > _MOST_TOLD:
            rest = ", ".join(problem.split(":")[0].removeprefix("Line ") for problem in problems[_MOST_TOLD:])
            told.append(f"The same goes for lines {rest}.")
        raise FormatError("\n".join(told))
    if not emitters:
        raise FormatError("The table has names but no emitters. Add a line for each.")
    return EmitterTable(tuple(emitters), tuple(files))


def _count_words(error: ValueError, line: str, names: list[str], mark: str) -> str:
    if "zip()" not in str(error):
        return str(error)
    return f"there are {line.count(mark) + 1} values for {len(names)} columns. Give each column its value."


def _emitter(row: dict[str, str], mark: str, files: dict[str, int]) -> LooseEmitter:
    """Read one row; raises :class:`ValueError` in words."""

    def number(name: str, read: Callable[[str], float] = float) -> float:
        word = row[name].strip()
        try:
            return read(word.replace(",", ".") if mark != "," else word)
        except ValueError:
            raise ValueError(
                f"{name} is “{printable(word, 40)}”. Give a number." if word else f"{name} is empty. Give a number."
            ) from None

    x_mm, y_mm, z_mm, nx, ny, nz, flux_lm = (number(name) for name in _NEEDED)
    power, cct_k, x, y = 1.0, 4000.0, 0.0, 0.0
    if row.get("half_angle_deg", "").strip():
        power = power_of_half_angle(number("half_angle_deg"))
    elif row.get("m", "").strip():
        power = number("m")
    if row.get("cct_k", "").strip():
        cct_k = number("cct_k")
        if cct_k <= 0:
            raise ValueError(f"{cct_k:g} K is invalid: it lies between 1000 and 25 000.")
    elif row.get("x", "").strip() or row.get("y", "").strip():
        cct_k, x, y = 0.0, number("x"), number("y")
    name = row.get("ies", "").strip()
    table = files.setdefault(name, len(files)) if name else -1
    emitter = LooseEmitter(x_mm, y_mm, z_mm, nx, ny, nz, flux_lm, power, cct_k, x, y, table)
    problem = emitter_problem(emitter)
    if problem:
        raise ValueError(problem)
    return emitter


def power_of_half_angle(half_angle_deg: float) -> float:
    """Return m of cos^m with half of the axis's intensity at an angle: cos^m(angle) = 1/2; 60 degrees give 1.

    Raises
    ------
    ValueError
        In words, when no m from 0 to 1000 has that angle.
    """
    if not 2.2 <= half_angle_deg < 90.0:
        raise ValueError(
            f"a half angle of {half_angle_deg:g} degrees is invalid: it lies between 2.2 and 90, "
            "from the axis; 60 for a bare package."
        )
    return round(-math.log(2.0) / math.log(math.cos(math.radians(half_angle_deg))), 9)
