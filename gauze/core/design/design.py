"""A whole design: what it is for, and what is built."""

from collections.abc import Sequence
from typing import Annotated, Any, Literal, TypeVar

import msgspec

from gauze.core.design.bench import Bench, check_bench
from gauze.core.design.build import ModuleChoice
from gauze.core.design.channel_bar import ChannelBar
from gauze.core.design.edge_lit import EdgeLit
from gauze.core.design.indirect import IndirectLamp
from gauze.core.design.limits import check_limits
from gauze.core.design.loose import LooseEmitters
from gauze.core.design.making import Making, check_making
from gauze.core.design.pixel_display import PixelDisplay
from gauze.core.design.reflector_head import ReflectorHead
from gauze.core.design.shell_string import ShellString
from gauze.core.design.strip_panel import StripChoice, StripPanel
from gauze.core.design.surroundings import Surroundings, check_surroundings
from gauze.core.design.tile_wall import TileWall
from gauze.core.design.tube import Tube
from gauze.core.design.wiring import Wiring, check_wiring
from gauze.core.errors import CatalogueError, DesignError
from gauze.core.materials import Catalogue, OwnDiffuser
from gauze.core.materials.labels import Lamp

Build = (
    StripPanel
    | LooseEmitters
    | Tube
    | ChannelBar
    | EdgeLit
    | ReflectorHead
    | IndirectLamp
    | ShellString
    | PixelDisplay
    | TileWall
)
BuildKind = TypeVar("BuildKind")
Distance = Annotated[float, msgspec.Meta(ge=20, le=100_000)]

MOST_KEPT = 12
LONGEST_NAME = 120  # characters
OWN_PREFIX = "own-"  # of the ids of own things, so that they never meet one of the catalogue


class Target(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """Where and how what is lit stands, beyond its distance.

    Its middle may lie beside the axis; ``turn_deg`` turns it about its upright middle line, ``tilt_deg`` about its level
    one; its size is that of the map of the light on it.
    """

    offset_x_mm: Annotated[float, msgspec.Meta(ge=-20_000, le=20_000)] = 0.0
    offset_y_mm: Annotated[float, msgspec.Meta(ge=-20_000, le=20_000)] = 0.0
    turn_deg: Annotated[float, msgspec.Meta(ge=-90, le=90)] = 0.0
    tilt_deg: Annotated[float, msgspec.Meta(ge=-90, le=90)] = 0.0
    width_mm: Annotated[float, msgspec.Meta(gt=0, le=20_000)] = 400.0
    height_mm: Annotated[float, msgspec.Meta(gt=0, le=20_000)] = 300.0


StandardKey = Literal["reference", "clean", "soft", "light_only", "crisp"]


class Purpose(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """What the light is for.

    ``use`` says whether people look at the face or the face lights something; the other distance is kept all the
    same, since most lamps are also looked at. ``wanted_illuminance_lx`` holds at the target,
    ``wanted_luminance_cd_m2`` on the face, ``wanted_cct_k`` of the whole where a white is wanted. ``viewer`` says who
    looks: an eye, by its contrast sensitivity, or a camera, by a plain limit of contrast, ``camera_contrast_limit``.
    ``standard`` is how much an eye may see of the emitters; None for what is usual for the family and the use.
    """

    use: Literal["looked_at", "lighting"]
    viewing_distance_mm: Distance
    target_distance_mm: Distance
    target: Target = Target()
    wanted_illuminance_lx: Annotated[float, msgspec.Meta(gt=0, le=1_000_000)]
    wanted_luminance_cd_m2: Annotated[float, msgspec.Meta(gt=0, le=1_000_000)]
    wanted_cct_k: Annotated[float, msgspec.Meta(ge=1800, le=12_000)] | None = None
    viewer: Literal["eye", "camera"] = "eye"
    standard: StandardKey | None = None
    camera_contrast_limit: Annotated[float, msgspec.Meta(ge=0.001, le=0.5)] = 0.02


class KeptVersion(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """An earlier version of a design, kept beside it for comparison, with what was measured of it."""

    name: Annotated[str, msgspec.Meta(max_length=LONGEST_NAME)]
    purpose: Purpose
    build: Build
    own_diffusers: tuple[OwnDiffuser, ...] = ()
    own_lamps: tuple[Lamp, ...] = ()
    wiring: Wiring | None = None
    surroundings: Surroundings | None = None
    bench: Bench | None = None


class Design(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """The document: one build with its purpose.

    ``build`` is a tagged union over the families; a family is added by its class in ``Build``, and its record.
    ``own_diffusers`` and ``own_lamps`` are the builder's own sheets, strips and modules that the build may name, so that a file
    stands by itself.
    ``measured_row_current_a`` is a builder's own reading of one full row at full level, or None. ``wiring`` is how it is wired,
    ``surroundings`` where it stands and what it sits on; both None as long as that is not chosen; ``making`` how it is
    made, None for as usual; ``bench`` what was measured of it, None for nothing. ``kept`` are earlier versions.
    """

    name: str
    purpose: Purpose
    build: Build
    own_diffusers: tuple[OwnDiffuser, ...] = ()
    own_lamps: tuple[Lamp, ...] = ()
    measured_row_current_a: Annotated[float, msgspec.Meta(gt=0, le=1000)] | None = None
    wiring: Wiring | None = None
    surroundings: Surroundings | None = None
    making: Making | None = None
    bench: Bench | None = None
    kept: tuple[KeptVersion, ...] = ()

    @property
    def loose(self) -> LooseEmitters:
        """The build, for whoever deals with loose emitters only; raises :class:`TypeError` for another family."""
        return self.build_as(LooseEmitters)

    @property
    def panel(self) -> StripPanel:
        """The build, for whoever deals with strip panels only; raises :class:`TypeError` for another family."""
        return self.build_as(StripPanel)

    @property
    def strips(self) -> tuple[StripChoice, ...]:
        """The strips that light it; none where something else does."""
        return self.build.strips

    @property
    def module(self) -> ModuleChoice | None:
        """The module that lights it, if one does."""
        return self.build.module

    def build_as(self, kind: type[BuildKind]) -> BuildKind:
        """Return the build as that of a family, for what is registered for it; raises :class:`TypeError` for another."""
        found = self.build_if(kind)
        if found is None:
            raise TypeError(f"{type(self.build).__name__} is no {kind.__name__}")
        return found

    def build_if(self, kind: type[BuildKind]) -> BuildKind | None:
        """Return the build where it is of a family, else None."""
        return self.build if isinstance(self.build, kind) else None


def with_build(design: Design, **changes: Any) -> Design:
    """Return the design with other choices of its build."""
    return msgspec.structs.replace(design, build=msgspec.structs.replace(design.build, **changes))


def check_frame(design: Design) -> None:
    """Check all but the build; raises :class:`DesignError` with the path of the first choice that is invalid."""
    if len(design.name) > LONGEST_NAME:
        raise DesignError(
            "name", "The name is longer than {longest_name} characters. Shorten it.", longest_name=LONGEST_NAME
        )
    check_limits(design, "design")
    check_limits(design.purpose, "purpose")
    check_limits(design.purpose.target, "purpose.target")
    if design.wiring is not None:
        check_wiring(design.wiring)
    if design.surroundings is not None:
        check_surroundings(design.surroundings)
    if design.making is not None:
        check_making(design.making)
    for log in (design.bench, *(one.bench for one in design.kept)):
        if log is not None:
            check_bench(log)
    if len(design.kept) > MOST_KEPT:
        raise DesignError("kept", "At most {most_kept} versions can be kept: delete one first.", most_kept=MOST_KEPT)


def catalogue_of(design: Design, catalogue: Catalogue) -> Catalogue:
    """Return the catalogue with the design's own sheets, strips and modules in it.

    Raises
    ------
    DesignError
        When one of them has the id of another, is like none, or has an impossible label or readings.
    """
    if not design.own_diffusers and not design.own_lamps:
        return catalogue
    _check_own(design.own_diffusers, "own_diffusers")
    _check_own(design.own_lamps, "own_lamps")
    try:
        known = catalogue.with_own(design.own_diffusers)
    except CatalogueError as error:
        raise DesignError.of("own_diffusers", error) from None
    try:
        return known.with_own((), design.own_lamps)
    except CatalogueError as error:
        raise DesignError.of("own_lamps", error) from None


def _check_own(own: Sequence[OwnDiffuser | Lamp], path: str) -> None:
    ids = [one.id for one in own]
    for index, one in enumerate(own):
        check_limits(one, f"{path}[{index}]")
        if not one.id.startswith(OWN_PREFIX) or ids.count(one.id) > 1:
            raise DesignError(
                f"{path}[{index}].id",
                "“{id}” is invalid: own ids begin with “{own_prefix}” and differ.",
                id=one.id,
                own_prefix=OWN_PREFIX,
            )
