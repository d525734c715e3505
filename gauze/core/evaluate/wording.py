"""Words for choices that findings and panels name alike."""

from typing import get_args

from gauze.core.design.wiring import Scheme
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
