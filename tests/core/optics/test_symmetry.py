"""What is computed on one side of a mirror plane is what would be computed on both."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gauze.core.design.cavity import BaffledShape, BoxShape, PrismShape
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import Cavity, Reflectances
from gauze.core.layout.shapes import surface_of
from gauze.core.optics.cavity import baffled, cell_balance, exchange, factors
from gauze.core.optics.cavity.baffled import light_baffled
from gauze.core.optics.cavity.cells import forget_exchanges
from gauze.core.optics.cavity.crowd import gathered
from gauze.core.optics.cavity.emitters import Emitters
from gauze.core.optics.cavity.light import light_cavity
from gauze.core.optics.cavity.mesh import mesh_of, refined
from gauze.core.optics.cavity.symmetry import common_axes, symmetries
from gauze.core.optics.cavity.transport import transport_of
from gauze.core.optics.kernel.pieces import Pieces
from tests.builders import CAVITIES, surface

INSIDE = Reflectances(0.9, 0.85, 0.4)


@pytest.mark.parametrize("name", CAVITIES)
def test_the_exchange_of_a_cavity_is_the_same_with_its_mirrors_and_without(
    name: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    mesh = mesh_of(Pieces(surface(name).tiles), 300, math.inf)
    fine = refined(mesh, 900)
    index = fine.surface_index, fine.leg
    for module in (factors, exchange):
        monkeypatch.setattr(module, "WORTH_MIRRORS", 0)
    seen = factors.point_factors(fine.centres, fine.normals, mesh, index)
    folded = exchange.exchange_areas(mesh).whole(), seen.whole()
    for module in (factors, exchange):
        monkeypatch.setattr(module, "common_axes", lambda *_sets, **_more: [])
    plain = (
        exchange.exchange_areas(mesh).whole(),
        factors.point_factors(fine.centres, fine.normals, mesh, index).whole(),
    )
    light = np.linspace(0.0, 1.0, 2 * mesh.count, dtype=np.float32).reshape(mesh.count, 2)
    assert seen @ light == pytest.approx(plain[1] @ light, rel=1e-4)
    for one, other in zip(folded, plain, strict=True):
        assert np.abs(one - other).max() <= 3e-5 * other.max()


def test_a_box_has_three_mirrors_and_a_crooked_prism_none() -> None:
    counts = {}
    crooked = PrismShape(corners_mm=((0, 0), (80, 10), (60, 70), (10, 55)), depth_mm=30.0)
    for shape in (BoxShape(width_mm=90.0, height_mm=60.0, depth_mm=25.0), crooked):
        surface = surface_of(shape, INSIDE)
        assert isinstance(surface, Cavity)
        mesh = mesh_of(Pieces(surface.tiles), 300, math.inf)
        middle = (mesh.centres.min(axis=0) + mesh.centres.max(axis=0)) / 2.0
        mirrors = common_axes((mesh.centres, mesh.normals), middle=middle)
        (found,) = symmetries(mirrors, (mesh.count,))
        counts[type(shape).__name__] = len(mirrors)
        assert set(np.concatenate([image[found.first] for image in found.images])) == set(range(mesh.count))
    assert counts == {"BoxShape": 3, "PrismShape": 1}  # of a prism the back is the image of the lid


@pytest.mark.parametrize(("points", "pitch_mm"), [(2, 10.0), (3, 10.0), (3, 7.0)])
def test_packages_given_as_several_points_may_be_merged(
    points: int, pitch_mm: float, monkeypatch: pytest.MonkeyPatch
) -> None:
    surface = surface_of(BoxShape(width_mm=120.0, height_mm=80.0, depth_mm=20.0), INSIDE)
    assert isinstance(surface, Cavity)
    packages = _packages(points, pitch_mm)
    share = np.linspace(0.03, 0.97, 90)
    s, t = (grid.ravel() for grid in np.meshgrid(share, share))

    def seen() -> np.ndarray:
        transport = transport_of(surface, ("merged", points, pitch_mm), 1.0)
        return light_cavity(transport, packages).direct(surface.lids[0], s, t)[0]

    merged = seen()
    monkeypatch.setattr("gauze.core.optics.cavity.light.gathered", lambda emitters, *_args, **_more: emitters)
    monkeypatch.setattr("gauze.core.optics.cavity.crowd.gathered", lambda emitters, *_args, **_more: emitters)
    off = merged / seen() - 1.0
    assert np.sqrt((off**2).mean()) < 5e-4
    assert np.abs(off).max() < 3e-3


def _packages(points: int, pitch_mm: float) -> Emitters:
    """LEDs of 3 mm, each as points x points."""
    x, y = np.arange(pitch_mm / 2, 120.0, pitch_mm), np.arange(pitch_mm / 2, 80.0, pitch_mm)
    offset = (np.arange(points) - (points - 1) / 2) * 3.0 / points
    grid = [one.ravel() for one in np.meshgrid(x, y, offset, offset, indexing="ij")]
    count = len(grid[0])
    places = np.stack([grid[0] + grid[2], grid[1] + grid[3], np.full(count, 1.6)], axis=1)
    axes = np.tile([0.0, 0.0, 1.0], (count, 1))
    return Emitters(places, axes, np.ones(count), np.full((count, 1), 1.0), np.full(count, -1), ())


@given(st.integers(1, 400), st.floats(1.0, 30.0))
def test_merging_keeps_flux_and_middle(count: int, width_mm: float) -> None:
    places = np.random.default_rng(count).uniform(0.0, 60.0, (count, 3)) * [1.0, 1.0, 0.05]
    axes = np.tile([0.0, 0.0, 1.0], (count, 1))
    flux = np.linspace(1.0, 2.0, count)[:, None]
    many = Emitters(places, axes, np.ones(count), flux, np.full(count, -1), ())
    fewer = gathered(many, np.full(count, np.inf), width_mm)
    assert fewer.flux_lm.sum() == pytest.approx(flux.sum())
    moments = [(one.places_mm * one.flux_lm).sum(axis=0) for one in (fewer, many)]
    assert moments[0] == pytest.approx(moments[1], rel=1e-9)


@pytest.mark.parametrize("height_mm", [13.0, 6.0])
def test_of_many_cells_those_far_from_the_rim_are_scaled_alike(
    height_mm: float, monkeypatch: pytest.MonkeyPatch
) -> None:
    shape = BaffledShape(
        columns=20,
        rows=16,
        pitch_x_mm=10.0,
        pitch_y_mm=10.0,
        depth_mm=15.0,
        partition_mm=0.8,
        partition_height_mm=height_mm,
        gap_below_mm=1.0,
    )
    box = surface_of(shape, INSIDE)
    assert isinstance(box, BaffledBox)
    x, y = (grid.ravel() for grid in np.meshgrid(np.arange(20) * 10.0 + 5.0, np.arange(16) * 10.0 + 5.0))
    axes = np.tile([0.0, 0.0, 1.0], (len(x), 1))
    places = np.stack([x, y, np.full(len(x), 1.6)], axis=1)
    leds = Emitters(places, axes, np.ones(len(x)), np.ones((len(x), 1)), np.full(len(x), -1), ())
    shortened = light_baffled(box, leds, 0.4).bounced_at_knots
    monkeypatch.setattr(cell_balance, "_RIM_REACHES", 99)
    forget_exchanges()
    assert shortened == pytest.approx(light_baffled(box, leds, 0.4).bounced_at_knots, rel=3e-4)


@given(
    columns=st.integers(1, 5),
    rows=st.integers(1, 4),
    high_mm=st.floats(3.0, 20.0),
    thick_mm=st.floats(0.4, 3.0),
    beside_mm=st.sampled_from([0.0, 4.0]),
    open_rim=st.booleans(),
)
@settings(max_examples=25, deadline=None)
def test_light_of_an_emitter_in_the_middle_of_its_cell_is_its_own_image(
    columns: int, rows: int, high_mm: float, thick_mm: float, beside_mm: float, open_rim: bool
) -> None:
    box = BaffledBox(columns, rows, 24.0, 20.0, 20.0, thick_mm, 1.0, high_mm, INSIDE, open_rim=open_rim)
    place = np.array([[12.0 + beside_mm, 10.0, 1.5]])  # of the first cell
    lamp = Emitters(place, np.array([[0.0, 0.0, 1.0]]), np.ones(1), np.ones((1, 1)), size_mm=2.0)
    with pytest.MonkeyPatch.context() as patch:
        lights = []
        for central in (baffled._is_central, lambda *_about: False):  # each place by itself
            patch.setattr(baffled, "_is_central", central)
            forget_exchanges()
            lights.append(light_baffled(box, lamp, 0.3))
            lights[-1].direct(6)[0]
        folded, plain = (light.direct(6)[0] for light in lights)
    assert folded == pytest.approx(plain, rel=1e-4, abs=1e-6 * float(plain.max()))
    assert lights[0].lid_flux_lm == pytest.approx(lights[1].lid_flux_lm, rel=1e-4)
