"""The shelf as a table: what is written is read again, and every bad row is reported with its number."""

from pathlib import Path

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.errors import FormatError
from gauze.core.formats.shelf_csv import COLUMNS, decode_shelf, encode_shelf
from gauze.core.materials import load_catalogue
from gauze.core.materials.labels import KINDS, StripLabel, SupplyLabel, Thing, WireLabel
from gauze.session.new_things import new_thing

CATALOGUE = load_catalogue()
DOCS = Path(__file__).parents[3] / "docs"
ONE_OF_EACH = [new_thing(kind, f"A {kind.__name__}, “old”", f"own-{n}", CATALOGUE) for n, kind in enumerate(KINDS)]
NAMES = st.text(st.characters(blacklist_categories=("Cs", "Cc", "Zl", "Zp")), min_size=1, max_size=40).filter(
    lambda name: name.strip() == name and not name.startswith("#")
)


def without_ids(things: tuple[Thing, ...] | list[Thing]) -> list[Thing]:
    return [msgspec.structs.replace(thing, id="own-x") for thing in things]


def test_one_of_each_kind_is_read_as_it_was_written() -> None:
    assert without_ids(decode_shelf(encode_shelf(ONE_OF_EACH), CATALOGUE)) == without_ids(ONE_OF_EACH)


@given(st.lists(st.tuples(NAMES, st.floats(1, 60), st.floats(0.01, 900), st.booleans()), min_size=1, max_size=6))
def test_names_and_numbers_of_any_kind_survive(rows: list[tuple[str, float, float, bool]]) -> None:
    things: list[Thing] = [SupplyLabel(id="own-x", name=n, volts=v, amps=a, worn=w) for n, v, a, w in rows]
    for ours, theirs in zip(decode_shelf(encode_shelf(things), CATALOGUE), things, strict=True):
        assert ours.name == theirs.name
        assert isinstance(ours, SupplyLabel)
        assert isinstance(theirs, SupplyLabel)
        assert ours.worn == theirs.worn
        assert ours.rated_w == pytest.approx(theirs.rated_w, rel=1e-9)


def test_tables_of_other_countries_are_read() -> None:
    text = "Kind;Name;On_hand;Section_mm2\r\n# my drawer\r\nwire;blue;12,5;0,75\r\n;;;\r\n"
    (wire,) = decode_shelf(text.encode("utf-8-sig"), CATALOGUE)
    assert isinstance(wire, WireLabel)
    assert (wire.on_hand, wire.section_mm2) == (12.5, 0.75)


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("", "empty"),
        ("kind,name\n", "no things"),
        ("kind\nstrip\n", "name are missing"),
        ("kind,name,shape\n", "“shape” are not known"),
        ("kind,name,name\n", "appear twice"),
        ("kind,name\nsofa,x\n", "Line 2: “sofa” is no kind"),
        ("kind,name,volts\nfuse,x,12\n", "Line 2: a fuse has no volts"),
        ("kind,name,volts,amps\nsupply,x,12,five\n", "Line 2: At amps"),
        ("kind,name,volts,amps\nsupply,x,12,5\nsupply,y,12\n", "Line 3: 3 cells for 4 columns"),
        ("kind,name,volts,amps,worn\nsupply,x,12,5,perhaps\n", "neither yes nor no"),
        ("kind,name,volts,amps,watts\nsupply,x,12,5,10\n", "two things"),
        ("kind,name,like\nstrip,x,velvet\n", "There is no strip"),
        ('kind,name\nstrip,"x\n', "Correct the quotes"),
        ("kind,name,amps\n" + "fuse,x,-1\n" * 80, "And 30 more lines"),
        ("kind,name,amps\n" + "fuse,x,1\n" * 6000, "more than 5000 lines"),
    ],
)
def test_a_bad_table_is_told_with_its_line(text: str, told: str) -> None:
    with pytest.raises(FormatError) as error:
        decode_shelf(text.encode(), CATALOGUE)
    assert told in str(error.value)


def test_what_is_no_text_is_told() -> None:
    with pytest.raises(FormatError, match="Line 2: this is not text"):
        decode_shelf(b"kind,name\n\xff\xfe", CATALOGUE)


def test_only_columns_that_are_used_are_written() -> None:
    head = encode_shelf([StripLabel(id="own-x", name="x", like="12v-white-60", watts=3.0)]).split(b"\n")[0].decode()
    assert head == "kind,name,on_hand,like,watts"
    assert set(head.split(",")) <= set(COLUMNS)


def test_the_example_of_the_documents_is_read() -> None:
    things = decode_shelf((DOCS / "examples" / "workshop-shelf.csv").read_bytes(), CATALOGUE)
    assert len(things) == 15
    assert len({type(thing) for thing in things}) == len(KINDS) - 1  # all but a module
