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
_PER_S, _SECONDS = 60, 4
_SECOND = 1.0 - 1e-6  # so that what repeats each second counts once
_WITHIN_S = 1e-6  # after a picture begins: well inside it
_LUMINANCE = np.array([0.2126, 0.7152, 0.0722])  # of the primaries of sRGB
_BLOCKS = 4  # along each side: what flashes in a part of the display counts


def flashes_per_s(effect: Effect, screen: Screen, options: Options) -> float:
    """Return the most flashes in any second, of any sixteenth of the display; all of a film is looked through."""
    times_s = _times_s(effect, options)
    blocks = np.array([_blocks(effect.frame(float(t), screen, options) @ _LUMINANCE) for t in times_s])
    return max(_most_in_a_second(times_s, one) for one in blocks.T)


def _times_s(effect: Effect, options: Options) -> FloatArray:
    """When to look: at each picture of a film, as it repeats for a second and more; at other effects 60 times a second."""
    if effect.key != FILM or options.film is None:
        return np.arange(_PER_S * _SECONDS) / _PER_S
    until_s = options.film.until_s
    begins_s = np.concatenate([[0.0], until_s[:-1]]) + _WITHIN_S
    rounds = math.ceil(options.speed / options.film.length_s) + 1
    return np.asarray((begins_s + until_s[-1] * np.arange(rounds)[:, None]).ravel() / options.speed)


def _blocks(luminance: FloatArray) -> FloatArray:
    """Mean luminance of the parts of a display."""
    found = []
    for band in np.array_split(luminance, min(_BLOCKS, len(luminance))):
        found += [float(one.mean()) for one in np.array_split(band, min(_BLOCKS, band.shape[1]), axis=1)]
    return np.array(found)


def _most_in_a_second(times_s: FloatArray, luminance: FloatArray) -> float:
    """Count opposing changes that are large enough, from turn to turn; two are a flash."""
    turns: list[float] = []
    extreme, rising = float(luminance[0]), None
    for t_s, value in zip(times_s.tolist(), luminance.tolist(), strict=True):
        if rising is None:
            if abs(value - extreme) >= _CHANGE:
                rising, extreme = value > extreme, value
                turns.append(t_s)
        elif (value > extreme) == rising and value != extreme:
            extreme = value
        elif abs(value - extreme) >= _CHANGE and min(value, extreme) < _DARK:
            rising, extreme = not rising, value
            turns.append(t_s)
    within = np.searchsorted(turns, np.array(turns) + _SECOND) - np.arange(len(turns))
    return float(within.max(initial=0)) / 2.0
