"""Photographs rendered through a known camera: corners, evenness, ripple, colour and dark places come out as they were put in."""

from io import BytesIO
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from gauze.core.errors import FormatError, PhotoError
from gauze.core.evaluate import evaluate
from gauze.core.evaluate.evaluation import Detail, Evaluation
from gauze.core.formats.photo_reading import read_photo
from gauze.core.formats.prove_reports import photo_json, photo_text
from gauze.core.proving.corners import check_corners, find_corners, ordered
from gauze.core.proving.face_figures import FaceGrid, dark_places, disc_kernel, figures_of, ripple_of
from gauze.core.proving.photo_measure import measure_photo, pitches_of, predicted_figures, seen_size_mm
from gauze.core.proving.photograph import SRGB_TO_XYZ
from gauze.core.srgb import values_of_light
from tests.builders import CATALOGUE, design
from tests.core.proving.rendering import SHAPE, as_png, picture_of, seen_at
from tests.families import family, tube

WIDE, HIGH = 600.0, 400.0
CORNERS = np.array([[120.0, 80.0], [673.0, 100.0], [693.0, 507.0], [100.0, 493.0]])
STRAIGHT = np.array([[100.0, 80.0], [700.0, 80.0], [700.0, 480.0], [100.0, 480.0]])
PITCH = 25.0
# what the answer of the command promises
KEYS = {
    "corners_px", "width_px", "height_px", "linearised_from", "clipped_share", "nine_min_over_max", "min_over_mean", "ripple",
    "colour_spread_uv", "dark_places", "warnings", "vignetting",
}  # fmt: skip


def face_of(
    ripple: float = 0.03, fall: float = 0.25, dark: tuple[float, float, float] | None = None, level: float = 0.5
) -> Any:
    """Linear light of a face with a ripple along x, a fall towards its rim, and maybe a dark place; two cells a mm."""
    x, y = np.meshgrid((np.arange(1200) + 0.5) / 2.0, (np.arange(800) + 0.5) / 2.0)
    away = (2.0 * x / WIDE - 1.0) ** 2 + (2.0 * y / HIGH - 1.0) ** 2
    light = level * (1.0 - fall / 2.0 * away) * (1.0 + ripple * np.cos(2.0 * np.pi * x / PITCH))
    if dark is not None:
        light = light * (1.0 - (1.0 - dark[2]) * np.exp(-(((x - dark[0]) / 14.0) ** 4) - ((y - dark[1]) / 14.0) ** 4))
    return np.stack([1.02 * light, light, 0.95 * light], axis=-1)


def grid_of(face: Any) -> FaceGrid:
    rows, columns = face.shape[:2]
    x, y = (np.arange(columns) + 0.5) * WIDE / columns, (np.arange(rows) + 0.5) * HIGH / rows
    return FaceGrid(face @ SRGB_TO_XYZ.T.astype(float), x, y, np.ones((rows, columns), bool))


@pytest.fixture(scope="module")
def lit() -> Evaluation:
    """A panel as large as the rendered faces."""
    return evaluate(design(face_width_mm=WIDE, face_height_mm=HIGH, depth_mm=80.0), CATALOGUE, Detail(0.5, 6_000, 1))


def measured(lit: Evaluation, data: bytes, **how: Any) -> Any:
    return measure_photo(read_photo(data), lit, **how)


# -- the pipeline ------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("bend", "focal_px", "noise", "bits"),
    [(0.0, None, 0.0, 8), (0.06, None, 0.002, 8), (-0.08, None, 0.002, 16), (0.04, 733.0, 0.003, 8)],
)
def test_a_rendered_picture_gives_what_was_put_in(
    lit: Evaluation, bend: float, focal_px: float | None, noise: float, bits: int
) -> None:
    """Ripple within 10 % of the true value, evenness within 0.02 (the bounds that are promised), corners within a pixel."""
    face = face_of()
    light = picture_of(face, CORNERS, bend=bend, focal_px=focal_px, noise=noise)
    flat = picture_of(
        np.full((8, 8, 3), 0.6), [[-2000, -2000], [4000, -2000], [4000, 4000], [-2000, 4000]], focal_px=focal_px
    )
    how = {"flat": read_photo(as_png(flat)), "correction": "flat"} if focal_px else {}
    found = measured(lit, as_png(light, bits=bits), **how)
    true = figures_of(grid_of(face), [("x", PITCH)], grey=False)
    assert np.abs(found.corners_px - seen_at(CORNERS, SHAPE, bend)).max() < 1.0
    assert found.figures.nine_min_over_max == pytest.approx(true.nine_min_over_max, abs=0.02)
    assert found.figures.min_over_mean == pytest.approx(true.min_over_mean, abs=0.02)
    assert ("distortion" in found.warnings) == (bend != 0.0)
    assert found.figures.dark_places == ()
    grid = FaceGrid(
        np.asarray(found.face.light, float), found.face.x_mm, found.face.y_mm, np.ones(found.face.light.shape[:2], bool)
    )
    assert ripple_of(grid, "x", PITCH) == pytest.approx(0.03, rel=0.1)
    assert ripple_of(grid, "y", PITCH) < 0.003


@pytest.mark.parametrize("focal", [0, 1e-25, float("nan")])
def test_a_focal_length_that_is_none_is_not_known(focal: float) -> None:
    exif, out = Image.Exif(), BytesIO()
    exif[0x8769] = {0xA405: focal}
    Image.new("RGB", (40, 30), "white").save(out, "PNG", exif=exif)
    assert read_photo(out.getvalue()).focal_px is None


def test_vignetting_is_taken_out_by_exif_as_well(lit: Evaluation) -> None:
    light = picture_of(face_of(), STRAIGHT, focal_px=733.0)
    plain = read_photo(as_png(light))
    exif = Image.Exif()
    exif[0x8769] = {0xA405: round(733.0 * 36.0 / SHAPE[1])}
    values = Image.fromarray((values_of_light(np.clip(light, 0, 1)) * 255).round().astype(np.uint8))
    out = BytesIO()
    values.save(out, "PNG", exif=exif)
    true = figures_of(grid_of(face_of()), [], grey=False)
    off = measure_photo(plain, lit)
    on = measure_photo(read_photo(out.getvalue()), lit, correction="exif")
    assert off.figures is not None
    assert on.figures is not None
    assert abs(off.figures.nine_min_over_max - true.nine_min_over_max) > 0.1
    assert on.figures.nine_min_over_max == pytest.approx(true.nine_min_over_max, abs=0.02)
    assert "vignetting" in off.warnings
    assert "vignetting" not in on.warnings
    assert "no_exif" in off.warnings
    assert "no_exif" not in on.warnings


def test_a_dark_place_is_found_where_it_is_and_a_dark_rim_is_none(lit: Evaluation) -> None:
    light = picture_of(face_of(fall=0.5, dark=(420.0, 130.0, 0.6)), CORNERS, noise=0.002)
    found = measured(lit, as_png(light))
    (one,) = found.figures.dark_places
    assert (one.x_mm, one.y_mm) == pytest.approx((420.0, 130.0), abs=3.0)
    assert one.share == pytest.approx(0.6, abs=0.06)


def test_a_whole_row_that_is_dark_is_one_place() -> None:
    face = face_of(ripple=0.0, fall=0.0)
    face[300:330] *= 0.7
    found = dark_places(grid_of(face), ())
    assert len(found) == 1
    assert found[0].y_mm == pytest.approx(157.5, abs=2.0)
    assert found[0].x_mm == pytest.approx(300.0, abs=5.0)


@pytest.mark.filterwarnings("ignore")  # the library warns of extras that it does not find
def test_colours_are_told_and_a_grey_picture_has_none(lit: Evaluation) -> None:
    """u'v' by a reference library: half of the face pinker."""
    import colour

    face = face_of(ripple=0.0, fall=0.0)
    face[:, 600:, 1] *= 0.9
    found = measured(lit, as_png(picture_of(face, STRAIGHT)))
    xyz = [SRGB_TO_XYZ.astype(float) @ face[400, column] for column in (300, 900)]
    uv = [np.asarray(colour.xy_to_Luv_uv(colour.XYZ_to_xy(one))) for one in (*xyz, np.mean(xyz, axis=0))]
    expected = max(float(np.hypot(*(one - uv[2]))) for one in uv[:2])
    assert found.figures.colour_spread_uv == pytest.approx(expected, abs=4e-4)
    grey = measured(lit, as_png(picture_of(face_of(), STRAIGHT), grey=True))
    assert grey.figures.colour_spread_uv is None


def test_linear_files_and_other_curves_are_read_as_they_say(lit: Evaluation) -> None:
    light = picture_of(face_of(), STRAIGHT)
    usual = measured(lit, as_png(light)).figures
    for gamma, name in ((None, "sRGB"), (1.0, "linear"), (0.6, "gamma")):
        photo = read_photo(as_png(light, bits=16, gamma=gamma))
        assert photo.linearised_from == name
        found = measure_photo(photo, lit).figures
        assert found is not None
        assert found.nine_min_over_max == pytest.approx(usual.nine_min_over_max, abs=0.005)


def test_clipping_is_told_by_its_area(lit: Evaluation) -> None:
    face = face_of(ripple=0.0, fall=0.0)
    face[:, :300] = 1.5
    found = measured(lit, as_png(picture_of(face, STRAIGHT)))
    assert found.clipped_share == pytest.approx(0.25, abs=0.01)
    assert "clipped" in found.warnings
    assert "clipped" not in measured(lit, as_png(picture_of(face_of(), STRAIGHT))).warnings


def test_corners_that_are_given_are_kept(lit: Evaluation) -> None:
    found = measured(lit, as_png(picture_of(face_of(), CORNERS)), corners_px=CORNERS)
    assert np.array_equal(found.corners_px, CORNERS)


def test_an_oblique_picture_is_told(lit: Evaluation) -> None:
    oblique = np.array([[133.0, 167.0], [667.0, 67.0], [667.0, 533.0], [133.0, 427.0]])
    assert "off_axis" in measured(lit, as_png(picture_of(face_of(), oblique))).warnings
    assert "off_axis" not in measured(lit, as_png(picture_of(face_of(), STRAIGHT))).warnings


@pytest.mark.parametrize("turn", range(1, 9))
def test_the_picture_is_turned_upright(turn: int) -> None:
    """Every orientation of EXIF against Pillow's own."""
    codes = (np.arange(40 * 60 * 3) % 251).astype(np.uint8).reshape(40, 60, 3)
    exif = Image.Exif()
    exif[0x0112] = turn
    out = BytesIO()
    Image.fromarray(codes).save(out, "PNG", exif=exif)
    from PIL import ImageOps

    expected = np.asarray(ImageOps.exif_transpose(Image.open(BytesIO(out.getvalue()))))
    assert np.array_equal(read_photo(out.getvalue()).codes, expected)


# -- what cannot be measured -------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "data",
    [b"", b"no picture", b"\x89PNG\r\n\x1a\n" + b"x" * 50, b"\xff\xd8\xff\xe0" + bytes(100), b"II*\x00" + bytes(200)],
)
def test_what_is_no_picture_is_refused(data: bytes) -> None:
    with pytest.raises(FormatError):
        read_photo(data)


def test_a_truncated_picture_is_refused_or_read() -> None:
    data = as_png(picture_of(face_of(), STRAIGHT))
    for part in (40, 400, len(data) // 2):
        try:
            read_photo(data[:part])
        except FormatError as error:
            assert "picture" in str(error)  # noqa: PT017 - either is right: what is there of it may be shown


def test_too_many_pixels_are_refused_before_they_are_decoded() -> None:
    out = BytesIO()
    Image.new("1", (20_000, 11_000)).save(out, "PNG")
    usual = Image.MAX_IMAGE_PIXELS
    with pytest.raises(FormatError, match="220 megapixels"):
        read_photo(out.getvalue())
    assert usual == Image.MAX_IMAGE_PIXELS  # the limit of those who read other pictures stays


@pytest.mark.parametrize(
    "light", [np.zeros((300, 400, 3)), np.full((300, 400, 3), 0.4), np.full((1, 1, 3), 0.5), np.full((40, 3, 3), 0.2)]
)
def test_a_picture_of_nothing_gives_null_and_says_why(lit: Evaluation, light: Any) -> None:
    found = measured(lit, as_png(light))
    assert found.figures is None
    assert found.problem is not None
    body = photo_json(found, None)
    assert b'"nine_min_over_max": null' in body
    assert "no_exif" in found.warnings


def test_a_dark_picture_is_told(lit: Evaluation) -> None:
    found = measured(lit, as_png(picture_of(face_of(level=0.006), STRAIGHT, around=0.0)))
    assert "dark" in found.warnings


def test_something_else_than_a_face_is_refused(lit: Evaluation) -> None:
    y, x = np.mgrid[0:300, 0:400]
    star = (np.hypot(x - 200, y - 150) < 60 + 50 * np.cos(5 * np.arctan2(y - 150, x - 200))).astype(float)
    found = measured(lit, as_png(np.repeat(star[..., None], 3, axis=2) * 0.5))
    assert found.figures is None
    assert "corners" in str(found.problem)


@pytest.mark.parametrize(
    "corners",
    [
        [[100, 100], [300, 300], [300, 100], [100, 300]],
        [[100, 100], [200, 200], [300, 300], [400, 400]],
        [[100, 300], [300, 300], [300, 100], [100, 100]],
        [[np.nan, 1], [2, 3], [4, 5], [6, 7]],
        [[-9000, 0], [300, 0], [300, 300], [0, 300]],
    ],
)
def test_corners_that_cannot_be_are_refused(corners: Any) -> None:
    with pytest.raises(PhotoError):
        check_corners(np.asarray(corners, float), 640, 480)


# -- the parts ---------------------------------------------------------------------------------------------------------


@settings(max_examples=25, deadline=None)
@given(st.floats(0.003, 0.2), st.floats(12.0, 60.0), st.floats(0.0, 6.28), st.floats(-0.3, 0.3))
def test_a_ripple_is_read_whatever_its_phase_and_whatever_slopes_under_it(
    amplitude: float, pitch: float, phase: float, slope: float
) -> None:
    x = (np.arange(1200) + 0.5) / 2.0
    row = (1.0 + slope * (x / WIDE - 0.5)) * (1.0 + amplitude * np.cos(2 * np.pi * x / pitch + phase))
    face = grid_of(np.repeat(np.repeat(row[None], 40, axis=0)[..., None], 3, axis=2))
    assert ripple_of(face, "x", pitch) == pytest.approx(amplitude, rel=0.03, abs=3e-4)


def test_the_disc_has_the_area_of_a_disc() -> None:
    kernel = disc_kernel(4.0, (1.0, 0.5))
    assert kernel.sum() * 0.5 == pytest.approx(np.pi * 16.0, rel=0.01)


def test_corners_are_put_in_order() -> None:
    points = np.array([[10.0, 90.0], [95.0, 12.0], [8.0, 9.0], [99.0, 95.0]])
    assert ordered(points).tolist() == [[8.0, 9.0], [95.0, 12.0], [99.0, 95.0], [10.0, 90.0]]


def test_the_face_is_found_at_any_brightness_of_the_room() -> None:
    for around in (0.0, 0.02, 0.1):
        found = find_corners(read_photo(as_png(picture_of(face_of(), CORNERS, around=around))))
        assert np.abs(found.corners_px - CORNERS).max() < 1.0


# -- the prediction measured alike -------------------------------------------------------------------------------------


def test_a_picture_of_the_prediction_measures_as_the_prediction(lit: Evaluation) -> None:
    """The face as it is computed, photographed: all figures of both sides agree."""
    fine = evaluate(lit.design, CATALOGUE, Detail(1.0, 60_000, 1))
    light = np.moveaxis(fine.xyz, 0, 2) @ np.linalg.inv(SRGB_TO_XYZ.astype(float)).T
    light = np.clip(light / light.max() * 0.8, 0.0, 1.0)
    found = measure_photo(read_photo(as_png(picture_of(light, CORNERS), bits=16)), fine)
    expected = predicted_figures(fine)
    assert found.figures is not None
    assert found.figures.nine_min_over_max == pytest.approx(expected.nine_min_over_max, abs=0.02)
    assert found.figures.min_over_mean == pytest.approx(expected.min_over_mean, abs=0.03)
    for one, other in zip(found.figures.ripple, expected.ripple, strict=True):
        assert one.amplitude == pytest.approx(other.amplitude, rel=0.1, abs=0.002)
    assert {one.direction for one in found.figures.ripple} <= {"x", "y"}
    assert len(pitches_of(fine)) == len(found.figures.ripple)
    body = photo_json(found, expected)
    assert all(f'"{key}"'.encode() in body for key in KEYS)
    assert "Nine places" in photo_text(found, expected)


def test_a_tube_is_seen_as_long_and_as_wide_as_it_is() -> None:
    lamp = evaluate(family(tube()), CATALOGUE, Detail(0.5, 6_000, 1))
    wide, high = seen_size_mm(lamp)
    assert high == pytest.approx(30.0)
    assert wide > 100.0
    figures = predicted_figures(lamp)
    assert 0.0 < figures.nine_min_over_max <= 1.0
