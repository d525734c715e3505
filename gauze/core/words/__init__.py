"""What is said to people, kept as data: a template with its values, in no unit and no language until it is read."""

from gauze.core.words.reader import ENGLISH, Reader
from gauze.core.words.words import Distance, Fixed, Joined, Length, Number, Percent, Text, Words, say

__all__ = [
    "ENGLISH",
    "Distance",
    "Fixed",
    "Joined",
    "Length",
    "Number",
    "Percent",
    "Reader",
    "Text",
    "Words",
    "say",
]
