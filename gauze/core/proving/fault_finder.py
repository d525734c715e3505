"""Which fault explains what is seen and read, and which further reading would tell most.

Every fault that the design can have is simulated on it. What is seen has a likelihood by how well the simulated build looks like
it; readings have that of their difference from the simulated value, with the meter's error and the spread of the prediction.
Bayes' rule ranks them. The next reading is the one whose outcome is expected to leave the least entropy.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from gauze.core.design.bench import Quantity
from gauze.core.errors import ReadingError
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.proving.faults import Fault, Look, Sign, Simulated, faults_of, simulate
from gauze.core.proving.fitting import Reading, slopes_of, usual_limit
from gauze.core.proving.model import ELECTRIC, parameters_of
from gauze.core.proving.places import SUPPLY
from gauze.core.proving.predicting import Asked, Predictor, value_at
from gauze.core.words import Text, say

SymptomKind = Literal[
    "nothing", "dark_from", "dark_piece", "dark_segment", "dim_all", "dim_from", "dim_piece", "colour_shift", "wrong_colours",
    "colour_missing", "other_white", "flicker", "first_only", "clicks",
]  # fmt: skip
SYMPTOMS: dict[SymptomKind, Text] = {
    "nothing": say("nothing lights"),
    "dark_from": say("dark from here on"),
    "dark_piece": say("this piece is dark"),
    "dark_segment": say("a dark segment here"),
    "dim_all": say("everything is dim"),
    "dim_from": say("dim from here on"),
    "dim_piece": say("this piece is dim"),
    "colour_shift": say("pink or yellow at the far end"),
    "wrong_colours": say("wrong colours"),
    "colour_missing": say("one colour is missing"),
    "other_white": say("another white than the rest"),
    "flicker": say("it flickers"),
    "first_only": say("only the first pixels light"),
    "clicks": say("the supply clicks, or starts again and again"),
}
OF_SIGN: dict[SymptomKind, Sign] = {
    "dark_segment": "dark_segment",
    "colour_shift": "colour_shift",
    "wrong_colours": "wrong_colours",
    "colour_missing": "colour_missing",
    "other_white": "other_white",
    "flicker": "flicker",
    "first_only": "first_only",
    "clicks": "clicks",
}
_PLACED: tuple[SymptomKind, ...] = (
    "dark_from", "dark_piece", "dark_segment", "dim_from", "dim_piece", "colour_missing", "other_white", "flicker",
)  # fmt: skip
UNLIKELY = 0.03  # of what is seen where the simulated build shows none of it; common practice, no source
UNTOLD = 0.3  # of a sign that a fault has but nobody has reported; common practice, no source
_OFF_BY = 0.02  # of a reading, by which a simulated fault may be off besides; common practice, no source
_MOST_NEAR, _MOST_ASKED, _WORTH = 8, 40, 1e-3


@dataclass(frozen=True)
class Symptom:
    """What is seen, and at which piece; empty where it is everywhere."""

    kind: SymptomKind
    piece: str = ""

    @property
    def has_place(self) -> bool:
        """Whether it is seen at a piece."""
        return self.kind in _PLACED


@dataclass(frozen=True)
class Suspect:
    """A fault with how probable it is, and what each further reading would show."""

    fault: Fault
    probability: float


@dataclass(frozen=True)
class Telling:
    """The reading that tells most: what it would show for the likeliest faults, and without any fault."""

    quantity: Quantity
    place: str
    healthy: float
    expected: tuple[tuple[Fault, float], ...]
    bits: float


@dataclass(frozen=True)
class Diagnosis:
    """Suspects, the likeliest first, each kind and place once; and the next reading, None where none tells anything."""

    suspects: tuple[Suspect, ...]
    next_reading: Telling | None


def near_to(evaluation: Evaluation, piece: str) -> list[str]:
    """Return the pieces at which single faults are looked for: the one told with those before it, the first and the last."""
    names = [one.id for one in evaluation.layout.pieces]
    if not names:
        return []
    at = names.index(piece) if piece in names else 0
    chosen = [*names[max(at - 3, 0) : at + 2], names[0], names[-1], names[len(names) // 2]]
    return list(dict.fromkeys(chosen))[:_MOST_NEAR]


def diagnose(
    evaluation: Evaluation,
    symptoms: Sequence[Symptom],
    readings: Sequence[Reading],
    pause: Callable[[], None] = lambda: None,
) -> Diagnosis:
    """Rank the faults of a design by what is seen and read.

    Raises
    ------
    ReadingError
        When a reading's place is unknown.
    Cancelled
        By ``pause``.
    """
    for one in readings:
        value_at(evaluation, one.quantity, one.place)
    place = next((one.piece for one in symptoms if one.piece), "")
    near = near_to(evaluation, place or _place_of(readings, evaluation))
    simulated = []
    for fault in faults_of(evaluation, near):
        pause()
        simulated.append(simulate(evaluation, fault))
    if not simulated:
        return Diagnosis((), None)
    order = [piece.id for piece in evaluation.layout.pieces]
    weight = np.array([_weight(one, symptoms, order) for one in simulated])
    spread = _spread(evaluation, readings, pause)
    for reading, sigma in zip(readings, spread, strict=True):
        weight *= np.array([_likelihood(evaluation, one, reading, sigma) for one in simulated])
    total = float(weight.sum())
    weight = weight / total if total > 0 else np.full(len(weight), 1.0 / len(weight))
    suspects = _together(simulated, weight)
    return Diagnosis(suspects, _telling(evaluation, simulated, weight, near, {one.asked for one in readings}, pause))


def _place_of(readings: Sequence[Reading], evaluation: Evaluation) -> str:
    """The piece of the reading that is farthest off what is predicted."""
    names = {piece.id for piece in evaluation.layout.pieces}
    best, found = 0.0, ""
    for one in readings:
        name = next((name for name in names if one.place == name or one.place.startswith((f"{name} ", f"{name}/"))), "")
        off = abs(one.value - value_at(evaluation, one.quantity, one.place)) / max(one.sigma, 1e-12)
        if name and off > best:
            best, found = off, name
    return found


# -- likelihoods -------------------------------------------------------------------------------------------------------


def _weight(one: Simulated, symptoms: Sequence[Symptom], order: Sequence[str]) -> float:
    found = one.fault.weight
    for symptom in symptoms:
        found *= seen(one, symptom, order)
    told = {OF_SIGN.get(symptom.kind) for symptom in symptoms}
    return found * UNTOLD ** len(one.signs - told)


def seen(one: Simulated, symptom: Symptom, order: Sequence[str]) -> float:
    """How likely a symptom is of a simulated build, from UNLIKELY to 1."""
    sign = OF_SIGN.get(symptom.kind)
    if sign is not None:
        there = sign in one.signs and (not symptom.piece or not one.fault.piece or symptom.piece == one.fault.piece)
        return 1.0 if there else UNLIKELY
    return UNLIKELY + (1.0 - UNLIKELY) * _alike(one.looks, symptom, order)


def _alike(looks: dict[str, Look], symptom: Symptom, order: Sequence[str]) -> float:
    """Share of the pieces that look as they should, those of the symptom and the others weighed alike."""
    wanted: Look = "dim" if symptom.kind.startswith("dim") else "dark"
    if symptom.kind in ("nothing", "dim_all"):
        concerned = list(order)
    elif symptom.kind in ("dark_from", "dim_from") and symptom.piece in order:
        concerned = list(order[order.index(symptom.piece) :])
    else:
        concerned = [symptom.piece]
    rest = [name for name in order if name not in concerned]
    right = np.mean([looks.get(name) == wanted for name in concerned])
    other = np.mean([looks.get(name) == "normal" for name in rest]) if rest else 1.0
    return float(right * other)


def _value(evaluation: Evaluation, one: Simulated, asked: Asked) -> float:
    return value_at(replace(evaluation, network=one.network), *asked)


def _likelihood(evaluation: Evaluation, one: Simulated, reading: Reading, spread: float) -> float:
    expected = _value(evaluation, one, reading.asked)
    sigma = math.hypot(reading.sigma, spread, _OFF_BY * abs(expected))
    off = (reading.value - expected) / max(sigma, 1e-12)
    return math.exp(-0.5 * min(off * off, 200.0)) / max(sigma, 1e-12) + 1e-12


def _spread(evaluation: Evaluation, readings: Sequence[Reading], pause: Callable[[], None]) -> list[float]:
    """Standard deviations of what is predicted of readings, by what is uncertain of the circuit."""
    if not readings:
        return []
    predictor = Predictor(evaluation)
    parameters = [one for one in parameters_of(evaluation) if one.name in ELECTRIC]
    asked = [one.asked for one in readings]
    base = predictor.predict(asked)
    at: dict[str, float] = {one.name: one.prior for one in parameters}
    slopes = slopes_of(predictor, parameters, asked, base, at, pause)
    return [float(one) for one in np.sqrt(np.sum((slopes * [p.sigma for p in parameters]) ** 2, axis=1))]


def _together(simulated: Sequence[Simulated], weight: np.ndarray) -> tuple[Suspect, ...]:
    """Faults of one kind at one piece together, with the likeliest ohms."""
    alike: dict[tuple[str, str], list[int]] = {}
    for index, one in enumerate(simulated):
        alike.setdefault((one.fault.kind, one.fault.piece), []).append(index)
    found = []
    for some in alike.values():
        best = max(some, key=lambda index: weight[index])
        found.append(Suspect(simulated[best].fault, float(weight[some].sum())))
    return tuple(sorted(found, key=lambda one: -one.probability))


# -- the next reading --------------------------------------------------------------------------------------------------


def _telling(
    evaluation: Evaluation,
    simulated: Sequence[Simulated],
    weight: np.ndarray,
    near: Sequence[str],
    taken: set[Asked],
    pause: Callable[[], None],
) -> Telling | None:
    likely = [index for index in np.argsort(-weight)[:_MOST_ASKED] if weight[index] > _WORTH]
    share = weight[likely] / weight[likely].sum()
    before = _entropy(share)
    best: tuple[float, Asked, np.ndarray] | None = None
    for asked in _could_read(evaluation, near):
        pause()
        if asked in taken:
            continue
        try:
            values = np.array([_value(evaluation, simulated[index], asked) for index in likely])
        except ReadingError:
            continue
        sigma = np.array([usual_limit(asked[0], value) / math.sqrt(3.0) for value in values]) + _OFF_BY * np.abs(values)
        off = (values[:, None] - values[None, :]) / np.hypot(sigma[:, None], sigma[None, :])
        alike = np.exp(-0.5 * np.minimum(off**2, 200.0)) * share[None, :]
        alike = alike / alike.sum(axis=1, keepdims=True)
        after = float(np.sum(share * [_entropy(row) for row in alike]))
        if best is None or before - after > best[0] + 1e-9:
            best = before - after, asked, values
    if best is None or best[0] < 0.01:
        return None
    bits, asked, values = best
    expected = tuple(
        (simulated[index].fault, float(value)) for index, value in zip(likely[:5], values[:5], strict=True)
    )
    return Telling(asked[0], asked[1], value_at(evaluation, *asked), expected, bits / math.log(2.0))


def _entropy(share: np.ndarray) -> float:
    some = share[share > 1e-12]
    return float(-np.sum(some * np.log(some)))


def _could_read(evaluation: Evaluation, near: Sequence[str]) -> list[Asked]:
    power = evaluation.network.power
    assert power is not None
    long = {one.id for one in power.pieces if len(one.volts_v) > 1}
    found: list[Asked] = [("volts", SUPPLY), ("amps", SUPPLY)]
    for name in near:
        found += [("volts", f"{name} start"), ("volts", f"{name} end")] if name in long else [("volts", name)]
        found.append(("amps", name))
    return found
