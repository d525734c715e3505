"""The families of builds: a module for each with its record, and one register of them all."""

from gauze.core.families.family import Change, Family
from gauze.core.families.register import FAMILIES, box_in, check_design, family_of, lay_out, parts_of

__all__ = ["FAMILIES", "Change", "Family", "box_in", "check_design", "family_of", "lay_out", "parts_of"]
