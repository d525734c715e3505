"""Steps of the making: everything is cut, laid and wired once, in an order that works, with readings that add up."""

import base64
import re
import zlib
from functools import cache
from importlib import resources

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.design import Design
from gauze.core.design.making import Making, OwnStep, StepRecord, check_making
from gauze.core.design.surroundings import Surroundings
from gauze.core.design.wiring import BatterySupply, Wiring
from gauze.core.electrical.wire_list import runs_of
from gauze.core.errors import DesignError
from gauze.core.evaluate import WHILE_DRAGGING, evaluate
from gauze.core.evaluate.building.model import STAGES, Step
from gauze.core.evaluate.building.steps import done_of, steps_of, with_own
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.made import MadeBuild, made_of
from gauze.core.families import parts_of
from gauze.core.formats.design_file import decode_design
from gauze.core.materials.labels import BatteryLabel
from gauze.session.exporting import book_of
from tests.builders import CATALOGUE, design
from tests.families import FAMILIES, cells, family, frame, head, strip_display, tube

NAMES = sorted(FAMILIES)


@cache
def built(name: str) -> tuple[Evaluation, MadeBuild]:
    return build(family(FAMILIES[name]))


def build(what: Design) -> tuple[Evaluation, MadeBuild]:
    return evaluate(what, CATALOGUE, WHILE_DRAGGING), made_of(what, CATALOGUE, ())


def steps(what: Design) -> dict[str, Step]:
    return {one.key: one for one in steps_of(*build(what))}


@pytest.mark.parametrize("name", NAMES)
def test_every_step_has_a_key_of_its_own_and_stages_follow_each_other(name: str) -> None:
    found = steps_of(*built(name))
    keys = [one.key for one in found]
    assert len(set(keys)) == len(keys)
    order = [list(STAGES).index(one.stage) for one in found]
    assert order == sorted(order)
    assert keys == [one.key for one in steps_of(*built(name))]


@pytest.mark.parametrize("name", NAMES)
def test_every_piece_is_laid_once_and_every_wire_soldered_once(name: str) -> None:
    evaluation, made = built(name)
    found = steps_of(evaluation, made)
    laid = [part for one in found if one.stage == "lay" and one.key != "lay/mark" for part in one.parts]
    assert sorted(laid) == sorted(piece.id for piece in evaluation.layout.pieces)
    power = evaluation.network.power
    lines = [str(line) for one in found if one.stage == "solder" for line in one.how if str(line).startswith("wire ")]
    told = [re.match(r"(wire \d+) \((.*?)\): (the .*) → (.*); [\d.]+ mm², [\d.]+ mm$", line) for line in lines]
    wires = [(one[1], conductor) for one in told if one is not None for conductor in one[2].split(", ")]
    assert None not in told
    wanted = [] if power is None else [one for run in runs_of(power) for one in run.wires]
    assert len(wires) == len(wanted)
    assert len(set(wires)) == len(wires)


@pytest.mark.parametrize("name", NAMES)
def test_every_part_of_the_body_is_cut_or_put_in_somewhere(name: str) -> None:
    evaluation, made = built(name)
    parts = parts_of(evaluation.design, evaluation.layout, CATALOGUE)
    used = {part for one in steps_of(evaluation, made) for part in one.parts}
    body = {part for one in parts.body if one.kind != "board" for part in one.ids()}
    assert body <= used


@pytest.mark.parametrize("name", NAMES)
def test_the_readings_of_all_pieces_add_up_to_that_of_everything(name: str) -> None:
    evaluation, made = built(name)
    power = evaluation.network.power
    assert power is not None
    found = steps_of(evaluation, made)
    amps = [one for step in found if step.stage == "solder" and step.parts for one in step.expected if one.unit == "A"]
    alone = sum((one.low + one.high) / 2.0 for one in amps)
    # what a piece draws once all of its kind are there: wires between take nothing
    assert alone == pytest.approx(sum(float(piece.current_a.sum()) for piece in power.pieces), rel=1e-6)
    assert all(0 < one.low < one.high for step in found for one in step.expected)
    volts = [one for step in found if step.stage == "solder" for one in step.expected if one.unit == "V"]
    assert all(one.low <= one.high for one in volts)


DANGEROUS = ("saw", "drill", "solder", "glue", "knife", "shears")


@pytest.mark.parametrize("name", NAMES)
def test_where_something_can_hurt_a_caution_stands(name: str) -> None:
    for step in steps_of(*built(name)):
        tools = " ".join(str(tool) for tool in step.tools)
        if any(word in tools for word in DANGEROUS):
            assert step.cautions, step.key
    up = next(one for one in steps_of(*built(name)) if one.stage == "hang" and one.key == "hang/up")
    assert "fixings" in " ".join(str(one) for one in up.cautions)


def test_mitres_are_told_both_ways_and_joined() -> None:
    found = steps(family(frame(sides=4)))
    cut = next(one for key, one in found.items() if key.startswith("cut/profile"))
    assert any("45°" in str(line) for line in cut.how)
    assert "4 mitres" in str(found["body/mitres"].title)


def test_families_have_their_own_steps() -> None:
    assert "body/partitions" in steps(family(cells()))
    assert "body/funnel" in steps(family(head()))
    assert "body/walls" in steps(design())
    assert "try/pixels" in steps(family(strip_display()))
    assert "try/pixels" not in steps(design())
    lines = " ".join(str(line) for line in steps(family(tube()))["close/lid"].how)
    assert "caps" in lines


def test_the_cap_and_the_school_are_told() -> None:
    what = msgspec.structs.replace(family(strip_display()), wiring=Wiring(cap_ma=1500.0))
    assert any("1500 mA" in str(line) for line in steps(what)["try/pixels"].how)
    soldered = steps(design())["solder/row-1"]
    fitted = steps(msgspec.structs.replace(design(), making=Making(joined_with="connectors")))["solder/row-1"]
    assert "Solder" in str(soldered.title)
    assert "Fit" in str(fitted.title)
    assert str(soldered.otherwise) != str(fitted.otherwise)
    clipped = steps(msgspec.structs.replace(design(), making=Making(laid_with="clips")))["lay/row-1"]
    assert "clip" in str(clipped.how[0])


def test_on_metal_the_cut_ends_are_insulated() -> None:
    metal = msgspec.structs.replace(design(), surroundings=Surroundings(back="aluminium", back_mm=2.0))
    assert any("insulating" in str(line) for line in steps(metal)["lay/row-1"].how)
    assert not any("insulating" in str(line) for line in steps(design())["lay/row-1"].how)


def test_what_gets_too_hot_is_not_left_on_for_an_hour() -> None:
    hot = msgspec.structs.replace(design(), surroundings=Surroundings(ambient_c=65.0))
    step = steps(hot)["try/hour"]
    assert "Do not run" in str(step.title)
    assert step.expected == ()
    assert "Let it run" in str(steps(design())["try/hour"].title)


def test_a_battery_is_charged_and_fused_in_place_of_the_supply() -> None:
    pack = BatteryLabel(id="own-pack", name="Pack", chemistry="lead_acid", cells_in_series=12, amp_hours=7.0)
    what = msgspec.structs.replace(design(), wiring=Wiring(battery=BatterySupply(battery=pack)))
    found = steps(what)
    assert "prepare/battery" in found
    assert not any(key.startswith("prepare/supply") for key in found)


@given(st.lists(st.integers(-1, 30), max_size=6))
def test_own_steps_stand_where_they_were_put(after: list[int]) -> None:
    usual = [Step(f"s{number}", "cut", f"Step {number}") for number in range(20)]
    own = tuple(
        OwnStep(key=f"own-{index}", after="" if place < 0 else f"s{place}", text=f"Mine {index}")
        for index, place in enumerate(after)
    )
    found = with_own(usual, Making(own_steps=own))
    keys = [one.key for one in found]
    assert sorted(keys) == sorted([one.key for one in usual] + [one.key for one in own])
    assert [key for key in keys if not key.startswith("own")] == [one.key for one in usual]
    for one in own:
        if one.after in keys:
            between = keys[keys.index(one.after) + 1 : keys.index(one.key)]
            assert all(key.startswith("own") for key in between)


def test_ticks_are_kept_by_key_and_those_of_steps_that_are_gone_do_not_count() -> None:
    usual = [Step("a", "cut", "A"), Step("b", "cut", "B")]
    kept = (StepRecord(key="a", done=True), StepRecord(key="gone", done=True), StepRecord(key="b", note="later"))
    assert done_of(usual, Making(records=kept)) == 1


@pytest.mark.parametrize(
    "making",
    [
        Making(records=(StepRecord(key="a"), StepRecord(key="a"))),
        Making(own_steps=(OwnStep(key="", text="x"),)),
        Making(own_steps=(OwnStep(key="own-1", text="x" * 5000),)),
    ],
)
def test_records_that_cannot_be_are_refused(making: Making) -> None:
    with pytest.raises(DesignError):
        check_making(making)


# -- the book --


def pages_of(data: bytes) -> int:
    return data.count(b"/Type /Page\n") + data.count(b"/Type /Page ")


@pytest.mark.parametrize("name", NAMES)
def test_the_book_of_every_family_can_be_written_and_is_the_same_each_time(name: str) -> None:
    evaluation, made = built(name)
    data = book_of(evaluation, made)
    assert data.startswith(b"%PDF")
    assert pages_of(data) >= 4
    assert data == book_of(evaluation, made)


def lines_of(data: bytes) -> list[str]:
    """The words on the pages, in the order in which they are drawn."""
    streams = re.findall(rb"stream\r?\n(.*?)endstream", data, re.DOTALL)
    pages = b"".join(zlib.decompress(base64.a85decode(one.strip().removesuffix(b"~>"))) for one in streams)
    return [one.decode("latin-1") for one in re.findall(rb"\(((?:[^()\\]|\\.)*)\) Tj", pages)]


def test_the_wire_list_of_the_book_names_the_steps_of_the_book() -> None:
    """Where a wire is to be soldered in step 10, step 10 says so."""
    lines = lines_of(book_of(*build(family(frame()))))
    table = lines.index("Wires, both plus and minus")
    heads = lines.index("Step", table)
    first = next(number for number, one in enumerate(lines) if re.match(r"\d+\. Solder", one))
    step_of: dict[str, str] = {}
    step = ""
    for one in lines[first:]:
        title = re.match(r"(\d+)\. ", one)
        step = title[1] if title else step
        wire = re.match(r"- wire (\d+) ", one)
        if wire:
            step_of[wire[1]] = step
    rows = lines[heads + 1 : first]
    assert len(step_of) >= 3
    for number, step in step_of.items():
        starts = [place for place, one in enumerate(rows) if one == number and rows[place + 1].startswith("the ")]
        assert len(starts) == 1
        own = rows[starts[0] : starts[0] + 8]
        following = [place for place, one in enumerate(own[1:], 1) if place > 2 and one.startswith("the ")]
        own = own[: following[0] - 1] if following else own
        assert step in own[5:]  # after its amps, and its fuse where it has one


def test_the_book_survives_any_name_and_note() -> None:
    nasty = "<b>& “Ω” </para>"
    making = Making(
        records=(StepRecord(key="hang/up", done=True, reading="<1>", note=nasty),),
        own_steps=(OwnStep(key="own-1", text=nasty),),
    )
    what = msgspec.structs.replace(design(), name=nasty, making=making)
    assert pages_of(book_of(*build(what))) >= 4


def test_loose_emitters_have_a_book_too() -> None:
    what = decode_design((resources.files("gauze.demo") / "harbour_sign.gauze").read_bytes(), CATALOGUE)
    found = steps(what)
    assert not any(key.startswith("solder") for key in found)
    assert book_of(*build(what)).startswith(b"%PDF")


def test_pixels_are_tried_with_data_and_white_strip_with_volts_alone() -> None:
    pixels = steps(family(strip_display()))["prepare/5v-rgb-pixel-60"]
    white = steps(design())["prepare/12v-white-60"]
    assert "controller" in " ".join(str(line) for line in pixels.how)
    assert "red" in str(pixels.test)
    assert "white" in str(white.test)


def test_what_cannot_be_cut_from_its_stock_is_told_where_it_is_cut() -> None:
    long = steps(family(tube(length_mm=3600.0)))
    cut = next(one for key, one in long.items() if key.startswith("cut/tube"))
    assert any("buy longer" in str(line) for line in cut.how)
