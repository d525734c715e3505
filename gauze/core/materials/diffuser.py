"""Diffusing sheets, films and coats, and the split of what they let through."""

import math
from dataclasses import dataclass

import msgspec

from gauze.core.errors import CatalogueError
from gauze.core.words import Fixed

HAZE_CONE_DEG = 2.5  # ASTM D1003: haze counts what is scattered by more than this


@dataclass(frozen=True)
class TransmissionSplit:
    """The transmitted light by how it leaves, as fractions of the incident light.

    ``diffuse + lobe + regular`` is the total transmittance.
    """

    diffuse: float
    lobe: float
    regular: float


class Diffuser(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """One layer: total transmittance and reflectance, haze, and how it scatters; typical.

    ``young_n_mm2`` is 0 for what has no stiffness of its own: film, paper, cloth.
    """

    id: str
    name: str
    thickness_mm: float
    sideways_spread_mm: float
    transmittance: float
    reflectance: float
    haze: float
    diffuse_share: float
    lobe_sigma: float
    softens_c: float = 80.0  # acrylic's, where a row says nothing else; typical, from memory
    density_kg_m3: float = 1190.0  # acrylic's; typical, from memory
    young_n_mm2: float = 3200.0  # acrylic's; typical, from memory
    source: str = ""
    spread: float = 0.0

    @property
    def absorptance(self) -> float:
        """What neither passes nor comes back."""
        return 1.0 - self.transmittance - self.reflectance

    def split(self) -> TransmissionSplit:
        """Divide the transmittance in its diffuse, lobe and regular parts so that the haze is met.

        Of the evenly scattered light the share sin^2(2.5 deg) stays within the cone of the haze
        meter, of the Gaussian lobe (width sigma in direction cosines) 1 - exp(-sin^2(2.5 deg) / (2 sigma^2)).
        With the diffuse share given, the haze fixes the other two.

        Raises
        ------
        CatalogueError
            When no non-negative split has that haze.
        """
        cone = math.sin(math.radians(HAZE_CONE_DEG)) ** 2
        lobe_in_cone = 1.0 - math.exp(-cone / (2.0 * self.lobe_sigma**2))
        rest = 1.0 - self.diffuse_share
        unscattered = 1.0 - self.haze - self.diffuse_share * cone
        regular_share = (unscattered - rest * lobe_in_cone) / (1.0 - lobe_in_cone)
        tolerance = 2e-3  # catalogue hazes are rounded to a few parts in a thousand
        if not -tolerance <= regular_share <= rest + tolerance:
            raise CatalogueError(
                "Diffuser “{name}”: haze {haze} cannot be met with a diffuse share of {diffuse_share} and"
                " a lobe of {lobe_sigma}. Correct one of the three.",
                name=self.name,
                haze=Fixed(self.haze, "g"),
                diffuse_share=Fixed(self.diffuse_share, "g"),
                lobe_sigma=Fixed(self.lobe_sigma, "g"),
            )
        regular_share = min(max(regular_share, 0.0), rest)
        tau = self.transmittance
        return TransmissionSplit(
            diffuse=tau * self.diffuse_share, lobe=tau * (rest - regular_share), regular=tau * regular_share
        )
