"""Templates in the form that a file's ending asks for: pages for a printer, or drawings for whoever cuts by machine."""

import importlib
from collections.abc import Sequence

from gauze.core.design.making import Paper
from gauze.core.drawing.templates import Template
from gauze.core.errors import GauzeError
from gauze.core.words import ENGLISH, Reader

ENDINGS = (".pdf", ".dxf", ".svg")


def encode_templates(
    name: str, templates: Sequence[Template], ending: str, paper: Paper, reader: Reader = ENGLISH
) -> bytes:
    """Write templates at their true size.

    Raises
    ------
    GauzeError
        When the ending is none of those that can be written, there are no templates, or they take too many pages.
    """
    kind = ending.lower().removeprefix(".")
    if f".{kind}" not in ENDINGS:
        raise GauzeError(
            "Templates are written as {endings}: choose one of these endings for the file.", endings=", ".join(ENDINGS)
        )
    if not templates:
        raise GauzeError("This design has no flat parts to make templates of: nothing was written.")
    if kind == "pdf":
        from gauze.core.formats.template_pdf import encode_template_pdf

        return encode_template_pdf(name, templates, paper, reader)
    module = importlib.import_module(f"gauze.core.formats.drawing_{kind}")
    data: bytes = getattr(module, f"encode_{kind}")(name, [one.view for one in templates])
    return data
