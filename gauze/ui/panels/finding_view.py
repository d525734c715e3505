"""One finding: a sentence with a number, its state by shape and word, Why, and fixes in one click."""

from collections.abc import Sequence
from dataclasses import replace

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
)

from gauze.core.evaluate import Finding, Fix, State
from gauze.core.words import Reader
from gauze.ui.message import plain_button
from gauze.ui.text import tr
from gauze.ui.theme import Theme, icon
from gauze.ui.theme.theme import icon_pixmap

_SHAPES = {
    State.GOOD: ("circle-check", "good"),
    State.NOTE: ("info", "note"),
    State.WATCH: ("triangle-alert", "watch"),
    State.FAILS: ("octagon-x", "fails"),
}
STATE_WORDS = {State.GOOD: "good", State.NOTE: "note", State.WATCH: "check", State.FAILS: "fails"}


def state_pixmap(state: State, theme: Theme) -> QPixmap:
    """Draw the shape of a state in its colour."""
    shape, role = _SHAPES[state]
    return icon_pixmap(shape, getattr(theme, role), 16, 2.0)


class FindingView(QFrame):
    """One finding."""

    fix_chosen = pyqtSignal(object)  # Fix

    def __init__(self, theme: Theme, reader: Reader) -> None:
        super().__init__()
        self.setObjectName("finding")
        self._theme, self._reader = theme, reader
        self._finding: Finding | None = None
        self._shape, self._word = QLabel(), QLabel()
        self._word.setObjectName("dim")
        self._sentence = QLabel()
        self._sentence.setWordWrap(True)
        self._sentence.setTextFormat(Qt.TextFormat.PlainText)  # a sheet's name may look like markup
        self._sentence.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self._why = QToolButton()
        self._why.setObjectName("why")
        self._why.setText(tr("Why"))
        self._why.setCheckable(True)
        self._why.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        self._why.toggled.connect(self._show_working)
        self._working = QLabel()
        self._working.setWordWrap(True)
        self._working.setTextFormat(Qt.TextFormat.RichText)
        self._working.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self._working.hide()
        self._fixes = QVBoxLayout()
        self._fixes.setSpacing(4)
        self._shown_fixes: tuple[Fix, ...] = ()
        self._lay_out()

    def _lay_out(self) -> None:
        head = QHBoxLayout()
        head.setSpacing(6)
        head.addWidget(self._shape)
        head.addWidget(self._word)
        head.addStretch(1)
        head.addWidget(self._why)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 7, 10, 9)
        column.setSpacing(3)
        column.addLayout(head)
        column.addWidget(self._sentence)
        column.addLayout(self._fixes)
        column.addWidget(self._working)

    def show_finding(self, finding: Finding, theme: Theme, reader: Reader) -> None:
        """Show a finding; what is unfolded stays so. How its figures were got is worked out for one that is unfolded only."""
        known = self._finding is not None and _summary(self._finding) == _summary(finding)
        if known and theme is self._theme and reader == self._reader:
            self._finding = finding
            if self._why.isChecked():
                self._show_working(True)
            return
        if reader != self._reader:
            self._shown_fixes, fixes = (), self._shown_fixes
            self._reader = reader
            self.show_fixes(fixes)
        self._finding, self._theme = finding, theme
        sentence = reader.read(finding.sentence)
        self._shape.setPixmap(state_pixmap(finding.state, theme))
        colour = getattr(theme, _SHAPES[finding.state][1])
        self._word.setText(tr(STATE_WORDS[finding.state]))
        self._word.setStyleSheet(f"color: {colour};")
        self._sentence.setText(sentence)
        self.setAccessibleName(f"{tr(STATE_WORDS[finding.state])}: {sentence}")
        self._why.setAccessibleName(tr("Why: {sentence}").format(sentence=sentence))
        self._show_working(self._why.isChecked())

    def show_fixes(self, fixes: Sequence[Fix]) -> None:
        """Offer fixes."""
        if tuple(fixes) == self._shown_fixes:
            return
        self._shown_fixes = tuple(fixes)
        while (item := self._fixes.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        for fix in fixes:
            title, cost = self._reader.read(fix.title), self._reader.read(fix.cost)
            button = QPushButton(plain_button(f"{title}\n{cost}"))
            button.setObjectName("fix")
            button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            button.setIcon(icon("wand-sparkles", self._theme, "accent"))
            button.setToolTip(tr("Apply; one undo takes it back"))
            button.setAccessibleName(tr("Fix: {title}, {cost}").format(title=title, cost=cost))
            button.clicked.connect(lambda _checked, chosen=fix: self.fix_chosen.emit(chosen))
            self._fixes.addWidget(button)

    def _show_working(self, shown: bool) -> None:
        self._why.setIcon(icon("chevron-down" if shown else "chevron-right", self._theme, "dim"))
        self._working.setVisible(shown)
        if shown and self._finding is not None:
            self._working.setText(_working_html(self._finding, self._theme, self._reader))


def _summary(finding: Finding) -> Finding:
    """A finding without its figures, which are made when they are first read."""
    return replace(finding, figures=())


def _working_html(finding: Finding, theme: Theme, reader: Reader) -> str:
    lines = []
    read = reader.read
    for figure in finding.figures:
        tail = "; ".join(read(part) for part in (figure.how, figure.source) if part)
        lines.append(
            f"<p style='margin:5px 0 0 0'><b>{_escaped(read(figure.name))}</b>&nbsp; {_escaped(read(figure.value))}"
            + (f"<br><span style='color:{theme.dim}'>{_escaped(tail)}</span>" if tail else "")
            + "</p>"
        )
    opening = f"<p style='margin:7px 0 0 0; color:{theme.watch}'><b>{tr('Caution')}</b>&nbsp; "
    lines += [f"{opening}{_escaped(tr(caution.value))}</p>" for caution in finding.cautions]
    return "".join(lines)


def _escaped(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;")
