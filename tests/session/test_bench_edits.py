"""Edits of the bench log: added, removed, imported once, taken into the design, kept with its version."""

import msgspec
import pytest

from gauze.core.design.bench import BenchReading
from gauze.core.design.design import MOST_KEPT
from gauze.core.errors import DesignError, ReadingError
from gauze.core.proving.fitting import Fitted
from gauze.session.bench_edits import (
    fitted_sheet,
    fitted_strip,
    shown_bench,
    with_changed_photo,
    with_changed_reading,
    with_fitted,
    with_lesson,
    with_next_version,
    with_photo,
    with_reading,
    with_readings,
    without_lesson,
    without_photo,
    without_readings,
)
from gauze.session.versions import take_up
from tests.builders import CATALOGUE, design


def fitted(name: str, value: float, *, learned: bool = True) -> Fitted:
    return Fitted(name, value, 0.1 if learned else 1.0, value, 1.0, "")  # type: ignore[arg-type]  # one of the names


def test_readings_come_go_and_change() -> None:
    one = with_reading(design(), "volts", " row-1 end ", 23.9, 0.1, "warm")
    two = with_reading(one, "amps", "supply", 2.0)
    first, second = shown_bench(two).readings
    assert (first.place, first.note, first.uncertainty) == ("row-1 end", "warm", 0.1)
    assert first.date
    assert first.key != second.key
    assert shown_bench(with_changed_reading(two, first.key, note="cold")).readings[0].note == "cold"
    assert shown_bench(without_readings(two, (first.key,))).readings == (second,)
    assert without_readings(two, (first.key, second.key)) == design()
    with pytest.raises(ReadingError):
        with_reading(design(), "volts", " ", 1.0)
    with pytest.raises(DesignError, match="Check the unit"):
        with_reading(design(), "volts", "supply", 1e6)


def test_a_table_is_imported_once() -> None:
    rows = (BenchReading(key="line-2", quantity="volts", place="supply", value=24.0),)
    once = with_readings(design(), rows)
    assert with_readings(once, rows) == once
    other = (msgspec.structs.replace(rows[0], value=24.1),)
    keys = [one.key for one in shown_bench(with_readings(once, other)).readings]
    assert len(set(keys)) == 2


def test_photographs_are_kept_by_path() -> None:
    one = with_photo(design(), "face.png")
    (photo,) = shown_bench(one).photos
    corners = (0.0, 0.0, 9.0, 0.0, 9.0, 9.0, 0.0, 9.0)
    changed = with_changed_photo(one, photo.key, corners_px=corners, vignetting="exif")
    assert shown_bench(changed).photos[0].corners_px == corners
    assert without_photo(changed, photo.key) == design()
    with pytest.raises(DesignError, match="not a pixel"):
        with_changed_photo(one, photo.key, corners_px=(float("nan"),) * 8)


def test_lessons_go_into_the_next_version_and_the_log_stays_with_this_one() -> None:
    one = with_lesson(with_reading(design(), "volts", "supply", 24.0), " thicker wire ")
    later = with_next_version(one)
    assert [lesson.text for lesson in shown_bench(later).lessons] == ["thicker wire"]
    assert shown_bench(later).readings == ()
    assert later.kept[-1].bench == one.bench
    assert take_up(later, 0).bench == one.bench
    (lesson,) = shown_bench(later).lessons
    assert shown_bench(without_lesson(later, lesson.key)).lessons == ()
    with pytest.raises(DesignError):
        with_lesson(design(), "  ")
    for _ in range(MOST_KEPT - 1):
        later = with_next_version(later)
    with pytest.raises(DesignError, match="delete one first"):
        with_next_version(later)


def test_only_what_readings_told_of_is_taken_into_the_design() -> None:
    values = [
        fitted("supply_v", 11.8),
        fitted("reflectance_walls", 0.8),
        fitted("reflectance_back", 0.7, learned=False),
        fitted("flux_factor", 1.1),
        fitted("rail_ohm_per_m", 0.06),
        fitted("transmittance", 0.5),
    ]
    before = design()
    strip = CATALOGUE.strip(before.strips[0].strip)
    after = with_fitted(before, CATALOGUE, values)
    assert after.wiring is not None
    assert after.wiring.supply_volts == 11.8
    assert after.panel.walls == 0.8
    assert after.panel.back == before.panel.back
    assert after.strips[0].strip.startswith("own-")
    label = fitted_strip(before, CATALOGUE, values)
    assert label is not None
    assert label.strip(strip).flux_lm_per_m == pytest.approx(1.1 * strip.flux_lm_per_m, rel=0.01)
    assert label.strip(strip).rail_ohm_per_m == pytest.approx(0.06)
    sheet = fitted_sheet(before, CATALOGUE, values)
    assert sheet is not None
    assert sheet.lux_with / sheet.lux_without == pytest.approx(0.5)
    assert after.build.layers[0] == sheet.id
    assert with_fitted(before, CATALOGUE, [fitted("supply_v", 11.0, learned=False)]) == before
    again = with_fitted(after, CATALOGUE, values)
    assert again.strips == after.strips  # the own strip is measured anew, not copied
