"""Pixels in the order of the data."""

import csv
import io
import json

import numpy as np
import pytest

from gauze.core.design import StripChoice
from gauze.core.electrical.data_line import branches_of, bytes_of, lines_for, picture_s, pixel_runs
from gauze.core.errors import GauzeError
from gauze.core.evaluate import WHILE_DRAGGING, State, evaluate, find
from gauze.core.families import lay_out, parts_of
from gauze.core.formats.pixel_map import encode_pixel_map
from gauze.core.layout.placing import placed_cavities
from tests.builders import CATALOGUE, design
from tests.families import FAMILIES, cells, display, family, shells, strip_display, tiles, tube


def runs(what: object) -> tuple[object, ...]:
    layout = lay_out(what, CATALOGUE)
    return pixel_runs(layout.pieces, parts_of(what, layout, CATALOGUE).joints)


@pytest.mark.parametrize(
    "build", [display(), strip_display(), cells(), shells(), tiles()], ids=["grid", "strip", "cells", "cord", "tile"]
)
def test_every_pixel_has_one_index_and_the_place_of_its_leds(build: object) -> None:
    what = family(build)
    found = runs(what)
    assert [run.first for run in found] == np.cumsum([0, *(len(run.places_mm) for run in found)])[:-1].tolist()
    places = np.concatenate([run.places_mm for run in found])
    lit = np.concatenate([cavity.places_mm for cavity in placed_cavities(lay_out(what, CATALOGUE))])
    assert len(places) == len(np.unique(np.round(lit[:, :2], 2), axis=0))
    for place in places[:: max(len(places) // 40, 1)]:
        assert np.abs(lit[:, :2] - place[:2]).sum(axis=1).min() < 0.02


def test_the_first_pixel_lies_where_the_data_come_in() -> None:
    what = family(strip_display())
    layout = lay_out(what, CATALOGUE)
    first = runs(what)[0]
    assert first.piece == layout.pieces[0].id
    assert first.places_mm[0][:2] == pytest.approx(
        np.array(layout.pieces[0].start_mm[:2])
        + np.array(layout.pieces[0].along[:2]) * layout.pieces[0].strip.segment_mm / 2
    )


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_what_carries_no_data_has_no_pixels(name: str) -> None:
    what = family(FAMILIES[name])
    data = [joint for joint in parts_of(what, lay_out(what, CATALOGUE), CATALOGUE).joints if joint.kind == "data"]
    assert bool(runs(what)) == bool(data)


def test_times_are_those_of_the_bits() -> None:
    """800 kHz: 24 bits take 30 us a pixel, and a picture ends with 300 us of silence."""
    found = runs(family(display()))
    count = found[-1].last + 1
    assert picture_s(found) == pytest.approx(count * 30e-6 + 300e-6)
    assert bytes_of(found) == 3 * count
    assert lines_for(found, 30.0) == 1
    assert lines_for(found, 2000.0) > 1
    assert 1.0 / picture_s(found, lines_for(found, 400.0)) >= 400.0


def test_where_the_data_branch_is_told() -> None:
    what = family(tiles())
    joints = parts_of(what, lay_out(what, CATALOGUE), CATALOGUE).joints
    assert branches_of(joints) == []
    assert branches_of((*joints, *joints)) != []


def test_the_map_is_a_table_or_json() -> None:
    what = family(shells())
    found = runs(what)
    rows = list(csv.DictReader(io.StringIO(encode_pixel_map(what, found, ".csv").decode())))
    pixels = json.loads(encode_pixel_map(what, found, ".JSON"))["pixels"]
    assert len(rows) == len(pixels) == found[-1].last + 1
    assert [int(row["index"]) for row in rows] == [pixel["index"] for pixel in pixels] == list(range(len(rows)))
    assert float(rows[-1]["x_mm"]) == pixels[-1]["x_mm"]
    with pytest.raises(GauzeError, match=r"written as \.csv, \.json"):
        encode_pixel_map(what, found, ".txt")
    with pytest.raises(GauzeError, match="no pixels"):
        encode_pixel_map(design(), runs(design()), ".csv")


def test_a_long_line_is_judged_slow_and_more_lines_are_told() -> None:
    short = family(tube(length_mm=1000.0, strips=(StripChoice(strip="5v-rgb-pixel-60"),)))
    finding = next(one for one in find(evaluate(short, CATALOGUE, WHILE_DRAGGING)) if one.code == "data rate")
    assert finding.state is State.GOOD
    assert finding.value == pytest.approx(1.0 / picture_s(runs(short)))
    wide = family(display(columns=64, rows=32))
    slow = next(one for one in find(evaluate(wide, CATALOGUE, WHILE_DRAGGING)) if one.code == "data rate")
    assert slow.state is State.WATCH
    assert f"{lines_for(runs(wide), 30.0)} lines" in str(slow.sentence)
    assert "data rate" not in {one.code for one in find(evaluate(design(), CATALOGUE, WHILE_DRAGGING))}


def test_segments_of_a_zigzag_run_to_and_against_by_turns() -> None:
    what = family(strip_display(columns=8, rows=3))
    laid = lay_out(what, CATALOGUE)
    runs = pixel_runs(laid.pieces, parts_of(what, laid, CATALOGUE).joints)
    body = json.loads(encode_pixel_map(what, runs, ".json"))
    places = {one["index"]: one["x_mm"] for one in body["pixels"]}
    assert [(one["first"], one["last"]) for one in body["segments"]] == [(run.first, run.last) for run in runs]
    ways = [places[one["last"]] > places[one["first"]] for one in body["segments"]]
    assert [one["reversed"] for one in body["segments"]] == [way != ways[0] for way in ways]
