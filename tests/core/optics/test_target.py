import math

import numpy as np
import pytest

from gauze.core.design import Target
from gauze.core.errors import DesignError
from gauze.core.evaluate import AT_REST, WHILE_DRAGGING, Evaluation, evaluate, find
from gauze.core.families import check_design
from gauze.core.optics.face import LitFace
from gauze.core.optics.intensity import intensity_cd
from gauze.core.optics.target import TargetPlane, target_map
from tests.builders import CATALOGUE, design


def on_axis_lx(face: LitFace, distance_mm: float) -> float:
    return target_map(face, TargetPlane(distance_mm), points=1).illuminance_lx.item()


@pytest.fixture(scope="module")
def opal() -> Evaluation:
    return evaluate(design(diffuser="dense-opal-acrylic-3", depth_mm=40.0), CATALOGUE, AT_REST)


def by_hand(evaluation: Evaluation, place: np.ndarray, normal: np.ndarray) -> float:
    """E = sum of L cos cos' dA / R^2 over the luminance map, cell by cell, written out with vectors."""
    x, y = np.meshgrid(evaluation.x_mm, evaluation.y_mm)
    cells = np.stack([x, y, np.zeros_like(x)], axis=-1)
    way = place - cells
    distance = np.linalg.norm(way, axis=-1)
    leaving = way[..., 2] / distance
    arriving = np.maximum(-(way @ normal) / distance, 0)
    area = 600.0 * 400.0 / x.size
    return float((evaluation.luminance_cd_m2 * leaving * arriving / distance**2).sum() * area)


PLANES = [
    TargetPlane(400.0),
    TargetPlane(400.0, offset_x_mm=300.0, offset_y_mm=-150.0),
    TargetPlane(500.0, turn_deg=35.0),
    TargetPlane(500.0, tilt_deg=-60.0),
    TargetPlane(700.0, offset_x_mm=-500.0, turn_deg=-40.0, tilt_deg=20.0),
    TargetPlane(300.0, tilt_deg=90.0),
]


@pytest.mark.parametrize("plane", PLANES)
def test_turned_and_offset_targets_get_what_the_integral_gives(opal: Evaluation, plane: TargetPlane) -> None:
    right, up, normal = plane.axes()
    assert np.stack([right, up, normal]) @ np.stack([right, up, normal]).T == pytest.approx(np.eye(3), abs=1e-12)
    place = np.array([300.0 + plane.offset_x_mm, 200.0 + plane.offset_y_mm, plane.distance_mm])
    ours = target_map(opal.light.face, plane, points=1).illuminance_lx.item()
    assert ours == pytest.approx(by_hand(opal, place, normal), rel=0.006)


def test_turning_follows_the_cosine_from_afar(opal: Evaluation) -> None:
    straight = on_axis_lx(opal.light.face, 20_000.0)
    for turn in (20.0, 60.0, 85.0):
        turned = target_map(opal.light.face, TargetPlane(20_000.0, turn_deg=turn), points=1).illuminance_lx.item()
        assert turned == pytest.approx(straight * math.cos(math.radians(turn)), rel=0.01)


@pytest.mark.parametrize("diffuser", ["dense-opal-acrylic-3", "satin-acrylic-3", "clear-acrylic-3"])
@pytest.mark.parametrize("gamma", [0.0, 30.0, 55.0])
def test_beside_the_axis_the_intensity_and_the_fourth_power_of_the_cosine(diffuser: str, gamma: float) -> None:
    """Two modules, one light: E = I(gamma) cos(gamma) / R^2 far away."""
    face = evaluate(design(diffuser=diffuser), CATALOGUE).light.face
    distance = 15_000.0
    offset = distance * math.tan(math.radians(gamma))
    arrived = target_map(face, TargetPlane(distance, offset_x_mm=offset), points=1).illuminance_lx.item()
    candela = float(intensity_cd(face, np.array([gamma]), np.array([0.0]))[0, 0])
    radius_m = distance / math.cos(math.radians(gamma)) / 1000
    assert arrived == pytest.approx(candela * math.cos(math.radians(gamma)) / radius_m**2, rel=0.02)


def test_the_near_edge_of_a_turned_target_is_brighter(opal: Evaluation) -> None:
    plane = TargetPlane(500.0, turn_deg=30.0, width_mm=400.0, height_mm=300.0)
    light = target_map(opal.light.face, plane)
    assert light.illuminance_lx.shape == (9, 9)
    assert light.illuminance_lx[4, -1] > light.illuminance_lx[4, 0]  # positive turns the right edge nearer
    assert light.right_mm[[0, -1]] == pytest.approx([-200, 200])
    tilted = target_map(opal.light.face, TargetPlane(500.0, tilt_deg=30.0, width_mm=400.0, height_mm=300.0))
    assert tilted.illuminance_lx[-1, 4] > tilted.illuminance_lx[0, 4]
    assert 0 < light.min_over_mean < 1


def test_a_target_behind_the_face_gets_nothing(opal: Evaluation) -> None:
    behind = TargetPlane(100.0, tilt_deg=80.0, width_mm=10.0, height_mm=1000.0)
    light = target_map(opal.light.face, behind)
    assert light.illuminance_lx[-1].max() == 0.0
    assert light.illuminance_lx[0].max() > 0.0


def test_findings_tell_how_the_target_stands_and_how_even_its_light_is() -> None:
    target = Target(offset_x_mm=250.0, turn_deg=20.0, width_mm=600.0)
    evaluation = evaluate(design({"use": "lighting", "target": target}), CATALOGUE)
    found = next(finding for finding in find(evaluation) if finding.code == "target brightness")
    where, over = found.figures[:2]
    assert "250 mm to the right" in str(where.how)
    assert "turned 20°" in str(where.how)
    assert "U0" in str(over.value)
    assert "600 × 300 mm" in str(over.how)
    coarse = evaluate(design({"target": target}), CATALOGUE, WHILE_DRAGGING)
    assert coarse.target.illuminance_lx.shape == (1, 1)
    assert coarse.target_lx == pytest.approx(evaluation.target_lx, rel=0.01)


@pytest.mark.parametrize(
    ("target", "field"),
    [
        (Target(turn_deg=120.0), "purpose.target.turn_deg"),
        (Target(width_mm=0.0), "purpose.target.width_mm"),
        (Target(offset_x_mm=math.nan), "purpose.target.offset_x_mm"),
    ],
)
def test_targets_that_cannot_be_are_refused(target: Target, field: str) -> None:
    with pytest.raises(DesignError) as refusal:
        check_design(design({"target": target}), CATALOGUE)
    assert refusal.value.field == field
