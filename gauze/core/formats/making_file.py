"""How a design is made, in the form that the ending of a file says; what writes pages is loaded only when one is wanted."""

from gauze.core.evaluate.made import MadeBuild
from gauze.core.formats.making_csv import encode_cuts
from gauze.core.words import ENGLISH, Reader

ENDINGS = (".csv", ".pdf")


def encode_making(name: str, made: MadeBuild, ending: str, reader: Reader = ENGLISH) -> bytes:
    """Write the cutting list as a table, or with the plans and the bill as pages, for another ending than CSV's."""
    if ending.lower() == ".csv":
        return encode_cuts(made)
    from gauze.core.formats.making_pdf import encode_making_pdf

    return encode_making_pdf(name, made, reader)
