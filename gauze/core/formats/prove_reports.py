"""What the bench tells, for a terminal and as JSON: readings compared, a fit, a photograph. See docs/prove.md."""

from collections.abc import Mapping, Sequence
from typing import Any

import msgspec

from gauze.core.printable import printable
from gauze.core.proving.face_figures import FaceFigures
from gauze.core.proving.fitting import Compared, Fit, unit_of
from gauze.core.proving.photo_measure import PhotoMeasured


def _json(body: Mapping[str, Any]) -> bytes:
    return msgspec.json.format(msgspec.json.encode(body), indent=2) + b"\n"


# -- readings ----------------------------------------------------------------------------------------------------------


def compared_json(compared: Sequence[Compared]) -> bytes:
    """Write readings with their predictions, and how many of them agree."""
    rows = [
        {
            "quantity": one.reading.quantity,
            "place": one.reading.place,
            "value": one.reading.value,
            "uncertainty": one.reading.limit,
            "unit": unit_of(one.reading.quantity),
            "predicted": one.predicted,
            "predicted_uncertainty": one.predicted_uncertainty,
            "deviations": one.deviations,
            "state": one.state,
            "note": one.reading.note,
        }
        for one in compared
    ]
    counts = {state: sum(one.state == state for one in compared) for state in ("agrees", "doubtful", "off")}
    return _json({"readings": rows, **counts})


def compared_text(compared: Sequence[Compared]) -> str:
    """A line for each reading."""
    lines = []
    for one in compared:
        reading, unit = one.reading, unit_of(one.reading.quantity)
        lines.append(
            f"{one.state:9}{reading.quantity:8}{printable(reading.place, 40):24}read {reading.value:.4g} ± {reading.limit:.2g} "
            f"{unit}, predicted {one.predicted:.4g} ± {one.predicted_uncertainty:.2g} {unit}"
        )
    return "\n".join(lines) or "no readings"


# -- the fit -----------------------------------------------------------------------------------------------------------


def fit_json(fit: Fit) -> bytes:
    """Write fitted values, what is left of each reading, and the next one to take."""
    return _json(
        {
            "fitted": [
                {
                    "name": one.name,
                    "value": one.value,
                    "prior": one.prior,
                    "uncertainty": one.uncertainty,
                    "prior_uncertainty": one.prior_uncertainty,
                    "unit": one.unit,
                }
                for one in fit.fitted
            ],
            "residuals": [
                {
                    "quantity": one.reading.quantity,
                    "place": one.reading.place,
                    "value": one.reading.value,
                    "predicted": one.predicted,
                    "residual": one.reading.value - one.predicted,
                    "state": one.state,
                }
                for one in fit.residuals
            ],
            "next_reading": None
            if fit.next_reading is None
            else {
                "quantity": fit.next_reading.quantity,
                "place": fit.next_reading.place,
                "expected": fit.next_reading.expected,
                "unit": unit_of(fit.next_reading.quantity),
                "narrows": fit.next_reading.narrows,
            },
            "widened": fit.widened,
        }
    )


def fit_text(fit: Fit) -> str:
    """Fitted values beside their priors, then what is left of the readings."""
    lines = ["Fitted"]
    for one in fit.fitted:
        unit = f" {one.unit}" if one.unit else ""
        lines.append(
            f"  {one.name}: {one.value:.4g} ± {one.uncertainty:.2g}{unit} (before: {one.prior:.4g} ± {one.prior_uncertainty:.2g})"
        )
    lines.append("Readings after the fit")
    for left in fit.residuals:
        unit = unit_of(left.reading.quantity)
        lines.append(
            f"  {left.state:9}{left.reading.quantity:8}{printable(left.reading.place, 40):24}read {left.reading.value:.4g}, "
            f"now predicted {left.predicted:.4g} {unit}"
        )
    if fit.next_reading is not None:
        one_more = fit.next_reading
        lines.append(
            f"Next: {one_more.quantity} at {printable(one_more.place, 40)}, expected {one_more.expected:.4g} "
            f"{unit_of(one_more.quantity)}; it narrows {one_more.narrows:.0%} of what is uncertain"
        )
    return "\n".join(lines)


# -- photographs -------------------------------------------------------------------------------------------------------


def photo_json(measured: PhotoMeasured, predicted: FaceFigures | None) -> bytes:
    """Write what a photograph gives, and the prediction's own figures under the same names."""
    found = measured.corners_px
    return _json(
        {
            "corners_px": None if found is None else [[float(x), float(y)] for x, y in found],
            "width_px": measured.width_px,
            "height_px": measured.height_px,
            "linearised_from": measured.linearised_from,
            "vignetting": measured.vignetting,
            "clipped_share": measured.clipped_share,
            **_figures(measured.figures),
            "warnings": list(measured.warnings),
            "predicted": None if predicted is None else _figures(predicted),
        }
    )


def _figures(figures: FaceFigures | None) -> dict[str, Any]:
    if figures is None:
        names = ("nine_min_over_max", "min_over_mean", "ripple", "colour_spread_uv", "dark_places")
        return dict.fromkeys(names)
    return {
        "nine_min_over_max": figures.nine_min_over_max,
        "min_over_mean": figures.min_over_mean,
        "ripple": [
            {"direction": one.direction, "pitch_mm": one.pitch_mm, "amplitude": one.amplitude} for one in figures.ripple
        ],
        "colour_spread_uv": figures.colour_spread_uv,
        "dark_places": [{"x_mm": one.x_mm, "y_mm": one.y_mm, "share": one.share} for one in figures.dark_places],
    }


def photo_text(measured: PhotoMeasured, predicted: FaceFigures | None) -> str:
    """The same in lines, measured beside predicted."""
    lines = [f"Picture of {measured.width_px} × {measured.height_px} pixels, from {measured.linearised_from}"]
    if measured.corners_px is not None:
        lines.append("Corners: " + "  ".join(f"{x:.1f},{y:.1f}" for x, y in measured.corners_px))
    figures = measured.figures
    if figures is not None:
        lines += _lines(figures, predicted)
    if measured.clipped_share is not None:
        lines.append(f"Clipped: {measured.clipped_share:.2%} of the face")
    if measured.warnings:
        lines.append("Warnings: " + ", ".join(measured.warnings))
    return "\n".join(lines)


def _lines(figures: FaceFigures, predicted: FaceFigures | None) -> list[str]:
    def beside(value: float, other: float | None, form: str = ".3f") -> str:
        return f"{value:{form}}" + ("" if other is None else f" (predicted {other:{form}})")

    other = predicted
    lines = [
        "Nine places, least over most: "
        + beside(figures.nine_min_over_max, None if other is None else other.nine_min_over_max),
        "Least over mean: " + beside(figures.min_over_mean, None if other is None else other.min_over_mean),
    ]
    for number, one in enumerate(figures.ripple):
        expected = None if other is None else other.ripple[number].amplitude
        lines.append(f"Ripple along {one.direction} at {one.pitch_mm:g} mm: " + beside(one.amplitude, expected, ".2%"))
    if figures.colour_spread_uv is not None:
        lines.append(
            "Colour, Δu′v′: "
            + beside(figures.colour_spread_uv, None if other is None else other.colour_spread_uv, ".4f")
        )
    lines += [
        f"Dark at {one.x_mm:.0f},{one.y_mm:.0f} mm: {one.share:.0%} of what is around it" for one in figures.dark_places
    ]
    return lines
