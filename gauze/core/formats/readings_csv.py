"""The bench log as a table: CSV with a line of names, one reading a line. See docs/prove.md."""

import csv
import io
import math
from collections.abc import Sequence

from gauze.core.design.bench import (
    LONGEST_DATE,
    LONGEST_PLACE,
    LONGEST_TEXT,
    MOST_READINGS,
    QUANTITIES,
    BenchReading,
    Quantity,
    check_value,
)
from gauze.core.errors import DesignError, FormatError, ReadingError
from gauze.core.formats.table_reading import text_of
from gauze.core.printable import printable
from gauze.core.proving.places import read_place

MOST_BYTES = 8_000_000
NEEDED = ("quantity", "place", "value")
OPTIONAL = ("uncertainty", "note", "date", "key")
_MOST_TOLD = 20


def decode_readings(data: bytes) -> tuple[BenchReading, ...]:
    """Read a table of readings.

    Raises
    ------
    FormatError
        When it cannot be read; its message has a line for every row that is wrong, with the number of the row.
    """
    if len(data) > MOST_BYTES:
        raise FormatError("The table is larger than {most} MB. Divide it.", most=MOST_BYTES // 1_000_000)
    text = text_of(data)
    lines = [(number, line) for number, line in enumerate(text.splitlines(), start=1) if line.strip(" \t,;")]
    lines = [(number, line) for number, line in lines if not line.lstrip().startswith("#")]
    if not lines:
        raise FormatError(
            "The table is empty. Give a line of names ({needed}, …) and a line for each reading.",
            needed=", ".join(NEEDED),
        )
    number, head = lines[0]
    mark = max(",;\t", key=head.count)
    names = [one.strip().lower() for one in _cells(head, mark)]
    _check_names(names, number)
    if len(lines) - 1 > MOST_READINGS:
        raise FormatError(
            "The table has {count} readings; {most} can be kept. Divide it.", count=len(lines) - 1, most=MOST_READINGS
        )
    rows: list[BenchReading] = []
    wrong: list[str] = []
    keys: set[str] = set()
    for number, line in lines[1:]:
        try:
            row = _row(dict(zip(names, _cells(line, mark), strict=False)), number, keys)
        except (FormatError, DesignError, ReadingError) as error:
            wrong.append(f"Line {number}: {error}")
            continue
        keys.add(row.key)
        rows.append(row)
    if wrong:
        more = f"\nand {len(wrong) - _MOST_TOLD} more" if len(wrong) > _MOST_TOLD else ""
        raise FormatError("{lines}", lines="\n".join(wrong[:_MOST_TOLD]) + more)
    return tuple(rows)


def _cells(line: str, mark: str) -> list[str]:
    try:
        return next(csv.reader(io.StringIO(line), delimiter=mark, strict=False), [])
    except csv.Error as error:
        raise FormatError("The table cannot be read: {error}.", error=str(error)) from None


def _check_names(names: Sequence[str], number: int) -> None:
    missing = [one for one in NEEDED if one not in names]
    unknown = [one for one in names if one and one not in (*NEEDED, *OPTIONAL)]
    twice = {one for one in names if one and names.count(one) > 1}
    if missing:
        raise FormatError("Line {number}: the columns {names} are missing.", number=number, names=", ".join(missing))
    if unknown or twice:
        raise FormatError(
            "Line {number}: the column “{name}” is unknown, or there twice. Columns are {known}.",
            number=number,
            name=printable((*unknown, *sorted(twice))[0], 40),
            known=", ".join((*NEEDED, *OPTIONAL)),
        )


def _row(cells: dict[str, str], number: int, keys: set[str]) -> BenchReading:
    quantity = cells.get("quantity", "").strip().lower()
    if quantity not in QUANTITIES:
        raise FormatError(
            "“{name}” is no quantity: write one of {known}.", name=printable(quantity, 40), known=", ".join(QUANTITIES)
        )
    place = cells.get("place", "").strip()
    read_place(place)
    value = _number(cells.get("value", ""), "value")
    kind: Quantity = quantity
    check_value(kind, value, "value")
    told = cells.get("uncertainty", "").strip()
    uncertainty = _number(told, "uncertainty") if told else None
    if uncertainty is not None and uncertainty <= 0.0:
        raise FormatError("The uncertainty is not more than 0: leave it empty where it is not known.")
    key = cells.get("key", "").strip()[:40] or f"line-{number}"
    if key in keys:
        key = f"line-{number}"
    return BenchReading(
        key=key,
        quantity=kind,
        place=place[:LONGEST_PLACE],
        value=value,
        uncertainty=uncertainty,
        date=cells.get("date", "").strip()[:LONGEST_DATE],
        note=cells.get("note", "").strip()[:LONGEST_TEXT],
    )


def _number(text: str, name: str) -> float:
    try:
        value = float(text.strip())
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise FormatError(
            "“{text}” is no {name}: write a plain number, without a unit.", text=printable(text.strip(), 40), name=name
        )
    return value


def encode_readings(readings: Sequence[BenchReading]) -> bytes:
    """Write readings as a table that can be read back."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow((*NEEDED, *OPTIONAL))
    for one in readings:
        uncertainty = "" if one.uncertainty is None else f"{one.uncertainty:.9g}"
        writer.writerow((one.quantity, one.place, f"{one.value:.9g}", uncertainty, one.note, one.date, one.key))
    return out.getvalue().encode()
