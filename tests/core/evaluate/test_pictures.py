"""Pictures of a drag: between two that are lit they look as the design itself does, and cost little."""

from collections.abc import Callable, Iterator
from dataclasses import replace

import msgspec
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.design import Design
from gauze.core.design.cavity import BoxShape
from gauze.core.design.wiring import Wiring
from gauze.core.evaluate import WHILE_DRAGGING, Evaluation, evaluate, pictures, stages
from gauze.core.evaluate.light.gliding import forget_gliding
from gauze.core.evaluate.light.sizes import sizes_in, with_sizes, without_sizes
from gauze.core.evaluate.pictures import (
    forget_pictures,
    is_fed_as,
    picture_in,
    takes_picture,
    with_picture,
)
from gauze.core.evaluate.stages import forget_lights
from gauze.core.families import lay_out
from gauze.core.layout import Layout
from tests.builders import CATALOGUE, emitter, loose_design
from tests.families import FAMILIES, bars, cells, family, frame, head, shells, tiles, tube

STEPS = 16


@pytest.fixture(autouse=True)
def _nothing_known() -> Iterator[None]:
    forget_lights()
    yield
    forget_lights()


class Lit:
    """Counts what is really lit."""

    def __init__(self, monkeypatch: pytest.MonkeyPatch) -> None:
        self.count, self._lit = 0, stages._lit
        monkeypatch.setattr(stages, "_lit", self)

    def __call__(self, *asked: object) -> pictures.Lit:
        self.count += 1
        return self._lit(*asked)  # type: ignore[arg-type]  # passed on as they come


def dragged(what: Design, field: str, share: float, steps: int = STEPS) -> list[Design]:
    """Steps of a drag of one size, by some share in all."""
    start = getattr(what.build, field)
    return [
        msgspec.structs.replace(
            what, build=msgspec.structs.replace(what.build, **{field: start * (1.0 + share * n / steps)})
        )
        for n in range(steps + 1)
    ]


def seen(steps: list[Design], figures: Evaluation) -> list[Evaluation]:
    return [evaluate(one, CATALOGUE, WHILE_DRAGGING, figures=figures) for one in steps]


def by_itself(design: Design, figures: Evaluation) -> Evaluation:
    """The picture of a design of which nothing like it is known."""
    forget_pictures()
    forget_gliding()
    return evaluate(design, CATALOGUE, WHILE_DRAGGING, figures=figures)


DRAGS = {
    "a tube's diameter": (tube(), "diameter_mm", 0.08),
    "the depth of bars": (bars(), "depth_mm", 0.08),
    "the depth of a frame": (frame(), "depth_mm", -0.08),
    "the depth of tiles": (tiles(), "depth_mm", 0.08),
    "the depth of a funnel": (head(), "depth_mm", 0.08),
    "the diameter of shells": (shells(), "diameter_mm", 0.06),
    "the depth of cells": (cells(depth_mm=16.0), "depth_mm", 0.08),
}


@pytest.mark.parametrize("name", DRAGS)
def test_most_pictures_of_a_drag_are_mixed_and_look_like_the_design_itself(
    name: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    build, field, share = DRAGS[name]
    steps = dragged(family(build), field, share)
    figures = evaluate(steps[0], CATALOGUE, WHILE_DRAGGING)
    lit = Lit(monkeypatch)
    found = seen(steps, figures)
    assert lit.count <= 6
    for number in (3, STEPS // 2, STEPS - 2):
        alone, ours = by_itself(steps[number], figures), found[number]
        assert ours.design == steps[number]
        assert ours.evenness.mean_cd_m2 == pytest.approx(alone.evenness.mean_cd_m2, rel=0.03)
        assert ours.light.size_mm == pytest.approx(alone.light.size_mm, rel=0.01)
        mine = pictures._on_grid(ours.xyz[1], alone.inside.shape)
        there = alone.inside & pictures._on_grid(ours.inside, alone.inside.shape)
        off = (mine - alone.xyz[1])[there] / alone.xyz[1][there].mean()
        assert np.sqrt((off**2).mean()) < 0.06  # rims that lie on other pixels included
        assert pictures._unlike(ours.light, alone.light) < 0.04


def test_a_slow_hand_gets_nearer_ones_than_a_fast_one(monkeypatch: pytest.MonkeyPatch) -> None:
    figures = evaluate(family(tube()), CATALOGUE, WHILE_DRAGGING)
    mixed, apart = pictures._mixed, list[float]()

    def noted(one: pictures._Seen, other: pictures._Seen, share: float, layout: Layout) -> pictures.Lit:
        apart.append(one.apart(other.sizes))
        return mixed(one, other, share, layout)

    monkeypatch.setattr(pictures, "_mixed", noted)
    farthest = {}
    for share in (0.08, 0.30):
        forget_pictures()
        apart.clear()
        seen(dragged(family(tube()), "diameter_mm", share), figures)
        farthest[share] = max(apart)
    assert farthest[0.08] <= 1.001
    assert 1.2 < farthest[0.30] <= pictures._FASTEST + 0.001


def test_what_jumps_is_lit_by_itself(monkeypatch: pytest.MonkeyPatch) -> None:
    figures = evaluate(family(tube()), CATALOGUE, WHILE_DRAGGING)
    lit = Lit(monkeypatch)
    steps = [
        family(msgspec.structs.replace(tube(), diameter_mm=diameter_mm)) for diameter_mm in (30.0, 44.0, 66.0, 99.0)
    ]
    seen(steps, figures)
    assert lit.count == len(steps)


def test_what_is_displaced_by_far_would_be_seen_twice_and_is_not_mixed() -> None:
    light = evaluate(family(tube()), CATALOGUE, WHILE_DRAGGING).light
    spot = np.full_like(light.xyz, 100.0)
    rows, columns = light.inside.shape
    spots = range(8, columns - 8, 12)
    for column in spots:
        spot[:, rows // 2 - 2 : rows // 2 + 2, column : column + 3] = 5000.0
    moved = [replace(light, xyz=np.roll(spot, by, axis=2), inside=np.ones_like(light.inside)) for by in (0, 1, 5)]
    assert pictures._unlike(moved[0], moved[1]) < 0.01
    assert pictures._unlike(moved[0], moved[2]) > 0.5
    brighter = replace(
        moved[0], xyz=2.0 * moved[0].xyz, evenness=replace(light.evenness, mean_cd_m2=2.0 * light.evenness.mean_cd_m2)
    )
    assert pictures._unlike(moved[0], brighter) == pytest.approx(0.0, abs=1e-6)


def test_where_pictures_differ_much_nearer_ones_are_asked_for(monkeypatch: pytest.MonkeyPatch) -> None:
    figures = evaluate(family(tube()), CATALOGUE, WHILE_DRAGGING)
    monkeypatch.setattr(pictures, "_unlike", lambda _one, _other: 10.0)
    lit = Lit(monkeypatch)
    steps = dragged(family(tube()), "diameter_mm", 0.08)
    seen(steps, figures)
    assert list(pictures._PATHS[0].farthest.values()) == [pytest.approx(pictures._MOST_UNLIKE / 10.0, rel=1e-6)]
    assert lit.count == len(steps) + 1  # ahead once, and no more


def moved(places: list[tuple[float, float]]) -> list[Design]:
    """Steps of a drag of one of two emitters in a box, rounded to a tenth of a millimetre as a hand's are."""
    shape = BoxShape(width_mm=200.0, height_mm=150.0, depth_mm=40.0)
    return [loose_design(shape, emitter(150.0, 100.0), emitter(round(x, 1), round(y, 1))) for x, y in places]


def test_an_emitter_that_is_dragged_aslant_is_mixed_for_all_its_rounding(monkeypatch: pytest.MonkeyPatch) -> None:
    steps = moved([(60.0 + 0.37 * n, 50.0 + 0.23 * n) for n in range(STEPS)])
    figures = evaluate(steps[0], CATALOGUE, WHILE_DRAGGING)
    lit = Lit(monkeypatch)
    found = seen(steps, figures)
    assert lit.count <= 0.6 * STEPS
    alone = by_itself(steps[STEPS - 3], figures)
    assert pictures._unlike(found[STEPS - 3].light, alone.light) < 0.06


def test_a_hand_that_goes_to_and_fro_is_soon_no_longer_lit_ahead_of(monkeypatch: pytest.MonkeyPatch) -> None:
    """What is lit ahead costs as much as what is lit itself; the hand that is never there gets that."""
    around = [(60.0 + 4.0 * np.cos(2.4 * n) * n**0.5, 60.0 + 4.0 * np.sin(2.4 * n) * n**0.5) for n in range(3 * STEPS)]
    steps = moved(around)
    figures = evaluate(steps[0], CATALOGUE, WHILE_DRAGGING)
    lit = Lit(monkeypatch)
    seen(steps, figures)
    assert lit.count <= 1.25 * len(steps)


def test_units_that_are_only_moved_are_not_lit_ahead(monkeypatch: pytest.MonkeyPatch) -> None:
    what = family(shells())
    figures = evaluate(what, CATALOGUE, WHILE_DRAGGING)
    lit = Lit(monkeypatch)
    steps = dragged(what, "pitch_x_mm", 0.05)
    seen(steps, figures)
    assert lit.count == len(steps)


def test_what_was_seen_of_a_design_wired_otherwise_is_not_mixed_in() -> None:
    """On a thin wire all LEDs may be dimmer alike, and nothing else would tell the two designs apart."""
    what = family(tube())
    thick, thin = (msgspec.structs.replace(what, wiring=Wiring(wire_mm2=wire_mm2)) for wire_mm2 in (2.5, 0.25))
    seen(dragged(thick, "diameter_mm", 0.04, 6), evaluate(thick, CATALOGUE, WHILE_DRAGGING))
    assert pictures._path_of(thick)[0].seen
    assert not pictures._path_of(thin)[0].seen


def test_a_jump_in_a_layout_is_not_mixed_over() -> None:
    """LEDs of a tube that is dragged longer stay where they are, or one more segment fits and all of them move."""
    steps = dragged(family(tube()), "length_mm", 0.3)
    figures = evaluate(steps[0], CATALOGUE, WHILE_DRAGGING)
    for one in steps:
        ours = evaluate(one, CATALOGUE, WHILE_DRAGGING, figures=figures)
        if ours.network is not figures.network:
            figures = ours
        assert ours.light.evenness.mean_cd_m2 == pytest.approx(
            evaluate(one, CATALOGUE, WHILE_DRAGGING).light.evenness.mean_cd_m2, rel=0.02
        )


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_a_picture_takes_the_place_of_another_and_figures_stay(name: str) -> None:
    what = family(FAMILIES[name])
    known = evaluate(what, CATALOGUE, WHILE_DRAGGING)
    layout = lay_out(what, CATALOGUE)
    assert takes_picture(known, what, layout)
    picture = picture_in(known)
    brighter = replace(picture, xyz=picture.xyz * np.float32(1.5))
    found = with_picture(known, what, layout, brighter, WHILE_DRAGGING)
    assert found.xyz == pytest.approx(known.xyz * 1.5)
    assert (found.network, found.target, found.warmth) == (known.network, known.target, known.warmth)
    assert found.light.weight.sum() == pytest.approx(1.0, rel=1e-4)
    assert found.layout is layout


def test_a_picture_does_not_fit_among_figures_of_another_build() -> None:
    known = evaluate(family(tube()), CATALOGUE, WHILE_DRAGGING)
    longer = family(msgspec.structs.replace(tube(), length_mm=2.0 * tube().length_mm))
    for other in (longer, family(bars())):
        assert not takes_picture(known, other, lay_out(other, CATALOGUE))
    assert is_fed_as(known.design, known.layout, known)


def _grown(build: object, times: float) -> object:
    return with_sizes(build, iter([times * size for size in sizes_in(build)]))


@pytest.mark.parametrize("make", [tube, bars, frame, tiles, head, shells, cells])
@given(times=st.floats(0.1, 10.0))
def test_sizes_are_taken_out_and_put_back(make: Callable[[], object], times: float) -> None:
    build = make()
    grown = _grown(build, times)
    assert without_sizes(grown) == without_sizes(build)
    assert list(sizes_in(grown)) == pytest.approx([times * size for size in sizes_in(build)])


@given(st.integers(2, 40), st.integers(2, 40), st.integers(2, 40), st.integers(2, 40))
def test_on_another_grid_every_value_comes_from_its_place(rows: int, columns: int, high: int, wide: int) -> None:
    values = np.add.outer(1000.0 * (np.arange(rows) + 0.5) / rows, (np.arange(columns) + 0.5) / columns)
    found = pictures._on_grid(values, (high, wide))
    assert found.shape == (high, wide)
    wanted = np.add.outer(1000.0 * (np.arange(high) + 0.5) / high, (np.arange(wide) + 0.5) / wide)
    assert np.abs(found - wanted).max() <= 1000.0 * 0.5 / rows + 0.5 / columns + 1e-9
