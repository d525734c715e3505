"""Choices of the indirect lamp: a strip in a groove that washes a wall or a corner; the wall is the diffuser."""

from typing import Annotated, Literal

import msgspec

from gauze.core.design.build import FamilyBuild, Share, Size, check_common, check_sheet_wanted
from gauze.core.design.cavity import CornerShape, WallShape, check_cavity
from gauze.core.errors import DesignError
from gauze.core.materials import Catalogue
from gauze.core.words import Length


class IndirectLamp(FamilyBuild, frozen=True, kw_only=True, tag="indirect_lamp"):
    """A strip before a wall or in a corner.

    ``reach_mm`` is how far the space is followed: along both walls of a corner, or in front of a wall ``width_mm`` wide. The
    strip is ``strip_mm`` long, stands upright or lies, its lower end (or, lying, its middle) ``base_mm`` over the floor, its
    face ``distance_mm`` from the wall, or from both. It looks at the wall, ``aim_deg`` turned aside (lying: upwards). A groove
    ``groove_depth_mm`` deep over the emitting faces and ``groove_width_mm`` wide hides it; ``walls`` is the finish of what is
    washed.
    """

    place: Literal["corner", "wall"] = "corner"
    stance: Literal["upright", "lying"] = "upright"
    width_mm: Size = 2000.0
    height_mm: Size = 2000.0
    reach_mm: Size = 1000.0
    strip_mm: Size
    base_mm: Share = 100.0
    distance_mm: Annotated[float, msgspec.Meta(gt=0, le=3000)] = 60.0
    aim_deg: Annotated[float, msgspec.Meta(ge=-80, le=80)] = 0.0
    groove_width_mm: Annotated[float, msgspec.Meta(gt=0, le=500)] = 14.0
    groove_depth_mm: Share = 0.0

    @property
    def cavity(self) -> WallShape | CornerShape:
        """The space that is lit."""
        if self.place == "corner":
            return CornerShape(reach_mm=self.reach_mm, height_mm=self.height_mm)
        return WallShape(width_mm=self.width_mm, height_mm=self.height_mm, reach_mm=self.reach_mm)


def check_indirect(build: IndirectLamp, catalogue: Catalogue) -> None:
    """Check what can be judged without laying out; raises :class:`gauze.core.errors.DesignError`."""
    check_common(build, catalogue, lit_by="strip")
    check_sheet_wanted(build, wanted=False)
    check_cavity(build.cavity, "build")
    strip = catalogue.strip(build.strips[0].strip)
    if build.groove_depth_mm > 0 and build.groove_width_mm < strip.width_mm:
        raise DesignError(
            "build.groove_width_mm",
            "A groove of {groove_width} is narrower than its strip of {width}: widen it.",
            groove_width=Length(build.groove_width_mm),
            width=Length(strip.width_mm),
        )
    if build.distance_mm >= build.reach_mm:
        raise DesignError(
            "build.distance_mm",
            "{distance} from the wall is beyond the {reach} that are followed: come nearer.",
            distance=Length(build.distance_mm),
            reach=Length(build.reach_mm),
        )
    if build.stance == "lying" and build.place == "corner":
        raise DesignError("build.stance", "In a corner the strip must be upright: choose a wall to lay it flat.")
    upright = build.stance == "upright"
    room = build.height_mm - build.base_mm if upright else build.width_mm
    if build.strip_mm > room:
        raise DesignError(
            "build.strip_mm",
            "A strip of {strip} does not fit in the {room} there are: shorten it.",
            strip=Length(build.strip_mm),
            room=Length(room),
        )
    if not upright and build.base_mm >= build.height_mm:
        raise DesignError("build.base_mm", "{base} is over the wall's top: lay it lower.", base=Length(build.base_mm))
