"""The exceptions of Gauze, one small tree.

``GauzeError``
    ``QuantityError``   a typed quantity cannot be read ("12 parsecs")
    ``DesignError``     a choice of the builder is invalid; names the dimension concerned
    ``CatalogueError``  a material is not in the catalogue, or its data row is damaged
    ``FormatError``     a file is damaged, truncated, too large, or of a newer version
    ``StorageError``    a file cannot be read or written: missing, forbidden, disk full
        ``WriteError``          it cannot be written
        ``ChangedOnDiskError``  it was changed by another program, and would be overwritten
    ``SolverError``     the process that computes the light ended
    ``Cancelled``       a long computation was told to stop

Every message says what, where, and what to do about it, in words that a builder understands; the
interface and the command line show it as it stands.
"""

import re
from collections.abc import Callable

_LENGTH = re.compile("\ue000([^\ue001]*)\ue001")  # private-use signs, which no message has otherwise


def length(value_mm: float) -> str:
    """Mark a length in the message of a :class:`DesignError`, to be written in whatever unit the reader uses."""
    return f"\ue000{float(value_mm)!r}\ue001"


class GauzeError(Exception):
    """Root of all errors that Gauze raises on purpose; ``str(error)`` is fit to be shown."""


class QuantityError(GauzeError):
    """A text typed by a person cannot be read as a quantity."""


class DesignError(GauzeError):
    """A design breaks a rule.

    Attributes
    ----------
    field:
        Dotted path of the choice concerned, such as ``"build.depth_mm"``; the interface shows the
        message at that dimension.
    """

    def __init__(self, field: str, message: str) -> None:
        super().__init__(write_lengths(message, lambda value_mm: f"{value_mm:.4g} mm"))
        self.field = field
        self._message = message

    def __reduce__(self) -> tuple[type["DesignError"], tuple[str, str], dict[str, object]]:
        """Rebuild it from field and message, with its notes, when it comes from another process."""
        return type(self), (self.field, self._message), self.__dict__

    @property
    def message(self) -> str:
        """The message with its lengths still marked, to be raised again for another choice."""
        return self._message

    def text(self, write_length: Callable[[float], str]) -> str:
        """Return the message with its lengths (in mm) written by a function; ``str(error)`` writes millimetres."""
        return write_lengths(self._message, write_length)


def write_lengths(message: str, write_length: Callable[[float], str]) -> str:
    """Write the marked lengths of a text by a function."""
    return _LENGTH.sub(lambda match: write_length(float(match[1])), message)


class CatalogueError(GauzeError):
    """A material is unknown, or a row of the catalogue is damaged."""


class FormatError(GauzeError):
    """A file cannot be read as what it claims to be."""


class StorageError(GauzeError):
    """The file system refused: what was to be read or written, where, and why."""


class WriteError(StorageError):
    """A file or an output cannot be written."""


class ChangedOnDiskError(StorageError):
    """A file was changed by another program since it was read; writing would lose that."""


class SolverError(GauzeError):
    """The process that computes ended before it answered."""


class Cancelled(GauzeError):  # noqa: N818 - not an error of anyone's
    """The computation was cancelled by whoever asked for it."""


Pause = Callable[[], None]  # called between two steps of a long computation; raises Cancelled when it is to end


def carry_on() -> None:
    """Pause of a computation that nobody cancels."""


def pausing(cancelled: Callable[[], bool]) -> Pause:
    """Return the pause of a computation that ends when ``cancelled()`` says so."""

    def pause() -> None:
        if cancelled():
            raise Cancelled("The light was no longer wanted.")

    return pause
