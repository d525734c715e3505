"""What a display plays: effects and test patterns, as levels of its pixels at any time; and whether they flash."""

from gauze.core.effects.effects import EFFECTS, FILM, Effect, Options, Screen, effect_named
from gauze.core.effects.film import Film
from gauze.core.effects.flashing import MOST_FLASHES_PER_S, flashes_per_s

__all__ = [
    "EFFECTS",
    "FILM",
    "MOST_FLASHES_PER_S",
    "Effect",
    "Film",
    "Options",
    "Screen",
    "effect_named",
    "flashes_per_s",
]
