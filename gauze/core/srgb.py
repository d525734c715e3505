"""The curve of sRGB between values and light, both from 0 to 1: IEC 61966-2-1."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

FloatArray = NDArray[np.floating[Any]]


def light_of_values(values: FloatArray) -> FloatArray:
    """Return the light, over that of white, for which values of a picture stand."""
    return np.where(values <= 0.04045, values / 12.92, ((values + 0.055) / 1.055) ** 2.4)


def values_of_light(light: FloatArray) -> FloatArray:
    """Return the values by which a picture stands for light, the other way round."""
    return np.where(light <= 0.0031308, 12.92 * light, 1.055 * light ** (1.0 / 2.4) - 0.055)
