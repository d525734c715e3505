"""Effects are pictures of any display at any time; flashes are counted as the guidelines count them."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.effects import (
    EFFECTS,
    FILM,
    MOST_FLASHES_PER_S,
    Effect,
    Film,
    Options,
    Screen,
    effect_named,
    flashes_per_s,
)
from gauze.core.effects.film import light_of, values_of
from gauze.core.layout.model import FloatArray
from gauze.core.words import say


def screen(columns: int, rows: int, pieces: int = 1) -> Screen:
    index = np.arange(columns * rows)
    return Screen(columns, rows, np.stack(np.divmod(index, columns), axis=1), index * pieces // (columns * rows))


@pytest.mark.parametrize("effect", EFFECTS, ids=lambda one: one.key)
@given(
    columns=st.integers(1, 64),
    rows=st.integers(1, 32),
    t_s=st.floats(0.0, 1e5),
    text=st.text(min_size=1, max_size=20),
    speed=st.floats(0.05, 4.0),
)
def test_every_effect_is_a_picture_of_any_display_at_any_time(
    effect: Effect, columns: int, rows: int, t_s: float, text: str, speed: float
) -> None:
    options = Options(text=text, speed=speed, clock="23:59")
    levels = effect.frame(t_s, screen(columns, rows), options)
    assert levels.shape == (rows, columns, 3)
    assert np.isfinite(levels).all()
    assert levels.min() >= 0.0
    assert levels.max() <= 1.0
    assert np.array_equal(levels, effect.frame(t_s, screen(columns, rows), options))  # seen again it is the same


def test_the_walk_goes_through_every_pixel_in_the_order_of_the_data() -> None:
    where = screen(5, 3)
    order = where.order[::-1]
    back = Screen(5, 3, order, where.piece)
    walk = effect_named("walk")
    for number in range(15):
        levels = walk.frame((number + 0.5) / 8.0, back, Options())
        assert np.argwhere(levels.sum(axis=2) > 0).tolist() == [order[number].tolist()]


def test_colours_take_turns_and_pieces_differ() -> None:
    colours = effect_named("colours")
    seen = [colours.frame(t + 0.5, screen(4, 2), Options())[0, 0].tolist() for t in range(4)]
    assert seen == [[1, 0, 0], [0, 1, 0], [0, 0, 1], [1, 1, 1]]
    levels = effect_named("pieces").frame(0.0, screen(8, 2, pieces=4), Options())
    assert len({tuple(levels[row, column]) for row, column in ((0, 1), (0, 5), (1, 1), (1, 5))}) == 4


def test_a_text_comes_in_and_leaves_and_a_clock_blinks() -> None:
    text = effect_named("text")
    lit = [text.frame(t, screen(32, 8), Options(text="HI")).sum() for t in np.arange(0.0, 20.0, 0.25)]
    assert min(lit) == 0.0
    assert max(lit) > 30.0
    clock = effect_named("clock")
    on, off = (clock.frame(t, screen(32, 8), Options()).sum() for t in (0.1, 0.6))
    assert 0 < on - off < 0.2 * on  # two dots of it


def square(hertz: float, low: float = 0.0, high: float = 1.0, part: float = 1.0) -> Effect:
    def frame(t_s: float, where: Screen, _options: Options) -> FloatArray:
        levels = np.full((where.rows, where.columns, 3), low)
        if int(2.0 * hertz * t_s + 1e-9) % 2:
            levels[: max(round(part * where.rows), 1)] = high
        return levels

    return Effect("square", say("square"), frame)


@pytest.mark.parametrize("hertz", [1.0, 2.0, 3.0, 5.0, 10.0, 15.0])
def test_a_square_wave_flashes_as_often_as_its_frequency(hertz: float) -> None:
    found = flashes_per_s(square(hertz), screen(16, 8), Options())
    assert found == pytest.approx(hertz, abs=0.6)
    assert (found > MOST_FLASHES_PER_S) == (hertz > 3.5)


def test_what_changes_little_or_only_among_the_bright_is_no_flash() -> None:
    """Web Content Accessibility Guidelines: a tenth of the most, the darker below 0.80 of it."""
    where = screen(16, 8)
    assert flashes_per_s(square(8.0, 0.40, 0.49), where, Options()) == 0.0
    assert flashes_per_s(square(8.0, 0.85, 1.0), where, Options()) <= 0.5
    assert flashes_per_s(square(8.0, 0.40, 0.60), where, Options()) == pytest.approx(8.0, abs=0.6)
    assert flashes_per_s(square(8.0, part=0.25), where, Options()) == pytest.approx(8.0, abs=0.6)  # in a part of it


@pytest.mark.parametrize("effect", [one for one in EFFECTS if one.key != "walk"], ids=lambda one: one.key)
def test_what_ships_flashes_at_no_more_than_is_safe_as_fast_as_usual(effect: Effect) -> None:
    assert flashes_per_s(effect, screen(64, 32, pieces=8), Options()) <= MOST_FLASHES_PER_S


def test_a_film_stands_as_long_as_it_says_and_its_flashes_are_counted_to_its_end() -> None:
    dark, lit = np.zeros((2, 3, 3), np.uint8), np.full((2, 3, 3), 255, np.uint8)
    film = Film("film", np.stack([dark, lit, dark]), np.array([0.5, 2.0, 3.0]))
    effect = effect_named(FILM)
    seen = [
        effect.frame(t, screen(3, 2), Options(film=film)).mean() for t in (0.0, 0.49, 0.51, 1.9, 2.1, 2.9, 3.2, 3.6)
    ]
    assert seen == [0, 0, 1, 1, 0, 0, 0, 1]
    assert effect.frame(0.3, screen(3, 2), Options(film=film, speed=4.0)).mean() == 1
    assert effect.frame(1.0, screen(4, 2), Options(film=film)).max() == 0  # read for another display
    flicker = [dark, lit] * 20
    late = Film("late", np.stack([dark, *flicker]), np.concatenate([[20.0], 20.0 + np.arange(1, 41) / 10.0]))
    assert flashes_per_s(effect, screen(3, 2), Options(film=late)) > MOST_FLASHES_PER_S
    assert flashes_per_s(effect, screen(3, 2), Options(film=film)) <= 1.0
    brief = Film("brief", np.stack([dark, lit]), np.array([0.05, 0.1]))
    assert flashes_per_s(effect, screen(3, 2), Options(film=brief)) == pytest.approx(10.0, abs=0.5)  # it repeats
    assert flashes_per_s(effect, screen(3, 2), Options(film=brief, speed=0.25)) == pytest.approx(2.5, abs=0.5)


def test_light_is_the_curve_of_srgb() -> None:
    """IEC 61966-2-1: value 188 is half of the light within half a step, 118 is 18 %; there and back is the same."""
    assert light_of(np.array([0, 255], np.uint8)).tolist() == [0.0, 1.0]
    assert light_of(np.array(188, np.uint8)) == pytest.approx(0.5, abs=0.004)
    assert light_of(np.array(118, np.uint8)) == pytest.approx(0.18, abs=0.002)
    every = np.arange(256).astype(np.uint8)
    assert np.array_equal(values_of(light_of(every)), every)
