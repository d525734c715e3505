"""Which of the things on a shelf suit a build: good ones and bad ones, each with the reason."""

from typing import Any

import msgspec
import pytest

from gauze.core.design import Design, StripChoice
from gauze.core.design.channel_bar import Bar, ChannelBar
from gauze.core.electrical.supply import WORST_CASE_MARGIN
from gauze.core.evaluate import WHILE_DRAGGING
from gauze.core.evaluate.finding import State
from gauze.core.evaluate.shelf import Judged, judge_shelf
from gauze.core.evaluate.stages import evaluate, network_for
from gauze.core.families import lay_out, parts_of
from gauze.core.materials.labels import (
    BatteryLabel,
    BoardStock,
    ConnectorLabel,
    ControllerLabel,
    ConverterLabel,
    FuseLabel,
    ProfileStock,
    SheetStock,
    StripLabel,
    SupplyLabel,
    Thing,
    WireLabel,
)
from gauze.session.edits import with_lamp, with_stock
from tests.builders import CATALOGUE, design
from tests.families import bars, family, tube

PANEL = design()  # 24 V or 12 V analog strip, as the builders make it
PIXELS = family(tube(strips=(StripChoice(strip="5v-rgb-pixel-60"),)))


def judged(what: Design, *things: Thing) -> list[Judged]:
    laid = lay_out(what, CATALOGUE)
    return judge_shelf(parts_of(what, laid, CATALOGUE), network_for(what, laid, CATALOGUE), things, CATALOGUE)


def volts_and_watts(what: Design) -> tuple[float, float]:
    laid = lay_out(what, CATALOGUE)
    (need,) = network_for(what, laid, CATALOGUE).supplies
    return need.volts, need.drawn_w


def supply(what: Design, times: float, **entries: Any) -> SupplyLabel:
    volts, watts = volts_and_watts(what)
    return SupplyLabel(**({"id": "own-s", "name": "s", "volts": volts, "watts": watts * times} | entries))


@pytest.mark.parametrize("what", [PANEL, PIXELS], ids=["panel", "pixels"])
def test_a_supply_is_judged_by_what_is_drawn_and_by_the_school(what: Design) -> None:
    enough, scarce, short = (
        judged(what, supply(what, times))[0] for times in (1.01 * WORST_CASE_MARGIN * 1.5, 1.05, 0.9)
    )
    assert [one.state for one in (enough, scarce, short)] == [State.GOOD, State.WATCH, State.FAILS]
    assert enough.wiring is not None
    assert enough.wiring.supply_w is not None
    assert short.wiring is None


def test_of_wrong_volts_it_is_refused_and_one_that_trims_is_set() -> None:
    volts, watts = volts_and_watts(PANEL)
    other = judged(PANEL, supply(PANEL, 5.0, volts=volts / 2))[0]
    assert other.state is State.FAILS
    assert f"takes {volts:g} V" in str(other.sentence)
    trims = supply(PANEL, 5.0, volts=volts * 1.2, watts=watts * 5, trim_low_v=volts * 0.9)
    found = judged(PANEL, trims)[0]
    assert found.wiring is not None
    assert found.wiring.supply_volts is None  # the very volts of the build: nothing to note


def test_a_worn_one_is_trusted_less_and_two_are_never_joined() -> None:
    fresh, worn = (judged(PANEL, supply(PANEL, 1.22, worn=worn))[0] for worn in (False, True))
    assert fresh.state is State.GOOD
    assert worn.state is not State.GOOD
    two = judged(PANEL, supply(PANEL, 0.7, on_hand=2.0))[0]
    assert two.state is State.FAILS
    assert "never join their outputs" in str(two.sentence)


def test_none_on_hand_is_only_noted() -> None:
    assert judged(PANEL, supply(PANEL, 5.0, on_hand=0.0))[0].state is State.NOTE


def test_a_battery_feeds_what_it_fits_and_else_needs_a_converter() -> None:
    cell = BatteryLabel(id="own-b", name="b", chemistry="lithium_ion", amp_hours=10.0)
    pack = msgspec.structs.replace(cell, cells_in_series=3)
    step = ConverterLabel(id="own-c", name="step", out_v=5.0, in_low_v=7.0, in_high_v=26.0, limit_a=20.0)
    straight, alone, through, *_ = (
        judged(PIXELS, cell)[0],
        judged(PIXELS, pack)[0],
        judged(PIXELS, pack, step)[0],
    )
    assert "Without a converter" in str(straight.sentence)
    assert alone.state is State.FAILS
    assert "no converter" in str(alone.sentence)
    assert through.state is State.GOOD
    assert "the light stays" in str(through.sentence)
    weak = msgspec.structs.replace(step, limit_a=0.05)
    assert judged(PIXELS, pack, weak)[0].state is State.FAILS
    limited = msgspec.structs.replace(pack, limit_a=0.01)
    assert judged(PIXELS, limited, step)[0].state is State.FAILS


def test_wire_fuse_connector_and_controller_are_judged_by_the_amps_and_the_pixels() -> None:
    good = (
        WireLabel(id="own-1", name="w", section_mm2=6.0, on_hand=1000.0),
        ConnectorLabel(id="own-2", name="k", amps=1000.0),
        ControllerLabel(id="own-3", name="c", most_pixels=100_000),
    )
    bad = (
        WireLabel(id="own-1", name="w", section_mm2=0.05, on_hand=1000.0),
        ConnectorLabel(id="own-2", name="k", amps=0.001),
        ControllerLabel(id="own-3", name="c", most_pixels=1),
        FuseLabel(id="own-4", name="f", amps=0.01),
        FuseLabel(id="own-5", name="f", amps=500.0),
    )
    assert {one.state for one in judged(PIXELS, *good)} == {State.GOOD}
    assert {one.state for one in judged(PIXELS, *bad)} == {State.FAILS}
    short = judged(PIXELS, msgspec.structs.replace(good[0], on_hand=0.01))[0]
    assert short.state is State.WATCH
    assert judged(family(bars()), good[2])[0].state is State.NOTE  # no pixels there


def test_own_strip_is_measured_against_what_lies_there() -> None:
    own = StripLabel(id="own-reel", name="Reel", like="24v-white-120", watts_per_m=9.6, on_hand=0.5)
    lit = with_lamp(PANEL, own, CATALOGUE)
    assert lit is not None
    assert judged(lit, own)[0].state is State.FAILS
    assert judged(lit, msgspec.structs.replace(own, on_hand=500.0))[0].state is State.GOOD
    assert judged(PANEL, own) == []  # lit by something else


def test_loose_emitters_have_no_power_and_nothing_is_judged() -> None:
    from gauze.core.formats.design_file import decode_design
    from gauze.demo import demo_sign_bytes

    assert judged(decode_design(demo_sign_bytes(), CATALOGUE), supply(PANEL, 1.0)) == []


def test_a_design_lit_by_an_own_reel_gives_what_its_label_says() -> None:
    """Half the lumens per metre of the row that it is like, at the same LEDs: half the light."""
    like = CATALOGUE.strip(PANEL.strips[0].strip)
    own = StripLabel(id="own-dim", name="Dim", like=like.id, lumens_per_m=like.flux_lm_per_m / 2)
    lit = with_lamp(PANEL, own, CATALOGUE)
    assert lit is not None
    before, after = (evaluate(one, CATALOGUE, WHILE_DRAGGING).output.out_lm for one in (PANEL, lit))
    assert after == pytest.approx(before / 2, rel=1e-6)


def test_sheets_channel_and_boards_are_judged_by_the_parts() -> None:
    """Counted by hand: a lid of 620 x 420 out of 1000 x 500 is one; 600 + 900 + 600 mm of channel out of 1000 mm are three."""
    large = design(face_width_mm=620.0, face_height_mm=420.0, diffuser="opal-acrylic-3")

    def sheet(wide: float, high: float, like: str = "opal-acrylic-3", on_hand: float = 1.0) -> SheetStock:
        return SheetStock(id="own-s", name="s", like=like, width_mm=wide, height_mm=high, on_hand=on_hand)

    assert judged(large, sheet(1000.0, 500.0))[0].state is State.GOOD
    assert judged(large, sheet(420.0, 620.0))[0].state is State.GOOD  # turned
    assert judged(large, sheet(600.0, 600.0))[0].state is State.FAILS
    assert judged(large, sheet(1000.0, 500.0, on_hand=0.0))[0].state is State.FAILS
    assert judged(large, sheet(1000.0, 500.0, like="satin-acrylic-3")) == []

    lengths = tuple(Bar(length_mm=length) for length in (600.0, 900.0, 600.0))
    channel = family(bars(width_mm=15.0, bars=lengths))

    def stock(width: float, length: float, on_hand: float) -> ProfileStock:
        return ProfileStock(
            id="own-p", name="p", like="usual-15", width_mm=width, depth_mm=10.0, length_mm=length, on_hand=on_hand
        )

    assert judged(channel, stock(15.0, 1000.0, 3.0))[0].state is State.GOOD
    assert judged(channel, stock(15.0, 1000.0, 2.0))[0].state is State.FAILS
    assert judged(channel, stock(15.0, 1200.0, 2.0))[0].state is State.GOOD  # both of 600 mm out of one
    assert judged(channel, stock(15.0, 800.0, 9.0))[0].state is State.FAILS
    assert judged(channel, stock(20.0, 1000.0, 9.0))[0].state is State.NOTE
    assert judged(large, stock(15.0, 1000.0, 9.0)) == []

    board = BoardStock(id="own-b", name="b", thick_mm=18.0, high_mm=200.0, length_mm=2400.0, on_hand=1.0)
    assert judged(large, board)[0].state is State.GOOD  # four walls of 620 and 420 mm
    assert judged(large, msgspec.structs.replace(board, length_mm=500.0, on_hand=9.0))[0].state is State.FAILS


def test_what_is_on_the_shelf_is_built_of() -> None:
    channel = family(bars(bars=(Bar(length_mm=600.0),)))
    stock = ProfileStock(id="own-p", name="p", like="corner-v-18", width_mm=20.0, depth_mm=10.0, length_mm=2000.0)
    changed = with_stock(channel, stock, CATALOGUE)
    assert changed is not None
    lay_out(changed, CATALOGUE)
    build = changed.build_as(ChannelBar)
    assert (build.section, build.width_mm, build.depth_mm) == ("v", 20.0, 10.0)
    sheet = SheetStock(id="own-s", name="s", like="satin-acrylic-3", width_mm=500.0, height_mm=500.0)
    laid = with_stock(PANEL, sheet, CATALOGUE)
    assert laid is not None
    assert laid.build.layers[-1] == "satin-acrylic-3"
    assert with_stock(PANEL, stock, CATALOGUE) is None
