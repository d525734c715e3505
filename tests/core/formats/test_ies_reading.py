"""Photometry by ANSI/IES LM-63: all its versions, symmetries and types, and what is said of damaged files.

The layout of the numbers is that of the standard's clause on the body of the file, from memory; the lamps are invented.
"""

import contextlib
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gauze.core.errors import FormatError
from gauze.core.evaluate import WHILE_DRAGGING, evaluate
from gauze.core.formats.ies import encode_ies
from gauze.core.formats.ies_reading import decode_ies
from gauze.core.optics.cavity.distribution import table_of
from tests.builders import CATALOGUE, CAVITIES, design, emitter, loose_design

GAMMA = (0.0, 30.0, 60.0, 90.0)


def file(
    planes: dict[float, list[float]],
    head: str = "IESNA:LM-63-2002\n[TEST] none\n[LUMINAIRE] Invented spot\n[MORE] second line\n",
    tilt: str = "TILT=NONE",
    gamma: tuple[float, ...] = GAMMA,
    kind: int = 1,
    factor: float = 1.0,
) -> bytes:
    numbers = f"1 1000 {factor} {len(gamma)} {len(planes)} {kind} 2 0.1 0.1 0\n1 1 9.5\n"
    angles = " ".join(map(str, gamma)) + "\n" + " ".join(map(str, planes)) + "\n"
    body = "\n".join(" ".join(map(str, values)) for values in planes.values())
    return f"{head}{tilt}\n{numbers}{angles}{body}\n".encode()


SPOT = [100.0, 80.0, 20.0, 0.0]


@pytest.mark.parametrize(
    ("head", "version"),
    [
        ("Invented lamp of 1986\nsecond line\n", "1986"),
        ("IESNA91\n[TEST] none\n", "IESNA91"),
        ("IESNA:LM-63-1995\n[TEST] none\n", "IESNA:LM-63-1995"),
        ("IESNA:LM-63-2002\n[TEST] none\n", "IESNA:LM-63-2002"),
        ("IES:LM-63-2019\n[TEST] none\n", "IES:LM-63-2019"),
    ],
)
def test_every_version_is_read(head, version):
    found = decode_ies(file({0.0: SPOT}, head=head))
    assert found.version == version
    assert found.candela == pytest.approx(np.array([SPOT]))
    assert found.watts == 9.5


def test_keywords_go_on_over_lines_and_give_the_name():
    found = decode_ies(file({0.0: SPOT}))
    assert found.name == "Invented spot second line"


def test_the_multiplier_counts():
    assert decode_ies(file({0.0: SPOT}, factor=0.5)).candela == pytest.approx(np.array([SPOT]) / 2)


def test_tilt_in_the_file_is_passed_over():
    tilt = "TILT=INCLUDE\n1\n3\n0 45 90\n1 0.95 0.9"
    assert decode_ies(file({0.0: SPOT}, tilt=tilt)).candela == pytest.approx(np.array([SPOT]))


def test_commas_tabs_and_broken_lines_are_forgiven():
    data = (
        file({0.0: SPOT}).decode().replace("100.0 80.0", "100.0,\t80.0\n\n").replace("\n", "\r\n") + "\x1a end of tape"
    )
    assert decode_ies(data.encode()).candela == pytest.approx(np.array([SPOT]))


def test_symmetries_are_unfolded():
    quarter = decode_ies(file({0.0: SPOT, 45.0: [1, 2, 3, 4], 90.0: [5, 6, 7, 8]}))
    assert quarter.c_deg == pytest.approx([0, 45, 90, 135, 180, 225, 270, 315, 360])
    assert quarter.candela[:, 1] == pytest.approx([80, 2, 6, 2, 80, 2, 6, 2, 80])
    half = decode_ies(file({0.0: SPOT, 90.0: [1, 2, 3, 4], 180.0: [5, 6, 7, 8]}))
    assert half.c_deg == pytest.approx([0, 90, 180, 270, 360])
    assert half.candela[:, 1] == pytest.approx([80, 2, 6, 2, 80])
    other_half = decode_ies(file({90.0: SPOT, 180.0: [1, 2, 3, 4], 270.0: [5, 6, 7, 8]}))
    assert other_half.c_deg == pytest.approx([0, 90, 180, 270, 360])
    assert other_half.candela[:, 1] == pytest.approx([2, 80, 2, 6, 2])
    open_end = decode_ies(file({0.0: SPOT, 120.0: SPOT, 240.0: SPOT}))
    assert open_end.c_deg[-1] == 360


@pytest.mark.parametrize("kind", [2, 3])
def test_a_lambertian_lamp_is_lambertian_in_every_type(kind):
    """cos of the angle from the axis is cos V cos H in types A and B alike; its flux is pi times its intensity."""
    angles = np.arange(0.0, 90.1, 5.0)
    planes = {
        float(h): [max(1000 * math.cos(math.radians(v)) * math.cos(math.radians(h)), 0.0) for v in angles]
        for h in angles
    }
    found = decode_ies(file(planes, gamma=tuple(angles), kind=kind))
    expected = 1000 * np.maximum(np.cos(np.radians(found.gamma_deg)), 0.0)
    assert found.candela == pytest.approx(np.tile(expected, (len(found.c_deg), 1)), abs=6.0)
    table = table_of(found.gamma_deg, found.c_deg, found.candela)
    assert float(table.at(np.array(1.0), np.array(0.0))) == pytest.approx(1 / math.pi, rel=5e-3)


def test_a_beam_turned_up_in_type_b_looks_up():
    """V is turned about the level axis: light at V = 40 and H = 0 lies in the plane C = 90 at gamma = 40."""
    vertical, horizontal = tuple(np.arange(-90.0, 90.1, 10.0)), np.arange(-90.0, 90.1, 10.0)
    planes = {float(h): [100.0 if (v, h) == (40.0, 0.0) else 0.0 for v in vertical] for h in horizontal}
    found = decode_ies(file(planes, gamma=vertical, kind=2))
    c, gamma = np.unravel_index(int(found.candela.argmax()), found.candela.shape)
    assert (found.c_deg[c], found.gamma_deg[gamma]) == (90.0, 40.0)


@pytest.mark.parametrize("name", ["box", "tube", "sphere"])
def test_what_is_written_is_read_back(name):
    shape, place = CAVITIES[name]
    evaluation = evaluate(loose_design(shape, emitter(*place)), CATALOGUE, WHILE_DRAGGING)
    found = decode_ies(encode_ies(evaluation))
    wanted = evaluation.intensity_cd(found.gamma_deg, found.c_deg)
    assert found.candela == pytest.approx(wanted, rel=0.02, abs=0.011)
    zones = 2 * math.pi * np.sin(np.radians(found.gamma_deg)) * found.candela[:-1].mean(axis=0)
    flux = np.trapezoid(zones, np.radians(found.gamma_deg))
    assert flux == pytest.approx(evaluation.output.out_lm, rel=0.04)
    assert found.gamma_deg[-1] == (90.0 if name == "box" else 180.0)


def test_a_panel_is_read_back_too():
    evaluation = evaluate(design(), CATALOGUE, WHILE_DRAGGING)
    found = decode_ies(encode_ies(evaluation))
    assert found.candela[0, 0] == pytest.approx(
        float(evaluation.intensity_cd(np.zeros(1), np.zeros(1))[0, 0]), rel=1e-3
    )
    assert found.name == "Opal acrylic, 3 mm"


GOOD = file({0.0: SPOT, 90.0: SPOT})


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "TILT="),
        (b"\x00\x01\x02", "TILT="),
        (GOOD[: len(GOOD) - 12], "truncated"),
        (GOOD.replace(b"TILT=NONE", b"TILT=lamp.tlt"), "in another file"),
        (GOOD.replace(b"0.0 30.0 60.0 90.0", b"0.0 60.0 30.0 90.0"), "do not increase"),
        (GOOD.replace(b"0.0 90.0\n", b"0.0 77.0\n"), "end at 90, 180 or 360"),
        (GOOD.replace(b"100.0", b"-100.0"), "below zero"),
        (GOOD.replace(b"100.0", b"bright"), "Line 10: “bright” is where a candela value"),
        (GOOD.replace(b"100.0", b"inf"), "finite number"),
        (GOOD.replace(b"1 1000 1.0 4 2", b"1 1000 1.0 4.5 2"), "whole number"),
        (GOOD.replace(b"1 1000 1.0 4 2", b"1 1000 1.0 999999 2"), "whole number"),
        (GOOD.replace(b" 2 1 2 0.1", b" 2 7 2 0.1"), "photometric type"),
        (file({0.0: [0.0, 0.0, 0.0, 0.0]}), "no light"),
        (file({0.0: SPOT}, gamma=(0.0, 30.0, 60.0, 200.0)), "0 to 180"),
        (b"x" * 5_000_000, "too much"),
    ],
)
def test_damaged_files_are_refused_in_words(data, words):
    with pytest.raises(FormatError, match=words):
        decode_ies(data)


@given(st.binary(max_size=400))
@settings(max_examples=200)
def test_any_bytes_are_read_or_refused(data):
    with contextlib.suppress(FormatError):
        decode_ies(data)


@given(st.integers(0, len(GOOD) - 1), st.binary(min_size=1, max_size=6))
@settings(max_examples=300, deadline=None)
def test_any_damage_to_a_good_file_is_read_or_refused(place, junk):
    try:
        found = decode_ies(GOOD[:place] + junk + GOOD[place + len(junk) :])
    except FormatError:
        return
    assert np.isfinite(found.candela).all()
    assert found.candela.max() > 0
