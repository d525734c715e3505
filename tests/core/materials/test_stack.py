import math

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.errors import DesignError
from gauze.core.evaluate import AT_REST, evaluate
from gauze.core.families import check_design
from gauze.core.formats.design_file import decode_design, encode_design
from gauze.core.materials import Diffuser, OwnDiffuser, stacked
from gauze.session.edits import own_sheet
from tests.builders import CATALOGUE, design

NAMES = sorted(CATALOGUE.diffusers)
OWN = OwnDiffuser(id="own-offcut", name="Offcut", like="opal-acrylic-3", lux_without=1000.0, lux_with=620.0)


def layer(tau: float, rho: float, diffuse_share: float = 1.0) -> Diffuser:
    return Diffuser(
        id="x",
        name="x",
        thickness_mm=1.0,
        sideways_spread_mm=0.3,
        transmittance=tau,
        reflectance=rho,
        haze=0.998 if diffuse_share == 1.0 else 0.99,
        diffuse_share=diffuse_share,
        lobe_sigma=0.3,
    )


def test_two_layers_by_counting_turns() -> None:
    """tau = tau1 tau2 (1 + rho1 rho2 + (rho1 rho2)^2 + ...): the sum of all ways back and forth."""
    inner, outer = layer(0.5, 0.4), layer(0.6, 0.3)
    turns = [(0.4 * 0.3) ** number for number in range(60)]
    both = stacked([inner, outer])
    assert both.transmittance == pytest.approx(0.5 * 0.6 * sum(turns))
    assert both.reflectance == pytest.approx(0.4 + 0.5**2 * 0.3 * sum(turns))
    assert both.outer_reflectance == pytest.approx(0.3 + 0.6**2 * 0.4 * sum(turns))


def test_plates_without_loss_add_their_resistances() -> None:
    """n equal layers that absorb nothing pass tau / (n - (n - 1) tau): (1 - t) / t grows as n (Stokes' pile of plates)."""
    tau = 0.6
    for count in (1, 2, 3):
        pile = stacked([layer(tau, 1 - tau)] * count)
        assert pile.transmittance == pytest.approx(tau / (count - (count - 1) * tau))
        assert pile.transmittance + pile.reflectance == pytest.approx(1.0)


@given(st.lists(st.sampled_from(NAMES), min_size=1, max_size=3))
def test_no_pile_makes_or_hides_light(names: list[str]) -> None:
    pile = CATALOGUE.sheet(names)
    parts = pile.diffuse + pile.regular + sum(lobe.transmittance for lobe in pile.lobes)
    assert parts == pytest.approx(pile.transmittance)
    assert min(pile.diffuse, pile.regular, *(lobe.transmittance for lobe in pile.lobes), 0.0) >= -1e-12
    assert pile.transmittance + pile.reflectance <= 1 + 1e-9
    assert pile.transmittance <= min(CATALOGUE.diffuser(name).transmittance for name in names) + 1e-12
    turned = CATALOGUE.sheet(names[::-1])
    assert turned.transmittance == pytest.approx(pile.transmittance)  # light finds both ways equally long
    assert turned.reflectance == pytest.approx(pile.outer_reflectance)


def test_a_lobe_after_a_lobe_is_wider_and_a_diffuse_layer_ends_all_ways() -> None:
    film = CATALOGUE.diffuser("screen-film")
    double = stacked([film, film])
    assert max(lobe.sigma for lobe in double.lobes) == pytest.approx(math.sqrt(2) * film.lobe_sigma)
    assert double.diffuse / double.transmittance > film.diffuse_share
    opal = stacked([film, CATALOGUE.diffuser("ptfe-sheet-0.5")])
    assert opal.lobes == ()
    assert opal.diffuse == pytest.approx(opal.transmittance)
    assert double.thickness_mm == pytest.approx(2 * film.thickness_mm)
    with pytest.raises(ValueError, match="at least one"):
        stacked([])


def test_a_second_film_hides_more_and_costs_light() -> None:
    single, double = (
        evaluate(design(diffuser=layers), CATALOGUE, AT_REST)
        for layers in ("screen-film", ("screen-film", "screen-film"))
    )
    assert double.dots.modulations[0].amplitude < 0.8 * single.dots.modulations[0].amplitude
    assert double.light.face.diffuser.transmittance < single.light.face.diffuser.transmittance
    assert double.light.reflectances[2] > single.light.reflectances[2]


def test_twenty_and_more_materials() -> None:
    assert len(CATALOGUE.diffusers) >= 20
    assert all(sheet.source and sheet.spread > 0 for sheet in CATALOGUE.diffusers.values())


def test_two_readings_make_an_own_sheet() -> None:
    like = CATALOGUE.diffuser("opal-acrylic-3")
    sheet = OWN.diffuser(like)
    assert sheet.transmittance == pytest.approx(0.62)
    assert sheet.absorptance == pytest.approx(like.absorptance)
    assert sheet.spread == 0.05
    assert "measured" in sheet.source
    bright = msgspec.structs.replace(OWN, lux_with=980.0).diffuser(like)
    assert bright.reflectance == pytest.approx(0.0)
    with pytest.raises(ValueError, match="no sheet lets through more"):
        msgspec.structs.replace(OWN, lux_with=1001.0).diffuser(like)


def test_files_carry_layers_and_own_sheets() -> None:
    what = msgspec.structs.replace(design(diffuser=("own-offcut", "screen-film")), own_diffusers=(OWN,))
    data = encode_design(what)
    assert decode_design(data, CATALOGUE) == what
    assert b'"lux_with": 620.0' in data
    assert b"own_diffusers" not in encode_design(design())
    evaluation = evaluate(what, CATALOGUE)
    assert evaluation.light.face.diffuser.layers[0].name == "Offcut"


@pytest.mark.parametrize(
    ("own", "field"),
    [
        ((msgspec.structs.replace(OWN, id="opal-acrylic-3"),), "own_diffusers[0].id"),
        ((OWN, OWN), "own_diffusers[0].id"),
        ((msgspec.structs.replace(OWN, like="velvet"),), "own_diffusers"),
        ((msgspec.structs.replace(OWN, lux_with=2000.0),), "own_diffusers"),
        ((msgspec.structs.replace(OWN, lux_without=-1.0),), "own_diffusers[0].lux_without"),
    ],
)
def test_own_sheets_that_cannot_be_are_refused(own: tuple[OwnDiffuser, ...], field: str) -> None:
    with pytest.raises(DesignError) as refusal:
        check_design(msgspec.structs.replace(design(), own_diffusers=own), CATALOGUE)
    assert refusal.value.field == field


@pytest.mark.parametrize("layers", [(), ("screen-film",) * 4, ("screen-film", "gossamer")])
def test_layers_that_cannot_be_are_refused(layers: tuple[str, ...]) -> None:
    with pytest.raises(DesignError) as refusal:
        check_design(design(diffuser=layers), CATALOGUE)
    assert refusal.value.field == "build.diffuser"


def test_own_ids_come_from_names_and_never_meet() -> None:
    taken = set(CATALOGUE.diffusers)
    first = own_sheet("  Opal / Offcut ", "opal-acrylic-3", 100, 50, taken, CATALOGUE)
    assert first.id == "own-opal-offcut"
    second = own_sheet("Opal offcut", "opal-acrylic-3", 100, 50, {first.id}, CATALOGUE)
    assert second.id == "own-opal-offcut-2"
    with pytest.raises(DesignError, match="name"):
        own_sheet(" - ", "opal-acrylic-3", 100, 50, taken, CATALOGUE)
    with pytest.raises(DesignError, match="more than"):
        own_sheet("x", "opal-acrylic-3", -5, 50, taken, CATALOGUE)
