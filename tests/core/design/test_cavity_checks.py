"""Choices of cavities and emitters that is invalid: each is refused at its place, in words with a remedy."""

import json

import msgspec
import pytest

from gauze.core.design.cavity import (
    BaffledShape,
    BoxShape,
    ChannelShape,
    FrustumShape,
    PrismShape,
    SphereShape,
    TubeShape,
    WallShape,
)
from gauze.core.design.loose import MeasuredDistribution
from gauze.core.errors import DesignError, FormatError
from gauze.core.families import check_design, lay_out
from gauze.core.formats.design_file import decode_design, encode_design
from tests.builders import CATALOGUE, CAVITIES, emitter, loose_design
from tests.builders import design as panel_design

BOX = BoxShape(width_mm=90.0, height_mm=60.0, depth_mm=25.0)
CELLS = BaffledShape(
    columns=3, rows=3, pitch_x_mm=20.0, pitch_y_mm=20.0, depth_mm=15.0, partition_mm=1.0, partition_height_mm=12.0
)


def channel(**changes: object) -> ChannelShape:
    sizes = {"section": "rectangle", "length_mm": 90.0, "width_mm": 16.0, "depth_mm": 10.0}
    return ChannelShape(**(sizes | changes))


def replaced(shape: object, **changes: object) -> object:
    return msgspec.structs.replace(shape, **changes)


SHAPES = [
    (replaced(BOX, width_mm=0.0), "width_mm", "0"),
    (replaced(BOX, width_mm=float("nan")), "width_mm", "finite|number"),
    (replaced(BOX, width_mm=9000.0), "width_mm", "5000|5 m"),
    (replaced(BOX, depth_mm=0.1), "depth_mm", "too small compared with"),
    (PrismShape(corners_mm=((0, 0), (10, 0)), depth_mm=5.0), "corners_mm", "3 to 24 corners"),
    (PrismShape(corners_mm=((0, 0), (40, 0), (10, 10), (0, 40)), depth_mm=5.0), "corners_mm", "convex"),
    (PrismShape(corners_mm=((0, 0), (10, 0), (20, 0), (0, 20)), depth_mm=5.0), "corners_mm", "convex"),
    (PrismShape(corners_mm=((0, 0), (40, 40), (40, 0), (0, 40)), depth_mm=5.0), "corners_mm", "convex"),
    (channel(section="v"), "bed_mm", "bed of a V"),
    (channel(bed_mm=5.0), "bed_mm", "Only a V"),
    (channel(section="u", depth_mm=6.0), "depth_mm", "make it deeper"),
    (channel(section="half_round"), "depth_mm", "half as deep"),
    (channel(lens_rise_mm=9.0), "lens_rise_mm", "at most by half"),
    (TubeShape(length_mm=90.0, diameter_mm=20.0, bed_height_mm=19.0), "bed_height_mm", "lower it"),
    (TubeShape(length_mm=90.0, diameter_mm=20.0, lit_deg=400.0), "lit_deg", "360"),
    (SphereShape(diameter_mm=50.0, base_mm=60.0), "base_mm", "does not fit"),
    (FrustumShape(sides=30, back_mm=10.0, lid_mm=20.0, depth_mm=10.0), "sides", "24"),
    (replaced(CELLS, columns=128, rows=128), "columns", "4096 cells"),
    (replaced(CELLS, partition_mm=15.0), "partition_mm", "thinner"),
    (replaced(CELLS, gap_below_mm=6.0), "partition_height_mm", "more than the depth"),
]


@pytest.mark.parametrize(("shape", "field", "words"), SHAPES)
def test_sizes_that_cannot_be(shape, field, words):
    with pytest.raises(DesignError, match=words) as caught:
        check_design(loose_design(shape, emitter(10, 10)), CATALOGUE)
    assert caught.value.field == f"build.cavity.{field}"


BUILDS = [
    ({"emitters": ()}, "emitters", "no emitter"),
    ({"diffuser": None}, "diffuser", "Choose a diffuser"),
    ({"diffuser": ()}, "diffuser", "Choose one sheet"),
    ({"diffuser": ("screen-film",) * 4}, "diffuser", "up to 3"),
    ({"diffuser": "velvet"}, "diffuser", "velvet"),
    ({"back": "velvet"}, "back", "velvet"),
    ({"level": 1.5}, "level", "1"),
    ({"emitters": (emitter(1, 1, nz=0.0),)}, "emitters[0]", "no direction"),
    ({"emitters": (emitter(1, 1), emitter(1, 1, m=2000.0))}, "emitters[1]", "Emitter 2"),
    ({"emitters": (emitter(1, 1, cct_k=0.0),)}, "emitters[0]", "neither a CCT"),
    ({"emitters": (emitter(1, 1, distribution=2),)}, "emitters[0]", "has distribution 2, but there are 0"),
]


@pytest.mark.parametrize(("changes", "field", "words"), BUILDS)
def test_builds_that_cannot_be(changes, field, words):
    build = loose_design(BOX, emitter(10, 10)).build
    design = loose_design(BOX)
    design = msgspec.structs.replace(design, build=msgspec.structs.replace(build, **changes))
    with pytest.raises(DesignError, match=words) as caught:
        check_design(design, CATALOGUE)
    assert caught.value.field == f"build.{field}"


def test_a_washed_wall_has_no_sheet():
    design = loose_design(
        WallShape(width_mm=90.0, height_mm=90.0, reach_mm=90.0), emitter(9, 9), diffuser="screen-film"
    )
    with pytest.raises(DesignError, match="a wall is lit"):
        check_design(design, CATALOGUE)


def distribution(**changes: object) -> MeasuredDistribution:
    good = {"name": "spot", "gamma_deg": (0.0, 45.0, 90.0), "c_deg": (0.0,), "candela": ((9.0, 5.0, 0.0),)}
    return MeasuredDistribution(**(good | changes))


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"gamma_deg": (0.0, 90.0, 45.0)}, "must increase"),
        ({"gamma_deg": (0.0,), "candela": ((1.0,),)}, "must increase"),
        ({"c_deg": (0.0, 180.0), "candela": 2 * ((9.0, 5.0, 0.0),)}, "0 to 360"),
        ({"candela": ((9.0, 5.0),)}, "a list for each plane"),
        ({"candela": ((0.0, 0.0, 0.0),)}, "emits nothing"),
        ({"gamma_deg": tuple(i * 1e-3 for i in range(70_000))}, "more than 60000"),
    ],
)
def test_distributions_that_cannot_be(changes, words):
    with pytest.raises(DesignError, match=words):
        check_design(loose_design(BOX, emitter(9, 9), distributions=(distribution(**changes),)), CATALOGUE)


@pytest.mark.parametrize("name", CAVITIES)
def test_every_cavity_comes_back_from_its_file(name):
    shape, place = CAVITIES[name]
    design = loose_design(
        shape, emitter(*place, m=2.5, cct_k=2700.0), emitter(*place, cct_k=0.0, cie_x=0.3, cie_y=0.32)
    )
    data = encode_design(design)
    assert decode_design(data, CATALOGUE) == design
    lay_out(design, CATALOGUE)
    emitters = json.loads(data)["build"]["emitters"]
    assert len(emitters) == 2
    assert data.count(b"\n") < 60  # an emitter stands on one line


def test_measured_distributions_come_back_from_the_file():
    design = loose_design(BOX, emitter(9, 9, distribution=0), distributions=(distribution(),))
    assert decode_design(encode_design(design), CATALOGUE) == design


def test_a_slip_in_the_file_is_told_with_its_place():
    text = encode_design(loose_design(BOX, emitter(9, 9))).decode()
    with pytest.raises(FormatError, match="build"):
        decode_design(text.replace('"depth_mm"', '"deep_mm"').encode(), CATALOGUE)
    with pytest.raises(FormatError, match="emitters"):
        decode_design(text.replace("[9, 9", '["left", 9').encode(), CATALOGUE)


@pytest.mark.parametrize("face", ["back", "walls"])
@pytest.mark.parametrize("reflectance", [-0.1, 0.99, 1.5, float("nan")])
def test_a_reflectance_that_cannot_be_is_refused_in_every_family(face, reflectance):
    for design in (loose_design(BOX, emitter(10, 10)), panel_design()):
        changed = msgspec.structs.replace(design, build=msgspec.structs.replace(design.build, **{face: reflectance}))
        with pytest.raises(DesignError, match=r"too small|too large|not a number") as caught:
            check_design(changed, CATALOGUE)
        assert caught.value.field == f"build.{face}"
