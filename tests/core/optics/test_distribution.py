"""Measured distributions: their tables, about any axis, and the light that they give."""

import math

import numpy as np
import pytest

from gauze.core.design.cavity import BaffledShape, BoxShape
from gauze.core.design.loose import MeasuredDistribution
from gauze.core.evaluate import WHILE_DRAGGING, evaluate
from gauze.core.optics.cavity.distribution import sides_of, table_of
from tests.builders import CATALOGUE, emitter, loose_design

GAMMA = np.arange(0.0, 90.1, 2.5)


def cosine_power(m: float) -> MeasuredDistribution:
    candela = np.cos(np.radians(np.minimum(GAMMA, 90.0))) ** m
    return MeasuredDistribution(
        name=f"cos^{m:g}",
        gamma_deg=tuple(GAMMA),
        c_deg=(0.0,),
        candela=(tuple(np.maximum(candela, 0.0)),),
    )


def test_a_table_is_brought_to_one_lumen():
    table = table_of(GAMMA, np.array([0.0]), 7.0 * np.cos(np.radians(GAMMA))[None, :])
    angle = np.radians([0.0, 30.0, 60.0, 85.0, 120.0])
    found = table.at(np.cos(angle), np.zeros(5))
    assert found == pytest.approx([math.cos(a) / math.pi if a < math.pi / 2 else 0.0 for a in angle], abs=2e-3)


def test_planes_are_read_between():
    c = np.array([0.0, 90.0, 180.0, 270.0, 360.0])
    candela = np.outer([1.0, 3.0, 1.0, 3.0, 1.0], np.cos(np.radians(GAMMA)))
    table = table_of(GAMMA, c, candela)
    along, across, between = (float(table.at(np.array(0.8), np.radians(x))) for x in (0.0, 90.0, 45.0))
    assert across / along == pytest.approx(3.0, rel=1e-6)
    assert between / along == pytest.approx(2.0, rel=1e-6)


def test_nothing_emitted_is_refused():
    with pytest.raises(ValueError, match="emits nothing"):
        table_of(GAMMA, np.array([0.0]), np.zeros((1, len(GAMMA))))


@pytest.mark.parametrize("axis", [(0, 0, 1), (0, 0, -1), (1, 0, 0), (0, 1, 0), (0.6, 0.0, 0.8), (-1, 0, 0)])
def test_planes_lie_at_right_angles_round_any_axis(axis):
    axes = np.array([axis], float)
    right, up = sides_of(axes)
    frame = np.concatenate([right, up, axes])
    assert frame @ frame.T == pytest.approx(np.eye(3), abs=1e-12)
    assert np.linalg.det(frame) == pytest.approx(1.0)


@pytest.mark.parametrize("m", [1.0, 4.0])
@pytest.mark.parametrize(
    "shape",
    [
        BoxShape(width_mm=60.0, height_mm=60.0, depth_mm=25.0),
        BaffledShape(
            columns=2,
            rows=2,
            pitch_x_mm=30.0,
            pitch_y_mm=30.0,
            depth_mm=25.0,
            partition_mm=1.0,
            partition_height_mm=20.0,
        ),
    ],
)
def test_a_measured_cosine_power_lights_as_the_formula_does(shape, m):
    place = (18.0, 22.0, 2.0)
    by_formula = loose_design(shape, emitter(*place, nx=0.3, m=m))
    measured = loose_design(shape, emitter(*place, nx=0.3, distribution=0), distributions=(cosine_power(m),))
    a, b = (evaluate(design, CATALOGUE, WHILE_DRAGGING) for design in (by_formula, measured))
    assert b.output.lid_lm == pytest.approx(a.output.lid_lm, rel=3e-3)
    assert b.illuminance_lx == pytest.approx(a.illuminance_lx, rel=0.03, abs=0.01 * float(a.illuminance_lx.max()))
    assert b.target.illuminance_lx == pytest.approx(a.target.illuminance_lx, rel=0.01)


def test_a_beam_to_one_side_lights_that_side():
    """C 0 lies towards x: what the table sends there falls on the right of a box."""
    c = (0.0, 90.0, 180.0, 270.0, 360.0)
    lobe = tuple(np.exp(-((GAMMA - 45.0) ** 2) / 50.0))
    dark = tuple(0.0 for _ in GAMMA)
    sideways = MeasuredDistribution(
        name="to the right", gamma_deg=tuple(GAMMA), c_deg=c, candela=(lobe, dark, dark, dark, lobe)
    )
    shape = BoxShape(width_mm=100.0, height_mm=60.0, depth_mm=25.0)
    design = loose_design(shape, emitter(50.0, 30.0, distribution=0), distributions=(sideways,), back=0.0, walls=0.0)
    found = evaluate(design, CATALOGUE, WHILE_DRAGGING)
    left, right = found.x_mm < 40, found.x_mm > 60
    assert found.illuminance_lx[:, right].mean() > 20 * found.illuminance_lx[:, left].mean()
