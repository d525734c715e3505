"""Sends what a display plays to a controller, by ANSI E1.31 over UDP. No socket is open before someone asks for it."""

import ipaddress
import socket
import uuid

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
            "“{text}” is no address. Type one such as 192.168.1.40, or 127.0.0.1 for this machine.",
            text=printable(text, 40),
        ) from None


class Sender:
    """Open until it is closed. A packet that nobody takes is lost, as the standard has it; nothing waits."""

    def __init__(self, address: str, port: int, order: ColourOrder) -> None:
        host = read_address(address)
        family = socket.AF_INET6 if ":" in host else socket.AF_INET
        self._to, self._order = (host, port), order
        self._cid = uuid.uuid4().bytes
        self._sequence = 0
        try:
            self._socket = socket.socket(family, socket.SOCK_DGRAM)
            self._socket.setblocking(False)
        except OSError as error:
            raise StorageError("Nothing can be sent from here: {error}.", error=error.strerror or str(error)) from None

    def send(self, levels: FloatArray) -> int:
        """Send one picture: levels in the order of the data, (n, 3). Return how many packets left this machine."""
        self._sequence = (self._sequence + 1) % 256
        left = 0
        for number, part in universes_of(levels, self._order):
            packet = encode_universe(Universe(number, self._sequence, part), self._cid)
            try:
                self._socket.sendto(packet, self._to)
                left += 1
            except OSError:  # nobody there, or no way: the next picture comes soon
                continue
        return left

    def close(self) -> None:
        """Send no more."""
        self._socket.close()
