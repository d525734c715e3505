"""Two whites by two knobs, as pure functions: those of one strip, or those of two strips that alternate."""

from dataclasses import dataclass

import msgspec

from gauze.core.design import Design, with_build
from gauze.core.errors import DesignError
from gauze.core.layout import Layout
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import StripPiece
from gauze.core.materials import Catalogue
from gauze.core.optics.mixing import Mix, alternating_xyz, levels_of_mix, mix_of, whites_xyz
from gauze.core.words import Fixed


@dataclass(frozen=True)
class TwoWhites:
    """Two whites that are dimmed apart: XYZ of each at full level (2, 3), and their levels."""

    xyz_full: FloatArray
    levels: tuple[float, float]

    @property
    def mix(self) -> Mix | None:
        """What their levels make; None where both are dark."""
        return mix_of(self.xyz_full, self.levels)


def whites_of(design: Design, layout: Layout, catalogue: Catalogue, index: int | None) -> TwoWhites | None:
    """Return the two whites of a strip, or with no ``index`` those of two strips of one white each; None for any other."""
    if index is not None:
        choice = design.strips[index]
        strip = catalogue.strip(choice.strip)
        xyz_full = whites_xyz(strip)
        levels = choice.levels_for(strip)
        return None if xyz_full is None else TwoWhites(xyz_full, (levels[0], levels[1]))
    if len(design.strips) != 2:
        return None
    pieces = [piece for piece in layout.pieces if isinstance(piece, StripPiece)]
    rows = [
        (
            catalogue.strip(choice.strip),
            choice,
            sum(piece.length_mm for piece in pieces if piece.choice == choice) / 1000.0,
        )
        for choice in design.strips
    ]
    xyz_full = None if design.strips[0] == design.strips[1] else alternating_xyz(rows)
    if xyz_full is None:
        return None
    first, second = (choice.levels_for(strip)[0] for strip, choice, _ in rows)
    return TwoWhites(xyz_full, (first, second))


def with_mix(
    design: Design, layout: Layout, catalogue: Catalogue, index: int | None, cct_k: float, seen: float
) -> Design:
    """Set two whites by the white of both and how bright it looks.

    Raises
    ------
    DesignError
        For a white that is not between theirs.
    """
    whites = whites_of(design, layout, catalogue, index)
    levels = None if whites is None else levels_of_mix(whites.xyz_full, cct_k, seen)
    if levels is None:
        raise DesignError(
            f"build.strips[{index or 0}].levels",
            "{cct} K is not between the two whites of this strip. Choose one that is."
            if index is not None
            else "{cct} K is not between the whites of the two strips. Choose one that is.",
            cct=Fixed(cct_k, "g"),
        )
    first, second = (round(level, 4) for level in levels)
    choices = list(design.strips)
    if index is not None:
        choices[index] = msgspec.structs.replace(choices[index], levels=(first, second))
    else:
        choices = [
            msgspec.structs.replace(choice, levels=(level,))
            for choice, level in zip(choices, (first, second), strict=True)
        ]
    return with_build(design, strips=tuple(choices))
