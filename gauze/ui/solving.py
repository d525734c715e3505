"""What a window asks the solver process for, and what reads and writes files beside it; results come as signals."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from gauze.core.design import Design
from gauze.core.effects import Film, Options, Screen, effect_named, flashes_per_s
from gauze.core.evaluate import AT_REST, Evaluation
from gauze.core.evaluate.made import MadeBuild
from gauze.core.evaluate.pictures import Picture, with_picture
from gauze.core.evaluate.profile import profile_at
from gauze.core.formats.film_reading import MOST_BYTES, decode_film
from gauze.core.layout import Layout
from gauze.core.materials import Catalogue
from gauze.session.document import Document
from gauze.session.emitters import new_design, read_emitters, takes_emitters, with_emitters
from gauze.session.solver import (
    BenchRequest,
    DemosRequest,
    DiagnoseRequest,
    FilesRequest,
    FixesFound,
    FixRequest,
    LightRequest,
    LightResult,
    LitDemo,
    MakeRequest,
    PhotoRequest,
    PlayRequest,
    PractiseRequest,
    Progress,
    ShelfRequest,
    SolverProcess,
    TrayRequest,
    WorkshopRequest,
)
from gauze.session.storage import read_file
from gauze.ui.background import Background, Job
from gauze.ui.text import told

Cancelled = Callable[[], bool]


@dataclass(frozen=True)
class Beneath:
    """What was last known in full, which takes the picture of a design that has been laid out."""

    known: Evaluation
    layout: Layout


@dataclass(frozen=True)
class LightJob:
    """The open document to be lit."""

    document: Document
    request: LightRequest
    beneath: Beneath | None


@dataclass(frozen=True)
class TableRequest:
    """A table of emitters to be read, and the design that was open then."""

    path: Path
    design: Design


@dataclass(frozen=True)
class FlashRequest:
    """An effect, by its key, that is to be looked through for flashes before it plays."""

    effect: str
    screen: Screen
    options: Options


@dataclass(frozen=True)
class FilmRequest:
    """A picture or an animation to be read for a display of so many pixels."""

    path: Path
    columns: int
    rows: int


class Solving(QObject):
    """Asks and tells. ``lit`` is for the keeper of the open design; the others are for panels."""

    lit = pyqtSignal(object, object)  # Document, LightResult
    fixes_found = pyqtSignal(object, str, object)  # Design, code, list[Fix]
    fixes_progress = pyqtSignal(float)
    candidate_lit = pyqtSignal(object, object)  # TrayRequest, Candidate
    tray_done = pyqtSignal(object)  # TrayRequest
    field_lit = pyqtSignal(object)  # TradeOff
    field_progress = pyqtSignal(float)
    other_lit = pyqtSignal(object)  # LightResult
    demo_lit = pyqtSignal(str, object)  # its key, Evaluation
    flashes_counted = pyqtSignal(object, float)  # FlashRequest, flashes a second
    response_found = pyqtSignal(object, object)  # PlayRequest, Response
    made = pyqtSignal(object, object)  # MakeRequest, MadeBuild
    alternatives_found = pyqtSignal(object, object)  # MakeRequest, tuple[Alternative, ...]
    workshop_found = pyqtSignal(object, object)  # WorkshopRequest, Workshop
    log_judged = pyqtSignal(object, object)  # BenchRequest, LogFound
    photo_measured = pyqtSignal(object, object)  # PhotoRequest, PhotoShown
    photo_refused = pyqtSignal(object, str)  # PhotoRequest, message
    diagnosed = pyqtSignal(object, object)  # DiagnoseRequest, Diagnosis
    practised = pyqtSignal(object, object)  # PractiseRequest, Practised
    fault_refused = pyqtSignal(object, str)  # DiagnoseRequest or PractiseRequest, message
    shelf_judged = pyqtSignal(object, object)  # ShelfRequest, list[Judged]
    film_read = pyqtSignal(object, object)  # FilmRequest, Film
    film_refused = pyqtSignal(object, str)  # FilmRequest, message
    table_read = pyqtSignal(object, object)  # TableRequest, Document
    table_refused = pyqtSignal(str, str)  # name of the file, message
    failed = pyqtSignal(str)

    def __init__(self, solver: SolverProcess, catalogue: Catalogue) -> None:
        super().__init__()
        self._solver, self._catalogue = solver, catalogue
        self._jobs = Background(
            (
                Job("light", self._light, self._take_light, give_way=lambda running: running.request.detail == AT_REST),
                Job("other", self._ask("other"), lambda _request, result: self.other_lit.emit(result)),
                Job("fixes", self._fixes),
                Job("tray", self._tray, lambda request, _result: self.tray_done.emit(request)),
                Job("field", self._field, lambda _request, result: self.field_lit.emit(result)),
                Job("demos", self._demos),
                Job(
                    "flashes",
                    lambda one, _: flashes_per_s(effect_named(one.effect), one.screen, one.options),
                    lambda request, found: self.flashes_counted.emit(request, found),
                ),
                Job("play", self._ask("play"), lambda request, found: self.response_found.emit(request, found)),
                Job("shelf", self._ask("shelf"), lambda request, judged: self.shelf_judged.emit(request, judged)),
                Job("make", self._ask("make"), lambda request, found: self.made.emit(request, found)),
                Job(
                    "alternatives",
                    self._ask("alternatives"),
                    lambda request, found: self.alternatives_found.emit(request, found),
                ),
                Job(
                    "workshop",
                    self._ask("workshop"),
                    lambda request, found: self.workshop_found.emit(request, found),
                ),
                Job("bench", self._ask("bench"), lambda request, found: self.log_judged.emit(request, found)),
                Job(
                    "photo",
                    self._ask("photo"),
                    lambda request, found: self.photo_measured.emit(request, found),
                    lambda request, error: self.photo_refused.emit(request, told(error)),
                ),
                *(
                    Job(name, self._ask(name), signal.emit, self._refuse_fault)
                    for name, signal in (("diagnose", self.diagnosed), ("practise", self.practised))
                ),
                Job(
                    "film",
                    self._film,
                    lambda request, film: self.film_read.emit(request, film),
                    lambda request, error: self.film_refused.emit(request, told(error)),
                ),
                Job("table", self._table, self.table_read.emit, self._refuse_table, lambda _running: False),
                Job("export", lambda write, _cancelled: write(), give_way=lambda _running: False),
                Job("print", lambda render, cancelled: render(cancelled), give_way=lambda _running: False),
            )
        )
        self._jobs.failed.connect(self.failed)

    def close(self) -> None:
        """End all work."""
        self._jobs.close()

    def light(self, document: Document, request: LightRequest, beneath: Beneath | None = None) -> None:
        """Light the open document; ``beneath`` is what takes its picture, where there is one: that is enough then."""
        asked = replace(request, takes_picture=beneath is not None)
        self._jobs.submit("light", LightJob(document, asked, beneath))

    def light_other(self, design: Design) -> None:
        """Light another design exactly, to compare with the open one."""
        self._jobs.submit("other", LightRequest(design, AT_REST))

    def search_fixes(self, request: FixRequest) -> None:
        """Search fixes for findings."""
        self._jobs.submit("fixes", request)

    def light_field(self, design: Design) -> None:
        """Light the whole field of designs around one, of other depths and row counts."""
        self._jobs.submit("field", design)

    def light_tray(self, request: TrayRequest) -> None:
        """Show a design through every candidate of a kind."""
        self._jobs.submit("tray", request)

    def light_demos(self, designs: tuple[tuple[str, Design], ...]) -> None:
        """Light designs coarsely, one after the other, each told by its key."""
        self._jobs.submit("demos", DemosRequest(designs))

    def count_flashes(self, request: FlashRequest) -> None:
        """Look an effect through for flashes, beside the interface."""
        self._jobs.submit("flashes", request)

    def find_response(self, request: PlayRequest) -> None:
        """Light a display's pixels, so that it can play."""
        self._jobs.submit("play", request)

    def judge_shelf(self, request: ShelfRequest) -> None:
        """Judge what lies on the shelf for a design."""
        self._jobs.submit("shelf", request)

    def plan_making(self, request: MakeRequest) -> None:
        """Plan how a design is cut, and what it costs."""
        self._jobs.submit("make", request)

    def compare_costs(self, request: MakeRequest) -> None:
        """Set a design and its kept versions side by side: costs, watts, light."""
        self._jobs.submit("alternatives", request)

    def find_workshop(self, request: WorkshopRequest) -> None:
        """State the steps and the parts of a design whose cutting is planned."""
        self._jobs.submit("workshop", request)

    def judge_log(self, request: BenchRequest) -> None:
        """Set the log of a design against its prediction."""
        self._jobs.submit("bench", request)

    def measure_photo(self, request: PhotoRequest) -> None:
        """Measure a photograph of the lit face."""
        self._jobs.submit("photo", request)

    def diagnose(self, request: DiagnoseRequest) -> None:
        """Find the fault that explains what is seen and read."""
        self._jobs.submit("diagnose", request)

    def practise(self, request: PractiseRequest) -> None:
        """Read a simulated meter, or have an answer judged."""
        self._jobs.submit("practise", request)

    def made_now(self, request: MakeRequest) -> MadeBuild:
        """Plan how a design is cut and wait for it: to be asked in the thread of an export."""
        made = self._solver.call("make", request, lambda _told: None, lambda: False)
        assert isinstance(made, MadeBuild)
        return made

    def files_now(self, request: FilesRequest) -> dict[str, bytes]:
        """Write everything of a design and wait for it: to be asked in the thread of an export."""
        files = self._solver.call("files", request, lambda _told: None, lambda: False)
        assert isinstance(files, dict)
        return files

    def read_film(self, request: FilmRequest) -> None:
        """Read a picture or an animation, beside the interface."""
        self._jobs.submit("film", request)

    def read_table(self, request: TableRequest) -> None:
        """Read a table of emitters into a design of loose emitters, or else into a new one; it may be long."""
        self._jobs.submit("table", request)

    def run_export(self, write: Callable[[], None]) -> None:
        """Write a file off the interface thread; errors are reported through ``failed``."""
        self._jobs.submit("export", write)

    def run_print(self, render: Callable[[Cancelled], None]) -> None:
        """Render pages off the interface thread, until asked to stop; errors are reported through ``failed``."""
        self._jobs.submit("print", render)

    def cancel(self, name: str) -> None:
        """Stop one kind of work: fixes, tray, field, other, demos."""
        self._jobs.cancel(name)

    # -- the works, each in its thread ------------------------------------------------------------------------------

    def _ask(self, work: str) -> Callable[[object, Cancelled], object]:
        return lambda request, cancelled: self._solver.call(work, request, lambda _told: None, cancelled)

    def _light(self, job: LightJob, cancelled: Cancelled) -> object:
        request, beneath = job.request, job.beneath
        result = self._solver.call("light", request, lambda _told: None, cancelled)
        if isinstance(result, Picture) and beneath is not None:
            seen = with_picture(beneath.known, request.design, beneath.layout, result, request.detail)
            return LightResult(seen, (), picture_only=True)
        if isinstance(result, LightResult) and result.evaluation.detail == AT_REST:
            # a sheet's lobe is fitted once in each process: here, so that the first painting of a cut does not wait for it
            profile_at(result.evaluation, float(result.evaluation.y_mm[0]))
        return result

    def _take_light(self, job: LightJob, result: object) -> None:
        self.lit.emit(job.document, result)

    def _fixes(self, request: FixRequest, cancelled: Cancelled) -> None:
        def tell(told: object) -> None:
            if isinstance(told, Progress):
                self.fixes_progress.emit(told.share)
            elif isinstance(told, FixesFound):
                self.fixes_found.emit(request.design, told.code, told.fixes)

        self._solver.call("fixes", request, tell, cancelled)

    def _field(self, design: Design, cancelled: Cancelled) -> object:
        def tell(told: object) -> None:
            if isinstance(told, Progress):
                self.field_progress.emit(told.share)

        return self._solver.call("field", design, tell, cancelled)

    def _tray(self, request: TrayRequest, cancelled: Cancelled) -> None:
        self._solver.call("tray", request, lambda candidate: self.candidate_lit.emit(request, candidate), cancelled)

    def _demos(self, request: DemosRequest, cancelled: Cancelled) -> None:
        def tell(told: object) -> None:
            if isinstance(told, LitDemo):
                self.demo_lit.emit(told.key, told.evaluation)

        self._solver.call("demos", request, tell, cancelled)

    def _table(self, request: TableRequest, _cancelled: Cancelled) -> Document:
        emitters, distributions = read_emitters(request.path)
        if takes_emitters(request.design):
            design = with_emitters(request.design, emitters, distributions)
        else:
            design = new_design(request.path.stem, emitters, distributions)
        return Document(design, self._catalogue)

    def _film(self, request: FilmRequest, _cancelled: Cancelled) -> Film:
        data = read_file(request.path, MOST_BYTES)
        return decode_film(data, request.path.name, request.columns, request.rows)

    def _refuse_fault(self, request: object, error: Exception) -> None:
        self.fault_refused.emit(request, told(error))

    def _refuse_table(self, request: TableRequest, error: Exception) -> None:
        self.table_refused.emit(request.path.name, told(error))
