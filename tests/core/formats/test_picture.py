"""Pictures of lit faces: their size, what is beside the face, PNG."""

import io

import numpy as np
import pytest
from PIL import Image

from gauze.core.evaluate import WHILE_DRAGGING, evaluate
from gauze.core.formats.map_file import encode_map
from gauze.core.formats.picture import encode_png, face_picture
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
