"""The exceptions of Gauze, one small tree.

``GauzeError``
    ``QuantityError``   a typed quantity cannot be read ("12 parsecs")
    ``DesignError``     a choice of the builder is invalid; names the dimension concerned
    ``CatalogueError``  a material is not in the catalogue, or its data row is damaged
    ``CuttingError``    pieces cannot be cut from the stock: longer than any, or more than there is
    ``CircuitError``    a circuit cannot be solved: nothing feeds it, or supplies contradict each other
    ``PhotoError``      a photograph cannot be measured: no face in it, too dark, corners that cross
    ``ReadingError``    nothing is predicted where a reading was taken
    ``FormatError``     a file is damaged, truncated, too large, or of a newer version
    ``StorageError``    a file cannot be read or written: missing, forbidden, disk full
        ``WriteError``          it cannot be written
        ``ChangedOnDiskError``  it was changed by another program, and would be overwritten
    ``SolverError``     the process that computes the light ended
    ``KernelError``     the compiled part of Gauze is missing, or does not fit
    ``Cancelled``       a long computation was told to stop

Every message says what, where, and what to do about it, in words that a builder understands.
"""

from collections.abc import Callable, Mapping
from typing import Any

from gauze.core.printable import filled


class GauzeError(Exception):
    """Root of all errors that Gauze raises on purpose.

    It is raised with a template in English, as words are, and what stands in its places: texts and quantities of
    :mod:`gauze.core.words`, so that it is read in any unit and
    language. ``str(error)`` is English, in millimetres.
    """

    def __init__(self, template: str = "", /, **values: object) -> None:
        super().__init__(template)
        self.template = template
        self.values: Mapping[str, Any] = values

    def __str__(self) -> str:
        """The message in English."""
        return filled(self.template, {name: str(value) for name, value in self.values.items()})

    def __reduce__(self) -> tuple[Callable[..., "GauzeError"], tuple[object, ...], dict[str, object]]:
        """Rebuild it, with its values and notes, when it comes from another process."""
        return _rebuilt, (type(self), self._given(), dict(self.values)), self.__dict__

    def _given(self) -> tuple[str, ...]:
        """What it was made with, besides its values."""
        return (self.template,)


def _rebuilt(kind: type[GauzeError], given: tuple[str, ...], values: dict[str, object]) -> GauzeError:
    return kind(*given, **values)


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

    def __init__(self, field: str, template: str, /, **values: object) -> None:
        super().__init__(template, **values)
        self.field = field

    def _given(self) -> tuple[str, ...]:
        return self.field, self.template

    @classmethod
    def of(cls, field: str, error: GauzeError) -> "DesignError":
        """Return what another error says, about a choice."""
        return cls(field, error.template, **error.values)


class CatalogueError(GauzeError):
    """A material is unknown, or a row of the catalogue is damaged."""


class CuttingError(GauzeError):
    """Pieces cannot be cut from the stock that there is."""


class CircuitError(GauzeError):
    """A circuit cannot be solved as it is joined."""


class PhotoError(GauzeError):
    """A photograph cannot be measured; what is to be done about it is said."""


class ReadingError(GauzeError):
    """A reading cannot be set against a prediction: its place is unknown, or nothing is predicted there."""


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


class KernelError(GauzeError):
    """The compiled part of Gauze is missing or cut off, or is not the one that belongs to this source and processor."""


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
