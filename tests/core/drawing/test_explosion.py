"""The build taken apart: every part once, level over level, none over another."""

import numpy as np
import pytest

from gauze.core.drawing.explosion import explosion
from gauze.core.drawing.part_shapes import highlighted, part_in_plan, plan_shapes
from gauze.core.families import lay_out, parts_of
from gauze.core.formats.drawing_style import fill_grey
from tests.builders import CATALOGUE, design
from tests.families import FAMILIES, family


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_every_family_is_taken_apart(name: str) -> None:
    what = family(FAMILIES[name])
    layout = lay_out(what, CATALOGUE)
    parts = parts_of(what, layout, CATALOGUE)
    view = explosion(parts, plan_shapes(parts, layout))
    assert view is not None
    exploded, names = view.layers
    boards = {one for part in parts.body if part.kind == "board" for one in part.ids()}
    assert len(exploded.shapes) == len(set(parts.ids()) - boards)
    assert {str(shape.words) for shape in names.shapes} >= {part.name for part in parts.body if part.kind != "board"}
    left, low, wide, high = view.reach_mm
    points = np.concatenate([shape.points_mm for shape in view.shapes()])
    assert (points >= [left, low]).all()
    assert (points <= [left + wide, low + high]).all()


def test_levels_lie_over_each_other_as_the_parts_do() -> None:
    what = design()
    layout = lay_out(what, CATALOGUE)
    parts = parts_of(what, layout, CATALOGUE)
    view = explosion(parts, plan_shapes(parts, layout))
    assert view is not None
    labels = [(shape.points_mm[0, 1], str(shape.words)) for shape in view.layers[1].shapes]
    assert [name for _, name in sorted(labels)] == ["Back", "Wall", "12 V white, 60/m", "Opal acrylic, 3 mm"]


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_parts_lie_within_the_drawing_of_the_plan(name: str) -> None:
    what = family(FAMILIES[name])
    layout = lay_out(what, CATALOGUE)
    parts = parts_of(what, layout, CATALOGUE)
    shapes = plan_shapes(parts, layout)
    assert set(shapes) == set(parts.ids())
    left, low, wide, high = layout.sketch.plan_mm
    slack = 0.3 * max(wide, high) + 10.0  # developments lie beside what they are rolled into
    for name_, ring in shapes.items():
        if name_ != "funnel" and not name_.startswith("facet-"):
            assert (ring >= [left - slack, low - slack]).all(), name_
            assert (ring <= [left + wide + slack, low + high + slack]).all(), name_


def test_what_a_step_is_about_is_filled_and_the_rest_is_thin() -> None:
    what = design()
    layout = lay_out(what, CATALOGUE)
    shapes = plan_shapes(parts_of(what, layout, CATALOGUE), layout)
    view = highlighted(layout, shapes, ("row-2", "no such part"))
    plan, now = view.layers
    assert len(now.shapes) == 1
    assert now.shapes[0].points_mm == pytest.approx(shapes["row-2"])
    assert fill_grey(now.shapes[0]) is not None
    assert all(fill_grey(shape) is None for shape in plan.shapes)
    assert all(shape.role == "mark" for shape in plan.shapes)


def test_a_wall_is_as_wide_as_it_is_thick_in_the_plan() -> None:
    what = design()
    walls = [one for one in parts_of(what, lay_out(what, CATALOGUE), CATALOGUE).body if one.use == "wall"]
    for wall in walls:
        assert min(np.ptp(part_in_plan(wall), axis=0)) == pytest.approx(4.0)  # no thickness is chosen
