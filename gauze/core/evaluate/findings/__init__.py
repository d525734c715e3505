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
    drawn,
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

_MODULES = (
    drawn,
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
_WITHOUT_PICTURE = (drawn, sag, bare_strip, supply, output)  # what is told where the picture does not hold the light


def find(evaluation: Evaluation) -> list[Finding]:
    """Return all findings of a design, in working order."""
    modules = _MODULES if drawn.is_true(evaluation) else _WITHOUT_PICTURE
    return [finding for module in modules for finding in module.find(evaluation)]
