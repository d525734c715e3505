"""Choices of the tube: round, or with a slit; strip on its back, on a bed across it, or on both flanks."""

import math
from typing import Annotated, Literal

import msgspec

from gauze.core.design.build import FamilyBuild, Share, Size, check_common, check_sheet_wanted, strips_of
from gauze.core.design.cavity import TubeShape, bed_angle_deg, check_cavity
from gauze.core.errors import DesignError
from gauze.core.materials import Catalogue
from gauze.core.words import Fixed, Length, say

Carrier = Literal["back", "bed", "flanks"]
_WIDEST_STRIP = 0.9  # of the tube's inner diameter: a wider one cannot be laid flat in it


class Tube(FamilyBuild, frozen=True, kw_only=True, tag="tube"):
    """A tube: inner sizes, in mm.

    ``lit_deg`` of its round pass light, about the front: 360 for a tube all round, less where it is opaque except for a slit
    under a sleeve. ``carrier`` is where the strip lies: on the back, on a bed ``bed_height_mm`` over it, or on both flanks,
    ``flank_deg`` round from the back. Caps cover ``end_spare_mm`` of each end; no LED lies there.
    """

    length_mm: Size
    diameter_mm: Size
    lit_deg: Annotated[float, msgspec.Meta(ge=20, le=360)] = 360.0
    carrier: Carrier = "back"
    bed_height_mm: Share = 0.0
    flank_deg: Annotated[float, msgspec.Meta(ge=10, le=150)] = 70.0
    end_spare_mm: Share = 15.0

    @property
    def cavity(self) -> TubeShape:
        """The shape that is lit."""
        return TubeShape(
            length_mm=self.length_mm,
            diameter_mm=self.diameter_mm,
            bed_height_mm=self.bed_height_mm if self.carrier == "bed" else 0.0,
            lit_deg=self.lit_deg,
            covered_mm=self.end_spare_mm,
        )

    def with_carrier(self, carrier: Carrier) -> "Tube":
        """Return the tube with its strip elsewhere; a bed begins at a quarter of the diameter."""
        height_mm = self.bed_height_mm
        if carrier == "bed" and height_mm <= 0:
            height_mm = round(self.diameter_mm / 4.0, 1)
        return msgspec.structs.replace(self, carrier=carrier, bed_height_mm=height_mm)


def check_tube(tube: Tube, catalogue: Catalogue) -> None:
    """Check what can be judged without laying out; raises :class:`gauze.core.errors.DesignError`."""
    check_common(tube, catalogue, lit_by="strip")
    check_sheet_wanted(tube, wanted=True)
    if tube.carrier == "bed" and tube.bed_height_mm <= 0:
        raise DesignError("build.bed_height_mm", "A bed is above the back: its height must be more than 0.")
    try:
        check_cavity(tube.cavity, "build")
    except DesignError as error:
        raise DesignError.of(error.field.replace("covered_mm", "end_spare_mm"), error) from None
    strip = strips_of(tube, catalogue)[0]
    _check_width(tube, strip.width_mm)
    if tube.carrier == "flanks":
        _check_flanks(tube, strip.width_mm)


def _check_width(tube: Tube, strip_width_mm: float) -> None:
    room_mm = _WIDEST_STRIP * tube.diameter_mm
    if tube.carrier == "bed":
        room_mm = tube.diameter_mm * math.sin(math.radians(bed_angle_deg(tube.cavity) / 2))
    if strip_width_mm > room_mm:
        where = say("bed") if tube.carrier == "bed" else say("tube")
        raise DesignError(
            "build.bed_height_mm" if tube.carrier == "bed" else "build.diameter_mm",
            "The strip is {strip_width} wide, and the {where} takes {room}: the tube is narrower than"
            " its strip. Take a wider tube or a narrower strip.",
            strip_width=Length(strip_width_mm),
            where=where,
            room=Length(room_mm),
        )


def _check_flanks(tube: Tube, strip_width_mm: float) -> None:
    half_deg = math.degrees(math.asin(min(strip_width_mm / tube.diameter_mm, 1.0)))
    edge_deg = 180.0 - tube.lit_deg / 2.0
    if tube.lit_deg < 360 and tube.flank_deg + half_deg > edge_deg + 1e-9:
        raise DesignError(
            "build.flank_deg",
            "At {flank}° from the back the strips would lie in the slit, which begins at {edge}°: "
            "give at most {edge2}°.",
            flank=Fixed(tube.flank_deg, "g"),
            edge=Fixed(edge_deg, "g"),
            edge2=Fixed(max(edge_deg - half_deg, 0.0), ".0f"),
        )
    if tube.flank_deg < half_deg:
        raise DesignError(
            "build.flank_deg",
            "At {flank}° the two strips would overlap: give at least {half}°.",
            flank=Fixed(tube.flank_deg, "g"),
            half=Fixed(math.ceil(half_deg), "g"),
        )
