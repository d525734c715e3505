"""Choices of the strip panel: rows of strip on a flat back, a diffuser in front."""

import math
from collections.abc import Callable
from typing import Annotated, Literal, Protocol, TypeVar

import msgspec

from gauze.core.design.limits import check_limits
from gauze.core.errors import CatalogueError, DesignError
from gauze.core.materials import Catalogue, Finish, Layer, Module, Strip
from gauze.core.words import Fixed, Length

FaceLength = Annotated[float, msgspec.Meta(ge=20, le=5000, description="Inner size of the face, mm.")]
Depth = Annotated[
    float, msgspec.Meta(gt=0, le=1500, description="Emitting face of the LEDs to the inner face of the diffuser, mm.")
]
Margin = Annotated[float, msgspec.Meta(ge=0, le=2500)]
Spacing = Annotated[float, msgspec.Meta(gt=0, le=2500)]
RowCount = Annotated[int, msgspec.Meta(ge=1, le=400)]
Level = Annotated[float, msgspec.Meta(ge=0, le=1)]
Reflectance = Annotated[float, msgspec.Meta(ge=0, le=0.98)]
MOST_LAYERS = 3
ROUNDING_ROWS = 1e-6  # of a spacing: rounding of typed inches must not lose a row
ROUNDING_MM = 0.02  # what a length loses when it is shown in thousandths of an inch and typed back
Layers = Annotated[tuple[Layer, ...], msgspec.Meta(min_length=1, max_length=MOST_LAYERS)]
WhiteCct = Annotated[float, msgspec.Meta(ge=1800, le=12000)]

T = TypeVar("T")
K = TypeVar("K")


class StripChoice(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """Which strip, in which white, at which level.

    ``cct_k`` is given for white strips only. ``levels`` has one number from 0 to 1 for each channel
    of the strip, in the catalogue's order; empty means all at full.
    """

    strip: str
    cct_k: WhiteCct | None = None
    levels: tuple[Level, ...] = ()

    def levels_for(self, strip: Strip) -> tuple[float, ...]:
        """Return one level for each channel."""
        return self.levels or (1.0,) * len(strip.channel)


class RowPlan(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """How many rows, how far apart, how far from the wall: two are chosen, the third follows.

    ``side_margin_mm`` is from the wall to the middle of the outermost row.
    """

    count: RowCount | None = None
    spacing_mm: Spacing | None = None
    side_margin_mm: Margin | None = None


class FreeBand(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """A band across the rows in which none may lie, as for a fixing: where it begins from the wall, and how wide it is."""

    start_mm: Margin
    width_mm: Spacing


class StripPanel(
    msgspec.Struct,
    frozen=True,
    kw_only=True,
    forbid_unknown_fields=True,
    omit_defaults=True,
    tag_field="family",
    tag="strip_panel",
):
    """Everything chosen of a strip panel. Lengths in mm, inside the body.

    ``diffuser`` is one sheet, or up to three laid on each other, the inner one first. ``strips`` has one entry, or two
    that take turns from row to row. ``back`` and ``walls`` are a finish of the catalogue or a total reflectance.
    ``alternate_shift_mm`` moves every other row along itself. With ``double_rows`` two strips lie side by side in each.
    ``whole_piece_mm`` is the length of pieces that must not be cut: the body is made to them. No row lies in a ``free`` band.
    """

    face_width_mm: FaceLength
    face_height_mm: FaceLength
    depth_mm: Depth
    row_direction: Literal["along_width", "along_height"]
    rows: RowPlan
    end_margin_mm: Margin
    strips: tuple[StripChoice, ...]
    diffuser: Layer | Layers
    back: str | Reflectance
    walls: str | Reflectance
    alternate_shift_mm: Annotated[float, msgspec.Meta(ge=-1000, le=1000)] = 0.0
    double_rows: bool = False
    whole_piece_mm: Annotated[float, msgspec.Meta(gt=0, le=5000)] | None = None
    free: tuple[FreeBand, ...] = ()

    @property
    def layers(self) -> tuple[Layer, ...]:
        """Layers of the diffuser, the inner one first."""
        return (self.diffuser,) if isinstance(self.diffuser, Layer) else self.diffuser

    @property
    def module(self) -> None:
        """It is lit by strips alone."""
        return None

    @property
    def row_extent_mm(self) -> float:
        """Inner size of the face along the rows."""
        return self.face_width_mm if self.row_direction == "along_width" else self.face_height_mm

    @property
    def across_extent_mm(self) -> float:
        """Inner size of the face across the rows."""
        return self.face_height_mm if self.row_direction == "along_width" else self.face_width_mm

    @property
    def row_count(self) -> int:
        """How many places across there are for rows."""
        plan = self.rows
        if plan.count is not None:
            return plan.count
        assert plan.spacing_mm is not None
        assert plan.side_margin_mm is not None
        gaps = (self.across_extent_mm - 2.0 * plan.side_margin_mm) / plan.spacing_mm
        return math.floor(max(gaps, 0.0) + ROUNDING_ROWS) + 1

    @property
    def row_margin_mm(self) -> float:
        """From the wall to the middle of the outermost row."""
        plan, count = self.rows, self.row_count
        if count == 1:
            return self.across_extent_mm / 2.0
        if plan.spacing_mm is None:
            assert plan.side_margin_mm is not None
            return plan.side_margin_mm
        return (self.across_extent_mm - (count - 1) * plan.spacing_mm) / 2.0

    def with_rows_count(self, count: float) -> "StripPanel":
        """Return the panel with another number of rows; the side margin stays and the spacing follows."""
        if not math.isfinite(count) or count != int(count):
            raise DesignError(
                "build.rows.count", "{count} rows is invalid: give a whole number.", count=Fixed(count, "g")
            )
        margin_mm = self.row_margin_mm
        if self.row_count == 1:  # a single row stands in the middle: its margin says nothing of the builder's wish
            margin_mm = self.across_extent_mm / (2.0 * max(count, 1))
        return msgspec.structs.replace(self, rows=RowPlan(count=int(count), side_margin_mm=margin_mm))

    def with_rows_spacing_mm(self, spacing_mm: float) -> "StripPanel":
        """Return the panel with another spacing; the side margin stays as the least, the count follows."""
        plan = self.rows
        margin_mm = plan.side_margin_mm if plan.side_margin_mm is not None else self.row_margin_mm
        return msgspec.structs.replace(self, rows=RowPlan(spacing_mm=spacing_mm, side_margin_mm=margin_mm))

    def with_rows_side_margin_mm(self, margin_mm: float) -> "StripPanel":
        """Return the panel with another side margin; the count stays and the spacing follows."""
        return msgspec.structs.replace(self, rows=RowPlan(count=self.row_count, side_margin_mm=margin_mm))

    def with_rows_spread_mm(self, spacing_mm: float) -> "StripPanel":
        """Return the panel with its rows drawn apart or together; the count stays, all spread about the middle."""
        return msgspec.structs.replace(self, rows=RowPlan(count=self.row_count, spacing_mm=spacing_mm))


def check_strip_panel(panel: StripPanel, catalogue: Catalogue, path: str = "build") -> None:
    """Check all choices that can be judged without laying the rows out.

    Raises
    ------
    DesignError
        With the path of the choice concerned.
    """
    check_limits(panel, path)
    check_limits(panel.rows, f"{path}.rows")
    _check_row_plan(panel.rows, f"{path}.rows")
    for index, band in enumerate(panel.free):
        check_limits(band, f"{path}.free[{index}]")
    if not 1 <= len(panel.strips) <= 2:
        raise DesignError(f"{path}.strips", "Choose one strip, or two that take turns from row to row.")
    for index, choice in enumerate(panel.strips):
        strip = check_strip_choice(choice, catalogue, f"{path}.strips[{index}]")
        if panel.depth_mm < strip.emitter_height_mm - ROUNDING_MM:
            raise DesignError(
                f"{path}.depth_mm",
                "Depth {depth} is less than the height of the LEDs ({emitter_height}): the diffuser would"
                " rest on them. Give at least {emitter_height}.",
                depth=Length(panel.depth_mm),
                emitter_height=Length(strip.emitter_height_mm),
            )
    check_layers(panel.layers, catalogue, path)
    check_finishes(panel.back, panel.walls, catalogue, path)


def check_layers(layers: tuple[Layer, ...], catalogue: Catalogue, path: str) -> None:
    """Check the layers of a diffuser; raises :class:`DesignError` at ``path``'s ``diffuser``."""
    if not 1 <= len(layers) <= MOST_LAYERS:
        raise DesignError(
            f"{path}.diffuser", "Choose one sheet, or up to {most_layers} laid on each other.", most_layers=MOST_LAYERS
        )
    for layer in layers:
        in_catalogue(f"{path}.diffuser", catalogue.diffuser, layer)


def check_finishes(back: str | float, walls: str | float, catalogue: Catalogue, path: str) -> None:
    """Check finishes that are named; raises :class:`DesignError` at the face concerned. (Reflectances have their limits.)"""
    for face, finish in (("back", back), ("walls", walls)):
        if isinstance(finish, str):
            in_catalogue(f"{path}.{face}", catalogue.finish, finish)


def check_strip_choice(choice: StripChoice, catalogue: Catalogue, path: str) -> Strip:
    """Check one strip with its white and levels, and return it; raises :class:`DesignError`."""
    strip = in_catalogue(f"{path}.strip", catalogue.strip, choice.strip)
    check_limits(choice, path)
    check_channels(choice, strip, path)
    return strip


class _Chosen(Protocol):
    """What is chosen of a strip or a module: its white, the levels of its channels."""

    @property
    def cct_k(self) -> float | None:
        """Colour temperature, None where it has colours of its own."""

    @property
    def levels(self) -> tuple[float, ...]:
        """A level for each channel; none for all at full."""


def check_channels(choice: _Chosen, source: Strip | Module, path: str) -> None:
    """Check levels and white of a strip or a module; raises :class:`DesignError`."""
    if choice.levels and len(choice.levels) != len(source.channel):
        raise DesignError(
            f"{path}.levels",
            "“{name}” has {channel} channel(s), but {levels} level(s) are given.",
            name=source.name,
            channel=len(source.channel),
            levels=len(choice.levels),
        )
    for level in choice.levels:
        if not 0 <= level <= 1:
            raise DesignError(
                f"{path}.levels", "Level {level} is invalid: it must be between 0 and 1.", level=Fixed(level, "g")
            )
    if source.white_cct_k is None and choice.cct_k is not None:
        raise DesignError(
            f"{path}.cct_k", "“{name}” has its own colours: leave the colour temperature out.", name=source.name
        )
    if source.white_cct_k is not None:
        least_k, most_k = source.white_cct_k
        if choice.cct_k is None or not least_k <= choice.cct_k <= most_k:
            raise DesignError(
                f"{path}.cct_k",
                "“{name}” is sold from {least_k} K to {most_k} K: choose a white in that range.",
                name=source.name,
                least_k=least_k,
                most_k=most_k,
            )


def finish_of(value: str | float, catalogue: Catalogue) -> Finish:
    """Return a finish of the catalogue, or one of the builder's own for a bare reflectance."""
    if isinstance(value, str):
        return catalogue.finish(value)
    return Finish(id="own", name="Own finish", reflectance=value, source="the builder's own value", spread=0.0)


def in_catalogue(path: str, look_up: Callable[[K], T], key: K) -> T:
    """Look a key up; raises :class:`DesignError` at ``path`` when it is unknown."""
    try:
        return look_up(key)
    except CatalogueError as error:
        raise DesignError.of(path, error) from None


def _check_row_plan(rows: RowPlan, path: str) -> None:
    given = [rows.count, rows.spacing_mm, rows.side_margin_mm]
    if sum(value is not None for value in given) != 2:
        raise DesignError(path, "Of row count, spacing and side margin give exactly two: the third follows from them.")
