"""Weight, fixings, stand, and sheets that span: against closed forms and a series of its own."""

import math

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.design import Design, RowPlan
from gauze.core.design.making import Making, Printing
from gauze.core.design.surroundings import Surroundings
from gauze.core.evaluate import WHILE_DRAGGING, Caution, Finding, State, evaluate, find
from gauze.core.evaluate.building.workshop import workshop_of
from gauze.core.evaluate.findings.sag import HAND_N, POISSON
from gauze.core.evaluate.findings.sheet_span import hand_sag_mm, own_sag_mm, span_mm
from gauze.core.evaluate.findings.weight import FACTOR, weight_of
from gauze.core.evaluate.made import made_of
from gauze.core.families import lay_out, parts_of
from gauze.core.making.weight import DENSITY_KG_M3, STRIP_KG_PER_M, Body, weigh, wires_kg
from tests.builders import CATALOGUE, design, panel
from tests.families import FAMILIES, cells, family, tiles

ACRYLIC = CATALOGUE.diffusers["opal-acrylic-3"]
GLASS = CATALOGUE.diffusers["opal-glass-4"]


def found(what: Design) -> dict[str, Finding]:
    return {one.code: one for one in find(evaluate(what, CATALOGUE, WHILE_DRAGGING))}


def standing(**changes: object) -> Design:
    where = {"back": "fibreboard", "back_mm": 12.0} | changes
    return msgspec.structs.replace(design(), surroundings=Surroundings(**where))


# -- weight --


def test_a_box_weighs_its_back_its_walls_its_sheet_and_its_strip() -> None:
    what = msgspec.structs.replace(standing(), making=Making(wall_mm=15.0))
    layout = lay_out(what, CATALOGUE)
    box = layout.rows_in_box.box
    wide, high, deep = box.width_mm, box.height_mm, layout.cavity.shape.depth_mm
    board = DENSITY_KG_M3["fibreboard"] * 1e-9
    outer = (wide + 30.0) * (high + 30.0)  # the boards stand on the back, and the sheet lies on them
    walls = (outer - wide * high) * deep
    sheet = outer * ACRYLIC.thickness_mm * ACRYLIC.density_kg_m3 * 1e-9
    strip = STRIP_KG_PER_M * sum(piece.length_mm for piece in layout.pieces) / 1000.0
    weight = weigh(parts_of(what, layout, CATALOGUE), layout, Body("fibreboard", 12.0, 15.0), CATALOGUE)
    assert weight.kg == pytest.approx(board * (outer * 12.0 + walls) + sheet + strip, rel=1e-9)
    assert not weight.assumed
    x, y, z = weight.middle_mm
    assert (x, y) == pytest.approx((wide / 2.0, high / 2.0), abs=0.5)
    assert 0.0 < z < deep


def test_copper_weighs_what_a_table_says() -> None:
    """A kilometre of bare copper of 1 mm² weighs 8.96 kg; insulated wire 1.6 times as much here."""
    assert wires_kg([(1e6, 1.0)]) == pytest.approx(8.96 * 1.6)


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_every_family_is_weighed_within_its_own_bounds(name: str) -> None:
    evaluation = evaluate(family(FAMILIES[name]), CATALOGUE, WHILE_DRAGGING)
    weight = weight_of(evaluation)
    assert 0.001 < weight.kg < 50.0
    left, low, wide, high = evaluation.layout.sketch.plan_mm
    x, y, z = weight.middle_mm
    assert left - 1.0 <= x <= left + wide + 1.0
    assert low - 1.0 <= y <= low + high + 1.0
    assert z >= -30.0


@given(st.sampled_from(sorted(DENSITY_KG_M3)), st.floats(1.0, 40.0))
def test_a_thicker_back_is_heavier_by_its_own_material(material: str, more_mm: float) -> None:
    thin, thick = (
        weight_of(evaluate(standing(back=material, back_mm=t), CATALOGUE, WHILE_DRAGGING)).parts
        for t in (2.0, 2.0 + more_mm)
    )
    back = [next(one for one in parts if one.id == "back").kg for parts in (thin, thick)]
    assert back[1] / back[0] == pytest.approx((2.0 + more_mm) / 2.0, rel=1e-9)


# -- fixings --


def hung(stance: str, fixings: int | None, holds: float | None) -> Finding:
    what = msgspec.structs.replace(
        standing(stance=stance), making=Making(wall_mm=15.0, fixings=fixings, fixing_kg=holds)
    )
    return found(what)["weight"]


def test_fixings_share_on_a_wall_and_hold_alone_overhead() -> None:
    kg = hung("upright", None, None).value
    for count in (2, 4):
        assert hung("upright", count, FACTOR * kg / count * 1.01).state is State.GOOD
        assert hung("upright", count, FACTOR * kg / count * 0.99).state is State.FAILS
        assert hung("face_down", count, FACTOR * kg * 0.99).state is State.FAILS
        assert hung("face_down", count, FACTOR * kg * 1.01).state is State.GOOD


def test_one_fixing_is_never_enough_and_none_is_a_note() -> None:
    assert hung("face_down", 1, 1000.0).state is State.FAILS
    assert hung("upright", None, None).state is State.NOTE
    assert Caution.OVERHEAD in hung("upright", None, None).cautions


# -- the stand --


def test_a_box_tips_where_its_middle_leaves_its_foot() -> None:
    """A body of depth d and height h whose middle is at its centre tips at atan(d / h)."""
    evaluation = evaluate(standing(), CATALOGUE, WHILE_DRAGGING)
    stand = found(standing())["stand"]
    _, low, _, _ = evaluation.layout.sketch.plan_mm
    deep = evaluation.layout.sketch.cut_mm[3]
    _, y, z = weight_of(evaluation).middle_mm
    assert stand.value == pytest.approx(math.degrees(math.atan2(min(z, deep - z), y - low)))


def test_a_flat_tall_panel_falls_a_deep_low_one_stands_and_feet_help() -> None:
    flat = msgspec.structs.replace(standing(), build=panel(face_height_mm=900.0, depth_mm=15.0))
    deep = msgspec.structs.replace(
        standing(), build=panel(face_height_mm=100.0, depth_mm=80.0, rows=RowPlan(count=2, side_margin_mm=30.0))
    )
    assert found(flat)["stand"].state is State.FAILS
    assert found(deep)["stand"].state is State.GOOD
    footed = msgspec.structs.replace(flat, making=Making(printing=Printing(foot_deg=10.0)))
    assert found(footed)["stand"].value > found(flat)["stand"].value + 3.0


@pytest.mark.parametrize("where", [None, Surroundings(against_wall=True), Surroundings(stance="face_down")])
def test_what_does_not_stand_free_is_not_asked(where: Surroundings | None) -> None:
    assert "stand" not in found(msgspec.structs.replace(design(), surroundings=where))


# -- plates: Navier's double series for a plate on four sides, summed here --


def navier(a: float, b: float, rigidity: float, *, load: float = 0.0, pressure: float = 0.0) -> float:
    """Deflection in the middle of an a x b plate under a load there, or an even pressure."""
    total = 0.0
    for m in range(1, 120, 2):
        for n in range(1, 120, 2):
            sign = math.sin(m * math.pi / 2.0) * math.sin(n * math.pi / 2.0)
            q = 4.0 * load / (a * b) * sign + 16.0 * pressure / (math.pi**2 * m * n)
            total += q * sign / (math.pi**4 * rigidity * ((m / a) ** 2 + (n / b) ** 2) ** 2)
    return total


@pytest.mark.parametrize("longer", [300.0, 360.0, 450.0, 600.0, 900.0])
@pytest.mark.parametrize("sheet", [ACRYLIC, GLASS])
def test_sheets_sag_as_a_series_says(longer: float, sheet: object) -> None:
    rigidity = sheet.young_n_mm2 * sheet.thickness_mm**3 / (12.0 * (1.0 - POISSON**2))
    pressure = sheet.density_kg_m3 * 1e-9 * sheet.thickness_mm * 9.81
    own = navier(300.0, longer, rigidity, pressure=pressure)
    assert own_sag_mm(300.0, longer, [sheet]) == pytest.approx(own, rel=0.02)
    hand = navier(300.0, longer, rigidity, load=HAND_N)
    assert hand_sag_mm(300.0, longer, [sheet]) == pytest.approx(hand, rel=0.02)


def test_a_large_thin_sheet_lying_looks_hollow_and_a_thick_one_does_not() -> None:
    def lying(sheet: str) -> Finding:
        build = panel(
            face_width_mm=900.0, face_height_mm=900.0, rows=RowPlan(count=20, side_margin_mm=30.0), diffuser=sheet
        )
        return found(msgspec.structs.replace(design(), build=build, surroundings=Surroundings(stance="face_up")))[
            "sheet span"
        ]

    assert lying("opal-acrylic-2").state is State.FAILS
    assert lying("opal-glass-4").state is State.GOOD
    assert lying("screen-film").state is State.NOTE


def test_the_same_sheet_upright_is_only_asked_for_a_hand() -> None:
    build = panel(
        face_width_mm=900.0,
        face_height_mm=900.0,
        rows=RowPlan(count=20, side_margin_mm=30.0),
        diffuser="opal-acrylic-2",
        depth_mm=20.0,
    )
    upright = found(msgspec.structs.replace(design(), build=build))["sheet span"]
    assert upright.state is State.WATCH
    assert "hand" in str(upright.sentence)
    assert found(design())["sheet span"].state is State.GOOD


def test_partitions_that_touch_carry_the_sheet() -> None:
    touching = cells()
    assert touching.baffle is not None
    inner = lay_out(family(touching), CATALOGUE).cavity.shape.depth_mm
    high = msgspec.structs.replace(
        touching, baffle=msgspec.structs.replace(touching.baffle, gap_below_mm=0.0, height_mm=inner)
    )
    assert span_mm(evaluate(family(high), CATALOGUE, WHILE_DRAGGING)) is None
    assert span_mm(evaluate(family(touching), CATALOGUE, WHILE_DRAGGING)) is not None
    assert span_mm(evaluate(family(tiles()), CATALOGUE, WHILE_DRAGGING)) is not None


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_the_list_of_parts_weighs_what_the_finding_says(name: str) -> None:
    evaluation = evaluate(family(FAMILIES[name]), CATALOGUE, WHILE_DRAGGING)
    rows = workshop_of(evaluation, made_of(evaluation.design, CATALOGUE, ())).rows
    told = next(one for one in find(evaluation) if one.code == "weight")
    assert sum(row.kg for row in rows) == pytest.approx(told.value)


def test_the_centre_of_gravity_is_told_from_the_edges_of_the_plan() -> None:
    """A wall of tiles is drawn about its first tile: a single one has its middle half of its size from each edge."""
    evaluation = evaluate(family(tiles()), CATALOGUE, WHILE_DRAGGING)
    told = next(one for one in find(evaluation) if one.code == "weight")
    place = next(figure for figure in told.figures if str(figure.name) == "Centre of gravity")
    _, _, wide, high = evaluation.layout.sketch.plan_mm
    x, y, _ = (float(word.split()[0]) for word in str(place.value).split(","))
    assert (x, y) == pytest.approx((wide / 2.0, high / 2.0), rel=0.05)
