import contextlib
import json
from pathlib import Path

import jsonschema
import msgspec
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from gauze.core.design import Design
from gauze.core.errors import DesignError, FormatError, GauzeError
from gauze.core.formats.design_file import MOST_BYTES, decode_design, design_schema, encode_design
from gauze.demo import demo_design_bytes
from tests.builders import CATALOGUE, design, designs

PUBLISHED = Path(__file__).parents[3] / "docs" / "gauze-design-1.schema.json"


def changed(**top: object) -> bytes:
    return json.dumps(json.loads(demo_design_bytes()) | top).encode()


def with_build(**changes: object) -> bytes:
    raw = json.loads(demo_design_bytes())
    raw["build"] |= changes
    return json.dumps(raw).encode()


@given(designs())
def test_every_design_comes_back_exactly(candidate: Design) -> None:
    data = encode_design(candidate)
    assert decode_design(data, CATALOGUE) == candidate
    assert encode_design(decode_design(data, CATALOGUE)) == data
    jsonschema.validate(json.loads(data), design_schema())


def test_the_file_is_for_people() -> None:
    text = encode_design(design()).decode()
    assert text.startswith('{\n  "format": "gauze-design",\n  "format_version": 1,')
    assert '"depth_mm": 30.0' in text
    assert '"family": "strip_panel"' in text
    assert "null" not in text


def test_the_published_schema_is_the_code() -> None:
    assert json.loads(PUBLISHED.read_text("utf-8")) == msgspec.json.decode(msgspec.json.encode(design_schema()))
    jsonschema.Draft202012Validator.check_schema(design_schema())
    jsonschema.validate(json.loads(demo_design_bytes()), design_schema())
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(json.loads(with_build(depth_mm=-1)), design_schema())


BAD = [
    (b"", "empty"),
    (b"   \n", "empty"),
    (b"\x00\xff\xfe", "not JSON"),
    (b"[]", "not a Gauze design"),
    (b'"text"', "not a Gauze design"),
    (b'{"format": "something-else"}', "not a Gauze design"),
    (b'{\n "format": "gauze-design",,\n}', "line 2, column 27"),
    (changed(format_version=2), "newer Gauze"),
    (changed(format_version="1"), "must be 1"),
    (changed(format_version=True), "must be 1"),
    (changed(colour="red"), "unknown key “colour”"),
    (with_build(dpeth_mm=3), "At build: unknown key “dpeth_mm”"),
    (with_build(depth_mm="deep"), "At build.depth_mm: expected a number, got text"),
    (with_build(depth_mm=-1), "At build.depth_mm"),
    (with_build(family="windmill"), "At build"),
    (changed(name=None), "At name"),
    (b"[" * 100_000, "JSON|not a Gauze"),
    (b'{"x": 1e999}', "too large|not a Gauze"),
    (b"{" + b" " * MOST_BYTES + b"}", "at most"),
]


@pytest.mark.parametrize(("data", "message"), BAD, ids=range(len(BAD)))
def test_what_is_wrong_is_said_and_where(data: bytes, message: str) -> None:
    with pytest.raises(FormatError, match=message):
        decode_design(data, CATALOGUE)


def test_a_choice_that_cannot_stand_names_its_place() -> None:
    with pytest.raises(DesignError, match=r"At build\.diffuser: There is no diffuser"):
        decode_design(with_build(diffuser="gossamer"), CATALOGUE)


@given(st.integers(0, len(demo_design_bytes()) - 2))
def test_a_file_cut_off_anywhere_is_refused(length: int) -> None:
    with pytest.raises(FormatError):
        decode_design(demo_design_bytes()[:length], CATALOGUE)


@given(st.integers(0, len(demo_design_bytes()) - 1), st.integers(0, 255))
@example(0, 0)
def test_a_damaged_byte_is_refused_or_harmless(place: int, value: int) -> None:
    data = bytearray(demo_design_bytes())
    data[place] = value
    with contextlib.suppress(GauzeError):  # anything else is a defect
        decode_design(bytes(data), CATALOGUE)
