"""A groove that washes a wall: the record of the family."""

from gauze.core.design.indirect import IndirectLamp, check_indirect
from gauze.core.design.surroundings import Surroundings
from gauze.core.families.family import Family, as_decoration
from gauze.core.layout.families.indirect import lay_out_indirect
from gauze.core.parts.families.indirect import indirect_parts

INDIRECT = Family(
    build=IndirectLamp,
    check=check_indirect,
    lay_out=lay_out_indirect,
    parts=indirect_parts,
    usual_standard=as_decoration,
    body_kind="open",
    usual_surroundings=Surroundings(back="timber", against_wall=True),
)
