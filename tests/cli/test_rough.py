"""Commands handled roughly, in processes of their own: any output encoding, closed and full outputs, inputs that are no files."""

import json
import os
import subprocess
import sys
import tracemalloc
from pathlib import Path

import pytest

from gauze.core.errors import FormatError, GauzeError
from gauze.core.formats.design_file import decode_design, encode_design
from gauze.core.formats.emitters_csv import decode_emitters
from tests.builders import CATALOGUE, design

PATIENCE = 300  # seconds: a hang is told from a slow machine
PANEL = encode_design(design(depth_mm=70.0))


def run(arguments: list[str], out: int = subprocess.PIPE, **environment: str) -> subprocess.CompletedProcess[bytes]:
    command = [sys.executable, "-m", "gauze", *arguments]
    env = {**os.environ, "PYTHONUTF8": "0", **environment}
    return subprocess.run(command, stdout=out, stderr=subprocess.PIPE, timeout=PATIENCE, env=env, check=False)


@pytest.fixture
def file(tmp_path: Path) -> Path:
    path = tmp_path / "panel.gauze"
    path.write_bytes(PANEL)
    return path


@pytest.mark.parametrize("encoding", ["ascii", "latin-1", "cp437"])
def test_any_encoding_of_the_output_will_do(file: Path, encoding: str) -> None:
    plain = run(["check", str(file)], PYTHONIOENCODING=encoding)
    assert plain.returncode in (0, 1)
    assert plain.stderr == b""
    assert plain.stdout.decode(encoding)
    body = run(["check", str(file), "--json"], PYTHONIOENCODING=encoding)
    want = run(["check", str(file), "--json"], PYTHONIOENCODING="utf-8")
    assert json.loads(body.stdout.decode(encoding)) == json.loads(want.stdout)
    bad = run(["check", str(file) + "“"], PYTHONIOENCODING=encoding)
    assert bad.returncode == 2
    assert b"does not exist" in bad.stderr


def test_a_full_output_is_told_and_a_closed_one_ends_plainly(file: Path) -> None:
    with Path("/dev/full").open("wb") as full:
        result = run(["check", str(file)], out=full.fileno())
    assert result.returncode == 3
    assert b"disk is full" in result.stderr
    for arguments in (["check", str(file)], ["--help"], ["schema"]):
        reader, writer = os.pipe()
        os.close(reader)
        result = run(arguments, out=writer)
        os.close(writer)
        assert result.returncode in ((0, 3) if arguments == ["--help"] else (3,))  # the parser may not notice
        assert result.stderr == b""
    command = f'exec "{sys.executable}" -m gauze check "$1" >&-'
    gone = subprocess.run(["bash", "-c", command, "-", str(file)], capture_output=True, timeout=PATIENCE, check=False)
    assert gone.returncode == 3
    assert b"no output" in gone.stderr


def test_an_input_that_is_no_file_is_refused(tmp_path: Path) -> None:
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    table = tmp_path / "lamp.csv"
    head = "x_mm,y_mm,z_mm,nx,ny,nz,flux_lm,ies\n"
    for arguments, words in (
        (["check", str(pipe)], b"pipe"),
        (["check", "/dev/zero"], b"device"),
        (["emitters", str(pipe), "--out", str(tmp_path / "o.gauze")], b"pipe"),
        (["emitters", str(table), "--into", str(pipe), "--out", str(tmp_path / "o.gauze")], b"pipe"),
    ):
        table.write_text(head + "1,1,1,0,0,1,5,\n")
        result = run(arguments)
        assert (result.returncode, words in result.stderr) == (2, True), result.stderr
    for name, words in (("pipe", b"pipe"), ("a\0b", b"character")):
        table.write_text(head + f"1,1,1,0,0,1,5,{name}\n")
        result = run(["emitters", str(table), "--out", str(tmp_path / "o.gauze")])
        assert (result.returncode, words in result.stderr) == (2, True), result.stderr
    assert not (tmp_path / "o.gauze").exists()


def test_a_file_name_with_escape_codes_or_odd_bytes_is_shown_safely(tmp_path: Path) -> None:
    odd = os.fsdecode(b"\x1b[31mred\xff.gauze")
    result = run(["check", str(tmp_path / odd)])
    assert result.returncode == 2
    assert b"\x1b" not in result.stderr
    assert b"\\x1b[31mred\\xff.gauze" in result.stderr
    (tmp_path / odd).write_bytes(PANEL)
    assert run(["map", str(tmp_path / odd), "--out", str(tmp_path / (odd + ".npz"))]).returncode == 0
    assert (tmp_path / (odd + ".npz")).exists()


def test_a_fault_of_ours_says_so(
    file: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    from gauze.__main__ import main
    from gauze.cli import commands

    def fault(*_: object) -> None:
        raise ZeroDivisionError("of ours")

    monkeypatch.setattr(commands, "find", fault)
    assert main(["check", str(file)]) == 70
    said = capsys.readouterr().err
    assert "fault of Gauze" in said
    assert "Traceback" not in said


JUNK = {
    "empty lists": b'{"format":"gauze-design","format_version":1,"name":[' + b"[]," * 16_000_000 + b"[]]}",
    "unknown": b'{"format":"gauze-design","format_version":1,"rubbish":[' + b"{}," * 3_000_000 + b"{}]}",
    "marks": b'{"format":[' + b"[]," * 3_000_000 + b"[]]}",
    "depth": b"[" * 2_000_000,
    "numbers": b'{"format":"gauze-design","format_version":1,"name":"' + b"9" * 3_000_000 + b'"}',
    "spaces": b" " * 20_000_000,
}


@pytest.mark.parametrize("name", sorted(JUNK))
def test_large_junk_takes_little_memory_and_is_refused(name: str) -> None:
    tracemalloc.start()
    try:
        with pytest.raises(GauzeError) as refused:
            decode_design(JUNK[name], CATALOGUE)
        peak = tracemalloc.get_traced_memory()[1]
    finally:
        tracemalloc.stop()
    assert len(str(refused.value)) < 500
    assert peak < len(JUNK[name]) * 2 + 20_000_000


@pytest.mark.parametrize(
    "data", [b"\n" * 30_000_000, b"," * 20_000_000, b"\r" * 9_000_000, b"x_mm" + b",x" * 5_000_000]
)
def test_large_junk_is_no_table(data: bytes) -> None:
    with pytest.raises(FormatError) as refused:
        decode_emitters(data)
    assert len(str(refused.value)) < 500


def test_marks_of_byte_order_are_no_damage() -> None:
    assert decode_design(b"\xef\xbb\xbf" + PANEL, CATALOGUE) == design(depth_mm=70.0)
    with pytest.raises(FormatError, match="UTF-16"):
        decode_design(PANEL.decode().encode("utf-16"), CATALOGUE)


def test_long_and_odd_keys_are_not_echoed_whole() -> None:
    key = "k" * 8000
    with pytest.raises(FormatError) as long:
        decode_design(PANEL.replace(b'"name"', f'"{key}": 1, "name"'.encode(), 1), CATALOGUE)
    assert len(str(long.value)) < 200
    with pytest.raises(FormatError) as odd:
        decode_design(PANEL.replace(b'"name"', b'"a\\u001b[31mb": 1, "name"', 1), CATALOGUE)
    assert "\x1b" not in str(odd.value)


@pytest.mark.parametrize("number", ["1" + "0" * 400, "1e999", "-1e400", "9" * 5000, "NaN", "Infinity"])
def test_numbers_beyond_all_are_refused_in_words(number: str) -> None:
    data = PANEL.replace(b'"depth_mm": 70.0', f'"depth_mm": {number}'.encode())
    assert data != PANEL
    with pytest.raises(GauzeError):
        decode_design(data, CATALOGUE)
    with pytest.raises(GauzeError):
        decode_design(PANEL.replace(b'"format_version": 1', f'"format_version": {number}'.encode()), CATALOGUE)


def test_the_run_script_reads_files_where_it_is_called(tmp_path: Path, file: Path) -> None:
    script = Path(__file__).parents[2] / "run"
    env = {**os.environ, "GAUZE_VENV": sys.prefix}
    command = [str(script), "check", file.name, "--json"]
    result = subprocess.run(command, cwd=tmp_path, env=env, capture_output=True, timeout=PATIENCE, check=False)
    assert result.returncode in (0, 1), result.stderr
    assert json.loads(result.stdout)["design"] == "Test panel"
