"""The edits of the bench log, as pure functions from design to design."""

import itertools
from collections.abc import Iterable, Sequence
from datetime import date
from typing import Any

import msgspec

from gauze.core.design import Design
from gauze.core.design.bench import Bench, BenchPhoto, BenchReading, Lesson, Quantity, check_bench
from gauze.core.design.design import MOST_KEPT, OWN_PREFIX, catalogue_of, with_build
from gauze.core.design.wiring import Wiring, check_wiring
from gauze.core.errors import DesignError
from gauze.core.materials import Catalogue, OwnDiffuser
from gauze.core.materials.labels import StripLabel
from gauze.core.proving.fitting import Fitted
from gauze.core.proving.places import read_place
from gauze.session.edits import free_id, with_lamp, with_own_sheet
from gauze.session.versions import keep_version

_CHANGES_DESIGN = ("supply_v", "reflectance_walls", "reflectance_back")


def shown_bench(design: Design) -> Bench:
    """Return the log, an empty one where nothing is kept yet."""
    return design.bench or Bench()


def with_bench(design: Design, **changes: Any) -> Design:
    """Change the log; raises :class:`DesignError` where it becomes invalid."""
    changed = msgspec.structs.replace(shown_bench(design), **changes)
    check_bench(changed)
    return msgspec.structs.replace(design, bench=None if changed == Bench() else changed)


def free_key(taken: Iterable[str], name: str) -> str:
    """Return a key that is not taken: a name with a number."""
    known = set(taken)
    return next(key for number in itertools.count(1) if (key := f"{name}-{number}") not in known)


def with_reading(
    design: Design,
    quantity: Quantity,
    place: str,
    value: float,
    uncertainty: float | None = None,
    note: str = "",
) -> Design:
    """Add a reading of today; raises :class:`DesignError` or :class:`ReadingError` where it cannot be one."""
    read_place(place)
    readings = shown_bench(design).readings
    one = BenchReading(
        key=free_key((row.key for row in readings), "reading"),
        quantity=quantity,
        place=place.strip(),
        value=value,
        uncertainty=uncertainty,
        date=today(),
        note=note.strip(),
    )
    return with_bench(design, readings=(*readings, one))


def today() -> str:
    """Return the day, as ISO 8601 writes it."""
    return date.today().isoformat()  # noqa: DTZ011 - the day where the builder stands


def with_readings(design: Design, rows: Sequence[BenchReading]) -> Design:
    """Add readings out of a table; those that are in the log already, alike in all but their key, are not added again."""
    readings = list(shown_bench(design).readings)
    known = {_alike(one) for one in readings}
    for row in rows:
        if _alike(row) not in known:
            known.add(_alike(row))
            keys = [one.key for one in readings]
            key = row.key if row.key not in keys else free_key(keys, "reading")
            readings.append(msgspec.structs.replace(row, key=key, date=row.date or today()))
    return with_bench(design, readings=tuple(readings))


def _alike(one: BenchReading) -> tuple[object, ...]:
    return one.quantity, one.place, one.value, one.uncertainty, one.note


def without_readings(design: Design, keys: Sequence[str]) -> Design:
    """Remove readings."""
    readings = tuple(one for one in shown_bench(design).readings if one.key not in keys)
    return with_bench(design, readings=readings)


def with_changed_reading(design: Design, key: str, **changes: Any) -> Design:
    """Change a reading; raises :class:`DesignError`."""
    readings = tuple(
        msgspec.structs.replace(one, **changes) if one.key == key else one for one in shown_bench(design).readings
    )
    return with_bench(design, readings=readings)


def with_photo(design: Design, path: str) -> Design:
    """Add a photograph of the lit face."""
    photos = shown_bench(design).photos
    one = BenchPhoto(key=free_key((row.key for row in photos), "photo"), path=path, date=today())
    return with_bench(design, photos=(*photos, one))


def with_changed_photo(design: Design, key: str, **changes: Any) -> Design:
    """Change a photograph: its corners, or how vignetting is taken out."""
    photos = tuple(
        msgspec.structs.replace(one, **changes) if one.key == key else one for one in shown_bench(design).photos
    )
    return with_bench(design, photos=photos)


def without_photo(design: Design, key: str) -> Design:
    """Remove a photograph from the log; the file stays."""
    return with_bench(design, photos=tuple(one for one in shown_bench(design).photos if one.key != key))


def with_lesson(design: Design, text: str) -> Design:
    """Add what to do differently; raises :class:`DesignError` for nothing written."""
    if not text.strip():
        raise DesignError("bench.lessons", "Nothing is written: say what to do differently.")
    lessons = shown_bench(design).lessons
    return with_bench(
        design, lessons=(*lessons, Lesson(key=free_key((one.key for one in lessons), "lesson"), text=text.strip()))
    )


def with_next_version(design: Design) -> Design:
    """Keep the design with its log as a version, and begin the next: the same build and what was learned, with an empty log.

    Raises
    ------
    DesignError
        When too many versions are kept.
    """
    if len(design.kept) >= MOST_KEPT:
        raise DesignError("kept", "At most {most_kept} versions can be kept: delete one first.", most_kept=MOST_KEPT)
    return with_bench(keep_version(design), readings=(), photos=())


def without_lesson(design: Design, key: str) -> Design:
    """Remove a lesson."""
    return with_bench(design, lessons=tuple(one for one in shown_bench(design).lessons if one.key != key))


def fitted_strip(design: Design, catalogue: Catalogue, fitted: Sequence[Fitted]) -> StripLabel | None:
    """Return the first strip of a design as readings say that it is, for the shelf; None where no reading says anything about it.

    Its lumens are only known of strip of one colour.
    """
    if not design.strips:
        return None
    learned = {one.name: one.value for one in fitted if one.learned >= LEARNED}
    strip = catalogue_of(design, catalogue).strip(design.strips[0].strip)
    own = next((lamp for lamp in design.own_lamps if lamp.id == strip.id), None)
    values: dict[str, Any] = {}
    if "rail_ohm_per_m" in learned:
        values["rail_ohm_per_m"] = round(learned["rail_ohm_per_m"], 5)
    if "flux_factor" in learned and len(strip.channel) == 1:
        values["lumens_per_m"] = round(learned["flux_factor"] * strip.flux_lm_per_m, 1)
    if not values:
        return None
    if isinstance(own, StripLabel):
        return msgspec.structs.replace(own, **values)
    name = f"{strip.name}, as measured"[:80]
    return StripLabel(id=free_own_id(name, {lamp.id for lamp in design.own_lamps}), name=name, like=strip.id, **values)


def fitted_sheet(design: Design, catalogue: Catalogue, fitted: Sequence[Fitted]) -> OwnDiffuser | None:
    """Return the innermost sheet as readings say that it is; None where no reading says anything about it."""
    one = next((one for one in fitted if one.name == "transmittance" and one.learned >= LEARNED), None)
    if one is None or not design.build.layers or not isinstance(design.build.layers[0], str):
        return None
    layer = design.build.layers[0]
    own = next((sheet for sheet in design.own_diffusers if sheet.id == layer), None)
    if own is not None:
        return msgspec.structs.replace(own, lux_without=1000.0, lux_with=round(1000.0 * one.value, 1))
    name = f"{catalogue.diffuser(layer).name}, as measured"[:80]
    taken = {sheet.id for sheet in design.own_diffusers} | set(catalogue.diffusers)
    return OwnDiffuser(
        id=free_own_id(name, taken), name=name, like=layer, lux_without=1000.0, lux_with=round(1000.0 * one.value, 1)
    )


def free_own_id(name: str, taken: set[str]) -> str:
    """Return an id of the builder's own for a name."""
    words = "-".join("".join(letter if letter.isalnum() else " " for letter in name.lower()).split())[:40]
    return free_id(OWN_PREFIX + (words or "thing"), taken)


def with_fitted(design: Design, catalogue: Catalogue, fitted: Sequence[Fitted]) -> Design:
    """Let a design be as its readings say: supply, reflectances, strip and sheet, as far as they told of them.

    Raises
    ------
    DesignError
        When a value is invalid.
    """
    for one in fitted:
        if one.name not in _CHANGES_DESIGN or one.learned < LEARNED:
            continue
        if one.name == "supply_v":
            wiring = msgspec.structs.replace(design.wiring or Wiring(), supply_volts=round(one.value, 2))
            check_wiring(wiring)
            design = msgspec.structs.replace(design, wiring=wiring)
        else:
            design = with_build(design, **{one.name.removeprefix("reflectance_"): round(one.value, 3)})
    strip, sheet = fitted_strip(design, catalogue, fitted), fitted_sheet(design, catalogue, fitted)
    if strip is not None:
        design = with_lamp(design, strip, catalogue) or design
    return design if sheet is None else with_own_sheet(design, 0, sheet)


LEARNED = 0.2  # of its uncertainty, by which readings have to have narrowed a value before it is taken over
