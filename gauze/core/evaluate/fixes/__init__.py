"""Fixes for a finding, computed. To add one, write a function and name it under its finding's code."""

from collections.abc import Callable

from gauze.core.design import Design, LooseEmitters, StripPanel
from gauze.core.evaluate.finding import Fix
from gauze.core.evaluate.fixes import body, brightness, colour, display, dots, evenness, order, row_ends
from gauze.core.evaluate.fixes.trial import Trial
from gauze.core.materials import Catalogue

_LOOSE_SEARCHES: dict[str, tuple[Callable[[Trial], Fix | None], ...]] = {
    "dots": (dots.more_depth, dots.other_sheet),
    "colour": (colour.flux_for_wanted_white,),
    "colour evenness": (order.best_order, dots.more_depth_for_colour),
    "evenness": (evenness.white_inside,),
    "target brightness": (brightness.clearer_sheet, brightness.dim_down),
    "face brightness": (brightness.clearer_sheet, brightness.dim_down),
}
_SEARCHES: dict[str, tuple[Callable[[Trial], Fix | None], ...]] = {
    "dots": (dots.more_depth, dots.closer_rows, dots.denser_strip, dots.other_sheet, dots.widest_pitch),
    "colour": (colour.levels_for_wanted_white,),
    "colour evenness": (order.best_order, dots.more_depth_for_colour),
    "evenness": (evenness.white_inside, evenness.side_margin),
    "target brightness": (brightness.more_rows, brightness.clearer_sheet, brightness.dim_down),
    "face brightness": (brightness.more_rows, brightness.clearer_sheet, brightness.dim_down),
    "row ends": (row_ends.fit_face, row_ends.one_more_segment),
}


_FAMILY_SEARCHES: dict[str, tuple[Callable[[Trial], Fix | None], ...]] = {
    "dots": (dots.more_depth, dots.more_display_rows, dots.denser_strip, dots.other_sheet),
    "evenness": (evenness.white_inside, body.best_tilt, body.deeper_body, body.four_sides, body.sweet_spot),
    "rim": (body.best_tilt, body.deeper_body, body.four_sides),
    "strip ends": (body.fit_body,),
    "corners": (body.close_corners,),
    "sag": (body.stiffer_sheet,),
    "bare strip": (body.deeper_groove,),
    "legibility": (display.nearer_sheet, display.partitions),
    "link shadow": (body.lower_links, body.deeper_tiles),
    "colour": (colour.levels_of_lamps,),
    "colour evenness": (dots.more_depth_for_colour,),
    "target brightness": (brightness.clearer_sheet, brightness.dim_down),
    "face brightness": (brightness.clearer_sheet, brightness.dim_down),
}


def _searches_of(design: Design) -> dict[str, tuple[Callable[[Trial], Fix | None], ...]]:
    if isinstance(design.build, StripPanel):
        return _SEARCHES
    if isinstance(design.build, LooseEmitters):
        return _LOOSE_SEARCHES
    return _FAMILY_SEARCHES


def searchable(design: Design) -> frozenset[str]:
    """Return the codes of the findings for which there is a search in a design's family: no other may promise one."""
    return frozenset(_searches_of(design))


def search_fixes(
    code: str,
    design: Design,
    catalogue: Catalogue,
    progress: Callable[[float], None] = lambda _share: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> list[Fix]:
    """Search all fixes for one finding.

    Parameters
    ----------
    progress:
        Told the share that is done, 0 to 1.

    Raises
    ------
    Cancelled
        When ``cancelled()`` says so.
    """
    searches = _searches_of(design).get(code, ())
    trial = Trial(design, catalogue, code, cancelled)
    fixes = []
    for index, search in enumerate(searches):
        progress(index / len(searches))
        fix = search(trial)
        if fix is not None and fix.design != design:
            fixes.append(fix)
    progress(1.0)
    return fixes
