"""The languages that there are translations into: message catalogues of the gettext kind, one folder each."""

import gettext
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from gauze.core.words.reader import as_written

LOCALE = Path(__file__).parents[2] / "locale"
DOMAIN = "gauze"


@dataclass(frozen=True)
class Language:
    """A language by its code (ISO 639-1), its name in itself, and whether its translation was made by a machine."""

    code: str
    name: str
    machine_made: bool = False


ENGLISH_CODE = "en"
LANGUAGES = (Language(ENGLISH_CODE, "English"), Language("de", "Deutsch", machine_made=True))


def translation(code: str) -> Callable[[str], str]:
    """Return the translation into a language; a text that it lacks, and any text for an unknown language, stays English."""
    if code not in {language.code for language in LANGUAGES} - {ENGLISH_CODE}:
        return as_written
    catalogue = gettext.translation(DOMAIN, LOCALE, [code], fallback=True)
    return lambda text: catalogue.gettext(text) if text else text  # the empty text stands for the catalogue's header
