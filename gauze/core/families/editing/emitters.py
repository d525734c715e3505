"""Loose emitters on the drawing: copied, removed, moved."""

from functools import partial

import msgspec

from gauze.core.design import Design, with_build
from gauze.core.design.numbering import without
from gauze.core.families.family import Change
from gauze.core.layout.sketch import MovableItem
from gauze.core.words import Text, say

_ASIDE_MM = 5.0  # a copy, so that both are seen


def emitter_edits(design: Design, item: MovableItem) -> list[tuple[Text, Change]]:
    """An emitter copied or removed; the last one stays."""
    build, index = design.loose, item.index
    emitters = build.emitters
    copied = msgspec.structs.replace(emitters[index], x_mm=emitters[index].x_mm + _ASIDE_MM)
    found: list[tuple[Text, Change]] = [(say("Copy emitter"), partial(with_build, emitters=(*emitters, copied)))]
    if len(emitters) > 1:
        fewer, numbers = (*emitters[:index], *emitters[index + 1 :]), without(build.numbers, len(emitters), index)
        found.append((say("Remove emitter"), partial(with_build, emitters=fewer, numbers=numbers)))
    return found


def with_emitter_moved(design: Design, item: MovableItem, dx_mm: float, dy_mm: float) -> Design:
    """Return the design with an emitter moved from where it was drawn."""
    emitters = list(design.loose.emitters)
    x_mm, y_mm = round(item.x_mm + dx_mm, 1), round(item.y_mm + dy_mm, 1)
    emitters[item.index] = msgspec.structs.replace(emitters[item.index], x_mm=x_mm, y_mm=y_mm)
    return with_build(design, emitters=tuple(emitters))
