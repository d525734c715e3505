"""A battery emptied by a build: its volts over its charge, and how long it lasts.

Open-circuit volts over the state of charge are typical of the cells, from memory; the inner resistance makes them fall
under load.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from gauze.core.layout.model import FloatArray
from gauze.core.materials.labels import BatteryLabel

# of the way from empty to full, at each state of charge; typical discharge curves, from memory
_CHARGE = np.array([0.0, 0.05, 0.10, 0.20, 0.50, 0.80, 0.90, 1.0])
_CURVES: dict[str, tuple[float, ...]] = {
    "lithium_ion": (0.0, 0.35, 0.45, 0.53, 0.63, 0.82, 0.91, 1.0),
    "lithium_iron_phosphate": (0.0, 0.45, 0.60, 0.70, 0.80, 0.88, 0.91, 1.0),
    "lead_acid": (0.0, 0.06, 0.12, 0.24, 0.55, 0.84, 0.92, 1.0),
    "nickel_metal_hydride": (0.0, 0.38, 0.50, 0.60, 0.70, 0.80, 0.87, 1.0),
    "alkaline": (0.0, 0.12, 0.20, 0.31, 0.55, 0.78, 0.87, 1.0),
}
SOURCE = "typical discharge of its cells, from memory"
_STEPS = 100
_LOOKS, _ROUNDS = 200, 40


@dataclass(frozen=True)
class Run:
    """How long a battery lasts: hours, the amps that it gives at the beginning and the end, and its volts then.

    ``charge_left`` is the share of its charge that is left when its volts have fallen to where it ends.
    """

    hours: float
    first_a: float
    last_a: float
    first_v: float
    last_v: float
    charge_left: float


def open_circuit_v(battery: BatteryLabel, charge: FloatArray) -> FloatArray:
    """Volts without load at a state of charge, 0 to 1."""
    low, high = battery.typical_empty_v, battery.full_v
    return np.asarray(low + (high - low) * np.interp(charge, _CHARGE, _CURVES[battery.chemistry]))


def run_time(
    battery: BatteryLabel, drawn_a: Callable[[float], float], mean_share: float = 1.0, least_v: float = 0.0
) -> Run | None:
    """Empty a battery, down to its cut-off or to ``least_v`` where that is higher.

    Parameters
    ----------
    drawn_a:
        Amps that are drawn at some volts at its terminals, while on.
    mean_share:
        For what share of the time that is; the volts fall by the amps that flow while on, the charge by their mean.

    Returns ``None`` where it cannot even begin: under load the full battery is below its cut-off.
    """
    charges = np.linspace(1.0, 0.0, _STEPS + 1)
    open_v = open_circuit_v(battery, charges)
    hours, met = 0.0, list[tuple[float, float, float]]()
    for charge, volts in zip(charges.tolist(), open_v.tolist(), strict=True):
        terminal_v, amps = _under_load(volts, battery.inner_ohm, drawn_a)
        if terminal_v < max(battery.empty_v, least_v):
            break
        if met:
            mean = mean_share * (amps + met[-1][1]) / 2.0
            if mean <= 0.0:
                return None
            hours += battery.amp_hours / _STEPS / mean
        met.append((terminal_v, amps, charge))
    if len(met) < 2:
        return None
    return Run(hours, met[0][1], met[-1][1], met[0][0], met[-1][0], met[-1][2])


def _under_load(open_v: float, inner_ohm: float, drawn_a: Callable[[float], float]) -> tuple[float, float]:
    """Volts at the terminals and amps where both agree, V + R I(V) = V0: the highest such volts, sought from above and halved.

    What draws the same watts at any volts has a lower solution as well, at which nothing stays. 0 where there is none.
    """
    above, step = open_v, open_v / _LOOKS
    for look in range(1, _LOOKS):
        below = open_v - look * step
        if below + inner_ohm * drawn_a(below) <= open_v:
            break
        above = below
    else:
        return 0.0, 0.0
    for _ in range(_ROUNDS):
        middle = (below + above) / 2.0
        if middle + inner_ohm * drawn_a(middle) <= open_v:
            below = middle
        else:
            above = middle
    return below, drawn_a(below)


def through_converter(watts: float, efficiency: float) -> Callable[[float], float]:
    """Amps that a converter draws at some volts to give so many watts."""
    return lambda volts: watts / efficiency / max(volts, 1e-6)
