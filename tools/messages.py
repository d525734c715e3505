"""Every text that can be translated, and the catalogues of the languages: ``python -m tools.messages``.

Without a choice it says how many texts each language lacks. ``--update`` puts new texts into the catalogues (``.po``), not yet
translated, and takes those out that are no longer said; ``--compile`` makes of them what the program reads (``.mo``).
"""

import argparse
import ast
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any, get_args, get_type_hints

import msgspec
from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

from gauze.core.design import Design
from gauze.core.design.design import KeptVersion
from gauze.core.design.limits import words_for
from gauze.core.evaluate import Caution
from gauze.core.words.languages import DOMAIN, ENGLISH_CODE, LANGUAGES, LOCALE
from gauze.demo import DEMOS
from gauze.ui.main_window.actions import action_rows
from gauze.ui.panels import cavity_panel
from gauze.ui.panels.findings import STATE_WORDS
from gauze.ui.subjects import SUBJECTS

_PACKAGE = Path(__file__).parents[1] / "gauze"
_COMMAND_LINE = _PACKAGE / "cli"  # which speaks English
_SAID = {"tr", "say"}
_ERRORS = {  # which argument of an error is its text
    "DesignError": 1,
    "GauzeError": 0,
    "QuantityError": 0,
    "CatalogueError": 0,
    "CircuitError": 0,
    "CuttingError": 0,
    "FormatError": 0,
    "ReadingError": 0,
    "PhotoError": 0,
    "StorageError": 0,
    "WriteError": 0,
    "ChangedOnDiskError": 0,
    "SolverError": 0,
    "KernelError": 0,
}
_NAMED_EDITS = {"edit", "drag"}  # the first argument is what Undo calls it


def messages() -> list[str]:
    """Return every text, in the order in which it is found."""
    found: dict[str, None] = {}
    files = (file for file in sorted(_PACKAGE.rglob("*.py")) if _COMMAND_LINE not in file.parents)
    for file in files:
        found.update(dict.fromkeys(_written(ast.parse(file.read_text(encoding="utf-8")))))
    found.update(dict.fromkeys(_tables()))
    return [text for text in found if any(letter.isalpha() for letter in _without_places(text))]


def _without_places(text: str) -> str:
    while (start := text.find("{")) >= 0 and (end := text.find("}", start)) >= 0:
        text = text[:start] + text[end + 1 :]
    return text


def _written(tree: ast.Module) -> Iterator[str]:
    """Texts that stand in the code as the first argument of what says them."""
    for node in ast.walk(tree):
        if not isinstance(node, ast.Call):
            continue
        name = node.func.id if isinstance(node.func, ast.Name) else ""
        is_edit = isinstance(node.func, ast.Attribute) and node.func.attr in _NAMED_EDITS
        at = 0 if name in _SAID or is_edit else _ERRORS.get(name)
        text = node.args[at] if at is not None and at < len(node.args) else None
        if isinstance(text, ast.Constant) and isinstance(text.value, str):
            yield text.value


def _tables() -> Iterator[str]:
    """Texts that stand in tables."""
    for row in action_rows(SUBJECTS):
        yield from (text for text in (row.menu, row.text) if text)
    for subject in SUBJECTS:
        yield from (subject.name, subject.about)
    for demo in DEMOS:
        yield from (demo.family, demo.purpose)
    yield from STATE_WORDS.values()
    yield from (caution.value for caution in Caution)
    yield from cavity_panel.TEXTS
    yield from sorted({words_for(name).template for name in _fields(Design)})


def _fields(kind: Any) -> Iterator[str]:
    """Names of all choices in a class of choices, and in those that it holds."""
    if isinstance(kind, type) and issubclass(kind, msgspec.Struct):
        for name, hint in get_type_hints(kind).items():
            yield name
            yield from () if kind is KeptVersion else _fields(hint)
    else:
        for inner in get_args(kind):
            yield from _fields(inner)


def _file(code: str) -> Path:
    return LOCALE / code / "LC_MESSAGES" / f"{DOMAIN}.po"


def read_catalogue(code: str) -> Catalog:
    """Return the catalogue of a language; an empty one when there is none yet."""
    if not _file(code).exists():
        return Catalog(
            locale=code, project="Gauze", header_comment="# Made by a machine; no native speaker has read it."
        )
    with _file(code).open("rb") as file:
        return read_po(file, locale=code)


def lacking(code: str) -> list[str]:
    """Return the texts that a language lacks."""
    catalogue = read_catalogue(code)
    return [text for text in messages() if not (catalogue.get(text) and catalogue[text].string)]


def update(code: str) -> None:
    """Bring a catalogue to what is said now."""
    old, new = read_catalogue(code), read_catalogue(code)
    for message in list(new):
        new.delete(message.id)
    for text in messages():
        new.add(text, old[text].string if old.get(text) else "")
    _file(code).parent.mkdir(parents=True, exist_ok=True)
    with _file(code).open("wb") as file:
        write_po(file, new, width=120, omit_header=False)


def compile_catalogue(code: str) -> None:
    """Write what the program reads."""
    with _file(code).with_suffix(".mo").open("wb") as file:
        write_mo(file, read_catalogue(code))


def main() -> int:
    """Do what is asked for every language but English; 1 when a language lacks texts."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--update", action="store_true")
    asked.add_argument("--compile", action="store_true")
    arguments = asked.parse_args()
    missing = 0
    for language in LANGUAGES:
        if language.code == ENGLISH_CODE:
            continue
        if arguments.update:
            update(language.code)
        if arguments.compile:
            compile_catalogue(language.code)
        own = lacking(language.code)
        missing += len(own)
        print(f"{language.code}: {len(messages())} texts, {len(own)} lacking")
    return 1 if missing else 0


if __name__ == "__main__":
    sys.exit(main())
