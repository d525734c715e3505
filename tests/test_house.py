"""The one rule of the house, and that the project speaks of the project alone."""

import pkgutil
import re
import subprocess
import sys
from pathlib import Path

import gauze

ROOT = Path(gauze.__file__).parents[1]


def test_core_session_and_command_line_load_no_qt() -> None:
    names = [
        module.name
        for package in ("gauze.core", "gauze.session", "gauze.cli", "gauze.demo")
        for module in pkgutil.walk_packages(__import__(package, fromlist=["x"]).__path__, package + ".")
    ]
    assert len(names) > 50
    program = "import importlib, sys\n" + "\n".join(f"importlib.import_module({name!r})" for name in names)
    program += (
        "\nprint([name for name in sys.modules if name.split('.')[0] in {'PyQt6', 'PyQt5', 'PySide6', 'pyqtgraph'}])"
    )
    result = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=True)
    assert result.stdout.strip() == "[]"


def test_the_window_starts_without_what_only_solvers_and_files_need() -> None:
    """It costs the window's process half a second and 40 MB, and what needs it runs in the solver's."""
    heavy = ("scipy", "reportlab", "ezdxf")
    program = (
        f"import sys, gauze.ui.application\nprint([name for name in sys.modules if name.split('.')[0] in {heavy}])"
    )
    result = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=True)
    assert result.stdout.strip() == "[]"


def test_lock_files_name_no_registry_and_pin_with_hashes() -> None:
    for name in ("requirements.lock", "requirements-dev.lock"):
        text = (ROOT / name).read_text()
        assert "://" not in text
        assert "index" not in text.replace("--hash", "")
        pins = re.findall(r"^[a-z0-9-]+==", text, flags=re.MULTILINE)
        assert len(pins) == text.count("==")
        assert text.count("--hash=sha256:") >= len(pins)


def test_the_readme_names_the_two_commands_and_shows_a_picture() -> None:
    text = (ROOT / "README.md").read_text("utf-8")
    assert "./run demo" in text
    assert "./run test" in text
    for picture in re.findall(r"\]\((docs/[^)]+\.png)\)", text):
        assert (ROOT / picture).is_file(), picture
    assert len(re.findall(r"\.png\)", text)) >= 1
