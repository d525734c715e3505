"""Every text of the window goes through one translation: a made-up language shows what escapes it."""

import re
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QAbstractButton, QComboBox, QLabel, QLineEdit, QWidget

from gauze.core.design import Design
from gauze.core.errors import DesignError
from gauze.core.evaluate import Detail, evaluate, find
from gauze.core.families import lay_out, parts_of
from gauze.core.formats.design_file import decode_design
from gauze.core.units import LengthUnit
from gauze.core.words import Fixed, Joined, Length, Number, Percent, Reader, say
from gauze.core.words.languages import ENGLISH_CODE, LANGUAGES, translation
from gauze.demo import DEMOS, Demo
from gauze.ui.main_window import MainWindow
from gauze.ui.text import told, use_translation
from tests.builders import CATALOGUE
from tests.core.layout.test_families import BAD
from tests.families import family

sys.path.insert(0, str(Path(__file__).parents[2]))  # the tools are of the checkout, not of the package
from tools.messages import lacking, read_catalogue

Open = Callable[..., MainWindow]
_OPEN, _CLOSE = "⟦", "⟧"
# what is not said by the program: data of the design and of the catalogue, units, names of keys and of itself
_DATA = {
    "Gauze",
    "mm",
    "mm²",
    "in",
    "cd",
    "m²",
    "lm",
    "lx",
    "K",
    "W",
    "V",
    "A",
    "dpi",
    "English",
    "Deutsch",
    "F",
    "x",
    "CSV",
}


def marked(text: str) -> str:
    """A text in the made-up language: in marks, placeholders apart, so that what stands in them must be translated by itself."""
    return re.sub(r"(\{[^{}]*\})", rf"{_CLOSE}\1{_OPEN}", _OPEN + text + _CLOSE) if text else text


@pytest.fixture
def made_up() -> Iterator[None]:
    use_translation(marked)
    yield
    use_translation(lambda text: text)


def shown(window: MainWindow) -> Iterator[tuple[str, str]]:
    """Every text that a window shows or tells a screen reader, and what shows it."""
    for widget in window.findChildren(QWidget):
        kind = type(widget).__name__
        yield kind, widget.toolTip()
        yield kind, widget.accessibleName()
        if isinstance(widget, QLabel | QAbstractButton):
            yield kind, widget.text()
        if isinstance(widget, QComboBox):
            yield from ((kind, widget.itemText(index)) for index in range(widget.count()))
        if isinstance(widget, QLineEdit):
            yield kind, widget.placeholderText()
    yield from (("action", action.text()) for action in window.findChildren(QAction))
    yield from (("dimension", dimension.name) for dimension in window.drawing.dimensions_now())


def names_of_data(design: Design) -> set[str]:
    named = [*CATALOGUE.strips.values(), *CATALOGUE.diffusers.values(), *CATALOGUE.finishes.values()]
    named += [*CATALOGUE.modules.values(), *CATALOGUE.profiles.values()]
    found = {one.name for one in named} | {getattr(one, "source", "") for one in named}
    found |= {channel.name for one in CATALOGUE.strips.values() for channel in one.channel}
    found |= {channel.name for one in CATALOGUE.modules.values() for channel in one.channel}
    ids = {*CATALOGUE.strips, *CATALOGUE.modules, *CATALOGUE.diffusers, *CATALOGUE.finishes, "none"}
    return found | ids | {design.name, CATALOGUE.supply_source} | names_of_labels(design)


def names_of_labels(design: Design) -> set[str]:
    wiring = design.wiring
    if wiring is None:
        return set()
    battery = wiring.battery
    labels = (wiring.controller, *(() if battery is None else (battery.battery, battery.converter)))
    return {label.name for label in labels if label is not None}


def ids_of_pieces(design: Design) -> set[str]:
    return set(parts_of(design, lay_out(design, CATALOGUE), CATALOGUE).ids()) | {"wires"}


def escaped(text: str, data: set[str]) -> str:
    """What of a text was not translated: letters outside of all marks that are no data."""
    text = re.sub(r"<[^>]*>", " ", text)
    for name in sorted(data, key=len, reverse=True):
        text = text.replace(name, " ") if name else text
    while _OPEN in text and (closed := re.sub(f"{_OPEN}[^{_OPEN}{_CLOSE}]*{_CLOSE}", " ", text)) != text:
        text = closed
    return " ".join(word for word in re.findall(r"[^\W\d_]{2,}[²³]?", text) if word not in _DATA)


def test_what_escapes_is_seen() -> None:
    assert escaped("⟦Depth ⟦12⟧ mm⟧ 5 mm", set()) == ""
    assert escaped("<b>Depth</b> of ⟦x⟧", set()) == "Depth of"


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.key)
@pytest.mark.usefixtures("made_up")
def test_no_text_of_the_window_escapes_translation(open_window: Open, demo: Demo) -> None:
    design = decode_design(demo.read(), CATALOGUE)
    window, data = open_window(design, lit=False), names_of_data(design) | ids_of_pieces(design)
    for place in ("aim", "lay", "soften", "feed"):
        window.go_to(place)
        found = {(kind, escaped(text, data)): text for kind, text in shown(window)}
        assert {text for (_, rest), text in found.items() if rest} == set(), place


@pytest.mark.parametrize("name", sorted(BAD))
@pytest.mark.usefixtures("made_up")
def test_no_text_of_a_refusal_escapes_translation(name: str) -> None:
    bad = family(BAD[name][0])
    with pytest.raises(DesignError) as caught:
        lay_out(bad, CATALOGUE)
    assert escaped(told(caught.value), names_of_data(bad)) == ""


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.key)
def test_no_text_of_the_findings_escapes_translation(demo: Demo) -> None:
    design = decode_design(demo.read(), CATALOGUE)
    read, data = Reader(translate=marked).read, names_of_data(design) | ids_of_pieces(design)
    for finding in find(evaluate(design, CATALOGUE, Detail(fineness=0.5, most_pixels=2_000, target_points=1))):
        working = (text for one in finding.figures for text in (one.name, one.value, one.how, one.source))
        for text in (finding.sentence, *working):
            assert escaped(read(text), data) == "", finding.code


def test_words_are_written_in_the_unit_and_language_of_who_reads() -> None:
    text = say("{share} of {length}, {count} cd/m²", share=Percent(0.5), length=Length(25.4), count=Number(1234.0))
    assert str(text) == "50% of 25.4 mm, 1230 cd/m²"
    read = Reader(LengthUnit.INCH, lambda template: template.replace(" of ", " von ")).read
    assert read(text) == "50% von 1 in, 1230 cd/m²"
    assert read(Joined.of([Length(25.4), Length(50.8)], " and ")) == "1 in and 2 in"
    assert read(Fixed(-0.00001, "+.4f")) == "0.0000"  # no negative nothing
    assert read(Fixed(-0.0012, "+.4f")) == "\N{MINUS SIGN}0.0012"


@pytest.mark.parametrize("code", [one.code for one in LANGUAGES if one.code != ENGLISH_CODE])
def test_every_language_is_whole_and_what_is_read_is_what_is_written(code: str) -> None:
    assert lacking(code) == []
    translate = translation(code)
    for message in read_catalogue(code):
        if message.id:
            assert translate(message.id) == message.string  # else: python -m tools.messages --compile
            assert sorted(re.findall(r"{\w*}", message.id)) == sorted(re.findall(r"{\w*}", message.string))


def test_an_unknown_language_is_english() -> None:
    assert translation("xx")("Depth") == "Depth"
    assert translation("de")("") == ""
    assert translation("de")("Depth") == "Tiefe"


def test_a_language_is_chosen_in_the_menu_and_kept(open_window: Open, monkeypatch: pytest.MonkeyPatch) -> None:
    window = open_window(lit=False)
    told = []
    monkeypatch.setattr(window.files, "explain", lambda *what: told.append(what))
    menu = window.actions_by_key["language"].menu()
    assert menu is not None
    german = next(action for action in menu.actions() if action.text().startswith("Deutsch"))
    assert "machine" in german.text()
    german.trigger()
    assert window.bench.settings.language == "de"
