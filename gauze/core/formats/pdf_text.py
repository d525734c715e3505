"""Letters in PDF: those of the fonts that every reader has, and of one that ships inside where these lack some."""

import functools
import io
from collections.abc import Iterator
from importlib import resources
from itertools import groupby
from xml.sax.saxutils import escape

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

USUAL, BOLD = "Helvetica", "Helvetica-Bold"
_OTHER = "DejaVuSans"
_NEAREST = str.maketrans(
    {
        "\N{MINUS SIGN}": "-",
        "\N{EN DASH}": "-",
        "\N{HORIZONTAL ELLIPSIS}": "...",
        "\N{LEFT DOUBLE QUOTATION MARK}": '"',
        "\N{RIGHT DOUBLE QUOTATION MARK}": '"',
        "\N{DOUBLE LOW-9 QUOTATION MARK}": '"',
        "\N{RIGHT SINGLE QUOTATION MARK}": "'",
        "\N{RIGHTWARDS ARROW}": "->",
    }
)


def nearest(text: str) -> str:
    """Return a text with dashes, quotes and the like as the nearest of what the usual fonts have; other letters stay."""
    return text.translate(_NEAREST)


def font_for(text: str, usual: str = USUAL) -> str:
    """Return the font for a line that :func:`nearest` gave: the usual one, or where that lacks letters the one that has more."""
    return usual if _is_usual(text) else _other_font()


def markup(text: str) -> str:
    """Return a text for a paragraph, which reads markup: letters that its font lacks in the one that has more."""
    return "".join(_runs(nearest(text)))


def _runs(text: str) -> Iterator[str]:
    for usual, letters in groupby(text, _is_usual):
        run = escape("".join(letters))
        yield run if usual else f'<font name="{_other_font()}">{run}</font>'


def _is_usual(text: str) -> bool:
    return all(ord(letter) < 256 for letter in text)


@functools.cache
def _other_font() -> str:
    """Make the font known that ships inside, once."""
    data = resources.files("gauze.core.formats").joinpath("fonts", f"{_OTHER}.ttf").read_bytes()
    pdfmetrics.registerFont(TTFont(_OTHER, io.BytesIO(data)))
    return _OTHER
