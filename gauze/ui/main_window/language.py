"""The menu of languages: the window is made in one, so that another holds from the next start."""

from collections.abc import Callable

from PyQt6.QtGui import QAction, QActionGroup

from gauze.core.words.languages import LANGUAGES
from gauze.ui.text import tr
from gauze.ui.workbench import Workbench


def fill_languages(action: QAction, bench: Workbench, tell: Callable[[str, str], None]) -> None:
    """Offer every language, each under its own name, and say when the choice takes effect."""
    menu = action.menu()
    assert menu is not None
    group = QActionGroup(menu)
    for language in LANGUAGES:
        name = tr("{language} (translated by a machine)") if language.machine_made else "{language}"
        own = QAction(name.format(language=language.name), group)
        own.setCheckable(True)
        own.setChecked(bench.settings.language == language.code)
        own.triggered.connect(lambda _checked, code=language.code: _choose(code, bench, tell))
        menu.addAction(own)


def _choose(code: str, bench: Workbench, tell: Callable[[str, str], None]) -> None:
    if code != bench.settings.language:
        bench.change_settings(language=code)
        tell(tr("The language is chosen"), tr("The window speaks it from the next start of Gauze on."))
