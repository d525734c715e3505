"""What is cut to length for a build: pieces of strip, channel, lens, board, tube and wire, by material."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

from gauze.core.design.making import Making
from gauze.core.electrical.power import Power
from gauze.core.electrical.wire_list import runs_of
from gauze.core.layout.pieces import StripPiece
from gauze.core.making.cutting import Wanted
from gauze.core.parts import BodyPart, Parts
from gauze.core.words import Length, Number, Text, say

Material = Literal["strip", "profile", "lens", "board", "tube", "wire"]
# in what lengths it is usually sold, mm; common practice, no source
USUAL_MM: dict[Material, float] = {
    "strip": 5000.0,
    "profile": 2000.0,
    "lens": 2000.0,
    "board": 2400.0,
    "tube": 2000.0,
    "wire": 10_000.0,
}
_SAWN: tuple[Material, ...] = ("profile", "lens", "board", "tube")
_ROUND_MM = 0.1


@dataclass(frozen=True)
class CutPiece:
    """Pieces of one length: the ids of the parts that they are, its cut angles where its ends are not square."""

    ids: tuple[str, ...]
    length_mm: float
    start_cut_deg: float = 0.0
    end_cut_deg: float = 0.0

    @property
    def name(self) -> str:
        """The id of the first, and how many there are."""
        return self.ids[0] if len(self.ids) == 1 else f"{self.ids[0]} … {self.ids[-1]}"


@dataclass(frozen=True)
class CutList:
    """All pieces of one material, longest first.

    ``size_mm`` is its section: width and thickness or depth, where it has such; of a wire its section in mm² is ``area_mm2``.
    """

    key: str
    material: Material
    name: Text
    pieces: tuple[CutPiece, ...]
    item: str = ""
    size_mm: tuple[float, float] | None = None
    area_mm2: float | None = None

    @property
    def sawn(self) -> bool:
        """Whether a saw takes a kerf from it: strip and wire are cut with scissors."""
        return self.material in _SAWN

    @property
    def total_mm(self) -> float:
        """Length of all pieces of one build."""
        return sum(piece.length_mm * len(piece.ids) for piece in self.pieces)

    def wanted(self, making: Making) -> list[Wanted]:
        """What is cut of it: for all copies, with the spares, each named by its part."""
        found = []
        for piece in self.pieces:
            count = len(piece.ids) * making.copies
            spares = 0 if making.spare_one_in is None else math.ceil(count / making.spare_one_in)
            for copy in range(making.copies):
                suffix = "" if making.copies == 1 else f" ({copy + 1})"
                found += [Wanted(f"{part}{suffix}", piece.length_mm) for part in piece.ids]
            if spares:
                found.append(Wanted("spare", piece.length_mm, spares))
        return found


def cut_lists(parts: Parts, power: Power | None, making: Making) -> list[CutList]:
    """Return the lists of everything that is cut to length; wire only where the circuit is known."""
    return [*_strips(parts), *_bodies(parts, making), *_wires(power)]


def _strips(parts: Parts) -> list[CutList]:
    found: dict[str, list[StripPiece]] = {}
    for piece in parts.pieces:
        if isinstance(piece, StripPiece):
            found.setdefault(piece.strip.id, []).append(piece)
    return [
        CutList(
            f"strip:{key}",
            "strip",
            pieces[0].strip.name,
            _grouped((piece.id, piece.length_mm, 0.0, 0.0) for piece in pieces),
            item=key,
        )
        for key, pieces in found.items()
    ]


def _bodies(parts: Parts, making: Making) -> list[CutList]:
    rows: dict[tuple[Material, str], list[BodyPart]] = {}
    for part in parts.body:
        material = _material_of(part)
        if material is not None:
            rows.setdefault((material, _section_key(material, part, making.wall_mm)), []).append(part)
    found = []
    for (material, section), some in rows.items():
        first = some[0]
        thick_mm = making.wall_mm if material == "board" and first.thickness_mm is None else first.thickness_mm
        pieces = _grouped(
            (name, outer_length_mm(part, making.wall_mm), part.start_cut_deg, part.end_cut_deg)
            for part in some
            for name in part.ids()
        )
        size = (first.width_mm, thick_mm or 0.0)
        found.append(
            CutList(f"{material}:{section}", material, _name_of(material, first, thick_mm), pieces, size_mm=size)
        )
    return found


def outer_length_mm(part: BodyPart, wall_mm: float | None) -> float:
    """Length of a part along its longest edge; of a wall of boards of a chosen thickness, past its inner corners.

    Of four walls that meet square the right and the left one run past the ends of the others.
    """
    if part.use != "wall" or part.thickness_mm is not None or wall_mm is None:
        return part.length_mm
    cuts = part.start_cut_deg, part.end_cut_deg
    if any(cuts):
        return part.length_mm + wall_mm * sum(math.tan(math.radians(cut)) for cut in cuts)
    return part.length_mm + (2.0 * wall_mm if part.id.endswith(("wall-right", "wall-left")) else 0.0)


def _material_of(part: BodyPart) -> Material | None:
    if part.kind in ("profile", "lens", "tube"):
        return "profile" if part.kind == "profile" else "lens" if part.kind == "lens" else "tube"
    return "board" if part.kind == "member" else None


def _section_key(material: Material, part: BodyPart, wall_mm: float | None) -> str:
    """Key of a section; of boards that are as thick as chosen it does not name that, so that prices stay when it changes."""
    width = f"{part.width_mm:.4g}"
    if material == "lens":
        return f"{width} {part.material}"
    chosen = part.kind == "member" and not part.places and part.thickness_mm == wall_mm
    return width if part.thickness_mm is None or chosen else f"{width} x {part.thickness_mm:.4g}"


def _name_of(material: Material, part: BodyPart, thick_mm: float | None) -> Text:
    wide = Length(round(part.width_mm, 2))
    if material == "lens":
        return say("{name}, {wide} wide", name=part.material, wide=wide)
    if material == "tube":
        return say("{name}, {wide} outside", name=part.material, wide=wide)
    if material == "profile":
        return say("Channel, {wide} × {deep} outside", wide=wide, deep=Length(round(part.thickness_mm or 0.0, 2)))
    if thick_mm is None:
        return say("Board, {wide} high, thickness not chosen", wide=wide)
    return say("Board, {wide} × {thick}", wide=wide, thick=Length(round(thick_mm, 2)))


def _wires(power: Power | None) -> list[CutList]:
    if power is None:
        return []
    rows: dict[float, list[tuple[str, float, float, float]]] = {}
    for run in runs_of(power):
        for one in run.wires:
            rows.setdefault(run.section_mm2, []).append(
                (f"wire {run.number} {one.wire.conductor}", run.cut_mm, 0.0, 0.0)
            )
    return [
        CutList(
            f"wire:{section:g}",
            "wire",
            say("Wire, {section} mm²", section=Number(section)),
            _grouped(own),
            area_mm2=section,
        )
        for section, own in sorted(rows.items())
    ]


def _grouped(pieces: Iterable[tuple[str, float, float, float]]) -> tuple[CutPiece, ...]:
    """Pieces of one length and the same cuts together, the longest first."""
    found: dict[tuple[float, float, float], list[str]] = {}
    for name, length, start, end in pieces:
        key = round(length / _ROUND_MM) * _ROUND_MM, round(start, 2), round(end, 2)
        found.setdefault(key, []).append(name)
    order: Sequence[tuple[float, float, float]] = sorted(found, key=lambda key: (-key[0], key[1], key[2]))
    return tuple(CutPiece(tuple(found[key]), round(key[0], 1), key[1], key[2]) for key in order)
