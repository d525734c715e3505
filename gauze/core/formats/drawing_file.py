"""A drawing of a build in the form that a file's ending asks for."""

import importlib

from gauze.core.design import Design
from gauze.core.drawing import views_of
from gauze.core.electrical.power import Power
from gauze.core.errors import GauzeError
from gauze.core.layout import Layout
from gauze.core.thermal.warming import BuildWarmth

ENDINGS = (".svg", ".dxf", ".pdf")


def encode_drawing(
    design: Design, layout: Layout, ending: str, power: Power | None = None, warmth: BuildWarmth | None = None
) -> bytes:
    """Return plan and section at their true size, with the wires where the power of the design is given, and its warmth.

    Raises
    ------
    GauzeError
        When the ending is none of those that can be written, or the drawing is larger than such a file can hold.
    """
    kind = ending.lower().removeprefix(".")
    if f".{kind}" not in ENDINGS:
        raise GauzeError(
            "A drawing is written as {endings}: choose one of these endings for the file.", endings=", ".join(ENDINGS)
        )
    # the packages behind DXF and PDF take a third of a second to load: only who writes such a file waits for that
    module = importlib.import_module(f"gauze.core.formats.drawing_{kind}")
    data: bytes = getattr(module, f"encode_{kind}")(design.name, views_of(design, layout, power, warmth))
    return data
