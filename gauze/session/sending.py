"""Sends what a display plays to a controller, by ANSI E1.31 over UDP. No socket is open before someone asks for it."""

import ipaddress
import socket
import uuid
from dataclasses import dataclass

from gauze.core.errors import GauzeError, StorageError
from gauze.core.formats.e131 import ColourOrder, Universe, encode_universe, universes_of
from gauze.core.layout.model import FloatArray
from gauze.core.printable import printable


def read_address(text: str) -> str:
    """Read an address that is typed, such as 127.0.0.1; raises :class:`GauzeError`. Names are not looked up."""
    try:
        return str(ipaddress.ip_address(text.strip()))
    except ValueError:
        raise GauzeError(
            "“{text}” is not an address. Type one such as 192.168.1.40, or 127.0.0.1 for this machine.",
            text=printable(text, 40),
        ) from None


@dataclass(frozen=True)
class Sent:
    """How many packets of a picture left, and how many came back as refused: nothing listens there."""

    packets: int
    refused: int


class Sender:
    """Open until it is closed. A packet that nobody takes is lost, as the standard has it; nothing waits.

    Only a machine that is there and has nothing listening says so; of one that is not there nothing is heard.
    """

    def __init__(self, address: str, port: int, order: ColourOrder) -> None:
        host = read_address(address)
        family = socket.AF_INET6 if ":" in host else socket.AF_INET
        self._order = order
        self._cid = uuid.uuid4().bytes
        self._sequence = 0
        self._socket = socket.socket(family, socket.SOCK_DGRAM)
        self._socket.setblocking(False)
        try:
            self._socket.connect((host, port))  # sends nothing; from then on refusals are heard
        except OSError as error:
            self._socket.close()
            raise StorageError(
                "Nothing can be sent to {address} from here: {error}.",
                address=host,
                error=error.strerror or str(error),
            ) from None

    def send(self, levels: FloatArray) -> Sent:
        """Send one picture: levels in the order of the data, (n, 3)."""
        self._sequence = (self._sequence + 1) % 256
        packets = refused = 0
        for number, part in universes_of(levels, self._order):
            packet = encode_universe(Universe(number, self._sequence, part), self._cid)
            try:
                self._socket.send(packet)
                packets += 1
            except ConnectionRefusedError:  # of the packet before
                refused += 1
            except OSError:  # no way, or no room: the next picture comes soon
                continue
        return Sent(packets, refused)

    def close(self) -> None:
        """Send no more."""
        self._socket.close()
