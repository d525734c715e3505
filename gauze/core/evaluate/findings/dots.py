"""Do the dots, the rows, or the stripes of alternate rows show?"""

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.evaluate.light import GroupFaceLight
from gauze.core.families import family_of
from gauze.core.layout import panel_layout
from gauze.core.optics.visibility import FARTHEST_MM, Modulation, cycles_per_degree
from gauze.core.words import Distance, Fixed, Length, Number, Percent, Text, say

_MUCH_HIDDEN = 0.5  # visibility below which a wider pitch is worth a search
_ONE_EACH = say("Each body has a single LED, or none is lit: no dots to tell apart.")
_NO_DOTS = say("There is a single LED, or none is lit: no dots to tell apart.")
_NOUNS = {
    "dots": say("Dots"),
    "rows": say("Rows"),
    "alternate rows": say("Stripes of alternate rows"),
    "alternate dots": say("Alternate dots"),
}

_MODULATIONS = {
    "dots": say("Modulation of the dots"),
    "rows": say("Modulation of the rows"),
    "alternate rows": say("Modulation of the alternate rows"),
    "alternate dots": say("Modulation of the alternate dots"),
}


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the ripple that stays visible longest, from the viewing distance."""
    viewing_mm = evaluation.design.purpose.viewing_distance_mm
    dots = evaluation.dots
    visibility = dots.visibility(viewing_mm)
    state = _state(visibility, only_lighting=evaluation.design.purpose.use == "lighting")
    if evaluation.light.shows_cells and state is not State.GOOD:
        state = State.NOTE  # they are meant to be told apart
    return [
        Finding(
            code="dots",
            place="soften",
            state=state,
            sentence=_sentence(evaluation),
            value=dots.vanish_distance_mm / 1000.0,
            unit="m",
            limit=viewing_mm / 1000.0,
            figures=tuple(_figures(evaluation)),
            fixable=state in (State.WATCH, State.FAILS) or _rows_to_spare(evaluation, visibility),
        )
    ]


def _rows_to_spare(evaluation: Evaluation, visibility: float) -> bool:
    """Whether the dots are so well hidden that fewer rows may do."""
    if visibility >= _MUCH_HIDDEN or not family_of(evaluation.design).has_row_plan:
        return False
    return panel_layout(evaluation.layout).lines > 2


def _state(visibility: float, *, only_lighting: bool) -> State:
    if visibility < 1.0:
        return State.GOOD
    if visibility < 2.0 or only_lighting:
        return State.WATCH
    return State.FAILS


def _sentence(evaluation: Evaluation) -> Text:
    dots = evaluation.dots
    if dots.worst is None:
        return _NO_DOTS if not isinstance(evaluation.light, GroupFaceLight) else _ONE_EACH
    noun = say("Cells") if evaluation.light.shows_cells else _NOUNS[dots.worst.kind]
    if dots.camera_limit is not None:
        words = say("show") if dots.vanish_distance_mm > 0.0 else say("do not show")
        return say(
            "{noun} {words} to the camera: {amplitude} of ripple, {camera_limit} passes.",
            noun=noun,
            words=words,
            amplitude=Percent(dots.worst.amplitude, 2),
            camera_limit=Percent(dots.camera_limit, 2),
        )
    if dots.vanish_distance_mm == 0.0:
        return say("No dots are visible from any distance.")
    if dots.vanish_distance_mm >= FARTHEST_MM:
        return say("{noun} are visible from any distance.", noun=noun)
    farthest = Distance(dots.vanish_distance_mm)
    viewing_mm = evaluation.design.purpose.viewing_distance_mm
    if dots.visibility(viewing_mm) < 1.0 and dots.vanish_distance_mm > viewing_mm:
        return say(
            "{noun} do not show from {viewing}, though from farther off, up to {farthest}, they do.",
            noun=noun,
            viewing=Distance(viewing_mm),
            farthest=farthest,
        )
    return say("{noun} are visible from closer than {farthest}.", noun=noun, farthest=farthest)


def _figures(evaluation: Evaluation) -> list[Figure]:
    dots = evaluation.dots
    figures = []
    for ripple in dots.modulations:
        figures += _ripple_figures(evaluation, ripple)
    figures += [
        _visibility_figure(evaluation),
        Figure(
            say("Mean luminance"),
            say("{mean_luminance} cd/m²", mean_luminance=Number(dots.mean_luminance_cd_m2)),
            say("over the face, seen straight on"),
        ),
        *_sheet_figures(evaluation),
    ]
    return figures


def _sheet_figures(evaluation: Evaluation) -> list[Figure]:
    sheet = evaluation.diffuser
    figures = [
        Figure(
            say("Sheet") if len(sheet.layers) == 1 else say("Layer {index}", index=index),
            layer.name,
            say(
                "transmittance {transmittance}, reflectance {reflectance}, haze {haze}, evenly scattered "
                "{diffuse_share}; spread ±{spread}",
                transmittance=Fixed(layer.transmittance, ".2g"),
                reflectance=Fixed(layer.reflectance, ".2g"),
                haze=Fixed(layer.haze, "g"),
                diffuse_share=Percent(layer.diffuse_share),
                spread=Percent(layer.spread),
            ),
            layer.source,
        )
        for index, layer in enumerate(sheet.layers, start=1)
    ]
    if len(sheet.layers) > 1:
        figures.append(
            Figure(
                say("All layers"),
                say(
                    "transmittance {transmittance}, reflectance {reflectance}",
                    transmittance=Fixed(sheet.transmittance, ".2g"),
                    reflectance=Fixed(sheet.reflectance, ".2g"),
                ),
                say(
                    "τ = τ₁ τ₂ / (1 − ρ₁ ρ₂), ρ = ρ₁ + τ₁² ρ₂ / (1 − ρ₁ ρ₂): light is reflected back and forth "
                    "between two layers; spread ±{spread}",
                    spread=Percent(sheet.spread),
                ),
                say("adding method, for layers alike on both sides"),
            )
        )
    return figures


def _visibility_figure(evaluation: Evaluation) -> Figure:
    dots, viewing_mm = evaluation.dots, evaluation.design.purpose.viewing_distance_mm
    value = Number(dots.visibility(viewing_mm))
    if dots.camera_limit is not None:
        how = say(
            "largest modulation over the limit of {camera_limit} that you set; above 1 the camera shows it",
            camera_limit=Percent(dots.camera_limit, 2),
        )
        return Figure(say("Visibility to the camera"), value, how, say("a simple contrast limit, no model"))
    return Figure(
        say("Visibility from {distance}", distance=Distance(viewing_mm)),
        value,
        say(
            "modulation × contrast sensitivity of the most visible ripple: below 1 nobody sees it, from "
            "2 on it is obvious. A lit room only makes it less."
        ),
        say("P. G. J. Barten, Proc. SPIE 5294 (2004), from memory"),
    )


def _ripple_figures(evaluation: Evaluation, ripple: Modulation) -> list[Figure]:
    viewing_mm = evaluation.design.purpose.viewing_distance_mm
    sensitivity = float(evaluation.dots.sensitivity(ripple, viewing_mm))
    frequency = float(cycles_per_degree(ripple.pitch_mm, viewing_mm))
    seen = say("{sensitivity} %", sensitivity=Number(100 / sensitivity, 2))
    where = (
        say("the camera shows {seen}", seen=seen)
        if evaluation.dots.camera_limit is not None
        else say(
            "from {viewing} that is {frequency} cycles per degree, where the eye sees {seen}",
            viewing=Distance(viewing_mm),
            frequency=Number(frequency, 2),
            seen=seen,
        )
    )
    return [
        Figure(
            _MODULATIONS[ripple.kind],
            say("{amplitude} at {pitch}", amplitude=Percent(ripple.amplitude, 2), pitch=Length(ripple.pitch_mm)),
            say("{how}; {where}", how=ripple.how, where=where),
            say("luminance of the lit face, computed"),
        )
    ]
