"""Readings set against what was predicted, and what is uncertain of a build fitted to them.

What is uncertain has a normal prior about its catalogue value; readings have the meter's limit as a rectangular error (one
sigma is the limit over the square root of 3: JCGM 100, 4.3.7). Readings of one meter share most of it as an error of its
gain, which is fitted along. Readings that are far off count little, before the fit by what the priors allow, after it by
what it leaves: they tell of a fault. The fit is the most probable one (Gauss-Newton on the sum of squares), its uncertainty
that of the linear model at it, twice the standard deviation, widened where the residuals are larger than they should be
(Birge's ratio).
"""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal, Protocol

import numpy as np

from gauze.core.design.bench import Quantity
from gauze.core.errors import GauzeError
from gauze.core.proving.model import Name, Parameter
from gauze.core.proving.predicting import UNITS, Asked

State = Literal["agrees", "doubtful", "off"]
COVERAGE = 2.0  # standard deviations in a stated uncertainty: about 95 in 100
AGREES, DOUBTFUL = 2.0, 3.0  # standard deviations between reading and prediction; common practice, no source
USUAL: dict[
    Quantity, tuple[float, float]
] = {  # limit of usual meters: share of the value and at least; typical, from memory
    "volts": (0.008, 0.02),
    "amps": (0.015, 0.005),
    "lux": (0.05, 1.0),
    "kelvin": (0.02, 50.0),
    "celsius": (0.0, 2.0),
    "cd_m2": (0.05, 1.0),
}
_OWN_SHARE = 0.5  # of a reading's sigma that is its own and not the meter's gain, at least; common practice, no source
_STEPS, _STILL = 12, 1e-4
_ROUNDS = 4  # of weighing
_STEP_SHARE = 0.25  # of a sigma, for slopes


class Predicts(Protocol):
    """Whatever predicts readings under other values of what is uncertain."""

    def predict(self, asked: Sequence[Asked], values: Mapping[str, float] | None = None) -> np.ndarray:
        """Return what is predicted, (n,)."""
        ...


@dataclass(frozen=True)
class Reading:
    """A reading with its limit of error, in its own unit.

    With a ``free_gain`` those of its ``meter`` only tell how they stand to each other, as places in a photograph do.
    """

    quantity: Quantity
    place: str
    value: float
    limit: float
    note: str = ""
    meter: str = ""
    free_gain: bool = False

    @property
    def instrument(self) -> str:
        """What it was read with: readings of one share its gain; by itself every quantity has one."""
        return self.meter or self.quantity

    @property
    def asked(self) -> Asked:
        """What is to be predicted."""
        return self.quantity, self.place

    @property
    def sigma(self) -> float:
        """Standard deviation of its error."""
        return self.limit / math.sqrt(3.0)


def usual_limit(quantity: Quantity, value: float) -> float:
    """Limit of a usual meter, where none is given."""
    share, least = USUAL[quantity]
    return max(share * abs(value), least)


@dataclass(frozen=True)
class Compared:
    """A reading beside its prediction: both with twice their standard deviations, and how they stand to each other."""

    reading: Reading
    predicted: float
    predicted_uncertainty: float
    state: State

    @property
    def deviations(self) -> float:
        """Difference over its standard deviation."""
        sigma = math.hypot(self.predicted_uncertainty / COVERAGE, self.reading.sigma)
        return (self.reading.value - self.predicted) / max(sigma, 1e-30)


@dataclass(frozen=True)
class Fitted:
    """One value after the fit: with its prior, and twice its standard deviation before and after."""

    name: Name
    value: float
    uncertainty: float
    prior: float
    prior_uncertainty: float
    unit: str

    @property
    def learned(self) -> float:
        """By how much of its uncertainty the readings have narrowed it."""
        return 1.0 - self.uncertainty / max(self.prior_uncertainty, 1e-30)


@dataclass(frozen=True)
class Residual:
    """What is left between a reading and the fitted model."""

    reading: Reading
    predicted: float
    state: State


@dataclass(frozen=True)
class NextReading:
    """The reading that would narrow the most: what it should show, and by how much of all uncertainty it narrows."""

    quantity: Quantity
    place: str
    expected: float
    narrows: float


@dataclass(frozen=True)
class Fit:
    """All of it; ``widened`` is the factor by which uncertainties were widened, 1 for none."""

    fitted: tuple[Fitted, ...]
    residuals: tuple[Residual, ...]
    next_reading: NextReading | None
    widened: float


def compare(predicts: Predicts, parameters: Sequence[Parameter], readings: Sequence[Reading]) -> tuple[Compared, ...]:
    """Set readings against what was predicted of the build as it is in the catalogue.

    Raises
    ------
    ReadingError
        When a place is unknown, or nothing is predicted there.
    """
    if not readings:
        return ()
    asked = [one.asked for one in readings]
    base = predicts.predict(asked)
    slopes = slopes_of(predicts, parameters, asked, base, {one.name: one.prior for one in parameters})
    spread = np.sqrt(np.sum((slopes * np.array([one.sigma for one in parameters])) ** 2, axis=1))
    found = []
    for reading, value, sigma in zip(readings, base.tolist(), spread.tolist(), strict=True):
        off = abs(reading.value - value) / max(math.hypot(sigma, reading.sigma), 1e-30)
        found.append(Compared(reading, value, COVERAGE * sigma, state_of(off)))
    return tuple(found)


def state_of(deviations: float) -> State:
    """How a reading stands that lies so many standard deviations off."""
    return "agrees" if deviations <= AGREES else "doubtful" if deviations <= DOUBTFUL else "off"


def slopes_of(
    predicts: Predicts,
    parameters: Sequence[Parameter],
    asked: Sequence[Asked],
    base: np.ndarray,
    at: Mapping[str, float],
    pause: Callable[[], None] = lambda: None,
) -> np.ndarray:
    """How predictions rise with each parameter, (readings, parameters), by a step to each."""
    found = np.zeros((len(asked), len(parameters)))
    for column, one in enumerate(parameters):
        pause()
        step = _STEP_SHARE * one.sigma
        moved = dict(at) | {one.name: at[one.name] + step}
        found[:, column] = (predicts.predict(asked, _told(moved, parameters)) - base) / step
    return found


def _told(values: Mapping[str, float], parameters: Sequence[Parameter]) -> dict[str, float]:
    """Values that differ from their priors: the others are not computed again."""
    return {one.name: values[one.name] for one in parameters if values[one.name] != one.prior}


def fit(
    predicts: Predicts,
    parameters: Sequence[Parameter],
    readings: Sequence[Reading],
    candidates: Sequence[Asked] = (),
    pause: Callable[[], None] = lambda: None,
) -> Fit:
    """Fit what is uncertain to readings, and name the further reading that would narrow most of it.

    Raises
    ------
    ReadingError
        When a place is unknown, or nothing is predicted there.
    GauzeError
        When there is nothing to be fitted, or no reading.
    """
    if not readings:
        raise GauzeError("There is no reading to fit to: take one first.")
    if not parameters:
        raise GauzeError("Readings cannot reduce any uncertainty of this build.")
    model = _Model(predicts, tuple(parameters), tuple(readings), tuple(candidates))
    model.weigh_by_prior(pause)
    state, slopes = model.solved(pause)
    for _ in range(_ROUNDS):
        if not model.weigh_by_fit(state):
            break
        state, slopes = model.solved(pause)
    return model.told(state, slopes)


class _Model:
    """Unknowns: the parameters as deviations from their priors in sigmas, then the gain of each meter in the same way."""

    def __init__(
        self,
        predicts: Predicts,
        parameters: tuple[Parameter, ...],
        readings: tuple[Reading, ...],
        candidates: tuple[Asked, ...],
    ) -> None:
        self.predicts, self.parameters, self.readings, self.candidates = predicts, parameters, readings, candidates
        self.meters = tuple(dict.fromkeys(one.instrument for one in readings))
        self.gain = {meter: _gain([one for one in readings if one.instrument == meter]) for meter in self.meters}
        shared = np.array([0.0 if one.free_gain else self.gain[one.instrument] * abs(one.value) for one in readings])
        sigma = np.array([one.sigma for one in readings])
        self.own = np.sqrt(np.maximum(sigma**2 - shared**2, (_OWN_SHARE * sigma) ** 2))
        self.sigmas = np.array([one.sigma for one in parameters])
        self.weight = np.ones(len(readings))

    def weigh_by_prior(self, pause: Callable[[], None]) -> None:
        """Let readings count less that no value within the priors explains: they tell of a fault, not of the model."""
        asked = [one.asked for one in self.readings]
        base = self.predicts.predict(asked)
        at: dict[str, float] = {one.name: one.prior for one in self.parameters}
        slopes = slopes_of(self.predicts, self.parameters, asked, base, at, pause)
        spread = np.sum((slopes * self.sigmas) ** 2, axis=1)
        values, sigma = (np.array([getattr(one, name) for one in self.readings]) for name in ("value", "sigma"))
        free = np.array([one.free_gain for one in self.readings])
        off = np.where(free, 0.0, np.abs(values - base) / np.sqrt(spread + sigma**2))
        self.weight = np.where(off > DOUBTFUL, (DOUBTFUL / np.maximum(off, 1e-9)) ** 4, 1.0)

    def weigh_by_fit(self, state: np.ndarray) -> bool:
        """Let readings count less that the fit leaves far off (Cauchy's weights); whether that changes anything."""
        base = self.predicted(state, [one.asked for one in self.readings])
        left = self._left(base, state) / np.sqrt(self.weight)
        weight = np.where(np.abs(left) > DOUBTFUL, 1.0 / (1.0 + (left / DOUBTFUL) ** 2) ** 2, 1.0)
        changed = bool(np.abs(weight - self.weight).max() > 0.05)
        self.weight = weight
        return changed

    def values(self, state: np.ndarray) -> dict[str, float]:
        """Values of the parameters at a state; none below a thousandth of its prior."""
        return {
            one.name: max(one.prior + float(move) * one.sigma, 1e-3 * one.prior)
            for one, move in zip(self.parameters, state, strict=False)
        }

    def predicted(self, state: np.ndarray, asked: Sequence[Asked]) -> np.ndarray:
        """Predictions at a state, without the gain of meters."""
        return self.predicts.predict(asked, _told(self.values(state), self.parameters))

    def solved(self, pause: Callable[[], None]) -> tuple[np.ndarray, np.ndarray]:
        """The most probable state, and the slopes of readings and candidates there."""
        asked = [one.asked for one in self.readings]
        every = [*asked, *self.candidates]
        state = np.zeros(len(self.parameters) + len(self.meters))
        cost, best = math.inf, state
        slopes = np.zeros((len(every), len(self.parameters)))
        for step in range(_STEPS):
            pause()
            base = self.predicted(state, every)
            left = self._left(base[: len(asked)], state)
            now = float(left @ left + state @ state)
            if now > cost * (1.0 + 1e-9) and step > 0:
                state = (state + best) / 2.0  # too far: half of the way
                if float(np.abs(state - best).max()) < _STILL:
                    break
                continue
            done = cost - now < _STILL * max(now, 1e-6) and step > 1
            cost, best = now, state
            at = self.values(state)
            slopes = slopes_of(self.predicts, self.parameters, every, base, at, pause)
            if done:
                break
            matrix = self._matrix(slopes[: len(asked)])
            change = np.linalg.solve(matrix.T @ matrix + np.eye(len(state)), matrix.T @ left - state)
            state = state + change
            if float(np.abs(change).max()) < _STILL:
                best = state
                break
        return best, slopes

    def _left(self, base: np.ndarray, state: np.ndarray) -> np.ndarray:
        gains = np.array([self.gain[one.instrument] * state[self._meter(one)] * one.value for one in self.readings])
        values = np.array([one.value for one in self.readings])
        return np.asarray((values - gains - base) / self.own * np.sqrt(self.weight))

    def _meter(self, reading: Reading) -> int:
        return len(self.parameters) + self.meters.index(reading.instrument)

    def _matrix(self, slopes: np.ndarray) -> np.ndarray:
        """Slopes of readings over their own sigmas, by all unknowns, (readings, unknowns)."""
        found = np.zeros((len(self.readings), len(self.parameters) + len(self.meters)))
        found[:, : len(self.parameters)] = slopes * self.sigmas / self.own[:, None]
        for row, one in enumerate(self.readings):
            found[row, self._meter(one)] = self.gain[one.instrument] * one.value / self.own[row]
        return found * np.sqrt(self.weight)[:, None]

    def told(self, state: np.ndarray, slopes: np.ndarray) -> Fit:
        """The fit in plain values."""
        count, known = len(self.readings), len(self.parameters)
        matrix = self._matrix(slopes[:count])
        covariance = np.linalg.inv(matrix.T @ matrix + np.eye(len(state)))
        base = self.predicted(state, [one.asked for one in self.readings])
        left = self._left(base, state)
        widened = math.sqrt(max(1.0, float(left @ left + state @ state) / count))
        values = self.values(state)
        off = left / np.sqrt(self.weight) * self.own / np.array([one.sigma for one in self.readings])
        fitted = []
        for index, one in enumerate(self.parameters):
            sigma = min(widened * math.sqrt(covariance[index, index]), 1.0) * one.sigma
            fitted.append(
                Fitted(one.name, values[one.name], COVERAGE * sigma, one.prior, COVERAGE * one.sigma, one.unit)
            )
        residuals = tuple(
            Residual(one, float(value), state_of(abs(float(far))))
            for one, value, far in zip(self.readings, base, off, strict=True)
        )
        return Fit(tuple(fitted), residuals, self._next(state, slopes[count:], covariance, known), widened)

    def _next(self, state: np.ndarray, slopes: np.ndarray, covariance: np.ndarray, known: int) -> NextReading | None:
        """Of all candidates the one that narrows the sum of the parameters' variances most."""
        if not self.candidates:
            return None
        expected = self.predicted(state, self.candidates)
        before = float(np.trace(covariance[:known, :known]))
        best: tuple[float, int] | None = None
        for index, ((quantity, _), value) in enumerate(zip(self.candidates, expected.tolist(), strict=True)):
            row = np.zeros(len(state))
            row[:known] = slopes[index] * self.sigmas
            sigma = usual_limit(quantity, value) / math.sqrt(3.0)
            own = sigma
            if quantity in self.meters:
                row[known + self.meters.index(quantity)] = self.gain[quantity] * value
                own = max(math.sqrt(max(sigma**2 - (self.gain[quantity] * value) ** 2, 0.0)), _OWN_SHARE * sigma)
            seen = covariance @ row
            drop = float(np.sum(seen[:known] ** 2)) / (float(row @ seen) + own**2)
            if best is None or drop > best[0]:
                best = drop, index
        assert best is not None
        quantity, place = self.candidates[best[1]]
        return NextReading(quantity, place, float(expected[best[1]]), best[0] / max(before, 1e-30))


def _gain(readings: Sequence[Reading]) -> float:
    """Standard deviation of the gain that readings share: most of the smallest error among them, or practically unknown."""
    if any(one.free_gain for one in readings):
        return 1.0
    shares = [one.sigma / abs(one.value) for one in readings if one.value != 0.0]
    return min(shares, default=0.0) * math.sqrt(1.0 - _OWN_SHARE**2)


def unit_of(quantity: Quantity) -> str:
    """Unit of a quantity."""
    return UNITS[quantity]
