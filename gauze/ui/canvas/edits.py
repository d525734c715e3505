"""What a typed dimension or a drag means for the design: names and changes, no Qt."""

from collections.abc import Callable

from gauze.core.design import Design
from gauze.core.layout import AnyLayout, panel_layout
from gauze.core.units import LengthUnit, parse_length, parse_number
from gauze.session import edits

Change = Callable[[Design, AnyLayout], Design]


def typed_edit(key: str, text: str, unit: LengthUnit) -> tuple[str, Change]:
    """Return the name and the change of a typed dimension.

    Raises
    ------
    QuantityError
        When the text cannot be read.
    """
    if key == "row_count":
        count = parse_number(text.lower().removesuffix("rows").removesuffix("row"))
        return "Number of rows", lambda design, layout: edits.with_row_count(design, panel_layout(layout), count)
    value_mm = parse_length(text, unit)
    names_and_changes: dict[str, tuple[str, Change]] = {
        "face_width": ("Face width", lambda design, _: edits.with_build(design, face_width_mm=value_mm)),
        "face_height": ("Face height", lambda design, _: edits.with_build(design, face_height_mm=value_mm)),
        "side_margin": (
            "Side margin",
            lambda design, layout: edits.with_side_margin(design, panel_layout(layout), value_mm),
        ),
        "spacing": ("Row spacing", lambda design, layout: edits.with_spacing(design, panel_layout(layout), value_mm)),
        "end_margin": ("End margin", lambda design, _: edits.with_build(design, end_margin_mm=value_mm)),
        "shift": (
            "Shift of every other row",
            lambda design, _: edits.with_build(design, alternate_shift_mm=value_mm),
        ),
        "depth": ("Depth", lambda design, _: edits.with_build(design, depth_mm=value_mm)),
        "inner_depth": (
            "Inner depth",
            lambda design, layout: edits.with_build(design, depth_mm=value_mm - panel_layout(layout).emitter_plane_mm),
        ),
        "viewing_distance": (
            "Viewing distance",
            lambda design, _: edits.with_purpose(design, viewing_distance_mm=value_mm),
        ),
    }
    return names_and_changes[key]


def lid_edit(inner_depth_mm: float) -> tuple[str, Change]:
    """Return the change of a dragged lid."""
    return "Drag the sheet", lambda design, layout: edits.with_lid_dragged(
        design, panel_layout(layout), inner_depth_mm - panel_layout(layout).emitter_plane_mm
    )


def row_edit(index: int, across_mm: float) -> tuple[str, Change]:
    """Return the change of a dragged row."""
    return "Drag a row", lambda design, layout: edits.with_row_dragged(design, panel_layout(layout), index, across_mm)
