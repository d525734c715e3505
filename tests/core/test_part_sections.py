"""Where parts lie in the side cut: as the drawing of the cut shows them, and picked there."""

import numpy as np
import pytest

from gauze.core.design import Design
from gauze.core.drawing.part_sections import section_shapes
from gauze.core.drawing.part_shapes import plan_shapes
from gauze.core.evaluate import evaluate
from gauze.core.evaluate.building.workshop import workshop_of
from gauze.core.evaluate.evaluation import Detail
from gauze.core.evaluate.made import made_of
from gauze.core.families import lay_out, parts_of
from tests.builders import CATALOGUE, design
from tests.families import FAMILIES, bars, edge_lit, family, tube

QUICK = Detail(fineness=0.5, most_pixels=6_000, target_points=1)


def sections(what: Design) -> dict[str, np.ndarray]:
    layout = lay_out(what, CATALOGUE)
    parts = parts_of(what, layout, CATALOGUE)
    return section_shapes(parts, layout, plan_shapes(parts, layout))


@pytest.mark.parametrize("build", FAMILIES.values(), ids=FAMILIES.keys())
def test_the_cut_of_every_family_has_parts_where_it_is_drawn(build: object) -> None:
    """Sheet, tube or shell lies within what the cut reaches over, give or take the thickness of walls and sheet."""
    what = family(build)  # type: ignore[arg-type]  # a build of some family
    layout = lay_out(what, CATALOGUE)
    found = sections(what)
    assert found
    left, low, wide, high = layout.sketch.cut_mm
    spare = 0.1 * max(wide, high) + 5.0
    for name, ring in found.items():
        (x0, z0), (x1, z1) = ring.min(axis=0), ring.max(axis=0)
        assert x1 > x0, name
        assert z1 > z0, name
        assert left - spare <= x0 <= x1 <= left + wide + spare, name
        assert low - spare <= z0 <= z1 <= low + high + spare, name


def test_a_panel_shows_back_walls_sheet_and_rows_over_each_other() -> None:
    found = sections(design(depth_mm=60.0))
    back, sheet = found["back"], found["sheet-1"]
    assert back[:, 1].max() <= sheet[:, 1].min()
    assert {"wall-left", "wall-right"} <= found.keys()
    assert "wall-top" not in found  # it is behind the cut
    assert any(name.startswith("row") for name in found)


def test_rows_of_an_edge_lit_face_stand_on_edge() -> None:
    found = sections(family(edge_lit()))
    rows = [ring for name, ring in found.items() if name.startswith(("row", "edge", "strip")) or "top" in name]
    assert any(np.ptp(ring[:, 1]) > 3.0 * np.ptp(ring[:, 0]) for ring in rows)


@pytest.mark.parametrize("build", [tube(), bars()], ids=["tube", "bar"])
def test_what_is_long_is_cut_across(build: object) -> None:
    found = sections(family(build))  # type: ignore[arg-type]  # a build of some family
    assert all(np.ptp(ring[:, 0]) < 60.0 for ring in found.values())


def test_the_smallest_part_under_the_pointer_is_picked() -> None:
    what = design(depth_mm=60.0)
    shop = workshop_of(evaluate(what, CATALOGUE, QUICK), made_of(what, CATALOGUE, ()))
    ring = shop.sections["sheet-1"]
    x, z = ring.mean(axis=0).tolist()
    assert shop.part_in_cut(x, z) == "sheet-1"
    assert shop.part_in_cut(x, z + 500.0) is None
    row = next(name for name in shop.sections if name.startswith("row"))
    x, z = shop.sections[row].mean(axis=0).tolist()
    assert shop.part_in_cut(x, z) == row
