"""How far a computed brightness can be trusted: the spread of what the catalogue says, carried through to the result."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING

from gauze.core.evaluate.finding import Figure
from gauze.core.layout import Layout
from gauze.core.materials import Module, Strip
from gauze.core.words import Joined, Percent, Text, say

if TYPE_CHECKING:
    from gauze.core.evaluate.evaluation import Evaluation


@dataclass(frozen=True)
class Spread:
    """A share of a value by which it may be off either way, and the terms that it is made of, each with its own share."""

    share: float
    terms: tuple[tuple[Text, float], ...]

    def figure(self) -> Figure:
        """Its working, as a line beside the figures of a finding."""
        terms = [say("{name} ±{share}", name=name, share=Percent(share)) for name, share in self.terms]
        return Figure(
            say("Spread"),
            say("±{share}", share=Percent(self.share)),
            say(
                "root of the sum of squares of {terms}; light that a sheet sends back is not counted on, so a little too much",
                terms=Joined.of(terms),
            ),
            say("first order; catalogue values are typical"),
        )


def brightness_spread(evaluation: Evaluation) -> Spread | None:
    """Return the spread of everything that grows as the flux does; None where no part of it is a catalogue value.

    Strips of one kind are off together, by their share of the flux; kinds and sheets are independent of each other.
    """
    flux_lm: dict[str, float] = defaultdict(float)
    kinds: dict[str, Strip | Module] = {}
    for kind, flux in _lamps(evaluation.layout):
        flux_lm[kind.id] += flux
        kinds[kind.id] = kind
    whole = sum(flux_lm.values())
    terms: list[tuple[Text, float]] = [
        (kind.name, kind.flux_spread * flux_lm[key] / whole) for key, kind in kinds.items() if whole > 0.0
    ]
    sheet = evaluation.diffuser
    if sheet.layers:
        terms.append((sheet.name, sheet.spread))
    terms = [(name, share) for name, share in terms if share > 0.0]
    if not terms:
        return None
    return Spread(math.sqrt(sum(share**2 for _, share in terms)), tuple(terms))


def _lamps(layout: Layout) -> Iterator[tuple[Strip | Module, float]]:
    """What lights it, piece by piece, with its flux at the levels that are set."""
    for piece in layout.strips:
        if piece.lit:
            levels = piece.choice.levels_for(piece.strip)
            per_m = sum(level * one.flux_lm_per_m for level, one in zip(levels, piece.strip.channel, strict=True))
            yield piece.strip, per_m * piece.length_mm / 1000.0
    for board in layout.modules:
        levels = board.choice.levels_for(board.module)
        yield board.module, sum(level * one.flux_lm for level, one in zip(levels, board.module.channel, strict=True))
