"""How a build will be looked at, and what passes there: one scale of visibility for all of it.

A ripple's visibility is its modulation over the least that an eye sees (:mod:`gauze.core.optics.visibility`), told in five steps
with the same words everywhere. Decision 14 says where the steps and the limits come from.
"""

import math
from dataclasses import dataclass

from gauze.core.design import Design
from gauze.core.design.design import StandardKey
from gauze.core.evaluate.finding import State
from gauze.core.families import family_of
from gauze.core.words import Text, say


@dataclass(frozen=True)
class Step:
    """One step of the scale: up to ``most`` times the eye's threshold a ripple is called by this word."""

    most: float
    word: Text


STEPS = (
    Step(1.0, say("invisible")),
    Step(5.0, say("hard to find")),
    Step(25.0, say("faint")),
    Step(80.0, say("visible")),
    Step(math.inf, say("obvious")),
)
OBVIOUS = STEPS[3].most  # from here on, in multiples of the threshold


@dataclass(frozen=True)
class Standard:
    """What is asked of a build that is looked at in some way.

    A ripple passes up to a visibility of ``passes_to`` and fails above ``fails_from``; between them it is doubtful. The same of
    the evenness of the face, least over most: good from ``even_from``, uneven below ``uneven_below``; and of the band along the
    rim that is dim, as a share of the face's side: good up to ``rim_to``, bad above ``rim_fails_from``.
    """

    key: StandardKey | None
    name: Text
    meant_for: Text
    asks: Text
    passes_to: float
    fails_from: float
    even_from: float = 0.7
    uneven_below: float = 0.5
    rim_to: float = 0.05
    rim_fails_from: float = 0.15

    @property
    def aim(self) -> float:
        """Visibility that a search for fixes makes for."""
        return min(self.passes_to, OBVIOUS)

    def state_of(self, visibility: float) -> State:
        """Judge a visibility."""
        if visibility <= self.passes_to:
            return State.GOOD
        return State.WATCH if visibility <= self.fails_from else State.FAILS

    def rim_state_of(self, share: float) -> State:
        """Judge the width of a dim band along the rim, as a share of the face's side."""
        if share <= self.rim_to:
            return State.GOOD
        return State.WATCH if share <= self.rim_fails_from else State.FAILS


_STANDARDS: tuple[Standard, ...] = (
    Standard(
        key="reference",
        name=say("reference"),
        meant_for=say("screens, product photographs, inspection"),
        asks=say("invisible"),
        passes_to=1.0,
        fails_from=5.0,
        even_from=0.75,
        uneven_below=0.6,
        rim_to=0.02,
        rim_fails_from=0.05,
    ),
    Standard(
        key="clean",
        name=say("clean"),
        meant_for=say("lamps and signs that are looked at"),
        asks=say("faint or better"),
        passes_to=12.0,
        fails_from=25.0,
    ),
    Standard(
        key="soft",
        name=say("soft"),
        meant_for=say("wall decoration, back lights, pixel glow"),
        asks=say("visible at most"),
        passes_to=60.0,
        fails_from=OBVIOUS,
        even_from=0.6,
        uneven_below=0.35,
        rim_to=0.10,
        rim_fails_from=math.inf,
    ),
    Standard(
        key="light_only",
        name=say("light only"),
        meant_for=say("work light that nobody looks into"),
        asks=say("anything but obvious"),
        passes_to=OBVIOUS,
        fails_from=math.inf,
        even_from=0.0,
        uneven_below=0.0,
    ),
    Standard(
        key="crisp",
        name=say("crisp"),
        meant_for=say("cells that are meant to be told apart"),
        asks=say("full cells that keep their light"),
        passes_to=math.inf,
        fails_from=math.inf,
    ),
)
STANDARDS: dict[StandardKey, Standard] = {one.key: one for one in _STANDARDS if one.key is not None}
CAMERA = Standard(
    key=None,
    name=say("camera"),
    meant_for=say("what a camera films, by a plain limit of contrast"),
    asks=say("less ripple than the limit"),
    passes_to=1.0,
    fails_from=2.0,
    even_from=0.75,
    uneven_below=0.6,
)


def step_of(visibility: float) -> Step:
    """Return the step of the scale on which a visibility is."""
    return next(step for step in STEPS if visibility <= step.most)


def usual_standard(design: Design) -> StandardKey:
    """Return the standard for a design where none is chosen: by what it is for and by its family."""
    usual = family_of(design).usual_standard(design.build)
    return "light_only" if design.purpose.use == "lighting" and usual != "crisp" else usual


def choosable_standards(design: Design) -> tuple[Standard, ...]:
    """Return the standards that can be chosen for a design: crisp only where there are cells."""
    has_cells = family_of(design).usual_standard(design.build) == "crisp"
    return tuple(one for one in _STANDARDS if has_cells or one.key != "crisp")


def neighbours_of(design: Design) -> tuple[Standard, ...]:
    """Return the standards beside the one by which a design is judged, of those that an eye's visibility decides."""
    own = standard_of(design)
    if own is CAMERA:
        return ()
    return tuple(one for one in _STANDARDS if one is not own and one.passes_to < OBVIOUS)


def standard_of(design: Design) -> Standard:
    """Return the standard by which a design is judged."""
    if design.purpose.viewer == "camera":
        return CAMERA
    chosen = design.purpose.standard
    if chosen is None or all(one.key != chosen for one in choosable_standards(design)):
        return STANDARDS[usual_standard(design)]
    return STANDARDS[chosen]
