"""Pictures of lit faces: their size, what is beside the face, PNG."""

import io

import numpy as np
import pytest
from PIL import Image

from gauze.core.evaluate import WHILE_DRAGGING, evaluate
from gauze.core.formats.map_file import encode_map
from gauze.core.formats.picture import carried_on, encode_png, face_picture
from tests.builders import CATALOGUE, CAVITIES, design, emitter, loose_design


def lamp(name: str):
    shape, place = CAVITIES[name]
    return evaluate(loose_design(shape, emitter(*place)), CATALOGUE, WHILE_DRAGGING)


@pytest.mark.parametrize("false", [False, True])
def test_beside_a_face_the_picture_is_transparent(false):
    evaluation = lamp("prism")
    picture = face_picture(evaluation, false=false)
    assert picture.shape == (*evaluation.inside.shape, 4)
    assert ((picture[..., 3] == 255) == evaluation.inside[::-1]).all()
    read = np.asarray(Image.open(io.BytesIO(encode_png(picture))))
    assert (read == picture).all()


def test_a_cut_out_face_is_carried_on_beside_itself():
    """Two pixels wide, in the colour of the nearest on the face; the face stays as it is."""
    picture = np.zeros((20, 30, 4), np.uint8)
    shade = np.arange(6, dtype=np.uint8)[:, None] * 40 + np.arange(9, dtype=np.uint8) + 10
    picture[7:13, 0:9] = np.dstack([shade, shade // 2, shade // 3, np.full_like(shade, 255)])
    carried = carried_on(picture)
    assert carried.shape == (20, 30, 3)
    assert (carried[7:13, 0:9] == picture[7:13, 0:9, :3]).all()
    assert (carried[5:7, 0:9] == picture[7, 0:9, :3]).all()
    assert (carried[7:13, 9:11] == picture[7:13, 8:9, :3]).all()
    assert (carried[14, 10] == picture[12, 8, :3]).all()
    assert carried[:5].max() == 0
    assert carried[:, 11:].max() == 0
    whole = np.full((4, 5, 3), 9, np.uint8)
    assert carried_on(whole) is whole


@pytest.mark.parametrize("evaluation", [lamp("box"), evaluate(design(), CATALOGUE, WHILE_DRAGGING)])
def test_a_face_that_fills_its_map_has_no_transparency(evaluation):
    picture = face_picture(evaluation)
    assert picture.shape == (len(evaluation.y_mm), len(evaluation.x_mm), 3)
    assert np.asarray(Image.open(io.BytesIO(encode_png(picture)))).shape == picture.shape


def test_false_colour_spans_the_face_and_not_what_is_beside_it():
    """The darkest place of the face has the scale's first colour, though the map is 0 beside it."""
    evaluation = lamp("prism")
    picture = face_picture(evaluation, false=True)
    luminance = np.where(evaluation.inside, evaluation.luminance_cd_m2, np.inf)[::-1]
    darkest = np.unravel_index(int(luminance.argmin()), luminance.shape)
    assert luminance[darkest] > 0
    assert picture[darkest][:3].max() == picture[..., :3].max(axis=2)[picture[..., 3] == 255].min()


def test_the_arrays_say_where_the_face_is():
    evaluation = lamp("sphere")
    arrays = np.load(io.BytesIO(encode_map(evaluation)))
    assert (arrays["inside"] == evaluation.inside).all()
    assert (arrays["XYZ"][~arrays["inside"]] == 0).all()
    assert arrays["XYZ"][..., 1] == pytest.approx(arrays["luminance_cd_m2"])
