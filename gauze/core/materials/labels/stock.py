"""Channel, sheet and timber on the shelf, by their sizes."""

from typing import Annotated

import msgspec

from gauze.core.errors import DesignError
from gauze.core.materials.labels.label import Label, Statement
from gauze.core.materials.profile import Profile
from gauze.core.words import Length, say

Size = Annotated[float, msgspec.Meta(gt=0, le=10_000)]
_AS_LABELLED = say("the label")


class ProfileStock(Label, tag="profile", frozen=True, kw_only=True):
    """Lengths of channel with a lens; inner sizes. ``like`` is the row of the catalogue of whose shape it is."""

    like: str
    width_mm: Size
    depth_mm: Size
    length_mm: Size

    def profile(self, like: Profile) -> Profile:
        """Return it as a row of the catalogue."""
        scale = self.width_mm / like.width_mm
        return msgspec.structs.replace(
            like,
            id=self.id,
            name=self.name,
            width_mm=self.width_mm,
            depth_mm=self.depth_mm,
            bed_mm=like.bed_mm * scale,
            lens_rise_mm=like.lens_rise_mm * scale,
            source=f"label, the rest as {like.name}, typical",
        )

    def statements(self, like: Profile) -> tuple[Statement, ...]:
        """Return what it comes to and where each figure is from."""
        if like.section == "half_round" and self.depth_mm > self.width_mm:
            raise DesignError("depth_mm", "A half-round channel is no deeper than wide. Correct one of them.")
        return (
            Statement(
                say("Inside"),
                say("{width} × {depth}", width=Length(self.width_mm), depth=Length(self.depth_mm)),
                _AS_LABELLED,
            ),
            Statement(say("Length"), Length(self.length_mm), _AS_LABELLED),
        )


class SheetStock(Label, tag="sheet", frozen=True, kw_only=True):
    """Sheets of one material and size. ``like`` is the diffuser of the catalogue, or an own one, that it is a piece of."""

    like: str
    width_mm: Size
    height_mm: Size

    def statements(self) -> tuple[Statement, ...]:
        """Return what it comes to and where each figure is from."""
        size = say("{width} × {height}", width=Length(self.width_mm), height=Length(self.height_mm))
        return (Statement(say("Size"), size, _AS_LABELLED),)


class BoardStock(Label, tag="board", frozen=True, kw_only=True):
    """Timber of one section."""

    thick_mm: Size
    high_mm: Size
    length_mm: Size

    def statements(self) -> tuple[Statement, ...]:
        """Return what it comes to and where each figure is from."""
        section = say("{thick} × {high}", thick=Length(self.thick_mm), high=Length(self.high_mm))
        return (
            Statement(say("Section"), section, _AS_LABELLED),
            Statement(say("Length"), Length(self.length_mm), _AS_LABELLED),
        )
