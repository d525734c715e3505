"""Light that is dimmed by pulses: how much it flickers, for eyes by IEEE 1789 and for a camera by its exposure.

IEEE Std 1789-2015, from memory: at a frequency f the modulation in percent is of low risk up to 0.025 f below 90 Hz, up to
0.08 f above, and without a limit from 1250 Hz on; no effect is observed up to 0.01 f, 0.0333 f, and from 3000 Hz on. Pulses are
on and off: their modulation is 100 %.
"""

import math

SOURCE = "IEEE Std 1789-2015, from memory"
SEEN_HZ = 90.0  # below which the standard asks for far less
_LOW_RISK = (0.025, 0.08, 1250.0)
_NO_EFFECT = (0.01, 0.0333, 3000.0)


def modulation_percent(duty: float) -> float:
    """Modulation of pulses that are on for a share of the time: all of it, unless they are always on or always off."""
    return 100.0 if 0.0 < duty < 1.0 else 0.0


def low_risk_percent(frequency_hz: float) -> float:
    """Most modulation of low risk; infinite where there is no limit."""
    return _limit(frequency_hz, _LOW_RISK)


def no_effect_percent(frequency_hz: float) -> float:
    """Most modulation of which no effect is observed; infinite where there is no limit."""
    return _limit(frequency_hz, _NO_EFFECT)


def _limit(frequency_hz: float, rule: tuple[float, float, float]) -> float:
    slow, fast, free_hz = rule
    if frequency_hz > free_hz:
        return math.inf
    return (slow if frequency_hz < SEEN_HZ else fast) * frequency_hz


def band_contrast(frequency_hz: float, exposure_s: float, duty: float) -> float:
    """Contrast (most - least) / (most + least) of the bands that an exposure leaves, from its luckiest to its unluckiest start.

    In n whole periods and a rest of r periods the light is on for n duty, and in the rest for min(r, duty) at most and
    max(0, r - (1 - duty)) at least.
    """
    if not 0.0 < duty < 1.0:
        return 0.0
    periods = frequency_hz * exposure_s
    whole = math.floor(periods + 1e-12)
    rest = max(periods - whole, 0.0)
    most, least = min(rest, duty), max(0.0, rest - (1.0 - duty))
    return (most - least) / (2.0 * whole * duty + most + least) if most > 0 or whole else 0.0
