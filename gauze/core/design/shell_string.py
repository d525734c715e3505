"""Choices of the shell string: single pixels, each in a small shell of its own, spread over a wall."""

from typing import Annotated, Literal

import msgspec

from gauze.core.design.build import Count, FamilyBuild, Share, Size, check_common, check_sheet_wanted
from gauze.core.design.cavity import CupShape, SphereShape, check_cavity
from gauze.core.errors import DesignError
from gauze.core.materials import Catalogue
from gauze.core.words import Length

MOST_SHELLS = 2000


class ShellString(FamilyBuild, frozen=True, kw_only=True, tag="shell_string"):
    """Shells on a grid over a wall; inner sizes in mm.

    A ball stands on a ring of ``base_mm``; a cup has ``base_mm`` at the wall, ``diameter_mm`` at its front, and is
    ``cup_depth_mm`` deep. Every other column is lowered by half of the spacing in a ``zigzag``. The cord runs up and down the
    columns, or along the rows. ``walls`` is the finish of the wall behind.
    """

    shell: Literal["ball", "cup"] = "ball"
    diameter_mm: Size
    base_mm: Size
    cup_depth_mm: Share = 40.0
    columns: Count
    rows: Count
    pitch_x_mm: Size
    pitch_y_mm: Size
    zigzag: bool = False
    cord: Literal["columns", "rows"] = "columns"
    shell_wall_mm: Annotated[float, msgspec.Meta(ge=0.1, le=20)] = 1.0

    @property
    def cavity(self) -> SphereShape | CupShape:
        """The shape of one shell."""
        if self.shell == "ball":
            return SphereShape(diameter_mm=self.diameter_mm, base_mm=self.base_mm)
        return CupShape(back_mm=self.base_mm, front_mm=self.diameter_mm, depth_mm=self.cup_depth_mm)


def check_shell_string(build: ShellString, catalogue: Catalogue) -> None:
    """Check what can be judged without laying out; raises :class:`gauze.core.errors.DesignError`."""
    check_common(build, catalogue, lit_by="module")
    check_sheet_wanted(build, wanted=True)
    check_cavity(build.cavity, "build")
    if build.columns * build.rows > MOST_SHELLS:
        raise DesignError(
            "build.columns",
            "At most {most_shells} shells can be laid out: give fewer columns or rows.",
            most_shells=MOST_SHELLS,
        )
    outer = max(build.diameter_mm, build.base_mm) + 2.0 * build.shell_wall_mm
    for name, pitch, count in (
        ("pitch_x_mm", build.pitch_x_mm, build.columns),
        ("pitch_y_mm", build.pitch_y_mm, build.rows),
    ):
        if count > 1 and pitch < outer:
            raise DesignError(
                f"build.{name}",
                "Shells of {outer} overall overlap when they are {pitch} apart: give at least {outer}.",
                outer=Length(outer),
                pitch=Length(pitch),
            )
    assert build.module is not None
    module = catalogue.module(build.module.module)
    if module.emitters != 1:
        raise DesignError(
            "build.module",
            "“{name}” has {emitters} pixels: choose a single one on a cord.",
            name=module.name,
            emitters=module.emitters,
        )
    if build.base_mm < max(module.board_mm):
        raise DesignError(
            "build.base_mm",
            "The pixel is {board} wide and does not pass a base of {base}: widen it.",
            board=Length(max(module.board_mm)),
            base=Length(build.base_mm),
        )
