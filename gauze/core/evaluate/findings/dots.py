"""Do the dots, the rows, or the stripes of alternate rows show?"""

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.evaluate.light import GroupFaceLight
from gauze.core.layout import PanelLayout
from gauze.core.optics.visibility import FARTHEST_MM, Modulation, cycles_per_degree
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.core.units.length import format_distance

_MUCH_HIDDEN = 0.5  # visibility below which a wider pitch is worth a search
_ONE_EACH = "Each body has a single LED, or none is lit: no dots to tell apart."
_NO_DOTS = "There is a single LED, or none is lit: no dots to tell apart."
_NOUNS = {
    "dots": "Dots",
    "rows": "Rows",
    "alternate rows": "Stripes of alternate rows",
    "alternate dots": "Alternate dots",
}


def find(evaluation: Evaluation, unit: LengthUnit) -> list[Finding]:
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
            sentence=_sentence(evaluation, unit),
            value=dots.vanish_distance_mm / 1000.0,
            unit="m",
            limit=viewing_mm / 1000.0,
            figures=tuple(_figures(evaluation, unit)),
            fixable=state in (State.WATCH, State.FAILS) or _rows_to_spare(evaluation, visibility),
        )
    ]


def _rows_to_spare(evaluation: Evaluation, visibility: float) -> bool:
    """Whether the dots are so well hidden that fewer rows may do."""
    return (
        isinstance(evaluation.layout, PanelLayout) and visibility < _MUCH_HIDDEN and evaluation.layout.panel.lines > 2
    )


def _state(visibility: float, *, only_lighting: bool) -> State:
    if visibility < 1.0:
        return State.GOOD
    if visibility < 2.0 or only_lighting:
        return State.WATCH
    return State.FAILS


def _sentence(evaluation: Evaluation, unit: LengthUnit) -> str:
    dots = evaluation.dots
    if dots.worst is None:
        return _NO_DOTS if not isinstance(evaluation.light, GroupFaceLight) else _ONE_EACH
    noun = "Cells" if evaluation.light.shows_cells else _NOUNS[dots.worst.kind]
    if dots.camera_limit is not None:
        words = "show" if dots.vanish_distance_mm > 0.0 else "do not show"
        return f"{noun} {words} to the camera: {dots.worst.amplitude:.2%} of ripple, {dots.camera_limit:.2%} passes."
    if dots.vanish_distance_mm == 0.0:
        return "No dots are visible from any distance."
    if dots.vanish_distance_mm >= FARTHEST_MM:
        return f"{noun} are visible from any distance."
    farthest = format_distance(dots.vanish_distance_mm, unit)
    viewing_mm = evaluation.design.purpose.viewing_distance_mm
    if dots.visibility(viewing_mm) < 1.0 and dots.vanish_distance_mm > viewing_mm:
        return f"{noun} do not show from {format_distance(viewing_mm, unit)}, though from farther off, up to {farthest}, they do."
    return f"{noun} are visible from closer than {farthest}."


def _figures(evaluation: Evaluation, unit: LengthUnit) -> list[Figure]:
    dots = evaluation.dots
    figures = []
    for ripple in dots.modulations:
        figures += _ripple_figures(evaluation, ripple, unit)
    figures += [
        _visibility_figure(evaluation, unit),
        Figure(
            "Mean luminance",
            f"{format_number(dots.mean_luminance_cd_m2)} cd/m²",
            "over the face, seen straight on",
        ),
        *_sheet_figures(evaluation),
    ]
    return figures


def _sheet_figures(evaluation: Evaluation) -> list[Figure]:
    sheet = evaluation.diffuser
    figures = [
        Figure(
            "Sheet" if len(sheet.layers) == 1 else f"Layer {index}",
            layer.name,
            f"transmittance {layer.transmittance:.2g}, reflectance {layer.reflectance:.2g}, haze {layer.haze:g}, "
            f"evenly scattered {layer.diffuse_share:.0%}; spread ±{layer.spread:.0%}",
            layer.source,
        )
        for index, layer in enumerate(sheet.layers, start=1)
    ]
    if len(sheet.layers) > 1:
        figures.append(
            Figure(
                "All layers",
                f"transmittance {sheet.transmittance:.2g}, reflectance {sheet.reflectance:.2g}",
                "τ = τ₁ τ₂ / (1 − ρ₁ ρ₂), ρ = ρ₁ + τ₁² ρ₂ / (1 − ρ₁ ρ₂): light is reflected back and forth between two layers; "
                f"spread ±{sheet.spread:.0%}",
                "adding method, for layers alike on both sides",
            )
        )
    return figures


def _visibility_figure(evaluation: Evaluation, unit: LengthUnit) -> Figure:
    dots, viewing_mm = evaluation.dots, evaluation.design.purpose.viewing_distance_mm
    value = format_number(dots.visibility(viewing_mm))
    if dots.camera_limit is not None:
        how = f"largest modulation over the limit of {dots.camera_limit:.2%} that you set; above 1 the camera shows it"
        return Figure("Visibility to the camera", value, how, "a simple contrast limit, no model")
    return Figure(
        "Visibility from " + format_distance(viewing_mm, unit),
        value,
        "modulation × contrast sensitivity of the most visible ripple: below 1 nobody sees it, from 2 on it is obvious. "
        "A lit room only makes it less.",
        "P. G. J. Barten, Proc. SPIE 5294 (2004), from memory",
    )


def _ripple_figures(evaluation: Evaluation, ripple: Modulation, unit: LengthUnit) -> list[Figure]:
    viewing_mm = evaluation.design.purpose.viewing_distance_mm
    sensitivity = float(evaluation.dots.sensitivity(ripple, viewing_mm))
    frequency = float(cycles_per_degree(ripple.pitch_mm, viewing_mm))
    seen = f"{format_number(100 / sensitivity, 2)} %"
    where = (
        f"the camera shows {seen}"
        if evaluation.dots.camera_limit is not None
        else f"from {format_distance(viewing_mm, unit)} that is {format_number(frequency, 2)} cycles per degree, "
        f"where the eye sees {seen}"
    )
    return [
        Figure(
            f"Modulation of the {ripple.kind}",
            f"{ripple.amplitude:.2%} at {format_length(ripple.pitch_mm, unit)}",
            f"{ripple.how}; {where}",
            "luminance of the lit face, computed",
        )
    ]
