"""The design file, ``.gauze``: JSON, one object, units in the names, published as a JSON Schema.

A file names its format and version first. Version 1 is described by ``docs/gauze-design-1.schema.json``; a later
version will still read it. Unknown keys are refused, so that a slip of the pen cannot pass unseen.
"""

import codecs
import re
from typing import Any, Literal

import msgspec

from gauze.core.design import Design, with_build
from gauze.core.design.loose import LooseEmitter, LooseEmitters
from gauze.core.errors import DesignError, FormatError
from gauze.core.families import check_design
from gauze.core.formats.json_reading import plain_words, read_json
from gauze.core.materials import Catalogue
from gauze.core.printable import printable
from gauze.core.words import Fixed

EXTENSION = ".gauze"
FORMAT = "gauze-design"
VERSION = 1
MOST_BYTES = 128_000_000  # twice a design of as many emitters as one may have, with its kept versions
_MOST_VALUES = 12_000_000  # in all lists: more is no design, and would take long to read and much memory
_LONGEST_MARK = 100  # bytes of a format's name or version

_NUMBERS = re.compile(rb"\[[-+.\deE,\s]+\]")  # lists of numbers alone

_WHAT = "a Gauze design"
_NO_EMITTERS = b'"emitters": []'


class _Marks(msgspec.Struct):
    """What a file says it is; the rest is passed over unread."""

    format: msgspec.Raw = msgspec.Raw()
    format_version: msgspec.Raw = msgspec.Raw()


class DesignFile(Design, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """A design with the mark of its format."""

    format: Literal["gauze-design"]
    format_version: Literal[1]


def encode_design(design: Design) -> bytes:
    """Write a design as indented JSON, the same bytes for the same design.

    Raises
    ------
    FormatError
        When it would be too large to be read again.
    """
    emitters: tuple[LooseEmitter, ...] = ()
    loose = design.build_if(LooseEmitters)
    if loose is not None:  # there may be very many: each is written on a line of its own
        emitters = loose.emitters
        design = with_build(design, emitters=())
    body: dict[str, Any] = msgspec.to_builtins(design)
    marked = {"format": FORMAT, "format_version": VERSION} | {k: v for k, v in body.items() if v is not None}
    text = _NUMBERS.sub(_on_one_line, msgspec.json.format(msgspec.json.encode(marked), indent=2))
    if emitters:
        rows = b",".join(b"\n      " + msgspec.json.encode(one).replace(b",", b", ") for one in emitters)
        text = text.replace(_NO_EMITTERS, b'"emitters": [' + rows + b"\n    ]", 1)
    _check_size(text, "The design would be a file of", "Delete a version of it, or split it.")
    return text + b"\n"


def _on_one_line(numbers: re.Match[bytes]) -> bytes:
    return re.sub(rb"\s+", b" ", numbers[0]).replace(b"[ ", b"[").replace(b" ]", b"]")


def decode_design(data: bytes, catalogue: Catalogue) -> Design:
    """Read a design file.

    Raises
    ------
    FormatError
        When the bytes are no design file: empty, too large, not JSON (with line and column), of another
        format, of a newer version, with an unknown, missing or mistyped key (with its place).
    DesignError
        When the file is well formed but a choice in it is invalid.
    """
    text = data.removeprefix(codecs.BOM_UTF8)
    _check_marks(text)
    try:
        file = read_json(text, DesignFile, _WHAT)
    except msgspec.ValidationError as error:
        raise FormatError(plain_words(str(error))) from None
    fields = {name: getattr(file, name) for name in Design.__struct_fields__}
    design = Design(**fields)
    try:
        check_design(design, catalogue)
    except DesignError as error:
        raise DesignError(error.field, "At {field_}: {error}", field_=error.field, error=error) from None
    return design


def design_schema() -> dict[str, Any]:
    """Return the JSON Schema of version 1 (draft 2020-12)."""
    schema = msgspec.json.schema(DesignFile)
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Gauze design, version 1",
        "description": "A diffused light: what it is for and what is built. Lengths in mm, levels from 0 to 1.",
    } | schema


def _check_size(text: bytes, whose: str, advice: str) -> None:
    if len(text) > MOST_BYTES:
        raise FormatError(
            "{whose} {text} MB; a design has at most {most_bytes} MB. {advice}",
            whose=whose,
            text=Fixed(len(text) / 1000000.0, ".1f"),
            most_bytes=Fixed(MOST_BYTES / 1000000.0, ".0f"),
            advice=advice,
        )
    values = text.count(b",")
    if values > _MOST_VALUES:
        raise FormatError(
            "{whose} {values} million values; a design has at most {most_values}. {advice}",
            whose=whose,
            values=Fixed(values / 1000000.0, ".1f"),
            most_values=Fixed(_MOST_VALUES / 1000000.0, ".0f"),
            advice=advice,
        )


def _check_marks(text: bytes) -> None:
    if not text.strip():
        raise FormatError("The file is empty. Open another, or the autosaved copy if one is offered.")
    if text.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        raise FormatError("The file is text in UTF-16. Save it as UTF-8.")
    _check_size(text, "The file has", "This is not a Gauze design.")
    try:
        marks = read_json(text, _Marks, _WHAT)
    except msgspec.ValidationError:
        marks = _Marks()
    name, version = _mark(marks.format), _mark(marks.format_version)
    if name != FORMAT:
        raise FormatError("This is not a Gauze design: it does not say “format”: “{format}”.", format=FORMAT)
    if isinstance(version, int) and not isinstance(version, bool) and version > VERSION:
        raise FormatError(
            "The design was written by a newer Gauze (file version {version}; this one reads up to "
            "{version2}). Update Gauze to open it; the file stays as it is.",
            version=printable(str(version), 20),
            version2=VERSION,
        )
    if version != VERSION or isinstance(version, bool):
        raise FormatError(
            "“format_version” is {version}; it must be {version2}.",
            version=printable(repr(version), 40),
            version2=VERSION,
        )


def _mark(raw: msgspec.Raw) -> object:
    """Return a mark, or None for what is too long to be one."""
    text = bytes(raw)
    if not text or len(text) > _LONGEST_MARK:
        return None
    try:
        return msgspec.json.decode(text)
    except (msgspec.DecodeError, ValueError):
        return None
