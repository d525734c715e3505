"""The solver process: the same results as at home, news meanwhile, giving up, errors, and its sudden end."""

import os
import pickle
import signal
import threading
import time
from collections.abc import Iterator
from dataclasses import replace

import msgspec
import numpy as np
import pytest

from gauze.core.design import Design
from gauze.core.design.cavity import BoxShape
from gauze.core.errors import Cancelled, DesignError, SolverError
from gauze.core.evaluate import AT_REST, WHILE_DRAGGING, evaluate, find
from gauze.core.evaluate.light.one_cavity import forget_faces
from gauze.core.evaluate.pictures import Picture, takes_picture, with_picture
from gauze.core.families import lay_out
from gauze.session.solver import (
    FixesFound,
    FixRequest,
    LightRequest,
    LightResult,
    Progress,
    SolverProcess,
)
from gauze.session.solver.messages import NOTHING, Kind, decode, encode_error, kind_of
from tests.builders import CATALOGUE, design, emitter, loose_design
from tests.families import FAMILIES, family


def lamp(count: int = 3) -> Design:
    places = (emitter(5.0 + 80.0 * index / count, 40.0) for index in range(count))
    return loose_design(BoxShape(width_mm=100.0, height_mm=80.0, depth_mm=30.0), *places)


def light(solver: SolverProcess, what: Design, detail=WHILE_DRAGGING, cancelled=lambda: False) -> LightResult:
    result = solver.call("light", LightRequest(what, detail), lambda _told: None, cancelled)
    assert isinstance(result, LightResult)
    return result


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_what_comes_back_is_what_would_be_computed_here(solver: SolverProcess, name: str) -> None:
    what, coarsely = family(FAMILIES[name]), replace(WHILE_DRAGGING, in_motion=False)  # not by what was lit before
    forget_faces()  # nor from one of other strength
    there, here = light(solver, what, coarsely), evaluate(what, CATALOGUE, coarsely)
    np.testing.assert_allclose(there.evaluation.xyz, here.xyz, rtol=1e-6)  # single precision, summed by threads
    found = find(here)
    assert [(one.code, one.state) for one in there.findings] == [(one.code, one.state) for one in found]
    assert [one.value for one in there.findings] == pytest.approx([one.value for one in found], rel=1e-5)


def test_the_design_and_the_catalogue_stay_the_same_objects(solver: SolverProcess) -> None:
    what = lamp()
    evaluation = light(solver, what).evaluation
    assert evaluation.design is what
    assert evaluation.catalogue is CATALOGUE


def test_a_search_tells_what_it_finds_while_it_goes_on(solver: SolverProcess) -> None:
    told: list[object] = []
    what = design(depth_mm=12.0)
    solver.call("fixes", FixRequest(what, ("dots",)), told.append, lambda: False)
    found = [one for one in told if isinstance(one, FixesFound)]
    shares = [one.share for one in told if isinstance(one, Progress)]
    assert [one.code for one in found] == ["dots"]
    assert found[0].fixes
    assert shares == sorted(shares)
    assert shares[-1] <= 1.0


def test_an_error_is_the_same_error_with_its_field_and_lengths(solver: SolverProcess) -> None:
    what = design(face_width_mm=-3.0)
    with pytest.raises(DesignError) as there:
        light(solver, what)
    with pytest.raises(DesignError) as here:
        evaluate(what, CATALOGUE)
    assert there.value.field == here.value.field
    assert (there.value.template, dict(there.value.values)) == (here.value.template, dict(here.value.values))
    assert "Traceback" in there.value.__notes__[0]


def test_an_error_that_cannot_be_sent_is_told_in_words() -> None:
    class Local(Exception):  # noqa: N818 - its name is what is looked for
        pass

    message = encode_error(Local("of ours"))
    assert kind_of(message) is Kind.FAILED
    told = decode(message, NOTHING)
    assert str(told) == "Local: of ours"
    assert "Local" in told.__notes__[0]


def test_a_call_that_is_given_up_returns_at_once_and_the_next_is_answered(solver: SolverProcess) -> None:
    heavy = family(FAMILIES["tube"])
    begun = threading.Event()

    def cancelled() -> bool:
        begun.set()
        return True

    with pytest.raises(Cancelled):
        light(solver, heavy, AT_REST, cancelled)
    assert begun.is_set()
    assert light(solver, design()).findings


def test_a_long_request_after_a_long_answer_that_nobody_read(solver: SolverProcess) -> None:
    many = lamp(20_000)
    for _ in range(2):
        looks = iter([False] * 5)
        with pytest.raises(Cancelled):
            light(solver, many, AT_REST, lambda looks=looks: next(looks, True))
    assert light(solver, many).evaluation.design is many


def test_emitters_go_as_a_table_and_come_as_they_were() -> None:
    what = lamp()
    again = pickle.loads(pickle.dumps(what))
    assert again == what
    assert type(again.build.emitters[0].distribution) is int


@pytest.fixture
def own_solver() -> Iterator[SolverProcess]:
    process = SolverProcess(CATALOGUE)
    yield process
    process.close()


def test_a_process_that_is_killed_is_told_and_started_anew(own_solver: SolverProcess) -> None:
    light(own_solver, design())
    first = own_solver.process_id
    os.kill(first, signal.SIGKILL)
    with pytest.raises(SolverError, match=r"SIGKILL.*restarted"):
        light(own_solver, design())
    assert own_solver.process_id != first
    assert light(own_solver, design()).findings


def test_no_process_stays_after_closing_even_in_the_middle_of_work() -> None:
    process = SolverProcess(CATALOGUE)
    number = process.process_id
    looks = iter([False] * 3)
    with pytest.raises(Cancelled):
        light(process, family(FAMILIES["tube"]), AT_REST, lambda: next(looks, True))
    process.close()
    with pytest.raises(ProcessLookupError):
        os.kill(number, 0)
    with pytest.raises(Cancelled):
        light(process, design())


def test_while_a_hand_drags_most_steps_are_a_picture_only(solver: SolverProcess) -> None:
    steps = [family(FAMILIES["tube"]) for _ in range(6)]
    steps = [
        msgspec.structs.replace(one, build=msgspec.structs.replace(one.build, diameter_mm=30.0 + 0.1 * number))
        for number, one in enumerate(steps)
    ]
    found = [
        solver.call("light", LightRequest(one, WHILE_DRAGGING, hand=7), lambda _told: None, lambda: False)
        for one in steps
    ]
    pictures = [one for one in found if one.picture_only]
    assert pictures
    assert all(not one.findings for one in pictures)
    assert [one.evaluation.design for one in found] == steps
    found.append(pictures[0])
    until = time.monotonic() + 120.0
    while found[-1].picture_only and time.monotonic() < until:  # figures follow
        found.append(
            solver.call("light", LightRequest(steps[0], WHILE_DRAGGING, hand=7), lambda _told: None, lambda: False)
        )
    assert not found[-1].picture_only
    assert found[-1].findings
    assert not light(solver, steps[1]).picture_only  # what no hand drags has all


def test_who_can_take_a_picture_is_sent_no_more(solver: SolverProcess) -> None:
    what = family(FAMILIES["tube"])
    known = light(solver, what, AT_REST).evaluation
    wider = msgspec.structs.replace(what, build=msgspec.structs.replace(what.build, diameter_mm=33.0))
    layout = lay_out(wider, CATALOGUE)
    assert takes_picture(known, wider, layout)
    request = LightRequest(wider, WHILE_DRAGGING, hand=31, takes_picture=True)
    picture = solver.call("light", request, lambda _told: None, lambda: False)
    assert isinstance(picture, Picture)
    found = with_picture(known, wider, layout, picture, WHILE_DRAGGING)
    alone = evaluate(wider, CATALOGUE, WHILE_DRAGGING)
    assert found.design == wider
    assert found.evenness.mean_cd_m2 == pytest.approx(alone.evenness.mean_cd_m2, rel=0.02)
    assert found.target is known.target


def test_a_drag_begins_with_the_figures_of_its_own_family_only(solver: SolverProcess) -> None:
    light(solver, family(FAMILIES["tube"]), AT_REST)
    first = solver.call(
        "light", LightRequest(family(FAMILIES["bars"]), WHILE_DRAGGING, hand=21), lambda _told: None, lambda: False
    )
    assert not first.picture_only
    assert first.findings
