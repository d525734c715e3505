"""Choices of the loose emitters: any places, axes and fluxes, in a cavity of any shape."""

import math
from collections import deque
from typing import Annotated, Any

import msgspec
import numpy as np
from numpy.typing import NDArray

from gauze.core.design.cavity import CavityShape, check_cavity, lit_by_reflection
from gauze.core.design.limits import check_limits
from gauze.core.design.numbering import check_numbers
from gauze.core.design.strip_panel import Layers, Reflectance, check_finishes, check_layers
from gauze.core.errors import DesignError
from gauze.core.materials import Catalogue, Layer

Coordinate = Annotated[float, msgspec.Meta(ge=-10_000, le=10_000)]
Component = Annotated[float, msgspec.Meta(ge=-1e6, le=1e6)]
MOST_EMITTERS = 200_000
MOST_CANDELA = 60_000  # values of one distribution
_TABLES: deque[tuple[tuple["LooseEmitter", ...], NDArray[np.float64]]] = deque(maxlen=3)


class LooseEmitter(msgspec.Struct, frozen=True, array_like=True):
    """One emitter, written as a list to keep files short.

    Place, axis (of any length but 0), flux, m of its cos^m distribution (1 for a bare package), its colour: a CCT, or CIE 1931
    x and y (``cct_k`` 0); and the number of its measured distribution among those of the design, or -1 for cos^m.
    """

    x_mm: Coordinate
    y_mm: Coordinate
    z_mm: Coordinate
    nx: Component
    ny: Component
    nz: Component
    flux_lm: Annotated[float, msgspec.Meta(ge=0, le=1_000_000)]
    m: Annotated[float, msgspec.Meta(ge=0, le=1000)] = 1.0
    cct_k: Annotated[float, msgspec.Meta(ge=0, le=25_000)] = 4000.0
    cie_x: Annotated[float, msgspec.Meta(ge=0, le=1)] = 0.0
    cie_y: Annotated[float, msgspec.Meta(ge=0, le=1)] = 0.0
    distribution: Annotated[int, msgspec.Meta(ge=-1, le=63)] = -1


class MeasuredDistribution(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Candela of a lamp over C and gamma, as read from a file of photometry; only its shape counts.

    ``candela`` has a list for each C plane with a value for each gamma. The planes run from 0 to 360, or there is one.
    """

    name: str
    gamma_deg: tuple[Annotated[float, msgspec.Meta(ge=0, le=180)], ...]
    c_deg: tuple[Annotated[float, msgspec.Meta(ge=0, le=360)], ...]
    candela: tuple[tuple[Annotated[float, msgspec.Meta(ge=0, le=1e9)], ...], ...]


class LooseEmitters(
    msgspec.Struct,
    frozen=True,
    kw_only=True,
    forbid_unknown_fields=True,
    omit_defaults=True,
    tag_field="family",
    tag="loose_emitters",
):
    """Everything chosen of a build from loose emitters.

    ``diffuser`` is as for a panel; where a wall is what is lit there is none. ``back`` and ``walls`` are a finish of the
    catalogue or a total reflectance. ``level`` dims all alike. ``emitter_size_mm`` is the side of their emitting faces, which a
    sheet that is seen through shows. ``numbers`` are those by which the emitters are known, where they are not 1, 2, 3 and so on.
    """

    cavity: CavityShape
    emitters: tuple[LooseEmitter, ...]
    diffuser: Layer | Layers | None = None
    back: str | Reflectance
    walls: str | Reflectance
    level: Annotated[float, msgspec.Meta(ge=0, le=1)] = 1.0
    emitter_size_mm: Annotated[float, msgspec.Meta(gt=0, le=100)] = 2.0
    distributions: tuple[MeasuredDistribution, ...] = ()
    numbers: tuple[int, ...] = ()

    @property
    def strips(self) -> tuple[()]:
        """Neither strips nor a module: its emitters stand each by itself."""
        return ()

    @property
    def module(self) -> None:
        """As :attr:`strips`."""
        return None

    @property
    def layers(self) -> tuple[Layer, ...]:
        """Layers of the diffuser, the inner one first; none where a wall is lit."""
        if self.diffuser is None:
            return ()
        return (self.diffuser,) if isinstance(self.diffuser, Layer) else self.diffuser

    def __reduce__(self) -> tuple[object, ...]:
        """Go to another process with the emitters as one table: a hundred thousand objects would take a third of a second."""
        others = {name: getattr(self, name) for name in self.__struct_fields__ if name != "emitters"}
        return _from_table, (emitter_table(self.emitters), others)


def _from_table(table: NDArray[np.float64], others: dict[str, Any]) -> LooseEmitters:
    emitters = tuple(
        LooseEmitter(x, y, z, nx, ny, nz, flux_lm, m, cct_k, cie_x, cie_y, int(distribution))
        for x, y, z, nx, ny, nz, flux_lm, m, cct_k, cie_x, cie_y, distribution in table.tolist()
    )
    _TABLES.append((emitters, table))
    return LooseEmitters(emitters=emitters, **others)


def check_loose(build: LooseEmitters, catalogue: Catalogue, path: str = "build") -> None:
    """Check what can be judged without geometry; raises :class:`DesignError` with the path of the first that fails."""
    check_limits(build, path)
    check_cavity(build.cavity, f"{path}.cavity")
    check_numbers(build.numbers, f"{path}.numbers")
    _check_emitters(build, path)
    if lit_by_reflection(build.cavity) != (build.diffuser is None):
        if build.diffuser is None:
            raise DesignError(f"{path}.diffuser", "Choose a diffuser here.")
        raise DesignError(f"{path}.diffuser", "Leave the diffuser out here: a wall is lit.")
    if build.diffuser is not None:
        check_layers(build.layers, catalogue, path)
    check_finishes(build.back, build.walls, catalogue, path)


def _check_emitters(build: LooseEmitters, path: str) -> None:
    if not build.emitters:
        raise DesignError(f"{path}.emitters", "There is no emitter. Import some, or add one.")
    if len(build.emitters) > MOST_EMITTERS:
        raise DesignError(
            f"{path}.emitters", "That is more than {most_emitters} emitters: give fewer.", most_emitters=MOST_EMITTERS
        )
    for index, distribution in enumerate(build.distributions):
        _check_distribution(distribution, f"{path}.distributions[{index}]")
    for index in suspects(emitter_table(build.emitters), len(build.distributions)):
        emitter = build.emitters[index]
        problem = emitter_problem(emitter)
        if not problem and emitter.distribution >= len(build.distributions):
            problem = (
                f"it has distribution {emitter.distribution}, but there are {len(build.distributions)}: "
                "count from 0, or give -1 for cos^m."
            )
        if problem:
            raise DesignError(
                f"{path}.emitters[{index}]", "Emitter {index}: {problem}", index=index + 1, problem=problem
            )


def emitter_table(emitters: tuple[LooseEmitter, ...]) -> NDArray[np.float64]:
    """Return the values of all emitters in the order of their fields, shape (n, 12); not to be written to.

    The tables of the last few tuples are kept: an edit of anything else leaves the emitters the same tuple.
    """
    for known, table in tuple(_TABLES):  # another thread may add one meanwhile
        if known is emitters:
            return table
    table = np.array([msgspec.structs.astuple(emitter) for emitter in emitters], dtype=float)
    table.flags.writeable = False
    _TABLES.append((emitters, table))
    return table


def suspects(table: NDArray[np.float64], distributions: int) -> list[int]:
    """Numbers of the emitters that may have a problem, found all at once: there may be very many."""
    with np.errstate(invalid="ignore"):
        fine = np.isfinite(table).all(axis=1) & (np.abs(table[:, :3]) <= 10_000).all(axis=1)
        fine &= (table[:, 3:6] ** 2).sum(axis=1) > 1e-12
        fine &= (table[:, 6] >= 0) & (table[:, 6] <= 1e6) & (table[:, 7] >= 0) & (table[:, 7] <= 1000)
        fine &= (table[:, 8] >= 1000) & (table[:, 8] <= 25_000) & (table[:, 11] < distributions)
    return [int(index) for index in np.flatnonzero(~fine)]


def _check_distribution(one: MeasuredDistribution, path: str) -> None:
    if len(one.gamma_deg) * len(one.c_deg) > MOST_CANDELA:
        raise DesignError(
            path,
            "The distribution has more than {most_candela} values. Give fewer planes or angles.",
            most_candela=MOST_CANDELA,
        )
    for name, angles in (("gamma_deg", one.gamma_deg), ("c_deg", one.c_deg)):
        if list(angles) != sorted(set(angles)) or len(angles) < (2 if name == "gamma_deg" else 1):
            raise DesignError(f"{path}.{name}", "The angles must increase. Sort them.")
    if len(one.c_deg) > 1 and (one.c_deg[0] != 0 or one.c_deg[-1] != 360):
        raise DesignError(f"{path}.c_deg", "The planes must run from 0 to 360 degrees, or there must be only one.")
    if len(one.candela) != len(one.c_deg) or any(len(plane) != len(one.gamma_deg) for plane in one.candela):
        raise DesignError(f"{path}.candela", "There must be a list for each plane, with a value for each gamma.")
    if not all(math.isfinite(value) for plane in one.candela for value in plane):
        raise DesignError(f"{path}.candela", "A value is not a finite number. Correct it.")
    if not any(value > 0 for plane in one.candela for value in plane):
        raise DesignError(f"{path}.candela", "The distribution emits nothing. Give another.")


def emitter_problem(emitter: LooseEmitter) -> str:
    """Say what is wrong with an emitter's own values, in words with a remedy; empty when nothing is."""
    numbers = (emitter.x_mm, emitter.y_mm, emitter.z_mm, emitter.nx, emitter.ny, emitter.nz, emitter.flux_lm, emitter.m)
    if not all(math.isfinite(number) for number in numbers):
        return "a value is not a finite number. Correct it."
    if max(abs(emitter.x_mm), abs(emitter.y_mm), abs(emitter.z_mm)) > 10_000:
        return "it lies more than 10 m from the origin. Give millimetres."
    if math.hypot(emitter.nx, emitter.ny, emitter.nz) < 1e-9:
        return "its axis nx, ny, nz has no direction. Give at least one that is not 0."
    if not 0 <= emitter.flux_lm <= 1_000_000:
        return f"a flux of {emitter.flux_lm:g} lm is invalid: it lies between 0 and 1 000 000."
    if not 0 <= emitter.m <= 1000:
        return f"m = {emitter.m:g} is invalid: it lies between 0 and 1000, 1 for a bare package."
    if emitter.cct_k and not 1000 <= emitter.cct_k <= 25_000:
        return f"{emitter.cct_k:g} K is invalid: it lies between 1000 and 25 000."
    if not emitter.cct_k and not (emitter.cie_y > 0 and emitter.cie_x >= 0 and emitter.cie_x + emitter.cie_y <= 1):
        return "its colour has neither a CCT nor CIE x and y that can be (y above 0, x + y up to 1). Give one."
    return ""
