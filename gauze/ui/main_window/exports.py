"""What leaves the program: picture, arrays, light distribution and findings, as files or on the clipboard."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QApplication, QFileDialog, QWidget

from gauze.core.design.bench import BenchReading
from gauze.core.electrical.data_line import pixel_runs
from gauze.core.electrical.soldering import soldering_steps
from gauze.core.errors import GauzeError
from gauze.core.evaluate import Evaluation, Finding
from gauze.core.evaluate.stages import computed_for_drawing
from gauze.core.families import parts_of
from gauze.core.formats.drawing_file import ENDINGS, encode_drawing
from gauze.core.formats.ies import encode_ies
from gauze.core.formats.making_csv import encode_bill
from gauze.core.formats.making_file import ENDINGS as MAKING_ENDINGS
from gauze.core.formats.making_file import encode_making
from gauze.core.formats.map_file import encode_map
from gauze.core.formats.picture import encode_png, face_picture
from gauze.core.formats.pixel_map import ENDINGS as PIXEL_ENDINGS
from gauze.core.formats.pixel_map import encode_pixel_map
from gauze.core.formats.readings_csv import encode_readings
from gauze.core.formats.report import report_json, report_text
from gauze.core.formats.wire_list import encode_wire_list
from gauze.core.optics.appearance import Picture
from gauze.session.solver import FilesRequest, MakeRequest
from gauze.session.storage import free_folder, write_file, write_folder
from gauze.ui.canvas.paint.shapes import to_qimage
from gauze.ui.main_window.asking import ask_where, file_name
from gauze.ui.text import tr
from gauze.ui.view_state import ViewState
from gauze.ui.workbench import Workbench


class Exports:
    """What the file menu exports; each is given the exact light of the design as it stands."""

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        self._bench = bench
        self._parent = parent

    def picture(self, evaluation: Evaluation, state: ViewState) -> None:
        """Write the lit face as it is looked at."""
        self._export(
            tr("Export the lit face"),
            ".png",
            tr("PNG picture (*.png)"),
            lambda: encode_png(_picture(evaluation, state)),
        )

    def light_map(self, evaluation: Evaluation) -> None:
        """Write the light as arrays."""
        self._export(tr("Export the light"), ".npz", tr("NumPy arrays (*.npz)"), lambda: encode_map(evaluation))

    def ies(self, evaluation: Evaluation) -> None:
        """Write the light distribution for lighting programs."""
        self._export(
            tr("Export the light distribution"), ".ies", tr("IES LM-63 (*.ies)"), lambda: encode_ies(evaluation)
        )

    def readings(self, rows: tuple[BenchReading, ...]) -> None:
        """Write the bench log as a table."""
        kinds = tr("Tables of readings (*.csv)")
        self._export(tr("Export the readings"), ".csv", kinds, lambda: encode_readings(rows))

    def findings(self, evaluation: Evaluation, findings: tuple[Finding, ...]) -> None:
        """Write the findings with their working: JSON where the name or the kind chosen says so, else text."""
        path = self._ask(tr("Export the findings"), tr("Text (*.txt);;JSON (*.json)"), (".txt", ".json"))
        if path is None:
            return

        def write() -> bytes:
            if path.suffix.lower() == ".json":
                return report_json(evaluation.design, findings)
            return (report_text(evaluation.design, findings) + "\n").encode()

        self._bench.solving.run_export(lambda: write_file(path, write()))

    def drawing(self) -> None:
        """Write plan and section at their true size; the ending says as what."""
        kinds = tr("SVG (*.svg);;DXF (*.dxf);;PDF (*.pdf)")
        path = self._ask(tr("Export the drawing at its true size"), kinds, ENDINGS)
        if path is not None:
            design, layout, catalogue = self._bench.design, self._bench.layout, self._bench.catalogue

            def write() -> None:
                computed = computed_for_drawing(design, layout, catalogue)
                write_file(path, encode_drawing(design, layout, path.suffix, *computed))

            self._bench.solving.run_export(write)

    def pixel_map(self) -> None:
        """Write which pixel lies where; the ending says as what."""
        path = self._ask(tr("Export the pixel map"), tr("Table (*.csv);;JSON (*.json)"), PIXEL_ENDINGS)
        if path is not None:
            design, layout, catalogue = self._bench.design, self._bench.layout, self._bench.catalogue

            def write() -> None:
                runs = pixel_runs(layout.pieces, parts_of(design, layout, catalogue).joints)
                write_file(path, encode_pixel_map(design, runs, path.suffix))

            self._bench.solving.run_export(write)

    def wire_list(self, evaluation: Evaluation) -> None:
        """Write the wires to cut, from where to where each goes."""
        power = evaluation.network.power
        if power is not None:
            self._export(
                tr("Export the wire list"),
                ".csv",
                tr("Table (*.csv)"),
                lambda: encode_wire_list(
                    evaluation.design,
                    power,
                    soldering_steps(power, evaluation.layout.pieces, evaluation.network.joints),
                ),
            )

    def cutting_list(self, request: MakeRequest) -> None:
        """Write every piece with the bar that it is cut from, as a table, or all plans and the bill as pages."""
        kinds = tr("Table (*.csv);;Pages with the plans and the bill (*.pdf)")
        path = self._ask(tr("Export the cutting list"), kinds, MAKING_ENDINGS)
        if path is not None:
            name, made, reader = request.design.name, self._bench.solving.made_now, self._bench.reader
            self._bench.solving.run_export(
                lambda: write_file(path, encode_making(name, made(request), path.suffix, reader))
            )

    def bill(self, request: MakeRequest) -> None:
        """Write the bill."""
        made = self._bench.solving.made_now
        self._export(tr("Export the bill"), ".csv", tr("Table (*.csv)"), lambda: encode_bill(made(request)))

    def one_file(self, request: FilesRequest, title: str, kinds: str, names: dict[str, str]) -> None:
        """Write one of the files of a design; ``names`` are those that exports give them, by the ending that is chosen."""
        path = self._ask(title, kinds, tuple(names))
        if path is None:
            return
        files, name = self._bench.solving.files_now, f"{request.stem}-{names[path.suffix.lower()]}"

        def write() -> None:
            found = files(request)
            if name not in found:
                raise GauzeError("This design has nothing to put in that file. Nothing was written.")
            write_file(path, found[name])

        self._bench.solving.run_export(write)

    def everything(self, request: FilesRequest) -> None:
        """Write everything into a new folder, named after the design, in one that is chosen."""
        name = QFileDialog.getExistingDirectory(
            self._parent, tr("Export everything into a new folder in …"), str(self._bench.folder)
        )
        if not name:
            return
        folder, files = free_folder(Path(name), request.stem), self._bench.solving.files_now
        self._bench.solving.run_export(lambda: write_folder(folder, files(request)))

    def copy_findings(self, evaluation: Evaluation, findings: tuple[Finding, ...]) -> None:
        """Put the findings with their working on the clipboard, as text."""
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText(report_text(evaluation.design, findings))

    def copy_picture(self, evaluation: Evaluation, state: ViewState) -> None:
        """Put the lit face on the clipboard as it is looked at."""
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setImage(to_qimage(_picture(evaluation, state)))

    def _export(self, title: str, ending: str, kinds: str, write: Callable[[], bytes]) -> None:
        path = self._ask(title, kinds, (ending,))
        if path is not None:
            self._bench.solving.run_export(lambda: write_file(path, write()))

    def _ask(self, title: str, kinds: str, endings: tuple[str, ...]) -> Path | None:
        suggested = self._bench.folder / (file_name(self._bench.design.name) + endings[0])
        return ask_where(self._parent, title, suggested, kinds, endings)


def _picture(evaluation: Evaluation, state: ViewState) -> Picture:
    return face_picture(
        evaluation, room_lx=state.room_lx, exposure_stops=state.exposure_stops, false=state.false_colour
    )
