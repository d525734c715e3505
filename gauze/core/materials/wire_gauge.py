"""American wire gauges: ASTM B258, d = 0.127 x 92^((36 - n) / 39) mm."""

import math


def diameter_of_gauge_mm(gauge: int) -> float:
    """Diameter of a solid wire by its gauge."""
    return float(0.127 * 92.0 ** ((36 - gauge) / 39.0))


def section_of_gauge_mm2(gauge: int) -> float:
    """Area of a wire by its gauge."""
    return float(math.pi / 4.0 * diameter_of_gauge_mm(gauge) ** 2)
