"""Layers over the plan: what they show, in which families, where."""

import msgspec
import numpy as np
import pytest

from gauze.core.design import StripChoice
from gauze.core.design.wiring import Scheme, Wiring
from gauze.core.drawing import Layer, layers_of
from gauze.core.electrical.power import power_of
from gauze.core.electrical.wire_list import runs_of
from gauze.core.evaluate.stages import computed_for_drawing
from gauze.core.families import lay_out, parts_of
from tests.builders import CATALOGUE, design
from tests.families import FAMILIES, family, shells, tiles, tube


def layers(what: object) -> dict[str, Layer]:
    return {layer.key: layer for layer in layers_of(what, lay_out(what, CATALOGUE))}


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_every_shape_of_a_layer_is_told_in_its_legend(name: str) -> None:
    found = layers(family(FAMILIES[name]))
    assert {"parts", "supply"} <= set(found)
    for layer in found.values():
        told = {role for role, words in layer.legend.entries if words}
        assert {shape.role for shape in layer.shapes} <= told


def test_names_stand_in_the_middle_of_their_pieces() -> None:
    (label, *_others) = layers(design())["parts"].shapes
    assert label.words == "row-1"
    assert label.points_mm[0] == pytest.approx([300.0, 20.0])


def test_only_what_carries_data_has_an_order() -> None:
    assert "data" not in layers(design())
    string = layers(family(shells()))["data"]
    begins = [shape for shape in string.shapes if shape.role == "data" and len(shape.points_mm) == 1]
    assert len(begins) == 1  # at the controller
    assert np.isfinite(np.concatenate([shape.points_mm for shape in string.shapes])).all()


def test_the_lead_and_its_hole_are_shown() -> None:
    supply = layers(design())["supply"]
    assert sum(shape.role == "hole" for shape in supply.shapes) == 1
    assert sum(len(shape.points_mm) == 1 for shape in supply.shapes) == 11  # every row at its start
    assert layers(family(tiles()))["supply"].shapes


def test_the_light_along_a_piece_is_drawn_over_all_of_its_length() -> None:
    what = family(tube(length_mm=4000.0, strips=(StripChoice(strip="5v-rgb-pixel-60"),)))
    layout = lay_out(what, CATALOGUE)
    power = power_of(layout.pieces, parts_of(what, layout, CATALOGUE).joints, Wiring(wire_mm2=2.5))
    assert power is not None
    found = {layer.key: layer for layer in layers_of(what, layout, power)}
    lines = [shape for shape in found["drop"].shapes if shape.role != "label"]
    assert {shape.role for shape in lines} >= {"light-full", "light-poor"}
    piece = layout.pieces[0]
    reach = np.concatenate([shape.points_mm for shape in lines])
    assert np.ptp(reach[:, 0]) == pytest.approx(piece.length_mm)
    lengths = [float(np.ptp(shape.points_mm[:, 0])) for shape in lines]
    assert sum(lengths) == pytest.approx(piece.length_mm)  # no gap, and nothing twice
    told = {role for layer in found.values() for role, _ in layer.legend.entries}
    assert {shape.role for layer in found.values() for shape in layer.shapes} <= told
    (label,) = [shape for shape in found["amps"].shapes if shape.role == "label"]
    assert "A" in str(label.words)


def test_power_of_another_layout_is_not_drawn_over_this_one() -> None:
    other = family(shells())
    layout = lay_out(other, CATALOGUE)
    power = power_of(layout.pieces, parts_of(other, layout, CATALOGUE).joints, Wiring())
    assert "drop" not in {layer.key for layer in layers_of(design(), lay_out(design(), CATALOGUE), power)}


def test_the_wiring_plan_has_the_way_of_the_data_the_holes_and_the_pads() -> None:
    pixels = msgspec.structs.replace(
        family(tube(strips=(StripChoice(strip="5v-rgb-pixel-60"),))), wiring=Wiring(scheme="buses")
    )
    plain = msgspec.structs.replace(design(), wiring=Wiring(scheme="buses"))
    found = {}
    for name, what in (("pixels", pixels), ("plain", plain)):
        laid = lay_out(what, CATALOGUE)
        layers = layers_of(what, laid, *computed_for_drawing(what, laid, CATALOGUE))
        found[name] = next(layer for layer in layers if layer.key == "wiring")
    roles = {name: {shape.role for shape in layer.shapes} for name, layer in found.items()}
    assert "data" in roles["pixels"]
    assert {"hole", "plus", "minus"} <= roles["plain"]
    assert "data" not in roles["plain"]
    words = [str(shape.words) for shape in found["pixels"].shapes if shape.role == "label"]
    assert words.count("+ data in \N{MINUS SIGN}") == 1  # not at every piece of the kind
    assert all({role for role, _ in layer.legend.entries} == roles[name] for name, layer in found.items())


@pytest.mark.parametrize("scheme", ["in_a_row", "buses", "opposite", "both_ends"])
def test_every_wire_has_its_number_where_no_other_stands(scheme: Scheme) -> None:
    """A lead and the wire that goes on from its pad are told apart."""
    what = msgspec.structs.replace(design(), wiring=Wiring(scheme=scheme))
    laid = lay_out(what, CATALOGUE)
    power, warmth = computed_for_drawing(what, laid, CATALOGUE)
    assert power is not None
    layer = next(one for one in layers_of(what, laid, power, warmth) if one.key == "wiring")
    labels = {
        str(one.words): one.points_mm[0] for one in layer.shapes if one.role == "label" and str(one.words).isdigit()
    }
    assert len(labels) == len(runs_of(power))
    places = np.array(list(labels.values()))
    apart = np.linalg.norm(places[:, None] - places[None], axis=2) + np.eye(len(places)) * 1e3
    assert apart.min() > 5.0


def test_the_order_of_pads_is_told_once_for_each_kind_of_strip() -> None:
    what = msgspec.structs.replace(family(tiles()), wiring=Wiring(scheme="in_a_row"))
    laid = lay_out(what, CATALOGUE)
    assert len(laid.pieces) == 6
    layer = next(
        one for one in layers_of(what, laid, *computed_for_drawing(what, laid, CATALOGUE)) if one.key == "wiring"
    )
    orders = [str(shape.words) for shape in layer.shapes if shape.role == "label" and "data" in str(shape.words)]
    assert orders == ["+ data in \N{MINUS SIGN}"]
