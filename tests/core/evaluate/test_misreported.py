"""What is reported is what is so: supplies by the measured row, switched zones, dark faces, rims, remedies that exist."""

import msgspec
import numpy as np
import pytest

from gauze.core.design import Design, RowPlan, StripChoice
from gauze.core.design.box_frame import BoxFrame
from gauze.core.design.cavity import BoxShape
from gauze.core.design.channel_bar import Bar
from gauze.core.design.making import Making
from gauze.core.design.pixel_display import Show
from gauze.core.design.tile_wall import Tile
from gauze.core.design.wiring import BatterySupply, Injection, Wiring
from gauze.core.electrical.supply import SupplyNeed, supply_needs
from gauze.core.errors import DesignError, GauzeError
from gauze.core.evaluate import Detail, Finding, State, evaluate, find, search_fixes
from gauze.core.evaluate.findings.row_ends import read_from_rim_mm
from gauze.core.evaluate.questions import QUESTIONS, remedies_for
from gauze.core.families import lay_out
from gauze.core.formats.design_file import decode_design, encode_design
from gauze.core.formats.ies import encode_ies
from gauze.core.formats.ies_reading import decode_ies
from gauze.core.formats.report import report_text
from gauze.core.materials import MattSheet
from gauze.core.materials.labels import BatteryLabel
from gauze.core.units import format_number
from gauze.session.versions import keep_version, next_name
from tests.builders import CATALOGUE, CAVITIES, design, emitter, loose_design, warm_and_cool
from tests.families import FAMILIES, WHITE, bars, display, edge_lit, family, frame, shells, strip_display, tiles, tube

QUICK = Detail(fineness=0.5, most_pixels=6_000, target_points=1)


def needs(what: Design) -> list[SupplyNeed]:
    return supply_needs(lay_out(what, CATALOGUE).pieces, CATALOGUE.supply_ratings_w, what.measured_row_current_a)


def by_code(what: Design, detail: Detail = QUICK) -> dict[str, Finding]:
    return {finding.code: finding for finding in find(evaluate(what, CATALOGUE, detail))}


def eight_rows(reading_a: float | None) -> Design:
    rows = RowPlan(count=8, spacing_mm=40.0)
    return msgspec.structs.replace(design(rows=rows), measured_row_current_a=reading_a)


# -- supply --------------------------------------------------------------------------------------------------------------


def test_a_measured_row_outranks_the_label() -> None:
    """1 A a row, eight rows at 12 V: 96 W as measured, whatever the label says."""
    label = by_code(eight_rows(None))["supply"]
    measured = by_code(eight_rows(1.0))["supply"]
    need = needs(eight_rows(1.0))[0]
    assert measured.value == pytest.approx(8.0 * need.volts)
    assert measured.limit is not None
    assert measured.limit >= 1.2 * 8.0 * need.volts
    assert measured.limit != label.limit
    assert "as measured" in str(measured.sentence)
    assert f"{measured.limit:g} W" in str(measured.sentence)
    assert measured.state is State.WATCH  # it is far from what the label says
    assert "measure the current again" in str(measured.sentence)


def test_a_reading_near_the_label_is_good_and_one_that_nothing_feeds_fails() -> None:
    need = needs(eight_rows(None))[0]
    near = by_code(eight_rows(round(need.label_a / 8.0 * 1.1, 4)))["supply"]
    assert near.state is State.GOOD
    beyond = by_code(eight_rows(10.0))["supply"]
    assert beyond.state is State.FAILS
    assert "Split the load" in str(beyond.sentence)


def test_pieces_of_different_length_count_by_their_length() -> None:
    several = family(bars(bars=(Bar(length_mm=200.0), Bar(length_mm=100.0), Bar(length_mm=50.0))))
    read = msgspec.structs.replace(several, measured_row_current_a=0.4)
    need = needs(read)[0]
    assert need.measured_w is not None
    assert need.measured_w / need.volts == pytest.approx(0.4 * (1.0 + 0.5 + 0.25))


def test_zones_that_are_off_draw_nothing_but_want_their_supply() -> None:
    both = family(bars(bars=(Bar(length_mm=200.0), Bar(length_mm=200.0, zone=2))))
    one = family(bars(bars=(Bar(length_mm=200.0), Bar(length_mm=200.0, zone=2)), dark_zones=(2,)))
    on, off = (evaluate(what, CATALOGUE, QUICK) for what in (both, one))
    assert off.supplies[0].set_w == pytest.approx(on.supplies[0].set_w / 2.0)
    assert off.supplies[0].label_w == on.supplies[0].label_w
    assert decode_ies(encode_ies(off)).watts == pytest.approx(decode_ies(encode_ies(on)).watts / 2.0, rel=0.01)


# -- faces ---------------------------------------------------------------------------------------------------------------


def test_an_emitter_that_looks_at_the_back_it_lies_on_lights_it() -> None:
    box = BoxShape(width_mm=200.0, height_mm=150.0, depth_mm=20.0)
    lying, over = (evaluate(loose_design(box, emitter(100, 75, z, nz=-1.0)), CATALOGUE, QUICK) for z in (0.0, 1.0))
    assert lying.output.balance_error < 1e-3
    assert lying.output.out_lm == pytest.approx(over.output.out_lm, rel=0.01)
    assert "evenness" in {finding.code for finding in find(lying)}


def test_a_dark_face_says_why() -> None:
    dark = by_code(design(strips=(StripChoice(strip="12v-white-60", cct_k=4000.0, levels=(0.0,)),)))["evenness"]
    assert "every level is zero" in str(dark.sentence)
    shape, place = CAVITIES["open wall"]
    away = by_code(loose_design(shape, emitter(*place, nz=1.0)))["evenness"]
    assert "no light from the LEDs reaches it" in str(away.sentence)


@pytest.mark.parametrize(("size", "read"), [((600.0, 400.0), 6.0), ((5000.0, 20.0), 10.0), ((1000.0, 15.0), 7.5)])
def test_the_rim_of_a_long_narrow_face_is_read_at_the_rim(size: tuple[float, float], read: float) -> None:
    assert read_from_rim_mm(*size) == pytest.approx(read)


def test_a_long_narrow_face_whose_row_stops_short_is_not_called_good() -> None:
    """20 mm x 2.5 m with 12 mm free at each end: the very rim is dark, 25 mm inside it is not."""
    narrow = {"face_width_mm": 2524.0, "face_height_mm": 20.0, "depth_mm": 6.0, "end_margin_mm": 0.0}
    rows = RowPlan(count=1, side_margin_mm=10.0)
    ends = by_code(design(rows=rows, **narrow), Detail(fineness=1.0, most_pixels=160_000, target_points=1))["row ends"]
    assert ends.state is not State.GOOD
    assert any("10 mm from the end" in str(figure.how) for figure in ends.figures)


def lit_or_place(what: Design) -> str | None:
    """Light a design and judge it: None where it is lit, else the place at which it was refused."""
    try:
        evaluation = evaluate(what, CATALOGUE, QUICK)
    except DesignError as error:
        return error.field
    assert np.isfinite(evaluation.luminance_cd_m2).all()
    assert evaluation.evenness.mean_cd_m2 > 0
    assert find(evaluation)
    return None


@pytest.mark.parametrize(
    ("sides", "sizes"),
    [(3, np.arange(70.0, 115.0, 2.5)), (4, np.arange(40.0, 80.0, 1.5)), (6, np.arange(37.0, 42.0, 0.5))],
)
def test_the_smallest_frames_are_lit_or_refused_with_their_place(sides: int, sizes: np.ndarray) -> None:
    strip = (StripChoice(strip="24v-white-240", cct_k=4000.0),) if "24v-white-240" in CATALOGUE.strips else WHITE
    found = [lit_or_place(family(frame(sides, float(size), strips=strip))) for size in sizes]
    assert any(place is None for place in found)
    assert all(place is None or place.startswith("build.") for place in found)


SMALL = {
    "tube": (tube, ("length_mm", "diameter_mm")),
    "bars": (bars, ("width_mm", "depth_mm")),
    "edge-lit": (edge_lit, ("width_mm", "height_mm", "depth_mm")),
    "shells": (shells, ("diameter_mm", "base_mm")),
    "display": (display, ("depth_mm",)),
    "strip rows": (strip_display, ("depth_mm", "row_pitch_mm")),
    "tiles": (tiles, ("side_mm", "depth_mm")),
}


@pytest.mark.parametrize("name", sorted(SMALL))
def test_the_smallest_of_every_family_is_lit_or_refused_with_its_place(name: str) -> None:
    make, sizes = SMALL[name]
    for size in sizes:
        usual = float(getattr(make(), size))
        for share in (0.02, 0.06, 0.12, 0.25, 0.4, 0.6):
            place = lit_or_place(family(make(**{size: share * usual})))
            assert place is None or place.startswith("build.")


# -- remedies ------------------------------------------------------------------------------------------------------------


def linked() -> Design:
    two = (Tile(sides=4, x_mm=0.0, y_mm=0.0), Tile(sides=4, x_mm=90.0, y_mm=0.0))
    return family(tiles(*two, strips=WHITE, link_high_mm=14.0, link_wide_mm=30.0, depth_mm=18.0))


def every_kind() -> list[Design]:
    made = [family(build) for build in FAMILIES.values()]
    made += [design(), design(strips=warm_and_cool()), design(face_width_mm=625.0, end_margin_mm=10.0)]
    made += [family(strip_display(show=Show(kind="text", text="H"), columns=24, rows=9)), linked()]
    made += [loose_design(shape, emitter(*place)) for shape, place in CAVITIES.values()]
    badly_fed = Wiring(supply_w=5.0, injections=(Injection(piece="no-such-piece", after=1),))
    made += [msgspec.structs.replace(made[0], wiring=wiring) for wiring in (badly_fed, Wiring(supply_volts=60.0))]
    small = BatteryLabel(id="own-b", name="b", chemistry="lead_acid", cells_in_series=12, amp_hours=1.0)
    battery = BatterySupply(battery=small, wanted_life_h=100.0)
    made += [msgspec.structs.replace(one, wiring=Wiring(battery=battery)) for one in made[:4]]
    warm, cool = warm_and_cool()
    unequal = design(strips=(warm, msgspec.structs.replace(cool, levels=(0.5,))))
    made += [msgspec.structs.replace(unequal, wiring=Wiring())]
    long_screws = BoxFrame(screw_mm=4.0, screw_long_mm=120.0)
    made += [
        msgspec.structs.replace(one, making=Making(wall_mm=12.0, frame=long_screws))
        for one in (design(), family(edge_lit()))
    ]
    return [
        msgspec.structs.replace(what, purpose=msgspec.structs.replace(what.purpose, wanted_cct_k=3300.0))
        for what in made
    ]


def test_no_finding_promises_a_search_that_its_family_has_not() -> None:
    promised: set[str] = set()
    asked: set[str] = set()
    for what in every_kind():
        for finding in find(evaluate(what, CATALOGUE, QUICK)):
            asked.add(finding.code)
            if finding.fixable:
                promised.add(finding.code)
                assert remedies_for(finding.code, what), (type(what.build).__name__, finding.code)
    assert {"dots", "evenness", "colour"} <= promised
    assert {code for question in QUESTIONS for code in question.remedies} <= asked  # no remedy for what is never found


def test_a_text_that_runs_together_is_told_apart() -> None:
    glow = family(strip_display(depth_mm=60.0, show=Show(kind="text", text="H"), columns=24, rows=9))
    before = by_code(glow)["legibility"]
    assert before.fixable
    fixes = search_fixes("legibility", glow, CATALOGUE)
    assert fixes
    for fix in fixes:
        assert by_code(fix.design)["legibility"].state is not State.FAILS or "blurs together" not in (
            str(by_code(fix.design)["legibility"].sentence)
        )


def test_the_shadow_of_connectors_is_brought_down() -> None:
    wall = linked()
    before = by_code(wall)["link shadow"]
    assert before.state is not State.GOOD
    fixes = search_fixes("link shadow", wall, CATALOGUE)
    assert fixes
    for fix in fixes:
        assert by_code(fix.design, Detail(fineness=0.5, most_pixels=10_000))["link shadow"].value <= 1.1 * 0.03


def test_channels_of_a_build_are_set_for_a_wanted_white() -> None:
    mixed = family(tube(strips=(StripChoice(strip="24v-two-white-240"),)), wanted_cct_k=3300.0)
    assert by_code(mixed)["colour"].fixable
    (fix,) = search_fixes("colour", mixed, CATALOGUE)
    assert by_code(fix.design)["colour"].value == pytest.approx(3300.0, rel=0.01)


# -- words and numbers ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("value", "words"),
    [
        (1.33e-19, "1.33e-19"),
        (-2e-7, "-2e-7"),
        (0.00012, "0.00012"),
        (0.5, "0.5"),
        (1240.0, "1240"),
        (2e12, "2e12"),
        (0.0, "0"),
    ],
)
def test_tiny_and_huge_figures_are_no_rows_of_zeros(value: float, words: str) -> None:
    assert format_number(value) == words


def test_a_version_named_by_other_digits_is_no_number() -> None:
    what = keep_version(design())
    for name in ("Version ²", "Version ①", "Version ٣", "Version " + "9" * 5000, "Version", ""):
        odd = msgspec.structs.replace(what.kept[0], name=name)
        assert next_name(msgspec.structs.replace(what, kept=(odd,))) == "Version 1"
    assert next_name(what) == "Version 2"


def test_names_with_escape_codes_do_not_reach_the_terminal() -> None:
    odd = msgspec.structs.replace(design(), name="a\x1b[31mb\r\nc")
    assert "\x1b" not in report_text(odd, find(evaluate(odd, CATALOGUE, QUICK)))
    assert b"\x1b" not in encode_ies(evaluate(odd, CATALOGUE, QUICK))


# -- a sheet by its numbers ----------------------------------------------------------------------------------------------


def test_a_sheet_of_two_numbers_is_lambertian_and_passes_what_it_says() -> None:
    """A closed white box: of the flux that falls on the sheet tau leaves; with rho its share comes back."""
    sheet = MattSheet(transmittance=0.5, reflectance=0.4)
    for what in (design(diffuser=sheet), family(tube(diffuser=sheet)), design(diffuser=(sheet, "opal-acrylic-3"))):
        evaluation = evaluate(decode_design(encode_design(what), CATALOGUE), CATALOGUE, QUICK)
        assert evaluation.design == what
        assert evaluation.output.balance_error < 1e-3
    plain = evaluate(design(diffuser=sheet), CATALOGUE, QUICK)
    assert plain.output.out_lm == pytest.approx(0.5 * plain.output.lid_lm)
    assert plain.light.reflectances[2] == 0.4
    candela = plain.intensity_cd(np.array([0.0, 60.0]), np.array([0.0]))[0]
    assert candela[1] == pytest.approx(candela[0] / 2.0)
    assert "Matt sheet, 0.5 through" in plain.diffuser.name


@pytest.mark.parametrize(("tau", "rho"), [(0.7, 0.5), (0.0, 0.5), (1.2, 0.0), (0.5, -0.1)])
def test_a_sheet_that_cannot_be_is_refused(tau: float, rho: float) -> None:
    text = encode_design(design(diffuser=MattSheet(transmittance=tau, reflectance=rho)))
    with pytest.raises(GauzeError):
        decode_design(text, CATALOGUE)
