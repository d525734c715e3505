"""Printed parts: watertight, as large as the closed form says, and the same when another library reads their files."""

import io
import math

import msgspec
import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st
from manifold3d import Manifold, Mesh64

from gauze.core.design import Design
from gauze.core.design.cavity import BaffledShape
from gauze.core.design.channel_bar import Bar
from gauze.core.design.making import Making, Printing, check_making
from gauze.core.design.tile_wall import Tile
from gauze.core.errors import DesignError
from gauze.core.families import lay_out, parts_of
from gauze.core.formats.solid_file import encode_3mf, encode_stl, solid_files
from gauze.core.making.solids import clips
from gauze.core.making.solids.dividing import PIN_DEEP_MM, PIN_MM, divided
from gauze.core.making.solids.extras import electronics_case, feet
from gauze.core.making.solids.grid import partition_grid
from gauze.core.making.solids.model import PLAY_MM, Printed, Solid, solid_of
from gauze.core.making.solids.printed import printed_parts
from gauze.core.making.solids.shapes import box
from tests.builders import CATALOGUE, design
from tests.families import FAMILIES, bars, cells, family, frame, tiles, tube

EVERYTHING = Printing(case_mm=(90.0, 60.0, 30.0), foot_deg=12.0)


def printed(what: Design, printing: Printing = Printing()) -> dict[str, Printed]:  # noqa: B008 - frozen
    laid = lay_out(what, CATALOGUE)
    return {one.key: one for one in printed_parts(what, laid, parts_of(what, laid, CATALOGUE), printing)}


def mesh(solid: Solid) -> trimesh.Trimesh:
    return trimesh.Trimesh(solid.points_mm, solid.triangles, process=False)


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_everything_that_is_printed_is_watertight_and_fits_the_bed(name: str) -> None:
    for printing in (EVERYTHING, msgspec.structs.replace(EVERYTHING, bed_x_mm=60.0, bed_y_mm=60.0)):
        for one in printed(family(FAMILIES[name]), printing).values():
            for piece in one.pieces:
                found = mesh(piece)
                assert found.is_watertight, one.key
                assert found.is_winding_consistent, one.key
                assert found.volume == pytest.approx(piece.volume_mm3, rel=1e-9)
                assert piece.volume_mm3 > 0
                assert piece.points_mm[:, 2].min() == pytest.approx(0.0)
                if one.key.startswith(("partition", "base", "lid", "case")):
                    assert piece.size_mm[0] <= printing.bed_x_mm + 1e-6
                    assert piece.size_mm[1] <= printing.bed_y_mm + 1e-6


@given(
    st.integers(1, 8),
    st.integers(2, 8),
    st.floats(8, 30),
    st.floats(8, 30),
    st.floats(0.4, 2.0),
    st.floats(3, 20),
)
def test_the_grid_has_the_volume_of_its_walls(
    columns: int, rows: int, pitch_x: float, pitch_y: float, wall: float, tall: float
) -> None:
    """All of the rectangle less its cells: those inside are the pitch less a wall, those along the rim lose the rim as well."""
    shape = BaffledShape(
        columns=columns,
        rows=rows,
        pitch_x_mm=pitch_x,
        pitch_y_mm=pitch_y,
        depth_mm=tall + 5.0,
        partition_mm=wall,
        partition_height_mm=tall,
    )
    grid = partition_grid(shape, Printing(bed_x_mm=2000.0, bed_y_mm=2000.0))
    assert grid is not None
    rim = PLAY_MM + max(wall / 2.0, 0.4)

    def spans(count: int, pitch: float) -> float:
        """Widths of all cells along a side."""
        return count * pitch - (count - 1) * wall - 2.0 * rim

    whole = (columns * pitch_x - 2 * PLAY_MM) * (rows * pitch_y - 2 * PLAY_MM)
    assert grid.volume_mm3 == pytest.approx(tall * (whole - spans(columns, pitch_x) * spans(rows, pitch_y)), rel=1e-6)


@given(st.integers(1, 6), st.integers(1, 6), st.floats(8, 30), st.floats(0.4, 2.0))
def test_a_grid_without_a_rim_is_its_crossing_walls(columns: int, rows: int, pitch: float, wall: float) -> None:
    """Where nothing crosses nothing holds it together: the partitions are cut from sheets then."""
    shape = BaffledShape(
        columns=columns,
        rows=rows,
        pitch_x_mm=pitch,
        pitch_y_mm=pitch,
        depth_mm=15.0,
        partition_mm=wall,
        partition_height_mm=10.0,
        rim_partition=False,
    )
    grid = partition_grid(shape, Printing(bed_x_mm=2000.0, bed_y_mm=2000.0))
    if min(columns, rows) == 1:
        assert grid is None
        return
    assert grid is not None
    wide, high = (count * pitch - 2 * PLAY_MM for count in (columns, rows))
    plan_mm2 = (columns - 1) * wall * high + (rows - 1) * wall * wide - (columns - 1) * (rows - 1) * wall**2
    assert grid.volume_mm3 == pytest.approx(10.0 * plan_mm2, rel=1e-6)


def test_a_grid_over_a_gap_stands_on_feet() -> None:
    grid = printed(family(cells()))["partition-grid"].pieces[0]
    build = cells()
    assert build.baffle is not None
    assert grid.size_mm[2] == pytest.approx(build.baffle.height_mm + build.baffle.gap_below_mm)
    heights = np.unique(np.round(grid.points_mm[:, 2], 6))
    assert heights[0] == 0.0
    assert build.baffle.gap_below_mm in heights


def test_too_thin_partitions_are_not_printed() -> None:
    build = cells()
    assert build.baffle is not None
    thin = msgspec.structs.replace(build, baffle=msgspec.structs.replace(build.baffle, wall_mm=0.3))
    assert printed(family(thin)) == {}


def test_a_tile_is_a_tray_with_its_windows() -> None:
    """A single hexagon: base and walls as prisms, less the hole for the lead. Walls this thin take no clip."""
    build = tiles(Tile(sides=6, x_mm=0.0, y_mm=0.0), wall_mm=1.0)
    base = printed(family(build))["base-hexagon-a"]
    assert "lid-hexagon" not in printed(family(build))

    def hexagon(side: float) -> float:
        return 1.5 * math.sqrt(3.0) * side**2

    inner = build.side_mm - 2.0 * build.wall_mm / math.sqrt(3.0)
    floor = Printing().wall_mm
    solid = hexagon(build.side_mm) * (floor + build.depth_mm) - hexagon(inner) * build.depth_mm
    hole = base.count and math.pi * 4.0**2 * floor
    assert base.volume_mm3 == pytest.approx(solid - hole, rel=1e-3)


def test_every_tile_gets_the_windows_of_its_own_links() -> None:
    step = 90.0 * math.sqrt(3.0)
    build = tiles(*(Tile(sides=6, x_mm=0.0, y_mm=step * index) for index in range(4)))
    bases = [one for key, one in printed(family(build)).items() if key.startswith("base")]
    assert sum(one.count for one in bases) == 4
    assert printed(family(build))["lid-hexagon"].count == 4
    euler = {one.key: mesh(one.pieces[0]).euler_number for one in bases}
    # a tray is a ball, chi 2; every window or hole through it makes a handle, which takes 2
    holes = sorted((2 - chi) // 2 for chi in euler.values())
    assert holes[0] == 1  # the last of the chain has one window
    assert max(holes) == 2


def test_the_clip_bends_the_plastic_less_than_it_bears_and_holds() -> None:
    """Cantilever of even thickness: strain 1.5 t y / L² at its root."""
    assert clips.snap_strain() == pytest.approx(1.5 * 1.2 * 0.4 / 6.5**2)
    assert clips.snap_strain() <= clips.MOST_STRAIN
    build = tiles(Tile(sides=4, x_mm=0.0, y_mm=0.0))
    found = printed(family(build))
    base, lid = (mesh(found[key].pieces[0]) for key in ("base-square-a", "lid-square"))
    # turned over and put on, the lid touches nothing: its beads lie in the grooves
    over = lid.copy()
    over.apply_transform(np.diag([1.0, -1.0, -1.0, 1.0]))
    over.apply_translation([0.0, 0.0, base.bounds[1, 2] - over.bounds[1, 2] + Printing().wall_mm])
    assert volume_in_common(base, over) == pytest.approx(0.0, abs=1e-6)
    lifted = over.copy()
    lifted.apply_translation([0.0, 0.0, 1.0])
    assert volume_in_common(base, lifted) > 1.0  # and it cannot be lifted off without bending


def volume_in_common(one: trimesh.Trimesh, other: trimesh.Trimesh) -> float:
    a, b = (
        Manifold(Mesh64(np.asarray(body.vertices, float), np.asarray(body.faces, np.uint64))) for body in (one, other)
    )
    return float((a ^ b).volume())


def test_a_tube_has_a_cap_with_a_hole_and_one_without() -> None:
    build = tube(diameter_mm=40.0)
    found = printed(family(build))
    plain, pierced = found["cap"], found["cap-hole"]
    hole = math.pi * (8.0 / 2.0) ** 2 * Printing().wall_mm
    assert plain.volume_mm3 - pierced.volume_mm3 == pytest.approx(hole, rel=2e-3)
    flange = math.pi * 21.6**2 * 1.6
    plug = math.pi * (19.8**2 - 18.2**2) * 8.0
    assert plain.volume_mm3 == pytest.approx(flange + plug, rel=2e-3)


def test_bars_have_two_caps_each_and_frames_a_corner_at_every_mitre() -> None:
    found = printed(family(bars(bars=(Bar(length_mm=150.0, gap_after_mm=20.0), Bar(length_mm=100.0)))))
    assert found["cap"].count + found["cap-hole"].count == 4
    corners = printed(family(frame(sides=4)))
    assert {key: one.count for key, one in corners.items()} == {"corner-90": 4}
    wide = 15.0 - 2.0 * PLAY_MM
    tall = corners["corner-90"].pieces[0].size_mm[2]
    heel = 0.75 * math.pi * wide**2 / 4.0
    area = corners["corner-90"].volume_mm3 / tall
    square = 2.0 * 25.0 * wide - wide**2 / 4.0  # two legs, which share a quarter of the square in the corner
    assert square < area < square + heel


def test_a_case_holds_what_is_told_and_has_a_lid() -> None:
    box_, lid = electronics_case(EVERYTHING)
    assert box_.pieces[0].size_mm == pytest.approx((93.2, 63.2, 31.6))
    assert lid.pieces[0].size_mm[:2] == pytest.approx((93.2, 63.2))
    assert electronics_case(Printing()) == ()
    assert "mains" in str(box_.notes[1])


def test_feet_take_the_build_between_them() -> None:
    assert feet(Printing(), 20.0, 300.0) is None
    short, tall = (feet(EVERYTHING, 20.0, high) for high in (100.0, 900.0))
    assert short is not None
    assert tall is not None
    assert tall.pieces[0].size_mm[0] > short.pieces[0].size_mm[0]
    # it reaches further back than the middle of what stands on it
    assert tall.pieces[0].points_mm[:, 0].min() < -450.0 * math.sin(math.radians(12.0))


@given(st.floats(70, 400), st.floats(70, 400), st.floats(6, 30))
def test_a_block_is_divided_without_losing_anything_but_the_pins(wide: float, high: float, tall: float) -> None:
    pieces, pins = divided(box((0.0, 0.0, 0.0), (wide, high, tall)), (150.0, 150.0))
    assert len(pieces) == math.ceil(wide / 150.0 - 1e-9) * math.ceil(high / 150.0 - 1e-9)
    assert (pins > 0) == (len(pieces) > 1)
    bored = wide * high * tall - sum(piece.volume_mm3 for piece in pieces)
    each = math.pi * PIN_MM**2 / 4.0 * 2.0 * PIN_DEEP_MM
    assert bored <= pins * each * 1.001 + 1e-6 * wide * high * tall
    assert (bored > 0.9 * each) == (pins > 0)


def test_thin_walls_get_no_pins() -> None:
    pieces, pins = divided(box((0.0, 0.0, 0.0), (300.0, 100.0, 2.0)), (150.0, 150.0))
    assert (len(pieces), pins) == (2, 0)


# -- files --


def cube() -> Solid:
    return solid_of(box((0.0, 0.0, 0.0), (10.0, 20.0, 30.0)))


def test_stl_is_read_back() -> None:
    data = encode_stl(cube())
    assert len(data) == 84 + 50 * 12
    found = trimesh.load(io.BytesIO(data), file_type="stl")
    assert found.is_watertight
    assert found.volume == pytest.approx(6000.0, rel=1e-6)
    assert found.extents == pytest.approx([10.0, 20.0, 30.0])


def test_3mf_is_read_back_with_every_part_as_often_as_it_is_needed() -> None:
    one = Printed("a", "Block", (cube(),), count=3)
    other = Printed("b", "Rod & <lid>", (cube(), cube()))
    found = trimesh.load(io.BytesIO(encode_3mf("A <b>name</b> & \x00\x07", [one, other])), file_type="3mf")
    bodies = found.dump()
    assert len(bodies) == 5
    assert all(body.is_watertight for body in bodies)
    assert sum(body.volume for body in bodies) == pytest.approx(5 * 6000.0, rel=1e-6)
    lefts = sorted(body.bounds[0, 0] for body in bodies)
    assert np.diff(lefts) == pytest.approx([15.0] * 4)  # side by side, not in each other


def test_files_are_named_by_part_and_the_same_each_time() -> None:
    what = family(tube())
    laid = lay_out(what, CATALOGUE)
    found = printed_parts(what, laid, parts_of(what, laid, CATALOGUE), Printing())
    files = solid_files("Test", found)
    assert sorted(files) == ["printed-cap-hole.stl", "printed-cap.stl", "printed.3mf"]
    assert files == solid_files("Test", found)
    assert solid_files("Test", ()) == {}


def test_a_panel_has_nothing_to_print_but_what_is_asked_for() -> None:
    assert printed(design()) == {}
    assert sorted(printed(design(), EVERYTHING)) == ["case", "case-lid", "foot"]


@pytest.mark.parametrize(
    ("printing", "field"),
    [
        (Printing(bed_x_mm=1.0), "making.printing.bed_x_mm"),
        (Printing(wall_mm=0.0), "making.printing.wall_mm"),
        (Printing(foot_deg=89.0), "making.printing.foot_deg"),
        (Printing(bed_y_mm=float("nan")), "making.printing.bed_y_mm"),
    ],
)
def test_beds_and_walls_that_cannot_be_are_refused(printing: Printing, field: str) -> None:
    with pytest.raises(DesignError) as caught:
        check_making(Making(printing=printing))
    assert caught.value.field == field
