"""The bench log of a build: what was read where and when, pictures of the lit face, and what was learned."""

import math
from typing import Annotated, Literal

import msgspec

from gauze.core.design.limits import check_limits
from gauze.core.errors import DesignError

MOST_READINGS, MOST_PHOTOS, MOST_LESSONS = 2000, 60, 200
LONGEST_PLACE, LONGEST_TEXT, LONGEST_DATE, LONGEST_PATH = 200, 2000, 40, 4000
Quantity = Literal["volts", "amps", "lux", "kelvin", "celsius", "cd_m2"]
QUANTITIES: tuple[Quantity, ...] = ("volts", "amps", "lux", "kelvin", "celsius", "cd_m2")
# what no meter reads of such a build: beyond it a value is a slip of the pen
LIMITS: dict[Quantity, tuple[float, float]] = {
    "volts": (-100.0, 1000.0),
    "amps": (-1000.0, 1000.0),
    "lux": (0.0, 10_000_000.0),
    "kelvin": (500.0, 100_000.0),
    "celsius": (-60.0, 500.0),
    "cd_m2": (0.0, 100_000_000.0),
}


class BenchReading(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """One reading.

    ``place`` is a part (``row-3``), a pad of it (``row-3 end``, ``row-3 after 4``), ``supply``, ``target``, ``face``, or
    a place in mm (``100,60`` on the face, ``100,60,500`` in front of it). ``uncertainty`` is the limit of the meter's
    error either way, in the unit of the value; None where it is not known. ``key`` stays with the reading, ``date`` is a
    day as ISO 8601 writes it.
    """

    key: Annotated[str, msgspec.Meta(min_length=1, max_length=40)]
    quantity: Quantity
    place: Annotated[str, msgspec.Meta(max_length=LONGEST_PLACE)]
    value: float
    uncertainty: Annotated[float, msgspec.Meta(gt=0)] | None = None
    date: Annotated[str, msgspec.Meta(max_length=LONGEST_DATE)] = ""
    note: Annotated[str, msgspec.Meta(max_length=LONGEST_TEXT)] = ""


class BenchPhoto(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """A photograph of the lit face: its path, where the face's corners are in it, and how vignetting is taken out.

    ``corners_px`` are x and y of the upper left corner and then clockwise; None where they are found. ``flat`` is the path of a
    picture of an even field, empty for none.
    """

    key: Annotated[str, msgspec.Meta(min_length=1, max_length=40)]
    path: Annotated[str, msgspec.Meta(min_length=1, max_length=LONGEST_PATH)]
    corners_px: tuple[float, float, float, float, float, float, float, float] | None = None
    vignetting: Literal["none", "exif", "flat"] = "none"
    flat: Annotated[str, msgspec.Meta(max_length=LONGEST_PATH)] = ""
    date: Annotated[str, msgspec.Meta(max_length=LONGEST_DATE)] = ""
    note: Annotated[str, msgspec.Meta(max_length=LONGEST_TEXT)] = ""


class Lesson(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """What to do differently next time."""

    key: Annotated[str, msgspec.Meta(min_length=1, max_length=40)]
    text: Annotated[str, msgspec.Meta(min_length=1, max_length=LONGEST_TEXT)]


class Bench(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """All of the log."""

    readings: tuple[BenchReading, ...] = ()
    photos: tuple[BenchPhoto, ...] = ()
    lessons: tuple[Lesson, ...] = ()


def check_bench(bench: Bench) -> None:
    """Check the log by itself; raises :class:`gauze.core.errors.DesignError`."""
    for name, rows, most in (
        ("readings", bench.readings, MOST_READINGS),
        ("photos", bench.photos, MOST_PHOTOS),
        ("lessons", bench.lessons, MOST_LESSONS),
    ):
        if len(rows) > most:
            raise DesignError(f"bench.{name}", "At most {most} of these can be kept: remove one first.", most=most)
        if len({one.key for one in rows}) < len(rows):
            raise DesignError(f"bench.{name}", "Two rows of the log have the same key: keep one of the two.")
        for index, one in enumerate(rows):
            check_limits(one, f"bench.{name}[{index}]")
            for field in ("key", "place", "note", "text", "path", "flat", "date"):
                _check_text(getattr(one, field, ""), f"bench.{name}[{index}].{field}")
    for index, reading in enumerate(bench.readings):
        check_value(reading.quantity, reading.value, f"bench.readings[{index}].value")
    for index, photo in enumerate(bench.photos):
        if photo.corners_px is not None and not all(math.isfinite(one) and abs(one) < 1e6 for one in photo.corners_px):
            raise DesignError(
                f"bench.photos[{index}].corners_px", "A corner is not a pixel of the picture: drag it again."
            )


def check_value(quantity: Quantity, value: float, path: str) -> None:
    """Check that a value can be one of a quantity; raises :class:`gauze.core.errors.DesignError`."""
    low, high = LIMITS[quantity]
    if not (math.isfinite(value) and low <= value <= high):
        raise DesignError(
            path,
            "{value} cannot be a reading of {quantity}: possible are {low} to {high}. Check the unit.",
            value=f"{value:g}",
            quantity=quantity,
            low=f"{low:g}",
            high=f"{high:g}",
        )


def _check_text(text: str, path: str) -> None:
    most = (
        LONGEST_PATH if path.endswith(("path", "flat")) else LONGEST_PLACE if path.endswith("place") else LONGEST_TEXT
    )
    if len(text) > most:
        raise DesignError(path, "At most {most} letters are kept here: shorten it.", most=most)
