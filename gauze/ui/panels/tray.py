"""The tray: this very design through each candidate, ranked, with what each costs in lumens."""

from PyQt6.QtCore import QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QLabel, QScrollArea, QToolButton, QVBoxLayout, QWidget

from gauze.core.evaluate.candidates import Candidate
from gauze.core.formats.picture import face_picture
from gauze.core.units import LengthUnit, format_number
from gauze.core.units.length import format_distance
from gauze.ui.canvas.paint.shapes import to_qimage
from gauze.ui.message import plain_tip
from gauze.ui.text import tr
from gauze.ui.theme import Theme, icon

CARD_WIDTH, PICTURE_HEIGHT = 168, 78


class Card(QToolButton):
    """One candidate: the face through it, its name, from where dots show, what leaves."""

    def __init__(self, candidate_id: str) -> None:
        super().__init__()
        self.setObjectName("card")
        self.candidate_id = candidate_id
        self.candidate: Candidate | None = None
        self.setCheckable(True)
        self.setFixedSize(CARD_WIDTH, PICTURE_HEIGHT + 68)
        self._picture, self._name, self._figures = QLabel(), QLabel(), QLabel()
        self._picture.setFixedSize(CARD_WIDTH - 8, PICTURE_HEIGHT)
        self._name.setWordWrap(True)
        self._name.setTextFormat(Qt.TextFormat.PlainText)
        self._figures.setObjectName("dim")
        column = QVBoxLayout(self)
        column.setContentsMargins(4, 4, 4, 4)
        column.setSpacing(2)
        for label in (self._picture, self._name, self._figures):
            label.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
            column.addWidget(label)
        self._name.setAlignment(Qt.AlignmentFlag.AlignTop)
        column.setStretch(1, 1)

    def show_candidate(self, candidate: Candidate, unit: LengthUnit) -> None:
        """Show a lit candidate, or why it cannot be used."""
        self.candidate = candidate
        self._name.setText(candidate.name)
        evaluation = candidate.evaluation
        self.setEnabled(evaluation is not None)
        if evaluation is None:
            self._picture.clear()
            self._figures.setText(tr("does not fit here"))
            self.setToolTip(plain_tip(candidate.refusal))
            self.setAccessibleName(f"{candidate.name}: {candidate.refusal}")
            return
        image = to_qimage(face_picture(evaluation))
        ratio = self.devicePixelRatioF()
        size = QSize(int(self._picture.width() * ratio), int(self._picture.height() * ratio))
        scaled = image.scaled(
            size, Qt.AspectRatioMode.KeepAspectRatioByExpanding, Qt.TransformationMode.SmoothTransformation
        )
        left, top = (scaled.width() - size.width()) // 2, (scaled.height() - size.height()) // 2
        pixmap = QPixmap.fromImage(scaled.copy(left, top, size.width(), size.height()))
        pixmap.setDevicePixelRatio(ratio)
        self._picture.setPixmap(pixmap)
        distance = evaluation.dots.vanish_distance_mm
        shows = (
            tr("no dots")
            if distance == 0
            else tr("dots to {distance}").format(distance=format_distance(distance, unit))
        )
        flux = tr("{flux} lm").format(flux=format_number(evaluation.output.out_lm))
        self._figures.setText(f"{shows} · {flux}")
        self.setToolTip(plain_tip(f"{candidate.name}: {shows}, {flux}"))
        self.setAccessibleName(f"{candidate.name}: {shows}, {flux}")


class Tray(QWidget):
    """A row of cards; a click takes the candidate."""

    chosen = pyqtSignal(object)  # Candidate
    closed = pyqtSignal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("tray")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._title = QLabel()
        self._title.setObjectName("heading")
        self._close = QToolButton()
        self._close.setAutoRaise(True)
        self._close.setToolTip(tr("Close the tray (Esc)"))
        self._close.setAccessibleName(tr("Close the tray"))
        self._close.setShortcut("Esc")
        self._close.clicked.connect(self.closed)
        self._cards: dict[str, Card] = {}
        self._group = QButtonGroup(self)
        self._row = QHBoxLayout()
        self._row.setContentsMargins(12, 0, 12, 6)
        self._row.setSpacing(8)
        self._row.addStretch(1)
        inside = QWidget()
        inside.setLayout(self._row)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFixedHeight(PICTURE_HEIGHT + 68 + 20)
        scroll.setWidget(inside)
        self._scroll = scroll
        head = QHBoxLayout()
        head.setContentsMargins(12, 4, 8, 2)
        head.addWidget(self._title, 1)
        head.addWidget(self._close)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(head)
        column.addWidget(scroll)
        self.set_theme(theme)

    def set_theme(self, theme: Theme) -> None:
        """Take another theme."""
        self._close.setIcon(icon("x", theme, "dim"))

    def open_with(self, title: str, ids: list[str], chosen: object) -> None:
        """Lay out empty cards for candidates; pictures follow as they are lit."""
        self._title.setText(title)
        if list(self._cards) != ids:
            for card in self._cards.values():
                self._row.removeWidget(card)
                self._group.removeButton(card)
                card.hide()
                card.deleteLater()
            self._cards = {candidate_id: Card(candidate_id) for candidate_id in ids}
            for index, card in enumerate(self._cards.values()):
                card.clicked.connect(lambda _checked, picked=card: self._choose(picked))
                self._group.addButton(card)
                self._row.insertWidget(index, card)
        for candidate_id, card in self._cards.items():  # one that is given by numbers is none of them
            self._group.setExclusive(False)
            card.setChecked(candidate_id == chosen)
        self._group.setExclusive(True)
        self.show()

    def show_candidate(self, candidate: Candidate, unit: LengthUnit) -> None:
        """Show one candidate as it is lit."""
        card = self._cards.get(candidate.candidate_id)
        if card is not None:
            card.show_candidate(candidate, unit)

    def rank(self) -> None:
        """Order the cards: what hides the dots from nearest first, and of equals the brightest."""

        def weight(card: Card) -> tuple[float, float]:
            evaluation = card.candidate.evaluation if card.candidate is not None else None
            if evaluation is None:
                return (float("inf"), 0.0)
            return (round(evaluation.dots.vanish_distance_mm, -1), -evaluation.output.out_lm)

        for index, card in enumerate(sorted(self._cards.values(), key=weight)):
            if self._row.indexOf(card) != index:
                self._row.insertWidget(index, card)
        QTimer.singleShot(0, self._show_chosen)  # once the cards stand in their new places

    def _show_chosen(self) -> None:
        card = self._group.checkedButton()
        if card is not None:
            self._scroll.ensureWidgetVisible(card)

    def focus_chosen(self) -> None:
        """Put the keyboard on the chosen card and bring it into sight."""
        card = self._group.checkedButton()
        if card is not None:
            card.setFocus(Qt.FocusReason.OtherFocusReason)
            self._show_chosen()

    def _choose(self, card: Card) -> None:
        if card.candidate is not None and card.candidate.evaluation is not None:
            self.chosen.emit(card.candidate)
