"""A display that plays, against the light of the same picture as it is computed."""

import msgspec
import numpy as np
import pytest

from gauze.core.design import Design, StripChoice, with_build
from gauze.core.design.pixel_display import PixelDisplay, Show
from gauze.core.evaluate import Detail, evaluate
from gauze.core.evaluate.playing import Response, _sampled, response_of
from gauze.core.layout.families.pixel_display import DisplayLayout
from tests.builders import CATALOGUE
from tests.families import bars, cells, display, family, strip_display

FINE = Detail(fineness=0.4, most_pixels=60_000, target_points=1)


def computed(what: Design, response: Response, axis: int) -> tuple[np.ndarray, np.ndarray]:
    """The map of what is shown at the samples of the response, and its levels."""
    lit = evaluate(what, CATALOGUE, FINE)
    layout = lit.layout.as_kind(DisplayLayout)
    assert layout.shown is not None
    return _sampled(lit, layout, response.samples, lit.xyz[axis]), np.moveaxis(layout.shown, 0, -1)


# as far as one pixel of a display of few spreads unlike another: walls are near to all of them
@pytest.mark.parametrize(
    ("build", "off"), [(display(), 0.045), (cells(), 0.01), (strip_display(), 0.025)], ids=["grids", "cells", "strips"]
)
def test_a_text_that_plays_is_the_text_as_it_is_computed(build: PixelDisplay, off: float) -> None:
    what = family(msgspec.structs.replace(build, show=Show(kind="text", text="H", colour=(1.0, 0.4, 0.1))))
    response = response_of(what, CATALOGUE)
    for axis in range(3):
        true, levels = computed(what, response, axis)
        ours = response.picture(levels)[axis]
        assert ours.shape == true.shape
        assert np.sqrt(((ours - true) ** 2).mean()) < off * true.max()
        assert ours.sum() == pytest.approx(true.sum(), rel=0.04)


def test_all_on_is_exact_and_half_is_half() -> None:
    response = response_of(family(cells()), CATALOGUE)
    every = np.ones((response.screen.rows, response.screen.columns, 3))
    whole = response.picture(every)
    assert whole[1].mean() == pytest.approx(response.white_cd_m2, rel=1e-4)
    assert response.picture(0.5 * every) == pytest.approx(0.5 * whole, rel=1e-4, abs=1e-4)
    assert response.picture(0.0 * every).max() <= 1e-3 * whole.max()


def test_amps_are_those_of_the_label() -> None:
    """60 mA for a full white pixel at 5 V: common practice, no source; dark ones draw about 1 mA, from memory."""
    response = response_of(family(display()), CATALOGUE)
    count = response.screen.rows * response.screen.columns
    every = np.ones((response.screen.rows, response.screen.columns, 3))
    assert response.drawn_a(every) == pytest.approx(count * (0.060 + 0.001), rel=0.02)
    assert response.drawn_a(0.0 * every) == pytest.approx(count * 0.001, rel=0.01)


def test_a_fourth_channel_takes_what_the_three_share() -> None:
    what = with_build(family(strip_display()), strips=(StripChoice(strip="5v-rgbw-pixel-60"),))
    response = response_of(what, CATALOGUE)
    assert response.channel_levels(np.array([[[1.0, 0.5, 0.25]]])).tolist() == [[[0.75, 0.25, 0.0, 0.25]]]


def test_other_families_do_not_play() -> None:
    with pytest.raises(TypeError):
        response_of(family(bars()), CATALOGUE)
