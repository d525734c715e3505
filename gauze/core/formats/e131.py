"""Levels of pixels as packets of ANSI E1.31-2018 (streaming ACN), and back.

A universe is 512 bytes; of these 510 are used, 170 pixels of three, so that no pixel is divided between two universes. The packet
itself is made by a library; what it does not check on reading is checked here, since anything may arrive at a port.
"""

from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
from sacn.messages.data_packet import DataPacket

from gauze.core.errors import FormatError
from gauze.core.layout.model import FloatArray

PORT = 5568  # of the standard
PIXELS_PER_UNIVERSE = 170
MOST_UNIVERSE = 63_999
SOURCE = "Gauze"
ColourOrder = Literal["RGB", "RBG", "GRB", "GBR", "BRG", "BGR"]
ORDERS: tuple[ColourOrder, ...] = get_args(ColourOrder)
_HEAD = bytes([0x00, 0x10, 0x00, 0x00]) + b"ASC-E1.17\x00\x00\x00"  # preamble, postamble, ACN packet identifier
_SHORTEST = 126  # bytes, with no level at all
_LONGEST = 638


@dataclass(frozen=True)
class Universe:
    """What one packet says: the levels of a universe, 0 to 255; ``sequence`` counts the packets of a universe."""

    number: int
    sequence: int
    levels: bytes


def encode_universe(universe: Universe, cid: bytes) -> bytes:
    """Write a packet; ``cid`` are the sixteen bytes that name the sender. Raises :class:`ValueError` for what no packet holds."""
    packet = DataPacket(
        cid=tuple(cid),
        sourceName=SOURCE,
        universe=universe.number,
        dmxData=tuple(universe.levels),
        sequence=universe.sequence % 256,
    )
    return bytes(packet.getBytes())


def decode_universe(data: bytes) -> Universe:
    """Read a packet.

    Raises
    ------
    FormatError
        When it is none of the standard's data packets, is cut off, or says another length than it has.
    """
    if not _SHORTEST <= len(data) <= _LONGEST or not data.startswith(_HEAD):
        raise FormatError("This is not an E1.31 packet; it was ignored.")
    for place, behind in ((16, 16), (38, 38), (115, 115)):  # flags and length of the root, framing and DMP layers
        if int.from_bytes(data[place : place + 2]) != 0x7000 | (len(data) - behind):
            raise FormatError("A packet states a length that it does not have; it was ignored.")
    count = int.from_bytes(data[123:125])
    if data[118:123] != bytes([0xA1, 0x00, 0x00, 0x00, 0x01]) or count != len(data) - 125:
        raise FormatError("A packet does not carry levels; it was ignored.")
    if data[125] != 0:
        raise FormatError("A packet has a start code other than that of levels; it was ignored.")
    try:
        packet = DataPacket.make_data_packet(list(data))
    except (TypeError, ValueError, IndexError):
        raise FormatError("This is not an E1.31 data packet; it was ignored.") from None
    return Universe(packet.universe, packet.sequence, data[126:])


def universes_of(levels: FloatArray, order: ColourOrder, first: int = 1) -> list[tuple[int, bytes]]:
    """Divide the levels of pixels among universes, from ``first`` on.

    ``levels`` is (n, 3), red, green and blue from 0 to 1, in the order of the data.

    Raises
    ------
    ValueError
        When there are more than there are universes.
    """
    columns = ["RGB".index(letter) for letter in order]
    flat = np.rint(np.clip(levels, 0.0, 1.0)[:, columns] * 255.0).astype(np.uint8)
    count = -(-len(flat) // PIXELS_PER_UNIVERSE)
    if not 1 <= first <= MOST_UNIVERSE - count + 1:
        raise ValueError(f"{count} universes from {first} on: the last there is is {MOST_UNIVERSE}")
    parts = (flat[number * PIXELS_PER_UNIVERSE : (number + 1) * PIXELS_PER_UNIVERSE] for number in range(count))
    return [(first + number, part.tobytes()) for number, part in enumerate(parts)]
