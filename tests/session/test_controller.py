"""The simulated controller over loopback: what is sent arrives, within its limits; whatever else arrives is ignored."""

import socket
import threading
import time

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gauze.core.errors import GauzeError, StorageError
from gauze.core.formats.e131 import Universe, encode_universe
from gauze.session.controller import LOOPBACK, Limits, Seen, SimulatedController, serve
from gauze.session.sending import Sender, read_address

CID = bytes(16)


def free_port() -> int:
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as one:
        one.bind((LOOPBACK, 0))
        return int(one.getsockname()[1])


class Clock:
    """A clock that is set by hand."""

    def __init__(self) -> None:
        self.now = 0.0

    def __call__(self) -> float:
        return self.now


def fed(limits: Limits, pictures: list[np.ndarray], every_s: float) -> Seen:
    clock = Clock()
    controller = SimulatedController(limits, clock)
    for sequence, levels in enumerate(pictures):
        for number, part in enumerate(np.array_split(levels, max(-(-len(levels) // 170), 1)), start=1):
            flat = np.rint(part * 255).astype(np.uint8).tobytes()
            controller.take(encode_universe(Universe(number, sequence, flat), CID))
        clock.now += every_s
    return controller.seen


def test_it_shows_within_its_limits() -> None:
    white = np.ones((100, 3))
    assert fed(Limits(pixels=500), [white] * 10, 0.1).shown == 10
    slow = fed(Limits(pixels=500, pictures_per_s=5.0), [white] * 10, 0.125)
    assert slow.shown == 5
    assert slow.left_out == 5
    few = fed(Limits(pixels=60), [white], 0.1)
    assert few.pixels == 60
    assert few.beyond == 40


def test_it_dims_to_its_cap() -> None:
    """60 mA a white pixel: common practice, no source."""
    white = np.ones((100, 3))
    assert fed(Limits(pixels=100), [white], 0.1).amps == pytest.approx(6.0)
    capped = fed(Limits(pixels=100, cap_a=1.5), [white], 0.1)
    assert capped.amps == pytest.approx(1.5)
    assert capped.dimmed_to == pytest.approx(0.25)


def test_what_is_lost_is_counted() -> None:
    controller = SimulatedController(Limits(), Clock())
    for sequence in (0, 1, 4, 5):
        controller.take(encode_universe(Universe(1, sequence, bytes(30)), CID))
    assert controller.seen.lost == 2


@pytest.mark.parametrize(
    ("sequences", "ignored"),
    [((0, 1, 1, 2), 1), ((5, 4, 6), 1), ((255, 0, 1), 0), ((200, 180, 181), 0), ((30, 11, 31), 1)],
)
def test_old_packets_are_ignored(sequences: tuple[int, ...], ignored: int) -> None:
    """ANSI E1.31-2018, 6.7.2: out of order from 0 down to 19 behind; 20 and more is a sender that started again."""
    controller = SimulatedController(Limits(), Clock())
    for sequence in sequences:
        controller.take(encode_universe(Universe(1, sequence, bytes(30)), CID))
    assert controller.seen.ignored == ignored
    assert controller.seen.lost == 0


@settings(max_examples=200)
@given(st.lists(st.binary(max_size=800), max_size=20))
def test_whatever_arrives_is_ignored(packets: list[bytes]) -> None:
    controller = SimulatedController(Limits(), Clock())
    for packet in packets:
        controller.take(packet)
    assert controller.seen.ignored == len(packets)
    assert controller.seen.shown == 0


def test_what_is_sent_arrives_over_loopback() -> None:
    port = free_port()
    controller = SimulatedController(Limits(pixels=1000))
    enough = threading.Event()

    def listen() -> None:
        for _seen in serve(controller, port, 60.0):
            if enough.is_set():
                return

    listening = threading.Thread(target=listen)
    listening.start()
    sender = Sender("127.0.0.1", port, "GRB")
    levels = np.zeros((200, 3))
    levels[0] = (1.0, 0.5, 0.0)
    deadline = time.monotonic() + 20.0
    while controller.seen.pixels < 200 and time.monotonic() < deadline:
        sent = sender.send(levels)
        assert sent.packets + sent.refused == 2
        time.sleep(0.05)
    sender.close()
    enough.set()
    listening.join()
    assert controller.seen.pixels >= 200
    assert controller.seen.levels[1][:3] == bytes([128, 255, 0])  # green first


def test_a_port_that_is_taken_is_told() -> None:
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as taken:
        taken.bind((LOOPBACK, 0))
        with pytest.raises(StorageError, match="is not available"):
            next(serve(SimulatedController(Limits()), taken.getsockname()[1], 1.0))


@pytest.mark.parametrize("text", ["", "somewhere", "300.1.1.1", "127.0.0.1:80", "http://127.0.0.1"])
def test_what_is_not_an_address_is_told(text: str) -> None:
    with pytest.raises(GauzeError, match="is not an address"):
        read_address(text)


def test_addresses_are_read_and_nothing_is_looked_up() -> None:
    assert read_address(" 192.168.1.40 ") == "192.168.1.40"
    assert read_address("::1") == "::1"


def test_that_nothing_listens_is_heard() -> None:
    sender = Sender(LOOPBACK, free_port(), "RGB")
    deadline = time.monotonic() + 60.0
    while not sender.send(np.zeros((200, 3))).refused and time.monotonic() < deadline:
        time.sleep(0.01)
    assert sender.send(np.zeros((200, 3))).refused
    sender.close()


def test_what_cannot_be_reached_is_told() -> None:
    with pytest.raises(StorageError, match="Nothing can be sent to"):
        Sender("255.255.255.255", 5568, "RGB")  # to all, which a socket is only allowed when it asks for that
