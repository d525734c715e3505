"""A tube with strips along it: the record of the family."""

from gauze.core.design.surroundings import Surroundings
from gauze.core.design.tube import Tube, check_tube
from gauze.core.families.family import Family
from gauze.core.layout.families.tube import lay_out_tube
from gauze.core.parts.families.tube import tube_parts

TUBE = Family(
    build=Tube,
    check=check_tube,
    lay_out=lay_out_tube,
    parts=tube_parts,
    body_kind="carrier",
    usual_surroundings=Surroundings(back="aluminium", back_mm=1.5),
)
