"""Readings against predictions, and the fit: hidden builds are recovered, faults are told apart from a model that is off."""

import math
from typing import Any

import msgspec
import numpy as np
import pytest

from gauze.core.design import RowPlan
from gauze.core.design.bench import Bench, BenchReading, check_bench
from gauze.core.design.wiring import Wiring
from gauze.core.electrical.wire_list import runs_of
from gauze.core.errors import DesignError, FormatError, GauzeError, ReadingError
from gauze.core.evaluate.evaluation import Detail
from gauze.core.evaluate.stages import evaluate
from gauze.core.formats.design_file import decode_design, encode_design
from gauze.core.formats.prove_reports import compared_json, compared_text, fit_json, fit_text
from gauze.core.formats.readings_csv import decode_readings, encode_readings
from gauze.core.proving.candidates import candidates_of
from gauze.core.proving.fitting import Reading, compare, fit, usual_limit
from gauze.core.proving.model import Parameter, parameters_of
from gauze.core.proving.places import Place, read_place
from gauze.core.proving.predicting import Predictor, value_at
from tests.builders import CATALOGUE, design
from tests.families import FAMILIES, family

ASKED = [
    ("volts", "supply"),
    ("volts", "row-1 start"),
    ("volts", "row-6"),
    ("amps", "supply"),
    ("amps", "row-1"),
    ("lux", "target"),
    ("cd_m2", "face"),
]
LIMITS = {"volts": (0.003, 0.01), "amps": (0.01, 0.002), "lux": (0.04, 1.0), "cd_m2": (0.04, 1.0)}


@pytest.fixture(scope="module")
def predictor() -> Predictor:
    """A long panel on thin wire, so that its rails matter."""
    what = design(face_width_mm=900.0, face_height_mm=300.0, depth_mm=60.0, rows=RowPlan(count=6, spacing_mm=45.0))
    what = msgspec.structs.replace(what, wiring=Wiring(wire_mm2=0.5, lead_mm=2000.0))
    return Predictor(evaluate(what, CATALOGUE, Detail(0.5, 8_000, 1)))


# -- places ------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("text", "place"),
    [
        ("row-3", Place(part="row-3")),
        (" row-3 end ", Place(part="row-3", end="end")),
        ("row-3/start", Place(part="row-3", end="start")),
        ("tile-2/strip-1 after 4", Place(part="tile-2/strip-1", end="after", after=4)),
        ("100, 60", Place(mm=(100.0, 60.0))),
        ("-1.5,60,5e2", Place(mm=(-1.5, 60.0, 500.0))),
        ("supply", Place(part="supply")),
    ],
)
def test_places_are_read_as_they_are_written(text: str, place: Place) -> None:
    assert read_place(text) == place


@pytest.mark.parametrize(
    ("quantity", "place"),
    [
        ("volts", "row-99"), ("amps", "wire 999"),
        ("volts", ""), ("volts", "row-1 after 999"), ("amps", "row-1 after 1"), ("lux", "row-1"),
        ("cd_m2", "9999,1"), ("kelvin", "supply"), ("celsius", "moon"), ("lux", "1,1,1"), ("volts", "1..2,3"),
    ],
)  # fmt: skip
def test_places_at_which_nothing_is_predicted_are_told(predictor: Predictor, quantity: Any, place: str) -> None:
    with pytest.raises(ReadingError):
        value_at(predictor.evaluation, quantity, place)


def test_what_is_predicted_is_what_was_computed(predictor: Predictor) -> None:
    """By hand: on a face that sends light evenly a lux meter reads pi times its luminance; far away it falls with the square."""
    now = predictor.evaluation
    power = now.network.power
    assert power is not None
    assert value_at(now, "volts", "supply") == power.supplies[0].terminal_v
    assert value_at(now, "volts", "row-1") == power.pieces[0].volts_v.min()
    total = sum(value_at(now, "amps", piece.id) for piece in power.pieces)
    assert value_at(now, "amps", "supply") == pytest.approx(total, rel=1e-6)
    assert value_at(now, "lux", "450,150") == pytest.approx(math.pi * value_at(now, "cd_m2", "450,150"))
    assert value_at(now, "amps", "bus-1") == value_at(now, "amps", "supply")
    run = runs_of(power)[0]
    assert value_at(now, "amps", f"wire {run.number}") == max(one.current_a for one in run.wires)
    near, far = (value_at(now, "lux", f"450,150,{z}") for z in (10_060, 20_060))
    assert near / far == pytest.approx(4.0, rel=0.01)
    assert 3000.0 < value_at(now, "kelvin", "face") < 7000.0
    assert value_at(now, "celsius", "row-1") > 20.0


@pytest.mark.parametrize("build", FAMILIES.values(), ids=FAMILIES.keys())
def test_readings_of_every_family_can_be_predicted(build: Any) -> None:
    now = evaluate(family(build), CATALOGUE, Detail(0.4, 4_000, 1))
    predictor, parameters = Predictor(now), parameters_of(now)
    asked = candidates_of(now, set())
    assert asked
    values = predictor.predict(asked)
    assert np.isfinite(values).all()
    moved = predictor.predict(asked, {one.name: one.prior + 0.3 * one.limit for one in parameters})
    assert np.isfinite(moved).all()
    assert not np.allclose(values, moved)


# -- comparing ---------------------------------------------------------------------------------------------------------


def reading(quantity: Any, place: str, value: float, limit: float | None = None) -> Reading:
    return Reading(quantity, place, value, usual_limit(quantity, value) if limit is None else limit)


def test_readings_of_the_predicted_build_agree_and_a_bad_joint_is_off(predictor: Predictor) -> None:
    parameters = parameters_of(predictor.evaluation)
    values = predictor.predict(ASKED)  # type: ignore[arg-type]  # quantities all
    good = [reading(quantity, place, value) for (quantity, place), value in zip(ASKED, values.tolist(), strict=True)]
    assert {one.state for one in compare(predictor, parameters, good)} == {"agrees"}
    bad = msgspec_replace(good[2], value=good[2].value - 5.0)
    found = compare(predictor, parameters, [*good[:2], bad])
    assert [one.state for one in found] == ["agrees", "agrees", "off"]
    assert found[2].deviations < -3.0
    assert b'"off": 1' in compared_json(found)
    assert "off" in compared_text(found)
    assert compare(predictor, parameters, []) == ()


def msgspec_replace(one: Reading, **changes: Any) -> Reading:
    from dataclasses import replace

    return replace(one, **changes)


# -- the fit -----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("shared", [True, False])
def test_the_fit_recovers_hidden_builds(predictor: Predictor, shared: bool) -> None:
    """Within the stated uncertainty in 95 of 100: of 40 builds with 6 values at most 5 % of the values may lie outside."""
    dice = np.random.default_rng(7 if shared else 8)
    parameters = parameters_of(predictor.evaluation)
    inside = total = 0
    for _ in range(20):
        truth = {one.name: one.prior + dice.uniform(-1, 1) * one.limit for one in parameters}
        gains = {quantity: dice.uniform(-1, 1) for quantity in LIMITS}
        taken = []
        for (quantity, place), value in zip(ASKED, predictor.predict(ASKED, truth).tolist(), strict=True):  # type: ignore[arg-type]  # quantities all
            limit = max(LIMITS[quantity][0] * abs(value), LIMITS[quantity][1])
            error = 0.85 * gains[quantity] + 0.15 * dice.uniform(-1, 1) if shared else dice.uniform(-1, 1)
            taken.append(reading(quantity, place, value + limit * error, limit))
        found = fit(predictor, parameters, taken)
        inside += sum(abs(one.value - truth[one.name]) <= one.uncertainty for one in found.fitted)
        total += len(found.fitted)
    assert inside >= 0.95 * total


def test_readings_narrow_what_they_tell_of_and_leave_the_rest(predictor: Predictor) -> None:
    parameters = parameters_of(predictor.evaluation)
    prior = next(one.prior for one in parameters if one.name == "supply_v")
    truth = {"supply_v": 0.985 * prior, "flux_factor": 1.1}
    asked = [("volts", "supply"), ("volts", "row-1 start")]
    values = predictor.predict(asked, truth)  # type: ignore[arg-type]  # quantities all
    found = {
        one.name: one
        for one in fit(
            predictor, parameters, [reading(q, p, v, 0.02) for (q, p), v in zip(asked, values, strict=True)]
        ).fitted
    }
    assert found["supply_v"].value == pytest.approx(0.985 * prior, abs=0.05)
    assert found["supply_v"].uncertainty < 0.2 * found["supply_v"].prior_uncertainty
    assert found["flux_factor"].value == pytest.approx(1.0)
    assert found["flux_factor"].uncertainty == pytest.approx(found["flux_factor"].prior_uncertainty)


def test_one_reading_that_is_off_does_not_bend_the_model(predictor: Predictor) -> None:
    parameters = parameters_of(predictor.evaluation)
    values = predictor.predict(ASKED).tolist()  # type: ignore[arg-type]  # quantities all
    taken = [reading(q, p, v) for (q, p), v in zip(ASKED, values, strict=True)]
    taken[2] = msgspec_replace(taken[2], value=taken[2].value - 4.0)
    found = fit(predictor, parameters, taken)
    volts = next(one for one in found.fitted if one.name == "supply_v")
    assert volts.value == pytest.approx(volts.prior, abs=0.15)
    assert [one.state for one in found.residuals].count("off") == 1
    assert found.residuals[2].state == "off"


def test_the_next_reading_is_the_one_that_tells_most(predictor: Predictor) -> None:
    """Taken as expected, it narrows the sum of variances by what was promised, and more than any other candidate would."""
    parameters = parameters_of(predictor.evaluation)
    first = [reading("volts", "supply", 24.0, 0.05)]
    candidates = [("volts", "row-1 end"), ("lux", "target"), ("amps", "supply")]
    found = fit(predictor, parameters, first, candidates)  # type: ignore[arg-type]  # quantities all
    assert found.next_reading is not None
    sums = {}
    for quantity, place in candidates:
        value = float(predictor.predict([(quantity, place)])[0])  # type: ignore[list-item]  # a quantity
        after = fit(predictor, parameters, [*first, reading(quantity, place, value)])
        sums[place] = sum((one.uncertainty / one.prior_uncertainty) ** 2 for one in after.fitted)
    assert min(sums, key=lambda place: sums[place]) == found.next_reading.place
    assert 0.0 < found.next_reading.narrows < 1.0
    assert b'"next_reading": {' in fit_json(found)
    assert "Next: " in fit_text(found)


def test_nothing_is_fitted_to_nothing(predictor: Predictor) -> None:
    with pytest.raises(GauzeError, match="no reading"):
        fit(predictor, parameters_of(predictor.evaluation), [])
    with pytest.raises(GauzeError, match="uncertain"):
        fit(predictor, [], [reading("volts", "supply", 24.0)])


def test_a_rectangular_error_has_the_sigma_of_the_guide() -> None:
    """JCGM 100:2008, 4.3.7: limits of +-a have the standard deviation a / sqrt(3)."""
    assert Parameter("supply_v", 24.0, 0.3, "V").sigma == pytest.approx(0.3 / math.sqrt(3.0))
    assert reading("volts", "supply", 24.0, 0.3).sigma == pytest.approx(0.3 / math.sqrt(3.0))


# -- the table and the log ---------------------------------------------------------------------------------------------


def test_a_table_is_read_and_written_alike() -> None:
    data = b'quantity,place,value,uncertainty,note\nvolts,row-1 end,23.5,0.05,"after an hour, warm"\nlux,"100,60,900",412,,\n'
    rows = decode_readings(data)
    assert rows[0].note == "after an hour, warm"
    assert rows[1].place == "100,60,900"
    assert rows[1].uncertainty is None
    assert decode_readings(encode_readings(rows)) == rows
    assert decode_readings(data.replace(b",", b";").replace(b"100;60;900", b"100,60,900"))[0].value == 23.5


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "empty"),
        (b"# nothing\n", "empty"),
        (b"quantity,value\nvolts,1\n", "columns place are missing"),
        (b"quantity,place,value,moon\nvolts,row-1,1,2\n", "“moon” is unknown"),
        (b"quantity,place,value\nohms,row-1,1\n", "Line 2: “ohms” is no quantity"),
        (b"quantity,place,value\nvolts,row-1,24 V\n", "without a unit"),
        (b"quantity,place,value\nvolts,row-1,24000\n", "Check the unit"),
        (b"quantity,place,value\nkelvin,face,12\n", "Check the unit"),
        (b"quantity,place,value\nvolts,,24\n", "No place"),
        (b"quantity,place,value,uncertainty\nvolts,row-1,24,0\n", "not more than 0"),
        (b"quantity,place,value\nvolts,row-1,nan\n", "no value"),
        (b"\xff\xfe\x00", "UTF-8"),
    ],
)
def test_a_table_that_is_wrong_is_told_row_by_row(data: bytes, said: str) -> None:
    with pytest.raises(FormatError, match=said):
        decode_readings(data)


def test_the_log_is_kept_with_the_design_and_changes_no_light() -> None:
    log = Bench(readings=(BenchReading(key="r1", quantity="volts", place="row-1", value=23.9, date="2026-11-28"),))
    what = msgspec.structs.replace(design(), bench=log)
    assert decode_design(encode_design(what), CATALOGUE) == what
    twice = Bench(readings=(log.readings[0], log.readings[0]))
    with pytest.raises(DesignError, match="same key"):
        check_bench(twice)
    with pytest.raises(DesignError, match="Check the unit"):
        check_bench(Bench(readings=(msgspec.structs.replace(log.readings[0], value=1e9),)))
