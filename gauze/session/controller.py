"""A controller as a simulation: it takes pictures by ANSI E1.31 on this machine alone, within limits as a real one has."""

import socket
import time
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import dataclass, field

from gauze.core.errors import FormatError, StorageError
from gauze.core.formats.e131 import PIXELS_PER_UNIVERSE, decode_universe

LOOPBACK = "127.0.0.1"
CHANNEL_A = 0.020  # of one colour of a pixel at full; common practice, no source
_LONGEST = 2048
_LOOK_S = 0.1
_OUT_OF_ORDER = (
    20  # a packet less than so many behind is old: ANSI E1.31-2018, 6.7.2; further behind, the sender started again
)


@dataclass(frozen=True)
class Limits:
    """How many pixels it holds, how many pictures a second it shows, and the amps to which it dims; None for no cap."""

    pixels: int = 500
    pictures_per_s: float = 60.0
    cap_a: float | None = None


@dataclass
class Seen:
    """What has come: pictures, packets ignored and lost; ``beyond`` is how far pixels are lit past those it holds."""

    shown: int = 0
    left_out: int = 0
    ignored: int = 0
    lost: int = 0
    beyond: int = 0
    pixels: int = 0
    amps: float = 0.0
    dimmed_to: float = 1.0
    levels: dict[int, bytes] = field(default_factory=dict)


class SimulatedController:
    """Takes packets; a picture begins with its first universe."""

    def __init__(self, limits: Limits, clock: Callable[[], float] = time.monotonic) -> None:
        self.limits, self.seen = limits, Seen()
        self._clock = clock
        self._sequence: dict[int, int] = {}
        self._last_s = -1e9

    def take(self, packet: bytes) -> None:
        """Take one packet, whatever it is."""
        seen = self.seen
        try:
            universe = decode_universe(packet)
        except FormatError:
            seen.ignored += 1
            return
        before = self._sequence.get(universe.number)
        if before is not None:
            ahead = (universe.sequence - before + 128) % 256 - 128
            if -_OUT_OF_ORDER < ahead <= 0:
                seen.ignored += 1
                return
            seen.lost += max(ahead - 1, 0)
        self._sequence[universe.number] = universe.sequence
        seen.levels[universe.number] = universe.levels
        if universe.number == min(seen.levels):
            self._show()

    def _show(self) -> None:
        seen, now = self.seen, self._clock()
        if now - self._last_s < 1.0 / self.limits.pictures_per_s:
            seen.left_out += 1
            return
        self._last_s = now
        seen.shown += 1
        most = 3 * PIXELS_PER_UNIVERSE
        levels = b"".join(seen.levels[number][:most] for number in sorted(seen.levels))
        seen.pixels = min(len(levels) // 3, self.limits.pixels)
        past = levels[3 * seen.pixels :].rstrip(b"\x00")  # a packet is padded with zeros: only what is lit counts
        seen.beyond = -(-len(past) // 3)
        seen.amps = CHANNEL_A * sum(levels[: 3 * seen.pixels]) / 255.0
        cap = self.limits.cap_a
        seen.dimmed_to = 1.0 if cap is None or seen.amps <= cap else cap / seen.amps
        seen.amps *= seen.dimmed_to


def serve(controller: SimulatedController, port: int, seconds: float | None) -> Iterator[Seen]:
    """Listen on this machine alone, and tell each second what has come; until so many seconds have passed, or without end.

    Raises
    ------
    StorageError
        When the port is not available.
    """
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as listening:
        try:
            listening.bind((LOOPBACK, port))
        except OSError as error:
            raise StorageError(
                "Port {port} is not available on this machine ({error}). Choose another with --port.",
                port=port,
                error=error.strerror or str(error),
            ) from None
        listening.settimeout(_LOOK_S)
        begun = told = time.monotonic()
        while seconds is None or time.monotonic() - begun < seconds:
            with suppress(TimeoutError):
                controller.take(listening.recv(_LONGEST))
            if time.monotonic() - told >= 1.0:
                told = time.monotonic()
                yield controller.seen
        yield controller.seen
