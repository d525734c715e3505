"""A picture or an animation that a display plays: its pictures, brought to the display's pixels, and until when each stands."""

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from gauze.core.layout.model import FloatArray
from gauze.core.srgb import light_of_values, values_of_light


@cache
def _levels() -> NDArray[np.float32]:
    """Share of full light for each of the 256 values of sRGB."""
    return light_of_values(np.arange(256) / 255.0).astype(np.float32)


def light_of(picture: NDArray[np.uint8]) -> NDArray[np.float32]:
    """Return how much light the values of a picture in sRGB stand for, 0 to 1."""
    return np.asarray(_levels()[picture])


def values_of(light: FloatArray | NDArray[np.float32]) -> NDArray[np.uint8]:
    """Return the values in sRGB of so much light, 0 to 1: the other way round."""
    return np.asarray(np.rint(255.0 * values_of_light(np.clip(light, 0.0, 1.0))), np.uint8)


@dataclass(frozen=True, eq=False)
class Film:
    """Pictures in sRGB, (count, rows, columns, 3), the first row below; ``until_s`` says until when each stands, rising."""

    name: str
    pictures: NDArray[np.uint8]
    until_s: FloatArray

    @property
    def length_s(self) -> float:
        """After how long it begins again."""
        return float(self.until_s[-1])

    def at(self, t_s: float) -> FloatArray:
        """Return the light of its pixels at a time."""
        index = int(np.searchsorted(self.until_s, t_s % self.length_s, side="right"))
        return light_of(self.pictures[min(index, len(self.pictures) - 1)]).astype(np.float64)
