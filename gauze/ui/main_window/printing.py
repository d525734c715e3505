"""Printing: pages of a PDF, as they stand, at their true size, on whatever printer is chosen; rendered beside the interface."""

import threading
from collections.abc import Callable

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QObject, QRectF, QSize, QSizeF, pyqtSignal
from PyQt6.QtGui import QImage, QPageLayout, QPageSize, QPainter
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import QDialog, QWidget

from gauze.core.errors import GauzeError
from gauze.session.solver import FilesRequest
from gauze.ui.text import tr
from gauze.ui.workbench import Workbench

_DPI = 300.0  # fine enough for lines and letters
_POINTS = 72.0
_WAIT_S = 0.1
_AHEAD = 2  # pages that are rendered and not yet printed: one of A4 takes 35 MB


class Printing(QObject):
    """Asks for a printer, and prints one document at a time."""

    finished = pyqtSignal(int)  # pages that were printed
    _written = pyqtSignal(bytes)  # from the thread that waits for the solver
    _rendered = pyqtSignal(QSizeF, QImage)  # from the thread that renders

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self._bench, self._parent = bench, parent
        self._written.connect(self._ask)
        self._rendered.connect(self._paint)
        self._printer: QPrinter | None = None
        self._painter: QPainter | None = None
        self._ahead = threading.Semaphore(_AHEAD)
        self._left = self._printed = 0

    def print_file(self, request: FilesRequest, name: str) -> None:
        """Print one of the files of a design, by the name that exports give it."""
        files = self._bench.solving.files_now

        def write() -> None:
            found = files(request).get(f"{request.stem}-{name}")
            if found is None:
                raise GauzeError("This design has nothing to put in that file. Nothing was written.")
            self._written.emit(found)

        self._bench.solving.run_export(write)

    def _ask(self, data: bytes) -> None:
        if self._painter is not None:
            return  # one is being printed
        pages = len(_sizes(data))
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        dialog = QPrintDialog(printer, self._parent)
        dialog.setWindowTitle(tr("Print"))
        dialog.setOption(QPrintDialog.PrintDialogOption.PrintPageRange)
        dialog.setMinMax(1, pages)
        dialog.setFromTo(1, pages)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.begin(printer, data)

    def begin(self, printer: QPrinter, data: bytes) -> None:
        """Print the pages that are chosen of a PDF, all where none are."""
        sizes = _sizes(data)
        first, to = printer.fromPage() or 1, printer.toPage() or len(sizes)
        pages = list(range(first - 1, min(to, len(sizes))))
        if not pages:
            return
        _turn(printer, sizes[pages[0]])
        painter = QPainter()
        if not painter.begin(printer):
            self._bench.failed.emit(tr("The printer does not answer: nothing was printed. Choose another one."))
            return
        self._printer, self._painter = printer, painter
        self._left, self._printed = len(pages), 0
        self._bench.solving.run_print(lambda cancelled: self._render(data, pages, cancelled))

    def _render(self, data: bytes, pages: list[int], cancelled: Callable[[], bool]) -> None:
        """In a thread of its own: pages as pictures, a few ahead of the printer."""
        document, _buffer = _opened(data)
        for page in pages:
            while not self._ahead.acquire(timeout=_WAIT_S):
                if cancelled():
                    return
            size = document.pagePointSize(page)
            pixels = QSize(round(size.width() * _DPI / _POINTS), round(size.height() * _DPI / _POINTS))
            self._rendered.emit(size, document.render(page, pixels))

    def _paint(self, size: QSizeF, image: QImage) -> None:
        self._ahead.release()
        printer, painter = self._printer, self._painter
        if printer is None or painter is None:
            return
        if self._printed:
            _turn(printer, size)
            printer.newPage()
        dots = printer.resolution() / _POINTS
        painter.drawImage(QRectF(0.0, 0.0, size.width() * dots, size.height() * dots), image)
        self._printed += 1
        self._left -= 1
        if not self._left:
            painter.end()
            self._painter, self._printer = None, None
            self.finished.emit(self._printed)


def _opened(data: bytes) -> tuple[QPdfDocument, QBuffer]:
    """A document, and what it is read from, which has to live as long."""
    buffer = QBuffer()
    buffer.setData(QByteArray(data))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    document = QPdfDocument(None)
    document.load(buffer)
    return document, buffer


def _sizes(data: bytes) -> list[QSizeF]:
    """Size of every page, in points."""
    document, _buffer = _opened(data)
    return [document.pagePointSize(page) for page in range(document.pageCount())]


def _turn(printer: QPrinter, size: QSizeF) -> None:
    """Give the paper the size and the direction of a page."""
    upright = QSizeF(min(size.width(), size.height()), max(size.width(), size.height()))
    across = size.width() > size.height()
    way = QPageLayout.Orientation.Landscape if across else QPageLayout.Orientation.Portrait
    paper = QPageSize(upright, QPageSize.Unit.Point, "", QPageSize.SizeMatchPolicy.FuzzyMatch)
    printer.setPageLayout(QPageLayout(paper, way, QMarginsF()))
    printer.setFullPage(True)
