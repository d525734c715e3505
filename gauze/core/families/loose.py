"""Any LEDs in a cavity of any shape: the record of the family."""

from gauze.core.design.cavity import BaffledShape
from gauze.core.design.design import StandardKey
from gauze.core.design.loose import LooseEmitters, check_loose
from gauze.core.families.editing import emitters
from gauze.core.families.family import Family
from gauze.core.layout.families.loose import lay_out_loose
from gauze.core.parts.families.loose import loose_parts


def _usual_standard(build: LooseEmitters) -> StandardKey:
    return "crisp" if isinstance(build.cavity, BaffledShape) else "clean"


LOOSE = Family(
    build=LooseEmitters,
    check=check_loose,
    lay_out=lay_out_loose,
    parts=loose_parts,
    item_edits=emitters.emitter_edits,
    move_item=emitters.with_emitter_moved,
    usual_standard=_usual_standard,
)
