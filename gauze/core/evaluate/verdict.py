"""One verdict over all findings: what has to be changed, what is worth a look, or that it can be built."""

from collections.abc import Sequence
from dataclasses import dataclass

from gauze.core.evaluate.finding import Finding, State
from gauze.core.words import Text, say


@dataclass(frozen=True)
class Verdict:
    """The worst state of all findings, and a one-line summary."""

    state: State
    sentence: Text


def verdict_of(findings: Sequence[Finding]) -> Verdict:
    """Sum up findings."""
    fails, watch = (sum(finding.state is state for finding in findings) for state in (State.FAILS, State.WATCH))
    if fails:
        change = say("1 thing to change") if fails == 1 else say("{fails} things to change", fails=fails)
        return Verdict(State.FAILS, _joined(change, watch))
    if watch:
        return Verdict(State.WATCH, _joined(say("Can be built"), watch))
    return Verdict(State.GOOD, say("Ready to build"))


def _joined(opening: Text, watch: int) -> Text:
    if not watch:
        return opening
    look = say("1 worth a look") if watch == 1 else say("{watch} worth a look", watch=watch)
    return say("{opening}, {look}", opening=opening, look=look)
