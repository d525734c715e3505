"""The commands of the bench: what they answer, and what they say to bad input."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from gauze.__main__ import main
from gauze.core.formats.design_file import encode_design
from tests.builders import design
from tests.core.proving.rendering import as_png, picture_of
from tests.core.proving.test_photo import CORNERS, HIGH, KEYS, WIDE, face_of

Capture = pytest.CaptureFixture[str]
# two segments of rail feed two loads; volts by hand from Ohm's law with the factor
LOAD = {"kind": "constant_current", "minus": "gnd", "current_a": 1.0, "full_above_v": 3.0, "zero_below_v": 2.0}
NETWORK = {
    "format": "gauze-network",
    "format_version": 1,
    "supplies": [{"id": "psu", "plus": "in", "minus": "gnd", "volts": 5.0}],
    "resistors": [{"id": "r1", "from": "in", "to": "a", "ohm": 0.1}, {"id": "r2", "from": "a", "to": "b", "ohm": 0.1}],
    "loads": [{"id": "l1", "plus": "a"} | LOAD, {"id": "l2", "plus": "b"} | LOAD],
}


@pytest.fixture
def file(tmp_path: Path) -> Path:
    path = tmp_path / "panel.gauze"
    path.write_bytes(encode_design(design(face_width_mm=WIDE, face_height_mm=HIGH, depth_mm=80.0)))
    return path


@pytest.fixture
def image(tmp_path: Path) -> Path:
    path = tmp_path / "face.png"
    path.write_bytes(as_png(picture_of(face_of(), CORNERS)))
    return path


def table(folder: Path, *rows: str) -> Path:
    path = folder / "readings.csv"
    path.write_text("quantity,place,value,uncertainty,note\n" + "\n".join(rows) + "\n")
    return path


def answer(capsys: Capture) -> dict[str, Any]:
    found: dict[str, Any] = json.loads(capsys.readouterr().out)
    return found


def test_a_photograph_is_measured(file: Path, image: Path, capsys: Capture) -> None:
    assert main(["photo", str(file), "--image", str(image), "--json"]) == 0
    found = answer(capsys)
    assert found.keys() >= KEYS
    assert np.abs(np.array(found["corners_px"]) - CORNERS).max() < 1.0
    assert found["width_px"] == 800
    assert found["linearised_from"] == "sRGB"
    assert found["vignetting"] == "none"
    assert 0.8 < found["nine_min_over_max"] < 1.0
    assert {"direction", "pitch_mm", "amplitude"} == found["ripple"][0].keys()
    assert found["dark_places"] == []
    assert main(["photo", str(file), "--image", str(image)]) == 0
    assert "Nine places" in capsys.readouterr().out


def test_corners_and_an_even_field_are_given(file: Path, image: Path, tmp_path: Path, capsys: Capture) -> None:
    flat = tmp_path / "flat.png"
    flat.write_bytes(as_png(np.full((600, 800, 3), 0.6)))
    corners = " ".join(f"{x:g},{y:g}" for x, y in CORNERS)
    assert main(["photo", str(file), "--image", str(image), "--corners", corners, "--flat", str(flat), "--json"]) == 0
    found = answer(capsys)
    assert found["corners_px"] == CORNERS.tolist()
    assert found["vignetting"] == "flat"


@pytest.mark.parametrize(
    "more",
    [
        ["--corners", "1,2 3,4"],
        ["--corners", "a,b c,d e,f g,h"],
        ["--corners", "100,100 300,300 300,100 100,300"],
        ["--vignetting", "exif"],
    ],
)
def test_what_cannot_be_measured_is_told_with_code_2(file: Path, image: Path, more: list[str], capsys: Capture) -> None:
    assert main(["photo", str(file), "--image", str(image), *more, "--json"]) == 2
    told = capsys.readouterr()
    assert told.err.startswith("gauze: ")
    if told.out:
        assert json.loads(told.out)["nine_min_over_max"] is None


def test_a_black_picture_gives_null_figures_and_code_2(file: Path, tmp_path: Path, capsys: Capture) -> None:
    black = tmp_path / "black.png"
    black.write_bytes(as_png(np.zeros((300, 400, 3))))
    assert main(["photo", str(file), "--image", str(black), "--json"]) == 2
    found = answer(capsys)
    assert found["nine_min_over_max"] is None
    assert found["warnings"] == ["dark", "no_exif"]


def test_a_file_that_is_no_picture_or_is_gone(file: Path, tmp_path: Path, capsys: Capture) -> None:
    assert main(["photo", str(file), "--image", str(file)]) == 2
    assert "not a picture" in capsys.readouterr().err
    assert main(["photo", str(file), "--image", str(tmp_path / "gone.png")]) == 2
    assert "does not exist" in capsys.readouterr().err


def test_readings_are_compared_and_fitted(file: Path, tmp_path: Path, image: Path, capsys: Capture) -> None:
    assert main(["power", str(file), "--json"]) == 0
    volts = answer(capsys)
    assert volts
    readings = table(tmp_path, "volts,supply,12.1,0.05,", "lux,target,100000,10,", 'cd_m2,"300,200",2000,90,')
    assert main(["compare", str(file), "--readings", str(readings), "--json"]) == 0
    found = answer(capsys)
    assert [one["state"] for one in found["readings"]][:2] == ["agrees", "off"]
    assert found["agrees"] + found["doubtful"] + found["off"] == 3
    assert main(["fit", str(file), "--readings", str(readings), "--image", str(image), "--json"]) == 0
    fitted = answer(capsys)
    assert {"fitted", "residuals", "next_reading"} <= fitted.keys()
    names = {one["name"] for one in fitted["fitted"]}
    assert {
        "rail_ohm_per_m",
        "supply_v",
        "flux_factor",
        "transmittance",
        "reflectance_walls",
        "reflectance_back",
    } == names
    for command in ("compare", "fit"):
        assert main([command, str(file), "--readings", str(readings)]) == 0
        assert "target" in capsys.readouterr().out


def test_a_bare_circuit_is_fitted(tmp_path: Path, capsys: Capture) -> None:
    """Rails 1.3 times as resistive, the supply at 5.1 V: a = 5.1 - 0.26, b = a - 0.13, by Ohm's law."""
    file = tmp_path / "net.json"
    file.write_text(json.dumps(NETWORK))
    readings = table(
        tmp_path, "volts,in,5.1,0.005,", "volts,a,4.84,0.005,", "volts,b,4.71,0.005,", "amps,psu,2.0,0.02,"
    )
    assert main(["fit", str(file), "--readings", str(readings), "--json"]) == 0
    found = {one["name"]: one for one in answer(capsys)["fitted"]}
    assert found["rail_factor"]["value"] == pytest.approx(1.3, abs=0.03)
    assert found["supply_v"]["value"] == pytest.approx(5.1, abs=0.02)
    assert abs(found["rail_factor"]["value"] - 1.3) <= found["rail_factor"]["uncertainty"]
    assert main(["compare", str(file), "--readings", str(readings)]) == 0
    assert main(["compare", str(file), "--readings", str(table(tmp_path, "volts,moon,1,,")), "--json"]) == 2
    assert "moon" in capsys.readouterr().err
    assert main(["fit", str(file), "--readings", str(table(tmp_path, "lux,a,1,,"))]) == 2


@pytest.mark.parametrize("row", ["volts,row-99,1,,", "volts,supply,24 V,,", "ohms,supply,1,,", "volts,supply,99999,,"])
def test_readings_that_cannot_be_are_told(file: Path, tmp_path: Path, row: str, capsys: Capture) -> None:
    for command in ("compare", "fit"):
        assert main([command, str(file), "--readings", str(table(tmp_path, row))]) == 2
        assert capsys.readouterr().err.startswith("gauze: ")
    empty = tmp_path / "empty.csv"
    empty.write_bytes(b"")
    assert main(["compare", str(file), "--readings", str(empty)]) == 2
