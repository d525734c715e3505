"""A funnel with film before one board: the record of the family."""

from gauze.core.design.reflector_head import ReflectorHead, check_reflector_head
from gauze.core.design.surroundings import Surroundings
from gauze.core.families.family import Family
from gauze.core.layout.families.reflector_head import lay_out_reflector_head
from gauze.core.parts.families.reflector_head import reflector_head_parts

REFLECTOR_HEAD = Family(
    build=ReflectorHead,
    check=check_reflector_head,
    lay_out=lay_out_reflector_head,
    parts=reflector_head_parts,
    body_kind="one_piece",
    usual_surroundings=Surroundings(stance="face_down", back="aluminium", back_mm=2.0),
)
