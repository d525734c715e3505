"""Pads of pieces in the plan."""

from gauze.core.design.wiring import Injection
from gauze.core.electrical.pad_places import pads_near
from gauze.core.families import lay_out
from tests.builders import CATALOGUE, design
from tests.families import family, shells


def test_the_nearest_cut_mark_is_found() -> None:
    pieces = lay_out(design(), CATALOGUE).pieces
    row = pieces[2]
    x, y, _ = row.start_mm
    along = row.along
    for after in (0, 3, row.segments):
        place = x + along[0] * after * row.strip.segment_mm + 1.0, y + along[1] * after * row.strip.segment_mm + 1.0
        assert pads_near(pieces, *place, 4.0) == Injection(piece=row.id, after=after)
    assert pads_near(pieces, x, y + 15.0, 4.0) is None


def test_a_board_has_its_pads_in_its_middle() -> None:
    pieces = lay_out(family(shells()), CATALOGUE).pieces
    x, y, _ = pieces[1].place_mm
    assert pads_near(pieces, x + 2.0, y, 4.0) == Injection(piece=pieces[1].id, after=0)
    assert pads_near((), 0.0, 0.0, 4.0) is None
