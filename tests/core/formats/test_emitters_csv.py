"""Tables of emitters: what is read, and what is said of every row that cannot be."""

import contextlib
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.errors import FormatError
from gauze.core.formats.emitters_csv import decode_emitters, power_of_half_angle

HEAD = "x_mm,y_mm,z_mm,nx,ny,nz,flux_lm"


def table(*rows: str, head: str = HEAD) -> bytes:
    return "\n".join((head, *rows)).encode()


def test_the_plain_table():
    (found,) = decode_emitters(table("10,20.5,1.5,0,0,1,12")).emitters
    assert (found.x_mm, found.y_mm, found.z_mm, found.flux_lm) == (10, 20.5, 1.5, 12)
    assert (found.m, found.cct_k, found.distribution) == (1.0, 4000.0, -1)


def test_columns_in_any_order_remarks_blank_lines_and_the_mark_of_utf_8():
    text = "\ufeff# my lamp\n\ncct_k,flux_lm,NX,ny,nz,x_mm,y_mm,z_mm\n  \n2700,5,0,0,1,1,2,3\n# end\n"
    (found,) = decode_emitters(text.encode()).emitters
    assert (found.x_mm, found.y_mm, found.z_mm, found.flux_lm, found.cct_k) == (1, 2, 3, 5, 2700)


def test_a_table_with_semicolons_has_decimal_commas():
    data = b"x_mm;y_mm;z_mm;nx;ny;nz;flux_lm;x;y\n1,5;2;3;0;0;1;4,5;0,31;0,33\n"
    (found,) = decode_emitters(data).emitters
    assert (found.x_mm, found.flux_lm, found.cie_x, found.cie_y, found.cct_k) == (1.5, 4.5, 0.31, 0.33, 0.0)


def test_half_angles_and_powers():
    rows = decode_emitters(
        table("1,2,3,0,0,1,5,60", "1,2,3,0,0,1,5,30", "1,2,3,0,0,1,5,", head=HEAD + ",half_angle_deg")
    )
    assert [round(found.m, 3) for found in rows.emitters] == [1.0, 4.819, 1.0]
    (found,) = decode_emitters(table("1,2,3,0,0,1,5,8", head=HEAD + ",m")).emitters
    assert found.m == 8


@given(st.floats(2.3, 89.0))
def test_at_the_half_angle_half_of_the_intensity_is_left(angle: float):
    assert math.cos(math.radians(angle)) ** power_of_half_angle(angle) == pytest.approx(0.5, rel=1e-6)


def test_files_of_photometry_are_numbered():
    rows = [f"1,2,3,0,0,1,5,{name}" for name in ("a.ies", "", "b.ies", "a.ies")]
    found = decode_emitters(table(*rows, head=HEAD + ",ies"))
    assert found.photometry == ("a.ies", "b.ies")
    assert [one.distribution for one in found.emitters] == [0, -1, 1, 0]


ROWS = [
    ("1,2,3,0,0,0,5", "no direction"),
    ("1,2,3,0,0,1", "6 values for 7 columns"),
    ("1,2,3,0,0,1,5,6", "8 values for 7 columns"),
    ("1,2,3,0,0,1,bright", "flux_lm is “bright”"),
    ("1,2,3,0,0,1,-5", "flux of -5 lm"),
    ("1,2,,0,0,1,5", "z_mm is empty"),
    ("1,2,nan,0,0,1,5", "not a finite number"),
    ("1e99,2,3,0,0,1,5", "more than 10 m"),
    ('"1,2,3,0,0,1,5', "Correct the quotes"),
    ("1,2,3,0,0,1,inf", "not a finite number"),
]


def test_every_malformed_row_is_told_with_its_line_and_the_good_ones_are_not():
    rows = [row for bad, _ in ROWS for row in ("1,2,3,0,0,1,5", bad)]
    with pytest.raises(FormatError) as caught:
        decode_emitters(table("# remark", *rows))
    said = str(caught.value).split("\n")
    assert [line.split(":")[0] for line in said] == [f"Line {2 * n + 4}" for n in range(len(ROWS))]
    for line, (_, words) in zip(said, ROWS, strict=True):
        assert words in line


def test_of_very_many_bad_rows_all_lines_are_named():
    with pytest.raises(FormatError) as caught:
        decode_emitters(table(*["1,2,3,0,0,1,x"] * 300))
    said = str(caught.value)
    assert said.count("\n") == 100
    assert said.endswith("300, 301.")


@pytest.mark.parametrize(
    ("head", "words"),
    [
        ("x_mm,y_mm,z_mm,nx,ny,nz", "flux_lm are missing"),
        (HEAD + ",colour", "“colour” are not known"),
        (HEAD + ",m,half_angle_deg", "either half_angle_deg or m"),
        (HEAD + ",x", "x and y together"),
        (HEAD + ",m,m", "m appear twice"),
        (HEAD + ",cct_k,x,y", "either cct_k or x"),
    ],
)
def test_a_head_that_will_not_do(head, words):
    with pytest.raises(FormatError, match=words):
        decode_emitters(table("1,2,3,0,0,1,5", head=head))


@pytest.mark.parametrize(
    ("angle_or_colour", "head", "words"),
    [
        ("91", "half_angle_deg", "between 2.2 and 90"),
        ("1", "half_angle_deg", "between 2.2 and 90"),
        ("5000", "m", "between 0 and 1000"),
        ("-1", "cct_k", "between 1000 and 25 000"),
        ("900", "cct_k", "between 1000 and 25 000"),
        ("0.3,0", "x,y", "neither a CCT nor CIE"),
        ("0.9,0.9", "x,y", "neither a CCT nor CIE"),
    ],
)
def test_values_out_of_range(angle_or_colour, head, words):
    with pytest.raises(FormatError, match="Line 2: ") as caught:
        decode_emitters(table(f"1,2,3,0,0,1,5,{angle_or_colour}", head=f"{HEAD},{head}"))
    assert words in str(caught.value)


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "empty"),
        (b"\n\n# only a remark\n", "empty"),
        (HEAD.encode(), "no emitters"),
        (HEAD.encode() + b"\n1,2,3,0,0,1,\xff", "Line 2: this is not text"),
        (b"\x00" * 40, "missing"),
    ],
)
def test_files_that_are_no_table(data, words):
    with pytest.raises(FormatError, match=words):
        decode_emitters(data)


@given(st.binary(max_size=300))
def test_any_bytes_are_read_or_refused(data: bytes):
    with contextlib.suppress(FormatError):
        decode_emitters(data)


@given(st.text(alphabet='0123456789.,-;e"\n nan', max_size=200))
def test_any_rows_are_read_or_refused(rows: str):
    try:
        found = decode_emitters((HEAD + "\n" + rows).encode())
    except FormatError:
        return
    assert all(math.isfinite(one.flux_lm) for one in found.emitters)
