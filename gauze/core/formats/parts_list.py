"""The parts of a build as a list for a terminal, and as JSON for programs."""

import itertools
from collections import Counter
from typing import Any

import msgspec

from gauze.core.design import Design
from gauze.core.design.design import LONGEST_NAME
from gauze.core.layout.pieces import Piece, StripPiece
from gauze.core.parts import BodyPart, Fixing, Joint, Parts
from gauze.core.parts.pads import PADS_SOURCE, pads_of
from gauze.core.printable import printable
from gauze.core.units import LengthUnit, format_length
from gauze.core.words.reader import ENGLISH, Reader

_ANGLE = 1e-6  # degrees below which an end is cut square


def parts_text(design: Design, parts: Parts, unit: LengthUnit = LengthUnit.MM) -> str:
    """A line for each part: what it is and how large, how many of it there are; then what is joined to what."""
    lines = [printable(design.name, LONGEST_NAME), "", "Pieces"]
    lines += _grouped([(piece.id, _piece_words(piece, unit)) for piece in parts.pieces])
    if parts.emitter_numbers:
        numbers = parts.emitter_numbers
        lines.append(f"  {len(numbers)} emitters, emitter-{numbers[0]} to emitter-{numbers[-1]}")
    lines += ["", "Body"]
    lines += _grouped([(part.id, _body_words(part, unit)) for part in parts.body]) or ["  nothing to be made"]
    if parts.fixings:
        lines += ["", "Fixings"]
        lines += _grouped([(one.id, _fixing_words(one, unit)) for one in parts.fixings])
    if parts.joints:
        lines += ["", "Joints"]
        lines += [f"  {_joint_words(joint)}" for joint in parts.joints]
    if any(isinstance(piece, StripPiece) for piece in parts.pieces):
        lines += ["", f"Order of the pads: {PADS_SOURCE}."]
    return "\n".join(printable(line, most=max(len(line), 1)) for line in lines)


def _grouped(lines: list[tuple[str, str]]) -> list[str]:
    """One line for neighbours that are alike."""
    found = []
    for words, own in itertools.groupby(lines, key=lambda line: line[1]):
        ids = [line[0] for line in own]
        name = ids[0] if len(ids) == 1 else f"{ids[0]} to {ids[-1]} ({len(ids)})"
        found.append(f"  {name}: {words}")
    return found


def _piece_words(piece: Piece, unit: LengthUnit) -> str:
    pads = " ".join(pads_of(piece, "start"))
    if isinstance(piece, StripPiece):
        size = f"{format_length(piece.length_mm, unit)}, {_plural(piece.segments, 'segment')}"
        return f"{piece.strip.name}, {size}, {_plural(piece.emitters, 'LED')}, pads {pads}"
    return f"{piece.module.name}, {_plural(piece.emitters, 'LED')}, pads {pads}"


def _plural(count: int, word: str) -> str:
    return f"{count} {word}" if count == 1 else f"{count} {word}s"


def _body_words(part: BodyPart, unit: LengthUnit) -> str:
    size = f"{format_length(part.length_mm, unit)} × {format_length(part.width_mm, unit)}"
    if part.thickness_mm is not None:
        size += f" × {format_length(part.thickness_mm, unit)}"
    words = [f"{part.name}, {size}"]
    if part.places:
        words.append(f"in {_plural(part.count, 'place')}")
    if part.thickness_mm is None:
        words.append("thickness not chosen")
    cuts = [part.start_cut_deg, part.end_cut_deg]
    if any(abs(cut) > _ANGLE for cut in cuts):
        words.append("ends cut at " + " and ".join(f"{cut:.4g}°" for cut in cuts))
    for kind, of in (("hole", part.holes), ("groove", part.grooves), ("mark", part.marks)):
        if of:
            words.append(_plural(len(of), kind))
    return ", ".join(words)


def _fixing_words(one: Fixing, unit: LengthUnit) -> str:
    words = Reader(unit).read(one.name)
    ends = " and ".join(part for part in (one.through, one.into) if part)
    pilot = f", pilot hole {format_length(one.pilot_mm, unit)}" if one.pilot_mm is not None else ""
    return f"{words}, in {ends}{pilot}"


def _joint_words(joint: Joint) -> str:
    ends = [_end(joint.first, joint.first_end), _end(joint.second, joint.second_end)]
    through = f", through {joint.through}" if joint.through else ""
    return f"{joint.kind.replace('_', ' ')}: {ends[0]} to {ends[1]}{through}"


def _end(part: str, end: str | None) -> str:
    return part if end is None else f"{end} of {part}"


def parts_json(design: Design, parts: Parts) -> bytes:
    """Everything that is stated of the parts; its form is described in docs/design-file.md."""
    counts = Counter(type(piece).__name__ for piece in parts.pieces)
    body: dict[str, Any] = {
        "format": "gauze-parts",
        "version": 1,
        "design": design.name,
        "counts": {
            "strips": counts["StripPiece"],
            "modules": counts["ModulePiece"],
            "emitters": len(parts.emitter_numbers),
            "body": sum(part.count for part in parts.body),
            "joints": len(parts.joints),
            "fixings": len(parts.fixings),
        },
        "pads_source": PADS_SOURCE,
        "pieces": [_piece_values(piece) for piece in parts.pieces],
        "emitters": list(parts.emitter_numbers),
        "body": [_body_values(part) for part in parts.body],
        "joints": [
            {
                "id": joint.id,
                "kind": joint.kind,
                "first": {"part": joint.first, "end": joint.first_end},
                "second": {"part": joint.second, "end": joint.second_end},
                "through": joint.through or None,
            }
            for joint in parts.joints
        ],
        "fixings": [_fixing_values(one) for one in parts.fixings],
        "places": [
            {"id": one.id, "x_mm": one.x_mm, "y_mm": one.y_mm, "turn_deg": one.turn_deg} for one in parts.instances
        ],
    }
    return msgspec.json.format(msgspec.json.encode(body), indent=2) + b"\n"


def _piece_values(piece: Piece) -> dict[str, Any]:
    pads = {"start": pads_of(piece, "start"), "end": pads_of(piece, "end")}
    if isinstance(piece, StripPiece):
        return {
            "id": piece.id,
            "kind": "strip",
            "item": piece.strip.id,
            "name": piece.strip.name,
            "start_mm": piece.start_mm,
            "end_mm": piece.end_mm,
            "along": piece.along,
            "facing": piece.facing,
            "length_mm": piece.length_mm,
            "segments": piece.segments,
            "segment_mm": piece.strip.segment_mm,
            "emitters": piece.emitters,
            "start_gap_mm": piece.start_gap_mm,
            "end_gap_mm": piece.end_gap_mm,
            "zone": piece.zone,
            "lit": piece.lit,
            "levels": piece.choice.levels_for(piece.strip),
            "pads": pads,
        }
    return {
        "id": piece.id,
        "kind": "module",
        "item": piece.module.id,
        "name": piece.module.name,
        "middle_mm": piece.place_mm,
        "along": piece.along,
        "facing": piece.facing,
        "columns": piece.module.columns,
        "rows": piece.module.rows,
        "emitters": piece.emitters,
        "levels": piece.choice.levels_for(piece.module),
        "pads": pads,
    }


def _body_values(part: BodyPart) -> dict[str, Any]:
    return {
        "id": part.id,
        "kind": part.kind,
        "use": part.use,
        "name": part.name,
        "count": part.count,
        "places": part.places,
        "length_mm": part.length_mm,
        "width_mm": part.width_mm,
        "thickness_mm": part.thickness_mm,
        "material": part.material or None,
        "outline_mm": None if part.outline_mm is None else part.outline_mm.tolist(),
        "start_cut_deg": part.start_cut_deg,
        "end_cut_deg": part.end_cut_deg,
        "placement": {
            "origin_mm": part.placement.origin_mm,
            "right": part.placement.right,
            "up": part.placement.up,
        },
        "holes": [_values(hole) for hole in part.holes],
        "grooves": [_values(groove) for groove in part.grooves],
        "marks": [_values(mark) for mark in part.marks],
    }


def _fixing_values(one: Fixing) -> dict[str, Any]:
    return {**_values(one), "name": ENGLISH.read(one.name)}


def _values(of: Any) -> dict[str, Any]:
    return {name: getattr(of, name) for name in of.__dataclass_fields__}
