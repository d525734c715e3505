"""What a segment of strip, or a pixel, draws at some volts: typical curves from what its label says.

Analog: LEDs in series with a resistor, as many as the volts leave room for. Pixels: a constant current for each colour, which
falls where the volts no longer suffice, that of blue, green and white before that of red. Forward volts, drop-out and the idle
current are typical, from memory.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import Piece, StripPiece

SOURCE = "typical forward volts and drop-out, from memory"
_RED_NM = 585.0  # from which on an LED is of the red kind
_RED_V, _BLUE_V, _WHITE_V = 2.1, 3.1, 3.0
_ROOM = 0.9  # of the volts: the rest falls over the resistor
_BELOW_V, _ABOVE_V = 0.4, 0.4  # from the forward volts of a pixel's colour to where it is dark, and to where it is full
IDLE_A = 0.001  # of a pixel that is dark; typical, from memory
_IDLE_ZERO_V, _IDLE_FULL_V = 1.5, 2.5


@dataclass(frozen=True)
class Curve:
    """Current of one channel of one segment: V0, g and I_most as in :mod:`circuit`, and what it draws at its nominal volts."""

    zero_v: float
    siemens: float
    most_a: float
    nominal_a: float

    def share(self, volts: FloatArray) -> FloatArray:
        """What it draws over that, which is how much of its light it gives."""
        drawn = np.minimum(np.maximum(volts - self.zero_v, 0.0) * self.siemens, self.most_a)
        return np.asarray(drawn / self.nominal_a) if self.nominal_a > 0 else np.zeros_like(volts)


@dataclass(frozen=True)
class Element:
    """One segment of a piece, or one module: a curve for each channel.

    ``pixels`` is how many pixels it has, which share their minus; 0 for what is analog: there every channel has its own return.
    """

    curves: tuple[Curve, ...]
    pixels: int

    @property
    def returns(self) -> int:
        """How many conductors lead back."""
        return 1 if self.pixels else len(self.curves)


def element_of(piece: Piece) -> Element:
    """Return what one segment of a piece of strip draws, or a module in all."""
    if isinstance(piece, StripPiece):
        strip = piece.strip
        watts = [channel.power_w_per_m * strip.segment_mm / 1000.0 for channel in strip.channel]
        peaks = [channel.peak_nm for channel in strip.channel]
        return _element(peaks, watts, strip.volts, strip.emitters_per_segment, int(strip.kind == "pixel"))
    module = piece.module
    pixels = 0 if module.kind == "chip" else module.emitters
    peaks = [channel.peak_nm for channel in module.channel]
    return _element(
        peaks, [channel.power_w for channel in module.channel], module.volts, 1 if pixels else module.emitters, pixels
    )


def _element(peaks_nm: Sequence[float | None], watts: Sequence[float], volts: float, leds: int, pixels: int) -> Element:
    make = _pixel if pixels else _analog
    curves = [make(forward_v(peak), power / volts, volts, leds) for peak, power in zip(peaks_nm, watts, strict=True)]
    return Element(tuple(curves), pixels)


def forward_v(peak_nm: float | None) -> float:
    """Volts over one LED of a colour, None for white."""
    if peak_nm is None:
        return _WHITE_V
    return _RED_V if peak_nm >= _RED_NM else _BLUE_V


def in_series(each_v: float, volts: float, leds: int) -> int:
    """How many of a segment's LEDs lie in series: as many as leave a tenth of the volts to the resistor."""
    return max(min(leds, math.floor(_ROOM * volts / each_v + 1e-9)), 1)


def _analog(each_v: float, nominal_a: float, volts: float, leds: int) -> Curve:
    zero = in_series(each_v, volts, leds) * each_v
    return Curve(zero, nominal_a / (volts - zero), math.inf, nominal_a)


def _pixel(each_v: float, nominal_a: float, volts: float, leds: int) -> Curve:
    series = in_series(each_v + _ABOVE_V, volts, leds)
    zero, full = (series * (each_v + aside) for aside in (-_BELOW_V, _ABOVE_V))
    return Curve(zero, nominal_a / (full - zero), nominal_a, nominal_a)


def idle_curve(pixels: int) -> Curve:
    """What pixels draw when they are dark."""
    amps = pixels * IDLE_A
    return Curve(_IDLE_ZERO_V, amps / (_IDLE_FULL_V - _IDLE_ZERO_V), amps, amps)
