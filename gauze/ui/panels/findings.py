"""All findings: what fails or is doubtful first and whole, what is good folded into one line."""

from collections.abc import Sequence

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QProgressBar,
    QScrollArea,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gauze.core.evaluate import Finding, Fix, State, verdict_of
from gauze.core.words import Reader
from gauze.ui.dimming import dim, is_dimmed
from gauze.ui.panels.finding_view import STATE_WORDS, FindingView, state_pixmap
from gauze.ui.text import tr
from gauze.ui.theme import Theme, icon

__all__ = ["STATE_WORDS", "FindingView", "FindingsPanel"]

_WEIGHT = {State.FAILS: 0, State.WATCH: 1, State.GOOD: 2, State.NOTE: 3}
_LEAST_LIST = 40  # pixels
_LONG = 0.8  # of the room for the list: a finding that takes more is shown in part
_FOLDED = (State.GOOD, State.NOTE)


def fold_words(findings: Sequence[Finding]) -> str:
    """Say in one line how many findings are good, and how many are notes."""
    good, notes = (sum(finding.state is state for finding in findings) for state in _FOLDED)
    parts = [tr("{count} good").format(count=good)] if good else []
    if notes:
        parts.append(tr("1 note") if notes == 1 else tr("{count} notes").format(count=notes))
    return ", ".join(parts)


class FindingsPanel(QWidget):
    """Findings in the order in which they ask for something, those of the place in hand first among equals."""

    fix_chosen = pyqtSignal(object)  # Fix
    search_stopped = pyqtSignal()
    needs_changed = pyqtSignal()  # how much room the findings want

    def __init__(self, theme: Theme, reader: Reader) -> None:
        super().__init__()
        self._theme, self._reader = theme, reader
        self._place = "soften"
        self._views: dict[str, FindingView] = {}
        self._findings: tuple[Finding, ...] = ()
        self._shape, self._verdict = QLabel(), QLabel(tr("Findings"))
        self._progress = QProgressBar()
        self._progress.setRange(0, 100)
        self._progress.setTextVisible(False)
        self._progress.setAccessibleName(tr("Search for fixes"))
        self._progress.setToolTip(tr("Searching for fixes …"))
        self._stop = QToolButton()
        self._stop.setText(tr("Stop"))
        self._stop.setToolTip(tr("Stop the search for fixes"))
        self._stop.setObjectName("why")
        self._stop.clicked.connect(self.search_stopped)
        self._fold = QToolButton()
        self._fold.setObjectName("why")
        self._fold.setCheckable(True)
        self._fold.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        self._fold.toggled.connect(lambda _unfolded: self.show_findings(self._findings))
        self._list = QVBoxLayout()
        self._list.setContentsMargins(0, 0, 0, 0)
        self._list.setSpacing(0)
        self._list.addWidget(self._fold)
        self._list.addStretch(1)
        self._stale: bool | None = None
        self._inside = QWidget()
        self._inside.setLayout(self._list)
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._scroll.setWidget(self._inside)
        self._more = QToolButton()
        self._more.setObjectName("why")
        self._more.clicked.connect(self._scroll_on)
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.timeout.connect(self._cut_between)
        bar = self._scroll.verticalScrollBar()
        assert bar is not None
        self._bar = bar
        bar.valueChanged.connect(lambda _value: self._settle.start(0))
        bar.rangeChanged.connect(lambda _low, _high: self._settle.start(0))
        self._lay_out()
        self.show_progress(None)

    def _lay_out(self) -> None:
        self._verdict.setObjectName("verdict")
        self._verdict.setWordWrap(True)  # a long one must not widen the panel, and the drawing give way
        self._verdict.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        head = QHBoxLayout()
        head.setContentsMargins(12, 8, 10, 4)
        head.setSpacing(6)
        head.addWidget(self._shape)
        head.addWidget(self._verdict, 1)
        head.addWidget(self._stop)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(head)
        column.addWidget(self._progress)
        column.addWidget(self._scroll, 1000)
        column.addWidget(self._more, 0, Qt.AlignmentFlag.AlignHCenter)
        column.addStretch(1)
        self._scroll.setMinimumHeight(_LEAST_LIST)
        for widget in (self._progress, self._stop, self._more):  # the list stays where it is as they come and go
            policy = widget.sizePolicy()
            policy.setRetainSizeWhenHidden(True)
            widget.setSizePolicy(policy)

    def set_look(self, theme: Theme, reader: Reader) -> None:
        """Take another theme or reader."""
        self._theme, self._reader = theme, reader
        self.show_findings(self._findings)

    def set_place(self, place: str) -> None:
        """Put the findings of a place first among those of a state."""
        self._place = place
        self.show_findings(self._findings)

    def show_findings(self, findings: Sequence[Finding]) -> None:
        """Show findings in place of the former ones; a view is kept for its code."""
        self._findings = tuple(findings)
        self._stale = None  # there may be views that have not been dimmed
        for code in set(self._views) - {finding.code for finding in findings}:
            view = self._views.pop(code)
            self._list.removeWidget(view)
            view.deleteLater()
        order = sorted(findings, key=lambda finding: (_WEIGHT[finding.state], finding.place != self._place))
        asking = sum(finding.state not in _FOLDED for finding in order)
        unfolded = self._fold.isChecked()
        for index, finding in enumerate(order):
            if finding.code not in self._views:
                view = FindingView(self._theme, self._reader)
                view.fix_chosen.connect(self.fix_chosen)
                self._views[finding.code] = view
            view = self._views[finding.code]
            view.show_finding(finding, self._theme, self._reader)
            if not finding.fixable:
                view.show_fixes(())
            place = index if index < asking else index + 1  # after the line that folds them
            if self._list.indexOf(view) != place:
                self._list.insertWidget(place, view)
            view.setVisible(unfolded or finding.state not in _FOLDED)
        self._show_verdict()
        self._list.insertWidget(asking, self._fold)
        self._show_fold([finding for finding in findings if finding.state in _FOLDED], unfolded=unfolded)
        self._settle.start(0)
        self.needs_changed.emit()

    def _show_verdict(self) -> None:
        """Summarise all findings above them, by shape and words; nothing yet while there are none."""
        self._shape.setVisible(bool(self._findings))
        if not self._findings:
            self._verdict.setText(tr("Findings"))
            return
        verdict = verdict_of(self._findings)
        self._verdict.setText(self._reader.read(verdict.sentence))
        self._shape.setPixmap(state_pixmap(verdict.state, self._theme))

    def _show_fold(self, folded: Sequence[Finding], *, unfolded: bool) -> None:
        self._fold.setVisible(bool(folded))
        self._fold.setText(fold_words(folded))
        self._fold.setIcon(icon("chevron-down" if unfolded else "chevron-right", self._theme, "dim"))
        self._fold.setToolTip(tr("Hide what is good") if unfolded else tr("Show what is good"))

    def wanted_height(self) -> int:
        """Height at which nothing has to be scrolled."""
        return self._inside.sizeHint().height() + self.height() - self._scroll.height() if self._findings else 0

    def least_height(self) -> int:
        """Height at which the first finding is shown whole, with its fixes."""
        shown = [view for view in self._views.values() if view.isVisibleTo(self._inside)]
        if not shown:
            return 0
        first = min(shown, key=self._list.indexOf)
        return self._scroll.y() + max(first.sizeHint().height(), first.height()) + self._more.sizeHint().height() + 2

    # -- no text is cut through at the lower edge ------------------------------------------------------------------

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802 - Qt's name
        """End the list between two findings again."""
        super().resizeEvent(event)
        self._settle.start(0)

    def _cut_between(self) -> None:
        """Let the list end between two findings, except for one that is too long to fit, and say how many more there are."""
        room = self.height() - self._scroll.y() - self._more.sizeHint().height()
        top = self._bar.value()
        shown = [view for view in (*self._views.values(), self._fold) if view.isVisibleTo(self._inside)]
        edges = sorted(view.y() + view.height() for view in shown)
        cut = next((view for view in shown if view.y() < top + room < view.y() + view.height()), None)
        below = [edge for edge in edges if edge - top > room]
        whole = [edge for edge in edges if 0 < edge - top <= room]
        wanted = room if not below or not whole else whole[-1] - top
        if cut is not None and cut.height() > _LONG * room:
            wanted = room  # one unfolded with its working: better a part of it than an empty panel
        self._scroll.setMaximumHeight(max(wanted, _LEAST_LIST))
        self._more.setVisible(bool(below) and bool(whole))
        self._more.setText(tr("{count} more").format(count=len(below)))
        self._more.setIcon(icon("chevron-down", self._theme, "dim"))
        self._more.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)

    def _scroll_on(self) -> None:
        """Show what comes after the last finding that is shown."""
        self._bar.setValue(self._bar.value() + self._scroll.height())

    def set_stale(self, *, stale: bool) -> None:
        """Dim the findings as long as they are not those of the design as it stands; nothing of them moves for it."""
        if stale != self._stale:  # a hand that drags says so at every step
            self._stale = stale
            dim(self._inside, dimmed=stale)

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
            self.needs_changed.emit()

    def show_progress(self, share: float | None) -> None:
        """Show how far the search is; None when there is none."""
        running = share is not None and share < 1.0
        self._progress.setVisible(running)
        self._stop.setVisible(running)
        if share is not None:
            self._progress.setValue(round(100 * share))
