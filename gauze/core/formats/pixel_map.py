"""Which pixel lies where: a table (CSV) or JSON, in the order of the data."""

import csv
import io

import msgspec
import numpy as np

from gauze.core.design import Design
from gauze.core.electrical.data_line import PixelRun
from gauze.core.errors import GauzeError
from gauze.core.layout.model import FloatArray

ENDINGS = (".csv", ".json")
COLUMNS = ("index", "piece", "number", "x_mm", "y_mm", "z_mm")


def encode_pixel_map(design: Design, runs: tuple[PixelRun, ...], ending: str) -> bytes:
    """Write every pixel with its index, piece, number on it from 0, and place; JSON has the segments as well.

    A segment is what a controller needs of a piece: its first and last index, and whether it runs against the way in which most
    run, so that an effect can go the same way on all of them.

    Raises
    ------
    GauzeError
        When the ending is none of those that can be written, or there are no pixels.
    """
    kind = ending.lower()
    if kind not in ENDINGS:
        raise GauzeError(
            "A pixel map is written as {endings}: choose one of these endings for the file.", endings=", ".join(ENDINGS)
        )
    if not runs:
        raise GauzeError("This design has no pixels: nothing was written.")
    rows = [
        (run.first + number, run.piece, number, *(round(float(value), 3) for value in place))
        for run in runs
        for number, place in enumerate(run.places_mm)
    ]
    if kind == ".json":
        pixels = [dict(zip(COLUMNS, row, strict=True)) for row in rows]
        body = {"design": design.name, "segments": _segments(runs), "pixels": pixels}
        return msgspec.json.format(msgspec.json.encode(body), indent=1) + b"\n"
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(COLUMNS)
    table.writerows(rows)
    return out.getvalue().encode()


def _segments(runs: tuple[PixelRun, ...]) -> list[dict[str, object]]:
    ways = [_way(run) for run in runs]
    usual = np.sum(ways, axis=0)
    usual = usual if np.abs(usual).max() > 0.5 else ways[0]  # as many run either way: the first decides
    return [
        {"piece": run.piece, "first": run.first, "last": run.last, "reversed": bool(way @ usual < 0)}
        for run, way in zip(runs, ways, strict=True)
    ]


def _way(run: PixelRun) -> FloatArray:
    """The direction from the first pixel to the last; none of a single one."""
    way = run.places_mm[-1] - run.places_mm[0]
    length = float(np.linalg.norm(way))
    return np.asarray(way / length if length > 0 else np.zeros(3))
