"""Every family, and what is asked of whichever a design is of. To add one, write a module with its record and name it here."""

from gauze.core.design import Design
from gauze.core.design.design import catalogue_of, check_frame
from gauze.core.design.making import Making
from gauze.core.design.surroundings import Surroundings
from gauze.core.families.channel_bar import CHANNEL_BAR
from gauze.core.families.edge_lit import EDGE_LIT
from gauze.core.families.family import Family
from gauze.core.families.indirect import INDIRECT
from gauze.core.families.loose import LOOSE
from gauze.core.families.pixel_display import PIXEL_DISPLAY
from gauze.core.families.reflector_head import REFLECTOR_HEAD
from gauze.core.families.shell_string import SHELL_STRING
from gauze.core.families.strip_panel import STRIP_PANEL
from gauze.core.families.tile_wall import TILE_WALL
from gauze.core.families.tube import TUBE
from gauze.core.layout import Layout
from gauze.core.materials import Catalogue
from gauze.core.parts import Parts
from gauze.core.parts.frame.hardware import with_hardware
from gauze.core.parts.frame.joinery import Box, box_of, joined

FAMILIES: dict[type, Family] = {
    family.build: family
    for family in (
        STRIP_PANEL,
        LOOSE,
        TUBE,
        CHANNEL_BAR,
        EDGE_LIT,
        REFLECTOR_HEAD,
        INDIRECT,
        SHELL_STRING,
        PIXEL_DISPLAY,
        TILE_WALL,
    )
}


def family_of(design: Design) -> Family:
    """Return the record of a design's family; raises :class:`KeyError` for a build that is of none."""
    return FAMILIES[type(design.build)]


def check_design(design: Design, catalogue: Catalogue) -> None:
    """Check every choice; raises :class:`gauze.core.errors.DesignError` with the path of the first that is invalid."""
    check_frame(design)
    family_of(design).check(design.build, catalogue_of(design, catalogue))


def lay_out(design: Design, catalogue: Catalogue) -> Layout:
    """Check a design and lay it out; raises :class:`gauze.core.errors.DesignError`."""
    check_design(design, catalogue)
    return family_of(design).lay_out(design.build, catalogue_of(design, catalogue))


def parts_of(design: Design, layout: Layout, catalogue: Catalogue) -> Parts:
    """State the parts of a design that has been laid out; those of a box of boards as they are cut to fit each other."""
    parts = family_of(design).parts(design.build, layout, catalogue_of(design, catalogue))
    box = _box(design, parts)
    if box is None:
        return parts
    hung_on = (design.making or Making()).fixings or 2
    overhead = design.surroundings is not None and design.surroundings.stance == "face_down"
    return with_hardware(joined(parts, box), box, hung_on, overhead=overhead)


def box_in(design: Design, layout: Layout, catalogue: Catalogue) -> Box | None:
    """Return the box of boards that a design is, with its frame; None where it is none, or its boards have no thickness."""
    if (design.making or Making()).wall_mm is None:
        return None
    return _box(design, family_of(design).parts(design.build, layout, catalogue_of(design, catalogue)))


def _box(design: Design, parts: Parts) -> Box | None:
    making, where = design.making or Making(), design.surroundings or Surroundings()
    return box_of(parts, making.frame, making.wall_mm, where.back_mm)
