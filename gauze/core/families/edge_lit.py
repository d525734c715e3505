"""A face lit from its rim: the record of the family."""

from gauze.core.design.edge_lit import EdgeLit, check_edge_lit
from gauze.core.design.surroundings import Surroundings
from gauze.core.families.family import Family
from gauze.core.layout.families.edge_lit import lay_out_edge_lit
from gauze.core.parts.families.edge_lit import edge_lit_parts

EDGE_LIT = Family(
    build=EdgeLit,
    check=check_edge_lit,
    lay_out=lay_out_edge_lit,
    parts=edge_lit_parts,
    body_kind="edge",
    usual_surroundings=Surroundings(back="aluminium", back_mm=2.0),
)
