"""What a build is made of, piece by piece, and what is joined to what: the one answer for power, making and the bench."""

from gauze.core.parts.model import (
    BodyPart,
    Fixing,
    Groove,
    Hole,
    Joint,
    Mark,
    Parts,
    Placement,
)

__all__ = ["BodyPart", "Fixing", "Groove", "Hole", "Joint", "Mark", "Parts", "Placement"]
