"""What the solver process can be asked for: frozen requests, what is reported meanwhile, and results."""

import math
import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, Literal

import msgspec
import numpy as np

from gauze.core.design import Design
from gauze.core.design.bench import BenchPhoto, Quantity
from gauze.core.design.design import catalogue_of
from gauze.core.errors import pausing
from gauze.core.evaluate import AT_REST, SMALL_PICTURE, Detail, Evaluation, Finding, Fix, evaluate, find, search_fixes
from gauze.core.evaluate.building.alternatives import Alternative, alternatives_of
from gauze.core.evaluate.building.workshop import Workshop, workshop_of
from gauze.core.evaluate.candidates import light_candidate
from gauze.core.evaluate.made import MadeBuild, made_of
from gauze.core.evaluate.pictures import Picture, picture_in
from gauze.core.evaluate.playing import Response, response_of
from gauze.core.evaluate.recent import Recent
from gauze.core.evaluate.shelf import Judged, judge_shelf
from gauze.core.evaluate.stages import is_kept, network_for
from gauze.core.evaluate.tradeoff import TradeOff, trade_off
from gauze.core.families import lay_out, parts_of
from gauze.core.materials import Catalogue
from gauze.core.materials.labels import Thing
from gauze.core.proving.fault_finder import Diagnosis, Symptom, diagnose
from gauze.core.proving.faults import Fault
from gauze.core.proving.fitting import Reading
from gauze.core.proving.log import LogFound, judge_log
from gauze.core.proving.photo_shown import PhotoShown, Pixels, show_photo
from gauze.core.proving.rehearsal import Hidden, PractisedReading, Score, case_of, hide, photograph, read_meter, score
from gauze.core.units import LengthUnit
from gauze.core.words import Reader
from gauze.core.words.languages import ENGLISH_CODE, translation
from gauze.session.bench_edits import shown_bench

Tell = Callable[[object], None]
Cancelled = Callable[[], bool]


@dataclass(frozen=True)
class LightRequest:
    """A design to be lit, and how finely; ``hand`` numbers the drag that it is one step of, 0 for none.

    ``takes_picture``: whether who asks has an evaluation that takes the picture of this design, which then is enough.
    """

    design: Design
    detail: Detail
    hand: int = 0
    takes_picture: bool = False


@dataclass(frozen=True)
class LightResult:
    """A lit design with its findings.

    While a hand drags most are pictures only: without findings, and what the picture does not show is that of an earlier step.
    """

    evaluation: Evaluation
    findings: tuple[Finding, ...]
    picture_only: bool = False


@dataclass(frozen=True)
class _Figures:
    """What was last known in full while a hand drags, and until when pictures alone are shown with it."""

    evaluation: Evaluation
    until_s: float


@dataclass(frozen=True)
class FixRequest:
    """A design and the findings for which fixes are to be searched."""

    design: Design
    codes: tuple[str, ...]


@dataclass(frozen=True)
class FixesFound:
    """Told by a search: the fixes for one finding."""

    code: str
    fixes: list[Fix]


@dataclass(frozen=True)
class TrayRequest:
    """A design to be shown through every candidate of one kind; ``index`` is that of the layer or the strip."""

    design: Design
    kind: str
    index: int


@dataclass(frozen=True)
class DemosRequest:
    """The demo designs, to be lit coarsely for the start place, each with the key under which it is reported."""

    designs: tuple[tuple[str, Design], ...]


@dataclass(frozen=True)
class ShelfRequest:
    """A design, and the things on the shelf that are to be judged for it."""

    design: Design
    things: tuple[Thing, ...]


@dataclass(frozen=True)
class PlayRequest:
    """A display whose pixels are to be lit one by one, so that it can play."""

    design: Design


@dataclass(frozen=True)
class MakeRequest:
    """A design whose lengths are to be cut out of what lies on the shelf and what is bought."""

    design: Design
    things: tuple[Thing, ...]


@dataclass(frozen=True)
class WorkshopRequest:
    """A design with its plan of cutting, of which steps and parts are wanted."""

    design: Design
    made: MadeBuild


@dataclass(frozen=True)
class FilesRequest:
    """A design of which everything is to be written, or some kinds; names of files begin with ``stem``."""

    design: Design
    things: tuple[Thing, ...]
    stem: str
    kinds: tuple[str, ...] = ()
    language: str = ENGLISH_CODE
    unit: LengthUnit = LengthUnit.MM


@dataclass(frozen=True)
class BenchRequest:
    """A design whose log is to be set against its prediction, with readings beside those of the log, of a photograph."""

    design: Design
    more: tuple[Reading, ...] = ()


@dataclass(frozen=True)
class PhotoRequest:
    """A photograph of the face of a design, to be measured: its bytes and those of a picture of an even field, empty for none."""

    design: Design
    photo: BenchPhoto
    data: bytes
    flat: bytes = b""


@dataclass(frozen=True)
class DiagnoseRequest:
    """A design with what is seen of it and read on it, whose fault is wanted."""

    design: Design
    symptoms: tuple[Symptom, ...]
    readings: tuple[Reading, ...]


@dataclass(frozen=True)
class PractiseRequest:
    """A case of the course on its demo design: a reading of its simulated meters, or an answer to be judged, or neither.

    ``number`` counts readings; ``answer`` is a fault, or the word ``"well"``; None where none is given. ``camera`` asks for a
    picture by its simulated camera.
    """

    design: Design
    case: str
    seed: int
    asked: tuple[Quantity, str] | None = None
    number: int = 0
    answer: Fault | Literal["well"] | None = None
    camera: bool = False


@dataclass(frozen=True)
class Practised:
    """What a rehearsal answers: what is seen, the reading, the score with the true fault (None for a build that is well).

    ``picture`` is the simulated camera's, (rows, columns, 3), the upper row first; None where none was asked for.
    """

    symptoms: tuple[Symptom, ...]
    reading: PractisedReading | None
    score: Score | None
    truth: Fault | None
    picture: Pixels | None = None


@dataclass(frozen=True)
class LitDemo:
    """Told of a demo design that is lit."""

    key: str
    evaluation: Evaluation


@dataclass(frozen=True)
class Progress:
    """Told now and then: the share that is done, 0 to 1."""

    share: float


def _judged(evaluation: Evaluation) -> LightResult:
    return LightResult(evaluation, tuple(find(evaluation)))


def _light(request: LightRequest, catalogue: Catalogue, _tell: Tell, cancelled: Cancelled) -> LightResult | Picture:
    # a coarse light is asked for to have a picture soon: where the exact one is known it is there at once
    detail = AT_REST if is_kept(request.design, catalogue) else request.detail
    if request.hand and detail.in_motion:
        return _light_in_hand(request, catalogue, cancelled)
    evaluation = evaluate(request.design, catalogue, detail, cancelled)
    if detail == AT_REST:
        _IN_HAND[0] = _Figures(evaluation, math.inf)
    return _judged(evaluation)


def _light_other(request: LightRequest, catalogue: Catalogue, _tell: Tell, cancelled: Cancelled) -> LightResult:
    evaluation = evaluate(request.design, catalogue, request.detail, cancelled)
    return _judged(evaluation)


def _light_in_hand(request: LightRequest, catalogue: Catalogue, cancelled: Cancelled) -> LightResult | Picture:
    """One step of a drag: all of it now and then, in between only what is seen. It begins with what was known at rest."""
    now = time.monotonic()
    if request.hand not in _IN_HAND:
        rest = _IN_HAND.get(0)
        _IN_HAND.clear()
        if rest is not None and type(rest.evaluation.design.build) is type(request.design.build):
            _IN_HAND[request.hand] = _Figures(rest.evaluation, now + _FIGURES_EVERY_S)
    known = _IN_HAND.get(request.hand)
    if known is not None and now < known.until_s:
        evaluation = evaluate(request.design, catalogue, request.detail, cancelled, figures=known.evaluation)
        if evaluation.network is not known.evaluation.network:  # other pieces: it has figures of its own
            _IN_HAND[request.hand] = replace(known, evaluation=evaluation)
        return picture_in(evaluation) if request.takes_picture else LightResult(evaluation, (), picture_only=True)
    evaluation = evaluate(request.design, catalogue, request.detail, cancelled)
    result = _judged(evaluation)
    done = time.monotonic()
    _IN_HAND[request.hand] = _Figures(evaluation, done + max(_FIGURES_EVERY_S, _PICTURES_FOR * (done - now)))
    return result


def _search(request: FixRequest, catalogue: Catalogue, tell: Tell, cancelled: Cancelled) -> None:
    for index, code in enumerate(request.codes):

        def progress(share: float, done: int = index) -> None:
            tell(Progress((done + share) / len(request.codes)))

        tell(FixesFound(code, search_fixes(code, request.design, catalogue, progress, cancelled)))


def _show_tray(request: TrayRequest, catalogue: Catalogue, tell: Tell, cancelled: Cancelled) -> None:
    known = catalogue_of(request.design, catalogue)
    for candidate_id in known.diffusers if request.kind == "diffuser" else known.strips:
        tell(light_candidate(request.design, catalogue, request.kind, candidate_id, request.index, cancelled))


def _light_field(design: Design, catalogue: Catalogue, tell: Tell, cancelled: Cancelled) -> TradeOff:
    return trade_off(design, catalogue, lambda share: tell(Progress(share)), cancelled)


def _light_demos(request: DemosRequest, catalogue: Catalogue, tell: Tell, cancelled: Cancelled) -> None:
    for key, design in request.designs:
        tell(LitDemo(key, evaluate(design, catalogue, SMALL_PICTURE, cancelled)))


def _judge_shelf(request: ShelfRequest, catalogue: Catalogue, _tell: Tell, _cancelled: Cancelled) -> list[Judged]:
    laid = lay_out(request.design, catalogue)
    parts = parts_of(request.design, laid, catalogue)
    return judge_shelf(parts, network_for(request.design, laid, catalogue), request.things, catalogue)


def _respond(request: PlayRequest, catalogue: Catalogue, _tell: Tell, cancelled: Cancelled) -> Response:
    return response_of(request.design, catalogue, cancelled)


def _write(request: FilesRequest, catalogue: Catalogue, _tell: Tell, _cancelled: Cancelled) -> dict[str, bytes]:
    from gauze.session.exporting import KINDS, files_of  # noqa: PLC0415 - what only an export needs does not delay the first light

    reader = Reader(request.unit, translation(request.language))
    return files_of(request.design, catalogue, request.things, request.kinds or tuple(KINDS), request.stem, reader)


def _make(request: MakeRequest, catalogue: Catalogue, _tell: Tell, cancelled: Cancelled) -> MadeBuild:
    return made_of(request.design, catalogue, request.things, pausing(cancelled))


def _compare(request: MakeRequest, catalogue: Catalogue, _tell: Tell, cancelled: Cancelled) -> tuple[Alternative, ...]:
    return alternatives_of(request.design, catalogue, request.things, cancelled)


def _build(request: WorkshopRequest, catalogue: Catalogue, _tell: Tell, cancelled: Cancelled) -> Workshop:
    return workshop_of(evaluate(request.design, catalogue, AT_REST, cancelled), request.made)


def _prove(request: BenchRequest, catalogue: Catalogue, _tell: Tell, cancelled: Cancelled) -> LogFound:
    evaluation = evaluate(request.design, catalogue, AT_REST, cancelled)
    return judge_log(evaluation, shown_bench(request.design).readings, request.more, pausing(cancelled))


def _photo(request: PhotoRequest, catalogue: Catalogue, _tell: Tell, cancelled: Cancelled) -> PhotoShown:
    from gauze.core.formats.photo_reading import read_photo  # noqa: PLC0415 - decoders of pictures do not delay the first light

    corners = None if request.photo.corners_px is None else np.array(request.photo.corners_px).reshape(4, 2)
    flat = read_photo(request.flat) if request.flat else None
    evaluation = evaluate(request.design, catalogue, AT_REST, cancelled)
    return show_photo(read_photo(request.data), evaluation, corners, flat, request.photo.vignetting)


def _coarse(design: Design, catalogue: Catalogue, cancelled: Cancelled) -> Evaluation:
    """The light of a design, fine enough for finding faults; kept from step to step."""
    bare = msgspec.structs.replace(design, making=None, bench=None, kept=())
    return _COARSE.get((bare, catalogue), lambda: evaluate(bare, catalogue, _FOR_FAULTS, cancelled))


def _diagnose(request: DiagnoseRequest, catalogue: Catalogue, _tell: Tell, cancelled: Cancelled) -> Diagnosis:
    evaluation = _coarse(request.design, catalogue, cancelled)
    return diagnose(evaluation, request.symptoms, request.readings, pausing(cancelled))


def _practise(request: PractiseRequest, catalogue: Catalogue, _tell: Tell, cancelled: Cancelled) -> Practised:
    evaluation = _coarse(request.design, catalogue, cancelled)
    hidden = _HIDDEN.get(
        (evaluation, request.case, request.seed), lambda: hide(evaluation, case_of(request.case), request.seed)
    )
    reading = None if request.asked is None else read_meter(hidden, request.asked, request.number)
    if request.answer is None:
        picture = photograph(hidden, catalogue, pausing(cancelled)) if request.camera else None
        return Practised(hidden.symptoms, reading, None, None, picture)
    said = None if request.answer == "well" else request.answer
    return Practised(hidden.symptoms, reading, score(hidden, said, request.number), hidden.fault)


_FIGURES_EVERY_S = 0.4  # while a hand drags: as often as they can be read
_PICTURES_FOR = 12.0  # times as long as figures took pictures follow before the next
# the figures of the drag that goes on, by its number, and when they were found; 0: those of what was lit at rest last
_IN_HAND: dict[int, _Figures] = {}
_FOR_FAULTS = Detail(fineness=0.4, most_pixels=6_000, target_points=1)
_COARSE: Recent[Evaluation] = Recent(2)
_HIDDEN: Recent[Hidden] = Recent(2)
Work = Callable[[Any, Catalogue, Tell, Cancelled], Any]
WORKS: dict[str, Work] = {
    "light": _light,
    "other": _light_other,  # another design beside the open one: neither waits for the other
    "fixes": _search,
    "tray": _show_tray,
    "field": _light_field,
    "demos": _light_demos,
    "shelf": _judge_shelf,
    "play": _respond,
    "make": _make,
    "workshop": _build,
    "alternatives": _compare,
    "files": _write,
    "bench": _prove,
    "photo": _photo,
    "diagnose": _diagnose,
    "practise": _practise,
}
