"""The panel on the right: findings over what is chosen at the place, and the divider between them."""

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QScrollArea, QSplitter, QStackedWidget

from gauze.ui.panels.findings import FindingsPanel

WIDTH = 326
_LEAST_SHARE, _MOST_SHARE = 0.2, 0.85  # of the height, for the findings
_QUIET_MS = 400  # after the last movement, until it is reported
_MOST_CHOICES = 0.56  # of the height that the choices take by themselves


class Side(QSplitter):
    """Gives both what they need as long as the divider was not moved; then it stays where it was put.

    ``share`` is that of the findings, None for what the contents ask for.
    """

    divided = pyqtSignal(float)  # share of the findings, put by hand

    def __init__(self, findings: FindingsPanel, places: QStackedWidget, share: float | None) -> None:
        super().__init__(Qt.Orientation.Vertical)
        self._findings, self._places, self._share = findings, places, share
        self._least = (
            0  # what the first finding took, the most since another place was shown: fixes come and go with each edit
        )
        picked = QScrollArea()
        picked.setWidgetResizable(True)
        picked.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        picked.setWidget(places)
        self.setObjectName("side")
        self.setChildrenCollapsible(False)
        self.addWidget(findings)
        self.addWidget(picked)
        self.setFixedWidth(WIDTH)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self._divide)
        self._told = QTimer(self)
        self._told.setSingleShot(True)
        self._told.timeout.connect(lambda: self.divided.emit(self._share))
        self.splitterMoved.connect(self._put)
        findings.needs_changed.connect(self.fit)

    def start_anew(self) -> None:
        """Divide for another place."""
        self._least = 0
        self.fit()

    def fit(self) -> None:
        """Divide again, once what is shown has been laid out."""
        self._later.start(0)

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802 - Qt's name
        """Keep the share of each."""
        super().resizeEvent(event)
        self.fit()

    def _divide(self) -> None:
        height = self.height() - self.handleWidth()
        if self._share is not None:
            upper = round(height * self._share)
        else:
            page = self._places.currentWidget()
            assert page is not None
            inner = WIDTH - 18
            tall = page.heightForWidth(inner) if page.hasHeightForWidth() else page.sizeHint().height()
            choices = max(tall, page.sizeHint().height()) + 6
            findings = self._findings.wanted_height()
            upper = findings if findings + choices <= height else height - min(choices, round(height * _MOST_CHOICES))
            self._least = max(self._least, self._findings.least_height())
            upper = max(upper, min(self._least, round(height * _MOST_SHARE)))
        self.setSizes([upper, height - upper])

    def _put(self, position: int, _index: int) -> None:
        share = position / max(self.height() - self.handleWidth(), 1)
        self._share = min(max(share, _LEAST_SHARE), _MOST_SHARE)
        self._told.start(_QUIET_MS)
