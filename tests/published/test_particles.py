"""The light in a box against an independent model: forward counting of particles, emitter to lid.

Nothing is shared with the solver but the numbers of the box: particles leave the packages by Lambert's law, are
reflected by chance with the faces' reflectances, and are counted where they meet the lid.
"""

import numpy as np
import pytest

from gauze.core.layout import RowLayout
from gauze.core.optics.box_light import BoxLight, light_box, map_axes
from tests.builders import layout

COLUMNS, ROWS = 10, 8


def lambertian(generator: np.random.Generator, count: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    radius, angle = np.sqrt(generator.random(count)), 2 * np.pi * generator.random(count)
    return radius * np.cos(angle), radius * np.sin(angle), np.sqrt(1 - radius**2)


def count_on_lid(laid: RowLayout, particles: int, seed: int) -> np.ndarray:
    """Particles on each cell of the lid, shape (ROWS, COLUMNS), counted each time that they meet it."""
    generator = np.random.default_rng(seed)
    box, emitters = laid.box, laid.emitters[0]
    size = np.array([box.width_mm, box.height_mm, box.inner_depth_mm])
    chosen = generator.integers(0, len(emitters.x_mm), particles)
    spread = generator.random((2, particles)) - 0.5
    place = np.stack(
        [
            emitters.x_mm[chosen] + emitters.package_mm[0] * spread[0],
            emitters.y_mm[chosen] + emitters.package_mm[1] * spread[1],
            np.full(particles, emitters.z_mm),
        ],
        axis=1,
    )
    heading = np.stack(lambertian(generator, particles), axis=1)
    counted = np.zeros((ROWS, COLUMNS))
    while len(place):
        index = np.arange(len(place))
        with np.errstate(divide="ignore"):
            reach = np.where(heading > 0, (size - place) / heading, np.where(heading < 0, -place / heading, np.inf))
        axis = reach.argmin(axis=1)
        place = place + heading * reach[index, axis][:, None]
        upper = heading[index, axis] > 0
        on_lid = (axis == 2) & upper
        span = ((0, box.height_mm), (0, box.width_mm))
        counted += np.histogram2d(place[on_lid, 1], place[on_lid, 0], bins=(ROWS, COLUMNS), range=span)[0]
        flat = np.where(upper, box.lid_reflectance, box.back_reflectance)
        reflected = generator.random(len(place)) < np.where(axis == 2, flat, box.wall_reflectance)
        place, axis, upper = place[reflected], axis[reflected], upper[reflected]
        index = np.arange(len(place))
        first, second, away = lambertian(generator, len(place))
        heading = np.empty_like(place)
        heading[index, axis] = np.where(upper, -away, away)
        heading[index, (axis + 1) % 3] = first
        heading[index, (axis + 2) % 3] = second
        place[index, axis] = np.where(upper, size[axis] * (1 - 1e-9), size[axis] * 1e-9)
    return counted


def cell_means(light: BoxLight) -> np.ndarray:
    x_mm, y_mm = map_axes(light.box, min(light.box.width_mm / (40 * COLUMNS), light.box.height_mm / (40 * ROWS)))
    x_mm = (np.arange(40 * COLUMNS) + 0.5) * light.box.width_mm / (40 * COLUMNS)
    y_mm = (np.arange(40 * ROWS) + 0.5) * light.box.height_mm / (40 * ROWS)
    return light.illuminance_lx(x_mm, y_mm).reshape(ROWS, 40, COLUMNS, 40).mean(axis=(1, 3))


CASES = {
    "bright": {},
    "dark walls, deep": {
        "depth_mm": 100.0,
        "walls": 0.1,
        "face_width_mm": 300.0,
        "face_height_mm": 240.0,
        "rows_count": 4,
    },
    "flat, few rows": {"depth_mm": 14.0, "rows_count": 6},
}


@pytest.mark.parametrize("case", CASES)
def test_illuminance_on_the_lid_agrees_with_counting(case: str) -> None:
    from gauze.core.design import RowPlan

    changes = dict(CASES[case])
    count = changes.pop("rows_count", 11)
    height = changes.get("face_height_mm", 400.0)
    changes["rows"] = RowPlan(count=count, spacing_mm=height / count)
    laid = layout(**changes)
    particles = 600_000
    counted = sum(count_on_lid(laid, particles, seed) for seed in range(2))
    light = light_box(laid.box, laid.emitters, 1.0)
    cell_m2 = laid.box.width_mm * laid.box.height_mm * 1e-6 / (ROWS * COLUMNS)
    reference = counted / (2 * particles) * light.flux_lm / cell_m2
    noise = 1 / np.sqrt(counted)
    difference = cell_means(light) / reference - 1
    assert difference.mean() == pytest.approx(0.0, abs=0.002 + 3 * noise.mean() / np.sqrt(noise.size))
    # root mean square beside the counting's own noise: half a percent, as the light model wants of a box
    rms2 = (difference**2).mean() - (noise**2).mean()
    assert rms2 < 0.005**2 + 3 * (noise**2).mean() * np.sqrt(2 / noise.size)
    assert (np.abs(difference) < 0.03 + 4 * noise).all()
