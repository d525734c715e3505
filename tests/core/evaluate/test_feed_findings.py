"""What is found of the wiring: on good builds and on bad ones, and the fixes for the bad ones."""

import msgspec
import pytest

from gauze.core.design import Design, StripChoice
from gauze.core.design.surroundings import Surroundings
from gauze.core.design.tile_wall import Tile
from gauze.core.design.wiring import Injection, RunSection, Wiring
from gauze.core.drawing import layers_of
from gauze.core.electrical.wires import outer_mm
from gauze.core.evaluate import Caution, Finding, State, evaluate, find, search_fixes
from gauze.core.evaluate.evaluation import WHILE_DRAGGING
from gauze.core.evaluate.findings.drop import GOOD_SHARE
from gauze.core.evaluate.stages import network_for
from gauze.core.families import lay_out, parts_of
from gauze.core.materials.labels import ControllerLabel
from gauze.core.units import LengthUnit
from gauze.core.words import Reader
from tests.builders import CATALOGUE, design, warm_and_cool
from tests.families import FAMILIES, family, tiles, tube


def strip(length_mm: float, kind: str = "5v-rgb-pixel-60", **wiring: object) -> Design:
    choice = StripChoice(strip=kind, **({"cct_k": 3000.0} if "white" in kind else {}))
    what = family(tube(length_mm=length_mm, strips=(choice,)))
    return msgspec.structs.replace(what, wiring=Wiring(**wiring)) if wiring else what


def found(what: Design) -> dict[str, Finding]:
    return {one.code: one for one in find(evaluate(what, CATALOGUE, WHILE_DRAGGING)) if one.place == "feed"}


GOOD = {
    "a metre of 24 V": strip(1000.0, "24v-white-120", wire_mm2=0.75),
    "two metres of 24 V": strip(2000.0, "24v-white-60", wire_mm2=0.75),
    "half a metre of pixels": strip(500.0, wire_mm2=0.75),
    "three metres of pixels fed at both ends": strip(2000.0, scheme="both_ends", wire_mm2=4.0, lead_mm=300.0),
}
BAD = {
    "five metres of 12 V white, dense": strip(5000.0, "12v-white-240", wire_mm2=2.5),
    "four metres of pixels": strip(4000.0, wire_mm2=2.5),
    "three metres of pixels on a thin lead": strip(2500.0, wire_mm2=0.5, lead_mm=2000.0),
}


@pytest.mark.parametrize("name", GOOD)
def test_a_good_build_is_good(name: str) -> None:
    drop = found(GOOD[name])["drop"]
    assert drop.state is State.GOOD
    assert drop.value >= GOOD_SHARE


@pytest.mark.parametrize("name", BAD)
def test_a_bad_build_is_not(name: str) -> None:
    drop = found(BAD[name])["drop"]
    assert drop.state in (State.WATCH, State.FAILS)
    assert drop.fixable
    assert "far end" in str(drop.sentence)


def test_wiring_that_nobody_chose_never_fails_and_says_so() -> None:
    what = strip(4000.0)
    drop = found(what)["drop"]
    assert drop.state is State.WATCH
    assert "No wiring is chosen yet" in str(drop.sentence)
    assert found(what)["wire load"].state is State.NOTE
    evaluation = evaluate(what, CATALOGUE, WHILE_DRAGGING)
    wired = evaluate(msgspec.structs.replace(what, wiring=evaluation.network.wiring), CATALOGUE, WHILE_DRAGGING)
    assert wired.output.out_lm < 0.95 * evaluation.output.out_lm  # chosen, it dims the light


def test_the_far_end_is_dim_on_the_face() -> None:
    evaluation = evaluate(strip(4000.0, wire_mm2=2.5), CATALOGUE)
    along = evaluation.luminance_cd_m2.mean(axis=0)
    columns = len(along)
    near, far = along[columns // 10 : columns // 5].mean(), along[-columns // 5 : -columns // 10].mean()
    assert far < 0.8 * near
    red_over_blue = evaluation.xyz[0].mean(axis=0) / evaluation.xyz[2].mean(axis=0)
    assert red_over_blue[-columns // 8] > 1.2 * red_over_blue[columns // 8]  # and pinker


@pytest.mark.parametrize(("wire", "state"), [(0.25, State.FAILS), (2.5, State.GOOD)])
def test_a_wire_too_thin_for_its_current_fails_with_the_caution(wire: float, state: State) -> None:
    load = found(strip(1500.0, wire_mm2=wire))["wire load"]
    assert load.state is state
    assert Caution.CURRENT in load.cautions
    assert load.value == pytest.approx(
        max(
            one.current_a
            for one in evaluate(strip(1500.0, wire_mm2=wire), CATALOGUE, WHILE_DRAGGING).network.power.wires
        )
    )


def test_the_chosen_supply_is_judged() -> None:
    assert "supply load" not in found(strip(1000.0, wire_mm2=2.5))
    small, enough, tight = (
        found(strip(1000.0, wire_mm2=2.5, supply_w=watts))["supply load"] for watts in (6.0, 60.0, 19.0)
    )
    assert small.state is State.FAILS
    assert enough.state is State.GOOD
    assert tight.state is State.WATCH
    assert Caution.MAINS in small.cautions


def test_a_small_supply_is_told_the_cap_for_its_controller_and_a_larger_one() -> None:
    what = strip(1000.0, wire_mm2=2.5, supply_w=10.0)
    small = found(what)["supply load"]
    cap = next(figure for figure in small.figures if str(figure.name) == "Current cap")
    assert str(cap.value) == "1600 mA"  # 80 % of 10 W at 5 V
    needed_a = evaluate(what, CATALOGUE, WHILE_DRAGGING).network.power.supplies[0].needed_a
    assert f"leaves {1.6 / needed_a:.0%}" in str(cap.how)
    larger, capped = search_fixes("supply load", what, CATALOGUE)
    assert larger.design.wiring is not None
    for fix in (larger, capped):
        assert found(fix.design)["supply load"].state is State.GOOD
    white = found(strip(1000.0, "24v-white-120", wire_mm2=0.75, supply_w=6.0))["supply load"]
    assert "Current cap" not in {str(figure.name) for figure in white.figures}


def test_a_cap_keeps_the_supply_and_dims_the_face() -> None:
    what = strip(1000.0, wire_mm2=2.5, supply_w=10.0)
    capped = search_fixes("supply load", what, CATALOGUE)[-1]
    assert str(capped.title) == "Cap the pixels at 1600 mA"
    assert capped.design.wiring is not None
    assert capped.design.wiring.cap_ma == 1600.0
    free, now = (evaluate(one, CATALOGUE, WHILE_DRAGGING) for one in (strip(1000.0, wire_mm2=2.5), capped.design))
    flows_a = now.network.power.supplies[0].peak_a
    assert 0.95 * 1.6 < flows_a <= 1.6 + 1e-6  # as much light as the supply gives, and no more
    dimmed = now.luminance_cd_m2.mean() / free.luminance_cd_m2.mean()
    assert dimmed == pytest.approx(flows_a / free.network.power.supplies[0].peak_a, rel=0.03)
    white = strip(1000.0, "24v-white-120", wire_mm2=0.75, supply_w=6.0)
    assert not any("Cap" in str(fix.title) for fix in search_fixes("supply load", white, CATALOGUE))


@pytest.mark.parametrize(("typed", "own", "held"), [(500.0, None, 500.0), (500.0, 300.0, 300.0), (None, 300.0, 300.0)])
def test_pixels_are_held_to_the_lower_of_two_caps(typed: float | None, own: float | None, held: float) -> None:
    controller = ControllerLabel(id="own-box", name="Box", most_pixels=500, cap_ma=own)
    capped = strip(1000.0, wire_mm2=2.5, cap_ma=typed, controller=controller)
    power = evaluate(capped, CATALOGUE, WHILE_DRAGGING).network.power
    assert 0.9 * held < 1000.0 * power.supplies[0].peak_a <= held + 1e-3


def test_a_cap_above_what_flows_changes_nothing_and_one_for_analog_strip_neither() -> None:
    for cap, name in ((1e5, "5v-rgb-pixel-60"), (10.0, "24v-white-120")):
        free, capped = (
            evaluate(strip(1000.0, name, wire_mm2=2.5, cap_ma=one), CATALOGUE, WHILE_DRAGGING).network.power
            for one in (None, cap)
        )
        assert capped.supplies[0].peak_a == pytest.approx(free.supplies[0].peak_a, rel=1e-9)


def test_every_fix_of_a_dim_end_cures_it_or_says_what_it_gives() -> None:
    what = strip(4000.0, wire_mm2=2.5)
    before = found(what)["drop"]
    fixes = search_fixes("drop", what, CATALOGUE)
    titles = [str(fix.title) for fix in fixes]
    assert any("both ends" in title for title in titles)
    assert any("feed" in title for title in titles)
    for fix in fixes:
        after = found(fix.design)["drop"]
        assert after.value > before.value, fix.title
        assert "dimmest segment" in str(fix.cost)


def test_fed_in_at_more_places_it_is_good_and_no_feed_is_needless() -> None:
    what = strip(4000.0, wire_mm2=4.0, lead_mm=200.0)
    fix = next(fix for fix in search_fixes("drop", what, CATALOGUE) if "feed" in str(fix.title))
    wiring = fix.design.wiring
    assert wiring is not None
    assert wiring.injections
    assert found(fix.design)["drop"].value >= GOOD_SHARE
    for one in wiring.injections:
        rest = tuple(other for other in wiring.injections if other != one)
        fewer = msgspec.structs.replace(fix.design, wiring=msgspec.structs.replace(wiring, injections=rest))
        assert found(fewer)["drop"].value < GOOD_SHARE or found(fewer)["drop"].state is not State.GOOD


def test_where_the_fewest_are_promised_no_single_feed_does() -> None:
    """Tried here one after the other, at every pad."""
    what = strip(4800.0, "12v-white-240", wire_mm2=1.0, lead_mm=100.0)
    fix = next(fix for fix in search_fixes("drop", what, CATALOGUE) if "feed" in str(fix.title))
    assert "the fewest that do" in str(fix.title)
    assert fix.design.wiring is not None
    assert what.wiring is not None
    assert len(fix.design.wiring.injections) == 2
    (piece,) = evaluate(what, CATALOGUE, WHILE_DRAGGING).layout.pieces
    for after in range(piece.segments + 1):
        one = msgspec.structs.replace(what.wiring, injections=(Injection(piece=piece.id, after=after),))
        fed = network_for(msgspec.structs.replace(what, wiring=one), lay_out(what, CATALOGUE), CATALOGUE).power
        assert fed is not None
        assert fed.pieces[0].share.min() < GOOD_SHARE * fed.pieces[0].share.max()


def test_higher_volts_are_offered_where_the_catalogue_has_the_same_strip() -> None:
    what = strip(2500.0, "12v-white-120", wire_mm2=0.75, lead_mm=2000.0)
    fixes = {str(fix.title): fix for fix in search_fixes("drop", what, CATALOGUE)}
    assert "24 V white, 120/m" in fixes
    assert fixes["24 V white, 120/m"].design.strips[0].strip == "24v-white-120"


def test_thin_wire_is_cured_by_thicker_wire() -> None:
    what = strip(1500.0, wire_mm2=0.25)
    fixes = search_fixes("wire load", what, CATALOGUE)
    assert fixes
    assert found(fixes[0].design)["wire load"].state in (State.GOOD, State.WATCH)


def test_one_wire_that_is_too_thin_is_found_and_cured_alone() -> None:
    what = strip(1500.0, wire_mm2=2.5)
    power = evaluate(what, CATALOGUE, WHILE_DRAGGING).network.power
    assert power is not None
    lead = RunSection(start="supply", end=str(power.wires[0].wire.end), wire_mm2=0.14)
    thin = msgspec.structs.replace(what, wiring=msgspec.structs.replace(what.wiring, sections=(lead,)))
    load = found(thin)["wire load"]
    assert load.state is State.FAILS
    assert "0.14 mm² carries" in str(load.sentence)
    cured = search_fixes("wire load", thin, CATALOGUE)[0].design
    assert found(cured)["wire load"].state in (State.GOOD, State.WATCH)
    assert cured.wiring.wire_mm2 == 2.5


def test_lengths_of_wire_are_told_in_the_readers_unit() -> None:
    drop = found(strip(4000.0, wire_mm2=2.5, lead_mm=254.0))["drop"]
    reader = Reader(LengthUnit.INCH)
    assert any("10 in" in reader.read(figure.value) for figure in drop.figures)


def test_too_few_volts_for_anything_are_no_even_light() -> None:
    dark = found(strip(1000.0, "24v-white-120", wire_mm2=0.75, supply_volts=12.0))["drop"]
    assert dark.state is State.FAILS
    assert "hardly anything lights" in str(dark.sentence)


def test_a_feed_whose_piece_is_gone_is_told_and_removed_in_one_click() -> None:
    gone, there = Injection(piece="row-7", after=2), Injection(piece="strip-1", after=3)
    what = strip(1000.0, injections=(gone, there))
    lost = found(what)["lost feeds"]
    assert lost.state is State.WATCH
    assert "row-7, after segment 2, leads nowhere" in str(lost.sentence)
    (fix,) = search_fixes("lost feeds", what, CATALOGUE)
    assert fix.design.wiring is not None
    assert fix.design.wiring.injections == (there,)
    assert "lost feeds" not in found(fix.design)


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_a_wired_build_of_every_family_is_lit_and_still_states_its_parts(name: str) -> None:
    """Far ends dim, so alike units become units of their own: what stands on the layout must still hold."""
    what = msgspec.structs.replace(family(FAMILIES[name]), wiring=Wiring(scheme="in_a_row", wire_mm2=0.14))
    evaluation = evaluate(what, CATALOGUE, WHILE_DRAGGING)
    parts = parts_of(what, evaluation.layout, CATALOGUE)
    assert [piece.id for piece in parts.pieces] == [piece.id for piece in evaluation.layout.pieces]
    assert layers_of(what, evaluation.layout, evaluation.network.power)
    assert find(evaluation)


def test_tiles_of_one_kind_that_differ_in_strength_stand_where_they_stood() -> None:
    wall = tiles(Tile(sides=6, x_mm=0.0, y_mm=0.0), Tile(sides=6, x_mm=135.0, y_mm=90.0 * 3**0.5 / 2.0))
    what = msgspec.structs.replace(family(wall), wiring=Wiring(wire_mm2=0.1, lead_mm=2500.0))
    evaluation = evaluate(what, CATALOGUE, WHILE_DRAGGING)
    assert len(evaluation.layout.cavities) == 2
    left, right = (evaluation.luminance_cd_m2[:, part].max() for part in (slice(None, 20), slice(-20, None)))
    assert right < left


def dimmed(level: float, hertz: float | None, **purpose: object) -> Design:
    what = strip(1000.0, "24v-white-120", wire_mm2=0.75, pwm_hz=hertz)
    choice = msgspec.structs.replace(what.strips[0], levels=(level,))
    what = msgspec.structs.replace(what, build=msgspec.structs.replace(what.build, strips=(choice,)))
    return msgspec.structs.replace(what, purpose=msgspec.structs.replace(what.purpose, **purpose))


@pytest.mark.parametrize(
    ("hertz", "state"), [(60.0, State.FAILS), (400.0, State.WATCH), (1250.0, State.GOOD), (20_000.0, State.GOOD)]
)
def test_pulses_are_judged_by_their_frequency(hertz: float, state: State) -> None:
    flicker = found(dimmed(0.4, hertz))["flicker"]
    assert flicker.state is state
    assert (Caution.FLASHING in flicker.cautions) == (hertz < 90)


def test_at_full_level_nothing_flickers_and_without_a_frequency_nothing_is_claimed() -> None:
    assert "flicker" not in found(dimmed(1.0, 400.0))
    unknown = found(dimmed(0.4, None))["flicker"]
    assert unknown.state is State.NOTE
    assert "type the frequency" in str(unknown.sentence)


def test_a_camera_sees_bands_where_eyes_see_none() -> None:
    assert found(dimmed(0.4, 1990.0, viewer="camera"))["flicker"].state is State.GOOD
    slow = found(dimmed(0.4, 130.0, viewer="camera"))["flicker"]
    assert slow.state is State.FAILS
    assert "bands on camera" in str(slow.sentence)


def test_two_strips_at_two_levels_need_wires_of_their_own() -> None:
    warm, cool = warm_and_cool()
    unequal = design(strips=(warm, msgspec.structs.replace(cool, levels=(0.5,))))
    together = msgspec.structs.replace(unequal, wiring=Wiring(scheme="buses"))
    assert found(together)["one dimmer"].state is State.FAILS
    (fix,) = search_fixes("one dimmer", together, CATALOGUE)
    assert "one dimmer" not in found(fix.design)
    network = network_for(fix.design, lay_out(fix.design, CATALOGUE), CATALOGUE)
    assert network.power is not None
    leads = [one.wire for one in network.power.wires if not one.wire.start.piece]
    assert len(leads) == 4  # a pair for each strip
    links = {(one.wire.start.piece, one.wire.end.piece) for one in network.power.wires if one.wire.start.piece}
    own = {piece.id: piece.choice for piece in lay_out(fix.design, CATALOGUE).pieces}
    assert links
    assert all(own[one] == own[other] for one, other in links)  # no wire from a warm row to a cool one
    assert "one dimmer" not in found(msgspec.structs.replace(unequal, wiring=None))  # not chosen yet
    equal = design(strips=warm_and_cool())
    assert "one dimmer" not in found(msgspec.structs.replace(equal, wiring=Wiring()))
    pixels = StripChoice(strip="5v-rgb-pixel-60")
    by_data = design(strips=(pixels, msgspec.structs.replace(pixels, levels=(0.5, 0.5, 0.5))))
    assert "one dimmer" not in found(msgspec.structs.replace(by_data, wiring=Wiring()))


def test_on_metal_the_cut_ends_are_told_and_the_hole_for_the_leads() -> None:
    on_metal, on_timber = (
        msgspec.structs.replace(strip(1000.0, wire_mm2=0.75), surroundings=Surroundings(back=back))
        for back in ("aluminium", "timber")
    )
    assert "2 cut ends touch metal" in str(found(on_metal)["soldering"].sentence)
    assert "metal" not in str(found(on_timber)["soldering"].sentence)
    holes = [str(one.value) for one in found(on_timber)["soldering"].figures if "Hole for 2 wires" in str(one.name)]
    assert holes == ["6 mm"]  # two of 2.4 mm side by side, with a little room


@pytest.mark.parametrize(("section_mm2", "outer"), [(0.5, 2.2), (0.75, 2.4), (1.5, 2.9), (2.5, 3.4)])
def test_outer_diameters_of_flexible_wire(section_mm2: float, outer: float) -> None:
    """Of single flexible wires for panels, typical: 2.1, 2.4, 3.0, 3.6 mm, from memory; within 0.3 mm."""
    assert outer_mm(section_mm2) == pytest.approx(outer, abs=0.1)
