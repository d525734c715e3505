"""Packets of E1.31: byte for byte by the standard's layout, there and back, and nothing else is taken."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.errors import FormatError
from gauze.core.formats.e131 import (
    ORDERS,
    PIXELS_PER_UNIVERSE,
    Universe,
    decode_universe,
    encode_universe,
    universes_of,
)

CID = bytes(range(16))


def test_a_packet_is_laid_out_as_the_standard_has_it() -> None:
    """ANSI E1.31-2018, tables 4-1 to 4-3 (from memory): root, framing and DMP layer of a data packet of 512 levels."""
    levels = bytes(number % 251 for number in range(510))
    data = encode_universe(Universe(7, 300, levels), CID)
    layout = (
        (0, bytes([0x00, 0x10])),  # preamble size
        (2, bytes([0x00, 0x00])),  # postamble size
        (4, b"ASC-E1.17\x00\x00\x00"),  # ACN packet identifier
        (16, bytes([0x72, 0x6E])),  # flags and length: 0x7 and 622
        (18, bytes([0x00, 0x00, 0x00, 0x04])),  # VECTOR_ROOT_E131_DATA
        (22, CID),
        (38, bytes([0x72, 0x58])),  # flags and length: 600
        (40, bytes([0x00, 0x00, 0x00, 0x02])),  # VECTOR_E131_DATA_PACKET
        (44, b"Gauze" + bytes(59)),  # source name
        (108, bytes([100])),  # priority
        (109, bytes([0x00, 0x00])),  # synchronization address
        (111, bytes([300 % 256])),  # sequence number
        (112, bytes([0x00])),  # options
        (113, bytes([0x00, 0x07])),  # universe
        (115, bytes([0x72, 0x0B])),  # flags and length: 523
        (117, bytes([0x02])),  # VECTOR_DMP_SET_PROPERTY
        (118, bytes([0xA1])),  # address and data type
        (119, bytes([0x00, 0x00])),  # first property address
        (121, bytes([0x00, 0x01])),  # address increment
        (123, bytes([0x02, 0x01])),  # property value count: 513
        (125, bytes([0x00])),  # start code
        (126, levels + bytes(2)),
    )
    assert len(data) == 638
    assert sum(len(part) for _, part in layout) == 638
    for place, part in layout:
        assert data[place : place + len(part)] == part, place


@given(st.integers(1, 63_999), st.integers(0, 255), st.binary(min_size=1, max_size=512))
def test_there_and_back(number: int, sequence: int, levels: bytes) -> None:
    found = decode_universe(encode_universe(Universe(number, sequence, levels), CID))
    assert (found.number, found.sequence) == (number, sequence)
    assert found.levels == levels + bytes(512 - len(levels))


@given(st.binary(max_size=700))
def test_nothing_else_is_taken(data: bytes) -> None:
    with pytest.raises(FormatError):
        decode_universe(data)


@given(st.data())
def test_a_packet_that_is_damaged_is_passed_over_or_still_one(data: st.DataObject) -> None:
    whole = bytearray(encode_universe(Universe(3, 9, bytes(range(255))), CID))
    for _ in range(data.draw(st.integers(1, 6))):
        whole[data.draw(st.integers(0, 125))] = data.draw(st.integers(0, 255))
    cut = bytes(whole[: data.draw(st.integers(0, len(whole)))])
    try:
        found = decode_universe(cut)
    except FormatError:
        return
    assert len(cut) == len(whole)  # one that is cut off says another length than it has
    assert 1 <= found.number <= 63_999


@given(st.integers(1, 900), st.sampled_from(ORDERS), st.integers(1, 60_000))
def test_pixels_are_divided_in_order_and_none_in_two(count: int, order: str, first: int) -> None:
    levels = np.random.default_rng(count).uniform(0.0, 1.0, (count, 3))
    parts = universes_of(levels, order, first)
    assert [number for number, _ in parts] == list(range(first, first + len(parts)))
    assert all(len(part) <= 3 * PIXELS_PER_UNIVERSE for _, part in parts)
    flat = np.frombuffer(b"".join(part for _, part in parts), np.uint8).reshape(-1, 3)
    wanted = np.rint(255 * levels).astype(int)
    for place, letter in enumerate(order):
        assert flat[:, place].tolist() == wanted[:, "RGB".index(letter)].tolist()


def test_more_universes_than_there_are_is_refused() -> None:
    with pytest.raises(ValueError, match="the last there is"):
        universes_of(np.zeros((400, 3)), "RGB", 63_998)
