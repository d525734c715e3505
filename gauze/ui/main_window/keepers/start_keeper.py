"""Keeps the start place: opens it, has its pictures lit in the background, starts what is chosen."""

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QWidget

from gauze.core.evaluate import Evaluation
from gauze.core.formats.design_file import decode_design
from gauze.demo import BEGINNINGS, demo
from gauze.ui.canvas.paint.lit_faces import face_alone
from gauze.ui.main_window.files import Files
from gauze.ui.panels.start import PICTURE, StartPlace
from gauze.ui.workbench import Workbench


class StartKeeper(QObject):
    """Stands between the start place, the workbench and the files; pictures are kept for the sitting."""

    def __init__(self, bench: Workbench, files: Files, window: QWidget) -> None:
        super().__init__()
        self._bench, self._files, self._window = bench, files, window
        self._pictures: dict[str, QImage] = {}
        self.place: StartPlace | None = None
        self._ended = False
        bench.solving.demo_lit.connect(self._lit)

    def open(self) -> None:
        """Open the start place, unless the window is closed already."""
        if self._ended:
            return
        if self.place is not None:
            self.place.raise_()
            return
        place = StartPlace(self._bench.settings.recent_paths, self._window)
        place.new_wanted.connect(self._files.start_new)
        place.demo_wanted.connect(self._files.open_demo_of)
        place.file_wanted.connect(self._files.open_recent)
        place.open_wanted.connect(self._files.open)
        place.finished.connect(self._closed)
        self.place = place
        for one in BEGINNINGS:
            if one.key in self._pictures:
                place.show_picture(one, self._pictures[one.key])
        place.open()
        unlit = [one for one in BEGINNINGS if one.key not in self._pictures]
        if unlit:
            catalogue = self._bench.catalogue
            self._bench.solving.light_demos(tuple((one.key, decode_design(one.read(), catalogue)) for one in unlit))

    def end(self) -> None:
        """Close together with the window."""
        self._ended = True
        if self.place is not None:
            self.place.reject()

    def _closed(self) -> None:
        self.place = None
        self._bench.solving.cancel("demos")

    def _lit(self, key: str, evaluation: Evaluation) -> None:
        self._pictures[key] = face_alone(evaluation, 2 * PICTURE)  # sharp on a fine screen too
        if self.place is not None:
            self.place.show_picture(demo(key), self._pictures[key])
