"""Tables of emitters and their photometry brought into designs."""

from pathlib import Path

import msgspec
import pytest

from gauze.core.design.cavity import BoxShape, FrustumShape, PrismShape
from gauze.core.errors import DesignError, FormatError, GauzeError, StorageError
from gauze.core.families import lay_out
from gauze.core.formats.design_file import decode_design
from gauze.core.materials import MattSheet
from gauze.demo import demo_sign_bytes
from gauze.session import edits
from gauze.session.emitters import (
    Inside,
    inside_words,
    new_design,
    parse_cavity,
    parse_finish,
    parse_sheet,
    read_emitters,
    with_emitters,
)
from gauze.session.versions import keep_version
from tests.builders import CATALOGUE, CAVITIES, design, emitter, loose_design

HEAD = "x_mm,y_mm,z_mm,nx,ny,nz,flux_lm,ies\n"
SPOT = "IES:LM-63-2019\n[LUMINAIRE] Spot\nTILT=NONE\n1 -1 1 3 1 1 2 0 0 0\n1 1 5\n0 45 90\n0\n9 5 0\n"


def write(folder: Path, rows: str) -> Path:
    path = folder / "lamp.csv"
    path.write_text(HEAD + rows)
    return path


def test_photometry_lies_beside_the_table(tmp_path):
    (tmp_path / "spot.ies").write_text(SPOT)
    emitters, distributions = read_emitters(write(tmp_path, "10,10,2,0,0,1,5,spot.ies\n20,10,2,0,0,1,5,\n"))
    assert [one.distribution for one in emitters] == [0, -1]
    assert distributions[0].name == "Spot"
    lay_out(new_design("lamp", emitters, distributions), CATALOGUE)


@pytest.mark.parametrize("name", ["../spot.ies", "/etc/spot.ies", "a/../../spot.ies"])
def test_photometry_from_elsewhere_is_refused(tmp_path, name):
    with pytest.raises(FormatError, match="is not in the folder"):
        read_emitters(write(tmp_path, f"10,10,2,0,0,1,5,{name}\n"))


def test_missing_and_damaged_photometry_is_named(tmp_path):
    table = write(tmp_path, "10,10,2,0,0,1,5,spot.ies\n")
    with pytest.raises(StorageError, match=r"spot\.ies.*does not exist"):
        read_emitters(table)
    (tmp_path / "spot.ies").write_text("no lamp")
    with pytest.raises(FormatError, match=r"“spot\.ies”: There is no line “TILT=”"):
        read_emitters(table)


def test_a_panel_becomes_a_box_of_its_size_where_the_emitters_fit():
    fitting, wide = (emitter(100, 100), emitter(500, 300)), (emitter(100, 100), emitter(900, 300))
    assert with_emitters(design(), fitting, ()).loose.cavity == BoxShape(width_mm=600.0, height_mm=400.0, depth_mm=30.0)
    lay_out(with_emitters(design(), wide, ()), CATALOGUE)


def test_loose_emitters_are_exchanged_and_the_rest_stays():
    shape, place = CAVITIES["tube"]
    before = loose_design(shape, emitter(*place), level=0.5, walls=0.33)
    after = with_emitters(before, (emitter(10, 0, 6), emitter(50, 0, 6)), ()).loose
    assert (after.cavity, after.level, after.walls) == (shape, 0.5, 0.33)
    assert len(after.emitters) == 2
    washed = with_emitters(
        before, (emitter(10, 10, 6),), (), Inside(parse_cavity("open_wall,width_mm=90,height_mm=90,reach_mm=90"))
    )
    assert washed.loose.diffuser is None
    lay_out(washed, CATALOGUE)


def test_cavities_are_read_from_words():
    assert parse_cavity("box, width_mm=90, height_mm=60, depth_mm=25") == CAVITIES["box"][0]
    assert parse_cavity("frustum,back_mm=10,lid_mm=20,depth_mm=5,sides=6") == FrustumShape(
        sides=6, back_mm=10.0, lid_mm=20.0, depth_mm=5.0
    )
    prism = parse_cavity("prism,corners_mm=0 0;80 0;40 70,depth_mm=20")
    assert prism == PrismShape(corners_mm=((0.0, 0.0), (80.0, 0.0), (40.0, 70.0)), depth_mm=20.0)


@pytest.mark.parametrize(
    "words", ["", "barrel", "box,width_mm=wide", "box,width_mm=90", "prism,corners_mm=1;2,depth_mm=3"]
)
def test_words_that_are_no_cavity(words):
    with pytest.raises(FormatError, match="cannot be read"):
        parse_cavity(words)


def test_a_cavity_that_cannot_be_read_names_the_choices():
    with pytest.raises(FormatError, match=r"one of: box, prism, frustum"):
        parse_cavity("barrel,width_mm=3")
    with pytest.raises(FormatError, match=r"tube,length_mm=…,diameter_mm=…,\[bed_height_mm=…\]"):
        parse_cavity("tube,length_mm=90,width_mm=3")


def test_sheets_and_finishes_are_read_from_words():
    assert parse_sheet("opal-acrylic-3", CATALOGUE) == "opal-acrylic-3"
    assert parse_sheet("0.5, 0.4", CATALOGUE) == MattSheet(transmittance=0.5, reflectance=0.4)
    assert parse_finish("0.8", "--back", CATALOGUE) == 0.8
    for words, said in (("0.5", "one of: "), ("fog", "one of: "), ("0.7,0.5", "add up to 1"), ("nan,0.1", "add up")):
        with pytest.raises(GauzeError, match=said):
            parse_sheet(words, CATALOGUE)
    for words in ("1", "-0.1", "nan", "gold"):
        with pytest.raises(FormatError, match=r"--walls.*matt-white-paint"):
            parse_finish(words, "--walls", CATALOGUE)


def test_what_was_taken_unasked_is_said():
    made = new_design("lamp", (emitter(10, 10),), (), Inside(walls=0.4))
    words = inside_words(made, Inside(walls=0.4), CATALOGUE)
    assert [line.split(":")[0] for line in words] == ["cavity", "sheet", "back", "walls"]
    assert [("(taken" in line) for line in words] == [True, True, True, False]


def test_importing_keeps_versions_and_the_measured_current():
    before = keep_version(msgspec.structs.replace(design(), measured_row_current_a=1.25))
    after = with_emitters(before, (emitter(100, 100),), ())
    assert after.kept == before.kept
    assert after.measured_row_current_a == 1.25
    assert with_emitters(after, (emitter(50, 50),), ()).kept == before.kept


def test_another_shape_is_put_around_the_emitters_and_the_sheet_follows():
    shape, place = CAVITIES["box"]
    start = loose_design(shape, emitter(*place))
    wall = edits.with_shape(start, "open_wall")
    assert wall.loose.diffuser is None
    again = edits.with_shape(wall, "tube")
    assert again.loose.diffuser == "opal-acrylic-3"
    for changed in (wall, again):
        lay_out(changed, CATALOGUE)


def test_counts_of_a_cavity_are_whole():
    cells = edits.with_shape(loose_design(CAVITIES["box"][0], emitter(30, 30)), "baffled")
    assert edits.with_cavity(cells, "columns", 4.0).loose.cavity.columns == 4
    with pytest.raises(DesignError, match="whole number"):
        edits.with_cavity(cells, "columns", 2.5)
    assert msgspec.structs.asdict(cells.loose.cavity)["rows"] >= 1


def test_the_example_in_the_docs_is_the_demo():
    """The table and its photometry, imported, are the demo of loose emitters."""
    folder = Path(__file__).parents[2] / "docs" / "examples"
    emitters, distributions = read_emitters(folder / "harbour-sign.csv")
    demo = decode_design(demo_sign_bytes(), CATALOGUE).loose
    assert emitters == demo.emitters
    assert distributions == demo.distributions
