"""A builder's own sheet: like one of the catalogue, with its transmittance from two readings of a lux meter."""

from typing import Annotated

import msgspec

from gauze.core.materials.diffuser import Diffuser

READING_SPREAD = 0.05  # of two readings with the same hand-held meter; common practice, no source


class OwnDiffuser(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Two readings in the same place and light: ``lux_without`` the sheet, and ``lux_with`` it on the meter.

    How it scatters and how much it absorbs is taken from the sheet of the catalogue that it is ``like``.
    """

    id: Annotated[str, msgspec.Meta(min_length=1, max_length=60)]
    name: Annotated[str, msgspec.Meta(min_length=1, max_length=80)]
    like: str
    lux_without: Annotated[float, msgspec.Meta(gt=0, le=1_000_000)]
    lux_with: Annotated[float, msgspec.Meta(gt=0, le=1_000_000)]

    def diffuser(self, like: Diffuser) -> Diffuser:
        """Return the sheet with its measured transmittance.

        tau = lux with / lux without. What is neither let through nor absorbed comes back; the absorptance of the
        sheet that it is like is kept as far as there is room for it.

        Raises
        ------
        ValueError
            When more light came through than there was.
        """
        transmittance = self.lux_with / self.lux_without
        if not 0.0 < transmittance <= 1.0:
            raise ValueError(
                f"{self.lux_with:g} lx with the sheet and {self.lux_without:g} lx without it: no sheet lets through more "
                "than there is. Take both readings in the same place and light."
            )
        absorptance = min(like.absorptance, 1.0 - transmittance)
        return msgspec.structs.replace(
            like,
            id=self.id,
            name=self.name,
            transmittance=transmittance,
            reflectance=1.0 - transmittance - absorptance,
            source=f"transmittance measured ({self.lux_with:g} of {self.lux_without:g} lx); the rest as {like.name}, typical",
            spread=READING_SPREAD,
        )
