"""Any LEDs in a cavity of any shape: the record of the family."""

from gauze.core.design.loose import LooseEmitters, check_loose
from gauze.core.families.editing import emitters
from gauze.core.families.family import Family
from gauze.core.layout.families.loose import lay_out_loose
from gauze.core.parts.families.loose import loose_parts

LOOSE = Family(
    build=LooseEmitters,
    check=check_loose,
    lay_out=lay_out_loose,
    parts=loose_parts,
    item_edits=emitters.emitter_edits,
    move_item=emitters.with_emitter_moved,
)
