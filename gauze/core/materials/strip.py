"""LED strips as they are sold: what a row of the catalogue says of one."""

from typing import Literal

import msgspec


class StripChannel(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """One colour of a strip, switched and dimmed by itself.

    A white channel has ``cct_k`` (or takes the builder's choice from the strip's ``white_cct_k``); a
    coloured one has the peak and the full width at half maximum of its band.
    """

    name: str
    power_w_per_m: float
    flux_lm_per_m: float
    cct_k: float | None = None
    peak_nm: float | None = None
    width_nm: float | None = None


class Strip(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A flexible circuit with emitters at a fixed density; every value typical.

    ``white_cct_k`` is the range of colour temperatures that a white strip is sold in; ``interleaved``
    says that the channels take turns along the strip instead of sharing each package.
    """

    id: str
    name: str
    volts: float
    kind: Literal["analog", "pixel"]
    density_per_m: float
    emitters_per_segment: int
    width_mm: float
    emitter_height_mm: float
    package_mm: tuple[float, float]
    half_angle_deg: float
    rail_ohm_per_m: float
    channel: tuple[StripChannel, ...]
    white_cct_k: tuple[int, int] | None = None
    continuous: bool = False
    interleaved: bool = False
    source: str = ""
    flux_spread: float = 0.0
    power_spread: float = 0.0

    @property
    def pitch_mm(self) -> float:
        """Distance between neighbouring emitters."""
        return 1000.0 / self.density_per_m

    @property
    def segment_mm(self) -> float:
        """Distance between cut marks."""
        return self.emitters_per_segment * self.pitch_mm

    @property
    def power_w_per_m(self) -> float:
        """Label watts with every channel at full level."""
        return sum(channel.power_w_per_m for channel in self.channel)

    @property
    def flux_lm_per_m(self) -> float:
        """Flux with every channel at full level."""
        return sum(channel.flux_lm_per_m for channel in self.channel)
