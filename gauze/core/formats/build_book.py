"""The build book, which a builder takes to the bench: what it is, what it takes, drawings, wiring, and every step."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from io import BytesIO
from typing import Any

from reportlab.graphics.shapes import Drawing, PolyLine, Rect
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.platypus import Flowable, Image, KeepTogether, PageBreak, Paragraph, Spacer, Table

from gauze.core.design.making import StepRecord
from gauze.core.drawing import View, views_of
from gauze.core.drawing.explosion import explosion
from gauze.core.drawing.part_shapes import highlighted, plan_shapes
from gauze.core.drawing.templates import Template
from gauze.core.electrical.soldering import soldering_steps
from gauze.core.electrical.wire_list import Run, runs_of
from gauze.core.evaluate.building.model import STAGES, Expected, Stage, Step
from gauze.core.evaluate.building.steps import done_of
from gauze.core.evaluate.building.wiring import soldering_key
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Finding, State
from gauze.core.evaluate.made import MadeBuild
from gauze.core.evaluate.verdict import verdict_of
from gauze.core.evaluate.wording import pad_words
from gauze.core.families import parts_of
from gauze.core.formats.making_pdf import bill_table, lengths_story, sheets_story
from gauze.core.formats.pdf_pages import (
    CAUTION,
    HEAD,
    HIGH,
    NAME,
    PART,
    PLAIN,
    WIDE,
    drawn,
    encode_pages,
    said,
    table_style,
)
from gauze.core.formats.pdf_text import BOLD, markup
from gauze.core.formats.picture import encode_png, face_picture
from gauze.core.making.solids.model import Printed
from gauze.core.units import format_number
from gauze.core.words import ENGLISH, Length, Number, Reader, Text, Words, say

_PICTURE = 0.55 * WIDE
_STEP_PICTURE = (150.0, 105.0)
_BOX = 10.0
_TITLE = ParagraphStyle("step", parent=PLAIN, fontName=BOLD, fontSize=9.5, leading=12)
_STRONG = ParagraphStyle("strong", parent=PLAIN, fontName=BOLD)
_STATES = {
    State.FAILS: say("to change"),
    State.WATCH: say("worth a look"),
    State.GOOD: say("good"),
    State.NOTE: say("note"),
}


@dataclass(frozen=True)
class Book:
    """What the book is made from."""

    evaluation: Evaluation
    findings: Sequence[Finding]
    made: MadeBuild
    steps: Sequence[Step]
    templates: Sequence[Template] = ()
    printed: Sequence[Printed] = ()
    date: str = ""


def encode_build_book(book: Book, reader: Reader = ENGLISH) -> bytes:
    """Write the book of a design; the same book gives the same bytes."""
    return encode_pages(book.evaluation.design.name, _story(book, reader))


def _story(book: Book, reader: Reader) -> Iterator[Flowable]:
    yield from _front(book, reader)
    yield PageBreak()
    yield from _cautions(book, reader)
    yield from _materials(book, reader)
    yield from _drawings(book, reader)
    yield from _wires(book, reader)
    yield from _plans(book, reader)
    yield from _files(book, reader)
    yield from _steps(book, reader)


# -- what it is --------------------------------------------------------------------------------------------------------


def _front(book: Book, reader: Reader) -> Iterator[Flowable]:
    evaluation = book.evaluation
    yield Paragraph(markup(evaluation.design.name), HEAD)
    yield said(say("Build book{date}", date=f", {book.date}" if book.date else ""), reader)
    yield Spacer(1.0, 8.0)
    yield _face(evaluation)
    yield Spacer(1.0, 8.0)
    yield said(verdict_of(book.findings).sentence, reader, PART)
    rows = [[said(name, reader), said(value, reader)] for name, value in _key_figures(evaluation)]
    yield Table(rows, colWidths=[150.0, WIDE - 150.0], style=table_style(("LINEBELOW", (0, 0), (-1, 0), 0.0, "white")))
    yield Spacer(1.0, 6.0)
    order = (State.FAILS, State.WATCH, State.GOOD)
    found = [one for state in order for one in book.findings if one.state is state]
    lines = [[said(_STATES[one.state], reader), said(one.sentence, reader)] for one in found]
    if lines:
        yield Table(lines, colWidths=[70.0, WIDE - 70.0], style=[("VALIGN", (0, 0), (-1, -1), "TOP")])


def _face(evaluation: Evaluation) -> Image:
    picture = face_picture(evaluation)
    high, wide = picture.shape[:2]
    scale = min(_PICTURE / wide, 0.3 * A4[1] / high)
    return Image(BytesIO(encode_png(picture)), width=wide * scale, height=high * scale, hAlign="LEFT")


def _key_figures(evaluation: Evaluation) -> Iterator[tuple[Text, Text]]:
    wide, high, _ = evaluation.opening_mm
    yield say("Lit face"), say("{wide} × {high}", wide=Length(round(wide, 1)), high=Length(round(high, 1)))
    if evaluation.evenness.mean_cd_m2 > 0:
        yield say("Luminance, mean"), say("{mean} cd/m²", mean=Number(evaluation.evenness.mean_cd_m2))
    power = evaluation.network.power
    for one in power.supplies if power is not None else ():
        yield (
            say("Supply, {volts} V", volts=Number(one.volts)),
            say("{amps} A with everything on, {watts} W on average", amps=Number(one.peak_a), watts=Number(one.mean_w)),
        )


def _cautions(book: Book, reader: Reader) -> Iterator[Flowable]:
    yield said(say("Before you begin"), reader, PART)
    named = dict.fromkeys(caution for one in book.findings for caution in one.cautions)
    named |= dict.fromkeys((Caution.MAINS, Caution.EYES, Caution.OVERHEAD))
    for caution in named:
        yield said(Words(caution.value), reader, CAUTION)
        yield Spacer(1.0, 3.0)
    yield said(
        say(
            "All figures are computed from typical values unless they were measured: your own reading counts for more."
        ),
        reader,
    )


# -- what it takes -----------------------------------------------------------------------------------------------------


def _materials(book: Book, reader: Reader) -> Iterator[Flowable]:
    yield said(say("What it takes"), reader, PART)
    yield bill_table(book.made, reader)
    tools = dict.fromkeys(tool for step in book.steps for tool in step.tools)
    if tools:
        yield said(say("Tools"), reader, NAME)
        yield Paragraph(markup(", ".join(reader.read(tool) for tool in tools)), PLAIN)


def _plans(book: Book, reader: Reader) -> Iterator[Flowable]:
    if not book.made.planned and not book.made.sheets:
        return
    yield PageBreak()
    yield said(say("Cutting"), reader, PART)
    for one in book.made.planned:
        yield from lengths_story(one, reader)
    for cut in book.made.sheets:
        yield from sheets_story(cut, reader)


def _files(book: Book, reader: Reader) -> Iterator[Flowable]:
    if not book.templates and not book.printed:
        return
    yield said(say("Templates and printed parts, in separate files"), reader, PART)
    rows = [[reader.read(one.view.name), f"{one.count}"] for one in book.templates]
    rows += [[f"{reader.read(one.name)} ({len(one.pieces)})", f"{one.count}"] for one in book.printed]
    yield Table(
        [[Paragraph(markup(name), PLAIN), count] for name, count in rows],
        colWidths=[WIDE - 60.0, 60.0],
        style=[("FONTSIZE", (0, 0), (-1, -1), 8.5), ("VALIGN", (0, 0), (-1, -1), "TOP")],
    )
    for printed in book.printed:
        for note in printed.notes:
            yield said(say("{part}: {note}", part=printed.name, note=note), reader)


# -- drawings and wires ------------------------------------------------------------------------------------------------


def _drawings(book: Book, reader: Reader) -> Iterator[Flowable]:
    evaluation = book.evaluation
    yield PageBreak()
    for view in views_of(evaluation.design, evaluation.layout):
        plan = View(view.key, view.name, view.reach_mm, tuple(one for one in view.layers if one.key not in _OVERLAYS))
        yield KeepTogether([said(view.name, reader, PART), drawn(plan, reader, WIDE, 0.42 * HIGH), Spacer(1.0, 8.0)])
    parts = parts_of(evaluation.design, evaluation.layout, evaluation.catalogue)
    apart = explosion(parts, plan_shapes(parts, evaluation.layout))
    if apart is not None:
        yield KeepTogether([said(apart.name, reader, PART), drawn(apart, reader, WIDE, 0.6 * HIGH), Spacer(1.0, 8.0)])
    power = evaluation.network.power
    if power is None:
        return
    for view in views_of(evaluation.design, evaluation.layout, power):
        if view.key == "section":
            continue
        layers = tuple(one for one in view.layers if one.key == "wiring" or one.key in _UNDER_WIRES)
        wired = View(view.key, view.name, view.reach_mm, layers)
        title = say("Wiring, from the front") if view.key == "plan" else say("Wiring, from the back, as it is soldered")
        yield KeepTogether([said(title, reader, PART), drawn(wired, reader, WIDE, 0.42 * HIGH), Spacer(1.0, 8.0)])


_UNDER_WIRES = ("plan-back", "plan-body", "plan-part", "plan-strip")
_OVERLAYS = ("data", "feed", "light", "current", "wiring", "heat", "parts", "emitters")


def _wires(book: Book, reader: Reader) -> Iterator[Flowable]:
    power = book.evaluation.network.power
    if power is None or not power.wires:
        return
    network = book.evaluation.network
    steps = soldering_steps(power, book.evaluation.layout.pieces, network.joints)
    place = {step.key: number for number, step in enumerate(book.steps, start=1)}
    step_of = {number: place.get(soldering_key(step), 0) for step in steps for number, _ in step.wires}
    heads = (say("Wire"), say("From"), say("To"), say("mm²"), say("Cut to"), say("Amps"), say("Fuse"), say("Step"))
    rows: list[list[Any]] = [[said(head, reader) for head in heads]]
    rows += [_wire_row(run, step_of.get(run.number, 0), reader) for run in runs_of(power)]
    yield said(say("Wires, both plus and minus"), reader, PART)
    wide = [32.0, 0.5 * (WIDE - 252.0), 0.5 * (WIDE - 252.0), 36.0, 54.0, 46.0, 44.0, 40.0]
    yield Table(rows, colWidths=wide, style=table_style(), repeatRows=1)


def _wire_row(run: Run, step: int, reader: Reader) -> list[Any]:
    ends = (said(pad_words(end), reader) for end in (run.start, run.end))
    fuse = "" if run.fuse_a is None else f"{run.fuse_a:g} A"
    cut = reader.read(Length(round(run.cut_mm)))
    return [str(run.number), *ends, f"{run.section_mm2:g}", cut, format_number(run.current_a), fuse, str(step or "")]


# -- steps -------------------------------------------------------------------------------------------------------------


def _steps(book: Book, reader: Reader) -> Iterator[Flowable]:
    evaluation, making = book.evaluation, book.made.making
    yield PageBreak()
    done = done_of(book.steps, making)
    yield said(say("Steps: {count}, {done} of them done", count=len(book.steps), done=done), reader, PART)
    shapes = plan_shapes(parts_of(evaluation.design, evaluation.layout, evaluation.catalogue), evaluation.layout)
    stage: Stage | None = None
    for number, step in enumerate(book.steps, start=1):
        title = [] if step.stage == stage else [said(STAGES[step.stage], reader, NAME)]
        stage = step.stage
        view = highlighted(evaluation.layout, shapes, step.parts) if any(one in shapes for one in step.parts) else None
        yield KeepTogether([*title, _step(number, step, making.record(step.key), view, reader)])


def _step(number: int, step: Step, record: StepRecord, view: View | None, reader: Reader) -> Table:
    """A step with its box, what is done and read on the left, where on the right."""
    text = [said(say("{number}. {title}", number=number, title=step.title), reader, _TITLE)]
    text += [said(say("- {line}", line=line), reader) for line in step.how]
    if step.tools:
        text.append(said(say("Tools: {tools}", tools=", ".join(reader.read(tool) for tool in step.tools)), reader))
    if step.test:
        text.append(said(say("Test: {test}", test=step.test), reader, _STRONG))
    text += [said(_reading(one), reader, _STRONG) for one in step.expected]
    if step.hold:
        text.append(said(say("Hold: {hold}", hold=step.hold), reader, _STRONG))
    for label in (step.meanwhile, say("Alternative: {way}", way=step.otherwise) if step.otherwise else ""):
        if label:
            text.append(said(label, reader))
    text += [said(say("Caution: {caution}", caution=one), reader, CAUTION) for one in step.cautions]
    if record.reading:
        text.append(said(say("Read: {reading}", reading=record.reading), reader, _STRONG))
    if record.note:
        text.append(said(record.note, reader))
    picture = drawn(view, reader, *_STEP_PICTURE, words=False) if view is not None else ""
    wide = [18.0, WIDE - 18.0 - _STEP_PICTURE[0] - 8.0, _STEP_PICTURE[0] + 8.0]
    style = [
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LINEBELOW", (0, -1), (-1, -1), 0.25, "grey"),
        ("LEFTPADDING", (0, 0), (0, 0), 0.0),
    ]
    return Table([[_tick(done=record.done), text, picture]], colWidths=wide, style=style)


def _tick(*, done: bool) -> Drawing:
    """A box to tick, ticked where it is done."""
    drawing = Drawing(_BOX, _BOX)
    drawing.add(Rect(0.5, 0.5, _BOX - 1.0, _BOX - 1.0, fillColor=None, strokeWidth=0.7))
    if done:
        drawing.add(PolyLine([2.0, 5.0, 4.5, 2.0, 8.5, 8.5], strokeWidth=1.2))
    return drawing


def _reading(one: Expected) -> Text:
    return say(
        "Read {what}: {low} to {high} {unit}   ______",
        what=one.what,
        low=Number(one.low),
        high=Number(one.high),
        unit=one.unit,
    )
