"""What reading any table begins with."""

from gauze.core.errors import FormatError


def text_of(data: bytes) -> str:
    """Return the text of a table; raises :class:`FormatError` with the line of the first byte that is none in UTF-8."""
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = data[: error.start].count(b"\n") + 1
        raise FormatError(
            "Line {line}: this is not text in UTF-8. Save the table as CSV in UTF-8.", line=line
        ) from None
