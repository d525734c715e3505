"""What the builds of the families have in common: what closes the face, the inner faces, what lights them."""

from collections.abc import Sequence
from typing import Annotated, Literal

import msgspec

from gauze.core.design.limits import check_limits
from gauze.core.design.strip_panel import (
    Layers,
    Level,
    Reflectance,
    StripChoice,
    WhiteCct,
    check_channels,
    check_finishes,
    check_layers,
    check_strip_choice,
    in_catalogue,
)
from gauze.core.errors import DesignError
from gauze.core.materials import Catalogue, Layer, Module, Strip
from gauze.core.words import Length

Size = Annotated[float, msgspec.Meta(gt=0, le=5000)]
Depth = Annotated[float, msgspec.Meta(gt=0, le=1500)]
Share = Annotated[float, msgspec.Meta(ge=0, le=5000)]
Count = Annotated[int, msgspec.Meta(ge=1, le=256)]
Coordinate = Annotated[float, msgspec.Meta(ge=-20_000, le=20_000)]


Corner = Literal["lower_left", "lower_right", "upper_left", "upper_right"]


class PixelOrder(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """In which order the data run through the pixels of a board, as it is seen from the front with its columns upright.

    From a corner, row by row or column by column, each from the same side or back and forth.
    """

    start: Corner = "lower_left"
    by: Literal["rows", "columns"] = "rows"
    zigzag: bool = False


class ModuleChoice(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """Which module, in which white, at which levels, as for a strip; and how the data run through the pixels of each."""

    module: str
    cct_k: WhiteCct | None = None
    levels: tuple[Level, ...] = ()
    order: PixelOrder = PixelOrder()

    def levels_for(self, module: Module) -> tuple[float, ...]:
        """Return one level for each channel."""
        return self.levels or (1.0,) * len(module.channel)


class FamilyBuild(
    msgspec.Struct,
    frozen=True,
    kw_only=True,
    forbid_unknown_fields=True,
    omit_defaults=True,
    tag_field="family",
):
    """Everything chosen of a build.

    ``diffuser`` is one sheet, or up to three laid on each other, the inner one first; None where a wall is what is lit.
    ``back`` and ``walls`` are a finish of the catalogue or a total reflectance. ``strips`` and ``module`` are what lights it;
    families take the one, the other, or either.
    """

    diffuser: Layer | Layers | None = None
    back: str | Reflectance = "matt-white-paint"
    walls: str | Reflectance = "matt-white-paint"
    strips: tuple[StripChoice, ...] = ()
    module: ModuleChoice | None = None

    @property
    def layers(self) -> tuple[Layer, ...]:
        """Layers of the diffuser, the inner one first; none where a wall is lit."""
        if self.diffuser is None:
            return ()
        return (self.diffuser,) if isinstance(self.diffuser, Layer) else self.diffuser


def check_common(build: FamilyBuild, catalogue: Catalogue, *, lit_by: str, most_strips: int = 1) -> None:
    """Check what all families share; ``lit_by`` is ``"strip"``, ``"module"`` or ``"either"``.

    Raises
    ------
    DesignError
        With the path of the choice concerned.
    """
    check_limits(build, "build")
    if build.diffuser is not None:
        check_layers(build.layers, catalogue, "build")
    check_finishes(build.back, build.walls, catalogue, "build")
    for index, choice in enumerate(build.strips):
        check_strip_choice(choice, catalogue, f"build.strips[{index}]")
    if build.module is not None:
        check_module_choice(build.module, catalogue, "build.module")
    lamps = (bool(build.strips), build.module is not None)
    if lit_by == "strip" and lamps != (True, False):
        raise DesignError("build.strips", "This build is lit by strip: choose one, and no module.")
    if lit_by == "module" and lamps != (False, True):
        raise DesignError("build.module", "This build is lit by modules: choose one, and no strip.")
    if lit_by == "either" and sum(lamps) != 1:
        raise DesignError("build.strips", "This build is lit by strip or by modules: choose one of the two.")
    if len(build.strips) > most_strips:
        if most_strips == 1:
            raise DesignError("build.strips", "Choose one strip here.")
        raise DesignError("build.strips", "Choose at most {most_strips} strips here.", most_strips=most_strips)


def check_sheet_wanted(build: FamilyBuild, *, wanted: bool) -> None:
    """Check that there is a diffuser, or none; raises :class:`DesignError`."""
    if wanted != (build.diffuser is not None):
        if wanted:
            raise DesignError("build.diffuser", "Choose a diffuser here.")
        raise DesignError("build.diffuser", "Leave the diffuser out here: a wall is lit.")


def check_module_choice(choice: ModuleChoice, catalogue: Catalogue, path: str) -> Module:
    """Check a module with its white and levels, and return it; raises :class:`DesignError`."""
    module = in_catalogue(f"{path}.module", catalogue.module, choice.module)
    check_limits(choice, path)
    check_channels(choice, module, path)
    return module


def strips_of(build: FamilyBuild, catalogue: Catalogue) -> Sequence[Strip]:
    """Return the strips that were chosen."""
    return [catalogue.strip(choice.strip) for choice in build.strips]


def check_depth_over_leds(depth_mm: float, height_mm: float, field: str = "build.depth_mm") -> None:
    """Check that a sheet does not rest on the LEDs; raises :class:`DesignError`."""
    if depth_mm < height_mm:
        raise DesignError(
            field,
            "A depth of {depth} is less than the height of the LEDs ({height}): the sheet would rest "
            "on them. Give at least {height}.",
            depth=Length(depth_mm),
            height=Length(height_mm),
        )
