import io
import json
import socket
from pathlib import Path

import msgspec
import numpy as np
import pytest
from PIL import Image

from gauze.__main__ import main
from gauze.cli.options import parse
from gauze.core.design import Design
from gauze.core.design.wiring import Wiring
from gauze.core.evaluate import evaluate, find
from gauze.core.formats.design_file import encode_design
from tests.builders import CATALOGUE, design
from tests.circuits import strip
from tests.families import family, shells


@pytest.fixture
def file(tmp_path: Path) -> Path:
    return write(tmp_path, design())


def write(folder: Path, what: Design) -> Path:
    path = folder / "panel.gauze"
    path.write_bytes(encode_design(what))
    return path


def test_check_prints_every_finding_and_fails_where_one_fails(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    failing = design({"standard": "reference"})
    assert main(["check", str(write(tmp_path, failing))]) == 1
    out = capsys.readouterr().out
    assert out.startswith("Test panel: 1 thing to change")
    assert "FAIL  From 2 m the rows are " in out
    for finding in find(evaluate(failing, CATALOGUE)):
        assert str(finding.sentence) in out, finding.code
        assert all(str(figure.name) in out for figure in finding.figures)
    assert "Barten" in out
    assert "Caution: Mains" in out


def test_check_is_fine_where_nothing_fails(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    good = write(tmp_path, design({"wanted_luminance_cd_m2": 2600.0}, depth_mm=70.0))
    assert main(["check", str(good), "--json"]) == 0
    body = json.loads(capsys.readouterr().out)
    assert {finding["state"] for finding in body["findings"]} <= {"good", "watch", "note"}
    assert main(["check", str(good), "--unit", "in"]) == 0


def test_map_writes_the_arrays_that_it_promises(file: Path, tmp_path: Path) -> None:
    assert main(["map", str(file), "--out", str(tmp_path / "m.npz"), "--pixels", "20000"]) == 0
    with np.load(tmp_path / "m.npz") as arrays:
        shape = (len(arrays["y_mm"]), len(arrays["x_mm"]))
        assert arrays["illuminance_lx"].shape == arrays["luminance_cd_m2"].shape == shape
        assert arrays["XYZ"].shape == (*shape, 3)
        assert (arrays["XYZ"][..., 1] == arrays["luminance_cd_m2"]).all()
        assert arrays["x_mm"].min() > 0
        assert arrays["x_mm"].max() < 600
        assert arrays["illuminance_lx"].mean() > 1000


def test_render_writes_the_face(file: Path, tmp_path: Path) -> None:
    for name, options in (("t", []), ("f", ["--false-colour"]), ("r", ["--room-lx", "500", "--exposure", "1"])):
        out = tmp_path / f"{name}.png"
        assert main(["render", str(file), "--out", str(out), *options]) == 0
        picture = Image.open(io.BytesIO(out.read_bytes()))
        assert picture.width / picture.height == pytest.approx(1.5, rel=0.02)


@pytest.mark.parametrize(
    ("arguments", "message"),
    [
        (["check", "{dir}/none.gauze"], "does not exist"),
        (["check", "{dir}/bad.gauze"], "truncated"),
        (["check", "{dir}/wide.gauze"], "do not fit"),
        (["map", "{file}", "--out", "{dir}/m.npz", "--pixels", "3"], "--pixels"),
        (["render", "{file}", "--out", "{dir}/p.png", "--exposure", "99"], "--exposure"),
        (["map", "{file}", "--out", "{dir}/m.npz", "--x", "0:600"], "together"),
        (
            ["map", "{file}", "--out", "{dir}/m.npz", "--x", "0:600", "--y", "9:3", "--cells", "3x3"],
            "smaller to a larger",
        ),
        (["map", "{file}", "--out", "{dir}/m.npz", "--x", "0:600", "--y", "a:3", "--cells", "3x3"], "two numbers"),
        (["map", "{file}", "--out", "{dir}/m.npz", "--x", "0:6", "--y", "0:3", "--cells", "3.5x3"], "whole numbers"),
        (["map", "{file}", "--out", "{dir}/m.npz", "--x", "0:6", "--y", "0:nan", "--cells", "3x3"], "--y"),
    ],
)
def test_bad_input_is_explained_with_exit_code_2(
    arguments: list[str], message: str, file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    (tmp_path / "bad.gauze").write_bytes(b'{"format": ')
    wide = file.read_text().replace('"count": 11', '"count": 110')
    (tmp_path / "wide.gauze").write_text(wide)
    assert main([word.format(dir=tmp_path, file=file) for word in arguments]) == 2
    assert message in capsys.readouterr().err


@pytest.mark.parametrize(
    ("arguments", "message"),
    [
        (["map", "{file}", "--out", "{dir}/nowhere/m.npz"], "nowhere” does not exist"),
        (["render", "{file}", "--out", "{dir}"], "folder"),
        (["ies", "{file}", "--out", "/dev/null"], "device"),
        (["render", "{file}", "--out", "{file}"], "what is being read"),
        (["emitters", "{dir}/lamp.csv", "--out", "{dir}/lamp.csv"], "what is being read"),
        (["emitters", "{dir}/lamp.csv", "--into", "{file}", "--out", "{file}"], "what is being read"),
    ],
)
def test_what_cannot_be_written_is_explained_with_exit_code_3(
    arguments: list[str], message: str, file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    (tmp_path / "lamp.csv").write_text(TABLE)
    before = file.read_bytes()
    assert main([word.format(dir=tmp_path, file=file) for word in arguments]) == 3
    assert message in capsys.readouterr().err
    assert file.read_bytes() == before
    assert (tmp_path / "lamp.csv").read_text() == TABLE


def test_a_map_on_a_grid_of_ones_own_keeps_the_flux(file: Path, tmp_path: Path) -> None:
    """The averages over cells, times their areas, are the flux on the face, in whatever cells; its own map says the same."""
    for name, options in (
        ("whole", []),
        ("cells", ["--x", "0:600", "--y", "0:400", "--cells", "30x20"]),
        ("wide", ["--x", "-100:700", "--y", "-50:450", "--cells", "7x9"]),
    ):
        out = tmp_path / f"{name}.npz"
        assert main(["map", str(file), "--out", str(out), *options]) == 0
        with np.load(out) as arrays:
            areas_m2 = np.outer(np.diff(arrays["y_edges_mm"]), np.diff(arrays["x_edges_mm"])) / 1e6 * arrays["covered"]
            assert (arrays["illuminance_lx"] * areas_m2).sum() == pytest.approx(float(arrays["lid_lm"]), rel=5e-3)
            assert areas_m2.sum() == pytest.approx(0.24, rel=1e-6)
            assert float(arrays["out_lm"]) < float(arrays["lid_lm"]) + float(arrays["emitted_lm"])
            assert str(arrays["design"]) == "Test panel"
            assert str(arrays["gauze"])
    with np.load(tmp_path / "cells.npz") as cells:
        assert cells["illuminance_lx"].shape == (20, 30)
        assert cells["illuminance_lx"] == pytest.approx(
            cells["illuminance_lx"][:, ::-1], rel=1e-3
        )  # the panel is symmetric


def test_schema_is_printed(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["schema"]) == 0
    assert json.loads(capsys.readouterr().out)["title"] == "Gauze design, version 1"


def test_a_bare_file_opens_the_window() -> None:
    assert parse(["a.gauze"]).command == "open"
    assert parse([]).command == "open"
    assert parse(["demo", "--theme", "light"]).theme == "light"
    with pytest.raises(SystemExit):
        parse(["--no-such-option"])


def test_ies_is_written(file: Path, tmp_path: Path) -> None:
    assert main(["ies", str(file), "--out", str(tmp_path / "a.ies")]) == 0
    assert (tmp_path / "a.ies").read_bytes().startswith(b"IES:LM-63-2019\r\n")


# -- emitters --------------------------------------------------------------------------------------------------------------

TABLE = "x_mm,y_mm,z_mm,nx,ny,nz,flux_lm\n20,20,2,0,0,1,30\n60,20,2,0,0,1,30\n"
CAVITIES_IN_WORDS = [
    "box,width_mm=80,height_mm=40,depth_mm=30",
    "prism,corners_mm=0 0;90 0;90 50;0 60,depth_mm=30",
    "frustum,back_mm=140,lid_mm=160,depth_mm=40",
    "frustum,sides=6,back_mm=140,lid_mm=160,depth_mm=40",
    "channel,section=rectangle,length_mm=90,width_mm=60,depth_mm=20",
    "tube,length_mm=90,diameter_mm=450",
    "baffled,columns=2,rows=1,pitch_x_mm=40,pitch_y_mm=40,depth_mm=20,partition_mm=1,partition_height_mm=15",
]


@pytest.mark.parametrize("words", CAVITIES_IN_WORDS)
def test_any_cavity_with_loose_emitters_is_reached_from_a_table(tmp_path: Path, words: str) -> None:
    table, made, out = tmp_path / "lamp.csv", tmp_path / "lamp.gauze", tmp_path / "lamp.npz"
    table.write_text(TABLE)
    assert main(["emitters", str(table), "--out", str(made), "--cavity", words]) == 0
    assert main(["map", str(made), "--out", str(out), "--pixels", "2000"]) == 0
    arrays = np.load(out)
    inside = arrays["inside"]
    assert arrays["illuminance_lx"].shape == inside.shape == (len(arrays["y_mm"]), len(arrays["x_mm"]))
    assert (arrays["illuminance_lx"][inside] > 0).all()
    assert (arrays["luminance_cd_m2"][~inside] == 0).all()


def test_a_table_goes_into_a_design(tmp_path: Path) -> None:
    table, panel, out = tmp_path / "lamp.csv", write(tmp_path, design(walls=0.4)), tmp_path / "new.gauze"
    table.write_text(TABLE)
    assert main(["emitters", str(table), "--into", str(panel), "--out", str(out)]) == 0
    body = json.loads(out.read_text())
    assert body["build"]["walls"] == 0.4
    assert body["build"]["cavity"]["width_mm"] == 600
    assert main(["check", str(out)]) in (0, 1)
    assert main(["ies", str(out), "--out", str(tmp_path / "new.ies")]) == 0
    assert main(["render", str(out), "--out", str(tmp_path / "new.png"), "--pixels", "2000"]) == 0


def test_bad_tables_are_told_row_by_row_and_nothing_is_written(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    table, out = tmp_path / "lamp.csv", tmp_path / "new.gauze"
    table.write_text(TABLE + "1,2\n5,5,2,0,0,0,30\n")
    assert main(["emitters", str(table), "--out", str(out)]) == 2
    said = capsys.readouterr().err
    assert "Line 4: there are 2 values for 7 columns" in said
    assert "Line 5: its axis" in said
    assert not out.exists()
    assert main(["emitters", str(tmp_path / "none.csv"), "--out", str(out)]) == 2
    table.write_text(TABLE)
    assert main(["emitters", str(table), "--out", str(out), "--cavity", "box,width_mm=30,height_mm=30,depth_mm=9"]) == 2
    assert "outside of the cavity" in capsys.readouterr().err
    assert main(["emitters", str(table), "--out", str(tmp_path / "no" / "new.gauze")]) == 3


def test_power_tells_volts_amps_and_light_of_every_segment(file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["power", str(file), "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert {one["id"] for one in found["pieces"]} >= {"row-1", "row-11"}
    for piece in found["pieces"]:
        for segment in piece["segments"]:
            assert 11.0 < segment["voltage_v"] <= 12.0
            assert all(0.8 < share <= 1.0 for share in segment["flux_share"])
    (supply,) = found["supplies"]
    leads = [one for one in found["wires"] if one["from"] == "supply" and one["conductor"] == "+"]
    assert sum(one["current_a"] for one in leads) == pytest.approx(supply["peak_a"])
    assert {one["code"] for one in found["findings"]} >= {"supply", "drop", "wire load"}
    assert main(["power", str(file)]) == 0
    out = capsys.readouterr().out
    assert "row-1: 1" in out
    assert "12 V supply" in out


def test_power_fails_where_a_chosen_wire_is_too_thin(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    thin = msgspec.structs.replace(design(), wiring=Wiring(wire_mm2=0.14))
    assert main(["power", str(write(tmp_path, thin))]) == 1
    assert "it gets hot" in capsys.readouterr().out


def test_network_solves_a_bare_circuit(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "net.json"
    path.write_bytes(msgspec.json.encode(strip(10, 1.0, 0.1)))
    assert main(["network", str(path), "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert found["supplies"]["supply p"]["current_a"] == pytest.approx(1.0)
    assert main(["network", str(path)]) == 0
    assert "1 A at 5 V" in capsys.readouterr().out
    path.write_text("{}")
    assert main(["network", str(path)]) == 2
    assert "format" in capsys.readouterr().err
    assert main(["network", str(tmp_path / "none.json")]) == 2


def test_wires_are_written_as_a_table(file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = tmp_path / "wires.csv"
    assert main(["wires", str(file), "--out", str(out)]) == 0
    assert out.read_text("utf-8").startswith("# Test panel")
    assert "22 wires" in capsys.readouterr().out
    assert main(["wires", str(file), "--out", str(tmp_path / "none" / "wires.csv")]) == 3


def test_drawings_of_a_wired_design_hold_its_wires(tmp_path: Path) -> None:
    plain, wired = (
        msgspec.structs.replace(design(), wiring=wiring) for wiring in (None, Wiring(scheme="separate", wire_mm2=0.5))
    )
    texts = []
    for what in (plain, wired):
        out = tmp_path / "plan.svg"
        assert main(["draw", str(write(tmp_path, what)), "--out", str(out)]) == 0
        texts.append(out.read_text("utf-8"))
    assert "1: 0." not in texts[0]
    assert "1: 0." in texts[1]


def test_the_pixel_map_is_written_or_refused(file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = tmp_path / "map.csv"
    assert main(["pixels", str(file), "--out", str(out)]) == 2
    assert "no pixels" in capsys.readouterr().err
    assert not out.exists()
    assert main(["pixels", str(write(tmp_path, family(shells()))), "--out", str(out)]) == 0
    assert out.read_text().startswith("index,piece")


def test_controller_tells_what_came_and_refuses_what_cannot_be(capsys: pytest.CaptureFixture[str]) -> None:
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as one:
        one.bind(("127.0.0.1", 0))
        port = str(one.getsockname()[1])
        assert main(["controller", "--port", port, "--seconds", "0.3"]) == 2
        assert f"Port {port} is not available" in capsys.readouterr().err
    assert main(["controller", "--port", port, "--seconds", "0.3"]) == 0
    assert "0 pixels, 0 pictures" in capsys.readouterr().out
    for option, value in (
        ("--port", "0"),
        ("--port", "x"),
        ("--pixels", "-1"),
        ("--cap-ma", "nan"),
        ("--pictures", ""),
    ):
        with pytest.raises(SystemExit, match="2"):
            main(["controller", option, value])
        assert "give a number from" in capsys.readouterr().err
