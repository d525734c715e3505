"""The joints that a family has unless its wiring is changed: pieces side by side on a bus, or one after the other."""

import itertools
from collections.abc import Sequence

from gauze.core.layout.pieces import Piece, StripPiece
from gauze.core.parts.model import End, Joint, JointKind

BUS = "bus-1"  # the pair of conductors that the supply feeds
CONTROLLER = "controller-1"


def carries_data(piece: Piece) -> bool:
    """Whether a piece has a data line that is passed on from one to the next."""
    return piece.strip.kind == "pixel" if isinstance(piece, StripPiece) else piece.module.kind != "chip"


def on_a_bus(pieces: Sequence[Piece], through: str = "") -> list[Joint]:
    """Feed every piece at its start from one bus; the data, where there are any, go from one to the next, in this order."""
    found = [Joint(f"supply-{piece.id}", "supply", BUS, None, piece.id, "start", through) for piece in pieces]
    return found + data_chain(pieces, through)


def in_a_row(pieces: Sequence[Piece], through: str = "") -> list[Joint]:
    """Feed the first piece from the bus and each other one from the end of the one before; the data take the same way."""
    if not pieces:
        return []
    found = [Joint(f"supply-{pieces[0].id}", "supply", BUS, None, pieces[0].id, "start", through)]
    found += [joined("supply", one, other) for one, other in itertools.pairwise(pieces)]
    return found + data_chain(pieces, through)


def data_chain(pieces: Sequence[Piece], through: str = "") -> list[Joint]:
    """Data from the controller through pieces in their order; none where they carry none."""
    if not pieces or not carries_data(pieces[0]):
        return []
    first = Joint(f"data-{pieces[0].id}", "data", CONTROLLER, None, pieces[0].id, "start", through)
    return [first, *(joined("data", one, other) for one, other in itertools.pairwise(pieces))]


def joined(kind: JointKind, one: Piece, other: Piece, through: str = "", end: End = "end") -> Joint:
    """Join the end of a piece to the start of another."""
    return Joint(f"{kind}-{other.id}", kind, one.id, end, other.id, "start", through)
