"""A sheet given by two numbers: how much passes and how much comes back, scattered evenly."""

import math
from typing import Annotated

import msgspec

from gauze.core.materials.diffuser import HAZE_CONE_DEG, Diffuser

_ANY_SIGMA = 0.1  # of a lobe that has no share


class MattSheet(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """An ideal diffuser without thickness.

    ``transmittance`` and ``reflectance`` are of all the light that meets it, both evenly scattered (by Lambert's law); what is
    left is absorbed.
    """

    transmittance: Annotated[float, msgspec.Meta(gt=0, le=1)]
    reflectance: Annotated[float, msgspec.Meta(ge=0, le=1)]

    @property
    def name(self) -> str:
        """What it is called in lists and findings."""
        return f"Matt sheet, {self.transmittance:.3g} through, {self.reflectance:.3g} back"

    def diffuser(self) -> Diffuser:
        """Return it as a diffuser; its haze is that of evenly scattered light by ASTM D1003.

        Raises
        ------
        ValueError
            When more would leave than there is.
        """
        if not 0.0 < self.transmittance <= 1.0 or not 0.0 <= self.reflectance <= 1.0 - self.transmittance + 1e-12:
            raise ValueError(
                f"a sheet that passes {self.transmittance:g} and reflects {self.reflectance:g} would give more light than it "
                "gets: the two add up to 1 at most"
            )
        return Diffuser(
            id="",
            name=self.name,
            thickness_mm=0.0,
            sideways_spread_mm=0.0,
            transmittance=self.transmittance,
            reflectance=self.reflectance,
            haze=1.0 - math.sin(math.radians(HAZE_CONE_DEG)) ** 2,
            diffuse_share=1.0,
            lobe_sigma=_ANY_SIGMA,
            source="the builder's own values",
        )


Layer = str | MattSheet  # a sheet of the catalogue by its id, or one given by its numbers
