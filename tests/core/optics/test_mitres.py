"""What is seen round a mitre, against lines that are followed through the openings one by one."""

import math
from dataclasses import replace

import numpy as np
import pytest

from gauze.core.design.cavity import Leg, MitredChannelShape
from gauze.core.layout.cavity import Cavity, Reflectances
from gauze.core.layout.legs import MOST_WALLS, bounding
from gauze.core.layout.model import FloatArray
from gauze.core.layout.shapes import surface_of
from gauze.core.optics.cavity.emitters import Emitters, flux_shares, illuminance
from gauze.core.optics.cavity.mesh import mesh_of
from gauze.core.optics.kernel.pieces import Pieces

WIDTH, DEPTH, LENGTH = 20.0, 12.0, 60.0
INSIDE = Reflectances(0.9, 0.9, 0.4)
SHAPES = {
    "right angle": {"after": Leg(turn_deg=90.0, length_mm=60.0)},
    "to the right": {"after": Leg(turn_deg=-70.0, length_mm=60.0)},
    "both ends": {"before": Leg(turn_deg=45.0, length_mm=50.0), "after": Leg(turn_deg=120.0, length_mm=40.0)},
}


def corner(name: str, **choices: object) -> Cavity:
    section = {"section": "rectangle", "length_mm": LENGTH, "width_mm": WIDTH, "depth_mm": DEPTH}
    found = surface_of(MitredChannelShape(**{**section, **SHAPES[name], **choices}), INSIDE)
    assert isinstance(found, Cavity)
    return found


def lamps(surface: Cavity, places: FloatArray) -> Emitters:
    assert surface.legs is not None
    count = len(places)
    legs = surface.legs, surface.leg_of(places)
    return Emitters(places, np.tile([0.0, 0.0, 1.0], (count, 1)), np.ones(count), np.ones((count, 1)), legs=legs)


def goes_out_mm(surface: Cavity, start: FloatArray, end: FloatArray) -> float:
    """How far many places along a line get out of every leg; 0 where it stays inside."""
    share = np.linspace(0.0, 1.0, 4001)[:, None]
    return max(float(-surface.clearance_mm(start + share * (end - start)).min()), 0.0)


@pytest.mark.parametrize("name", SHAPES)
def test_an_led_is_seen_where_the_line_to_it_stays_inside(name: str) -> None:
    surface = corner(name)
    rng = np.random.default_rng(7)
    places = np.concatenate(
        [tile.points(*rng.uniform(0.05, 0.95, (2, 4))) for tile in surface.tiles if tile.role == "back"]
    )
    places[:, 2] = 1.5
    lid = surface.lids[0]
    points, normals = (make(*rng.uniform(0.02, 0.98, (2, 40))) for make in (lid.points, lid.normals))
    sources = lamps(surface, places)
    seen = hidden = 0
    for one in range(len(places)):
        lux, _ = illuminance(points, normals, sources.part(np.array([one])))
        for point, value in zip(points, lux[:, 0], strict=True):
            away = point - places[one]
            expected = away[2] ** 2 / (math.pi * (away @ away) ** 2)
            out_mm = goes_out_mm(surface, places[one], point)
            if out_mm < 1e-6:
                assert value == pytest.approx(expected, rel=2e-4)
                seen += 1
            elif out_mm > 0.05:  # between the two it grazes an edge
                assert value == 0.0
                hidden += 1
    assert seen > 100
    assert hidden > 100


@pytest.mark.parametrize("name", SHAPES)
def test_all_light_of_an_led_arrives_somewhere(name: str) -> None:
    """Nothing leaks at a mitre and nothing is counted twice: before any correction the sum is right to half of a hundredth."""
    surface = corner(name, lens_rise_mm=4.0)
    mesh = mesh_of(Pieces(surface.tiles, surface.legs), 4000, 3.0)
    places = np.array([[x, 0.0, 1.5] for x in (5.0, 20.0, 55.0)])
    shares, missed = flux_shares(mesh, lamps(surface, places))
    assert missed < 0.006
    assert float((shares[:, 0] * mesh.areas_mm2).sum()) == pytest.approx(3.0, rel=1e-9)


def test_the_edge_of_a_shadow_is_as_wide_as_the_led_shows_it() -> None:
    """An LED 3 mm wide, 30 mm before the inner corner: its shadow 30 mm behind that is as wide as itself."""
    surface = corner("right angle")
    inner = np.array([LENGTH - WIDTH / 2.0, WIDTH / 2.0])
    far = 30.0
    place = np.array([[LENGTH, far + WIDTH / 2.0, 1.5]])
    slope = (inner - place[0, :2]) / abs(inner[1] - place[0, 1])
    across = np.linspace(-6.0, 6.0, 241)
    y = -WIDTH / 2.0 + 1.0
    middle = inner[0] + slope[0] * (inner[1] - y)
    points = np.column_stack([middle + across, np.full(241, y), np.full(241, DEPTH)])
    normals = np.tile([0.0, 0.0, -1.0], (241, 1))
    point_like, wide = (
        illuminance(points, normals, replace(lamps(surface, place), size_mm=size))[0] for size in (0.0, 3.0)
    )
    assert len(np.unique(np.sign(point_like))) == 2  # light, and none
    whole = replace(lamps(surface, place), size_mm=3.0, legs=None)
    share = wide[:, 0] / illuminance(points, normals, whole)[0][:, 0]
    assert share.min() == 0.0
    assert share.max() == pytest.approx(1.0)
    assert share[120] == pytest.approx(0.5, abs=0.02)
    assert np.all(np.diff(share) >= -1e-6)


def test_an_opening_of_too_many_walls_is_refused() -> None:
    walls = np.tile([0.0, 1.0, 0.0, 0.0], (MOST_WALLS + 1, 1))
    with pytest.raises(ValueError, match="walls bound"):
        bounding(walls, np.array([[0.0, 5.0, 0.0]]))
