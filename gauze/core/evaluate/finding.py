"""A finding: a sentence with a number, its state, its working, and the fixes."""

import enum
from collections.abc import Sequence
from dataclasses import dataclass, field

from gauze.core.design import Design
from gauze.core.words import Text


class State(enum.Enum):
    """How a finding stands. ``NOTE`` is neither good nor bad, only worth knowing."""

    GOOD = "good"
    NOTE = "note"
    WATCH = "watch"
    FAILS = "fails"


class Caution(enum.Enum):
    """Dangers that Gauze names where they arise; what to do is for local codes and licensed practice."""

    MAINS = (
        "Mains wiring and open-frame supplies can kill. Gauze plans the low-voltage side only: leave the mains side "
        "to a licensed electrician and follow your local code."
    )
    CURRENT = (
        "At low volts the amps are high: thin wire and bad joints get hot. Fuse every feed below what its wire carries, "
        "and follow your local code."
    )
    FLASHING = (
        "Flashing light can set off seizures in people who are sensitive to it: stay below about 3 flashes a second."
    )
    OVERHEAD = "What hangs overhead or on a wall can fall: give every piece two fixings, each able to hold it alone."
    BATTERY = (
        "Batteries can burn: use packs with a protection circuit, fuse them at the pack, charge them with a charger made for "
        "their cells, and never unattended."
    )
    HEAT = (
        "What gets hot can burn you, and timber, fabric or insulation around it: measure the finished build after an hour, where "
        "it is to stand, and follow your local code."
    )
    EYES = "Bare or barely covered LEDs are hard on the eyes: do not stare into them while you test."


@dataclass(frozen=True)
class Figure:
    """One line of working: a named value, how it was got, from what, and how far it can be trusted."""

    name: Text
    value: Text
    how: Text = ""
    source: Text = ""


@dataclass(frozen=True)
class Fix:
    """A computed fix: the changed design, what it is and what it costs."""

    title: Text
    cost: Text
    design: Design


@dataclass(frozen=True)
class Finding:
    """A question answered.

    ``place`` is where in the working order it belongs; ``value`` and ``limit`` are in ``unit``, and ``spread`` is by how much
    of it the value may be off either way: None where nothing says so. ``figures`` are its working, which may be made when it is
    first read. ``fixable`` says that a search for fixes is worth starting.
    """

    code: str
    place: str
    state: State
    sentence: Text
    value: float
    unit: str
    limit: float | None
    figures: Sequence[Figure]
    fixable: bool = False
    cautions: tuple[Caution, ...] = field(default=())
    spread: float | None = None
