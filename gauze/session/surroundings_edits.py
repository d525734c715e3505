"""The edits of where a build stands, as pure functions from design to design."""

from typing import Any

import msgspec

from gauze.core.design import Design
from gauze.core.design.surroundings import Surroundings, check_surroundings
from gauze.core.families import family_of


def shown_surroundings(design: Design) -> Surroundings:
    """Return what is chosen, or what is usual for the family."""
    return design.surroundings or family_of(design).usual_surroundings


def with_surroundings(design: Design, **changes: Any) -> Design:
    """Choose something of the surroundings; what was not chosen before is as usual.

    Raises
    ------
    DesignError
        When the value is invalid.
    """
    changed = msgspec.structs.replace(shown_surroundings(design), **changes)
    check_surroundings(changed)
    return msgspec.structs.replace(design, surroundings=changed)


def without_surroundings(design: Design) -> Design:
    """Choose none: the light is that of cool LEDs again, and heat never fails."""
    return msgspec.structs.replace(design, surroundings=None)
