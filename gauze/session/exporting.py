"""Everything that is written of a design, as files by their names."""

import importlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from gauze.core.design import Design
from gauze.core.drawing.explosion import explosion
from gauze.core.drawing.part_shapes import plan_shapes
from gauze.core.drawing.templates import mirrored, templates_of
from gauze.core.electrical.data_line import pixel_runs
from gauze.core.electrical.soldering import soldering_steps
from gauze.core.errors import GauzeError
from gauze.core.evaluate import Detail, Evaluation, evaluate, find
from gauze.core.evaluate.building.steps import steps_of
from gauze.core.evaluate.made import USUAL, MadeBuild, made_of
from gauze.core.evaluate.stages import computed_for_drawing
from gauze.core.families import parts_of
from gauze.core.formats.drawing_file import encode_drawing
from gauze.core.formats.drawing_svg import encode_svg
from gauze.core.formats.ies import encode_ies
from gauze.core.formats.making_csv import encode_bill, encode_sheets
from gauze.core.formats.making_file import ENDINGS, encode_making
from gauze.core.formats.parts_list import parts_json
from gauze.core.formats.picture import encode_png, face_picture
from gauze.core.formats.pixel_map import encode_pixel_map
from gauze.core.formats.power_report import power_json
from gauze.core.formats.report import report_text
from gauze.core.formats.solid_file import solid_files
from gauze.core.formats.template_file import encode_templates
from gauze.core.formats.wire_list import encode_wire_list
from gauze.core.making.solids.printed import printed_parts
from gauze.core.materials import Catalogue
from gauze.core.materials.labels import Thing
from gauze.core.words import ENGLISH, Reader

_PIXELS = 60_000  # of the light that is looked at


@dataclass(frozen=True)
class _Whole:
    """A design with what is computed of it, each when it is first asked for."""

    design: Design
    catalogue: Catalogue
    things: Sequence[Thing]
    reader: Reader = ENGLISH

    @cached_property
    def evaluation(self) -> Evaluation:
        return evaluate(self.design, self.catalogue, Detail(fineness=1.0, most_pixels=_PIXELS))

    @cached_property
    def made(self) -> MadeBuild:
        return made_of(self.design, self.catalogue, self.things)


def _findings(one: _Whole) -> Mapping[str, bytes]:
    return {"findings.txt": (report_text(one.design, find(one.evaluation)) + "\n").encode()}


def _picture(one: _Whole) -> Mapping[str, bytes]:
    return {"lit-face.png": encode_png(face_picture(one.evaluation))}


def _ies(one: _Whole) -> Mapping[str, bytes]:
    return {"light.ies": encode_ies(one.evaluation)}


def _drawing(one: _Whole) -> Mapping[str, bytes]:
    layout = one.evaluation.layout
    computed = computed_for_drawing(one.design, layout, one.catalogue)
    parts = parts_of(one.design, layout, one.catalogue)
    apart = explosion(parts, plan_shapes(parts, layout))
    taken = {} if apart is None else {"taken-apart.svg": encode_svg(one.design.name, [apart])}
    return taken | {
        f"drawing{kind}": encode_drawing(one.design, layout, kind, *computed) for kind in (".svg", ".dxf", ".pdf")
    }


def _parts(one: _Whole) -> Mapping[str, bytes]:
    return {"parts.json": parts_json(one.design, parts_of(one.design, one.evaluation.layout, one.catalogue))}


def _power(one: _Whole) -> Mapping[str, bytes]:
    found = one.evaluation
    return {"power.json": power_json(one.design, found.network, find(found), warmth=found.warmth)}


def _wires(one: _Whole) -> Mapping[str, bytes]:
    network = one.evaluation.network
    if network.power is None:
        return {}
    steps = soldering_steps(network.power, one.evaluation.layout.pieces, network.joints)
    return {"wires.csv": encode_wire_list(one.design, network.power, steps)}


def _pixels(one: _Whole) -> Mapping[str, bytes]:
    runs = pixel_runs(one.evaluation.layout.pieces, one.evaluation.network.joints)
    return {f"pixels{kind}": encode_pixel_map(one.design, runs, kind) for kind in (".csv", ".json")} if runs else {}


def _cuts(one: _Whole) -> Mapping[str, bytes]:
    lengths = {f"cuts{ending}": encode_making(one.design.name, one.made, ending, one.reader) for ending in ENDINGS}
    return {**lengths, "sheets.csv": encode_sheets(one.made)}


def _templates(one: _Whole) -> Mapping[str, bytes]:
    making = one.design.making or USUAL
    layout = one.evaluation.layout
    found = templates_of(parts_of(one.design, layout, one.catalogue), layout, making.wall_mm)
    if not found:
        return {}
    name, paper = one.design.name, making.paper
    turned = [mirrored(template) for template in found]
    written = {f"templates{ending}": encode_templates(name, found, ending, paper) for ending in (".dxf", ".svg")}
    try:
        written["templates.pdf"] = encode_templates(name, found, ".pdf", paper, one.reader)
        written["templates-mirrored.pdf"] = encode_templates(name, turned, ".pdf", paper, one.reader)
    except GauzeError as error:  # too many pages: all else is written, and why these are not
        written["templates-not-written.txt"] = f"{one.reader.read_error(error)}\n".encode()
    return written


def _printed(one: _Whole) -> Mapping[str, bytes]:
    layout = one.evaluation.layout
    parts = parts_of(one.design, layout, one.catalogue)
    found = printed_parts(one.design, layout, parts, (one.design.making or USUAL).printing)
    return solid_files(one.design.name, found, one.reader)


def _book(one: _Whole) -> Mapping[str, bytes]:
    return {"build-book.pdf": book_of(one.evaluation, one.made, one.reader)}


def book_of(evaluation: Evaluation, made: MadeBuild, reader: Reader = ENGLISH) -> bytes:
    """Return the build book of an evaluated design, with what it takes from the shelf planned."""
    # what writes PDF takes a while to load: only who writes it waits
    module = importlib.import_module("gauze.core.formats.build_book")
    design, layout = evaluation.design, evaluation.layout
    parts = parts_of(design, layout, evaluation.catalogue)
    making = made.making
    book = module.Book(
        evaluation,
        find(evaluation),
        made,
        steps_of(evaluation, made),
        templates_of(parts, layout, making.wall_mm),
        printed_parts(design, layout, parts, making.printing),
    )
    data: bytes = module.encode_build_book(book, reader)
    return data


def _bill(one: _Whole) -> Mapping[str, bytes]:
    return {"bill.csv": encode_bill(one.made)}


KINDS: dict[str, Callable[[_Whole], Mapping[str, bytes]]] = {
    "findings": _findings,
    "picture": _picture,
    "ies": _ies,
    "drawing": _drawing,
    "parts": _parts,
    "power": _power,
    "wires": _wires,
    "pixels": _pixels,
    "cuts": _cuts,
    "bill": _bill,
    "templates": _templates,
    "printed": _printed,
    "book": _book,
}


def files_of(
    design: Design,
    catalogue: Catalogue,
    things: Sequence[Thing],
    kinds: Sequence[str],
    stem: str,
    reader: Reader = ENGLISH,
) -> dict[str, bytes]:
    """Return the files of some kinds, by their names: those of a kind that a design does not have are left out.

    Raises
    ------
    GauzeError
        When the design is invalid.
    """
    whole = _Whole(design, catalogue, things, reader)
    return {f"{stem}-{name}": data for kind in kinds for name, data in KINDS[kind](whole).items()}


def known_kinds(words: Sequence[str]) -> tuple[str, ...]:
    """Return the kinds that are named, each once, all where none is; raises :class:`GauzeError` for one that is not known."""
    for word in words:
        if word not in KINDS:
            raise GauzeError("There is no “{word}” to export: choose of {kinds}.", word=word, kinds=", ".join(KINDS))
    return tuple(dict.fromkeys(words)) or tuple(KINDS)
