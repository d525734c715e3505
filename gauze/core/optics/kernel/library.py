"""The compiled kernel, loaded; and the structures that it is given."""

import ctypes
import functools

import numpy as np
from numpy.typing import NDArray

from gauze.core.errors import KernelError
from gauze.core.layout.legs import Legs
from gauze.core.layout.model import FloatArray
from gauze.core.optics.kernel.build import LIBRARY, is_sealed

_WITHOUT_RESULT = (
    "cell_factors",
    "direct_light",
    "form_factors",
    "gather_near",
    "lobes",
    "nearest2",
    "on_pieces",
    "past_partitions",
    "patches_of",
    "sharpened_columns",
    "sums_by_part",
    "turned_over",
)


class Mitres(ctypes.Structure):
    """The mitres between the legs of a cavity, with the walls of each one's earlier leg."""

    _fields_ = (
        ("mitres", ctypes.c_int64),
        ("walls", ctypes.c_int64),
        ("mitre", ctypes.c_void_p),
        ("wall", ctypes.c_void_p),
    )


class Seen(ctypes.Structure):
    """Things as they are seen past mitres: the leg of each, and how far it and its sides reach from the mitres and walls."""

    _fields_ = (
        ("stride", ctypes.c_int64),
        *((name, ctypes.c_void_p) for name in ("leg", "f", "along", "g", "across")),
    )


class Lamps(ctypes.Structure):
    """Emitters, as the kernel takes them."""

    _fields_ = (
        ("count", ctypes.c_int64),
        ("columns", ctypes.c_int64),
        *((name, ctypes.c_void_p) for name in ("places", "axes", "power", "flux", "table", "right", "up", "tables")),
        ("least_distance2", ctypes.c_double),
        ("size", ctypes.c_double),
        ("mitres", ctypes.POINTER(Mitres)),
        ("leg", ctypes.c_void_p),
        ("looked_from", ctypes.c_int64),
    )


class Weights(ctypes.Structure):
    """What a sheet makes of light by its angle, and which distances count."""

    _fields_ = (
        ("by_squared_sine", ctypes.c_void_p),
        ("steps", ctypes.c_int64),
        ("regular", ctypes.c_double),
        ("emitter_variance", ctypes.c_double),
        ("window", ctypes.c_int64),
        ("window_first", ctypes.c_double),
        ("window_scale", ctypes.c_double),
    )


class Patches(ctypes.Structure):
    """The patches of a mesh."""

    _fields_ = (
        ("count", ctypes.c_int64),
        *(
            (name, ctypes.c_void_p)
            for name in ("corners", "centres", "normals", "areas", "widths", "surface", "curved")
        ),
        *((name, ctypes.c_void_p) for name in ("piece", "low", "size", "kind", "numbers")),
        ("mitres", ctypes.POINTER(Mitres)),
        ("seen", Seen),
    )


class Splits(ctypes.Structure):
    """Points of every patch, to be averaged over."""

    _fields_ = (("points", ctypes.c_int64), ("places", ctypes.c_void_p), ("facing", ctypes.c_void_p))


class Partitions(ctypes.Structure):
    """The partitions of a grid of cells."""

    _fields_ = tuple((name, ctypes.c_double) for name in ("pitch_x", "pitch_y", "half", "floor", "top"))


def given_mitres(legs: Legs | None, keep: "Arrays") -> "ctypes._Pointer[Mitres] | None":
    """The mitres of a cavity for the kernel, nothing for one without; ``keep`` keeps what they hold."""
    if legs is None:
        return None
    count, walls = legs.walls.shape[:2]
    return ctypes.pointer(Mitres(count, walls, keep.doubles(legs.mitres), keep.doubles(legs.walls)))


@functools.cache
def kernel() -> ctypes.CDLL:
    """Return the library.

    Raises
    ------
    KernelError
        When it is missing or cut off, or was compiled from another source or for another processor.
    """
    try:
        belongs = is_sealed(LIBRARY.read_bytes())
    except OSError:
        belongs = False
    if not belongs:
        raise KernelError(
            "The compiled part of Gauze is missing, out of date or for another processor. "
            "Make it again: python -m gauze.core.optics.kernel.build"
        )
    library = ctypes.CDLL(str(LIBRARY))
    library.direct_flux.restype = ctypes.c_double
    for name in _WITHOUT_RESULT:
        getattr(library, name).restype = None  # an item of the library would be a new function each time
    return library


def finite(values: FloatArray) -> FloatArray:
    """Return the numbers as they are: the kernel finds places in tables by them, and must not be given any that are none.

    Raises
    ------
    FloatingPointError
        When one is not a finite number.
    """
    if not np.isfinite(values).all():
        raise FloatingPointError("a place, direction or flux is not a finite number")
    return values


class Arrays:
    """Arrays as a kernel's function takes them: contiguous, of one type, and kept for as long as this is."""

    def __init__(self) -> None:
        self._kept: list[NDArray[np.generic]] = []

    def doubles(self, values: FloatArray) -> int:
        """Return the address of numbers in double precision, all of them finite."""
        return self._address(finite(np.ascontiguousarray(values, float)))

    def singles(self, values: FloatArray) -> int:
        """Return the address of numbers in single precision."""
        return self._address(np.ascontiguousarray(values, np.float32))

    def integers(self, values: NDArray[np.generic]) -> int:
        """Return the address of whole numbers, of 32 bits."""
        return self._address(np.ascontiguousarray(values, np.int32))

    def flags(self, values: NDArray[np.generic]) -> int:
        """Return the address of truth values, a byte each."""
        return self._address(np.ascontiguousarray(values, np.uint8))

    def _address(self, values: NDArray[np.generic]) -> int:
        self._kept.append(values)
        return values.ctypes.data
