"""The findings: sentences with a number, their state by shape and word, Why, and fixes in one click."""

from collections.abc import Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLabel,
    QProgressBar,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gauze.core.evaluate import Finding, Fix, State
from gauze.ui.dimming import dim, is_dimmed
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


class FindingView(QFrame):
    """One finding."""

    fix_chosen = pyqtSignal(object)  # Fix

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("finding")
        self._theme = theme
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

    def show_finding(self, finding: Finding, theme: Theme) -> None:
        """Show a finding; what is unfolded stays so."""
        if finding == self._finding and theme is self._theme:
            return
        self._finding, self._theme = finding, theme
        shape, role = _SHAPES[finding.state]
        colour = getattr(theme, role)
        self._shape.setPixmap(icon_pixmap(shape, colour, 16, 2.0))
        self._word.setText(tr(STATE_WORDS[finding.state]))
        self._word.setStyleSheet(f"color: {colour};")
        self._sentence.setText(finding.sentence)
        self.setAccessibleName(f"{STATE_WORDS[finding.state]}: {finding.sentence}")
        self._why.setAccessibleName(tr("Why: {sentence}").format(sentence=finding.sentence))
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
            button = QPushButton(plain_button(f"{fix.title}\n{fix.cost}"))
            button.setObjectName("fix")
            button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            button.setIcon(icon("wand-sparkles", self._theme, "accent"))
            button.setToolTip(tr("Apply; one undo takes it back"))
            button.setAccessibleName(tr("Fix: {title}, {cost}").format(title=fix.title, cost=fix.cost))
            button.clicked.connect(lambda _checked, chosen=fix: self.fix_chosen.emit(chosen))
            self._fixes.addWidget(button)

    def _show_working(self, shown: bool) -> None:
        self._why.setIcon(icon("chevron-down" if shown else "chevron-right", self._theme, "dim"))
        self._working.setVisible(shown)
        if shown and self._finding is not None:
            self._working.setText(_working_html(self._finding, self._theme))


def _working_html(finding: Finding, theme: Theme) -> str:
    lines = []
    for figure in finding.figures:
        tail = "; ".join(part for part in (figure.how, figure.source) if part)
        lines.append(
            f"<p style='margin:5px 0 0 0'><b>{_escaped(figure.name)}</b>&nbsp; {_escaped(figure.value)}"
            + (f"<br><span style='color:{theme.dim}'>{_escaped(tail)}</span>" if tail else "")
            + "</p>"
        )
    opening = f"<p style='margin:7px 0 0 0; color:{theme.watch}'><b>{tr('Caution')}</b>&nbsp; "
    lines += [f"{opening}{_escaped(caution.value)}</p>" for caution in finding.cautions]
    return "".join(lines)


def _escaped(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;")


class FindingsPanel(QWidget):
    """All findings, those of the place in hand first, then by how much they matter."""

    fix_chosen = pyqtSignal(object)  # Fix
    search_stopped = pyqtSignal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._place = "soften"
        self._views: dict[str, FindingView] = {}
        self._findings: tuple[Finding, ...] = ()
        heading = QLabel(tr("Findings"))
        heading.setObjectName("heading")
        self._progress = QProgressBar()
        self._progress.setRange(0, 100)
        self._progress.setTextVisible(False)
        self._progress.setAccessibleName(tr("Search for fixes"))
        self._searching = QLabel(tr("Searching for fixes …"))
        self._searching.setObjectName("dim")
        self._updating = QLabel(tr("updating …"))
        self._updating.setObjectName("dim")
        self._updating.hide()
        self._stop = QToolButton()
        self._stop.setText(tr("Stop"))
        self._stop.setObjectName("why")
        self._stop.clicked.connect(self.search_stopped)
        self._list = QVBoxLayout()
        self._list.setContentsMargins(0, 0, 0, 0)
        self._list.setSpacing(0)
        self._list.addStretch(1)
        self._inside = inside = QWidget()
        inside.setLayout(self._list)
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._scroll.setWidget(inside)
        head = QHBoxLayout()
        head.setContentsMargins(12, 8, 10, 4)
        head.addWidget(heading)
        head.addStretch(1)
        head.addWidget(self._searching)
        head.addWidget(self._updating)
        head.addWidget(self._stop)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(head)
        column.addWidget(self._progress)
        column.addWidget(self._scroll, 1)
        for widget in (self._progress, self._stop):  # the list below stays where it is as they come and go
            policy = widget.sizePolicy()
            policy.setRetainSizeWhenHidden(True)
            widget.setSizePolicy(policy)
        self.show_progress(None)

    def set_theme(self, theme: Theme) -> None:
        """Take another theme."""
        self._theme = theme
        self.show_findings(self._findings)

    def set_place(self, place: str) -> None:
        """Put the findings of a place first."""
        self._place = place
        self.show_findings(self._findings)

    def show_findings(self, findings: Sequence[Finding]) -> None:
        """Show findings in place of the former ones; a view is kept for its code."""
        self._findings = tuple(findings)
        for code in set(self._views) - {finding.code for finding in findings}:
            view = self._views.pop(code)
            self._list.removeWidget(view)
            view.deleteLater()
        weight = {State.FAILS: 0, State.WATCH: 1, State.GOOD: 2, State.NOTE: 3}
        order = sorted(findings, key=lambda finding: (finding.place != self._place, weight[finding.state]))
        for index, finding in enumerate(order):
            if finding.code not in self._views:
                view = FindingView(self._theme)
                view.fix_chosen.connect(self.fix_chosen)
                self._views[finding.code] = view
            view = self._views[finding.code]
            view.show_finding(finding, self._theme)
            if not finding.fixable:
                view.show_fixes(())
            if self._list.indexOf(view) != index:
                self._list.insertWidget(index, view)

    def set_stale(self, *, stale: bool) -> None:
        """Dim the findings as long as they are not those of the design as it stands."""
        dim(self._inside, dimmed=stale)
        self._updating.setVisible(stale and not self._searching.isVisible())

    @property
    def stale(self) -> bool:
        """Whether what is shown is not of the design as it stands."""
        return is_dimmed(self._inside)

    def forget_fixes(self) -> None:
        """Take all offers away: the design has changed."""
        for view in self._views.values():
            view.show_fixes(())

    def show_fixes(self, code: str, fixes: Sequence[Fix]) -> None:
        """Offer fixes for one finding."""
        if code in self._views:
            self._views[code].show_fixes(fixes)

    def show_progress(self, share: float | None) -> None:
        """Show how far the search is; None when there is none."""
        running = share is not None and share < 1.0
        self._progress.setVisible(running)
        self._searching.setVisible(running)
        self._stop.setVisible(running)
        if share is not None:
            self._progress.setValue(round(100 * share))
