"""Readings that could be taken of a build: at pieces, their ends, the supply, the face and in front of it."""

import numpy as np

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.proving.places import FACE, SUPPLY, TARGET
from gauze.core.proving.predicting import Asked, BareCircuit

_MOST_PIECES = 40


def candidates_of(evaluation: Evaluation, taken: set[Asked]) -> list[Asked]:
    """Return readings that a builder could take next; those that are taken are left out."""
    found: list[Asked] = []
    power = evaluation.network.power
    if power is not None:
        pieces = power.pieces
        step = max(1, len(pieces) // _MOST_PIECES)
        for piece in pieces[::step]:
            ends = (f"{piece.id} start", f"{piece.id} end") if len(piece.volts_v) > 1 else (piece.id,)
            found += [("volts", end) for end in ends]
        found += [("amps", SUPPLY), ("volts", SUPPLY), ("amps", pieces[0].id)]
    if float(evaluation.xyz[1].max(initial=0.0)) > 0:
        found += [("cd_m2", FACE), *_on_face(evaluation)]
        if evaluation.target_lx > 0:
            found.append(("lux", TARGET))
    return [one for one in dict.fromkeys(found) if one not in taken]


def _on_face(evaluation: Evaluation) -> list[Asked]:
    """The middle of the face, and a corner of it."""
    wide, high = evaluation.light.size_mm
    found: list[Asked] = []
    for share in (0.5, 1.0 / 12.0):
        column = int(np.clip(share * len(evaluation.x_mm), 0, len(evaluation.x_mm) - 1))
        row = int(np.clip(share * len(evaluation.y_mm), 0, len(evaluation.y_mm) - 1))
        if evaluation.inside[row, column]:
            found.append(("cd_m2", f"{share * wide:.4g},{share * high:.4g}"))
    return found


def candidates_of_circuit(bare: BareCircuit, taken: set[Asked]) -> list[Asked]:
    """Return readings that could be taken of a bare circuit."""
    found: list[Asked] = [("volts", node) for node in bare.nodes[:200]]
    found += [("amps", one) for one in bare.supplies[:50]]
    found += [("amps", one) for one in bare.loads[:200]]
    return [one for one in found if one not in taken]
