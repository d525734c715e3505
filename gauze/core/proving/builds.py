"""The builds of a design so far, side by side: what was read of each version at the places that all have."""

from dataclasses import dataclass

from gauze.core.design import Design
from gauze.core.design.bench import Bench, Quantity
from gauze.core.proving.places import FACE, SUPPLY, TARGET

COMMON: tuple[tuple[Quantity, str], ...] = (
    ("volts", SUPPLY),
    ("amps", SUPPLY),
    ("lux", TARGET),
    ("cd_m2", FACE),
    ("kelvin", FACE),
)


@dataclass(frozen=True)
class BuildRow:
    """One version: its name, empty for the open one; the last reading of each common quantity; how often it was read."""

    name: str
    values: dict[tuple[Quantity, str], float]
    readings: int


def builds_of(design: Design) -> tuple[BuildRow, ...]:
    """Return the versions of which anything was read, the open one last."""
    logs = [*((one.name, one.bench) for one in design.kept), ("", design.bench)]
    rows = [_row(name, log) for name, log in logs if log is not None]
    return tuple(row for row in rows if row.readings)


def _row(name: str, log: Bench) -> BuildRow:
    values = {(one.quantity, one.place): one.value for one in log.readings if (one.quantity, one.place) in COMMON}
    return BuildRow(name, values, len(log.readings))
