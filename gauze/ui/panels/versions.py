"""The versions of a design: what is kept, what differs from it, and which findings changed."""

from collections.abc import Sequence
from html import escape
from typing import Any

import msgspec
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QToolButton, QVBoxLayout, QWidget

from gauze.core.design.differences import Difference
from gauze.core.evaluate.comparison import FindingChange
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.core.words import ENGLISH, Reader
from gauze.ui.panels.fields import ChoiceBox
from gauze.ui.panels.findings import STATE_WORDS
from gauze.ui.text import spoken, tr
from gauze.ui.theme import Theme, icon

_HEIGHT = 236
_MOST_SHOWN = 40


class VersionsPanel(QWidget):
    """Stands below the drawing, whose seam shows the kept version on its left."""

    keep_wanted = pyqtSignal()
    chosen = pyqtSignal(int)
    take_up_wanted = pyqtSignal(int)
    forget_wanted = pyqtSignal(int)
    closed = pyqtSignal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("tray")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(_HEIGHT)
        title = QLabel(tr("Versions: compare this design with"))
        title.setObjectName("heading")
        self.versions = ChoiceBox()
        self.versions.setAccessibleName(tr("Kept version"))
        self.versions.activated.connect(self.chosen)
        keep = QPushButton(tr("Keep this version"))
        keep.setToolTip(tr("Keep the design as it is now, and go on from it (Ctrl+K)"))
        keep.clicked.connect(self.keep_wanted)
        self._take = QPushButton(tr("Restore"))
        self._take.setToolTip(tr("Swap: continue from the kept version and keep this one"))
        self._take.clicked.connect(lambda: self.take_up_wanted.emit(self.versions.currentIndex()))
        self._forget = QPushButton(tr("Delete"))
        self._forget.clicked.connect(lambda: self.forget_wanted.emit(self.versions.currentIndex()))
        self._close = QToolButton()
        self._close.setAutoRaise(True)
        self._close.setToolTip(tr("Close the versions (Esc)"))
        self._close.setAccessibleName(tr("Close the versions"))
        self._close.setShortcut("Esc")
        self._close.clicked.connect(self.closed)
        head = QHBoxLayout()
        head.setContentsMargins(12, 6, 8, 2)
        for widget in (title, self.versions, keep, self._take, self._forget):
            head.addWidget(widget)
        head.addStretch(1)
        head.addWidget(self._close)
        self._differences, self._findings = QLabel(), QLabel()
        tables = QHBoxLayout()
        tables.setContentsMargins(12, 0, 12, 6)
        tables.setSpacing(12)
        for label, share in ((self._differences, 3), (self._findings, 4)):
            label.setTextFormat(Qt.TextFormat.RichText)
            label.setWordWrap(True)
            label.setAlignment(Qt.AlignmentFlag.AlignTop)
            label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
            scroll = QScrollArea()
            scroll.setWidgetResizable(True)
            scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
            scroll.setWidget(label)
            tables.addWidget(scroll, share)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addLayout(head)
        column.addLayout(tables, 1)
        self.set_theme(theme)
        self.hide()

    def set_theme(self, theme: Theme) -> None:
        """Take the icons of a theme."""
        self._theme = theme
        self._close.setIcon(icon("x", theme))

    def show_versions(self, names: Sequence[str], current: int) -> None:
        """List the kept versions."""
        self.versions.clear()
        self.versions.addItems(list(names))
        self.versions.setCurrentIndex(current)
        for widget in (self.versions, self._take, self._forget):
            widget.setEnabled(bool(names))
        if not names:
            self._differences.setText(
                tr("Nothing is kept yet. Keep this version, change the design, and both are shown across the seam.")
            )
            self._findings.setText("")

    def show_differences(self, found: Sequence[Difference], unit: LengthUnit) -> None:
        """Show what differs."""
        rows = [
            f"<tr><td style='padding-right:12px'>{escape(spoken(one.words, unit))}</td>"
            f"<td style='padding-right:12px'>{escape(value_text(one.path, one.before, unit))}</td>"
            f"<td><b>{escape(value_text(one.path, one.after, unit))}</b></td></tr>"
            for one in found[:_MOST_SHOWN]
        ]
        head = f"<tr><td>{tr('What differs')}</td><td>{tr('kept')}</td><td>{tr('now')}</td></tr>"
        self._differences.setText(
            f"<table cellspacing=3>{head}{''.join(rows)}</table>" if rows else tr("Nothing differs yet.")
        )

    def show_changes(self, changes: Sequence[FindingChange] | None, reader: Reader = ENGLISH) -> None:
        """Show which findings changed; None while the kept version is being lit."""
        if changes is None:
            self._findings.setText(tr("The kept version is being lit …"))
            return
        rows = []
        for change in changes:
            words = [
                tr(STATE_WORDS[one.state]) if one is not None else tr("none") for one in (change.before, change.after)
            ]
            states = " → ".join(words) if change.state_changed else words[0]
            colour = "" if not change.state_changed or change.after is None else self._colour(change.after.state.value)
            before = escape(reader.read(change.before.sentence)) if change.before is not None else tr("not asked")
            after = escape(reader.read(change.after.sentence)) if change.after is not None else tr("not asked")
            rows.append(
                f"<tr><td style='padding-right:10px;{colour}'>{states}</td>"
                f"<td><span style='color:{self._theme.dim}'>{before}</span><br>{after}</td></tr>"
            )
        self._findings.setText(
            f"<table cellspacing=3>{''.join(rows)}</table>" if rows else tr("The findings say the same.")
        )

    def _colour(self, state: str) -> str:
        return f"color:{self._theme.colour(state).name()}"


def value_text(path: str, value: Any, unit: LengthUnit) -> str:
    """Write a choice as people read it."""
    if value is None:
        return tr("none")
    if isinstance(value, bool):
        return tr("yes") if value else tr("no")
    if isinstance(value, int | float):
        return format_length(value, unit) if path.rstrip("]0123456789[").endswith("_mm") else format_number(value, 5)
    if isinstance(value, msgspec.Struct):
        shown = [f"{name} {value_text(name, getattr(value, name), unit)}" for name in value.__struct_fields__]
        return ", ".join(shown[:4])
    if isinstance(value, tuple):
        return ", ".join(value_text(path, one, unit) for one in value[:4]) + (" …" if len(value) > 4 else "")
    return str(value)
