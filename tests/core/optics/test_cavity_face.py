"""What is seen of a cavity's light through its sheet, and what of it goes where."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.design.cavity import BoxShape, PrismShape, TubeShape
from gauze.core.evaluate import WHILE_DRAGGING, CavityFaceLight, Evaluation, evaluate
from gauze.core.optics.cavity.emitters import Emitters
from gauze.core.optics.cavity.face import colour_columns
from gauze.core.optics.cavity.hotspots import band_gain, spacings_mm
from gauze.core.optics.cavity.light import nearest_mm
from gauze.core.optics.cavity.outlook import target_map
from gauze.core.optics.target import TargetPlane
from tests.builders import CATALOGUE, CAVITIES, emitter, loose_design, surface

BOX = BoxShape(width_mm=120.0, height_mm=80.0, depth_mm=31.0)
ROUND = ["channel", "u", "tube", "sphere", "cup", "prism", "round frustum"]


def lit(shape, *emitters, detail=WHILE_DRAGGING, **changes) -> Evaluation:
    found = evaluate(loose_design(shape, *emitters, **changes), CATALOGUE, detail)
    assert isinstance(found.light, CavityFaceLight)
    return found


def lit_kind(name: str, **changes) -> Evaluation:
    shape, place = CAVITIES[name]
    return lit(shape, emitter(*place), **changes)


@pytest.mark.parametrize("name", ["box", "tube", "cup"])
def test_an_even_sheet_glows_by_lamberts_law(name):
    """All that falls on it leaves evenly: L = tau E / pi, blurred sideways."""
    found = lit_kind(name, diffuser="dense-opal-acrylic-3")
    sheet = found.diffuser
    assert sheet.diffuse > 0.97 * sheet.transmittance
    mean = float((found.illuminance_lx * found.weight).sum())
    assert found.evenness.mean_cd_m2 == pytest.approx(sheet.transmittance * mean / math.pi, rel=0.03)


def test_a_film_shows_the_emitter_that_an_opal_sheet_hides():
    peaks = {}
    for sheet in ("dense-opal-acrylic-3", "screen-film"):
        found = lit(BOX, emitter(60.0, 40.0), diffuser=sheet)
        peaks[sheet] = found.evenness.max_cd_m2 / found.evenness.mean_cd_m2
        row, column = np.unravel_index(int(found.luminance_cd_m2.argmax()), found.inside.shape)
        assert abs(found.x_mm[column] - 60) < 3
        assert abs(found.y_mm[row] - 40) < 3
    assert peaks["screen-film"] > 1.5 * peaks["dense-opal-acrylic-3"]


def test_what_is_straight_ahead_is_brightest_on_a_round_face():
    """A beam from the bed to the top of a tube: its spot is in the middle of the unrolled face."""
    shape = TubeShape(length_mm=100.0, diameter_mm=40.0, bed_height_mm=6.0)
    found = lit(shape, emitter(50.0, 0.0, 7.0, m=60.0), back=0.0, walls=0.0)
    row, column = np.unravel_index(int(found.luminance_cd_m2.argmax()), found.inside.shape)
    assert found.x_mm[column] == pytest.approx(50.0, abs=2.0)
    assert found.y_mm[row] == pytest.approx(found.y_mm.mean(), abs=2.0)


@pytest.mark.parametrize("name", ROUND)
@pytest.mark.parametrize("sheet", ["dense-opal-acrylic-3", "screen-film"])
def test_the_intensity_all_round_adds_up_to_the_flux_that_leaves(name, sheet):
    found = lit_kind(name, diffuser=sheet)
    gamma, c = np.linspace(0.0, 180.0, 73), np.linspace(0.0, 360.0, 25)[:-1]
    candela = found.intensity_cd(gamma, c)
    assert (candela >= 0).all()
    ring = 2.0 * math.pi * np.sin(np.radians(gamma)) * candela.mean(axis=0)
    flux = float(np.trapezoid(ring, np.radians(gamma)))
    # a lobe that leaves at a slant is cut off by the face's own plane, as the model says
    assert flux == pytest.approx(found.output.out_lm, rel=0.03 if sheet.startswith("dense") else 0.12)


def test_a_flat_face_sends_nothing_back():
    found = lit_kind("box")
    assert found.opening_mm == pytest.approx((90.0, 60.0, 0.0))
    assert found.intensity_cd(np.array([91.0, 135.0, 180.0]), np.array([0.0, 45.0])).max() == pytest.approx(
        0.0, abs=1e-9
    )


@pytest.mark.parametrize(
    ("name", "wanted"),
    [
        ("tube", (90.0, 30.0, 25.0)),
        ("cup", (60.0, 60.0, 50.0)),
        ("channel", (90.0, 15.0, 0.0)),
        ("u", (90.0, 16.0, 4.0)),
    ],
)
def test_the_opening_is_what_is_lit_seen_from_the_front(name, wanted):
    assert lit_kind(name).opening_mm == pytest.approx(wanted, abs=0.3)


def test_a_target_beside_the_axis_and_turned_away_gets_less():
    found = lit(BOX, emitter(60.0, 40.0), diffuser="dense-opal-acrylic-3")

    def lux(**changes: float) -> float:
        return target_map(found.light.face, TargetPlane(400.0, **changes), points=1).illuminance_lx.item()

    ahead = lux()
    assert lux(offset_x_mm=300.0) == pytest.approx(lux(offset_x_mm=-300.0), rel=0.01)  # the box is alike on both sides
    assert lux(offset_x_mm=300.0) < 0.7 * ahead
    assert lux(turn_deg=60.0) == pytest.approx(0.5 * ahead, rel=0.03)
    assert lux(tilt_deg=90.0) < 0.12 * ahead


def test_a_corner_looks_along_the_middle_of_its_angle():
    shape, _ = CAVITIES["open corner"]
    found = lit(shape, emitter(100.0, 100.0, 100.0, nx=-1.0, nz=-1.0))
    candela = found.intensity_cd(np.array([0.0, 40.0]), np.array([0.0, 180.0]))
    assert candela[0, 1] == pytest.approx(candela[1, 1], rel=0.03)  # alike to both sides
    assert candela[0, 0] > candela[0, 1]


@given(st.lists(st.tuples(st.floats(0.0, 50.0), st.integers(0, 5)), min_size=1, max_size=12))
def test_colours_in_columns_give_the_same_light(lights):
    """However many colours: the columns' XYZ adds up to that of the emitters."""
    palette = np.array([[1.1, 1, 0.3], [0.95, 1, 1.1], [2, 1, 0.1], [0.4, 1, 0.2], [1, 1, 6], [0.9, 1, 0.9]])
    flux, xyz = np.array([f for f, _ in lights]), palette[[c for _, c in lights]]
    columns, basis = colour_columns(flux, xyz)
    assert columns.shape[1] == len(basis) <= 3
    assert columns @ basis == pytest.approx(flux[:, None] * xyz, abs=1e-9)


@pytest.mark.parametrize("kind", ["box", "prism"])  # the lid of a polygon is several pieces of one plane
def test_an_led_too_near_for_the_pixels_is_counted_once(kind: str) -> None:
    shape, (x_mm, y_mm, _) = CAVITIES[kind]
    assert isinstance(shape, BoxShape | PrismShape)
    near = emitter(x_mm, y_mm, shape.depth_mm - 0.2)
    far = [emitter(x_mm + dx, y_mm, 2.0) for dx in (-6.0, 6.0)]
    found = lit(shape, near, *far)
    assert isinstance(found.light, CavityFaceLight)
    assert found.light.unresolved == 1


@given(st.lists(st.floats(1.0, 20.0), min_size=1, max_size=40))
def test_a_tenth_of_the_emitters_are_nearer_than_what_counts_as_near(heights_mm: list[float]) -> None:
    lid_mm = 25.0
    places = np.array([[40.0, 30.0, height_mm] for height_mm in heights_mm])
    lamps = Emitters(
        places, np.tile([0.0, 0.0, 1.0], (len(places), 1)), np.ones(len(places)), np.ones((len(places), 1))
    )
    assert nearest_mm(surface("box"), lamps) == pytest.approx(np.percentile(lid_mm - places[:, 2], 10))


# -- hotspots --------------------------------------------------------------------------------------------------------------


def test_spacings_of_known_patterns():
    x, y = (grid.ravel() for grid in np.meshgrid(np.arange(8) * 20.0, np.arange(6) * 20.0))
    square = np.stack([x, y, 0 * x], axis=1)
    assert spacings_mm(square) == pytest.approx((20.0, 20.0), rel=0.45)
    assert spacings_mm(square)[0] == pytest.approx(20.0)
    line = np.stack([np.arange(9) * 7.0, np.zeros(9), np.ones(9)], axis=1)
    assert spacings_mm(line) == pytest.approx((7.0, 7.0))
    assert spacings_mm(line[:1]) is None
    assert spacings_mm(np.repeat(line[:1], 5, axis=0)) is None  # channels of one package stand on each other


def test_a_band_passes_its_own_pitch_and_less_of_others():
    """The gain by which the read ripple is divided is that of a sinusoid through the same filter, sampled."""
    n = 400
    for pitch in (20.0, 40.0):
        x = np.arange(n)
        wave = np.cos(2 * np.pi * x / pitch)
        spectrum = np.fft.rfft(wave)
        frequency = np.fft.rfftfreq(n)
        narrow, wide = (np.exp(-0.5 * (2 * np.pi * frequency * sigma * pitch) ** 2) for sigma in (0.14, 0.14 * 1.6))
        passed = np.fft.irfft(spectrum * (narrow - wide), n)
        assert np.abs(passed).max() == pytest.approx(band_gain(), rel=1e-3)


def test_dark_emitters_have_no_dots():
    lights = [emitter(20.0 + 40 * i, 40.0) for i in range(3)]
    unlit = [emitter(40.0 + 40 * i, 40.0, flux_lm=0.0) for i in range(2)]
    alone, beside = lit(BOX, *lights), lit(BOX, *lights, *unlit)
    assert [one.pitch_mm for one in alone.dots.modulations] == [one.pitch_mm for one in beside.dots.modulations]
    assert not lit(BOX, *unlit).dots.modulations
    assert lit(BOX, *lights, level=0.0).evenness.max_cd_m2 == 0.0
