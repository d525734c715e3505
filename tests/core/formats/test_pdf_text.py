"""Letters on written pages: none is lost, whatever the language."""

import re
from html import unescape

from hypothesis import given
from hypothesis import strategies as st

from gauze.core.formats.pdf_text import BOLD, USUAL, font_for, markup, nearest


@given(st.text())
def test_a_paragraph_has_all_letters_of_its_text(text: str) -> None:
    marked = markup(text)
    assert unescape(re.sub(r"</?font[^<>]*>", "", marked)) == nearest(text)
    assert all(ord(letter) < 256 for letter in re.sub(r"<font[^<>]*>[^<>]*</font>", "", marked))


def test_letters_that_the_usual_font_lacks_are_set_in_another() -> None:
    quoted = "Ready \N{EN DASH} <b> & \N{LEFT DOUBLE QUOTATION MARK}x\N{RIGHT DOUBLE QUOTATION MARK}"
    assert markup(quoted) == 'Ready - &lt;b&gt; &amp; "x"'
    assert markup("up to \u0394u 0.01") == 'up to <font name="DejaVuSans">\u0394</font>u 0.01'


def test_a_line_is_set_in_one_font() -> None:
    assert font_for("Größe 3 mm²") == USUAL
    assert font_for("Größe 3 mm²", BOLD) == BOLD
    assert font_for("\N{GREEK CAPITAL LETTER OMEGA}", BOLD) == "DejaVuSans"
