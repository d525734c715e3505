"""The light of any cavity: what must hold whatever the shape, and whatever stands for the emitters."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gauze.core.design.cavity import BaffledShape, BoxShape, FrustumShape
from gauze.core.errors import Cancelled, pausing
from gauze.core.evaluate import WHILE_DRAGGING, CavityFaceLight, Evaluation, evaluate
from gauze.core.layout.cavity import Cavity, Reflectances
from gauze.core.layout.families.loose import cavity_of
from gauze.core.layout.shapes import surface_of
from gauze.core.optics.cavity.crowd import clearance_to, flux_of_crowd, gathered
from gauze.core.optics.cavity.emitters import Emitters, flux_shares, illuminance
from gauze.core.optics.cavity.light import CavityLight, light_cavity
from gauze.core.optics.cavity.transport import forget_transports, meshes_of, transport_near, transport_of
from tests.builders import CATALOGUE, CAVITIES, emitter, loose, loose_design


def lit(name: str, *emitters, **changes) -> Evaluation:
    shape, place = CAVITIES[name]
    found = evaluate(loose_design(shape, *(emitters or (emitter(*place),)), **changes), CATALOGUE, WHILE_DRAGGING)
    assert isinstance(found.light, CavityFaceLight)
    return found


reflectance = st.floats(0.0, 0.97)
direction = st.tuples(*3 * [st.floats(-1, 1)]).filter(lambda axis: np.linalg.norm(axis) > 0.1)


@given(
    name=st.sampled_from(sorted(CAVITIES)), back=reflectance, walls=reflectance, axis=direction, m=st.floats(0.3, 30)
)
@settings(max_examples=40, deadline=None)
def test_light_is_neither_made_nor_lost(name, back, walls, axis, m):
    """Absorbed, transmitted and escaped flux is the emitted one, whatever the cavity, and no place is darker than none."""
    _, place = CAVITIES[name]
    nx, ny, nz = axis
    found = lit(name, emitter(*place, nx=nx, ny=ny, nz=nz, m=m), back=back, walls=walls)
    assert abs(found.output.balance_error) < 1e-3
    assert found.illuminance_lx.min() >= 0
    assert found.output.out_lm <= found.output.emitted_lm * 1.001
    if not CAVITIES[name][0].__struct_config__.tag.startswith("open"):
        assert found.output.direct_lm <= found.output.lid_lm * 1.001


@pytest.mark.parametrize("name", CAVITIES)
def test_the_exchange_is_reciprocal_and_closed(name):
    shape, place = CAVITIES[name]
    cavity = cavity_of(loose(shape, emitter(*place)), CATALOGUE)
    assert isinstance(cavity, Cavity)
    transport = transport_of(cavity, ("test", name), 0.4)
    exchange = transport.exchange.whole().astype(float)
    assert np.abs(exchange - exchange.T).max() <= 1e-5 * exchange.max()
    assert exchange.sum(axis=1) == pytest.approx(transport.coarse.areas_mm2, rel=2e-4)
    assert transport.gather.whole().sum(axis=1) == pytest.approx(1.0, rel=1e-4)


@pytest.mark.parametrize("name", ["box", "prism", "round frustum", "tube", "cup"])
def test_light_adds_up(name):
    """Two emitters give the sum of what each gives alone."""
    _, (x, y, z) = CAVITIES[name]
    one, other = emitter(x, y, z), emitter(x, y, z + 3.0, nx=0.5, m=3.0)
    alone = [lit(name, which).illuminance_lx.astype(float) for which in (one, other)]
    both = lit(name, one, other)
    if both.illuminance_lx.shape == alone[0].shape == alone[1].shape:
        assert both.illuminance_lx == pytest.approx(
            alone[0] + alone[1], rel=0.02, abs=float(both.illuminance_lx.max()) * 2e-3
        )
    lumens = [lit(name, which).output.lid_lm for which in (one, other)]
    assert both.output.lid_lm == pytest.approx(sum(lumens), rel=2e-3)


def test_white_walls_give_more_light_than_dark_ones():
    dark, white = lit("tube", walls=0.1, back=0.1), lit("tube", walls=0.95, back=0.95)
    assert white.output.out_lm > 1.05 * dark.output.out_lm


def test_a_washed_wall_sends_into_the_open_what_it_does_not_keep():
    white, grey = (lit("open wall", emitter(150, 100, 60, nz=-1.0), walls=rho) for rho in (0.8, 0.4))
    assert white.output.direct_lm == pytest.approx(grey.output.direct_lm)
    assert white.output.out_lm == pytest.approx(0.8 * white.output.direct_lm, rel=0.02)
    assert grey.output.out_lm == pytest.approx(0.4 * grey.output.direct_lm, rel=0.02)
    assert white.diffuser.name == "Matt wall"


def test_a_search_can_be_stopped():
    shape, place = CAVITIES["box"]
    build = loose(shape, emitter(*place))
    cavity = cavity_of(build, CATALOGUE)
    assert isinstance(cavity, Cavity)
    some = Emitters(np.array([place]), np.array([[0.0, 0.0, 1.0]]), np.ones(1), np.ones((1, 1)))
    with pytest.raises(Cancelled):
        light_cavity(transport_of(cavity, shape, 0.4), some, 0.4, pausing(lambda: True))


# -- very many -----------------------------------------------------------------------------------------------------------


def crowd(count: int, colours: int = 2) -> Emitters:
    random = np.random.default_rng(5)
    places = np.column_stack([random.uniform(1, 89, count), random.uniform(1, 59, count), np.full(count, 1.5)])
    flux = np.zeros((count, colours))
    flux[np.arange(count), random.integers(0, colours, count)] = random.uniform(0.5, 1.5, count)
    return Emitters(places, np.tile([0.0, 0.0, 1.0], (count, 1)), np.ones(count), flux)


def test_gathering_keeps_flux_middle_and_spread():
    many = crowd(4000)
    few = gathered(many, np.full(many.count, np.inf), 12.0)
    assert few.count < many.count / 8
    for column in range(2):
        weight, less = many.flux_lm[:, column], few.flux_lm[:, column]
        assert less.sum() == pytest.approx(weight.sum())
        middle = (many.places_mm * weight[:, None]).sum(axis=0) / weight.sum()
        assert (few.places_mm * less[:, None]).sum(axis=0) / less.sum() == pytest.approx(middle, abs=1e-6)
        spread = np.cov(many.places_mm.T, aweights=weight, ddof=0)
        assert np.cov(few.places_mm.T, aweights=less, ddof=0) == pytest.approx(spread, abs=1e-6 * spread.max())


def test_what_lies_near_or_differs_is_not_gathered():
    many = crowd(2000)
    assert gathered(many, np.full(many.count, 1.0), 12.0).count == many.count
    axes = np.random.default_rng(1).normal(size=(2000, 3))
    mixed = Emitters(
        many.places_mm, axes / np.linalg.norm(axes, axis=1, keepdims=True), many.power, many.flux_lm
    )  # every one its own way
    assert gathered(mixed, np.full(many.count, np.inf), 12.0) is mixed


def test_the_light_of_a_crowd_is_that_of_all_its_emitters():
    shape, _ = CAVITIES["box"]
    cavity = cavity_of(loose(shape, emitter(1, 1)), CATALOGUE)
    assert isinstance(cavity, Cavity)
    many = crowd(30_000)
    light = light_cavity(transport_of(cavity, ("crowd",), 0.4), many, 0.4)
    assert isinstance(light, CavityLight)
    assert light.sources.count < many.count / 4
    (tile,) = light.cavity.lids
    share = np.random.default_rng(3).uniform(0, 1, (2, 60))
    found, _ = light.direct(tile, *np.tile(share, (1, 40)))  # enough places to be worth the short way
    exact, _ = illuminance(tile.points(*share), tile.normals(*share), many)
    assert found[:60] == pytest.approx(exact, rel=3e-3)
    assert 0 < light.corrected < 0.02
    assert light.balance_error < 1e-3


def test_patches_take_of_a_crowd_what_they_take_one_by_one():
    shape, _ = CAVITIES["box"]
    cavity = cavity_of(loose(shape, emitter(1, 1)), CATALOGUE)
    assert isinstance(cavity, Cavity)
    transport = transport_of(cavity, ("patches",), 0.4)
    many = crowd(3000)
    nearest = float(clearance_to(cavity.lids, many).min())
    one_by_one, _ = flux_shares(transport.fine, many)
    together, missed = flux_of_crowd(transport.fine, many, many, nearest)
    areas = transport.fine.areas_mm2[:, None]
    assert (together * areas).sum(axis=0) == pytest.approx(many.flux_lm.sum(axis=0))
    difference = np.abs((together - one_by_one) * areas).sum() / many.flux_lm.sum()
    assert difference < 0.02
    assert missed < 0.02


# -- partitions ----------------------------------------------------------------------------------------------------------


def baffled(
    gap_above: float = 0.0, diffuser: str = "opal-acrylic-3", emitters=None, partition_mm: float = 1.0, **changes
) -> Evaluation:
    shape = BaffledShape(
        columns=3,
        rows=3,
        pitch_x_mm=20.0,
        pitch_y_mm=20.0,
        depth_mm=15.0,
        partition_mm=partition_mm,
        partition_height_mm=15.0 - gap_above,
    )
    emitters = emitters or (emitter(30.0, 30.0),)
    found = evaluate(loose_design(shape, *emitters, diffuser=diffuser, **changes), CATALOGUE, WHILE_DRAGGING)
    assert isinstance(found.light, CavityFaceLight)
    assert found.light.crosstalk is not None
    return found


def test_partitions_without_thickness_are_the_limit_of_thin_ones():
    none, thin, thick = (baffled(2.0, partition_mm=thickness).light for thickness in (0.0, 0.05, 1.0))
    assert none.output.balance_error < 1e-3  # as close as it is brought while a hand drags
    assert none.output.out_lm == pytest.approx(thin.output.out_lm, rel=2e-3)
    assert none.crosstalk.beside == pytest.approx(thin.crosstalk.beside, rel=1e-2)
    assert none.output.out_lm > thick.output.out_lm  # thick ones take light away


def test_crosstalk_grows_with_the_gap_and_falls_with_distance():
    closed, narrow, wide = (baffled(gap).light.crosstalk for gap in (0.0, 2.0, 6.0))
    assert closed.beside < narrow.beside < wide.beside
    assert wide.beside > wide.diagonal > 0
    assert (wide.column, wide.row) == (1, 1)
    assert wide.shares[1, 1] == pytest.approx(1.0)
    assert wide.shares == pytest.approx(wide.shares[::-1], rel=0.05)  # as the cell stands in the middle


def test_without_gaps_only_the_sheet_carries_light_across():
    found = baffled(0.0)
    assert found.illuminance_lx[0, 0] == pytest.approx(0.0, abs=1e-6)
    assert found.light.crosstalk.beside > 0  # opal acrylic spreads sideways by its thickness
    assert found.light.crosstalk.diagonal < found.light.crosstalk.beside


def test_cells_that_are_lit_alike_look_alike():
    all_cells = tuple(emitter(10.0 + 20 * i, 10.0 + 20 * j) for i in range(3) for j in range(3))
    found = baffled(0.0, emitters=all_cells)
    even = found.light.crosstalk.cell_evenness
    assert np.isfinite(even).all()
    assert even == pytest.approx(even[::-1, ::-1], rel=1e-3)
    assert even[1, 1] > even[0, 1] > even[0, 0]  # the rim lacks what neighbours lend through the sheet
    assert found.output.balance_error < 1e-3


def test_an_unlit_cell_has_no_evenness_of_its_own():
    found = baffled(0.0)
    even = found.light.crosstalk.cell_evenness
    assert np.isfinite(even[1, 1])
    assert np.isnan(even[0, 0])


def test_patches_that_are_kept_serve_a_cavity_of_other_pieces_alike() -> None:
    """A transport may have been dropped, for the memory that it takes, while its patches are still there."""
    forget_transports()
    shape = BoxShape(width_mm=80.0, height_mm=60.0, depth_mm=30.0)
    first, second = (surface_of(shape, Reflectances(0.9, 0.8, 0.4)) for _ in range(2))
    assert isinstance(first, Cavity)
    assert isinstance(second, Cavity)
    assert first.tiles[0] is not second.tiles[0]
    meshes_of(first, "box", 0.3)
    of_second = transport_of(second, "box", 0.3)
    forget_transports()
    alone = transport_of(second, "box", 0.3)
    assert of_second.gather.part == pytest.approx(alone.gather.part)
    assert of_second.exchange.part == pytest.approx(alone.exchange.part)


@pytest.mark.parametrize(("share", "is_carried"), [(1.05, True), (1.4, False)])
def test_while_a_hand_drags_interreflection_is_carried_over_from_a_cavity_nearly_alike(
    share: float, is_carried: bool
) -> None:
    forget_transports()
    depths = 40.0, 40.0 * share
    shapes = [FrustumShape(sides=4, back_mm=60.0, lid_mm=140.0, depth_mm=depth) for depth in depths]
    known, near = (cavity_of(loose(shape, emitter(0.0, 0.0, 2.0)), CATALOGUE) for shape in shapes)
    transport_near(known, shapes[0], 0.2)
    found = transport_near(near, shapes[1], 0.2)
    again = transport_of(near, shapes[1], 0.2)
    assert (found.gather is not again.gather) == is_carried
    assert found.coarse.areas_mm2.sum() == pytest.approx(again.coarse.areas_mm2.sum(), rel=1e-6)
    assert found.exchange.whole().sum(axis=1) == pytest.approx(found.coarse.areas_mm2, rel=1e-3)
    lamp = Emitters(np.array([[0.0, 0.0, 2.0]]), np.array([[0.0, 0.0, 1.0]]), np.ones(1), np.ones((1, 1)))
    flux = [light_cavity(one, lamp, 0.2).lid_flux_lm[0] for one in (found, again)]
    assert flux[0] == pytest.approx(flux[1], rel=0.01)
