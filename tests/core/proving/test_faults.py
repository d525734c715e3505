"""Faults simulated, found and practised: the true one comes first, and nothing of a rehearsal is a real reading."""

from dataclasses import replace
from typing import Any, get_args

import numpy as np
import pytest

from gauze.core.design.bench import BenchReading
from gauze.core.errors import ReadingError
from gauze.core.evaluate import evaluate
from gauze.core.evaluate.evaluation import Detail, Evaluation
from gauze.core.formats.design_file import decode_design
from gauze.core.proving.fault_finder import SYMPTOMS, Symptom, diagnose, near_to, seen
from gauze.core.proving.faults import WORDS, Fault, FaultKind, faults_of, simulate
from gauze.core.proving.fitting import Reading, usual_limit
from gauze.core.proving.predicting import value_at
from gauze.core.proving.rehearsal import COURSE, case_of, hide, photograph, read_meter, score, symptoms_of
from gauze.demo import DEMOS, demo
from tests.builders import CATALOGUE
from tests.families import FAMILIES, family

ROUGH = Detail(0.4, 4_000, 1)
HIDDEN = ("proofing_panel", "press_bars", "tide_board", "quay_line")


def lit(key: str) -> Evaluation:
    return evaluate(decode_design(demo(key).read(), CATALOGUE), CATALOGUE, ROUGH)


@pytest.fixture(scope="module")
def builds() -> dict[str, Evaluation]:
    return {key: lit(key) for key in HIDDEN}


def test_there_are_fifteen_kinds_of_fault_and_all_have_words() -> None:
    assert len(get_args(FaultKind)) >= 15
    assert set(WORDS) == set(get_args(FaultKind))


@pytest.mark.parametrize("key", [one.key for one in DEMOS])
def test_every_fault_of_every_demo_can_be_simulated(key: str) -> None:
    """What flows stays finite, and supplies give no more than without most faults."""
    now = lit(key)
    pieces = [piece.id for piece in now.layout.pieces]
    if not pieces:
        return
    for fault in faults_of(now, near_to(now, pieces[len(pieces) // 2])):
        found = simulate(now, fault)
        assert found.network.power is not None
        assert set(found.looks) == set(pieces)
        for one in found.network.power.pieces:
            assert np.isfinite(one.volts_v).all()
            assert np.isfinite(one.current_a).all()


@pytest.mark.parametrize("build", FAMILIES.values(), ids=FAMILIES.keys())
def test_every_family_has_a_finder(build: Any) -> None:
    now = evaluate(family(build), CATALOGUE, ROUGH)
    if now.network.power is None:
        return
    piece = now.layout.pieces[-1].id
    found = diagnose(now, [Symptom("dark_piece", piece)], [])
    assert found.suspects
    assert sum(one.probability for one in found.suspects) == pytest.approx(1.0)


def test_a_bad_joint_drops_volts_by_ohms_law(builds: dict[str, Evaluation]) -> None:
    """Between the pads before and behind it the drop is its ohms times the current that flows on."""
    now = builds["press_bars"]
    last = now.layout.pieces[-1].id
    healthy, bad = now.network.power, simulate(now, Fault("bad_joint", last, 1.0)).network.power
    assert healthy is not None
    assert bad is not None
    wire = next(one for one in bad.wires if one.wire.end.piece == last and one.wire.conductor == "+")
    before = next(one for one in healthy.wires if one.wire.end.piece == last and one.wire.conductor == "+")
    assert wire.drop_v / wire.current_a - before.drop_v / before.current_a == pytest.approx(1.0, rel=1e-6)
    assert bad.pieces[-1].volts_v.max() < healthy.pieces[-1].volts_v.max()


def test_an_open_joint_darkens_what_hangs_on_it(builds: dict[str, Evaluation]) -> None:
    names = [piece.id for piece in builds["proofing_panel"].layout.pieces]
    found = simulate(builds["proofing_panel"], Fault("open_joint", "row-9"))
    dark = [name for name in names if found.looks[name] == "dark"]
    assert dark == names[8:]
    assert symptoms_of(found, names) == (Symptom("dark_from", "row-9"),)


def test_what_is_seen_is_likelier_of_the_fault_that_shows_it(builds: dict[str, Evaluation]) -> None:
    now = builds["proofing_panel"]
    names = [piece.id for piece in now.layout.pieces]
    here, there = (simulate(now, Fault("reversed_piece", name)) for name in ("row-3", "row-4"))
    assert seen(here, Symptom("dark_piece", "row-3"), names) == pytest.approx(1.0)
    assert seen(there, Symptom("dark_piece", "row-3"), names) < 0.1
    for kind in SYMPTOMS:
        assert 0.0 < seen(here, Symptom(kind, "row-3"), names) <= 1.0


def test_the_true_fault_comes_first_within_three_readings(builds: dict[str, Evaluation]) -> None:
    """In 8 of 10 random cases, as is promised; faults that neither show nor tell are no cases."""
    dice = np.random.default_rng(11)
    right = total = 0
    for now in builds.values():
        names = [piece.id for piece in now.layout.pieces]
        for _ in range(10):
            piece = names[dice.integers(len(names))]
            known = faults_of(now, [piece])
            truth = simulate(now, known[dice.integers(len(known))])
            symptoms = symptoms_of(truth, names)
            if not symptoms:
                continue
            taken: list[Reading] = []
            found = diagnose(now, symptoms, taken)
            for _ in range(3):
                if found.next_reading is None:
                    break
                asked = found.next_reading.quantity, found.next_reading.place
                value = value_at(replace(now, network=truth.network), *asked)
                limit = usual_limit(asked[0], value)
                taken.append(Reading(*asked, value + limit * dice.uniform(-1, 1), limit))
                found = diagnose(now, symptoms, taken)
            first = found.suspects[0].fault
            right += (first.kind, first.piece) == (truth.fault.kind, truth.fault.piece)
            total += 1
    assert total >= 20
    assert right >= 0.8 * total


def test_a_reading_at_no_place_is_told(builds: dict[str, Evaluation]) -> None:
    with pytest.raises(ReadingError):
        diagnose(builds["press_bars"], [], [Reading("volts", "moon", 1.0, 0.1)])


# -- rehearsal ---------------------------------------------------------------------------------------------------------


def test_the_course_has_twelve_cases_from_easy_to_nasty_in_our_scene() -> None:
    assert len(COURSE) >= 12
    assert len({one.key for one in COURSE}) == len(COURSE)
    assert [one.hard for one in COURSE] == sorted(one.hard for one in COURSE)
    assert {one.demo for one in COURSE} <= {one.key for one in DEMOS}


@pytest.mark.parametrize("case", COURSE, ids=[one.key for one in COURSE])
def test_every_case_can_be_solved_by_its_own_finder(case: Any) -> None:
    now = lit(case.demo)
    hidden = hide(now, case, 7)
    if case.fault is None:
        assert hidden.fault is None
        assert score(hidden, None, 2).points == 10
        assert score(hidden, Fault("supply_low"), 2).points == 0
        return
    assert hidden.symptoms
    taken = []
    found = diagnose(now, hidden.symptoms, [])
    for number in range(3):
        if found.next_reading is None:
            break
        taken.append(read_meter(hidden, (found.next_reading.quantity, found.next_reading.place), number))
        found = diagnose(now, hidden.symptoms, [one.as_evidence for one in taken])
    assert hidden.fault is not None
    named = [one.fault for one in found.suspects[:3] if one.fault.kind == case.fault]
    assert named, [one.fault.kind for one in found.suspects[:3]]
    assert score(hidden, hidden.fault, len(taken)).points == 10


def test_simulated_meters_repeat_themselves_and_stay_within_their_limits() -> None:
    now = lit("press_bars")
    well = replace(case_of("first-light"), demo="press_bars")
    inside = []
    for seed in range(40):
        hidden = hide(now, well, seed)
        first, again, later = (read_meter(hidden, ("volts", "supply"), number) for number in (0, 0, 1))
        assert first == again
        assert abs(later.value - first.value) <= first.limit
        inside.append(abs(first.value - value_at(hidden.truth, "volts", "supply")) <= 1.05 * first.limit)
    assert all(inside)
    assert not isinstance(first, BenchReading)  # no log takes it
    with pytest.raises(ReadingError):
        read_meter(hidden, ("volts", "moon"), 0)


def test_more_readings_cost_points_and_another_place_too() -> None:
    hidden = hide(lit("press_bars"), case_of("loose-end"), 3)
    assert hidden.fault is not None
    assert [score(hidden, hidden.fault, count).points for count in (1, 3, 4, 9)] == [10, 10, 9, 8]
    assert score(hidden, replace(hidden.fault, piece="bar-1/strip-1"), 1).points == 8
    assert score(hidden, Fault("dimmed"), 1).points == 0
    assert score(hidden, None, 1).points == 0


def test_the_simulated_camera_shows_the_fault_where_it_is() -> None:
    """Rows from the ninth on are dark: the right part of the picture is, and the left part is as bright as it was."""
    now = lit("proofing_panel")
    case = replace(case_of("lost-row"), fault="open_joint", piece=8)
    ill, well = (photograph(hide(now, one, 5), CATALOGUE) for one in (case, case_of("first-light")))
    assert ill.dtype == np.uint8
    wide = ill.shape[1]
    left, right = (slice(None, wide // 4), slice(3 * wide // 4, None))
    assert ill[:, right].mean() < 0.3 * well[:, right].mean()
    assert ill[:, left].mean() > 0.8 * well[:, left].mean()
    assert np.array_equal(ill, photograph(hide(now, case, 5), CATALOGUE))
