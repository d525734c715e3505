"""The balance of a baffled box under the hand, begun from what was met last: it has to come out as it does from nothing."""

from dataclasses import replace

import numpy as np
import pytest

from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import Reflectances
from gauze.core.optics.cavity.baffled import BaffledLight, light_baffled
from gauze.core.optics.cavity.cell_balance import forget_balances
from gauze.core.optics.cavity.emitters import Emitters

BOX = BaffledBox(7, 5, 25.0, 25.0, 20.0, 0.8, 0.0, 16.0, Reflectances(0.85, 0.85, 0.5))
COARSE = 0.2  # as while a hand drags


def lit(box: BaffledBox, flux_lm: np.ndarray) -> np.ndarray:
    x, y = np.meshgrid((np.arange(box.columns) + 0.5) * box.pitch_x_mm, (np.arange(box.rows) + 0.5) * box.pitch_y_mm)
    places = np.column_stack([x.ravel(), y.ravel(), np.full(x.size, 1.0)])
    axes, count = np.tile([0.0, 0.0, 1.0], (len(places), 1)), len(places)
    emitters = Emitters(places, axes, np.ones(count), flux_lm[:, None], np.zeros(count, int), (), 0.0)
    return light_baffled(box, emitters, COARSE).bounced_at_knots


def forget() -> None:
    forget_balances()


@pytest.mark.parametrize("seed", range(3))
def test_where_it_begins_makes_no_difference(seed: int) -> None:
    rng = np.random.default_rng(seed)
    wanted = rng.uniform(0.0, 10.0, BOX.columns * BOX.rows)
    deeper = replace(BOX, depth_mm=22.0, high_mm=17.0)
    forget()
    alone = lit(deeper, wanted)
    forget()
    for height_mm in (15.0, 16.0):  # what the hand passed through, lit otherwise
        lit(replace(BOX, high_mm=height_mm), wanted[::-1].copy())
        lit(replace(BOX, high_mm=height_mm), rng.permutation(wanted))
    assert lit(deeper, wanted) == pytest.approx(alone, rel=0.01, abs=2e-3 * alone.max())


def test_dark_after_lit_is_dark() -> None:
    lit(BOX, np.full(BOX.columns * BOX.rows, 5.0))
    assert lit(BOX, np.zeros(BOX.columns * BOX.rows)).max() == 0.0


@pytest.mark.parametrize("fineness", [COARSE, 1.0])
@pytest.mark.parametrize("open_rim", [False, True])
def test_cells_lit_alike_are_solved_as_those_of_a_smaller_box(fineness: float, open_rim: bool) -> None:
    """One cell a trace brighter than all others, and every cell is solved by itself."""
    box = replace(BOX, columns=31, rows=5, high_mm=18.0, open_rim=open_rim)
    x, y = np.meshgrid((np.arange(31) + 0.4) * box.pitch_x_mm, (np.arange(5) + 0.6) * box.pitch_y_mm)
    places = np.column_stack([x.ravel(), y.ravel(), np.full(x.size, 1.0)])
    axes, count = np.tile([0.0, 0.0, 1.0], (len(places), 1)), len(places)

    def light(trace: float) -> BaffledLight:
        flux_lm = np.full((count, 1), 3.0)
        flux_lm[77] *= 1.0 + trace
        forget()
        return light_baffled(box, Emitters(places, axes, np.ones(count), flux_lm, size_mm=0.0), fineness)

    alike, each = light(0.0), light(1e-6)
    near = {"rel": 1e-4 if fineness >= 1.0 else 3e-3}
    assert alike.bounced_at_knots == pytest.approx(each.bounced_at_knots, **near)
    assert alike.direct(4)[0] == pytest.approx(each.direct(4)[0], **near)
    assert alike.lid_flux_lm == pytest.approx(each.lid_flux_lm, **near)
    assert alike.direct_flux_lm == pytest.approx(each.direct_flux_lm, **near)
    assert abs(alike.balance_error) < near["rel"]
