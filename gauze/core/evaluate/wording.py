"""Words for choices that findings and panels name alike."""

from typing import get_args

from gauze.core.design.surroundings import BackMaterial, Stance
from gauze.core.design.wiring import Scheme
from gauze.core.electrical.growing import Pad
from gauze.core.words import Text, say

_SCHEMES: dict[str, Text] = {
    "own": say("as usual for this build"),
    "buses": say("from buses at one end"),
    "opposite": say("from buses at opposite ends"),
    "both_ends": say("from buses at both ends"),
    "in_a_row": say("one piece after the other"),
    "separate": say("each piece on its own"),
}
SCHEMES: tuple[str, ...] = get_args(Scheme)


def scheme_words(scheme: str) -> Text:
    """Name a school of wiring, as in "wired …"."""
    return _SCHEMES[scheme]


_STANCES: dict[str, Text] = {
    "upright": say("upright"),
    "face_up": say("lying, face up"),
    "face_down": say("face down, as under a ceiling"),
}
_BACKS: dict[str, Text] = {
    "timber": say("timber"),
    "fibreboard": say("fibreboard"),
    "plastic": say("plastic"),
    "acrylic": say("acrylic"),
    "steel": say("steel"),
    "aluminium": say("aluminium"),
}
STANCES: tuple[str, ...] = get_args(Stance)
BACKS: tuple[str, ...] = get_args(BackMaterial)


def stance_words(stance: str) -> Text:
    """Say how a build stands."""
    return _STANCES[stance]


def back_words(material: str) -> Text:
    """Name what the LEDs sit on."""
    return _BACKS[material]


def pad_words(pad: Pad) -> Text:
    """Say where a wire ends."""
    if not pad.piece:
        return say("the supply")
    if isinstance(pad.at, int):
        return say("{piece} after segment {after}", piece=pad.piece, after=pad.at)
    if pad.at == "start":
        return say("the start of {piece}", piece=pad.piece)
    return say("the end of {piece}", piece=pad.piece)
