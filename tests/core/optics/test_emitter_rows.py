"""Light of rows of emitters along a straight piece: what adding up emitter by emitter gives."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gauze.core.errors import Cancelled, pausing
from gauze.core.layout.families.tiles import FlatTile, RoundTile, Tile
from gauze.core.optics.cavity.distribution import table_of
from gauze.core.optics.cavity.emitter_rows import illuminance_of_rows
from gauze.core.optics.cavity.emitters import Emitters, illuminance, per_lumen
from gauze.core.optics.cavity.mirrored import illuminance_by_rows, illuminance_on
from gauze.core.optics.kernel.pairs import SheetWeights

DEPTH_MM, LENGTH_MM, WIDE_MM = 20.0, 300.0, 24.0
FLAT = FlatTile(
    "lid",
    "lid",
    np.array(
        [[0, 0, DEPTH_MM], [0, WIDE_MM, DEPTH_MM], [LENGTH_MM, WIDE_MM, DEPTH_MM], [LENGTH_MM, 0, DEPTH_MM]], float
    ),
)
ROUND = RoundTile(
    "lid", "lid", (0.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0), (DEPTH_MM, 0.0), (DEPTH_MM, LENGTH_MM), (0.2, math.pi - 0.2)
)  # fmt: skip
SHEET = SheetWeights(np.linspace(2.0, 0.1, 4097, dtype=np.float32), 0.0, 1.0)
EVER = math.inf  # as many pairs as make it worth while


def row(along: list[float], power: float = 1.0, across: float = 11.0, colours: int = 1, seed: int = 1) -> Emitters:
    """Emitters along x that face up, each of its own flux."""
    count = len(along)
    flux = np.random.default_rng(seed).uniform(0.2, 3.0, (count, colours))
    places = np.column_stack([along, np.full(count, across), np.zeros(count)])
    return Emitters(places, np.tile([0.0, 0.0, 1.0], (count, 1)), np.full(count, power), flux, size_mm=2.0)


def lines(tile: Tile, along: int = 220, across: int = 9) -> tuple[np.ndarray, np.ndarray, int]:
    """Pixels along the emitters, and across, and whether those along are s (0) or t (1)."""
    axis = 0 if isinstance(tile, RoundTile) else 1
    return (np.arange(along) + 0.5) / along, (np.arange(across) + 0.5) / across, axis


def places(tile: Tile, along: np.ndarray, across: np.ndarray, axis: int) -> tuple[np.ndarray, np.ndarray]:
    grids = np.meshgrid(along, across, indexing="ij")
    s, t = grids if axis == 0 else grids[::-1]
    return tile.points(s, t).reshape(-1, 3), tile.normals(s, t).reshape(-1, 3)


stands = st.lists(st.floats(-40.0, LENGTH_MM + 40.0), min_size=1, max_size=12)


@given(
    tile=st.sampled_from([FLAT, ROUND]),
    first=stands,
    second=stands,
    power=st.floats(0.4, 6.0),
    colours=st.integers(1, 3),
    steps=st.integers(40, 300),
)
@settings(max_examples=60, deadline=None)
def test_rows_give_what_their_emitters_give_one_by_one(tile, first, second, power, colours, steps):
    """Two rows, of other powers, at any places, also beyond the ends: as the kernel adds them up, with a sheet and without."""
    one, other = row(first, power, -3.0 if tile is ROUND else 6.0, colours), row(second, 1.0, 15.0, colours, 2)
    names = ("places_mm", "axes", "power", "flux_lm")
    both = Emitters(*(np.concatenate([getattr(one, name), getattr(other, name)]) for name in names), size_mm=2.0)
    along, across, axis = lines(tile, steps)
    found = illuminance_of_rows(tile, (along, across), axis, both, SHEET, EVER)
    assert found is not None
    wanted = illuminance(*places(tile, along, across, axis), both, SHEET)
    for light, expected in zip(found, wanted, strict=True):
        assert light is not None
        assert expected is not None
        assert light.reshape(expected.shape) == pytest.approx(expected, rel=5e-4, abs=1e-4 * expected.max())


def test_one_emitter_gives_the_law_of_distance():
    """(m + 1)/(2 pi) cos^m cos' / r^2, worked out place by place in double precision."""
    lamp = Emitters(np.array([[101.3, 11.0, 0.0]]), np.array([[0.0, 0.0, 1.0]]), np.array([2.5]), np.array([[7.0]]))
    along, across, axis = lines(FLAT)
    found = illuminance_of_rows(FLAT, (along, across), axis, lamp, None, EVER)
    assert found is not None
    assert found[1] is None
    way = places(FLAT, along, across, axis)[0] - lamp.places_mm[0]
    height = way[:, 2]
    law = 7.0 * per_lumen(height, height, (way**2).sum(axis=1), np.array([2.5]))
    assert found[0].ravel() == pytest.approx(law, rel=1e-3, abs=1e-4 * law.max())


def test_emitters_of_one_colour_are_added_up_once():
    """Columns that are multiples of each other come out as such."""
    lamps = row([20.0, 90.0, 170.0])
    mix = np.array([[1.0, 0.25, 2.0]])
    along, across, axis = lines(FLAT)
    alone = illuminance_of_rows(FLAT, (along, across), axis, lamps, None, EVER)
    mixed = Emitters(lamps.places_mm, lamps.axes, lamps.power, lamps.flux_lm @ mix, size_mm=2.0)
    coloured = illuminance_of_rows(FLAT, (along, across), axis, mixed, None, EVER)
    assert alone is not None
    assert coloured is not None
    assert coloured[0] == pytest.approx(alone[0] * mix, rel=1e-5, abs=1e-6 * float(alone[0].max()))


def tilted(axis: tuple[float, float, float]) -> Emitters:
    lamps = row([50.0, 60.0])
    return Emitters(lamps.places_mm, np.tile(axis, (2, 1)), lamps.power, lamps.flux_lm)


def measured() -> Emitters:
    lamps = row([50.0, 60.0])
    table = table_of(np.array([0.0, 90.0]), np.array([0.0]), np.array([[1.0, 0.0]]))
    return Emitters(lamps.places_mm, lamps.axes, lamps.power, lamps.flux_lm, np.zeros(2, int), (table,))


@pytest.mark.parametrize(
    ("lamps", "sheet"),
    [
        (tilted((0.6, 0.0, 0.8)), None),
        (measured(), None),
        (row([50.0, 60.0]), SheetWeights(SHEET.by_squared_sine, 0.2, 3.0)),
        (Emitters(np.array([[50.0, 12.0, 17.0]]), np.array([[0.0, 0.0, 1.0]]), np.ones(1), np.ones((1, 1)), size_mm=2.0), None),
    ],
    ids=["face along the piece", "a measured distribution", "seen through the sheet", "too near for their size"],
)  # fmt: skip
def test_what_is_no_row_is_left_to_the_other_ways(lamps, sheet):
    along, across, axis = lines(FLAT)
    assert illuminance_of_rows(FLAT, (along, across), axis, lamps, sheet, EVER) is None


def test_a_grid_that_is_uneven_or_a_piece_that_is_not_straight_is_left_to_the_other_ways():
    lamps, (along, across, axis) = row([50.0, 60.0]), lines(FLAT)
    assert illuminance_of_rows(FLAT, (along**1.1, across), axis, lamps, None, EVER) is None
    fan = FlatTile("lid", "lid", FLAT.corners + np.array([[0, 0, 0], [0, 0, 0], [40, 0, 0], [0, 0, 0]], float))
    assert illuminance_of_rows(fan, (along, across), axis, lamps, None, EVER) is None
    assert illuminance_of_rows(ROUND, (along, across), 1, lamps, None, EVER) is None  # around it
    assert illuminance_of_rows(FLAT, (along, across), axis, lamps, None, pairs=100.0) is None  # not worth it


@pytest.mark.parametrize("by_rows", [True, False], ids=["s first", "t first"])
@pytest.mark.parametrize("tile", [FLAT, ROUND], ids=["flat", "round"])
def test_places_of_a_chart_have_the_light_in_their_own_order(tile, by_rows):
    """Whichever way a chart goes through its pixels, of a row that is its own mirror image and of one that is not."""
    for along_mm in (np.arange(1.0, 300.0, 2.0), np.linspace(3.0, 251.0, 150)):
        lamps = row(along_mm.tolist(), across=12.0 if tile is FLAT else 0.0)
        even = Emitters(lamps.places_mm, lamps.axes, lamps.power, np.ones((len(along_mm), 1)), size_mm=2.0)
        along, across, axis = lines(tile, 900, 8)
        s, t = (across, along) if axis else (along, across)
        one, other = np.meshgrid(s, t, indexing="xy" if by_rows else "ij")
        found = illuminance_by_rows(tile, one.ravel(), other.ravel(), even, SHEET)
        assert found is not None
        expected = illuminance(
            tile.points(one, other).reshape(-1, 3), tile.normals(one, other).reshape(-1, 3), even, SHEET
        )
        drawn = illuminance_on(tile, one.ravel(), other.ravel(), even, SHEET)
        for light, wanted, again in zip(found, expected, drawn, strict=True):
            assert light == pytest.approx(wanted, rel=1e-3)
            assert again == pytest.approx(light)


def test_it_can_be_stopped():
    along, across, axis = lines(FLAT)
    with pytest.raises(Cancelled):
        illuminance_of_rows(FLAT, (along, across), axis, row([50.0]), None, EVER, pausing(lambda: True))
