"""Copper wire: its resistance by section, and what it may carry.

Resistances of flexible (class 5) conductors at 20 degC: IEC 60228, from memory; sections between and beside those of the table by
their area, from the nearest. Currents for flexible cords in free air at
30 degC: DIN VDE 0298-4, table for cords, from memory; thinner ones by common practice, no source.
"""

import functools
import math
from dataclasses import dataclass

import numpy as np

SOURCE = "IEC 60228 class 5 at 20 °C, from memory"
CURRENT_SOURCE = "DIN VDE 0298-4 for flexible cords, from memory; below 0.5 mm² common practice, no source"
CLASS_5_OHM_PER_KM = {
    0.5: 39.0,
    0.75: 26.0,
    1.0: 19.5,
    1.5: 13.3,
    2.5: 7.98,
    4.0: 4.95,
    6.0: 3.30,
    10.0: 1.91,
    16.0: 1.21,
}
CARRIES_A = {
    0.14: 1.0,
    0.25: 2.0,
    0.34: 2.5,
    0.5: 3.0,
    0.75: 6.0,
    1.0: 10.0,
    1.5: 16.0,
    2.5: 25.0,
    4.0: 32.0,
    6.0: 40.0,
    10.0: 63.0,
    16.0: 82.0,
}
SECTIONS_MM2 = tuple(sorted(CARRIES_A))
FUSES_A = (
    1.0,
    2.0,
    3.0,
    5.0,
    7.5,
    10.0,
    15.0,
    20.0,
    25.0,
    30.0,
    40.0,
    50.0,
    60.0,
    80.0,
)  # blade fuses: common practice, no source
_INSULATION_MM, _LAY, _LOOSE = (
    0.6,
    1.5,
    1.15,
)  # wall, strands over their copper, a bundle in its hole; typical, from memory
HOLE_SOURCE = "outer diameters of flexible wire, typical, from memory"
FUSE_OVER = 1.25  # times what flows: a fuse is not loaded to its rating for long; common practice, no source


@functools.cache
def ohm_per_km(section_mm2: float) -> float:
    """Resistance of a conductor; of a section that is not in the table by that of the nearest, as the inverse of the area."""
    nearest = min(CLASS_5_OHM_PER_KM, key=lambda known: abs(math.log(known / section_mm2)))
    return CLASS_5_OHM_PER_KM[nearest] * nearest / section_mm2


def wire_ohm(section_mm2: float, length_mm: float) -> float:
    """Resistance of one conductor of a length."""
    return ohm_per_km(section_mm2) * length_mm / 1e6


def carries_a(section_mm2: float) -> float:
    """What a conductor may carry, in a straight line between the sections of the table, and from none to the least of them."""
    sections = np.array([0.0, *SECTIONS_MM2])
    return float(np.interp(section_mm2, sections, [0.0, *(CARRIES_A[one] for one in SECTIONS_MM2)]))


def thinnest_mm2(current_a: float) -> float | None:
    """Return the thinnest section of the table that may carry a current; None when none may."""
    return next((one for one in SECTIONS_MM2 if CARRIES_A[one] >= current_a), None)


@dataclass(frozen=True)
class Fuse:
    """A fuse for a wire: ``rating_a`` None where no standard one lies above what flows and at or below what the wire carries."""

    rating_a: float | None
    least_a: float
    most_a: float


def fuse_for(current_a: float, section_mm2: float) -> Fuse:
    """Choose a fuse: above what flows, so that it lasts, and at most what the wire carries, so that it blows first."""
    least, most = current_a * FUSE_OVER, carries_a(section_mm2)
    return Fuse(next((one for one in FUSES_A if least <= one <= most), None), least, most)


def outer_mm(section_mm2: float) -> float:
    """Outer diameter of an insulated flexible wire."""
    return 2.0 * math.sqrt(_LAY * section_mm2 / math.pi) + 2.0 * _INSULATION_MM


def bundle_mm(section_mm2: float, wires: int) -> float:
    """Diameter of a hole for wires of a section, in half millimetres.

    The least circle around so many equal ones: 1, 2, 1 + 2/√3 and 1 + √2 diameters for 1 to 4, and near 1.15 times the root of
    their number beyond.
    """
    closed = {1: 1.0, 2: 2.0, 3: 1.0 + 2.0 / math.sqrt(3.0), 4: 1.0 + math.sqrt(2.0)}
    around = closed.get(wires, 1.15 * math.sqrt(wires) + 0.2)
    return math.ceil(2.0 * _LOOSE * around * outer_mm(section_mm2)) / 2.0
