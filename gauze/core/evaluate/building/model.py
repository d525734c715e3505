"""One step of the making, in plain values."""

from dataclasses import dataclass
from typing import Literal

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution
from gauze.core.evaluate.made import MadeBuild
from gauze.core.parts import Parts
from gauze.core.words import Text, Words, say

Stage = Literal["prepare", "cut", "body", "lay", "solder", "try", "close", "hang", "own"]
STAGES: dict[Stage, Text] = {
    "prepare": say("Prepare"),
    "cut": say("Cut"),
    "body": say("Body"),
    "lay": say("Lay the strip"),
    "solder": say("Wire"),
    "try": say("Test it"),
    "close": say("Close"),
    "hang": say("Put it up"),
    "own": say("Own step"),
}
CUTTING = say("Guard blades, clamp the work, wear eye protection, and do not breathe the dust.")
SOLDERING = say("The iron burns and the fumes irritate: ventilate, and wash your hands. Supply off while you solder.")
GLUING = say("Glue and paint give off vapour: ventilate, no flames, gloves if the label asks for them.")
DRILLING = say("Clamp what you drill, and let sheet be drilled slowly on a board: it cracks, and a caught sheet spins.")
OVERHEAD = Words(Caution.OVERHEAD.value)
MAINS = Words(Caution.MAINS.value)
CURRENT = Words(Caution.CURRENT.value)
EYES = Words(Caution.EYES.value)
BATTERY = Words(Caution.BATTERY.value)
HEAT = Words(Caution.HEAT.value)


@dataclass(frozen=True)
class Expected:
    """What a meter should read: from ``low`` to ``high`` of a unit."""

    what: Text
    low: float
    high: float
    unit: str

    @classmethod
    def about(cls, what: Text, value: float, share: float, unit: str) -> "Expected":
        """A reading within a share of a value."""
        return cls(what, value * (1.0 - share), value * (1.0 + share), unit)


@dataclass(frozen=True)
class Step:
    """One step.

    ``key`` stays as long as no edit concerns it: what is ticked and noted is kept by it. ``parts`` are the ids of what is worked
    on.
    ``hold`` is what must not be done yet; ``meanwhile`` what can be, while something dries. ``otherwise`` is how the other school
    does it, and what that gives.
    """

    key: str
    stage: Stage
    title: Text
    how: tuple[Text, ...] = ()
    parts: tuple[str, ...] = ()
    tools: tuple[Text, ...] = ()
    test: Text = ""
    expected: tuple[Expected, ...] = ()
    cautions: tuple[Text, ...] = ()
    hold: Text = ""
    meanwhile: Text = ""
    otherwise: Text = ""


@dataclass(frozen=True)
class ToBuild:
    """What the steps are made from."""

    evaluation: Evaluation
    parts: Parts
    made: MadeBuild

    def ids_of(self, *uses: str, kinds: tuple[str, ...] = ()) -> tuple[str, ...]:
        """Ids of the body's parts of some uses, or kinds."""
        found = (part for part in self.parts.body if part.use in uses or part.kind in kinds)
        return tuple(name for part in found for name in part.ids())
