"""Light while a hand drags: between two that are lit it is what it would be by itself, and it costs nothing most of the time."""

from collections.abc import Iterator

import msgspec
import numpy as np
import pytest

from gauze.core.design import Design
from gauze.core.design.cavity import BoxShape
from gauze.core.design.pixel_display import Baffle
from gauze.core.evaluate import WHILE_DRAGGING, evaluate
from gauze.core.evaluate.light import gliding, one_cavity
from gauze.core.evaluate.light.cavity import CavityFaceLight
from gauze.core.evaluate.light.gliding import forget_gliding, light_gliding
from gauze.core.evaluate.light.one_cavity import forget_faces
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.optics.cavity.baffled import BaffledLight
from gauze.core.optics.cavity.emitters import Emitters
from tests.builders import CATALOGUE, emitter, loose_design
from tests.families import bars, cells, family, frame, head, shells, tiles, tube

STEPS = 12


@pytest.fixture(autouse=True)
def _nothing_known() -> Iterator[None]:
    forget_gliding()
    forget_faces()
    yield
    forget_gliding()


def dragged(what: Design, field: str, share: float) -> list[Design]:
    """Steps of a drag of one size by some share in all."""
    start = getattr(what.build, field)
    return [
        msgspec.structs.replace(
            what, build=msgspec.structs.replace(what.build, **{field: start * (1.0 + share * n / STEPS)})
        )
        for n in range(STEPS + 1)
    ]


class Counted:
    """Lights as it is asked to, and counts how often it really had to."""

    def __init__(self, monkeypatch: pytest.MonkeyPatch) -> None:
        self.steps, self.lit = 0, 0
        monkeypatch.setattr(one_cavity, "light_gliding", self)

    def __call__(
        self, cavity: CavityLayout, emitters: Emitters, fineness: float, light: gliding.Light
    ) -> gliding.AnyLight:
        def counted(one: CavityLayout, lamps: Emitters) -> gliding.AnyLight:
            self.lit += 1
            return light(one, lamps)

        self.steps += 1
        return light_gliding(cavity, emitters, fineness, counted)


DRAGS = {
    "a tube's diameter": (tube(), "diameter_mm", 0.06),
    "the depth of bars": (bars(), "depth_mm", 0.08),
    "the depth of a frame": (frame(), "depth_mm", 0.06),
    "the depth of tiles": (tiles(), "depth_mm", -0.06),
    "a funnel's opening": (head(), "opening_mm", 0.06),
    "the diameter of shells": (shells(), "diameter_mm", 0.05),
    "the depth of cells": (cells(depth_mm=16.0), "depth_mm", 0.06),
    "the depth of cells before a bare wall": (
        cells(depth_mm=16.0, baffle=Baffle(wall_mm=1.0, height_mm=12.0, gap_below_mm=2.0, rim_partition=False)),
        "depth_mm",
        0.06,
    ),
}


@pytest.mark.parametrize("name", DRAGS)
def test_between_two_that_are_lit_it_is_what_it_is_by_itself(name: str, monkeypatch: pytest.MonkeyPatch) -> None:
    build, field, share = DRAGS[name]
    steps = dragged(family(build), field, share)
    counted = Counted(monkeypatch)
    glided = [evaluate(one, CATALOGUE, WHILE_DRAGGING).light for one in steps]
    assert counted.lit < 0.6 * counted.steps
    monkeypatch.setattr(one_cavity, "light_gliding", lambda cavity, emitters, _fineness, light: light(cavity, emitters))
    for number in (1, STEPS // 2, STEPS - 1):
        forget_faces()
        alone = evaluate(steps[number], CATALOGUE, WHILE_DRAGGING).light
        assert glided[number].output.lid_lm == pytest.approx(alone.output.lid_lm, rel=3e-3)
        ours, theirs = (np.asarray(one.xyz[1], float) for one in (glided[number], alone))
        assert ours.shape == theirs.shape
        assert np.sqrt(((ours - theirs) ** 2).mean()) < 0.015 * theirs[alone.inside].mean()


def test_what_jumps_is_lit_by_itself(monkeypatch: pytest.MonkeyPatch) -> None:
    what = family(tube())
    counted = Counted(monkeypatch)
    for diameter_mm in (36.0, 50.0, 80.0):  # each far from the others
        build = msgspec.structs.replace(what.build, diameter_mm=diameter_mm)
        evaluate(msgspec.structs.replace(what, build=build), CATALOGUE, WHILE_DRAGGING)
    assert counted.lit == counted.steps == 3


def test_cells_whose_gaps_close_are_lit_by_themselves(monkeypatch: pytest.MonkeyPatch) -> None:
    """Towards a gap of nothing light changes faster than in straight lines; closed cells are of another kind."""
    counted = Counted(monkeypatch)
    inner = cells().depth_mm + 1.9  # from the back
    heights = [inner - 2.0 - gap_mm for gap_mm in (3.0, 1.0, 0.2, 0.0)]
    for height_mm in heights:
        evaluate(
            family(cells(baffle=Baffle(wall_mm=1.0, height_mm=height_mm, gap_below_mm=2.0))), CATALOGUE, WHILE_DRAGGING
        )
    assert counted.lit == counted.steps == len(heights)


def test_crosstalk_of_cells_that_glide_is_that_of_their_own_partitions() -> None:
    what = [family(cells(baffle=Baffle(wall_mm=1.0, height_mm=12.0 + 0.1 * n, gap_below_mm=0.0))) for n in range(4)]
    found = [evaluate(one, CATALOGUE, WHILE_DRAGGING).light for one in what]
    forget_gliding()
    forget_faces()
    alone = evaluate(what[2], CATALOGUE, WHILE_DRAGGING).light
    assert isinstance(alone, CavityFaceLight)
    assert isinstance(found[2], CavityFaceLight)
    assert isinstance(found[2].face.light, BaffledLight)
    assert not found[2].face.light.own_exchange
    assert alone.crosstalk is not None
    assert found[2].crosstalk is not None
    assert found[2].crosstalk.beside == pytest.approx(alone.crosstalk.beside, rel=2e-3)


def test_a_hand_that_turns_back_finds_what_it_passed(monkeypatch: pytest.MonkeyPatch) -> None:
    steps = dragged(family(tube()), "diameter_mm", 0.06)
    counted = Counted(monkeypatch)
    for one in steps:
        evaluate(one, CATALOGUE, WHILE_DRAGGING)
    before = counted.lit
    for one in reversed(steps):
        forget_faces()
        evaluate(one, CATALOGUE, WHILE_DRAGGING)
    assert counted.lit == before


def test_it_does_not_light_ahead_where_an_emitter_would_come_out(monkeypatch: pytest.MonkeyPatch) -> None:
    lamp = emitter(50.0, 40.0, 28.6)
    counted = Counted(monkeypatch)
    for depth_mm in (30.0, 29.9, 29.8):  # a twentieth less would be less than the emitter is high
        what = loose_design(BoxShape(width_mm=100.0, height_mm=80.0, depth_mm=depth_mm), lamp)
        light = evaluate(what, CATALOGUE, WHILE_DRAGGING).light
        assert light.output.lid_lm > 0.5 * light.output.emitted_lm
    assert counted.lit == 3
