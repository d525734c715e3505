"""Modules as they are sold: ready grids of pixels, single pixels on a cord, boards of chips."""

from typing import Literal

import msgspec


class ModuleChannel(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """One colour of a module, per module, at full level; colours as for a strip's channel."""

    name: str
    power_w: float
    flux_lm: float
    cct_k: float | None = None
    peak_nm: float | None = None
    width_nm: float | None = None


class Module(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A board with columns x rows of emitters; every value typical.

    ``kind`` is ``"grid"`` for pixels that are joined into a display, ``"cord"`` for single pixels strung on wires,
    ``"chip"`` for dies on one board.
    """

    id: str
    name: str
    kind: Literal["grid", "cord", "chip"]
    volts: float
    columns: int
    rows: int
    pitch_mm: float
    board_mm: tuple[float, float]
    emitter_height_mm: float
    package_mm: float
    half_angle_deg: float
    channel: tuple[ModuleChannel, ...]
    white_cct_k: tuple[int, int] | None = None
    source: str = ""
    flux_spread: float = 0.0
    power_spread: float = 0.0

    @property
    def emitters(self) -> int:
        """Number of pixels or dies."""
        return self.columns * self.rows

    @property
    def power_w(self) -> float:
        """Label watts with every channel at full level."""
        return sum(channel.power_w for channel in self.channel)
