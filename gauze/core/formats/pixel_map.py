"""Which pixel lies where: a table (CSV) or JSON, in the order of the data."""

import csv
import io

import msgspec

from gauze.core.design import Design
from gauze.core.electrical.data_line import PixelRun
from gauze.core.errors import GauzeError

ENDINGS = (".csv", ".json")
COLUMNS = ("index", "piece", "number", "x_mm", "y_mm", "z_mm")


def encode_pixel_map(design: Design, runs: tuple[PixelRun, ...], ending: str) -> bytes:
    """Write every pixel with its index, piece, number on it from 0, and place.

    Raises
    ------
    GauzeError
        When the ending is none of those that can be written, or there are no pixels.
    """
    kind = ending.lower()
    if kind not in ENDINGS:
        raise GauzeError(
            "A pixel map is written as {endings}: give the file such an ending.", endings=", ".join(ENDINGS)
        )
    if not runs:
        raise GauzeError("This design has no pixels: nothing was written.")
    rows = [
        (run.first + number, run.piece, number, *(round(float(value), 3) for value in place))
        for run in runs
        for number, place in enumerate(run.places_mm)
    ]
    if kind == ".json":
        body = {"design": design.name, "pixels": [dict(zip(COLUMNS, row, strict=True)) for row in rows]}
        return msgspec.json.format(msgspec.json.encode(body), indent=1) + b"\n"
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(COLUMNS)
    table.writerows(rows)
    return out.getvalue().encode()
