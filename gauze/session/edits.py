"""The edits that the drawing and the trays offer, as pure functions from design to design.

Each keeps what a builder would expect to stay: a typed spacing keeps the margin, a dragged row keeps the count.
"""

from collections.abc import Collection, Sequence
from typing import Any, Literal

import msgspec

from gauze.core.design import Design, StripChoice, with_build
from gauze.core.design.build import ModuleChoice, PixelOrder
from gauze.core.design.cavity import lit_by_reflection
from gauze.core.design.channel_bar import ChannelBar
from gauze.core.design.design import OWN_PREFIX, catalogue_of
from gauze.core.design.fields import with_field
from gauze.core.design.limits import check_limits
from gauze.core.design.strip_panel import FreeBand
from gauze.core.errors import DesignError
from gauze.core.evaluate.candidates import choice_for
from gauze.core.layout.enclosing import Kind, cavity_around
from gauze.core.materials import Catalogue, Layer, OwnDiffuser
from gauze.core.materials.labels import Lamp, ModuleLabel, ProfileStock, SheetStock, StripLabel

USUAL_SHEET = "opal-acrylic-3"  # laid where there was none
WARM_CCT_K, NEUTRAL_CCT_K, COOL_CCT_K = 2700.0, 4000.0, 6500.0


def with_cavity(design: Design, name: str, value: object) -> Design:
    """Choose one size of the cavity; a count must be whole."""
    changed: Design = with_field(design, f"build.cavity.{name}", value)
    return changed


def with_shape(design: Design, kind: Kind) -> Design:
    """Put another kind of cavity around the emitters; where a wall is lit the sheet goes, else one is laid."""
    build = design.loose
    cavity = cavity_around(kind, build.emitters)
    sheet = None if lit_by_reflection(cavity) else build.diffuser or USUAL_SHEET
    return with_used_own_only(with_build(design, cavity=cavity, diffuser=sheet))


def with_purpose(design: Design, **changes: Any) -> Design:
    """Return the design with another purpose."""
    return msgspec.structs.replace(design, purpose=msgspec.structs.replace(design.purpose, **changes))


def with_target(design: Design, **changes: float) -> Design:
    """Let the target stand otherwise."""
    return with_purpose(design, target=msgspec.structs.replace(design.purpose.target, **changes))


def with_reading(design: Design, current_a: float | None) -> Design:
    """Take down the measured current of one full row, or forget it."""
    return msgspec.structs.replace(design, measured_row_current_a=current_a)


def with_shelf(design: Design, sheets: Sequence[OwnDiffuser], lamps: Sequence[Lamp] = ()) -> Design:
    """Let a design know every own sheet, strip and module on the shelf; what it holds itself under the same id comes first."""
    known = {one.id for one in (*design.own_diffusers, *design.own_lamps)}
    return msgspec.structs.replace(
        design,
        own_diffusers=(*design.own_diffusers, *(sheet for sheet in sheets if sheet.id not in known)),
        own_lamps=(*design.own_lamps, *(lamp for lamp in lamps if lamp.id not in known)),
    )


def with_used_own_only(design: Design) -> Design:
    """Forget the own sheets, strips and modules that the build does not name; they stay on the shelf."""
    lamps = {choice.strip for choice in design.strips}
    if design.module is not None:
        lamps.add(design.module.module)
    return msgspec.structs.replace(
        design,
        own_diffusers=tuple(sheet for sheet in design.own_diffusers if sheet.id in design.build.layers),
        own_lamps=tuple(lamp for lamp in design.own_lamps if lamp.id in lamps),
    )


def with_lamp(design: Design, lamp: Lamp, catalogue: Catalogue) -> Design | None:
    """Light a design by an own strip or module in place of its first; None where its family is not lit by such a one."""
    others = tuple(other for other in design.own_lamps if other.id != lamp.id)
    known = msgspec.structs.replace(design, own_lamps=(*others, lamp))
    rows = catalogue_of(known, catalogue)
    if isinstance(lamp, StripLabel) and design.strips:
        first = choice_for(rows.strip(lamp.id), design.strips[0])
        return with_used_own_only(with_build(known, strips=(first, *design.strips[1:])))
    module = design.module
    if isinstance(lamp, ModuleLabel) and module and rows.module(lamp.id).kind == rows.module(module.module).kind:
        return with_used_own_only(with_module(known, rows, lamp.id))
    return None


def with_stock(design: Design, stock: ProfileStock | SheetStock, catalogue: Catalogue) -> Design | None:
    """Build of what is on the shelf: channel of its sizes, or its sheet outermost; None where it takes none."""
    if isinstance(stock, SheetStock):
        layers = design.build.layers
        return with_used_own_only(with_layer(design, len(layers) - 1, stock.like)) if layers else None
    channel = design.build_if(ChannelBar)
    if channel is None:
        return None
    profile = stock.profile(catalogue.profile(stock.like))
    names = ("section", "width_mm", "depth_mm", "bed_mm", "lens_rise_mm", "wall_mm")
    return with_build(design, **{name: getattr(profile, name) for name in names})


def with_layer(design: Design, index: int, layer: str) -> Design:
    """Put a sheet in place of one layer."""
    layers = design.build.layers
    return _with_layers(design, (*layers[:index], layer, *layers[index + 1 :]))


def with_layer_added(design: Design) -> Design:
    """Lay the outermost sheet once more on the outside, to be exchanged for another."""
    return _with_layers(design, (*design.build.layers, design.build.layers[-1]))


def with_layer_removed(design: Design, index: int) -> Design:
    """Take one layer away."""
    layers = design.build.layers
    return with_used_own_only(_with_layers(design, (*layers[:index], *layers[index + 1 :])))


def with_own_sheet(design: Design, index: int, sheet: OwnDiffuser) -> Design:
    """Take an own sheet into the design and lay it in place of one layer."""
    others = tuple(other for other in design.own_diffusers if other.id != sheet.id)
    known = msgspec.structs.replace(design, own_diffusers=(*others, sheet))
    return with_used_own_only(with_layer(known, index, sheet.id))


def own_sheet(
    name: str, like: str, lux_without: float, lux_with: float, taken: Collection[str], catalogue: Catalogue
) -> OwnDiffuser:
    """Make an own sheet from two readings, with an id of its own.

    Raises
    ------
    DesignError
        When it has no name or the readings cannot be; ``field`` is ``"name"`` or ``"lux_with"``.
    """
    words = "-".join("".join(letter if letter.isalnum() else " " for letter in name.lower()).split())[:40]
    if not words:
        raise DesignError("name", "Give the sheet a name.")
    sheet_id = free_id(OWN_PREFIX + words, taken)
    sheet = OwnDiffuser(id=sheet_id, name=name.strip()[:80], like=like, lux_without=lux_without, lux_with=lux_with)
    check_limits(sheet, "own")
    try:
        sheet.diffuser(catalogue.diffuser(like))
    except ValueError as error:
        raise DesignError("lux_with", str(error)[0].upper() + str(error)[1:]) from None
    return sheet


def free_id(wanted: str, taken: Collection[str]) -> str:
    """Return an id, with a number behind it where it is taken."""
    number, free = 2, wanted
    while free in taken:
        free, number = f"{wanted}-{number}", number + 1
    return free


def with_name(design: Design, name: str) -> Design:
    """Name the design."""
    return msgspec.structs.replace(design, name=name)


def with_rows_turned(design: Design) -> Design:
    """Turn the rows by a right angle."""
    along_width = design.panel.row_direction == "along_width"
    return with_row_direction(design, "along_height" if along_width else "along_width")


def with_row_direction(design: Design, direction: Literal["along_width", "along_height"]) -> Design:
    """Let the rows run along the width or the height; what is chosen of count, spacing and margin stays."""
    return with_build(design, row_direction=direction)


def with_double_rows(design: Design, *, double: bool) -> Design:
    """Lay two strips side by side in every row, or one."""
    return with_build(design, double_rows=double)


def with_whole_pieces(design: Design, piece_mm: float | None) -> Design:
    """Let the strip not be cut: the body is made to pieces of a length, end margins as they are. None lets it be cut again."""
    if piece_mm is None:
        return with_build(design, whole_piece_mm=None)
    panel = design.panel
    size = "face_width_mm" if panel.row_direction == "along_width" else "face_height_mm"
    return with_build(design, whole_piece_mm=piece_mm, **{size: piece_mm + 2 * panel.end_margin_mm})


def with_free_band(design: Design, start_mm: float, width_mm: float) -> Design:
    """Keep a band across the rows free, as for a fixing; none where it has no width."""
    if width_mm <= 0:
        return with_build(design, free=())
    return with_build(design, free=(FreeBand(start_mm=start_mm, width_mm=width_mm),))


def with_alternate_strip(design: Design, catalogue: Catalogue, *, alternate: bool) -> Design:
    """Give every other row a strip of its own (warm and cool, where it is sold so), or go back to one."""
    first = design.panel.strips[0]
    if not alternate:
        return with_build(design, strips=(first,))
    if len(design.panel.strips) == 2:
        return design
    strip = catalogue.strip(first.strip)
    if strip.white_cct_k is None:
        return with_build(design, strips=(first, first))
    pair = (
        msgspec.structs.replace(first, cct_k=max(WARM_CCT_K, float(strip.white_cct_k[0]))),
        msgspec.structs.replace(first, cct_k=min(COOL_CCT_K, float(strip.white_cct_k[1]))),
    )
    return with_build(design, strips=pair)


def with_level(design: Design, catalogue: Catalogue, index: int, channel: int, level: float) -> Design:
    """Set the level of one channel of one strip."""
    choice = design.strips[index]
    levels = list(choice.levels_for(catalogue.strip(choice.strip)))
    levels[channel] = level
    return _with_choice(design, index, msgspec.structs.replace(choice, levels=tuple(levels)))


def with_cct(design: Design, index: int, cct_k: float) -> Design:
    """Choose the white of one strip."""
    return _with_choice(design, index, msgspec.structs.replace(design.strips[index], cct_k=cct_k))


def with_module(design: Design, catalogue: Catalogue, module_id: str) -> Design:
    """Choose another module at full level, in the present white or the nearest that it is sold in."""
    module, build = catalogue.module(module_id), design.build
    present = build.module
    cct_k = None
    if module.white_cct_k is not None:
        least_k, most_k = (float(value) for value in module.white_cct_k)
        chosen_k = present.cct_k if present is not None and present.cct_k is not None else NEUTRAL_CCT_K
        cct_k = min(max(chosen_k, least_k), most_k)
    order = PixelOrder() if present is None else present.order
    return with_build(design, module=ModuleChoice(module=module_id, cct_k=cct_k, order=order))


def with_module_level(design: Design, catalogue: Catalogue, channel: int, level: float) -> Design:
    """Set the level of one channel of the module."""
    build = design.build
    if build.module is None:
        raise TypeError(f"{type(build).__name__} has no module")
    levels = list(build.module.levels_for(catalogue.module(build.module.module)))
    levels[channel] = level
    return with_build(design, module=msgspec.structs.replace(build.module, levels=tuple(levels)))


def _with_layers(design: Design, layers: tuple[Layer, ...]) -> Design:
    return with_build(design, diffuser=layers[0] if len(layers) == 1 else layers)


def _with_choice(design: Design, index: int, choice: StripChoice) -> Design:
    choices = list(design.strips)
    choices[index] = choice
    return with_build(design, strips=tuple(choices))
