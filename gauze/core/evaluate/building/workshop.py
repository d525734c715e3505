"""What the place Make shows beside the cutting: the steps, the list of parts, and where each lies in the plan."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from gauze.core.drawing.part_sections import section_shapes
from gauze.core.drawing.part_shapes import part_under, plan_shapes
from gauze.core.evaluate.building.model import Step
from gauze.core.evaluate.building.steps import steps_of
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.findings.weight import weight_of
from gauze.core.evaluate.made import MadeBuild
from gauze.core.families import parts_of
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import Piece, StripPiece
from gauze.core.making.weight import WIRES
from gauze.core.parts import BodyPart, Fixing
from gauze.core.parts.frame.joinery import is_box
from gauze.core.words import Length, Text, say


@dataclass(frozen=True)
class PartRow:
    """Parts that are alike: what they are, how large, how heavy all of them are, and the ids by which they are picked."""

    name: Text
    size: Text
    kg: float
    ids: tuple[str, ...]


@dataclass(frozen=True)
class Workshop:
    """Steps and parts of a design; ``shapes`` are outlines in the plan, ``sections`` in the side cut, by id, (n, 2) in mm.

    ``boxed`` says that it is a box of boards, so that there is something to choose of its frame.
    """

    steps: tuple[Step, ...]
    rows: tuple[PartRow, ...]
    shapes: Mapping[str, FloatArray]
    sections: Mapping[str, FloatArray] = field(default_factory=dict)
    boxed: bool = False

    def row_of(self, part_id: str) -> int | None:
        """Number of the row that a part stands in."""
        return next((index for index, row in enumerate(self.rows) if part_id in row.ids), None)

    def part_at(self, x_mm: float, y_mm: float) -> str | None:
        """Return the smallest part under a place of the plan; None where none lies."""
        return part_under(self.shapes, x_mm, y_mm)

    def part_in_cut(self, across_mm: float, z_mm: float) -> str | None:
        """Return the smallest part at a place of the side cut; None where none lies."""
        return part_under(self.sections, across_mm, z_mm)


def workshop_of(evaluation: Evaluation, made: MadeBuild) -> Workshop:
    """Return what the place Make shows of a design."""
    parts = parts_of(evaluation.design, evaluation.layout, evaluation.catalogue)
    weights = {one.id: one.kg for one in weight_of(evaluation).parts}
    rows = [*_pieces(parts.pieces, weights), *_body(parts.body, weights), *_fixings(parts.fixings, weights)]
    if WIRES in weights:
        rows.append(PartRow(say("All wires"), "", weights[WIRES], (WIRES,)))
    shapes = plan_shapes(parts, evaluation.layout)
    sections = section_shapes(parts, evaluation.layout, shapes)
    return Workshop(steps_of(evaluation, made), tuple(rows), shapes, sections, is_box(parts))


def _pieces(pieces: Sequence[Piece], weights: Mapping[str, float]) -> list[PartRow]:
    alike: dict[tuple[str, float], list[Piece]] = {}
    for piece in pieces:
        if isinstance(piece, StripPiece):
            alike.setdefault((piece.strip.name, round(piece.length_mm, 1)), []).append(piece)
        else:
            alike.setdefault((piece.module.name, 0.0), []).append(piece)
    found = []
    for (name, length), some in alike.items():
        first = some[0]
        size: Text = Length(length)
        if not isinstance(first, StripPiece):
            module = first.module
            size = say(
                "{wide} × {high}",
                wide=Length(round(module.columns * module.pitch_mm, 1)),
                high=Length(round(module.rows * module.pitch_mm, 1)),
            )
        ids = tuple(piece.id for piece in some)
        found.append(PartRow(name, size, sum(weights.get(one, 0.0) for one in ids), ids))
    return found


def _body(body: Sequence[BodyPart], weights: Mapping[str, float]) -> list[PartRow]:
    alike: dict[tuple[object, ...], list[BodyPart]] = {}
    for part in body:
        size = round(part.length_mm, 1), round(part.width_mm, 1), part.thickness_mm
        alike.setdefault((part.name, part.material, *size), []).append(part)
    found = []
    for some in alike.values():
        first = some[0]
        wide, high = Length(round(first.length_mm, 1)), Length(round(first.width_mm, 1))
        size_words: Text = say("{wide} × {high}", wide=wide, high=high)
        if first.thickness_mm is not None:
            size_words = say(
                "{wide} × {high} × {thick}", wide=wide, high=high, thick=Length(round(first.thickness_mm, 2))
            )
        ids = tuple(name for part in some for name in part.ids())
        found.append(PartRow(first.name, size_words, sum(weights.get(one, 0.0) for one in ids), ids))
    return found


def _fixings(fixings: Sequence[Fixing], weights: Mapping[str, float]) -> list[PartRow]:
    alike: dict[Text, list[str]] = {}
    for one in fixings:
        alike.setdefault(one.name, []).append(one.id)
    return [PartRow(name, "", sum(weights.get(one, 0.0) for one in ids), tuple(ids)) for name, ids in alike.items()]
