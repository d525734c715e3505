"""The small inputs: what they show, and the room that they take."""

import pytest
from PyQt6.QtWidgets import QApplication, QLabel, QLineEdit
from pytestqt.qtbot import QtBot

from gauze.ui.panels.fields import ChoiceBox, Form
from gauze.ui.theme import apply_theme, theme_named


@pytest.mark.parametrize("name", ["dark", "light"])
def test_a_choice_has_an_arrow_that_is_seen_and_tells_all_its_words(qtbot: QtBot, name: str) -> None:
    application = QApplication.instance()
    assert isinstance(application, QApplication)
    apply_theme(application, theme_named(name))
    box = ChoiceBox()
    qtbot.addWidget(box)
    box.addItem("one that is far too long for the room that it has")
    box.resize(90, 26)
    box.show()
    image = box.grab().toImage()
    shades = [image.pixelColor(x, y).lightness() for x in range(90 - 15, 90 - 7) for y in range(9, 18)]
    ground = image.pixelColor(90 - 5, 13).lightness()
    assert max(abs(shade - ground) for shade in shades) > 60
    assert box.toolTip() == box.currentText()


def test_a_long_label_takes_two_lines_and_leaves_its_input_room(qtbot: QtBot) -> None:
    form = Form()
    qtbot.addWidget(form)
    short, long = QLineEdit(), QLineEdit()
    form.add("Sides", short)
    form.add("The strip stops before a corner of the frame by", long)
    form.resize(260, 120)
    form.show()
    labels = {label.text()[:5]: label for label in form.findChildren(QLabel)}
    assert labels["The s"].height() > 1.5 * labels["Sides"].fontMetrics().height()
    assert long.width() == short.width() > 120
