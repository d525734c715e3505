"""Words for choices that findings and panels name alike."""

from typing import get_args

from gauze.core.design.wiring import Scheme
from gauze.core.electrical.growing import Pad
from gauze.core.words import Text, say

_SCHEMES: dict[str, Text] = {
    "own": say("as usual for this build"),
    "buses": say("from buses at one end"),
    "opposite": say("from buses at opposite ends"),
    "both_ends": say("from buses at both ends"),
    "in_a_row": say("one piece after the other"),
    "separate": say("each piece by itself"),
}
SCHEMES: tuple[str, ...] = get_args(Scheme)


def scheme_words(scheme: str) -> Text:
    """Name a school of wiring, as in "wired …"."""
    return _SCHEMES[scheme]


def pad_words(pad: Pad) -> Text:
    """Say where a wire ends."""
    if not pad.piece:
        return say("the supply")
    if isinstance(pad.at, int):
        return say("{piece} after segment {after}", piece=pad.piece, after=pad.at)
    if pad.at == "start":
        return say("the start of {piece}", piece=pad.piece)
    return say("the end of {piece}", piece=pad.piece)
