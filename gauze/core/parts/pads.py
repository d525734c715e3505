"""The pads at the ends of strips and modules, in the order in which they lie across.

Which conductor lies where differs from make to make: the order here is common practice, no source, and is said to be so
wherever it is shown. A builder follows the print on the strip.
"""

from typing import Literal

from gauze.core.layout.pieces import Piece, StripPiece

PADS_SOURCE = "common practice, no source: go by the print on the strip"
End = Literal["start", "end"]


def pads_of(piece: Piece, end: End) -> tuple[str, ...]:
    """Return the pads at an end, from left to right as seen along the strip with its LEDs towards you.

    A pixel strip carries data one way: it has a data input at its start and an output at its end. An analog strip has a common
    plus and a return for each channel, the same at both ends.
    """
    channels = piece.strip.channel if isinstance(piece, StripPiece) else piece.module.channel
    kind = piece.strip.kind if isinstance(piece, StripPiece) else _module_kind(piece.module.kind)
    if kind == "pixel":
        return ("+", "data in" if end == "start" else "data out", "\N{MINUS SIGN}")
    if len(channels) == 1:
        return ("+", "\N{MINUS SIGN}")
    return ("+", *(channel.name for channel in channels))


def _module_kind(kind: str) -> Literal["analog", "pixel"]:
    return "analog" if kind == "chip" else "pixel"
