"""Pixels in the order of the data: which index lies where, and how long a picture takes to send.

One-wire pixels at 800 kHz take 1.25 us a bit, 8 bits a colour, and 300 us of silence to show what was sent (50 to 300 us by
kind): common practice, from memory.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import ModulePiece, Piece, StripPiece
from gauze.core.layout.pixel_order import order_on_board
from gauze.core.parts import Joint
from gauze.core.parts.joining import CONTROLLER, carries_data

BIT_S, LATCH_S, BITS = 1.25e-6, 300e-6, 8
SOURCE = "one-wire pixels at 800 kHz, common practice, from memory"


@dataclass(frozen=True)
class PixelRun:
    """The pixels of one piece, in the order of the data, and the index of the first."""

    of: Piece
    first: int

    @property
    def piece(self) -> str:
        """Id of the piece."""
        return self.of.id

    @property
    def count(self) -> int:
        """Number of pixels."""
        if isinstance(self.of, StripPiece):
            return self.of.segments
        return self.of.module.columns * self.of.module.rows

    @property
    def colours(self) -> int:
        """Values that each pixel is sent."""
        return len(self.of.strip.channel if isinstance(self.of, StripPiece) else self.of.module.channel)

    @property
    def last(self) -> int:
        """Index of the last."""
        return self.first + self.count - 1

    @property
    def places_mm(self) -> FloatArray:
        """Places of all, (n, 3)."""
        return _places(self.of)


def pixel_runs(pieces: Sequence[Piece], joints: Sequence[Joint]) -> tuple[PixelRun, ...]:
    """Return the pixels of all pieces that carry data, in its order; none for a build without.

    Where the data branch, one branch is numbered to its end before the next.
    """
    by_id = {piece.id: piece for piece in pieces if carries_data(piece)}
    following: dict[str, list[str]] = {}
    for joint in joints:
        if joint.kind == "data" and joint.second in by_id:
            following.setdefault(joint.first, []).append(joint.second)
    found: list[PixelRun] = []
    waiting = list(reversed(following.get(CONTROLLER, [])))
    met: set[str] = set()
    first = 0
    while waiting:
        name = waiting.pop()
        if name in met:
            continue
        met.add(name)
        run = PixelRun(by_id[name], first)
        found.append(run)
        first = run.last + 1
        waiting += reversed(following.get(name, []))
    return tuple(found)


def branches_of(joints: Sequence[Joint]) -> list[str]:
    """Return the pieces from which the data go on to more than one."""
    counts: dict[str, int] = {}
    for joint in joints:
        if joint.kind == "data" and joint.first != CONTROLLER:
            counts[joint.first] = counts.get(joint.first, 0) + 1
    return [name for name, count in counts.items() if count > 1]


def _places(piece: Piece) -> FloatArray:
    if isinstance(piece, StripPiece):
        along = (np.arange(piece.segments) + 0.5) * piece.strip.segment_mm
        return np.asarray(np.array(piece.start_mm) + along[:, None] * np.array(piece.along))
    return _on_board(piece)


def _on_board(piece: ModulePiece) -> FloatArray:
    """The board's pixels as its data run through them."""
    module = piece.module
    x = (np.arange(module.columns) - (module.columns - 1) / 2.0) * module.pitch_mm
    y = (np.arange(module.rows) - (module.rows - 1) / 2.0) * module.pitch_mm
    right = np.array(piece.along)
    up = np.cross(np.array(piece.facing), right)
    on_board = (y[:, None, None] * up + x[None, :, None] * right).reshape(-1, 3)
    order = order_on_board(module.columns, module.rows, piece.choice.order)
    return np.asarray(np.array(piece.place_mm) + on_board[order])


def picture_s(runs: Sequence[PixelRun], lines: int = 1) -> float:
    """Time to send one picture, shared evenly by so many lines."""
    bits = sum(run.count * run.colours * BITS for run in runs)
    return bits * BIT_S / lines + LATCH_S


def lines_for(runs: Sequence[PixelRun], pictures_per_s: float) -> int:
    """Fewest lines that send so many pictures a second."""
    bits = sum(run.count * run.colours * BITS for run in runs)
    room_s = 1.0 / pictures_per_s - LATCH_S
    return max(int(np.ceil(bits * BIT_S / room_s - 1e-9)), 1)


def bytes_of(runs: Sequence[PixelRun]) -> int:
    """Memory of one picture."""
    return sum(run.count * run.colours for run in runs)
