"""How it looks, as far as a test can tell: contrast, names, fonts, and that light is where it should be."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QFontDatabase, QFontMetrics, QImage, QRawFont
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractSlider,
    QApplication,
    QComboBox,
    QLabel,
    QLineEdit,
    QScrollBar,
    QSplitterHandle,
    QTableWidget,
    QVBoxLayout,
    QWidget,
)
from pytestqt.qtbot import QtBot

from gauze.core.evaluate import State
from gauze.core.families import lay_out
from gauze.core.formats import pdf_text
from gauze.ui.canvas.hand.hand import grips_of
from gauze.ui.canvas.paint.dots import dots_of
from gauze.ui.canvas.paint.shapes import to_qimage
from gauze.ui.dimming import dim, is_dimmed
from gauze.ui.main_window import MainWindow
from gauze.ui.main_window.actions import action_rows, shortcut_rows
from gauze.ui.panels.findings import FindingView
from gauze.ui.subjects import SUBJECTS
from gauze.ui.theme import Theme, apply_theme, theme_named
from gauze.ui.theme import theme as theme_module
from gauze.ui.theme.theme import FAMILIES, app_font, icon_pixmap, load_fonts
from tests.builders import CATALOGUE, design, warm_and_cool

Open = Callable[..., MainWindow]
THEMES = [theme_named("dark"), theme_named("light")]


def luminance(colour: str) -> float:
    """Relative luminance as WCAG 2.2 defines it."""
    channels = [QColor(colour).redF(), QColor(colour).greenF(), QColor(colour).blueF()]
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in channels]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(one: str, other: str) -> float:
    """Contrast ratio as WCAG 2.2 defines it."""
    bright, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (bright + 0.05) / (dark + 0.05)


@pytest.mark.parametrize("theme", THEMES, ids=lambda theme: theme.name)
def test_text_can_be_read_on_every_ground(theme: Theme) -> None:
    """WCAG 2.2, 1.4.3: 4.5 to 1 for text; 1.4.11: 3 to 1 for what only has to be made out."""
    for ground in ("window", "panel", "raised"):
        for role in ("text", "dim", "good", "note", "watch", "fails", "accent"):
            assert contrast(getattr(theme, role), getattr(theme, ground)) >= 4.5, (role, ground)
    assert contrast(theme.ink, theme.paper) >= 4.5
    assert contrast(theme.ink_dim, theme.paper) >= 3.0
    assert contrast(theme.on_accent, theme.accent) >= 4.5


def test_shipped_fonts_carry_every_sign_in_use(qapp: object) -> None:
    assert qapp is not None
    load_fonts()
    assert set(FAMILIES) <= set(QFontDatabase.families())
    metrics = QFontMetrics(app_font())
    folders = [Path(module.__file__).parent / "fonts" for module in (theme_module, pdf_text)]
    files = [path for folder in folders for path in folder.iterdir() if path.suffix != ".txt"]
    fonts = [QRawFont(str(path), 12.0) for path in files]
    assert len(fonts) == 4
    assert all(font.isValid() for font in fonts)
    for sign in "Δ′²°×→−±√τρ₁₂…“”½é·":
        assert any(font.supportsCharacter(sign) for font in fonts), sign
    assert not any(font.supportsCharacter("\u4e00") for font in fonts)  # one that none has is found to be missing
    digits = {metrics.horizontalAdvance(digit) for digit in "0123456789"}
    assert len(digits) == 1  # tabular figures


def test_every_icon_is_shipped_and_drawn_whole(qapp: object) -> None:
    assert qapp is not None
    for row in action_rows(SUBJECTS):
        if row.icon:
            for scale in (1.0, 2.0):
                image = icon_pixmap(row.icon, "#ffffff", 18, scale).toImage()
                rows, columns = np.nonzero(alpha(image))
                side = 18 * scale
                assert rows.max() - rows.min() > 0.55 * side, row.icon  # not a clipped corner
                assert columns.max() - columns.min() > 0.5 * side, row.icon


def alpha(image: QImage) -> np.ndarray:
    converted = image.convertToFormat(QImage.Format.Format_ARGB32)
    bits = converted.constBits()
    bits.setsize(converted.sizeInBytes())
    return np.frombuffer(bits, np.uint8).reshape(converted.height(), converted.width(), 4)[..., 3].copy()


def pixels(widget: QWidget) -> np.ndarray:
    """Red, green and blue of a widget's picture, shape (rows, columns, 3)."""
    image = widget.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
    bits = image.constBits()
    bits.setsize(image.sizeInBytes())
    return (
        np.frombuffer(bits, np.uint8).reshape(image.height(), image.width(), 4)[..., 2::-1].astype(int)
    )  # a copy: the image goes


def test_everything_that_can_be_operated_has_a_name(open_window: Open) -> None:
    window = open_window()
    kinds = (QAbstractButton, QAbstractSlider, QLineEdit, QComboBox)
    for widget in window.findChildren(QWidget):
        if not isinstance(widget, kinds) or isinstance(widget, QScrollBar | QSplitterHandle):
            continue
        if widget.objectName().startswith("qt_") or isinstance(widget.parent(), QComboBox):
            continue
        text = widget.text() if isinstance(widget, QAbstractButton | QLineEdit) else ""
        name = widget.accessibleName() or text or widget.toolTip() or getattr(widget, "placeholderText", str)()
        is_closed_editor = type(widget).__name__ == "InlineEditor"  # takes its name when it opens
        assert name or is_closed_editor, type(widget).__name__
    assert window.drawing.accessibleName()
    assert "Depth" in window.drawing.accessibleDescription()


def test_the_lit_face_is_on_one_side_of_the_seam_and_the_bare_strips_on_the_other(open_window: Open) -> None:
    window = open_window(design(depth_mm=60.0))
    canvas = window.drawing
    canvas.set_state(replace(canvas.state, seam_share=0.5))
    seam = grips_of(canvas)["seam"]
    middle, top = int(seam.x + seam.width / 2), int(seam.bottom)
    picture = pixels(canvas)
    lit, bare = (
        picture[top + 60 : top + 260, middle + 40 : middle + 160],
        picture[top + 60 : top + 260, middle - 160 : middle - 40],
    )
    assert lit.mean() > bare.mean() + 20
    assert lit.std() < bare.std()  # an even glow beside strips on their back
    canvas.set_state(replace(canvas.state, seam_share=1.0))
    assert pixels(canvas)[top + 60 : top + 260, middle + 40 : middle + 160].mean() < lit.mean() - 20


def test_exposure_room_light_and_false_colour_change_the_face(open_window: Open) -> None:
    window = open_window(design(depth_mm=60.0))
    canvas = window.drawing
    seam = grips_of(canvas)["seam"]
    place = (
        slice(int(seam.bottom) + 60, int(seam.bottom) + 200),
        slice(int(seam.x) + 60, int(seam.x) + 200),
    )
    usual = pixels(canvas)[place]
    canvas.set_state(replace(canvas.state, exposure_stops=-2.0))
    assert pixels(canvas)[place].mean() < usual.mean() - 40
    canvas.set_state(replace(canvas.state, exposure_stops=0.0, false_colour=True))
    coloured = pixels(canvas)[place].reshape(-1, 3).mean(axis=0)
    assert coloured[0] - coloured[2] > 60  # the bright end of the scale is yellow
    canvas.set_state(replace(canvas.state, false_colour=False, seam_share=0.0))
    assert np.abs(pixels(canvas)[place].mean() - usual.mean()) < 3


def test_states_are_told_by_shape_and_word_as_well_as_colour(open_window: Open) -> None:
    window = open_window(design({"wanted_luminance_cd_m2": 2600.0}))
    seen: dict[State, tuple[bytes, str]] = {}
    for view in window.findings.findChildren(FindingView):
        shape = alpha(view._shape.pixmap().toImage()).tobytes()
        seen[view._finding.state] = (shape, view._word.text())
        assert view.accessibleName().startswith(view._word.text())
    assert len(seen) >= 3
    assert len({shape for shape, _ in seen.values()}) == len(seen)
    assert len({word for _, word in seen.values()}) == len(seen)


def test_packages_have_the_colour_of_their_light() -> None:
    unit = lay_out(design(strips=warm_and_cool()), CATALOGUE).cavity
    dots = dots_of(unit)
    assert unit.channel is not None
    warm, cool = (dots.colours[unit.channel == index][0].astype(int) for index in (0, 1))
    assert warm[0] > warm[2]
    assert cool[2] > warm[2]
    dark = dots_of(replace(unit, flux_lm=unit.flux_lm * 0)).colours
    assert len(np.unique(dark)) == 1


def test_pictures_keep_their_pixels() -> None:
    picture = np.zeros((2, 3, 3), np.uint8)
    picture[0, 2] = (10, 20, 30)
    colour = to_qimage(picture).pixelColor(2, 0)
    assert (colour.red(), colour.green(), colour.blue()) == (10, 20, 30)


def test_the_window_fits_a_small_screen_and_grows(open_window: Open) -> None:
    window = open_window()
    assert window.minimumSizeHint().width() <= 1280
    assert window.minimumSizeHint().height() <= 800
    for place in ("aim", "lay", "soften", "feed"):
        window.go_to(place)
        assert window.minimumSizeHint().width() <= 1280
    window.resize(2400, 1500)
    assert window.drawing.width() > 1800
    assert window.drawing.cursor().shape() == Qt.CursorShape.ArrowCursor


def test_the_page_of_keys_lists_every_shortcut() -> None:
    assert len(shortcut_rows(tuple(action_rows(SUBJECTS)))) == sum(1 for row in action_rows(SUBJECTS) if row.shortcut)
    assert all("&" not in text for text, _ in shortcut_rows(tuple(action_rows(SUBJECTS))))


def test_what_is_dimmed_in_a_light_window_stays_light(qtbot: QtBot) -> None:
    """A table behind which Qt would leave black: in it, by itself, and beside words."""
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    apply_theme(app, theme_named("light"))
    box = QWidget()
    column = QVBoxLayout(box)
    table = QTableWidget(2, 1)
    words = QLabel("words")
    for widget in (table, words, QComboBox()):
        column.addWidget(widget)
    qtbot.addWidget(box)
    box.resize(300, 200)
    box.show()
    dim(box, dimmed=True)
    assert is_dimmed(box)
    assert is_dimmed(words)
    middle = table.geometry().center()
    assert box.grab().toImage().pixelColor(middle).lightnessF() > 0.8
    dim(box, dimmed=False)
    assert not is_dimmed(box)
    assert not is_dimmed(table)
