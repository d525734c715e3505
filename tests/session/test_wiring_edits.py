"""Edits of the wiring."""

import msgspec
import pytest

from gauze.core.design.differences import differences
from gauze.core.design.wiring import MOST_INJECTIONS, MOST_SECTIONS, Injection, RunSection, Wiring
from gauze.core.errors import DesignError
from gauze.core.formats.design_file import decode_design, encode_design
from gauze.session.versions import keep_version, take_up
from gauze.session.wiring_edits import (
    with_injection,
    with_moved_injection,
    with_section,
    with_wiring,
    without_injection,
    without_wiring,
)
from tests.builders import CATALOGUE, design

THERE = Injection(piece="row-2", after=3)
USUAL = Wiring(wire_mm2=2.5)


def test_what_is_chosen_first_keeps_the_rest_of_the_usual() -> None:
    changed = with_wiring(design(), USUAL, scheme="both_ends")
    assert changed.wiring == Wiring(scheme="both_ends", wire_mm2=2.5)
    again = with_wiring(changed, Wiring(), lead_mm=200.0)
    assert again.wiring == Wiring(scheme="both_ends", wire_mm2=2.5, lead_mm=200.0)
    assert without_wiring(again) == design()


def test_a_feed_is_put_in_once_and_taken_away() -> None:
    once = with_injection(design(), USUAL, THERE)
    assert once.wiring is not None
    assert once.wiring.injections == (THERE,)
    assert with_injection(once, USUAL, THERE) == once
    taken = without_injection(once, THERE)
    assert taken.wiring == USUAL
    assert without_injection(design(), THERE) == design()


BAD = [
    {"wire_mm2": 0.0},
    {"wire_mm2": float("nan")},
    {"lead_mm": -1.0},
    {"supply_volts": 0.5},
    {"supply_volts": 230.0},
    {"supply_w": 0.0},
]


@pytest.mark.parametrize("changes", BAD, ids=str)
def test_what_cannot_be_is_refused_at_its_place(changes: dict[str, float]) -> None:
    with pytest.raises(DesignError) as refused:
        with_wiring(design(), USUAL, **changes)
    assert refused.value.field == f"wiring.{next(iter(changes))}"


def test_thousands_of_feeds_are_refused() -> None:
    many = tuple(Injection(piece="row-1", after=index) for index in range(MOST_INJECTIONS + 1))
    with pytest.raises(DesignError, match=f"At most {MOST_INJECTIONS}"):
        with_wiring(design(), USUAL, injections=many)


def test_files_versions_and_comparisons_hold_the_wiring() -> None:
    wired = with_injection(with_wiring(design(), USUAL, scheme="buses"), USUAL, THERE)
    assert decode_design(encode_design(wired), CATALOGUE) == wired
    kept = keep_version(wired)
    other = without_wiring(kept)
    assert take_up(other, 0).wiring == wired.wiring
    words = [one.path for one in differences(wired, msgspec.structs.replace(wired, wiring=USUAL))]
    assert "wiring.scheme" in words


def test_a_run_has_a_section_of_its_own_until_it_has_that_of_the_others() -> None:
    run = ("supply", "row-1 start")
    thick = with_section(design(), USUAL, run, 4.0)
    assert thick.wiring is not None
    assert thick.wiring.sections == (RunSection(start=run[0], end=run[1], wire_mm2=4.0),)
    assert (thick.wiring.section_mm2(*run), thick.wiring.section_mm2("supply", "row-2 start")) == (4.0, 2.5)
    assert decode_design(encode_design(thick), CATALOGUE) == thick
    assert with_section(thick, USUAL, run, None).wiring == USUAL
    assert with_section(design(), USUAL, run, None) == design()
    with pytest.raises(DesignError):
        with_section(design(), USUAL, run, 0.0)
    own = RunSection(start="a", end="b", wire_mm2=1.0)
    with pytest.raises(DesignError, match="section already"):
        with_wiring(design(), USUAL, sections=(own, own))
    with pytest.raises(DesignError, match=f"At most {MOST_SECTIONS}"):
        with_wiring(design(), USUAL, sections=(own,) * (MOST_SECTIONS + 1))


def test_a_feed_that_is_moved_takes_the_section_of_its_wires_along() -> None:
    there = Injection(piece="row-3", after=1)
    fed = with_section(with_injection(design(), USUAL, THERE), USUAL, ("supply", "row-2 after 3"), 4.0)
    moved = with_moved_injection(fed, THERE, there)
    assert moved.wiring is not None
    assert moved.wiring.injections == (there,)
    assert moved.wiring.section_mm2("supply", "row-3 after 1") == 4.0
    assert with_moved_injection(moved, there, THERE) == fed
    both = with_injection(fed, USUAL, there)
    assert with_moved_injection(both, THERE, there) == both  # one is there already
    assert with_moved_injection(design(), THERE, there) == design()
