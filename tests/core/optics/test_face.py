import math

import numpy as np
import pytest

from gauze.core.design import RowPlan, StripChoice
from gauze.core.evaluate import AT_REST, Evaluation, evaluate, find
from gauze.core.evaluate.profile import profile_at
from gauze.core.optics.appearance import Viewing, colour_scale, false_colour, room_luminance_cd_m2, true_colour
from gauze.core.optics.evenness import evenness_of
from gauze.core.optics.face import LitFace
from gauze.core.optics.target import TargetPlane, target_map
from gauze.core.optics.visibility import local_amplitude
from tests.builders import CATALOGUE, design, warm_and_cool


def on_axis_lx(face: LitFace, distance_mm: float) -> float:
    return target_map(face, TargetPlane(distance_mm), points=1).illuminance_lx.item()


def lit(**changes: object) -> Evaluation:
    return evaluate(design(**changes), CATALOGUE, AT_REST)


def test_an_opal_face_glows_by_what_it_lets_through() -> None:
    """Wholly diffuse: the mean luminance times pi is the exitance, flux out over area."""
    evaluation = lit(diffuser="dense-opal-acrylic-3", depth_mm=40.0)
    exitance = evaluation.light.face.flux_out_lm / 0.24
    assert evaluation.evenness.mean_cd_m2 * math.pi == pytest.approx(exitance, rel=0.01)


def test_near_target_is_the_integral_over_the_face() -> None:
    """E = sum of L cos^2 dA / R^2 over the map of a wholly diffuse sheet, taken here by hand."""
    evaluation = lit(diffuser="dense-opal-acrylic-3", depth_mm=40.0)
    distance = 350.0
    squared = (evaluation.x_mm[None, :] - 300) ** 2 + (evaluation.y_mm[:, None] - 200) ** 2
    cell = 600.0 * 400.0 / evaluation.luminance_cd_m2.size
    by_hand = float((evaluation.luminance_cd_m2 * distance**2 / (squared + distance**2) ** 2).sum() * cell)
    assert on_axis_lx(evaluation.light.face, distance) == pytest.approx(by_hand, rel=0.005)


@pytest.mark.parametrize("diffuser", ["opal-acrylic-3", "satin-acrylic-3", "screen-film"])
def test_far_targets_follow_the_inverse_square(diffuser: str) -> None:
    face = lit(diffuser=diffuser).light.face
    near, far = (on_axis_lx(face, distance) * distance**2 for distance in (10_000.0, 30_000.0))
    assert near == pytest.approx(far, rel=0.01)
    # the axial intensity of a sheet between even and straight-on scattering of a Lambertian emitter: flux / pi and up
    assert 0.95 < far * 1e-6 * math.pi / face.flux_out_lm < 1.25


def test_dots_that_opal_hides_show_through_satin_and_more_through_clear() -> None:
    amplitudes = []
    for diffuser in ("opal-acrylic-3", "satin-acrylic-3", "clear-acrylic-3"):
        ripples = lit(diffuser=diffuser, depth_mm=20.0).dots.modulations
        amplitudes.append(next(r.amplitude for r in ripples if r.kind == "dots"))
    assert amplitudes[0] < 0.02
    assert 0.3 < amplitudes[1] < amplitudes[2]


def test_more_depth_hides_dots_and_rows() -> None:
    distances = [lit(depth_mm=depth).dots.vanish_distance_mm for depth in (20.0, 35.0, 60.0)]
    assert distances[0] > distances[1] > distances[2] == 0.0


def test_channels_of_one_place_add_up() -> None:
    rows = RowPlan(count=6, spacing_mm=60)
    white = lit(strips=(StripChoice(strip="5v-rgb-pixel-60"),), rows=rows)
    parts = [
        lit(strips=(StripChoice(strip="5v-rgb-pixel-60", levels=levels),), rows=rows).xyz
        for levels in ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
    ]
    assert sum(parts) == pytest.approx(white.xyz, rel=1e-3, abs=0.5)


def test_a_dark_design_is_dark_and_harms_nothing() -> None:
    dark = lit(strips=(StripChoice(strip="12v-white-60", cct_k=4000, levels=(0.0,)),))
    assert dark.evenness.mean_cd_m2 == 0
    assert dark.target_lx == 0
    assert dark.light.face.efficiency == 0
    assert "dark" in next(str(finding.sentence) for finding in find(dark) if finding.code == "evenness")


def test_warm_and_cool_rows_stripe_at_their_own_pitch() -> None:
    ripples = lit(strips=warm_and_cool(), rows=RowPlan(count=6, spacing_mm=60)).dots.modulations
    assert {ripple.kind: ripple.pitch_mm for ripple in ripples}["alternate rows"] == 120
    assert [ripple.kind for ripple in ripples].count("dots") == 2


def test_amplitude_is_read_through_a_slope() -> None:
    place = np.arange(61) / 6
    ripple = 1 + 0.04 * np.cos(2 * np.pi * place)
    for trend in (1 + 0 * place, 1 + 0.05 * place, 1 - 0.3 * ((place - 5) / 5) ** 2):
        assert local_amplitude((trend * ripple)[None, :], 1.0, 6.0) == pytest.approx(0.04, rel=0.02)
    assert local_amplitude(np.ones((1, 3)), 1.0, 6.0) == 0.0
    two_rows = 1 + 0.04 * np.cos(2 * np.pi * np.arange(7) / 6)
    assert local_amplitude(two_rows[None, :], 1.0, 6.0) == pytest.approx(0.04, rel=0.03)


def test_evenness_of_known_maps() -> None:
    flat = np.full((40, 60), 5.0, np.float32)
    assert evenness_of(flat).min_over_mean == 1
    ramp = np.linspace(1, 3, 60, dtype=np.float32)[None, :].repeat(40, axis=0)
    even = evenness_of(ramp)
    assert even.min_over_mean == pytest.approx(0.5)
    assert even.min_over_max == pytest.approx(1 / 3)
    assert evenness_of(np.zeros((9, 9), np.float32)).min_over_mean == 0


def test_profile_runs_through_the_map_and_its_trend_through_the_ripple() -> None:
    evaluation = lit(depth_mm=18.0, row_direction="along_height", rows=RowPlan(count=11, spacing_mm=54))
    profile = profile_at(evaluation, 200.0)
    row = evaluation.luminance_cd_m2[len(evaluation.y_mm) // 2]
    assert profile.luminance.mean() == pytest.approx(float(row.mean()), rel=0.02)
    inner = slice(len(profile.x_mm) // 4, -len(profile.x_mm) // 4)
    assert np.ptp(profile.trend[inner]) < 0.2 * np.ptp(profile.luminance[inner])
    low, high = profile.band
    assert (low < profile.trend).all()
    assert (profile.trend < high).all()
    least, most = profile.shown_range()
    assert least < profile.luminance.max() < most


def test_room_light_adds_what_the_sheet_reflects() -> None:
    viewing = Viewing(100.0, 314.159265, 0.5)
    assert room_luminance_cd_m2(viewing) == pytest.approx(50.0)
    dark = np.zeros((3, 2, 2), np.float32)
    assert true_colour(dark, viewing).mean() > 150
    assert true_colour(dark, Viewing(100.0, 0.0, 0.5)).max() == 0


def test_pictures_have_their_first_row_at_the_top() -> None:
    luminance = np.array([[1.0, 1.0], [9.0, 9.0]], np.float32)
    picture = false_colour(luminance, 1.0, 9.0)
    assert picture[0].sum() > picture[1].sum()


def test_the_false_colour_scale_rises_evenly_and_needs_no_red_green_sight() -> None:
    linear = np.where(
        colour_scale() <= 10, colour_scale() / 255 / 12.92, ((colour_scale() / 255 + 0.055) / 1.055) ** 2.4
    )
    luminance = linear @ np.array([0.2126, 0.7152, 0.0722])
    lightness = 116 * np.cbrt(luminance) - 16
    steps = np.diff(lightness)
    assert lightness[-1] - lightness[0] > 70
    assert (steps > -0.3).all()  # 8-bit rounding
    assert np.abs(np.diff(lightness[::16]) - np.diff(lightness[::16]).mean()).max() < 2.5
