"""Practice on simulated meters: a hidden build with its own tolerances and a hidden fault, a course of cases, and a score.

None of it is kept with a design: readings of a rehearsal are of a type of their own, and no log takes them.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import msgspec
import numpy as np

from gauze.core.design.bench import Quantity
from gauze.core.evaluate.evaluation import Detail, Evaluation
from gauze.core.evaluate.stages import evaluate
from gauze.core.layout.model import FloatArray
from gauze.core.materials import Catalogue
from gauze.core.proving.fault_finder import OF_SIGN, Symptom, SymptomKind
from gauze.core.proving.faults import Fault, FaultKind, Simulated, simulate
from gauze.core.proving.fitting import Reading, usual_limit
from gauze.core.proving.model import Parameter, parameters_of
from gauze.core.proving.photo_shown import Pixels
from gauze.core.proving.photograph import SRGB_TO_XYZ
from gauze.core.proving.predicting import Asked, Predictor, value_at
from gauze.core.srgb import values_of_light
from gauze.core.words import Text, say

_CAMERA = Detail(fineness=0.5, most_pixels=16_000, target_points=1)
_EXPOSED, _EDGE, _NOISE = 0.7, 0.06, 0.01  # light of the healthy face over white, vignetting at an edge, noise
_SHARED = 0.7  # of a meter's limit that its gain is off by; the rest comes and goes
GOOD_READINGS = 3  # that a practised builder needs; common practice, no source


@dataclass(frozen=True)
class Case:
    """One case: a demo design, a fault at one of its pieces (by its number from the first, -1 the last), and how hard it is.

    A ``fault`` of None is a build that is well: there the readings are to be practised.
    """

    key: str
    title: Text
    story: Text
    demo: str
    fault: FaultKind | None
    piece: int = 0
    ohm: float = 0.0
    hard: int = 1


COURSE: tuple[Case, ...] = (
    Case(
        "first-light",
        say("First light"),
        say("The proofing panel is wired and lights. Read what you need to trust it."),
        "proofing_panel",
        None,
    ),
    Case(
        "dark-bench",
        say("Dark bench"),
        say("The night panel was carried to the press and stays dark."),
        "night_panel",
        "supply_off",
    ),
    Case(
        "lost-row",
        say("A lost row"),
        say("One row of the proofing panel stays dark after soldering."),
        "proofing_panel",
        "reversed_piece",
        5,
    ),
    Case(
        "one-gap",
        say("One gap"),
        say("In the press bars a few centimetres are dark in the middle of one bar."),
        "press_bars",
        "dead_segment",
        1,
    ),
    Case(
        "dusk",
        say("Dusk from the sixth row on"),
        say("The panel is bright at the left and dim towards the right."),
        "proofing_panel",
        "bad_joint",
        5,
        3.0,
        2,
    ),
    Case(
        "tired-supply",
        say("A tired supply"),
        say("All of the panel is dim. The supply is an old one from the shelf."),
        "proofing_panel",
        "supply_low",
        0,
        0.0,
        2,
    ),
    Case(
        "clicking",
        say("It clicks"),
        say("Since the bars were added the supply clicks and they flash."),
        "press_bars",
        "supply_folds",
        0,
        0.0,
        2,
    ),
    Case(
        "short-tide",
        say("The tide ends early"),
        say("On the tide board everything from the second grid on stays dark."),
        "tide_board",
        "data_broken",
        1,
        0.0,
        2,
    ),
    Case(
        "odd-colours",
        say("Odd colours"),
        say("The tide board lights, but red is green and green is red."),
        "tide_board",
        "colour_order",
        0,
        0.0,
        2,
    ),
    Case(
        "restless",
        say("Restless"),
        say("The tide board flickers in wrong colours, and only its first pixels stay lit."),
        "tide_board",
        "logic_level",
        0,
        0.0,
        3,
    ),
    Case(
        "pink-quay",
        say("The quay turns pink"),
        say("The long line is white at the mast and pink at the far end."),
        "quay_line",
        "bad_joint",
        0,
        0.3,
        3,
    ),
    Case(
        "loose-end",
        say("A loose end"),
        say("The second bar flickers when the press runs."),
        "press_bars",
        "loose_joint",
        1,
        0.0,
        3,
    ),
    Case(
        "half-stair",
        say("A dark side"),
        say("One side of the seventh tile is dark since the stair was moved."),
        "stair_tiles",
        "open_joint",
        -6,
        0.0,
        3,
    ),
    Case(
        "warm-bar",
        say("The warm bar"),
        say("One of the press bars looks warmer than the others."),
        "press_bars",
        "other_white",
        2,
        0.0,
        3,
    ),
)


@dataclass(frozen=True)
class PractisedReading:
    """A reading of a simulated meter; never one of the bench log."""

    quantity: Quantity
    place: str
    value: float
    limit: float

    @property
    def as_evidence(self) -> Reading:
        """The same for the fault finder."""
        return Reading(self.quantity, self.place, self.value, self.limit)


@dataclass(frozen=True)
class Hidden:
    """The true build: its network with the fault, under values of its own. ``fault`` is None for one that is well."""

    truth: Evaluation
    fault: Fault | None
    symptoms: tuple[Symptom, ...]
    seed: int


def case_of(key: str) -> Case:
    """Return a case; raises :class:`KeyError`."""
    return next(one for one in COURSE if one.key == key)


def hide(evaluation: Evaluation, case: Case, seed: int) -> Hidden:
    """Build a case: values within their limits by the seed, and its fault."""
    dice = np.random.default_rng((seed, 1))
    parameters = parameters_of(evaluation)
    values: dict[str, float] = {one.name: one.prior + _within(dice, one) for one in parameters}
    predictor = Predictor(evaluation)
    own = predictor.build_with(values)
    if case.fault is None:
        return Hidden(own, None, (), seed)
    pieces = [piece.id for piece in evaluation.layout.pieces]
    fault = Fault(case.fault, pieces[case.piece] if case.piece < len(pieces) else pieces[-1], case.ohm)
    if case.fault in _EVERYWHERE:
        fault = replace(fault, piece="")
    simulated = simulate(own, fault)
    symptoms = symptoms_of(simulated, pieces)
    return Hidden(replace(own, network=simulated.network), fault, symptoms, seed)


_EVERYWHERE: tuple[FaultKind, ...] = (
    "supply_low", "supply_folds", "supply_off", "thin_wire", "dimmed", "colour_order", "logic_level", "no_common_ground",
)  # fmt: skip


def _within(dice: np.random.Generator, one: Parameter) -> float:
    return float(dice.uniform(-0.6, 0.6)) * one.limit


def read_meter(hidden: Hidden, asked: Asked, number: int) -> PractisedReading:
    """Read a simulated meter, the ``number``-th time; the same question gives the same answer.

    Raises
    ------
    ReadingError
        When the place is unknown, or nothing is to be read there.
    """
    quantity, place = asked
    value = value_at(hidden.truth, quantity, place)
    limit = usual_limit(quantity, value)
    gain = np.random.default_rng((hidden.seed, 2, sum(map(ord, quantity)))).uniform(-1.0, 1.0)
    noise = np.random.default_rng((hidden.seed, 3, number, sum(map(ord, place)))).uniform(-1.0, 1.0)
    shown = value + limit * (_SHARED * gain + (1.0 - _SHARED) * noise)
    return PractisedReading(quantity, place, _rounded(shown, limit), limit)


def photograph(hidden: Hidden, catalogue: Catalogue, pause: Callable[[], None] = lambda: None) -> Pixels:
    """Take a picture of the hidden build with a simulated camera: its faulty light, a little vignetting, noise, in sRGB.

    Returns (rows, columns, 3), the upper row first. Raises :class:`Cancelled` by ``pause``.
    """
    truth = hidden.truth
    power = truth.network.power
    bare = msgspec.structs.replace(truth.design, wiring=None, surroundings=None)
    pause()
    now = truth if power is None else evaluate(bare, catalogue, _CAMERA, factors=power.factors())
    xyz = np.moveaxis(now.xyz, 0, 2)[::-1]
    linear: FloatArray = xyz @ np.linalg.inv(SRGB_TO_XYZ.astype(float)).T
    healthy = float(np.percentile(truth.xyz[1][truth.inside], 95.0)) if truth.inside.any() else 1.0
    linear = linear / max(healthy, 1e-9) * _EXPOSED
    rows, columns = linear.shape[:2]
    y, x = np.meshgrid(np.linspace(-1, 1, rows), np.linspace(-1, 1, columns), indexing="ij")
    linear = linear / (1.0 + _EDGE * (x**2 + y**2))[:, :, None]
    dice = np.random.default_rng((hidden.seed, 4))
    linear = linear + dice.normal(0.0, _NOISE, linear.shape) * np.sqrt(np.maximum(linear, 1e-4))
    linear = np.where(now.inside[::-1][:, :, None], linear, 0.0)
    return np.round(np.clip(values_of_light(np.clip(linear, 0.0, None)), 0.0, 1.0) * 255.0).astype(np.uint8)


def _rounded(value: float, limit: float) -> float:
    """To the digits that a meter of such a limit shows."""
    digits = max(0, 1 - math.floor(math.log10(max(limit, 1e-9))))
    return round(value, digits)


def symptoms_of(simulated: Simulated, order: Sequence[str]) -> tuple[Symptom, ...]:
    """Return what somebody in front of a build with a fault would tell."""
    found: list[Symptom] = []
    for kind, sign in OF_SIGN.items():
        if sign in simulated.signs:
            placed = kind in ("dark_segment", "colour_missing", "other_white", "flicker")
            found.append(Symptom(kind, simulated.fault.piece if placed else ""))
    whole: dict[str, SymptomKind] = {"dark": "nothing", "dim": "dim_all"}
    rest: dict[str, tuple[SymptomKind, SymptomKind]] = {
        "dark": ("dark_from", "dark_piece"),
        "dim": ("dim_from", "dim_piece"),
    }
    for look in ("dark", "dim"):
        bad = [name for name in order if simulated.looks[name] == look]
        if not bad:
            continue
        if len(bad) == len(order):
            found.append(Symptom(whole[look]))
        else:
            onwards = len(bad) > 1 and bad == list(order[order.index(bad[0]) :])
            found.append(Symptom(rest[look][0 if onwards else 1], bad[0]))
        break
    return tuple(found)


@dataclass(frozen=True)
class Score:
    """How a case went: whether the fault was named, and its place; with how many readings."""

    named: bool
    placed: bool
    readings: int

    @property
    def points(self) -> int:
        """Out of 10: 6 for the kind, 2 for the place, 2 for no more readings than a practised builder needs."""
        if not self.named:
            return 0
        return 6 + (2 if self.placed else 0) + max(0, 2 - max(0, self.readings - GOOD_READINGS))


def score(hidden: Hidden, said: Fault | None, readings: int) -> Score:
    """Judge an answer; None says that the build is well."""
    if hidden.fault is None or said is None:
        right = hidden.fault is None and said is None
        return Score(right, right, readings)
    return Score(hidden.fault.kind == said.kind, hidden.fault.piece == said.piece, readings)
