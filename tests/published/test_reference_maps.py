"""The light on the lid against path-traced maps of the same cavities.

Source: ``bench/reference``, a general-purpose path tracer that counts forward paths, unbiased; sizes from the files alone. The
standard error of every cell stands in the tables, 0.2 % of a bright cell. What is asked of the engine: root mean square of the
difference over the mean at most 0.5 % (1 % in tubes and between baffles), the mean within 0.2 %, no cell off by
more than 3 % of its own light, if it has a thousandth of the brightest cell's. The maps' own noise is in these
differences; nothing is allowed for it.
"""

import math

import numpy as np
import pytest

from gauze.core.evaluate import CavityFaceLight, evaluate
from gauze.core.formats.design_file import decode_design
from gauze.core.layout.model import BoolArray
from gauze.core.materials import load_catalogue
from gauze.core.optics.cavity.face import Light
from gauze.core.optics.cavity.light import light_cavity
from gauze.core.optics.cavity.transport import transport_of
from tests.reference_maps import FOLDER, LID, ReferenceMap, light_over_cells, read_reference, traced_corner

CASES = {
    "box_bright": 0.005,
    "box_dark": 0.005,
    "prism_edge_lit": 0.005,
    "frustum": 0.005,
    "frustum_hexagon": 0.005,
    "channel": 0.005,
    "channel_v_lens": 0.005,
    "tube_sparse": 0.01,
    "tube_dense": 0.01,
    "baffled_gap_above": 0.01,
    "baffled_gap_below": 0.01,
    "baffled_thin": 0.01,
    "baffled_thick_oblong": 0.01,
    "baffled_low": 0.01,
    "baffled_packages": 0.01,
    "baffled_bare_rim": 0.01,
    "channel_packages": 0.005,
    "tube_slit": 0.005,
    "box_edge_lit": 0.005,
    "ball": 0.005,
}
CORNERS = {"mitred_right_angle": 0.005, "mitred_lens": 0.005}
_DARK = 1e-3  # of the brightest cell: below it nothing is asked of single cells


@pytest.mark.parametrize("name", CASES)
def test_the_light_is_that_of_the_path_tracer(name):
    catalogue = load_catalogue()
    design = decode_design((FOLDER / f"{name}.gauze").read_bytes(), catalogue)
    evaluation = evaluate(design, catalogue)
    assert isinstance(evaluation.light, CavityFaceLight)
    assert catalogue.sheet(design.build.layers).reflectance == pytest.approx(LID)  # as it was traced
    _compare(evaluation.light.face.light, name, CASES[name])


@pytest.mark.parametrize("name", CORNERS)
def test_the_light_round_a_mitre_is_that_of_the_path_tracer(name):
    surface, key, emitters = traced_corner(name)
    light = light_cavity(transport_of(surface, key, 1.0), emitters)
    assert light.balance_error < 1e-6
    assert 0 < light.corrected < 0.02
    _compare(light, name, CORNERS[name])


def _compare(light: Light, name: str, most: float) -> None:
    reference = read_reference(name)
    ours = light_over_cells(light, reference)
    mean = reference.illuminance.mean()
    rms = math.sqrt(np.mean((ours - reference.illuminance) ** 2)) / mean
    assert rms <= most
    assert abs(ours.mean() / mean - 1.0) <= 0.002
    assert np.abs(ours / reference.illuminance - 1.0)[_bright(reference)].max() <= 0.03


@pytest.mark.parametrize("name", [*CASES, *CORNERS])
def test_the_maps_are_finer_than_what_they_judge(name):
    """The noise of a map is less than half of the error that is asked about."""
    reference = read_reference(name)
    assert math.sqrt(np.mean(reference.error**2)) / reference.illuminance.mean() < 0.5 * {**CASES, **CORNERS}[name]
    assert (reference.error / reference.illuminance)[_bright(reference)].max() < 0.02


def _bright(reference: ReferenceMap) -> BoolArray:
    return np.asarray(reference.illuminance > _DARK * reference.illuminance.max())
