"""The order of soldering: nothing is left out, and each step can be tried on what is there by then."""

import msgspec
import pytest

from gauze.core.design import Design
from gauze.core.design.wiring import Injection, Wiring
from gauze.core.drawing import views_of
from gauze.core.electrical.power import Power
from gauze.core.electrical.soldering import SolderingStep, soldering_steps
from gauze.core.electrical.wire_list import runs_of
from gauze.core.evaluate.stages import network_for
from gauze.core.families import lay_out
from gauze.core.formats.wire_list import encode_wire_list
from tests.builders import CATALOGUE, design
from tests.families import FAMILIES, family, tiles

SCHEMES = ("own", "buses", "opposite", "both_ends", "in_a_row", "separate")


def steps_of(what: Design) -> tuple[Power, tuple[SolderingStep, ...]]:
    laid = lay_out(what, CATALOGUE)
    network = network_for(what, laid, CATALOGUE)
    assert network.power is not None
    return network.power, soldering_steps(network.power, laid.pieces, network.joints)


def wired(what: Design, **changes: object) -> Design:
    return msgspec.structs.replace(what, wiring=Wiring(**changes))


@pytest.mark.parametrize("name", sorted(FAMILIES))
@pytest.mark.parametrize("scheme", SCHEMES)
def test_every_wire_is_soldered_once_and_every_piece_lights_once(name: str, scheme: str) -> None:
    power, steps = steps_of(wired(family(FAMILIES[name]), scheme=scheme))
    soldered = [wire for step in steps for wire in step.wires]
    wanted = [(run.number, one.wire.conductor) for run in runs_of(power) for one in run.wires]
    assert sorted(soldered) == sorted(wanted)
    lit = [name for step in steps for name in step.lights]
    assert sorted(lit) == sorted(one.id for one in power.pieces)
    assert [step.number for step in steps] == list(range(1, len(steps) + 1))
    amps = [step.supply_a for step in steps]
    assert amps == sorted(amps)
    assert amps[-1] == pytest.approx(sum(float(one.current_a.sum()) for one in power.pieces))


@pytest.mark.parametrize("scheme", SCHEMES)
def test_what_is_soldered_hangs_on_what_is_there(scheme: str) -> None:
    what = wired(design(), scheme=scheme, injections=(Injection(piece="row-2", after=1),))
    power, steps = steps_of(what)
    runs = {run.number: run for run in runs_of(power)}
    there: set[tuple[str, str]] = set()
    for step in steps:
        for number, conductor in step.wires:
            ends = [pad.piece for pad in (runs[number].start, runs[number].end)]
            assert "" in ends or any((piece, conductor) in there for piece in ends)
            there |= {(piece, conductor) for piece in ends if piece}
        for piece in step.lights:
            assert {(piece, "+")} <= there


def test_one_piece_after_the_other_is_one_step_each_and_tiles_are_finished_before_the_next() -> None:
    _, rows = steps_of(wired(design(), scheme="in_a_row"))
    assert all(len(step.lights) == 1 and step.joints == 4 for step in rows)
    _, wall = steps_of(wired(family(tiles())))
    order = [step.lights[0].split("/")[0] for step in wall if step.lights]
    assert order == sorted(order)


def test_the_table_names_the_step_of_each_wire_and_what_to_read() -> None:
    what = wired(design(), scheme="in_a_row")
    power, steps = steps_of(what)
    text = encode_wire_list(what, power, steps).decode()
    rows = [line.split(",") for line in text.splitlines() if not line.startswith("#")]
    assert rows[0][:2] == ["step", "wire"]
    assert {int(row[0]) for row in rows[1:]} == {step.number for step in steps}
    assert "no short between plus and minus" in text
    assert f"# step {len(steps)}: solder" in text


def test_the_plan_from_the_back_is_the_plan_mirrored() -> None:
    what = wired(design(), scheme="in_a_row")
    laid = lay_out(what, CATALOGUE)
    power, _ = steps_of(what)
    plain = views_of(what, laid)
    plan, _, back = views_of(what, laid, power)
    assert [view.key for view in plain] == ["plan", "section"]
    left, _, wide, _ = laid.sketch.plan_mm
    front_layer, back_layer = (next(one for one in view.layers if one.key == "wiring") for view in (plan, back))
    for ours, theirs in zip(back_layer.shapes, front_layer.shapes, strict=True):
        assert ours.points_mm[:, 0] == pytest.approx(2 * left + wide - theirs.points_mm[:, 0])
        assert ours.points_mm[:, 1] == pytest.approx(theirs.points_mm[:, 1])
    roles = {shape.role for shape in front_layer.shapes}
    assert roles == {"plus", "minus", "label", "hole"}
