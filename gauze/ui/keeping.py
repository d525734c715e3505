"""Unsaved work is kept against a crash: some time after the first edit, off the interface thread."""

from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from gauze.core.errors import GauzeError
from gauze.session.autosave import Autosave, Recovered
from gauze.session.document import Document
from gauze.ui.background import Background, Job
from gauze.ui.text import told, tr

AUTOSAVE_DELAY_MS = 1500  # after the first edit that is not kept yet, whatever follows


class Keeping(QObject):
    """Keeps the open document as long as it has unsaved changes."""

    failed = pyqtSignal(str)

    def __init__(self, folder: Path) -> None:
        super().__init__()
        self.folder = folder
        self._autosave = Autosave(folder)
        self._told = False
        self._document: Document | None = None
        self._jobs = Background(
            (Job("autosave", lambda autosave, _: autosave.write(), self._kept, self._refused, lambda _running: False),)
        )
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(AUTOSAVE_DELAY_MS)
        self._later.timeout.connect(self._write)

    def follow(self, document: Document) -> None:
        """Keep a document that has changed; drop what is kept of one that is saved."""
        self._document = document
        if not document.modified:
            self._later.stop()
            self._autosave.drop()
        elif not self._later.isActive():
            self._later.start()

    def replace(self, recovered: Recovered | None) -> None:
        """Drop what is kept of a document that is closed. ``recovered`` work is kept on where it lies."""
        self._later.stop()
        self._autosave.drop()
        self._autosave = Autosave(self.folder, recovered)

    def keep_now(self, document: Document) -> None:
        """Write unsaved work at once and wait for it, as the process is about to end; an error of the disk is reported."""
        self._later.stop()
        if document.modified:
            self._autosave.want(document)
            try:
                self._autosave.write()
            except GauzeError as error:
                self.failed.emit(told(error))

    def close(self, *, forget: bool) -> None:
        """End; what is kept goes, unless it is not to be forgotten."""
        self._later.stop()
        self._jobs.close()
        if forget:
            self._autosave.drop()
        else:
            self._autosave.leave()

    def _write(self) -> None:
        if self._document is not None:
            self._autosave.want(self._document)
            self._jobs.submit("autosave", self._autosave)

    def _kept(self, _autosave: Autosave, _result: None) -> None:
        self._told = False

    def _refused(self, _autosave: Autosave, error: GauzeError) -> None:
        if not self._told:  # once, not with every edit
            self.failed.emit(
                tr("Unsaved work cannot be kept against a crash; save often. {error}").format(error=told(error))
            )
        self._told = True
