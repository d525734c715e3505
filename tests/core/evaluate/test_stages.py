"""Stages: what the network hands to the light, and what is not computed again."""

from itertools import pairwise
from typing import Any

import msgspec
import numpy as np
import pytest

from gauze.core.design import Design, StripChoice
from gauze.core.design.pixel_display import Show
from gauze.core.design.tile_wall import Tile
from gauze.core.design.wiring import Wiring
from gauze.core.evaluate import AT_REST, WHILE_DRAGGING, Detail, Evaluation, GroupFaceLight, evaluate
from gauze.core.evaluate.dimmed import dimmed
from gauze.core.evaluate.light.cavity import CavityFaceLight
from gauze.core.evaluate.light.one_cavity import forget_faces
from gauze.core.evaluate.recent import Recent
from gauze.core.evaluate.stages import forget_lights
from gauze.core.families import lay_out
from gauze.core.layout import Layout
from gauze.core.parts.flux import ALL_ONE, FluxFactors
from tests.builders import CATALOGUE, design, emitter, loose_design
from tests.families import FAMILIES, WHITE, bars, cells, family, frame, shells, strip_display, tiles, tube

QUICK = Detail(fineness=0.4, most_pixels=12_000, target_points=1)
THREE = tuple(Tile(sides=4, x_mm=90.0 * column, y_mm=0.0) for column in range(3))


def lit(what: Design, factors: dict[str, Any] | None = None) -> Evaluation:
    return evaluate(what, CATALOGUE, QUICK, factors=FluxFactors(factors))


def mean_between(found: Evaluation, low_mm: float, high_mm: float) -> float:
    columns = (found.x_mm > low_mm) & (found.x_mm < high_mm)
    inside = found.inside[:, columns]
    return float(found.luminance_cd_m2[:, columns][inside].mean())


def pieces_at(what: Design, start: str) -> list[str]:
    return [piece.id for piece in lay_out(what, CATALOGUE).pieces if piece.id.startswith(start)]


# -- factors of flux ------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_a_factor_of_one_leaves_the_very_layout(name: str) -> None:
    layout = lay_out(family(FAMILIES[name]), CATALOGUE)
    assert dimmed(layout, ALL_ONE) is layout
    named = FluxFactors({piece.id: 1.0 for piece in layout.pieces})
    after = dimmed(layout, named)
    assert isinstance(after, Layout)
    assert after.cavities[0] is layout.cavities[0]


def test_a_tile_at_half_flux_looks_half_as_bright_and_the_others_as_before() -> None:
    wall = family(tiles(*THREE))
    whole, half = lit(wall), lit(wall, dict.fromkeys(pieces_at(wall, "tile-2/"), 0.5))
    for low, high, share in ((-45, 45, 1.0), (46, 134, 0.5), (136, 225, 1.0)):
        assert mean_between(half, low, high) == pytest.approx(share * mean_between(whole, low, high), rel=1e-6)
    assert half.output.emitted_lm == pytest.approx(whole.output.emitted_lm * 2.5 / 3, rel=1e-9)
    assert half.output.out_lm == pytest.approx(whole.output.out_lm * 2.5 / 3, rel=1e-6)


def test_a_tile_that_is_only_dimmer_is_not_lit_anew(monkeypatch: pytest.MonkeyPatch) -> None:
    wall = family(tiles(*THREE))
    forget_faces()
    lit(wall)

    def never(*_given: object) -> None:
        raise AssertionError("lit again")

    monkeypatch.setattr("gauze.core.evaluate.light.one_cavity._lit", never)
    dim = lit(wall, dict.fromkeys(pieces_at(wall, "tile-2/"), 0.37))
    assert isinstance(dim.light, GroupFaceLight)
    assert len(dim.light.faces) == 2
    bright, dimmer = dim.light.faces
    assert dimmer.emitted_lm == pytest.approx(0.37 * bright.emitted_lm, rel=1e-9)


def test_a_run_that_fades_fades_on_the_face() -> None:
    """Segment by segment from full down to a half along a tube: the face follows, and the flux adds up."""
    what = family(tube(length_mm=530.0))
    (name,) = pieces_at(what, "strip")
    segments = lay_out(what, CATALOGUE).pieces[0].segments
    fading = np.linspace(1.0, 0.5, segments)
    whole, faded = lit(what), lit(what, {name: fading[:, None]})
    shares = [mean_between(faded, x, x + 60) / mean_between(whole, x, x + 60) for x in (40, 150, 260, 370, 440)]
    assert all(one > other for one, other in pairwise(shares))
    assert shares[0] == pytest.approx(0.95, abs=0.03)
    assert shares[-1] == pytest.approx(0.55, abs=0.03)
    assert faded.output.emitted_lm == pytest.approx(fading.mean() * whole.output.emitted_lm, rel=1e-9)


def test_the_rows_of_a_panel_fade_too_and_one_channel_by_itself() -> None:
    what = design()
    count = lay_out(what, CATALOGUE).pieces[0].segments
    fading = {name: np.linspace(1.0, 0.4, count)[:, None] for name in pieces_at(what, "row-")}
    whole, faded = lit(what), lit(what, fading)
    assert mean_between(faded, 20, 80) / mean_between(whole, 20, 80) > 0.85
    assert mean_between(faded, 520, 580) / mean_between(whole, 520, 580) < 0.6
    colour = family(strip_display())
    without_red = lit(colour, {name: [[0.0, 1.0, 1.0]] for name in pieces_at(colour, "row-")})
    for channel, before in zip(without_red.channels, lit(colour).channels, strict=True):
        assert channel.flux_lm == pytest.approx(0.0 if channel.name == "red" else before.flux_lm)


def test_light_that_comes_round_a_corner_fades_with_its_own_side() -> None:
    """A dark side still gets light from its neighbours; with these dark too there is none."""
    what = family(frame(4, 400.0))
    others = {name: 0.0 for side in (2, 3, 4) for name in pieces_at(what, f"side-{side}/")}
    only_one, none = lit(what, others), lit(what, others | dict.fromkeys(pieces_at(what, "side-1/"), 0.0))
    whole = lit(what)
    assert none.output.emitted_lm == pytest.approx(0.0)
    assert float(none.luminance_cd_m2.max()) == pytest.approx(0.0)
    assert only_one.output.emitted_lm == pytest.approx(whole.output.emitted_lm / 4, rel=1e-9)
    right = (only_one.x_mm > 185)[None, :] & only_one.inside
    rows = np.argsort(only_one.y_mm)
    light = [float(only_one.luminance_cd_m2[row][right[row]].mean()) for row in rows if right[row].any()]
    assert light[0] > 20 * light[len(light) // 2]  # the lower end of the right side, by the lower one


def test_shells_cells_and_loose_emitters_have_factors_each() -> None:
    string = family(shells())
    dim = lit(string, {"shell-2-1": 0.25})
    assert dim.output.emitted_lm == pytest.approx(lit(string).output.emitted_lm * 5.25 / 6, rel=1e-9)
    board = family(cells())
    one_off = np.ones((4, 1))
    one_off[1] = 0.0
    assert lit(board, {"row-1": one_off}).output.emitted_lm == pytest.approx(
        lit(board).output.emitted_lm * 11 / 12, rel=1e-9
    )
    box = FAMILIES["edge-lit"].cavity
    loose = loose_design(box, emitter(30.0, 30.0), emitter(60.0, 30.0))
    assert lit(loose, {"emitter-2": 0.5}).output.emitted_lm == pytest.approx(15.0)


def test_bars_of_unlike_factors_are_units_of_their_own_and_alike_ones_stay_one() -> None:
    three = family(bars(bars=tuple(type(FAMILIES["bars"].bars[0])(length_mm=150.0) for _ in range(3))))
    layout = dimmed(lay_out(three, CATALOGUE), FluxFactors({"bar-2/strip-1": 0.5, "bar-3/strip-1": 0.5}))
    assert isinstance(layout, Layout)
    assert [instance.cavity for instance in layout.instances] == [0, 1, 1]
    assert layout.emitted_lm == pytest.approx(2.0 / 3.0 * lay_out(three, CATALOGUE).emitted_lm)


def test_factors_are_equal_by_value() -> None:
    assert FluxFactors({"a": [[1.0, 0.5]]}) == FluxFactors({"a": np.array([[1.0, 0.5]])})
    assert FluxFactors({"a": 0.5}) != FluxFactors({"b": 0.5})
    assert len({FluxFactors({"a": 0.5}), FluxFactors({"a": 0.5}), ALL_ONE}) == 2
    assert not ALL_ONE


# -- what is not computed again --------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "change",
    [
        lambda one: msgspec.structs.replace(one, name="Another name"),
        lambda one: msgspec.structs.replace(one, measured_row_current_a=0.4),
        lambda one: msgspec.structs.replace(
            one, purpose=msgspec.structs.replace(one.purpose, viewing_distance_mm=700.0)
        ),
        lambda one: msgspec.structs.replace(one, purpose=msgspec.structs.replace(one.purpose, viewer="camera")),
        lambda one: msgspec.structs.replace(
            one, purpose=msgspec.structs.replace(one.purpose, target_distance_mm=900.0)
        ),
    ],
)
@pytest.mark.parametrize(
    "what", [design(), family(tube(strips=WHITE)), family(tiles(*THREE))], ids=["panel", "tube", "tiles"]
)
def test_name_reading_and_purpose_light_nothing_anew(what: Design, change: Any) -> None:
    forget_lights()
    before = evaluate(what, CATALOGUE, AT_REST)
    after = evaluate(change(what), CATALOGUE, AT_REST)
    assert after.light is before.light
    assert after.design == change(what)


def test_a_purpose_is_judged_anew_though_the_light_stays() -> None:
    what = family(tube())
    nearer = msgspec.structs.replace(
        what, purpose=msgspec.structs.replace(what.purpose, target_distance_mm=what.purpose.target_distance_mm / 2)
    )
    before, after = (evaluate(one, CATALOGUE, AT_REST) for one in (what, nearer))
    assert after.target_lx > 2.0 * before.target_lx
    assert after.light is before.light


def test_another_sheet_or_another_factor_is_lit_anew() -> None:
    what = family(tube())
    before = evaluate(what, CATALOGUE, AT_REST)
    other = msgspec.structs.replace(what, build=tube(diffuser="opal-acrylic-3"))
    assert evaluate(other, CATALOGUE, AT_REST).light is not before.light
    assert evaluate(what, CATALOGUE, AT_REST, factors=FluxFactors({"strip-1": 0.9})).light is not before.light
    assert evaluate(what, CATALOGUE, AT_REST).light is before.light


def test_the_oldest_result_goes_first_and_a_failure_is_not_kept() -> None:
    recent: Recent[int] = Recent(2)
    assert [recent.get((key,), lambda key=key: key * 10) for key in (1, 2, 3)] == [10, 20, 30]
    assert recent.get((3,), lambda: 0) == 30
    assert recent.get((1,), lambda: 11) == 11
    with pytest.raises(ZeroDivisionError):
        recent.get((9,), lambda: 1 // 0)
    assert recent.get((9,), lambda: 90) == 90


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_a_picture_alone_is_that_of_the_whole(name: str) -> None:
    """Circuit, warmth, target and ripples of another step of a drag stand in; what is seen is the design's own."""
    what = family(FAMILIES[name])
    whole = evaluate(what, CATALOGUE, WHILE_DRAGGING)
    picture = evaluate(what, CATALOGUE, WHILE_DRAGGING, figures=whole)
    assert picture.xyz == pytest.approx(whole.xyz, rel=0.02, abs=0.02 * float(whole.xyz.max()))
    assert picture.target is whole.target
    assert picture.network is whole.network
    assert picture.light.ripples == whole.light.ripples


def test_figures_of_other_pieces_do_not_stand_in() -> None:
    short, long = (family(tube(length_mm=length_mm)) for length_mm in (400.0, 600.0))
    known = evaluate(short, CATALOGUE, WHILE_DRAGGING)
    found = evaluate(long, CATALOGUE, WHILE_DRAGGING, figures=known)
    assert found.network is not known.network
    assert found.target is not known.target
    assert found.network.power is not None
    assert [one.id for one in found.network.power.pieces] == [piece.id for piece in found.layout.pieces]


def test_a_display_between_partitions_shows_its_own_text_with_the_figures_of_another_depth() -> None:
    """What is seen is lit; how even it is with every pixel on is that of a step before, or of the rest before the drag."""
    build = cells(show=Show(kind="text", text="5"))
    what, deeper, wider = (
        family(msgspec.structs.replace(build, **changes))
        for changes in ({}, {"depth_mm": build.depth_mm + 1.0}, {"columns": 9})
    )
    known = evaluate(what, CATALOGUE, WHILE_DRAGGING)
    whole = evaluate(deeper, CATALOGUE, WHILE_DRAGGING)
    picture = evaluate(deeper, CATALOGUE, WHILE_DRAGGING, figures=known)
    assert isinstance(picture.light, CavityFaceLight)
    assert isinstance(known.light, CavityFaceLight)
    assert (picture.evenness, picture.light.ripples) == (known.evenness, known.light.ripples)
    assert picture.light.crosstalk is known.light.crosstalk
    assert picture.light.xyz == pytest.approx(picture.xyz)
    from_rest = evaluate(deeper, CATALOGUE, WHILE_DRAGGING, figures=evaluate(what, CATALOGUE, AT_REST))
    assert from_rest.xyz == pytest.approx(picture.xyz, rel=1e-3, abs=1e-3 * float(whole.xyz.max()))
    assert picture.xyz == pytest.approx(whole.xyz, rel=0.02, abs=0.02 * float(whole.xyz.max()))
    for detail, other in ((AT_REST, what), (WHILE_DRAGGING, wider)):
        found = evaluate(other, CATALOGUE, detail, figures=known)
        assert found.light is not known.light
        assert found.xyz.shape[1:] == (len(found.y_mm), len(found.x_mm))


def test_a_feed_that_is_dragged_has_a_circuit_and_a_light_of_its_own() -> None:
    """What the hand moves is the wiring itself: the figures of another circuit do not stand in for it."""
    what = family(tube(length_mm=2000.0, strips=(StripChoice(strip="5v-rgb-pixel-60"),)))
    near, far = (
        msgspec.structs.replace(what, wiring=Wiring(wire_mm2=wire_mm2, lead_mm=3000.0)) for wire_mm2 in (2.5, 0.25)
    )
    known = evaluate(near, CATALOGUE, WHILE_DRAGGING)
    found = evaluate(far, CATALOGUE, WHILE_DRAGGING, figures=known)
    assert found.network is not known.network
    assert found.light.output.emitted_lm < 0.97 * known.light.output.emitted_lm
