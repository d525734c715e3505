"""The questions that a design is asked: each with what answers it and the remedies for what it finds, registered together.

To add one, write a module in ``findings`` with a ``find``, the searches in ``fixes``, and a row here.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from gauze.core.design import Design, LooseEmitters, StripPanel
from gauze.core.design.build import FamilyBuild
from gauze.core.design.channel_bar import ChannelBar
from gauze.core.design.edge_lit import EdgeLit
from gauze.core.design.indirect import IndirectLamp
from gauze.core.design.pixel_display import PixelDisplay
from gauze.core.design.reflector_head import ReflectorHead
from gauze.core.design.shell_string import ShellString
from gauze.core.design.tile_wall import TileWall
from gauze.core.design.tube import Tube
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Finding, Fix
from gauze.core.evaluate.findings import (
    bare_strip,
    battery,
    brightness,
    colour,
    controller,
    corners,
    crosstalk,
    data_rate,
    dots,
    drawn,
    drop,
    evenness,
    flicker,
    frame,
    heat,
    legibility,
    one_dimmer,
    output,
    over_volts,
    rim,
    row_ends,
    sag,
    sheet_span,
    shells,
    soldering,
    strip_ends,
    supply,
    tile_links,
    weight,
    wire_load,
)
from gauze.core.evaluate.fixes import body, cooling, dim_rim, display, feeding, injecting, order, screws
from gauze.core.evaluate.fixes import brightness as brighter
from gauze.core.evaluate.fixes import colour as white
from gauze.core.evaluate.fixes import dots as hiding
from gauze.core.evaluate.fixes import evenness as evening
from gauze.core.evaluate.fixes import row_ends as ending
from gauze.core.evaluate.fixes.trial import Trial
from gauze.core.materials import Catalogue

Search = Callable[[Trial], Fix | None]


@dataclass(frozen=True)
class Remedy:
    """A search for a fix, and the classes of builds for which it can find one; all of them when none is named.

    ``but_not`` are those that have a search of their own for the same.
    """

    search: Search
    builds: tuple[type, ...] = ()
    but_not: tuple[type, ...] = ()

    def is_for(self, design: Design) -> bool:
        """Whether it can find something in a design's family."""
        if isinstance(design.build, self.but_not):
            return False
        return not self.builds or isinstance(design.build, self.builds)


@dataclass(frozen=True)
class Question:
    """What answers a question, and the remedies by the code of what it finds; a code without remedies is never fixable.

    ``builds`` are the classes of builds that are asked, all of them when none is named; ``but_not`` are those that are asked
    otherwise. ``without_picture`` says that the answer
    holds where the picture does not hold the light.
    """

    find: Callable[[Evaluation], list[Finding]]
    remedies: Mapping[str, tuple[Remedy, ...]] = field(default_factory=dict)
    builds: tuple[type, ...] = ()
    but_not: tuple[type, ...] = ()
    without_picture: bool = False

    def is_for(self, design: Design) -> bool:
        """Whether a design's family is asked."""
        if isinstance(design.build, self.but_not):
            return False
        return not self.builds or isinstance(design.build, self.builds)


def _for_all(*searches: Search) -> tuple[Remedy, ...]:
    return tuple(Remedy(search) for search in searches)


def _only(*builds: type, searches: tuple[Search, ...]) -> tuple[Remedy, ...]:
    return tuple(Remedy(search, builds) for search in searches)


_BRIGHTER = (
    Remedy(brighter.more_rows, (StripPanel,)),
    Remedy(brighter.clearer_sheet),
    Remedy(brighter.dim_emitters, (LooseEmitters,)),
    Remedy(brighter.dim_lamps, (StripPanel, FamilyBuild)),
)
_WITH_DEPTHS_OF_THEIR_OWN = (StripPanel, EdgeLit, ReflectorHead)
_OF_EDGE_LIT = _only(EdgeLit, searches=(body.best_tilt, body.deeper_body, body.four_sides))

_FED_OTHERWISE = _for_all(feeding.other_scheme, feeding.thicker_wire, injecting.injections, feeding.higher_volts)

QUESTIONS = (
    Question(drawn.find, without_picture=True),
    Question(
        dots.find,
        {
            "dots": (
                Remedy(hiding.more_depth),
                Remedy(hiding.closer_rows, (StripPanel,)),
                Remedy(hiding.more_display_rows, (PixelDisplay,)),
                Remedy(hiding.denser_strip, (StripPanel, FamilyBuild)),
                Remedy(hiding.other_sheet),
                Remedy(hiding.widest_pitch, (StripPanel,)),
            )
        },
    ),
    Question(
        legibility.find,
        {"legibility": _only(PixelDisplay, searches=(display.nearer_sheet, display.partitions))},
        (PixelDisplay,),
    ),
    Question(crosstalk.find),
    Question(
        evenness.find,
        {
            "evenness": (
                Remedy(evening.white_inside),
                Remedy(evening.side_margin, (StripPanel,)),
                Remedy(evening.more_depth, but_not=_WITH_DEPTHS_OF_THEIR_OWN),
                Remedy(evening.more_scattering_sheet, but_not=_WITH_DEPTHS_OF_THEIR_OWN),
                Remedy(body.sweet_spot, (ReflectorHead,)),
            ),
            "dim rim": (
                Remedy(dim_rim.white_inside),
                Remedy(dim_rim.nearer_rows, (StripPanel,)),
                Remedy(dim_rim.other_depth),
                Remedy(dim_rim.other_sheet),
            ),
        },
        but_not=(EdgeLit,),  # is lit from its rim, and judged from there to its middle
    ),
    Question(rim.find, {"rim": _OF_EDGE_LIT}, (EdgeLit,)),
    Question(brightness.find, {"target brightness": _BRIGHTER, "face brightness": _BRIGHTER}),
    Question(
        colour.find,
        {
            "colour": (
                Remedy(white.levels_for_wanted_white, (StripPanel,)),
                Remedy(white.flux_for_wanted_white, (LooseEmitters,)),
                Remedy(white.levels_of_lamps, (FamilyBuild,)),
            ),
            "colour evenness": (
                Remedy(order.best_order_of_rows, (StripPanel,)),
                Remedy(order.best_order_of_emitters, (LooseEmitters,)),
                Remedy(hiding.more_depth_for_colour),
            ),
        },
    ),
    Question(
        row_ends.find,
        {"row ends": _only(StripPanel, searches=(ending.fit_face, ending.one_more_segment))},
        (StripPanel,),
    ),
    Question(strip_ends.find_in_tube, {"strip ends": (Remedy(body.fit_tube, (Tube,)),)}, (Tube,)),
    Question(strip_ends.find_in_bars, {"strip ends": (Remedy(body.fit_bars, (ChannelBar,)),)}, (ChannelBar,)),
    Question(corners.find, {"corners": (Remedy(body.close_corners, (ChannelBar,)),)}, (ChannelBar,)),
    Question(sag.find, {"sag": (Remedy(body.stiffer_sheet, (EdgeLit,)),)}, (EdgeLit,), without_picture=True),
    Question(
        bare_strip.find,
        {"bare strip": (Remedy(body.deeper_groove, (IndirectLamp,)),)},
        (IndirectLamp,),
        without_picture=True,
    ),
    Question(sheet_span.find, but_not=(EdgeLit,), without_picture=True),  # whose sheet is judged by sag
    Question(weight.find, without_picture=True),
    Question(frame.find, {"frame": _for_all(screws.other_screws)}, without_picture=True),
    Question(shells.find, builds=(ShellString,)),
    Question(
        tile_links.find, {"link shadow": _only(TileWall, searches=(body.lower_links, body.deeper_tiles))}, (TileWall,)
    ),
    Question(supply.find, without_picture=True),
    Question(battery.find, {"battery": _for_all(feeding.last_as_long)}, without_picture=True),
    Question(one_dimmer.find, {"one dimmer": _for_all(feeding.strips_apart)}, without_picture=True),
    Question(over_volts.find, {"over volts": _for_all(feeding.nominal_volts)}, without_picture=True),
    Question(
        drop.find, {"drop": _FED_OTHERWISE, "lost feeds": _for_all(feeding.without_lost_feeds)}, without_picture=True
    ),
    Question(
        wire_load.find,
        {
            "wire load": _for_all(feeding.thicker_wire, feeding.separate_leads),
            "supply load": _for_all(feeding.larger_supply, feeding.current_cap),
        },
        without_picture=True,
    ),
    Question(
        heat.find,
        {
            "heat": (
                *_for_all(cooling.metal_back, cooling.space_behind, cooling.vents),
                Remedy(cooling.heat_sink, (ReflectorHead,)),
                *_for_all(cooling.less_light),
            )
        },
        without_picture=True,
    ),
    Question(soldering.find, without_picture=True),
    Question(data_rate.find, without_picture=True),
    Question(controller.find, without_picture=True),
    Question(flicker.find, without_picture=True),
    Question(output.find, without_picture=True),
)


def find(evaluation: Evaluation) -> list[Finding]:
    """Return all findings of a design, in working order."""
    is_true = drawn.is_true(evaluation)
    asked = (question for question in QUESTIONS if question.is_for(evaluation.design))
    return [
        finding for question in asked if is_true or question.without_picture for finding in question.find(evaluation)
    ]


def remedies_for(code: str, design: Design) -> Sequence[Remedy]:
    """Return the remedies for one finding in a design's family; no other finding may promise any."""
    known = (remedy for question in QUESTIONS for remedy in question.remedies.get(code, ()))
    return [remedy for remedy in known if remedy.is_for(design)]


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
    remedies = remedies_for(code, design)
    trial = Trial(design, catalogue, code, cancelled)
    fixes = []
    for index, remedy in enumerate(remedies):
        progress(index / len(remedies))
        fix = remedy.search(trial)
        if fix is not None and fix.design != design:
            fixes.append(fix)
    progress(1.0)
    return fixes
