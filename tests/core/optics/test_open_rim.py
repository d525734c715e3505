"""Partitions with none along the rim: cells there reach to the wall, and light is that of boxes which are computed otherwise."""

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from gauze.core.design.cavity import BoxShape
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import Cavity, Reflectances
from gauze.core.layout.model import FloatArray
from gauze.core.layout.shapes import surface_of
from gauze.core.optics.cavity.baffled import BaffledLight, light_baffled
from gauze.core.optics.cavity.cell_knots import LidKnots
from gauze.core.optics.cavity.cell_mesh import CellMesh, cell_mesh, diagonal_images, mirror_images, rims_of
from gauze.core.optics.cavity.emitters import Emitters
from gauze.core.optics.cavity.light import light_cavity
from gauze.core.optics.cavity.transport import transport_of

INSIDE = Reflectances(0.8, 0.8, 0.4)
DETAIL = (5, 6, 5, 4, 2)


def emitters(*places: tuple[float, float, float], flux_lm: float = 1.0) -> Emitters:
    count = len(places)
    return Emitters(
        np.array(places),
        np.tile([0.0, 0.0, 1.0], (count, 1)),
        np.ones(count),
        np.full((count, 1), flux_lm),
        size_mm=0.0,
    )


def seen(light: BaffledLight, pixels: int) -> FloatArray:
    """Illuminance of all cells, (rows up, columns to the right)."""
    each = (light.direct(pixels)[0] + light.bounced(pixels)).sum(axis=-1)
    columns, rows = each.shape[:2]
    return each.transpose(1, 2, 0, 3).reshape(rows * pixels, columns * pixels)


def plain_box(
    width_mm: float, height_mm: float, depth_mm: float, lit: Emitters, x: FloatArray, y: FloatArray
) -> FloatArray:
    """The same of a box without partitions, at places of its lid, by the solver for such."""
    shape = BoxShape(width_mm=width_mm, height_mm=height_mm, depth_mm=depth_mm)
    cavity = surface_of(shape, INSIDE)
    assert isinstance(cavity, Cavity)
    light = light_cavity(transport_of(cavity, shape, 1.0), lit)
    (tile,) = cavity.lids
    u, v = (grid.ravel() for grid in np.meshgrid(x, y))
    s, t = tile.locate(u, v)
    return np.asarray((light.direct(tile, s, t)[0] + light.bounced(0, s, t)).sum(axis=1).reshape(len(y), len(x)))


@pytest.mark.parametrize(("thick_mm", "low_mm", "high_mm"), [(1.0, 0.0, 20.0), (1.0, 3.0, 17.0), (4.0, 0.0, 12.0)])
def test_a_single_cell_is_a_plain_box(thick_mm: float, low_mm: float, high_mm: float) -> None:
    """No partition is left of a grid of one cell, whatever its partitions would be."""
    middles = (np.arange(24) + 0.5) / 24 * 25.0
    lit = emitters((9.0, 12.5, 1.0))
    box = BaffledBox(1, 1, 25.0, 25.0, 20.0, thick_mm, low_mm, high_mm, INSIDE, open_rim=True)
    ours, plain = seen(light_baffled(box, lit), 24), plain_box(25.0, 25.0, 20.0, lit, middles, middles)
    assert np.sqrt(np.mean((ours / plain - 1.0) ** 2)) < 0.003
    assert np.abs(ours / plain - 1.0).max() < 0.012


def test_cells_closed_from_each_other_are_boxes_up_to_the_partition() -> None:
    """Of two cells each reaches from its wall to the face of the partition; a frame would leave it narrower by half of that."""
    lit = emitters((9.0, 12.5, 1.0))
    box = BaffledBox(2, 1, 25.0, 25.0, 20.0, 2.0, 0.0, 20.0, INSIDE, open_rim=True)
    light = light_baffled(box, lit)
    middles = (np.arange(50) + 0.5) / 2
    plain = plain_box(24.0, 25.0, 20.0, lit, middles[:48], middles)
    ours = seen(light, 50)
    assert np.sqrt(np.mean((ours[:, :48] / plain - 1.0) ** 2)) < 0.003
    assert ours[:, 48:].max() == 0.0
    assert light.lid_flux_lm[0] == pytest.approx(plain.mean() * 24.0 * 25.0, rel=2e-3)


def test_partitions_of_next_to_no_thickness_leave_the_rim_as_it_is() -> None:
    """The thinner they are the less it matters whether half of one runs along the rim."""
    lit = emitters((9.0, 12.5, 1.0), (60.0, 30.0, 1.0))
    away = []
    for thick_mm in (0.1, 2.0):
        bare, framed = (
            seen(
                light_baffled(BaffledBox(3, 2, 25.0, 25.0, 20.0, thick_mm, 2.0, 16.0, INSIDE, open_rim=open_rim), lit),
                12,
            )
            for open_rim in (True, False)
        )
        away.append(float(np.sqrt(np.mean((bare - framed) ** 2)) / framed.mean()))
    assert away[0] < 0.01 < away[1]


@given(
    columns=st.integers(1, 4),
    rows=st.integers(1, 4),
    low_mm=st.sampled_from([0.0, 3.0]),
    high_mm=st.sampled_from([12.0, 20.0]),
    thick_mm=st.floats(0.4, 8.0),
    open_rim=st.booleans(),
)
@settings(max_examples=60, deadline=None)
def test_the_patches_of_all_cells_close_the_box(columns, rows, low_mm, high_mm, thick_mm, open_rim) -> None:
    """Their areas are those of back, lid, walls and partitions, and they face each other as those of closed surfaces do."""
    box = BaffledBox(columns, rows, 24.0, 20.0, 20.0, thick_mm, low_mm, high_mm, INSIDE, open_rim=open_rim)
    cell = cell_mesh(box, DETAIL)
    there = cell.there.T[rims_of(columns, rows)]
    mesh = cell.mesh
    areas = there * mesh.areas_mm2
    assert np.abs((areas[..., None] * mesh.normals).sum(axis=2).sum(axis=(0, 1))).max() < 1e-6 * areas.sum()
    across = np.array([24.0 * columns, 20.0 * rows])
    left_out = 0 if not open_rim else 2
    lengths = (columns + 1 - left_out) * across[1] + (rows + 1 - left_out) * across[0]
    bars = thick_mm * lengths - thick_mm**2 * (columns + 1 - left_out) * (rows + 1 - left_out)
    if not open_rim:  # of those at the rim only half is inside
        bars = across.prod() - columns * rows * (24.0 - thick_mm) * (20.0 - thick_mm)
    gaps = (low_mm > 0) + (high_mm < 20.0)
    assert _of_role(cell, areas, "back") == pytest.approx(across.prod() - (0 if low_mm > 0 else bars))
    assert _of_role(cell, areas, "lid") == pytest.approx(across.prod() - (0 if high_mm < 20.0 else bars))
    level = np.abs(mesh.normals[:, 2]) > 0.5
    wall = np.array([role == "wall" for role in cell.roles])
    assert (areas * (wall & level)).sum() == pytest.approx(gaps * bars)
    around = 2 * across.sum() * (20.0 - (high_mm - low_mm))  # the wall above and below the partitions
    tall = high_mm - low_mm
    if open_rim:
        joints = 2 * ((columns - 1) + (rows - 1))  # where partitions end at the wall
        crossings = (columns - 1) * (rows - 1)
        sides = 2 * (lengths - 2 * thick_mm * crossings) + 2 * across.sum() - thick_mm * joints
        assert (areas * (wall & ~level)).sum() == pytest.approx(around + tall * sides)
    else:
        sides = 2 * columns * rows * (24.0 - thick_mm + 20.0 - thick_mm)
        assert (areas * (wall & ~level)).sum() == pytest.approx(around + tall * sides)


def _of_role(cell: CellMesh, areas: FloatArray, role: str) -> float:
    return float((areas * np.array([one == role for one in cell.roles])).sum())


@given(
    x=st.floats(1.5, 58.5),
    y=st.floats(1.5, 46.5),
    low_mm=st.sampled_from([0.0, 2.0]),
    high_mm=st.sampled_from([14.0, 18.0]),
)
@settings(max_examples=25, deadline=None)
def test_no_light_is_made_or_lost_wherever_an_emitter_stands(x, y, low_mm, high_mm) -> None:
    """At the bare wall, over a partition, in a corner."""
    box = BaffledBox(3, 2, 20.0, 24.0, 18.0, 3.0, low_mm, high_mm, INSIDE, open_rim=True)
    lamp = np.array([[x, y, 1.0]])
    if float(box.clearance_mm(lamp)[0]) < 0.2:
        return
    light = light_baffled(box, emitters((x, y, 1.0)), 0.4)
    assert abs(light.balance_error) < 1e-2
    assert light.corrected < 0.12
    assert min(light.direct(6)[0].min(), light.bounced(6).min()) >= 0
    on_map = float(seen(light, 24).mean()) * box.width_mm * box.height_mm
    assert on_map == pytest.approx(float(light.lid_flux_lm[0]), rel=0.03)


def test_a_grid_and_its_mirror_image_are_lit_alike() -> None:
    box = BaffledBox(3, 2, 20.0, 24.0, 18.0, 3.0, 2.0, 14.0, INSIDE, open_rim=True)
    one = seen(light_baffled(box, emitters((0.8, 11.0, 1.0), (33.0, 40.0, 1.0)), 0.4), 12)
    other = seen(light_baffled(box, emitters((59.2, 11.0, 1.0), (27.0, 40.0, 1.0)), 0.4), 12)
    assert one == pytest.approx(other[:, ::-1], rel=1e-3, abs=1e-5 * one.max())


@given(
    pitch_x=st.floats(3.0, 120.0),
    pitch_y=st.one_of(st.none(), st.floats(3.0, 120.0)),
    depth_mm=st.floats(2.0, 100.0),
    thick=st.floats(0.0, 0.45),
    low=st.sampled_from([0.0, 0.11]),
    high=st.floats(0.5, 1.0),
    open_rim=st.booleans(),
)
@example(
    10.0, 10.0, 15.8, 0.08, 1.8 / 15.8, 15.371500000000001 / 15.8, False
)  # z of some patches ends in a 5: images were mixed up
@settings(max_examples=150, deadline=None)
def test_every_patch_and_knot_is_the_image_of_one_whatever_the_sizes(
    pitch_x, pitch_y, depth_mm, thick, low, high, open_rim
):
    pitch_y_mm = pitch_y or pitch_x
    thick_mm = max(thick * min(pitch_x, pitch_y_mm), 0.005)
    sizes = (pitch_x, pitch_y_mm, depth_mm, thick_mm, low * depth_mm, high * depth_mm)
    box = BaffledBox(3, 3, *sizes, INSIDE, open_rim=open_rim)
    cell, knots = cell_mesh(box, DETAIL), LidKnots.of(box, 8)
    down = np.tile([0.0, 0.0, -1.0], (len(knots.places), 1))
    for places, normals, opened in (
        (cell.mesh.centres, cell.mesh.normals, cell.opened),
        (knots.places, down, knots.variants.opened),
    ):
        for axis, image in enumerate(mirror_images(box, places, normals, opened)):
            flipped = places[image].copy()
            flipped[:, axis] = (pitch_x, pitch_y_mm)[axis] - flipped[:, axis]
            assert np.abs(flipped - places).max() < 1e-6
            assert np.sort(image).tolist() == list(range(len(places)))
        diagonal = diagonal_images(box, places, normals, opened)
        assert (diagonal is not None) == (pitch_y is None or pitch_y == pitch_x)
        if diagonal is not None:
            assert np.abs(places[diagonal][:, [1, 0, 2]] - places).max() < 1e-6
