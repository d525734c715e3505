"""Choices of the edge-lit face: a sheet lit from two or four sides by strip under its rim."""

from typing import Annotated, Literal

import msgspec

from gauze.core.design.build import Depth, FamilyBuild, Share, Size, check_common, check_sheet_wanted
from gauze.core.design.cavity import BoxShape, check_cavity
from gauze.core.errors import DesignError
from gauze.core.materials import Catalogue
from gauze.core.words import Length


class EdgeLit(FamilyBuild, frozen=True, kw_only=True, tag="edge_lit"):
    """A shallow body with strips along its walls; inner sizes in mm.

    The strips lie on carriers ``bar_offset_mm`` from the walls, their middles ``bar_height_mm`` over the back, and look across
    the body, ``tilt_deg`` up to the sheet. ``sides`` says along which walls. The sheet lies on a rim and spans the body:
    ``support_mm`` is the thickness of a clear sheet that carries a hand on it, 0 where the diffuser itself does.
    """

    width_mm: Size
    height_mm: Size
    depth_mm: Depth
    sides: Literal["long", "short", "four"] = "long"
    bar_offset_mm: Share = 0.0
    bar_height_mm: Share = 8.0
    tilt_deg: Annotated[float, msgspec.Meta(ge=-60, le=80)] = 0.0
    end_gap_mm: Share = 5.0
    support_mm: Annotated[float, msgspec.Meta(ge=0, le=50)] = 0.0

    @property
    def cavity(self) -> BoxShape:
        """The shape that is lit."""
        return BoxShape(width_mm=self.width_mm, height_mm=self.height_mm, depth_mm=self.depth_mm)


def check_edge_lit(build: EdgeLit, catalogue: Catalogue) -> None:
    """Check what can be judged without laying out; raises :class:`gauze.core.errors.DesignError`."""
    check_common(build, catalogue, lit_by="strip")
    check_sheet_wanted(build, wanted=True)
    check_cavity(build.cavity, "build")
    across_mm = min(build.width_mm, build.height_mm)
    if 2.0 * build.bar_offset_mm >= across_mm:
        raise DesignError(
            "build.bar_offset_mm",
            "Bars {bar_offset} from the walls meet in the middle of {across}: give less than {across2}.",
            bar_offset=Length(build.bar_offset_mm),
            across=Length(across_mm),
            across2=Length(across_mm / 2.0),
        )
