import msgspec
import numpy as np
import pytest

from gauze.core.design import RowPlan
from gauze.core.errors import Cancelled
from gauze.core.evaluate import AT_REST, evaluate, search_fixes
from gauze.core.evaluate.tradeoff import TradeOff, design_at, trade_off
from tests.builders import CATALOGUE, design


@pytest.fixture(scope="module")
def field() -> TradeOff:
    return trade_off(design(), CATALOGUE)


def test_the_design_is_a_point_of_its_field(field: TradeOff) -> None:
    assert field.depths_mm[0] < 30 < field.depths_mm[-1]
    assert 11 in field.row_counts
    assert field.holds_for(design())
    assert field.holds_for(design(depth_mm=44.0))
    assert not field.holds_for(design(walls=0.2))
    assert not field.holds_for(design({"viewing_distance_mm": 900.0}))


def test_deeper_and_more_rows_hide_more(field: TradeOff) -> None:
    assert np.isfinite(field.visibility).all()
    assert (np.diff(field.visibility, axis=1) < 1e-3).all()
    assert (field.visibility[-1] <= field.visibility[0] + 1e-3).all()
    assert (np.diff(field.flux_lm, axis=0) > 0).all()  # more rows, more light
    assert (np.diff(field.flux_lm, axis=1) < 0).all()  # deeper, less
    assert (np.diff(field.watts) > 0).all()


def test_the_line_of_the_unseen_is_where_the_search_finds_it(field: TradeOff) -> None:
    """Two ways to the same answer: read off the field, and the fix that is searched for."""
    row = int(np.flatnonzero(field.row_counts == 11)[0])
    off_the_field = float(field.least_depths_mm(1.0)[row])
    reference = design({"standard": "reference"})
    deeper = next(fix for fix in search_fixes("dots", reference, CATALOGUE) if str(fix.title).startswith("Depth"))
    assert off_the_field == pytest.approx(deeper.design.build.depth_mm, rel=0.04)


def test_lines_of_equal_flux_pass_where_the_flux_is(field: TradeOff) -> None:
    wanted = float(np.median(field.flux_lm))
    counts = field.row_counts_for_flux(wanted)
    column = int(np.flatnonzero(np.isfinite(counts))[0])
    count = round(float(counts[column]))
    there = design_at(design(), field.side_margin_mm, float(field.depths_mm[column]), count)
    assert evaluate(there, CATALOGUE, AT_REST).light.face.flux_out_lm == pytest.approx(wanted, rel=0.06)
    assert np.isnan(field.row_counts_for_flux(1e9)).all()


def test_designs_that_cannot_stand_are_left_out() -> None:
    narrow = design(face_height_mm=100.0, rows=RowPlan(count=8, spacing_mm=11.0))
    field = trade_off(narrow, CATALOGUE)
    assert np.isnan(field.visibility).any()
    assert np.isnan(field.watts).any()
    field.least_depths_mm(1.0)  # can be read anyway


def test_the_field_tells_its_progress_and_can_be_stopped() -> None:
    shares: list[float] = []
    with pytest.raises(Cancelled):
        trade_off(design(), CATALOGUE, shares.append, lambda: len(shares) >= 2)
    assert shares == sorted(shares)
    assert len(shares) == 2


def test_a_single_row_has_a_field_too() -> None:
    single = design(rows=msgspec.structs.replace(design().build.rows, count=1))
    assert trade_off(single, CATALOGUE).row_counts[0] == 2
