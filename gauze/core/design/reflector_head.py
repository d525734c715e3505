"""Choices of the reflector head: one board of chips at the bottom of a reflecting funnel, film and cover in front."""

import math
from typing import Annotated

import msgspec

from gauze.core.design.build import Depth, FamilyBuild, Size, check_common, check_sheet_wanted
from gauze.core.design.cavity import FrustumShape, check_cavity
from gauze.core.design.limits import check_limits
from gauze.core.errors import DesignError
from gauze.core.materials import Catalogue, Module
from gauze.core.words import Fixed, Length


class Dies(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """Dies of a board of the builder's own: their number, pitch and size; each gives and draws what one of the module does."""

    columns: Annotated[int, msgspec.Meta(ge=1, le=40)]
    rows: Annotated[int, msgspec.Meta(ge=1, le=40)]
    pitch_mm: Annotated[float, msgspec.Meta(gt=0, le=50)]
    size_mm: Annotated[float, msgspec.Meta(gt=0, le=20)]


class ReflectorHead(FamilyBuild, frozen=True, kw_only=True, tag="reflector_head"):
    """A funnel about the board: ``back_mm`` across its bottom, ``opening_mm`` across its mouth, where the film lies; inner sizes.

    ``sides`` is 0 for a round funnel, else how many facets it has (its sizes are across the flats). ``dies`` are given where the
    board is not as it is sold.
    """

    sides: Annotated[int, msgspec.Meta(ge=0, le=24)] = 0
    back_mm: Size
    opening_mm: Size
    depth_mm: Depth
    dies: Dies | None = None

    @property
    def cavity(self) -> FrustumShape:
        """The shape that is lit."""
        return FrustumShape(sides=self.sides, back_mm=self.back_mm, lid_mm=self.opening_mm, depth_mm=self.depth_mm)

    @property
    def flank_deg(self) -> float:
        """Angle of the flank from the axis."""
        return math.degrees(math.atan2(self.opening_mm - self.back_mm, 2.0 * self.depth_mm))

    def with_flank_deg(self, flank_deg: float) -> "ReflectorHead":
        """Return the funnel with another angle of its flank: the mouth widens, the depth stays."""
        if not -60.0 < flank_deg < 85.0:
            raise DesignError(
                "build.flank_deg",
                "A flank of {flank}° is invalid: give -60 to 85 degrees from the axis.",
                flank=Fixed(flank_deg, "g"),
            )
        opening = self.back_mm + 2.0 * self.depth_mm * math.tan(math.radians(flank_deg))
        if opening <= 0:
            raise DesignError(
                "build.flank_deg", "With flanks of {flank}° the mouth closes: open them.", flank=Fixed(flank_deg, "g")
            )
        return msgspec.structs.replace(self, opening_mm=opening)


def board_of(build: ReflectorHead, catalogue: Catalogue) -> Module:
    """Return the board: the module of the catalogue, or one like it with other dies."""
    assert build.module is not None
    module = catalogue.module(build.module.module)
    if build.dies is None:
        return module
    dies, share = build.dies, build.dies.columns * build.dies.rows / module.emitters
    reach = tuple(max((n - 1) * dies.pitch_mm + dies.size_mm, dies.size_mm) for n in (dies.columns, dies.rows))
    rim = min(module.board_mm) - (max(module.columns, module.rows) - 1) * module.pitch_mm - module.package_mm
    return msgspec.structs.replace(
        module,
        name=f"{module.name}, with {dies.columns} × {dies.rows} dies",
        columns=dies.columns,
        rows=dies.rows,
        pitch_mm=dies.pitch_mm,
        package_mm=dies.size_mm,
        board_mm=(reach[0] + rim, reach[1] + rim),
        channel=tuple(
            msgspec.structs.replace(one, power_w=one.power_w * share, flux_lm=one.flux_lm * share)
            for one in module.channel
        ),
    )


def board_reach_mm(module: Module, sides: int) -> float:
    """Across what a board needs of the bottom: its diagonal in a round one, its longer side in one of four flats."""
    wide, high = module.board_mm
    return max(wide, high) if sides == 4 else math.hypot(wide, high)


def check_reflector_head(build: ReflectorHead, catalogue: Catalogue) -> None:
    """Check what can be judged without laying out; raises :class:`gauze.core.errors.DesignError`."""
    check_common(build, catalogue, lit_by="module")
    check_sheet_wanted(build, wanted=True)
    if build.sides in (1, 2):
        raise DesignError("build.sides", "A funnel is round (0) or has at least 3 sides.")
    check_cavity(build.cavity, "build")
    if build.dies is not None:
        check_limits(build.dies, "build.dies")
        if build.dies.pitch_mm < build.dies.size_mm:
            raise DesignError(
                "build.dies.pitch_mm",
                "Dies of {size} overlap when they are {pitch} apart: give at least {size}.",
                size=Length(build.dies.size_mm),
                pitch=Length(build.dies.pitch_mm),
            )
    module = board_of(build, catalogue)
    needed = board_reach_mm(module, build.sides)
    if module.kind == "chip" and build.back_mm < needed - 1e-6:
        raise DesignError(
            "build.back_mm",
            "The board of “{name}” needs {needed} across, and the bottom has {back}: widen it, or "
            "take a smaller board.",
            name=module.name,
            needed=Length(needed),
            back=Length(build.back_mm),
        )
    if build.depth_mm <= module.emitter_height_mm:
        raise DesignError(
            "build.depth_mm",
            "A depth of {depth} is less than the height of the chips ({emitter_height}).",
            depth=Length(build.depth_mm),
            emitter_height=Length(module.emitter_height_mm),
        )
