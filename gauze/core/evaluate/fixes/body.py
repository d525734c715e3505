"""Fixes that change the body: its length to whole segments, the angle of bars, the sweet spot of a funnel, a stiffer sheet."""

import math
from collections.abc import Callable, Iterable

from gauze.core.design import Design
from gauze.core.design.channel_bar import ChannelBar
from gauze.core.design.edge_lit import EdgeLit
from gauze.core.design.fields import with_field
from gauze.core.design.indirect import IndirectLamp
from gauze.core.design.reflector_head import ReflectorHead
from gauze.core.design.tile_wall import TileWall
from gauze.core.design.tube import Tube
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Fix
from gauze.core.evaluate.findings.bare_strip import angle_to_eye_deg
from gauze.core.evaluate.findings.corners import find as corners
from gauze.core.evaluate.findings.evenness import even_limits, even_share
from gauze.core.evaluate.findings.sag import MOST_SHARE, deflection_mm
from gauze.core.evaluate.findings.tile_links import GOOD_SHADOW, link_shadow
from gauze.core.evaluate.fixes.trial import Trial
from gauze.core.words import Fixed, Length, Percent, Text, say

_STOCKED_MM = (1.5, 2.0, 2.4, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0)  # of clear acrylic; common practice, no source
_WORTH_IT = 0.02  # gain in U0 below which a change is not offered
_TILTS_DEG = (-40.0, -20.0, -10.0, 0.0, 10.0, 20.0, 35.0, 50.0)


def fit_tube(trial: Trial) -> Fix | None:
    """Make the tube as long as whole segments need, the nearest way."""
    build, segment_mm = trial.design.build_as(Tube), _segment_mm(trial)
    room = build.length_mm - 2.0 * build.end_spare_mm
    fitted = _fitted_mm(room, segment_mm) + 2.0 * build.end_spare_mm
    words = say("Tube {fitted} long, cut to whole segments", fitted=Length(fitted))
    return _if_it_holds(trial, trial.changed(length_mm=fitted), words)


def fit_bars(trial: Trial) -> Fix | None:
    """Make straight bars as long as whole segments need, the nearest way."""
    build, changed = trial.design.build_as(ChannelBar), trial.design
    for index, bar in enumerate(build.bars):
        fitted = _fitted_mm(bar.length_mm, _segment_mm(trial))
        changed = _with(changed, f"build.bars[{index}].length_mm", fitted)
    return _if_it_holds(trial, changed, say("Bars cut to whole segments"))


def _segment_mm(trial: Trial) -> float:
    return trial.catalogue.strip(trial.design.strips[0].strip).segment_mm


def _fitted_mm(room_mm: float, segment_mm: float) -> float:
    return max(round(room_mm / segment_mm), 1) * segment_mm


def _if_it_holds(trial: Trial, changed: Design, words: Text) -> Fix | None:
    evaluation = trial.attempt(changed) if changed != trial.design else None
    return None if evaluation is None else trial.fix(words, evaluation)


def close_corners(trial: Trial) -> Fix | None:
    """Let the strips run as near to the corners, or keep as far away, as lights them best."""
    if trial.design.build_as(ChannelBar).bars:
        return None
    best: tuple[float, Evaluation] | None = None
    for gap in (0.0, 2.0, 4.0, 6.0, 8.0, 10.0):
        evaluation = trial.attempt(trial.changed(corner_gap_mm=gap))
        if evaluation is None:
            continue
        found = corners(evaluation)
        away = abs(math.log(max(found[0].value, 1e-6))) if found else math.inf
        if best is None or away < best[0] - 1e-3:
            best = (away, evaluation)
    if best is None:
        return None
    stops = Length(best[1].design.build_as(ChannelBar).corner_gap_mm)
    share = corners(best[1])[0].value
    return trial.fix(
        say("Strip stops {stops} before each corner", stops=stops),
        best[1],
        say("corner at {share} of the sides", share=Percent(share)),
    )


def best_tilt(trial: Trial) -> Fix | None:
    """Find the angle and height of an edge-lit face's bars at which its darkest place is brightest."""
    build = trial.design.build_as(EdgeLit)
    width = trial.catalogue.strip(build.strips[0].strip).width_mm
    best: Evaluation | None = None
    for tilt in _TILTS_DEG:
        reach = width / 2.0 * math.cos(math.radians(tilt))
        for height in {round(reach + 0.5, 1), round(build.depth_mm / 2.0, 1)}:
            evaluation = trial.attempt(trial.changed(tilt_deg=tilt, bar_height_mm=height))
            if evaluation is not None and (best is None or even_share(evaluation) > even_share(best)):
                best = evaluation
    if best is None or even_share(best) < even_share(trial.now) + _WORTH_IT:
        return None
    found = best.design.build_as(EdgeLit)
    over = Length(found.bar_height_mm)
    return trial.fix(
        say("Bars tilted {tilt}°, {over} over the back", tilt=Fixed(found.tilt_deg, "g"), over=over),
        best,
        say("dimmest place {share} of the brightest", share=Percent(even_share(best))),
    )


def deeper_body(trial: Trial) -> Fix | None:
    """Find the least depth of an edge-lit body, in quarters of what it is, that is good enough or else the most even."""
    build = trial.design.build_as(EdgeLit)
    best: Evaluation | None = None
    for share in (1.25, 1.5, 1.75, 2.0, 2.5, 3.0):
        evaluation = trial.attempt(trial.changed(depth_mm=round(build.depth_mm * share, 1)))
        if evaluation is not None and (best is None or even_share(evaluation) > even_share(best)):
            best = evaluation
        if best is not None and even_share(best) >= even_limits(best)[0]:
            break
    if best is None or even_share(best) < even_share(trial.now) + _WORTH_IT:
        return None
    depth = Length(best.design.build_as(EdgeLit).depth_mm)
    return trial.fix(
        say("Depth {depth}", depth=depth),
        best,
        say("dimmest place {share} of the brightest", share=Percent(even_share(best))),
    )


def four_sides(trial: Trial) -> Fix | None:
    """Light an edge-lit face from all four sides."""
    if trial.design.build_as(EdgeLit).sides == "four":
        return None
    evaluation = trial.attempt(trial.changed(sides="four"))
    if evaluation is None or even_share(evaluation) < even_share(trial.now) + _WORTH_IT:
        return None
    return trial.fix(
        say("Lit from all four sides"),
        evaluation,
        say("dimmest place {share} of the brightest", share=Percent(even_share(evaluation))),
    )


def sweet_spot(trial: Trial) -> Fix | None:
    """Find the distance of a funnel's film at which the face is most even, the mouth as wide as it is."""
    build = trial.design.build_as(ReflectorHead)
    best: Evaluation | None = None
    for share in (0.5, 0.65, 0.8, 1.0, 1.25, 1.5, 1.9, 2.4, 3.0):
        evaluation = trial.attempt(trial.changed(depth_mm=round(build.depth_mm * share, 1)))
        if evaluation is not None and (best is None or even_share(evaluation) > even_share(best)):
            best = evaluation
    if best is None or even_share(best) < even_share(trial.now) + _WORTH_IT:
        return None
    found = best.design.build_as(ReflectorHead)
    return trial.fix(
        say("Film {depth} from the bottom", depth=Length(found.depth_mm)),
        best,
        say("dimmest place {share} of the brightest", share=Percent(even_share(best))),
    )


def stiffer_sheet(trial: Trial) -> Fix | None:
    """Put the thinnest stocked clear sheet that carries a hand under the diffuser."""
    build = trial.design.build_as(EdgeLit)
    span, longer = sorted((build.width_mm, build.height_mm))
    for thick in _STOCKED_MM:
        if deflection_mm(span, longer, thick) <= MOST_SHARE * span:
            evaluation = trial.attempt(trial.changed(support_mm=thick))
            if evaluation is None:
                return None
            return trial.fix(say("{thick} clear sheet under the diffuser", thick=Length(thick)), evaluation)
    return None


def lower_links(trial: Trial) -> Fix | None:
    """Find the highest connector, to half a millimetre, whose shadow on the lids does not show."""
    build = trial.design.build_as(TileWall)
    heights = (halves / 2.0 for halves in range(math.ceil(2.0 * build.link_high_mm) - 1, 0, -1))
    return _first_without_shadow(
        trial, "link_high_mm", heights, lambda size: say("Connectors at most {size} high", size=size)
    )


def deeper_tiles(trial: Trial) -> Fix | None:
    """Find a depth of the tiles at which the connectors' shadow does not show."""
    build = trial.design.build_as(TileWall)
    depths = (round(build.depth_mm * share, 1) for share in (1.25, 1.5, 1.75, 2.0, 2.5, 3.0, 4.0))
    return _first_without_shadow(trial, "depth_mm", depths, lambda size: say("Depth {size}", size=size))


def _first_without_shadow(
    trial: Trial, field: str, sizes: Iterable[float], title: Callable[[Text], Text]
) -> Fix | None:
    for size in sizes:
        evaluation = trial.attempt(trial.changed(**{field: size}))
        found = link_shadow(evaluation) if evaluation is not None else None
        if evaluation is not None and found is not None and found.value <= GOOD_SHADOW:
            return trial.fix(title(Length(size)), evaluation, say("shadow {value}", value=Percent(found.value, 1)))
    return None


def deeper_groove(trial: Trial) -> Fix | None:
    """Find the least depth of the groove, to half a millimetre, that hides the strip from the eye."""
    build = trial.design.build_as(IndirectLamp)
    away = angle_to_eye_deg(build, trial.design.purpose.viewing_distance_mm)
    if away >= 90.0 or away <= 1.0:
        return None
    package = trial.catalogue.strip(build.strips[0].strip).package_mm[1]
    needed = (build.groove_width_mm + package) / 2.0 / math.tan(math.radians(away))
    depth = math.ceil(2.0 * needed + 0.2) / 2.0
    evaluation = trial.attempt(trial.changed(groove_depth_mm=depth))
    return None if evaluation is None else trial.fix(say("Groove {depth} deep", depth=Length(depth)), evaluation)


def _with(design: Design, path: str, value: float) -> Design:
    changed: Design = with_field(design, path, value)
    return changed
