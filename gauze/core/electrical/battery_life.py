"""How long a build runs on its battery, at several levels, and what becomes of its light by then."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import msgspec
import numpy as np

from gauze.core.design.wiring import BatterySupply, Wiring
from gauze.core.electrical.battery import Run, run_time, through_converter
from gauze.core.electrical.data_line import pixel_runs
from gauze.core.electrical.elements import IDLE_A
from gauze.core.electrical.loads import highest_volts
from gauze.core.electrical.power import Power, kind_of, power_of
from gauze.core.electrical.schemes import battery_feeds_v
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import Piece
from gauze.core.parts import Joint

LEVELS = (1.0, 0.5, 0.25)
LEAST_LIGHT = 0.25  # of its light with a full battery, at which a light counts as gone out; common practice, no source
SAMPLES = 17  # volts at which the circuit is solved for a battery without a converter


@dataclass(frozen=True)
class BatteryLife:
    """What comes of a battery in a build.

    ``volts`` is the voltage that it feeds, ``highest_v`` what its pieces stand. ``runs`` are those at ``LEVELS`` of
    everything that is on, None where it cannot even begin; ``set_run`` is that at the levels that are set, which are on for
    ``set_share`` of the time. ``first_light`` and ``last_light`` are the light at full level over that of the labels, at the
    beginning and the end of a run. ``most_a`` is the largest current of the battery, ``on_a`` what the build draws of it, or of
    its converter, while on; ``idle_share`` of that is what its pixels draw while they are dark.
    """

    choice: BatterySupply
    volts: float
    highest_v: float
    runs: tuple[Run | None, ...]
    set_run: Run | None
    set_share: float
    first_light: float
    last_light: float
    most_a: float
    on_a: float
    idle_share: float

    @property
    def full_run(self) -> Run | None:
        """The run at full level."""
        return self.runs[0]

    def level_for(self, wanted_h: float) -> float | None:
        """Share of full level at which it lasts so long: hours follow from the mean amps; None where none does."""
        full = self.full_run
        if full is None or self.idle_share >= 1.0:
            return None
        level = (full.hours / wanted_h - self.idle_share) / (1.0 - self.idle_share)
        return min(level, 1.0) if level > 0 else None


def life_of(pieces: Sequence[Piece], joints: Sequence[Joint], wiring: Wiring, power: Power) -> BatteryLife | None:
    """Return how long the battery of a build lasts; None where none feeds, or nothing is on."""
    choice = wiring.battery
    if choice is None:
        return None
    volts = battery_feeds_v(choice, [one.volts for one in power.supplies])
    own = [piece for piece in pieces if kind_of(piece).volts == volts]
    supply = next(one for one in power.supplies if one.volts == volts)
    if supply.needed_a <= 0.0:
        return None
    on_w = supply.terminal_v * supply.peak_a
    set_share = supply.mean_w / on_w if on_w > 0.0 else 1.0
    highest_v = min(highest_volts(piece) for piece in own)
    fed = _Fed(own, joints, msgspec.structs.replace(wiring, battery=None))
    runs = pixel_runs(own, joints)
    idle_a = IDLE_A * (runs[-1].last + 1) if runs else 0.0
    find = _direct if choice.converter is None else _converted
    idle_share = min(idle_a / supply.peak_a, 1.0) if on_w > 0.0 else 0.0
    return find(choice, (volts, highest_v), fed, set_share, idle_share)


@dataclass(frozen=True)
class _Fed:
    """The pieces that a battery feeds, and how."""

    pieces: Sequence[Piece]
    joints: Sequence[Joint]
    wiring: Wiring

    def at_volts(self, volts: float) -> tuple[float, float]:
        """Amps that they draw while on, and their light over their labels'."""
        power = power_of(self.pieces, self.joints, msgspec.structs.replace(self.wiring, supply_volts=volts))
        assert power is not None
        shares = [float(piece.share.mean()) for piece in power.pieces if piece.share.size]
        return sum(one.peak_a for one in power.supplies), float(np.mean(shares)) if shares else 0.0


def _direct(
    choice: BatterySupply, volts: tuple[float, float], fed: _Fed, set_share: float, idle_share: float
) -> BatteryLife:
    battery = choice.battery
    least = 0.9 * min(battery.empty_v, battery.typical_empty_v)
    grid = np.linspace(battery.full_v, least, SAMPLES)[::-1]
    drawn, light = np.transpose([fed.at_volts(float(one)) for one in grid[::-1]])[:, ::-1]
    out_v = float(np.interp(LEAST_LIGHT * light[-1], light, grid))

    def run(level: float) -> Run | None:
        return run_time(battery, _along(grid, drawn), _mean_share(level, idle_share), out_v)

    runs = tuple(run(level) for level in LEVELS)
    full = runs[0]
    first_v, last_v = (battery.full_v, battery.full_v) if full is None else (full.first_v, full.last_v)
    first, last = (_along(grid, light)(at) for at in (first_v, last_v))
    most_a = float(drawn[-1]) if full is None else full.first_a
    return BatteryLife(choice, *volts, runs, run(set_share), set_share, first, last, most_a, most_a, idle_share)


def _along(grid: FloatArray, values: FloatArray) -> Callable[[float], float]:
    return lambda at: float(np.interp(at, grid, values))


def _converted(
    choice: BatterySupply, volts: tuple[float, float], fed: _Fed, set_share: float, idle_share: float
) -> BatteryLife:
    converter = choice.converter
    assert converter is not None
    amps, light = fed.at_volts(converter.out_v)
    drawn = through_converter(amps * converter.out_v, converter.gives_share)

    def run(level: float) -> Run | None:
        return run_time(choice.battery, drawn, _mean_share(level, idle_share), converter.in_low_v)

    runs = tuple(run(level) for level in LEVELS)
    full = runs[0]
    most_a = drawn(choice.battery.empty_v) if full is None else max(full.first_a, full.last_a)
    return BatteryLife(choice, *volts, runs, run(set_share), set_share, light, light, most_a, amps, idle_share)


def _mean_share(level: float, idle_share: float) -> float:
    """Mean amps over those while on: pulses for so much of the time, the idle current for the rest."""
    return level + (1.0 - level) * idle_share
