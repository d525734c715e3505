"""Can strips that are set to different levels be dimmed apart as they are wired?"""

from gauze.core.electrical.power import kind_of, levels_of
from gauze.core.electrical.schemes import strips_apart
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.layout.pieces import Piece
from gauze.core.parts.joining import carries_data
from gauze.core.words import Joined, Percent, say


def find(evaluation: Evaluation) -> list[Finding]:
    """Return a finding where strips of one voltage, on one pair of wires, have different levels."""
    network = evaluation.network
    if not network.wired or network.wiring.apart:
        return []
    dimmed: dict[float, list[Piece]] = {}
    for piece in evaluation.layout.pieces:
        if not carries_data(piece):  # pixels are dimmed by their data
            dimmed.setdefault(kind_of(piece).volts, []).append(piece)
    for pieces in dimmed.values():
        groups = strips_apart(pieces)
        levels = {levels_of(group[0]) for group in groups}
        if len(groups) > 1 and len(levels) > 1:
            return [_finding([levels_of(group[0]) for group in groups])]
    return []


def _finding(levels: list[tuple[float, ...]]) -> Finding:
    shown = Joined.of([Percent(max(own)) for own in levels])
    return Finding(
        code="one dimmer",
        place="feed",
        state=State.FAILS,
        sentence=say(
            "The strips are set to {levels}, but share the same wires: they cannot be dimmed separately.", levels=shown
        ),
        value=float(len(levels)),
        unit="",
        limit=1.0,
        figures=(
            Figure(
                say("Levels"),
                shown,
                say(
                    "pulses dim everything on the same wires: each strip needs its own pair of wires and its own output"
                ),
            ),
        ),
        fixable=True,
    )
