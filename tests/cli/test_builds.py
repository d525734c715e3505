"""Builds without a window: checked, mapped, drawn, exported; every demo, and what cannot be read."""

import io
import json
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from gauze.__main__ import main
from gauze.core.design.build import FamilyBuild
from gauze.core.formats.design_file import encode_design
from gauze.core.formats.ies_reading import decode_ies
from gauze.demo import DEMOS
from tests.families import FAMILIES, cells, family, indirect, shells, strip_display, tiles, tube

SOME = {
    "tube": tube(),
    "balls": shells(),
    "tiles": tiles(),
    "wash": indirect(),
    "cells": cells(),
    "glow": strip_display(),
}


def write(folder: Path, build: FamilyBuild) -> Path:
    path = folder / "build.gauze"
    path.write_bytes(encode_design(family(build)))
    return path


@pytest.mark.parametrize("name", sorted(SOME))
def test_a_build_is_checked(name: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["check", str(write(tmp_path, SOME[name])), "--json"]) in (0, 1)
    findings = json.loads(capsys.readouterr().out)["findings"]
    codes = {finding["code"] for finding in findings}
    assert {"dots", "evenness", "colour", "output"} <= codes
    own = {
        "tube": "strip ends",
        "balls": "shells",
        "tiles": "chain",
        "wash": "bare strip",
        "cells": "crosstalk",
        "glow": "pixels",
    }
    assert own[name] in codes


@pytest.mark.parametrize("name", ["balls", "tiles", "glow"])
def test_the_map_of_a_build_lies_in_its_plan(name: str, tmp_path: Path) -> None:
    out = tmp_path / "map.npz"
    assert main(["map", str(write(tmp_path, SOME[name])), "--out", str(out), "--pixels", "8000"]) == 0
    with np.load(out) as arrays:
        inside = arrays["inside"]
        assert arrays["luminance_cd_m2"].shape == inside.shape == (len(arrays["y_mm"]), len(arrays["x_mm"]))
        assert (arrays["luminance_cd_m2"][inside] > 0).all()
        assert (arrays["luminance_cd_m2"][~inside] == 0).all()
        assert inside.mean() > 0.1


@pytest.mark.parametrize("name", ["tube", "tiles"])
def test_the_light_distribution_of_a_build_is_read_back(name: str, tmp_path: Path) -> None:
    out = tmp_path / "lamp.ies"
    assert main(["ies", str(write(tmp_path, SOME[name])), "--out", str(out)]) == 0
    read = decode_ies(out.read_bytes())
    assert read.candela.max() > 0
    assert read.gamma_deg[0] == 0


def test_the_face_of_tiles_is_transparent_beside_them(tmp_path: Path) -> None:
    out = tmp_path / "face.png"
    assert main(["render", str(write(tmp_path, SOME["tiles"])), "--out", str(out), "--pixels", "8000"]) == 0
    picture = Image.open(io.BytesIO(out.read_bytes()))
    assert picture.mode == "RGBA"
    assert picture.getpixel((0, 0))[3] == 0
    assert picture.getpixel((picture.width // 2, picture.height // 2))[3] == 255


@pytest.mark.parametrize("demo", [one for one in DEMOS if one.key in ("press_bars", "negative_face", "reading_head")])
def test_demos_are_checked_as_they_ship(demo: object, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "demo.gauze"
    path.write_bytes(demo.read())
    assert main(["check", str(path), "--unit", "in"]) in (0, 1)
    assert " in" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("found", "wanted", "words"),
    [
        ('"length_mm": 230.0', '"length_mm": -4.0', "length"),
        ('"length_mm": 230.0', '"length_mm": "long"', "a number"),
        ('"carrier": ', '"carier": ', "unknown key"),
        ('"family": "tube"', '"family": "hose"', "hose"),
        ('"strip": "24v-white-120"', '"strip": "none"', "no strip"),
        ("}", "", "truncated"),
    ],
)
def test_a_damaged_file_is_refused_with_its_place(
    found: str, wanted: str, words: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = write(tmp_path, FAMILIES["tube with a bed"])
    text = path.read_text()
    assert found in text
    path.write_text(text.replace(found, wanted) if wanted else text.rstrip()[:-1])
    assert main(["check", str(path)]) == 2
    assert words in capsys.readouterr().err.lower()
