"""Do the dots, the rows, or the stripes of alternate rows show?"""

import math
from functools import partial

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.evaluate.light import GroupFaceLight
from gauze.core.evaluate.standards import STEPS, Standard, standard_of, step_of
from gauze.core.families import family_of
from gauze.core.layout import panel_layout
from gauze.core.lazy import Lazy
from gauze.core.optics.visibility import FARTHEST_MM, Modulation, cycles_per_degree
from gauze.core.words import Distance, Fixed, Joined, Length, Number, Percent, Text, say

_LEAST_TOLD = 0.01  # of the threshold: a smaller visibility is given as “less than” this
_MUCH_HIDDEN = 0.5  # of the visibility that passes, below which a wider pitch is worth a search
_ONE_EACH = say("Each body has a single LED, or none is lit: no dots to tell apart.")
_NO_DOTS = say("There is a single LED, or none is lit: no dots to tell apart.")
_NOUNS = {
    "dots": say("dots"),
    "rows": say("rows"),
    "alternate rows": say("stripes of alternate rows"),
    "alternate dots": say("alternate dots"),
}
_CAPITALS = {
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


def _steps() -> Text:
    """The scale in words."""
    told: list[Text] = [
        say("up to {most} {word}", most=Number(step.most), word=step.word) for step in STEPS if math.isfinite(step.most)
    ]
    return Joined.of([*told, say("above that {word}", word=STEPS[-1].word)])


_STEPS = _steps()


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the most visible ripple, from the viewing distance, by the standard that the design is to meet."""
    viewing_mm = evaluation.design.purpose.viewing_distance_mm
    dots, standard = evaluation.dots, standard_of(evaluation.design)
    visibility = dots.visibility(viewing_mm)
    state = State.NOTE if standard.key == "crisp" else standard.state_of(visibility)
    return [
        Finding(
            code="dots",
            place="soften",
            state=state,
            sentence=_sentence(evaluation, standard, state),
            value=visibility,
            unit="",
            limit=standard.passes_to if math.isfinite(standard.passes_to) else None,
            figures=Lazy(partial(_figures, evaluation, standard)),
            fixable=state in (State.WATCH, State.FAILS) or _rows_to_spare(evaluation, visibility, standard),
        )
    ]


def _rows_to_spare(evaluation: Evaluation, visibility: float, standard: Standard) -> bool:
    """Whether the dots are so well hidden that fewer rows may be enough."""
    if visibility >= _MUCH_HIDDEN * standard.aim or not family_of(evaluation.design).has_row_plan:
        return False
    return panel_layout(evaluation.layout).lines > 2


def _sentence(evaluation: Evaluation, standard: Standard, state: State) -> Text:
    dots, viewing_mm = evaluation.dots, evaluation.design.purpose.viewing_distance_mm
    ripple = dots.most_visible(viewing_mm)
    if ripple is None:
        return _NO_DOTS if not isinstance(evaluation.light, GroupFaceLight) else _ONE_EACH
    noun = _NOUNS[ripple.kind]
    if dots.camera_limit is not None:
        words = say("show") if dots.vanish_distance_mm > 0.0 else say("do not show")
        return say(
            "{noun} {words} to the camera: {amplitude} of ripple, {camera_limit} passes.",
            noun=_CAPITALS[ripple.kind],
            words=words,
            amplitude=Percent(ripple.amplitude, 2),
            camera_limit=Percent(dots.camera_limit, 2),
        )
    if evaluation.light.shows_cells and state is State.NOTE:
        if dots.visibility(viewing_mm) < 1.0:
            return say("From {viewing} the cells merge.", viewing=Distance(viewing_mm))
        return say(
            "From {viewing} the cells can be told apart, as pixels should be; they merge from {farthest} on.",
            viewing=Distance(viewing_mm),
            farthest=_about(dots.vanish_distance_mm),
        )
    seen = say(
        "From {viewing} the {noun} are {step}",
        viewing=Distance(viewing_mm),
        noun=noun,
        step=step_of(dots.visibility(viewing_mm)).word,
    )
    asked = _asked(standard, state, dots.visibility(viewing_mm))
    return say("{seen}{asked}{vanishing}.", seen=seen, asked=asked, vanishing=_vanishing(evaluation))


def _asked(standard: Standard, state: State, visibility: float) -> Text:
    if state is State.FAILS:
        return say(", but “{standard}” asks for {asks}", standard=standard.name, asks=standard.asks)
    if state is State.WATCH and standard.key == "light_only":
        return say(": bright points in view can dazzle")
    if state is State.WATCH:
        return say(", a little more than “{standard}” allows", standard=standard.name)
    return "" if visibility < 1.0 else say(", which “{standard}” allows", standard=standard.name)


def _vanishing(evaluation: Evaluation) -> Text:
    """From where on nothing is seen, where that is not said yet."""
    dots, viewing_mm = evaluation.dots, evaluation.design.purpose.viewing_distance_mm
    if dots.vanish_distance_mm >= FARTHEST_MM:
        return say("; they are visible from any distance")
    if dots.visibility(viewing_mm) >= 1.0:
        return say("; they vanish at {farthest}", farthest=_about(dots.vanish_distance_mm))
    if dots.vanish_distance_mm > viewing_mm:
        return say("; from farther off, up to {farthest}, they can be seen", farthest=_about(dots.vanish_distance_mm))
    return ""


def _figures(evaluation: Evaluation, standard: Standard) -> list[Figure]:
    dots = evaluation.dots
    figures = []
    for ripple in dots.modulations:
        figures += _ripple_figures(evaluation, ripple)
    figures += [
        _visibility_figure(evaluation),
        *_standard_figures(evaluation, standard),
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
    visibility = dots.visibility(viewing_mm)
    value: Text = Number(visibility) if visibility >= _LEAST_TOLD else say("under {least}", least=Number(_LEAST_TOLD))
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
            "modulation × contrast sensitivity of the most visible ripple: {steps}; a lit room only makes it less",
            steps=_STEPS,
        ),
        say("P. G. J. Barten, Proc. SPIE 5294 (2004), from memory"),
    )


def _about(distance_mm: float) -> Distance:
    """A distance that is computed, to two figures."""
    return Distance(float(f"{distance_mm:.2g}"))


def _standard_figures(evaluation: Evaluation, standard: Standard) -> list[Figure]:
    if standard.key is None or standard.key == "crisp":
        return []
    limits = say("passes up to {passes}", passes=Number(standard.passes_to))
    if math.isfinite(standard.fails_from):
        limits = say("{passes}, fails above {fails}", passes=limits, fails=Number(standard.fails_from))
    chosen = evaluation.design.purpose.standard == standard.key
    return [
        Figure(
            say("Standard"),
            standard.name,
            say(
                "for {meant_for}: {limits}; {chosen}",
                meant_for=standard.meant_for,
                limits=limits,
                chosen=say("chosen in Aim") if chosen else say("usual for such a build; another can be chosen in Aim"),
            ),
            say("common practice, no source"),
        )
    ]


def _ripple_figures(evaluation: Evaluation, ripple: Modulation) -> list[Figure]:
    viewing_mm = evaluation.design.purpose.viewing_distance_mm
    sensitivity = float(evaluation.dots.sensitivity(ripple, viewing_mm))
    frequency = float(cycles_per_degree(ripple.pitch_mm, viewing_mm))
    seen = Percent(1.0 / sensitivity, 2)
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
