"""Choices of a cavity: the shape that holds loose emitters, with its sizes. Inner sizes, in mm."""

import math
from typing import Annotated, Any, Literal, Self

import msgspec
import numpy as np

from gauze.core.design.limits import check_limits
from gauze.core.errors import DesignError
from gauze.core.materials.profile import Section
from gauze.core.words import Fixed, Length

Size = Annotated[float, msgspec.Meta(gt=0, le=5000)]
Depth = Annotated[float, msgspec.Meta(gt=0, le=5000)]
Share = Annotated[float, msgspec.Meta(ge=0, le=5000)]
Coordinate = Annotated[float, msgspec.Meta(ge=-5000, le=5000)]
CellCount = Annotated[int, msgspec.Meta(ge=1, le=128)]

Looks = Literal["face", "length", "funnel", "shell"]

_MOST_ASPECT = 400.0  # of the longest to the shortest size: beyond it patches become slivers
MOST_CORNERS = 24
MOST_CELLS = 4096


class Shape(
    msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True, tag_field="shape"
):
    """What all cavities have in common. The back lies on z = 0."""

    @property
    def looks(self) -> Looks:
        """How its face is looked at: as a face, along its length, as the mouth of a funnel, or all round as a shell."""
        return "face"


class _LongShape(Shape, frozen=True, kw_only=True):
    """A cavity that runs along x."""

    @property
    def looks(self) -> Looks:
        return "length"


class _ShellShape(Shape, frozen=True, kw_only=True):
    """A cavity that is lit all round."""

    @property
    def looks(self) -> Looks:
        return "shell"


class BoxShape(Shape, frozen=True, kw_only=True, tag="box"):
    """Rectangular box, its corner at the origin."""

    width_mm: Size
    height_mm: Size
    depth_mm: Depth


class PrismShape(Shape, frozen=True, kw_only=True, tag="prism"):
    """Upright walls on any convex polygon: its corners, in order either way round."""

    corners_mm: tuple[tuple[Coordinate, Coordinate], ...]
    depth_mm: Depth


class FrustumShape(Shape, frozen=True, kw_only=True, tag="frustum"):
    """Funnel about the z axis: round (``sides`` 0) or on a regular polygon, its size across the flats."""

    sides: Annotated[int, msgspec.Meta(ge=0, le=MOST_CORNERS)] = 0
    back_mm: Size
    lid_mm: Size
    depth_mm: Depth

    @property
    def looks(self) -> Looks:
        """A funnel where it widens."""
        return "funnel" if self.lid_mm > self.back_mm else "face"


class SizedSection:
    """What sizes a channel's section, so that a half round stays half as deep as wide; mixed into a struct of these."""

    __slots__ = ()
    section: Section
    width_mm: float
    depth_mm: float

    def with_width_mm(self, width_mm: float) -> Self:
        """Return the channel of another width."""
        return self._sized(width_mm, width_mm / 2.0 if self.section == "half_round" else self.depth_mm)

    def with_depth_mm(self, depth_mm: float) -> Self:
        """Return the channel of another depth."""
        return self._sized(2.0 * depth_mm if self.section == "half_round" else self.width_mm, depth_mm)

    def _sized(self, width_mm: float, depth_mm: float) -> Self:
        struct: Any = self
        sized: Self = msgspec.structs.replace(struct, width_mm=width_mm, depth_mm=depth_mm)
        return sized


class ChannelShape(SizedSection, _LongShape, frozen=True, kw_only=True, tag="channel"):
    """Profile along x, open side up, closed by a lens: ``width_mm`` is at the lens, ``bed_mm`` at the back of a V.

    ``lens_rise_mm`` is how far a curved lens stands over a flat one. A U has a round bottom, a half round nothing else.
    """

    section: Section
    length_mm: Size
    width_mm: Size
    depth_mm: Depth
    bed_mm: Share = 0.0
    lens_rise_mm: Share = 0.0

    def with_section(self, section: Section) -> "ChannelShape":
        """Return the channel in another section, with what that asks for: a bed of a V, the depth of what is round."""
        bed_mm, depth_mm = 0.0, self.depth_mm
        if section == "v":
            bed_mm = self.bed_mm if 0 < self.bed_mm <= self.width_mm else self.width_mm / 2.0
        elif section == "half_round":
            depth_mm = self.width_mm / 2.0
        elif section == "u" and depth_mm <= self.width_mm / 2.0:
            depth_mm = self.width_mm
        return msgspec.structs.replace(self, section=section, depth_mm=depth_mm, bed_mm=bed_mm)


class Leg(msgspec.Struct, frozen=True, kw_only=True):
    """What a channel goes on into round a mitre: by how much it turns, to the left positive, and how far it is followed."""

    turn_deg: float
    length_mm: float


class MitredChannelShape(ChannelShape, frozen=True, kw_only=True, tag="channel_mitred"):
    """A side of a mitred frame or path, ``length_mm`` between its corners along its middle line, with the sides beside it.

    Only its own lens is looked at. Not a cavity of the file: layouts of frames and paths make it.
    """

    before: Leg | None = None
    after: Leg | None = None


class TubeShape(_LongShape, frozen=True, kw_only=True, tag="tube"):
    """Round tube along x, its lowest line on z = 0; a bed may lie across it. ``lit_deg`` of its round are lit, about the top.

    Caps cover ``covered_mm`` of each end.
    """

    length_mm: Size
    diameter_mm: Size
    bed_height_mm: Share = 0.0
    lit_deg: Annotated[float, msgspec.Meta(ge=5, le=360)] = 360.0
    covered_mm: Share = 0.0


class SphereShape(_ShellShape, frozen=True, kw_only=True, tag="sphere"):
    """Ball that stands with a flat round base on z = 0, its axis the z axis; without a base it touches it."""

    diameter_mm: Size
    base_mm: Share = 0.0


class CupShape(_ShellShape, frozen=True, kw_only=True, tag="cup"):
    """Shell with a round back, a sloping or upright side and a flat front; side and front are lit."""

    back_mm: Size
    front_mm: Size
    depth_mm: Depth


class WallShape(Shape, frozen=True, kw_only=True, tag="open_wall"):
    """A wall at z = 0 that is washed with light; everything beyond its edges and ``reach_mm`` in front of it is open."""

    width_mm: Size
    height_mm: Size
    reach_mm: Depth


class CornerShape(Shape, frozen=True, kw_only=True, tag="open_corner"):
    """Two walls that meet at x = 0, z = 0, both washed with light: one ``reach_mm`` along x, one along z; the rest is open."""

    reach_mm: Size
    height_mm: Size


class BaffledShape(Shape, frozen=True, kw_only=True, tag="baffled"):
    """Box divided into cells by a grid of partitions, ``gap_below_mm`` over the back, ending below the lid or touching it.

    Half a partition runs along the rim, unless ``rim_partition`` is false: the wall is bare then, and cells there larger by that
    half.
    """

    columns: CellCount
    rows: CellCount
    pitch_x_mm: Size
    pitch_y_mm: Size
    depth_mm: Depth
    partition_mm: Annotated[float, msgspec.Meta(ge=0, le=100)]
    partition_height_mm: Depth
    gap_below_mm: Share = 0.0
    rim_partition: bool = True


CavityShape = (
    BoxShape
    | PrismShape
    | FrustumShape
    | ChannelShape
    | TubeShape
    | SphereShape
    | CupShape
    | WallShape
    | CornerShape
    | BaffledShape
)


def lit_by_reflection(shape: CavityShape) -> bool:
    """Whether the lit face is a wall, and no sheet is there."""
    return isinstance(shape, WallShape | CornerShape)


def check_cavity(shape: CavityShape, path: str) -> None:
    """Check a shape's sizes; raises :class:`DesignError` with the path of the choice concerned."""
    check_limits(shape, path)
    if isinstance(shape, PrismShape):
        _check_corners(shape, path)
    elif isinstance(shape, ChannelShape):
        _check_channel(shape, path)
    elif isinstance(shape, TubeShape):
        _check_tube(shape, path)
    elif isinstance(shape, SphereShape) and shape.base_mm >= shape.diameter_mm:
        raise DesignError(
            f"{path}.base_mm",
            "A base of {base} does not fit a ball of {diameter}: give less.",
            base=Length(shape.base_mm),
            diameter=Length(shape.diameter_mm),
        )
    elif isinstance(shape, BaffledShape):
        _check_baffles(shape, path)
    _check_aspect(shape, path)


def _check_aspect(shape: CavityShape, path: str) -> None:
    fields = [name for name in shape.__struct_fields__ if name in _BODY_SIZES]
    sizes = {name: getattr(shape, name) for name in fields}
    if isinstance(shape, PrismShape):
        points = np.array(shape.corners_mm)
        sizes["corners_mm"] = float(np.ptp(points, axis=0).max())
    least, most = min(sizes, key=lambda name: sizes[name]), max(sizes, key=lambda name: sizes[name])
    if sizes[most] > _MOST_ASPECT * sizes[least]:
        raise DesignError(
            f"{path}.{least}",
            "{least} is too small compared with {most}: light is computed for ratios up to 1 : {most_aspect}.",
            least=Length(sizes[least]),
            most=Length(sizes[most]),
            most_aspect=Fixed(_MOST_ASPECT, "g"),
        )


_BODY_SIZES = (
    "width_mm",
    "height_mm",
    "depth_mm",
    "back_mm",
    "lid_mm",
    "front_mm",
    "length_mm",
    "diameter_mm",
    "reach_mm",
)


def _check_corners(shape: PrismShape, path: str) -> None:
    points = np.array(shape.corners_mm, dtype=float).reshape(-1, 2)
    where = f"{path}.corners_mm"
    if not 3 <= len(points) <= MOST_CORNERS:
        raise DesignError(
            where,
            "A polygon has 3 to {most_corners} corners here; {points} are given.",
            most_corners=MOST_CORNERS,
            points=len(points),
        )
    if not np.isfinite(points).all() or np.abs(points).max() > 5000:
        raise DesignError(where, "All corners must be within 5 m of the origin. Correct them.")
    sides = np.roll(points, -1, axis=0) - points
    following = np.roll(sides, -1, axis=0)
    turns = sides[:, 0] * following[:, 1] - sides[:, 1] * following[:, 0]
    scale = float(np.abs(points).max()) ** 2 * 1e-9
    angles = np.arctan2(turns, (sides * following).sum(axis=1)).sum()
    if not ((turns > scale).all() or (turns < -scale).all()) or abs(abs(angles) - 2 * math.pi) > 1e-6:
        raise DesignError(
            where,
            "The polygon must be convex: its corners in order, every one turning the same way, no three in a line.",
        )


def _check_channel(shape: ChannelShape, path: str) -> None:
    if shape.section == "v" and not 0 < shape.bed_mm <= shape.width_mm:
        raise DesignError(
            f"{path}.bed_mm",
            "The bed of a V must be between 0 and {width} wide, the width of the V.",
            width=Length(shape.width_mm),
        )
    if shape.section != "v" and shape.bed_mm:
        raise DesignError(f"{path}.bed_mm", "Only a V has a bed with its own width: leave it out.")
    if shape.section == "u" and shape.depth_mm <= shape.width_mm / 2:
        raise DesignError(
            f"{path}.depth_mm",
            "A U of {width} has a round bottom of half that: make it deeper than {width2}.",
            width=Length(shape.width_mm),
            width2=Length(shape.width_mm / 2),
        )
    if shape.section == "half_round" and abs(shape.depth_mm - shape.width_mm / 2) > 0.01 * shape.width_mm:
        raise DesignError(
            f"{path}.depth_mm",
            "A half round is half as deep as wide: {width} for this width.",
            width=Length(shape.width_mm / 2),
        )
    if shape.lens_rise_mm > shape.width_mm / 2:
        raise DesignError(
            f"{path}.lens_rise_mm",
            "A lens rises at most by half of its width, {width}: give less.",
            width=Length(shape.width_mm / 2),
        )


def _check_tube(shape: TubeShape, path: str) -> None:
    if shape.bed_height_mm >= 0.9 * shape.diameter_mm:
        raise DesignError(
            f"{path}.bed_height_mm",
            "The bed can be at most nine tenths of the tube's {diameter} high: lower it.",
            diameter=Length(shape.diameter_mm),
        )
    if 2.0 * shape.covered_mm > 0.9 * shape.length_mm:
        raise DesignError(
            f"{path}.covered_mm",
            "Caps that cover {covered} of each end leave nothing of {length} to be lit: give less.",
            covered=Length(shape.covered_mm),
            length=Length(shape.length_mm),
        )


def bed_angle_deg(shape: TubeShape) -> float:
    """Angle under which the bed is seen from the tube's axis."""
    radius = shape.diameter_mm / 2.0
    return 2.0 * math.degrees(math.acos(min(max(1.0 - shape.bed_height_mm / radius, -1.0), 1.0)))


def _check_baffles(shape: BaffledShape, path: str) -> None:
    if shape.columns * shape.rows > MOST_CELLS:
        raise DesignError(
            f"{path}.columns",
            "At most {most_cells} cells can be computed: give fewer columns or rows.",
            most_cells=MOST_CELLS,
        )
    narrowest = min(shape.pitch_x_mm, shape.pitch_y_mm)
    if shape.partition_mm >= 0.5 * narrowest:
        raise DesignError(
            f"{path}.partition_mm",
            "Partitions of {partition} leave less than half of a cell of {narrowest}: make them thinner.",
            partition=Length(shape.partition_mm),
            narrowest=Length(narrowest),
        )
    if shape.partition_height_mm + shape.gap_below_mm > shape.depth_mm + 1e-9:
        raise DesignError(
            f"{path}.partition_height_mm",
            "The gap below and partitions of {partition_height} are more than the depth of {depth}: "
            "lower them or make the box deeper.",
            partition_height=Length(shape.partition_height_mm),
            depth=Length(shape.depth_mm),
        )
