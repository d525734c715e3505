"""What to set a timer to for pulses of a wanted frequency: its divider and how far it counts."""

from collections.abc import Sequence
from dataclasses import dataclass

SOURCE = "a counter from 0 to its top and over again, clock / (divider × (top + 1)); common practice, from memory"


@dataclass(frozen=True)
class TimerSetting:
    """A divider of the clock and the number at which the counter begins again; ``frequency_hz`` is what that makes."""

    divider: int
    top: int
    frequency_hz: float

    @property
    def steps(self) -> int:
        """In how many steps the level can be set."""
        return self.top + 1


def timer_for(clock_hz: float, bits: int, dividers: Sequence[int], wanted_hz: float) -> TimerSetting | None:
    """Return the setting with the most steps that comes nearest to a frequency.

    The smallest divider with which the counter holds a whole period has the most steps. ``None`` where none can: the frequency
    is too low even for the largest divider, or too high to count to 1.
    """
    for divider in sorted(dividers):
        counts = round(clock_hz / (divider * wanted_hz))
        if counts < 2:
            return None
        if counts <= 2**bits:
            return TimerSetting(divider, counts - 1, clock_hz / (divider * counts))
    return None
