"""Does the chosen controller hold the pixels, keep up, and dim at the wanted frequency?"""

from collections.abc import Sequence
from functools import partial

from gauze.core.design.wiring import Wiring
from gauze.core.electrical.data_line import PixelRun, picture_s, pixel_runs
from gauze.core.electrical.power import cap_share
from gauze.core.electrical.timers import SOURCE, timer_for
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.evaluate.findings.data_rate import SMOOTH
from gauze.core.layout.pieces import Piece
from gauze.core.lazy import Lazy
from gauze.core.materials.labels import ControllerLabel
from gauze.core.words import Number, Percent, Text, Words, say

DATA_V = 3.5  # from which on 5 V pixels take data for sure: 0.7 of their volts; common practice, from memory
_NEAR = 0.02  # of the wanted frequency


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the controller, where one is chosen, and tell what a cap leaves."""
    wiring, power = evaluation.network.wiring, evaluation.network.power
    controller = wiring.controller
    if power is None:
        return []
    runs = pixel_runs(evaluation.layout.pieces, evaluation.network.joints)
    capped = _capped(evaluation.layout.pieces, wiring)
    if controller is None:
        return [] if capped is None else [_cap_alone(capped, wiring)]
    if runs:
        state, sentence = judge_controller(controller, runs)
        if capped is not None:
            sentence += say(" {capped}", capped=capped)
    else:
        state, sentence = _dims(controller, wiring)
    return [
        Finding(
            code="controller",
            place="feed",
            state=state,
            sentence=sentence,
            value=float(runs[-1].last + 1) if runs else 0.0,
            unit="",
            limit=float(controller.most_pixels) if runs else None,
            figures=Lazy(partial(_figures, wiring, controller, runs)),
        )
    ]


def judge_controller(controller: ControllerLabel, runs: Sequence[PixelRun]) -> tuple[State, Words]:
    """Say whether a controller holds all pixels, and how many pictures a second it brings to them."""
    count = runs[-1].last + 1
    words: dict[str, Text] = {"own": controller.most_pixels, "count": count}
    if count > controller.most_pixels:
        return State.FAILS, say("It holds {own} pixels; the build has {count}.", **words)
    rate = pictures_per_s(controller, runs)
    sentence = say("It holds {own} pixels; the build has {count}.", **words)
    sentence += say(" Up to {rate} pictures a second.", rate=Number(rate))
    if controller.logic_v < DATA_V:
        sentence += say(" Shift its {logic} V data to 5 V.", logic=Number(controller.logic_v))
    return State.GOOD if rate >= SMOOTH else State.WATCH, sentence


def pictures_per_s(controller: ControllerLabel, runs: Sequence[PixelRun]) -> float:
    """Pictures a second: what its lines carry, the pixels shared evenly among them, and no more than it makes."""
    lines_carry = 1.0 / picture_s(runs, controller.outputs)
    return lines_carry if controller.frames_per_s is None else min(lines_carry, controller.frames_per_s)


def _capped(pieces: Sequence[Piece], wiring: Wiring) -> Words | None:
    """What a cap leaves of the levels that are set; None where there is none, or it is not reached."""
    share = cap_share(pieces, wiring)
    if wiring.capped_ma is None or share >= 1.0:
        return None
    return say(
        "The current cap of {cap} mA leaves {share} of the light with every pixel on.",
        cap=Number(wiring.capped_ma),
        share=Percent(share),
    )


def _cap_alone(capped: Words, wiring: Wiring) -> Finding:
    """The cap of a controller of which no more is known."""
    return Finding(
        code="controller",
        place="feed",
        state=State.NOTE,
        sentence=say("No controller is chosen. {capped}", capped=capped),
        value=wiring.capped_ma or 0.0,
        unit="mA",
        limit=None,
        figures=(),
    )


def _dims(controller: ControllerLabel, wiring: Wiring) -> tuple[State, Words]:
    """For a build without pixels: whether its timer makes the wanted frequency."""
    words: dict[str, Text] = {"name": controller.name, "hz": Number(wiring.pwm_hz or 0.0, 4)}
    if wiring.pwm_hz is None or controller.timer_mhz is None:
        return State.NOTE, say("“{name}” dims it. The build has no pixels.", **words)
    setting = timer_for(1e6 * controller.timer_mhz, controller.timer_bits, controller.dividers, wiring.pwm_hz)
    if setting is None:
        return State.FAILS, say("The timer of “{name}” makes no {hz} Hz: choose another frequency.", **words)
    words |= {"steps": setting.steps, "made": Number(setting.frequency_hz, 4), "least": Percent(1.0 / setting.steps, 2)}
    near = abs(setting.frequency_hz / wiring.pwm_hz - 1.0) <= _NEAR
    return State.GOOD if near else State.WATCH, say(
        "“{name}” dims it at {made} Hz in {steps} steps, the lowest level is {least}.", **words
    )


def _figures(wiring: Wiring, controller: ControllerLabel, runs: Sequence[PixelRun]) -> list[Figure]:
    found = []
    if runs:
        found = [
            Figure(
                say("Pictures a second"),
                Number(pictures_per_s(controller, runs)),
                say("what {lines} data lines carry, the pixels shared evenly among them", lines=controller.outputs)
                if controller.frames_per_s is None
                else say(
                    "the lesser of what {lines} data lines carry and the {own} printed on its label",
                    lines=controller.outputs,
                    own=Number(controller.frames_per_s),
                ),
            ),
            Figure(
                say("Level of the data"),
                say("{logic} V", logic=Number(controller.logic_v)),
                say("5 V pixels take {least} V or more for sure", least=Number(DATA_V)),
                say("common practice, from memory"),
            ),
        ]
    return [*found, *timer_figures(wiring)]


def timer_figures(wiring: Wiring) -> list[Figure]:
    """Return what the chosen controller's timer has to be set to for the wanted frequency; nothing where that is not known."""
    controller = wiring.controller
    if controller is None or controller.timer_mhz is None or wiring.pwm_hz is None:
        return []
    setting = timer_for(1e6 * controller.timer_mhz, controller.timer_bits, controller.dividers, wiring.pwm_hz)
    words: dict[str, Text] = {
        "clock": Number(controller.timer_mhz),
        "bits": controller.timer_bits,
        "wanted": Number(wiring.pwm_hz, 4),
    }
    if setting is None:
        return [
            Figure(
                say("Timer"),
                say("none fits"),
                say("{wanted} Hz cannot be made of {clock} MHz with {bits} bits and these dividers", **words),
                say(SOURCE),
            )
        ]
    words |= {"made": Number(setting.frequency_hz, 5), "steps": setting.steps}
    return [
        Figure(
            say("Timer"),
            say("divider {divider}, top {top}", divider=setting.divider, top=setting.top),
            say("{made} Hz of {clock} MHz, {steps} steps; {wanted} Hz are wanted", **words),
            say(SOURCE),
        )
    ]
