"""Effects and test patterns: the levels of red, green and blue of every pixel, as pure functions of the time.

Levels have shape (rows, columns, 3), 0 to 1, the first row below. The same time gives the same picture, so that what is seen can
be looked at again.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from gauze.core.effects.film import Film
from gauze.core.layout.families.pixel_text import GLYPH_ROWS, text_line
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.words import Words, say

FILM = "film"
_WALK_PER_S = 8.0
_CHANGES_EVERY_S = 1.0
_GAP = 4  # dark columns between the end of a text and its beginning


@dataclass(frozen=True)
class Screen:
    """A display: how many pixels, and in which order the data run: row and column of every index, (n, 2); ``piece`` of each.

    Without data it is counted row by row.
    """

    columns: int
    rows: int
    order: IndexArray
    piece: IndexArray


@dataclass(frozen=True)
class Options:
    """What is typed: a text, a colour, how fast; ``clock`` is what a clock shows, ``film`` what was read from a file."""

    text: str = "TIDE 10:42"
    colour: tuple[float, float, float] = (1.0, 1.0, 1.0)
    speed: float = 1.0
    clock: str = "10:42"
    film: Film | None = None


Frame = Callable[[float, Screen, Options], FloatArray]


@dataclass(frozen=True)
class Effect:
    """One effect: its key, its name, and the levels at a time in seconds."""

    key: str
    name: Words
    frame: Frame


def _coloured(field: FloatArray, options: Options) -> FloatArray:
    return np.asarray(field[..., None] * np.array(options.colour))


def _text(t_s: float, screen: Screen, options: Options) -> FloatArray:
    """Comes in from the right and runs through, four columns a second."""
    line = text_line(options.text)
    scale = max(screen.rows // GLYPH_ROWS, 1)
    drawn = np.kron(line, np.ones((scale, scale)))[: screen.rows]
    length = drawn.shape[1] + screen.columns + _GAP
    at = round(4.0 * scale * options.speed * t_s) % length
    wide = np.zeros((screen.rows, length + screen.columns))
    top = (screen.rows - drawn.shape[0]) // 2
    wide[top : top + drawn.shape[0], screen.columns : screen.columns + drawn.shape[1]] = drawn
    return _coloured(wide[:, at : at + screen.columns][::-1], options)


def _clock(t_s: float, screen: Screen, options: Options) -> FloatArray:
    """The time, its colon on for half of every second."""
    text = options.clock if t_s % 1.0 < 0.5 else options.clock.replace(":", " ")
    line = text_line(options.clock)
    blank = text_line(text, like=options.clock)
    scale = max(min(screen.columns // line.shape[1], screen.rows // GLYPH_ROWS), 1)
    drawn = np.kron(blank, np.ones((scale, scale)))[: screen.rows, : screen.columns]
    field = np.zeros((screen.rows, screen.columns))
    top, left = (screen.rows - drawn.shape[0]) // 2, (screen.columns - drawn.shape[1]) // 2
    field[top : top + drawn.shape[0], left : left + drawn.shape[1]] = drawn
    return _coloured(field[::-1], options)


def _bars(t_s: float, screen: Screen, options: Options) -> FloatArray:
    """Columns that rise and fall as those of a level meter do."""
    column = np.arange(screen.columns)
    high = (
        0.5
        + 0.28 * np.sin(1.7 * options.speed * t_s + 0.9 * column)
        + 0.22 * np.sin(2.9 * options.speed * t_s + 0.37 * column)
    )
    return _coloured((np.arange(screen.rows)[:, None] < np.round(high * screen.rows)).astype(float), options)


def _hues(hue: FloatArray) -> FloatArray:
    """Full colours by hue, 0 to 1."""
    away = np.abs((hue[..., None] + np.array([0.0, 2.0 / 3.0, 1.0 / 3.0])) % 1.0 * 6.0 - 3.0) - 1.0
    return np.asarray(np.clip(away, 0.0, 1.0))


def _gradient(t_s: float, screen: Screen, options: Options) -> FloatArray:
    """All hues, moving across."""
    across = np.arange(screen.columns) / screen.columns + 0.1 * options.speed * t_s
    return np.broadcast_to(_hues(across % 1.0), (screen.rows, screen.columns, 3)).copy()


def _lattice(x: FloatArray, y: FloatArray, z: FloatArray) -> FloatArray:
    """Smooth noise, 0 to 1: values of a lattice, blended."""

    def value(i: FloatArray, j: FloatArray, k: FloatArray) -> FloatArray:
        return np.asarray((np.sin(i * 127.1 + j * 311.7 + k * 74.7) * 43758.5453) % 1.0)

    cell = [np.floor(one) for one in (x, y, z)]
    share = [one - low for one, low in zip((x, y, z), cell, strict=True)]
    a, b, c = (one * one * (3.0 - 2.0 * one) for one in share)
    total = np.zeros(np.broadcast(x, y, z).shape)
    for dx in (0.0, 1.0):
        for dy in (0.0, 1.0):
            for dz in (0.0, 1.0):
                weight = (a if dx else 1.0 - a) * (b if dy else 1.0 - b) * (c if dz else 1.0 - c)
                total += weight * value(cell[0] + dx, cell[1] + dy, cell[2] + dz)
    return total


def _places(screen: Screen) -> tuple[FloatArray, FloatArray]:
    y, x = np.mgrid[0 : screen.rows, 0 : screen.columns].astype(float)
    return x, y


def _fire(t_s: float, screen: Screen, options: Options) -> FloatArray:
    """Flames that rise and thin out upwards."""
    x, y = _places(screen)
    up = y / max(screen.rows - 1, 1)
    t = options.speed * t_s
    heat = 1.3 * _lattice(x / 3.0, y / 3.0 - 2.0 * t, np.full_like(x, 0.6 * t)) + 0.35 - 1.05 * up
    levels = np.stack([1.6 * heat, 1.6 * heat - 0.55, 1.2 * heat - 0.95], axis=-1)
    return np.asarray(np.clip(levels, 0.0, 1.0))


def _clouds(t_s: float, screen: Screen, options: Options) -> FloatArray:
    """Slow colours that drift."""
    x, y = _places(screen)
    drift = np.full_like(x, 0.25 * options.speed * t_s)
    hue = _lattice(x / 9.0, y / 9.0, drift) + 0.05 * options.speed * t_s
    return np.asarray(_hues(hue % 1.0) * (0.35 + 0.65 * _lattice(x / 5.0, y / 5.0, drift + 7.0))[..., None])


def _walk(t_s: float, screen: Screen, options: Options) -> FloatArray:
    """One pixel after the other, in the order of the data."""
    levels = np.zeros((screen.rows, screen.columns, 3))
    row, column = screen.order[int(_WALK_PER_S * options.speed * t_s) % len(screen.order)]
    levels[row, column] = options.colour
    return levels


def _colours(t_s: float, screen: Screen, options: Options) -> FloatArray:
    """Red, green, blue, all: whatever shows otherwise has its colours in another order."""
    turn = int(options.speed * t_s / _CHANGES_EVERY_S) % 4
    colour = np.ones(3) if turn == 3 else np.eye(3)[turn]
    return np.broadcast_to(colour, (screen.rows, screen.columns, 3)).copy()


def _pieces(_t_s: float, screen: Screen, _options: Options) -> FloatArray:
    """Every piece in a colour of its own, its first pixel white."""
    count = int(screen.piece.max()) + 1
    levels = np.zeros((screen.rows, screen.columns, 3))
    rows, columns = screen.order.T
    levels[rows, columns] = _hues(screen.piece / max(count, 1))
    _, first = np.unique(screen.piece, return_index=True)
    levels[rows[first], columns[first]] = 1.0
    return levels


def _film(t_s: float, screen: Screen, options: Options) -> FloatArray:
    """What was read for a display of this size; dark where nothing was."""
    film = options.film
    if film is None or film.pictures.shape[1:3] != (screen.rows, screen.columns):
        return np.zeros((screen.rows, screen.columns, 3))
    return film.at(options.speed * t_s)


EFFECTS = (
    Effect("text", say("Text that runs"), _text),
    Effect("clock", say("Clock"), _clock),
    Effect("bars", say("Level bars"), _bars),
    Effect("gradient", say("All hues"), _gradient),
    Effect("fire", say("Fire"), _fire),
    Effect("clouds", say("Drifting colours"), _clouds),
    Effect(FILM, say("Picture or animation"), _film),
    Effect("walk", say("Test: pixel by pixel"), _walk),
    Effect("colours", say("Test: red, green, blue, all"), _colours),
    Effect("pieces", say("Test: piece by piece"), _pieces),
)


def effect_named(key: str) -> Effect:
    """Return an effect by its key; raises :class:`KeyError`."""
    return {effect.key: effect for effect in EFFECTS}[key]
