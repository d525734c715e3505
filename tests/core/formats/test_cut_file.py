"""The cutting job as a file, and `gauze cut`."""

import contextlib
import json
from pathlib import Path

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.__main__ import main
from gauze.core.errors import FormatError
from gauze.core.formats.cut_file import decode_cut, job_of

EXAMPLE = Path(__file__).parents[3] / "docs" / "examples" / "shelf-frame.cut.json"


def test_the_example_is_cut_and_its_answer_is_whole(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["cut", str(EXAMPLE), "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["optimal"]
    assert answer["cost"] == answer["bound"]
    cut = [piece["name"] for bar in answer["bars"] for piece in bar["pieces"]]
    assert sorted(cut) == sorted(["side"] * 6 + ["top"] * 4 + ["brace"] * 5)
    assert answer["stock_length_mm"] == sum(bar["length_mm"] for bar in answer["bars"])
    assert main(["cut", str(EXAMPLE)]) == 0
    text = capsys.readouterr().out
    assert "no plan costs less" in text
    assert "offcut of 730" in text


def test_what_cannot_be_cut_ends_with_exit_code_2(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    job = json.loads(EXAMPLE.read_bytes())
    job["pieces"].append({"name": "flagpole", "length_mm": 9000.0})
    file = tmp_path / "long.json"
    file.write_text(json.dumps(job))
    assert main(["cut", str(file)]) == 2
    assert "flagpole" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"format": "gauze-network"}, "format"),
        ({"format_version": 2}, "format_version"),
        ({"kerf_mm": -1.0}, "kerf_mm"),
        ({"pieces": [{"name": "x", "length_mm": 0.0}]}, "length_mm"),
        ({"pieces": [{"name": "", "length_mm": 1.0}]}, "name"),
        ({"pieces": [{"name": "x", "length_mm": 1.0, "quantity": -3}]}, "quantity"),
        ({"stocks": [{"length_mm": 1.0, "price": "cheap"}]}, "price"),
        ({"colour": "red"}, "colour"),
    ],
)
def test_what_is_no_job_is_refused_with_its_place(change: dict[str, object], words: str) -> None:
    data = msgspec.json.encode(json.loads(EXAMPLE.read_bytes()) | change)
    with pytest.raises(FormatError, match=words):
        decode_cut(data)


@pytest.mark.parametrize("data", [b"", b"  ", b"{", b"[]", b"\xff\xfe", b"null"])
def test_what_is_no_json_is_refused(data: bytes) -> None:
    with pytest.raises(FormatError):
        decode_cut(data)


@given(st.integers(0, 500), st.binary(min_size=1, max_size=3))
def test_damage_is_told_in_words(at: int, junk: bytes) -> None:
    data = bytearray(EXAMPLE.read_bytes())
    data[at % len(data) : at % len(data) + len(junk)] = junk
    with contextlib.suppress(FormatError):
        job_of(decode_cut(bytes(data)))
