"""The findings, one module each. To add one, write its module and name it in ``_MODULES``."""

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Finding
from gauze.core.evaluate.findings import (
    bare_strip,
    brightness,
    colour,
    corners,
    crosstalk,
    dots,
    evenness,
    legibility,
    output,
    rim,
    row_ends,
    sag,
    shells,
    strip_ends,
    supply,
    tile_links,
)
from gauze.core.units import LengthUnit

_MODULES = (
    dots,
    legibility,
    crosstalk,
    evenness,
    rim,
    brightness,
    colour,
    row_ends,
    strip_ends,
    corners,
    sag,
    bare_strip,
    shells,
    tile_links,
    supply,
    output,
)


def find(evaluation: Evaluation, unit: LengthUnit = LengthUnit.MM) -> list[Finding]:
    """Return all findings of a design, in working order, with lengths written in the given unit."""
    return [finding for module in _MODULES for finding in module.find(evaluation, unit)]
