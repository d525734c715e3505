"""Templates at true size: developments by closed form, pages that fit each other, sizes read back from files."""

import io
import math
import re
import zlib

import ezdxf
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.design.making import Paper
from gauze.core.drawing.templates import Template, mirrored, mitre_end, templates_of, unfolded
from gauze.core.errors import GauzeError
from gauze.core.families import lay_out, parts_of
from gauze.core.formats.template_file import encode_templates
from gauze.core.formats.template_pdf import OVERLAP_MM, PAPER_MM, page_name, spread_of
from tests.builders import CATALOGUE, design
from tests.families import FAMILIES, cells, family, frame, head, tiles

PAPERS: tuple[Paper, ...] = ("a4", "a3", "letter")


def templates(what: object, wall_mm: float | None = 12.0) -> tuple[Template, ...]:
    laid = lay_out(what, CATALOGUE)
    return templates_of(parts_of(what, laid, CATALOGUE), laid, wall_mm)


def area(points: np.ndarray) -> float:
    x, y = points.T
    return abs(float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)))) / 2.0


# -- developments: solid geometry, from a handbook's formulas --


@given(st.integers(3, 24), st.floats(10, 200), st.floats(1.01, 4.0), st.floats(5, 300))
def test_an_unfolded_funnel_has_the_lateral_area_of_the_frustum_of_a_pyramid(
    sides: int, low_mm: float, wider: float, slant_mm: float
) -> None:
    """Lateral area of a frustum of a regular pyramid: half the sum of both perimeters times the slant height."""
    high_mm = low_mm * wider
    facet = np.array([[-low_mm / 2, 0.0], [low_mm / 2, 0.0], [high_mm / 2, slant_mm], [-high_mm / 2, slant_mm]])
    outline, folds = unfolded(facet, sides)
    assert len(folds) == sides - 1
    assert area(outline) == pytest.approx(sides * (low_mm + high_mm) / 2.0 * slant_mm, rel=1e-9)
    legs = [np.hypot(*(fold[1] - fold[0])) for fold in folds]
    assert np.array(legs) == pytest.approx(math.hypot(slant_mm, (high_mm - low_mm) / 2.0))
    edges = np.hypot(*(np.diff(outline[: sides + 1], axis=0)).T)
    assert edges == pytest.approx(low_mm)
    # all corners lie on two circles about the apex, which is where the legs meet
    apex = slant_mm * low_mm / (high_mm - low_mm)
    radii = np.hypot(outline[:, 0], outline[:, 1] + apex)
    assert radii[: sides + 1] == pytest.approx(math.hypot(apex, low_mm / 2.0), rel=1e-6)


def test_a_straight_funnel_unfolds_to_a_rectangle() -> None:
    facet = np.array([[-5.0, 0.0], [5.0, 0.0], [5.0, 30.0], [-5.0, 30.0]])
    outline, _ = unfolded(facet, 6)
    assert np.ptp(outline, axis=0) == pytest.approx([60.0, 30.0])


def test_the_funnel_of_a_lamp_comes_in_one_piece_with_a_tab() -> None:
    found = next(one for one in templates(family(head(sides=6))) if one.view.key == "funnel")
    layers = {layer.key: layer.shapes for layer in found.view.layers}
    assert len(layers["fold"]) == 6  # five between six facets, and the tab's
    assert len(layers["cut"]) == 2


@pytest.mark.parametrize(("cut", "wide"), [(45.0, 20.0), (22.5, 18.0), (30.0, 9.0)])
def test_a_mitre_leans_by_its_angle(cut: float, wide: float) -> None:
    ring = mitre_end(cut, wide)
    lean = ring[0, 0] - ring[3, 0]
    assert math.degrees(math.atan2(lean, wide)) == pytest.approx(cut)


def test_a_frame_has_one_mitre_for_all_its_corners_and_it_is_told_both_ways() -> None:
    (mitre,) = [one for one in templates(family(frame(sides=4))) if one.view.key.startswith("mitre")]
    assert str(mitre.view.name) == "Mitre, 45° from square (45° on a saw that counts from the fence)"
    assert mitre.count >= 4


def test_walls_have_no_mitres_before_their_boards_are_chosen() -> None:
    hexagon = family(head(sides=6))
    assert not any(one.view.key.startswith("mitre") for one in templates(hexagon, None))


# -- parts --


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_every_flat_part_of_every_family_is_on_exactly_one_template(name: str) -> None:
    what = family(FAMILIES[name])
    laid = lay_out(what, CATALOGUE)
    parts = parts_of(what, laid, CATALOGUE)
    flat = sorted(name for part in parts.body if part.outline_mm is not None for name in part.ids())
    found = templates_of(parts, laid, 12.0)
    listed = sorted(name for one in found if not one.view.key.startswith(("mitre", "plan")) for name in one.ids)
    assert listed == flat
    for one in found:
        left, low, wide, high = one.view.reach_mm
        for shape in one.view.shapes():
            assert (shape.points_mm >= [left - 1e-6, low - 1e-6]).all()
            assert (shape.points_mm <= [left + wide + 1e-6, low + high + 1e-6]).all()


def test_a_back_shows_its_rows_with_their_cut_marks_and_the_hole() -> None:
    back = next(one for one in templates(design()) if str(one.view.name) == "Back")
    layers = {layer.key: layer.shapes for layer in back.view.layers}
    rows = lay_out(design(), CATALOGUE).strips
    assert len(layers["strip"]) == len(rows)
    for shape, row in zip(layers["strip"], rows, strict=True):
        assert len(shape.marks_mm) == row.segments - 1
        assert np.ptp(shape.points_mm, axis=0) == pytest.approx([row.length_mm, row.strip.width_mm])
    assert len(layers["hole"]) == 1


def test_partitions_have_their_slots() -> None:
    found = [one for one in templates(family(cells())) if "artition" in str(one.view.name)]
    assert found
    assert all(len(next(x for x in one.view.layers if x.key == "cut").shapes) > 1 for one in found)


def test_the_mirrored_one_is_the_same_from_behind() -> None:
    one = next(one for one in templates(family(tiles())) if "Base" in str(one.view.name))
    twice = mirrored(mirrored(one))
    for shape, other in zip(one.view.shapes(), twice.view.shapes(), strict=True):
        assert other.points_mm == pytest.approx(shape.points_mm)
    assert mirrored(one).view.reach_mm == one.view.reach_mm


# -- pages --


@given(st.floats(1, 3000), st.floats(1, 3000), st.sampled_from(PAPERS))
def test_pages_cover_a_template_and_no_more_than_needed(wide: float, high: float, paper: Paper) -> None:
    one = spread_of(wide, high, paper)
    (shows_x, shows_y), (step_x, step_y) = one.shows_mm, one.step_mm
    assert (one.columns - 1) * step_x + shows_x >= wide - 1e-6
    assert (one.rows - 1) * step_y + shows_y >= high - 1e-6
    assert sorted(one.page_mm) == sorted(PAPER_MM[paper])
    if one.columns > 1:
        assert (one.columns - 2) * step_x + shows_x < wide
    if one.rows > 1:
        assert (one.rows - 2) * step_y + shows_y < high
    assert shows_x - step_x == pytest.approx(OVERLAP_MM)


def test_pages_are_named_like_the_cells_of_a_table() -> None:
    assert [page_name(*one) for one in ((0, 0), (1, 2), (25, 0), (26, 0), (27, 4))] == ["A1", "B3", "Z1", "AA1", "AB5"]


def page_sizes(data: bytes) -> list[tuple[float, float]]:
    boxes = re.findall(rb"/MediaBox \[ 0 0 ([\d.]+) ([\d.]+) \]", data)
    return [(float(wide), float(high)) for wide, high in boxes]


@pytest.mark.parametrize("paper", PAPERS)
def test_pages_are_as_large_as_the_paper(paper: Paper) -> None:
    """A point is 1/72 inch (ISO 32000-1, 8.3.2.3)."""
    data = encode_templates("Test", templates(design()), ".pdf", paper)
    sizes = page_sizes(data)
    assert sizes
    for size in sizes:
        assert sorted(size) == pytest.approx(sorted(72.0 / 25.4 * mm for mm in PAPER_MM[paper]), abs=0.01)


def test_a_large_sheet_takes_many_pages_and_each_shows_something() -> None:
    found = templates(design())
    sheet = [one for one in found if str(one.view.name) == "Back"]
    whole = spread_of(*sheet[0].view.reach_mm[2:], "a4")
    assert 1 < len(page_sizes(encode_templates("Test", sheet, ".pdf", "a4"))) <= whole.columns * whole.rows


def streams(data: bytes) -> bytes:
    """What the pages draw."""
    import base64

    found = b""
    for raw in re.findall(rb"stream\r?\n(.*?)endstream", data, re.DOTALL):
        found += zlib.decompress(base64.a85decode(raw.strip().removesuffix(b"~>")))
    return found


def test_a_length_on_the_page_is_true() -> None:
    """The unit of the page is 1/72 inch, scaled to millimetres before anything is drawn."""
    one = [one for one in templates(family(tiles())) if "Base" in str(one.view.name)]
    drawn = streams(encode_templates("Test", one, ".pdf", "a3")).decode("latin-1")
    scales = [float(one) for one in re.findall(r"([\d.]+) 0 0 [\d.]+ 0 0 cm", drawn)]
    assert max(scales) == pytest.approx(72.0 / 25.4, abs=1e-5)
    moves = re.findall(r"n ([-\d.]+) ([-\d.]+) m ([-\d.]+) ([-\d.]+) l", drawn)
    sides = [math.hypot(float(c) - float(a), float(d) - float(b)) for a, b, c, d in moves]
    assert min(abs(side - 90.0) for side in sides) < 0.01  # the side of the tile


def test_every_length_of_the_dxf_is_right_to_a_hundredth() -> None:
    found = templates(family(tiles()))
    document = ezdxf.read(io.StringIO(encode_templates("Test", found, ".dxf", "a4").decode()))
    rings = [
        np.array(line.get_points("xy"))
        for line in document.modelspace().query("LWPOLYLINE")
        if line.closed and line.dxf.layer.endswith("-cut")
    ]
    wanted = [shape for one in found for layer in one.view.layers if layer.key == "cut" for shape in layer.shapes]
    assert len(rings) == sum(shape.closed for shape in wanted)
    for ring, shape in zip(rings, (one for one in wanted if one.closed), strict=True):
        own, other = (np.hypot(*(np.roll(points, -1, axis=0) - points).T) for points in (ring, shape.points_mm))
        assert own == pytest.approx(other, abs=0.01)


def test_what_cannot_be_written_is_told() -> None:
    with pytest.raises(GauzeError, match=r"\.pdf, \.dxf, \.svg"):
        encode_templates("Test", templates(design()), ".png", "a4")
    with pytest.raises(GauzeError, match="no flat parts"):
        encode_templates("Test", (), ".pdf", "a4")
