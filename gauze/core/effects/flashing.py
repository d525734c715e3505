"""How often a pattern flashes, which can set off seizures.

A flash is a pair of opposing changes in luminance by a tenth of the most or more, where the darker is below four fifths of it;
more than three in any second are too many: Web Content Accessibility Guidelines, general flash threshold, from memory.
"""

import math

import numpy as np

from gauze.core.effects.effects import FILM, Effect, Options, Screen
from gauze.core.layout.model import FloatArray

MOST_FLASHES_PER_S = 3.0
_CHANGE, _DARK = 0.10, 0.80
_PER_S, _SECONDS = 60, 4.0
_LONGEST_S = 1200.0  # of the longest film at half its speed
_LUMINANCE = np.array([0.2126, 0.7152, 0.0722])  # of the primaries of sRGB
_BLOCKS = 4  # along each side: what flashes in a part of the display counts


def flashes_per_s(effect: Effect, screen: Screen, options: Options) -> float:
    """Return the most flashes in any second, of any sixteenth of the display; a film is looked through whole, and its turn."""
    film = options.film if effect.key == FILM else None
    seconds = _SECONDS if film is None else min(film.length_s / options.speed + 1.0, _LONGEST_S)
    times = np.arange(math.ceil(_PER_S * seconds)) / _PER_S
    blocks = np.array([_blocks(effect.frame(float(t), screen, options) @ _LUMINANCE) for t in times])
    return max(_most_in_a_second(one) for one in blocks.T)


def _blocks(luminance: FloatArray) -> FloatArray:
    """Mean luminance of the parts of a display."""
    found = []
    for band in np.array_split(luminance, min(_BLOCKS, len(luminance))):
        found += [float(one.mean()) for one in np.array_split(band, min(_BLOCKS, band.shape[1]), axis=1)]
    return np.array(found)


def _most_in_a_second(luminance: FloatArray) -> float:
    """Count opposing changes that are large enough, from turn to turn; two are a flash."""
    turns: list[int] = []
    extreme, rising = float(luminance[0]), None
    for index, value in enumerate(luminance.tolist()):
        if rising is None:
            if abs(value - extreme) >= _CHANGE:
                rising, extreme = value > extreme, value
                turns.append(index)
        elif (value > extreme) == rising and value != extreme:
            extreme = value
        elif abs(value - extreme) >= _CHANGE and min(value, extreme) < _DARK:
            rising, extreme = not rising, value
            turns.append(index)
    within = [sum(1 for turn in turns if first <= turn < first + _PER_S) for first in turns]
    return max(within, default=0) / 2.0
