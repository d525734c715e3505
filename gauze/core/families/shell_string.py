"""Balls and cups over a wall: the record of the family."""

from gauze.core.design.shell_string import ShellString, check_shell_string
from gauze.core.design.surroundings import Surroundings
from gauze.core.families.family import Family, as_decoration
from gauze.core.layout.families.shell_string import lay_out_shell_string
from gauze.core.parts.families.shell_string import shell_string_parts

SHELL_STRING = Family(
    build=ShellString,
    check=check_shell_string,
    lay_out=lay_out_shell_string,
    parts=shell_string_parts,
    usual_standard=as_decoration,
    body_kind="box",
    usual_surroundings=Surroundings(back="plastic", back_mm=2.0),
)
