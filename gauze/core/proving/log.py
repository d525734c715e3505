"""The log of a build beside its predictions: every reading judged, or told that its place is gone; and the fit to all of them."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from gauze.core.design.bench import BenchReading
from gauze.core.errors import GauzeError, ReadingError
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.proving.candidates import candidates_of
from gauze.core.proving.fitting import Compared, Fit, Reading, Residual, compare, fit, usual_limit
from gauze.core.proving.model import parameters_of
from gauze.core.proving.predicting import Asked, Predictor, value_at
from gauze.core.words import Text, Words, say

RowState = Literal["agrees", "doubtful", "off", "gone"]
STATE_WORDS: dict[RowState, Text] = {
    "agrees": say("agrees"),
    "doubtful": say("doubtful"),
    "off": say("off"),
    "gone": say("gone"),
}


@dataclass(frozen=True)
class LogRow:
    """A reading with its prediction, None where its place is gone; ``says`` is what it means.

    It is off as well where it does not fit what all other readings have made of the build.
    """

    reading: BenchReading
    limit: float
    compared: Compared | None
    state: RowState
    says: Text


@dataclass(frozen=True)
class LogFound:
    """The log as it stands; ``fit`` is None without a reading whose place is there. ``places`` are what could be read."""

    rows: tuple[LogRow, ...]
    fit: Fit | None
    places: tuple[Asked, ...]


def as_reading(one: BenchReading) -> Reading:
    """Return a reading of the log with its limit, that of a usual meter where none is given."""
    limit = usual_limit(one.quantity, one.value) if one.uncertainty is None else one.uncertainty
    return Reading(one.quantity, one.place, one.value, limit, one.note)


def judge_log(
    evaluation: Evaluation,
    log: Sequence[BenchReading],
    more: Sequence[Reading] = (),
    pause: Callable[[], None] = lambda: None,
) -> LogFound:
    """Set every reading of a log against the build as it is predicted, and fit what is uncertain to them.

    ``more`` are readings beside those of the log, as a photograph gives them; raises :class:`Cancelled` by ``pause``.
    """
    predictor, parameters = Predictor(evaluation), parameters_of(evaluation)
    there, gone = [], {}
    for one in log:
        try:
            value_at(evaluation, one.quantity, one.place)
        except ReadingError as error:
            gone[one.key] = error
        else:
            there.append(one)
    pause()
    compared = dict(
        zip([one.key for one in there], compare(predictor, parameters, [as_reading(one) for one in there]), strict=True)
    )
    taken = [*(as_reading(one) for one in there), *more]
    candidates = candidates_of(evaluation, {one.asked for one in taken})
    found = fit(predictor, parameters, taken, candidates, pause) if taken and parameters else None
    left = {} if found is None else dict(zip([one.key for one in there], found.residuals, strict=False))
    rows = tuple(_row(one, compared.get(one.key), gone.get(one.key), left.get(one.key)) for one in log)
    return LogFound(rows, found, tuple(candidates_of(evaluation, set())))


def _row(one: BenchReading, compared: Compared | None, gone: GauzeError | None, left: Residual | None) -> LogRow:
    limit = as_reading(one).limit
    if compared is None:
        return LogRow(one, limit, None, "gone", say("Its place is no longer in the design: {why}", why=_words_of(gone)))
    state = compared.state
    if left is not None and _WORSE[left.state] > _WORSE[state]:
        state = left.state
        compared = replace(compared, predicted=left.predicted)
    return LogRow(one, limit, compared, state, _says(compared, state))


def _words_of(error: GauzeError | None) -> Text:
    """What an error says, to be read in any language."""
    return "" if error is None else Words(error.template, tuple(error.values.items()))


_WORSE: dict[RowState, int] = {"agrees": 0, "doubtful": 1, "off": 2}


def _says(one: Compared, state: RowState) -> Text:
    """What a reading that does not agree points to; nothing for one that does."""
    if state == "agrees":
        return ""
    low = one.reading.value < one.predicted
    sentences: dict[str, tuple[Text, Text]] = {
        "volts": (
            say("Fewer volts than predicted: a joint or a wire before this place drops them, or the supply is low."),
            say("More volts than predicted: less current flows, or the supply is set higher."),
        ),
        "amps": (
            say("Less current than predicted: part of it does not light, or gets too few volts."),
            say("More current than predicted: check what is connected, and for a short circuit."),
        ),
        "lux": (
            say("Darker than predicted: the strip gives less than its label, or the sheet lets less through."),
            say("Brighter than predicted: the strip gives more, or other light falls on the meter."),
        ),
        "cd_m2": (
            say("Darker than predicted: the strip gives less than its label, or the sheet lets less through."),
            say("Brighter than predicted: the strip gives more, or other light falls on the meter."),
        ),
        "kelvin": (
            say("Warmer in colour than predicted: another white on the reel, or a sheet that tints."),
            say("Cooler in colour than predicted: another white on the reel, or a sheet that tints."),
        ),
        "celsius": (
            say("Cooler than predicted: it has more free air around it, or has not run for an hour yet."),
            say("Hotter than predicted: check what it rests on and whether air can move around it."),
        ),
    }
    return sentences[one.reading.quantity][0 if low else 1]
