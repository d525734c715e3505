"""A display plays behind its sheet: an effect or a test pattern, how often it flashes, and what it draws."""

from collections.abc import Sequence
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QElapsedTimer, QRectF, Qt, QTime, QTimer, pyqtSignal
from PyQt6.QtGui import QCloseEvent, QColor, QImage, QPainter, QPaintEvent
from PyQt6.QtWidgets import QDialog, QFileDialog, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from gauze.core.effects import EFFECTS, FILM, MOST_FLASHES_PER_S, Effect, Film, Options, effect_named
from gauze.core.evaluate import Caution
from gauze.core.evaluate.playing import Response
from gauze.core.optics.appearance import Viewing, true_colour
from gauze.core.printable import printable_path
from gauze.core.units import format_number
from gauze.ui.canvas.paint.shapes import to_qimage
from gauze.ui.message import plain_button
from gauze.ui.panels.fields import ChoiceBox, Form, LevelField
from gauze.ui.play.sending import SendControls
from gauze.ui.solving import FilmRequest, FlashRequest
from gauze.ui.text import spoken, tr

FRAME_MS = 33
_LONGEST_TEXT = 80
_FASTEST = 4.0  # times as fast as usual
_HEADROOM = 1.15  # over the luminance of the whole display, that shows as white
_WITH_TEXT, _WITH_COLOUR = ("text",), ("text", "clock", "bars", "walk")
_AROUND = QColor(34, 35, 38)  # a dark room's wall in either theme, so that a dark display shows where it ends
_MEAN_OF = 30  # pictures over which amps are averaged


class Face(QWidget):
    """The lit face, as large as there is room."""

    def __init__(self) -> None:
        super().__init__()
        self._image: QImage | None = None
        self._wide, self._high = 1.0, 1.0
        self.setMinimumSize(320, 200)

    def show_image(self, image: QImage | None, wide_mm: float = 1.0, high_mm: float = 1.0) -> None:
        """Show a picture of a face of such sides, or nothing."""
        self._image, self._wide, self._high = image, wide_mm, high_mm
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802 - Qt's name
        """Paint it in the middle, smoothly."""
        del event
        painter = QPainter(self)
        painter.fillRect(self.rect(), _AROUND)
        if self._image is not None:
            scale = min(self.width() / self._wide, self.height() / self._high)
            wide, high = self._wide * scale, self._high * scale
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, True)
            target = QRectF((self.width() - wide) / 2, (self.height() - high) / 2, wide, high)
            painter.drawImage(target, self._image, QRectF(self._image.rect()))
        painter.end()


class PlayWindow(QDialog):
    """Plays once it has the display's response; nothing moves before the flashes are counted."""

    flashes_wanted = pyqtSignal(object)  # FlashRequest
    film_wanted = pyqtSignal(object)  # FilmRequest

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Play on the display"))
        self._response: Response | None = None
        self._pitch_mm = (1.0, 1.0)
        self._amps: list[float] = []
        self.face = Face()
        self.effect, self.colour = ChoiceBox(), ChoiceBox()
        self.text = QLineEdit("TIDE 10:42")
        self.text.setMaxLength(_LONGEST_TEXT)
        self.file = QPushButton(tr("Choose …"))
        self._path: Path | None = None
        self._film: Film | None = None
        self.speed = LevelField(tr("How fast"))
        self.speed.show_level(0.25)
        self._speed = 1.0
        self.sending = SendControls()
        self.play = QPushButton(tr("Play"))
        self.play.setCheckable(True)
        self._said, self._flash = QLabel(tr("Calculating …")), QLabel()
        self._timer = QTimer(self)
        self._timer.setInterval(FRAME_MS)
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._next)
        self._clock = QElapsedTimer()
        self._began_s = 0.0
        self._lay_out()
        self.resize(940, 560)

    def _lay_out(self) -> None:
        for effect in EFFECTS:
            self.effect.addItem(spoken(effect.name), effect.key)
        for name, levels in _colours():
            self.colour.addItem(name, list(levels))
        self.form = form = Form()
        rows: tuple[tuple[str, QWidget], ...] = (
            (tr("Plays"), self.effect),
            (tr("Text"), self.text),
            (tr("Colour"), self.colour),
            (tr("File"), self.file),
            (tr("How fast"), self.speed),
        )
        for name, widget in rows:
            widget.setAccessibleName(name)
            form.add(name, widget)
        self._said.setMinimumHeight(2 * self.fontMetrics().lineSpacing() + 4)  # so that nothing jumps as figures grow
        self._said.setAlignment(Qt.AlignmentFlag.AlignTop)
        for label in (self._said, self._flash):
            label.setWordWrap(True)
            label.setObjectName("dim")
            form.add_wide(label)
        form.finish()
        self.effect.activated.connect(lambda _index: self._changed())
        self.colour.activated.connect(lambda _index: self._changed())
        self.text.textEdited.connect(lambda _text: self._changed())
        self.file.clicked.connect(self._choose_file)
        self.speed.moved.connect(self._take_speed)
        self.play.toggled.connect(self._run)
        self.play.setEnabled(False)
        side = QWidget()
        side.setFixedWidth(300)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(form)
        column.addStretch(1)
        column.addWidget(self.sending)
        column.addWidget(self.play)
        row = QHBoxLayout(self)
        row.addWidget(self.face, 1)
        row.addWidget(side)

    # -- what is played ---------------------------------------------------------------------------------------------

    @property
    def options(self) -> Options:
        """What is typed."""
        red, green, blue = self.colour.currentData()
        now = QTime.currentTime().toString("HH:mm")
        return Options(self.text.text() or " ", (red, green, blue), self._speed, now, self._film)

    @property
    def chosen(self) -> Effect:
        """The effect."""
        return effect_named(self.effect.currentData())

    def wait(self) -> None:
        """The design has changed: play nothing until its light is known."""
        self._response = None
        self.play.setChecked(False)
        self.play.setEnabled(False)
        self.face.show_image(None)
        self._said.setText(tr("Calculating …"))
        self._flash.setText("")

    def show_response(self, response: Response, pitch_mm: tuple[float, float]) -> None:
        """Take the light of a display's pixels, and show the first picture."""
        self._response, self._pitch_mm = response, pitch_mm
        if self._path is not None and not self._film_fits():
            self._read_film(self._path)
        self._changed()

    def _take_speed(self, level: float) -> None:
        self._speed = max(level * _FASTEST, 0.05)
        self._changed()

    def _changed(self) -> None:
        """Have the flashes counted before anything moves."""
        self.form.show_row(self.text, shown=self.chosen.key in _WITH_TEXT)
        self.form.show_row(self.colour, shown=self.chosen.key in _WITH_COLOUR)
        self.form.show_row(self.file, shown=self.chosen.key == FILM)
        if self._response is None:
            return
        self.play.setChecked(False)
        self.play.setEnabled(False)
        self._amps = []
        self.show_at(self._time_s())
        if self.chosen.key == FILM and not self._film_fits():
            self._flash.setText(tr("Choose a picture or an animation.") if self._path is None else tr("Reading …"))
            return
        self._flash.setText(tr("Counting flashes …"))
        self.flashes_wanted.emit(FlashRequest(self.chosen.key, self._response.screen, self.options))

    def show_flashes(self, request: FlashRequest, flashes: float) -> None:
        """Tell how often it flashes; what flashes too often has to be played on purpose."""
        if self._response is None or request.effect != self.chosen.key or request.options.film is not self._film:
            return
        words = tr("Flashes: {flashes} a second").format(flashes=format_number(flashes, 2))
        if flashes > MOST_FLASHES_PER_S:
            caution = tr("Caution: {mains}").format(mains=tr(Caution.FLASHING.value))
            words = f"{words}. {caution}"
        self._flash.setText(words)
        self.play.setEnabled(True)

    # -- a file -----------------------------------------------------------------------------------------------------

    def _film_fits(self) -> bool:
        screen = None if self._response is None else self._response.screen
        film = self._film
        return film is not None and screen is not None and film.pictures.shape[1:3] == (screen.rows, screen.columns)

    def _choose_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self,
            tr("Choose a picture"),
            str(Path.home() if self._path is None else self._path.parent),
            tr("Pictures (*.png *.jpg *.jpeg *.bmp *.gif *.webp)"),
        )
        if name:
            self._read_film(Path(name))
            self._changed()

    def _read_film(self, path: Path) -> None:
        """Have a file read for the display as it is; what was read before is gone."""
        self._path, self._film = path, None
        self.file.setText(plain_button(printable_path(path.name)))
        if self._response is not None:
            self.film_wanted.emit(FilmRequest(path, self._response.screen.columns, self._response.screen.rows))

    def show_film(self, request: FilmRequest, film: Film) -> None:
        """Take what was read, if it is still wanted."""
        if request.path == self._path:
            self._film = film
            if self.chosen.key == FILM:
                self._changed()

    def refuse_film(self, request: FilmRequest, message: str) -> None:
        """Say why a file is not played."""
        if request.path == self._path:
            self._path = self._film = None
            self.file.setText(tr("Choose …"))
            if self.chosen.key == FILM:
                self._changed()
                name = printable_path(request.path.name)
                self._flash.setText(tr("“{name}” was not read").format(name=name) + ": " + message)

    def _time_s(self) -> float:
        running = self._clock.elapsed() / 1000.0 if self._timer.isActive() else 0.0
        return self._began_s + running

    def _run(self, running: bool) -> None:
        self.play.setText(tr("Stop") if running else tr("Play"))
        if running:
            self._clock.start()
            self._timer.start()
        else:
            self._began_s = self._time_s()
            self._timer.stop()

    def _next(self) -> None:
        self.show_at(self._time_s())

    def show_at(self, t_s: float) -> None:
        """Show the picture of a time."""
        response = self._response
        if response is None:
            return
        levels = self.chosen.frame(t_s, response.screen, self.options)
        viewing = Viewing(max(_HEADROOM * response.white_cd_m2, 1e-3), 0.0, 0.0)
        image = to_qimage(true_colour(response.picture(levels), viewing))
        wide, high = self._pitch_mm
        self.face.show_image(image, response.screen.columns * wide, response.screen.rows * high)
        if self._timer.isActive():
            rows, columns = response.screen.order.T
            self.sending.send(levels[rows, columns])
        self._amps = [*self._amps[1 - _MEAN_OF :], response.drawn_a(levels)]
        self._said.setText(
            tr("{now} A now, {mean} A in the last second, {most} A with all on").format(
                now=format_number(self._amps[-1]),
                mean=format_number(float(np.mean(self._amps))),
                most=format_number(response.drawn_a(np.ones_like(levels))),
            )
        )

    def closeEvent(self, event: QCloseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Stop with the window, and send no more."""
        self.play.setChecked(False)
        self.sending.stop()
        super().closeEvent(event)


def _colours() -> Sequence[tuple[str, tuple[float, float, float]]]:
    return (
        (tr("white"), (1.0, 1.0, 1.0)),
        (tr("warm"), (1.0, 0.55, 0.18)),
        (tr("red"), (1.0, 0.0, 0.0)),
        (tr("green"), (0.0, 1.0, 0.0)),
        (tr("blue"), (0.0, 0.0, 1.0)),
    )
