"""The order of warm and cool emitters in which the colours mix best."""

import msgspec
import numpy as np

from gauze.core.design import Design
from gauze.core.design.loose import LooseEmitter, LooseEmitters
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Fix
from gauze.core.evaluate.findings.colour import colour_spread
from gauze.core.evaluate.fixes.trial import Trial
from gauze.core.layout.model import BoolArray
from gauze.core.words import Fixed, Length, Text, say

_WORTH_WHILE = 0.95  # of the present spread: a better order must be below that
_SAME_LINE_MM = 0.5


def best_order_of_rows(trial: Trial) -> Fix | None:
    """Try the orders that two strips can take in the rows, and offer the one with the least spread of colour."""
    return _best(trial, _of_panel(trial))


def best_order_of_emitters(trial: Trial) -> Fix | None:
    """Try the orders that two colours can take at the emitters' places, and offer the one with the least spread of colour."""
    return _best(trial, _of_loose(trial.design))


def _best(trial: Trial, candidates: list[tuple[Text, Design]]) -> Fix | None:
    limit = _WORTH_WHILE * colour_spread(trial.now)
    best: tuple[float, Text, Evaluation] | None = None
    for words, design in candidates:
        evaluation = trial.attempt(design)
        if evaluation is None:
            continue
        spread = colour_spread(evaluation)
        if spread < limit and (best is None or spread < best[0]):
            best = (spread, words, evaluation)
    if best is None:
        return None
    spread, words, evaluation = best
    return trial.fix(
        words,
        evaluation,
        say(
            "Δu′v′ {colour_spread} becomes {spread}",
            colour_spread=Fixed(colour_spread(trial.now), ".4f"),
            spread=Fixed(spread, ".4f"),
        ),
    )


def _of_panel(trial: Trial) -> list[tuple[Text, Design]]:
    """The other colour at the rim, and every other row moved along itself by parts of the LEDs' pitch."""
    panel = trial.design.panel
    if len(panel.strips) != 2:
        return []
    pitch_mm = trial.layout.rows[0].strip.pitch_mm
    found: list[tuple[Text, Design]] = []
    for swapped in (False, True):
        for share in (0.0, 0.25, 0.5):
            strips = panel.strips[::-1] if swapped else panel.strips
            shift_mm = share * pitch_mm
            words = say("The two strips change places") if swapped else say("The strips keep their places")
            words += (
                say(", every other row shifted {shift}", shift=Length(shift_mm)) if share else say(", no row shifted")
            )
            found.append((words, trial.changed(strips=strips, alternate_shift_mm=shift_mm)))
    return found


def _of_loose(design: Design) -> list[tuple[Text, Design]]:
    """Rows, columns and a chessboard of two colours, as far as there are as many of each as that takes."""
    build = design.loose
    colours = sorted({_colour(emitter) for emitter in build.emitters})
    if len(colours) != 2:
        return []
    places = np.array([(e.x_mm, e.y_mm) for e in build.emitters])
    column, row = (np.unique(np.round(axis / _SAME_LINE_MM), return_inverse=True)[1] for axis in places.T)
    have = sum(_colour(emitter) == colours[1] for emitter in build.emitters)
    found: list[tuple[Text, Design]] = []
    for name, parity in ((say("Rows"), row), (say("Columns"), column), (say("A chessboard"), row + column)):
        for phase in (0, 1):
            second = (parity + phase) % 2 == 1
            if int(second.sum()) == have:
                found.append((say("{name} of the two colours alternately", name=name), _dealt(design, build, second)))
    return found


def _colour(emitter: LooseEmitter) -> tuple[float, float, float]:
    return emitter.cct_k, emitter.cie_x, emitter.cie_y


def _dealt(design: Design, build: LooseEmitters, second: BoolArray) -> Design:
    """Deal the emitters out again: each keeps its light, and takes the place of another."""
    colours = sorted({_colour(emitter) for emitter in build.emitters})
    heaps = [[e for e in build.emitters if _colour(e) == colour] for colour in colours]
    dealt = []
    for place, is_second in zip(build.emitters, second.tolist(), strict=True):
        light = heaps[int(is_second)].pop(0)
        dealt.append(
            msgspec.structs.replace(
                light,
                x_mm=place.x_mm,
                y_mm=place.y_mm,
                z_mm=place.z_mm,
                nx=place.nx,
                ny=place.ny,
                nz=place.nz,
            )
        )
    return msgspec.structs.replace(design, build=msgspec.structs.replace(build, emitters=tuple(dealt)))
