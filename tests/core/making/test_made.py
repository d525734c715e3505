"""What is cut of a build and what it takes: counted by hand, with the shelf and without, and what stays true of any."""

import base64
import csv
import io
import re
import zlib
from typing import Any

import msgspec
import pytest

from gauze.core.design import Design
from gauze.core.design.channel_bar import Bar
from gauze.core.design.design import check_frame
from gauze.core.design.making import Making, StockChoice
from gauze.core.design.wiring import BatterySupply, Wiring
from gauze.core.errors import DesignError
from gauze.core.evaluate.made import MadeBuild, made_of
from gauze.core.families import lay_out, parts_of
from gauze.core.formats.design_file import decode_design, encode_design
from gauze.core.formats.making_csv import encode_bill, encode_cuts, encode_sheets
from gauze.core.formats.making_pdf import encode_making_pdf
from gauze.core.formats.pdf_text import nearest
from gauze.core.making.cut_lists import CutList
from gauze.core.making.plans import PlannedList
from gauze.core.materials.labels import BatteryLabel, BoardStock, ProfileStock, SheetStock, StripLabel, Thing, WireLabel
from gauze.session.making_edits import with_left_over, with_making, with_stock
from gauze.session.shelf import Shelf
from tests.builders import CATALOGUE, design
from tests.families import FAMILIES, bars, family, frame, tiles, tube

BARS = family(bars(width_mm=15.0, bars=tuple(Bar(length_mm=length) for length in (600.0, 900.0, 600.0))))


def made(what: Design, *things: Thing, **choices: Any) -> MadeBuild:
    return made_of(msgspec.structs.replace(what, making=Making(**choices)), CATALOGUE, things)


def of(found: MadeBuild, material: str) -> PlannedList:
    return next(one for one in found.planned if one.cut_list.material == material)


def lengths(cut_list: CutList) -> list[tuple[float, int]]:
    return [(piece.length_mm, len(piece.ids)) for piece in cut_list.pieces]


def test_channel_and_lens_are_cut_as_the_bars_are_long() -> None:
    """600 + 900 + 600 mm, kerf 2: 1500 mm and a kerf out of one bar of 2 m, 600 mm out of the next."""
    found = made(BARS)
    for material in ("profile", "lens"):
        assert lengths(of(found, material).cut_list) == [(900.0, 1), (600.0, 2)]
        assert of(found, material).bought == 2
    assert lengths(of(made(BARS, copies=3), "profile").cut_list) == [(900.0, 1), (600.0, 2)]
    assert of(made(BARS, copies=3), "profile").bought == 4  # 3 × 2100 mm: 900 + 900, 3 × 600, 3 × 600, 900
    longer = made(BARS, stocks=(StockChoice(key=of(found, "profile").cut_list.key, length_mm=3000.0),))
    assert of(longer, "profile").bought == 1


def test_boards_run_past_the_corners_by_their_thickness() -> None:
    """Inside 500 x 420: two walls of 500, and two of 420 + 2 x 12 that run past them."""
    what = design(face_width_mm=500.0, face_height_mm=420.0)
    assert lengths(of(made(what, wall_mm=12.0), "board").cut_list) == [(500.0, 2), (444.0, 2)]
    assert lengths(of(made(what), "board").cut_list) == [(500.0, 2), (420.0, 2)]


def test_a_frame_is_mitred_and_its_cuts_are_told() -> None:
    (piece,) = of(made(family(frame(sides=6))), "profile").cut_list.pieces
    assert len(piece.ids) == 6
    assert (abs(piece.start_cut_deg), abs(piece.end_cut_deg)) == (pytest.approx(30.0), pytest.approx(30.0))


def test_the_shelf_is_used_first_and_keeps_what_is_left() -> None:
    channel = ProfileStock(
        id="own-p", name="Channel", like="usual-15", width_mm=15.0, depth_mm=BARS.build.depth_mm, length_mm=1600.0
    )
    found = made(BARS, channel)
    plan = of(found, "profile").plan
    assert plan is not None
    assert [bar.offcut for bar in plan.bars].count(True) == 1
    assert of(found, "profile").bought == 1
    assert not of(found, "lens").owned  # a channel's label says nothing of its lens
    after = with_left_over(Shelf(things=(channel,)), found.planned, channel)
    (used,) = (thing for thing in after.things if thing.id == "own-p")
    assert used.on_hand == 0.0
    left = [thing for thing in after.things if thing.id != "own-p"]
    assert all(isinstance(thing, ProfileStock) and thing.length_mm >= 100.0 for thing in left)
    wanted_mm = sum(length for bar in plan.bars for _, length in bar.pieces)
    taken_mm = sum(bar.length_mm for bar in plan.bars)
    kerfs_mm = 2.0 * sum(len(bar.pieces) for bar in plan.bars)
    kept_mm = sum(thing.length_mm for thing in left)
    assert kept_mm == pytest.approx(taken_mm - wanted_mm - kerfs_mm, abs=200.0)
    ignored = made(BARS, channel, from_shelf=False)
    assert of(ignored, "profile").bought == 2


def test_reels_boards_and_wire_on_the_shelf_are_known_by_their_labels() -> None:
    what = design(face_width_mm=500.0, face_height_mm=420.0)
    wire = WireLabel(id="own-w", name="w", section_mm2=0.75, on_hand=50.0)
    board = BoardStock(id="own-b", name="b", thick_mm=12.0, high_mm=90.0, length_mm=2400.0)
    thin = msgspec.structs.replace(board, id="own-t", thick_mm=6.0)
    other = StripLabel(id="own-reel", name="r", like="24v-white-120", on_hand=30.0)
    found = made(what, wire, board, thin, other, wall_mm=12.0)
    assert of(found, "wire").bought == 0
    assert len(of(found, "board").owned) == 1
    assert not of(found, "strip").owned  # the build is lit by another strip
    after = with_left_over(Shelf(things=(wire, board)), found.planned, None)
    reel = next(thing for thing in after.things if thing.id == "own-w")
    assert reel.on_hand == pytest.approx(50.0 - of(found, "wire").cut_list.total_mm / 1000.0, abs=1e-3)


def test_spares_are_added_for_mistakes() -> None:
    plain, spared = (of(made(BARS, spare_one_in=spare), "profile") for spare in (None, 5))
    assert plain.plan is not None
    assert spared.plan is not None
    cut = [name for bar in spared.plan.bars for name, _ in bar.pieces]
    assert cut.count("spare") == 2  # one of each length
    assert len(cut) == sum(len(bar.pieces) for bar in plain.plan.bars) + 2


def test_the_bill_adds_up_and_says_what_has_no_price() -> None:
    key = of(made(BARS), "profile").cut_list.key
    bill = made(
        BARS, copies=2, stocks=(StockChoice(key=key, price=11.5), StockChoice(key="supply:24", price=30.0))
    ).bill
    priced = {line.key: line for line in bill.lines if line.price is not None}
    assert set(priced) == {key, "supply:24"}
    assert priced["supply:24"].cost == 60.0
    assert bill.known_cost == pytest.approx(60.0 + 11.5 * priced[key].bought)
    assert bill.each == pytest.approx(bill.known_cost / 2)
    assert bill.without_price == len(bill.lines) - 2
    rows = list(csv.DictReader(io.StringIO(encode_bill(made(BARS)).decode())))
    assert rows[-1]["item"] == "total of what has a price"


def test_on_a_battery_no_supply_is_bought() -> None:
    pack = BatteryLabel(id="own-b", name="Pack", chemistry="lithium_ion", cells_in_series=6, amp_hours=5.0)
    fed = msgspec.structs.replace(BARS, wiring=Wiring(battery=BatterySupply(battery=pack)))
    keys = {line.key for line in made(fed).bill.lines}
    assert "own:own-b" in keys
    assert not any(key.startswith("supply:") for key in keys)


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_every_family_is_cut_and_billed(name: str) -> None:
    """Everything of the parts is in the bill: by length, by piece or by sheet; and every planned bar holds what it should."""
    what = family(FAMILIES[name])
    found = made(what, wall_mm=9.0, stocks=(StockChoice(key="tube:36 x 1", length_mm=6000.0),))
    parts = parts_of(what, lay_out(what, CATALOGUE), CATALOGUE)
    named = {part for one in found.planned for piece in one.cut_list.pieces for part in piece.ids}
    for body in parts.body:
        if body.kind in ("profile", "lens", "tube", "member"):
            assert set(body.ids()) <= named, body.id
    cut_out = {body_id for body in parts.body if body.kind in ("sheet", "partition") for body_id in body.ids()}
    assert {part for one in found.sheets for piece in one.sheet_list.pieces for part in piece.ids} == cut_out
    assert sum(line.used for line in found.bill.lines if line.unit == "sheet") == len(cut_out)
    for one in found.sheets:
        assert one.plan is not None
        assert sorted(placed.name for sheet in one.plan.sheets for placed in sheet.placed) == sorted(
            part for piece in one.sheet_list.pieces for part in piece.ids
        )
    for one in found.planned:
        if one.plan is not None:
            cut = sorted(name for bar in one.plan.bars for name, _ in bar.pieces)
            assert cut == sorted(part for piece in one.cut_list.pieces for part in piece.ids)
        else:
            assert one.problem is not None
    rows = list(csv.DictReader(io.StringIO(encode_cuts(found).decode())))
    assert len(rows) == sum(
        1 if one.plan is None else sum(len(bar.pieces) for bar in one.plan.bars) for one in found.planned
    )


def test_sheets_are_cut_out_of_what_is_sold_and_of_the_shelf() -> None:
    """Two lids of 500 x 420 out of 1000 x 500: one sheet where the kerf leaves room, and none where one lies on the shelf."""
    what = design(face_width_mm=498.0, face_height_mm=420.0, diffuser="opal-acrylic-3")
    key = "sheet:Opal acrylic, 3 mm 3"
    lids = next(one for one in made(what, copies=2).sheets if one.sheet_list.key == key)
    assert lids.bought == 1
    assert lids.plan is not None
    assert lids.plan.optimal
    small = StockChoice(key=key, length_mm=600.0, width_mm=450.0, price=4.0)
    found = made(what, copies=2, stocks=(small,))
    lids = next(one for one in found.sheets if one.sheet_list.key == key)
    assert lids.bought == 2
    assert next(line for line in found.bill.lines if line.key == key).cost == 8.0
    lying = SheetStock(id="own-s", name="s", like="opal-acrylic-3", width_mm=600.0, height_mm=450.0)
    lids = next(one for one in made(what, lying, copies=2, stocks=(small,)).sheets if one.sheet_list.key == key)
    assert lids.bought == 1
    rows = list(csv.DictReader(io.StringIO(encode_sheets(found).decode())))
    assert {row["piece"] for row in rows if row["material"].startswith("Opal")} == {"sheet-1 (1)", "sheet-1 (2)"}
    tiny = StockChoice(key=key, length_mm=100.0, width_mm=100.0)
    refused = next(one for one in made(what, stocks=(tiny,)).sheets if one.sheet_list.key == key)
    assert refused.plan is None
    assert "Larger than any sheet" in str(refused.problem)


def test_what_is_too_long_is_told_and_the_rest_is_planned() -> None:
    long = family(bars(width_mm=15.0, bars=(Bar(length_mm=2500.0),)))
    found = made(long)
    assert of(found, "profile").plan is None
    assert "Longer than any stock" in str(of(found, "profile").problem)
    assert of(found, "strip").plan is not None


def test_tiles_alike_are_cut_for_every_place() -> None:
    what = family(tiles())
    found = of(made(what), "board").cut_list
    assert sum(len(piece.ids) for piece in found.pieces) == sum(
        body.count for body in parts_of(what, lay_out(what, CATALOGUE), CATALOGUE).body if body.kind == "member"
    )


@pytest.mark.parametrize(
    ("choices", "field"),
    [
        ({"copies": 0}, "making.copies"),
        ({"kerf_mm": -1.0}, "making.kerf_mm"),
        ({"spare_one_in": 1}, "making.spare_one_in"),
        ({"stocks": (StockChoice(key="a", price=-1.0),)}, "making.stocks[0].price"),
        ({"stocks": (StockChoice(key="a"), StockChoice(key="a"))}, "making.stocks[1]"),
        ({"stocks": tuple(StockChoice(key=str(one)) for one in range(300))}, "making.stocks"),
    ],
)
def test_choices_that_cannot_be_are_refused_at_their_field(choices: dict[str, Any], field: str) -> None:
    with pytest.raises(DesignError) as refused:
        check_frame(msgspec.structs.replace(BARS, making=Making(**choices)))
    assert refused.value.field == field


def test_the_file_keeps_the_making_and_edits_go_back() -> None:
    changed = with_stock(with_making(BARS, copies=4), "strip:x", price=3.5)
    assert decode_design(encode_design(changed), CATALOGUE) == changed
    assert changed.making is not None
    assert changed.making.stock("strip:x").price == 3.5
    back = with_stock(changed, "strip:x", price=None)
    assert back.making is not None
    assert back.making.stocks == ()
    with pytest.raises(DesignError):
        with_stock(BARS, "strip:x", length_mm=1.0)


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_the_pages_hold_every_mark_and_the_sum(name: str) -> None:
    """Read back from the pages themselves: their text is not compressed away."""
    what = family(FAMILIES[name])
    found = made(what, wall_mm=9.0)
    pages = encode_making_pdf("Panel <1> & “more”", found)
    assert pages == encode_making_pdf("Panel <1> & “more”", found)  # nothing of the day in it
    text = text_of(pages)
    assert "Marks at" in text or not any(one.plan for one in found.planned)
    for one in found.planned:
        for bar in () if one.plan is None else one.plan.bars:
            assert all(nearest(part.split("/")[-1]) in text for part, _ in bar.pieces)
    assert f"{found.bill.known_cost:.2f}" in text


def test_the_plans_begin_on_the_first_page() -> None:
    """A short list fits on one page with its bill: nothing is pushed onto pages of its own."""
    pages = encode_making_pdf("Bars", made(BARS))
    assert len(re.findall(rb"/Type /Page\b(?!s)", pages)) == 1


def text_of(pages: bytes) -> str:
    """All text of a PDF as this project writes them: streams of ASCII base 85, deflated."""
    found = []
    for stream in re.findall(rb"stream\r?\n(.*?)endstream", pages, re.DOTALL):
        data = zlib.decompress(base64.a85decode(stream.strip().removesuffix(b"~>")))
        found += re.findall(rb"\((.*?)(?<!\\)\) Tj", data, re.DOTALL)
    return b" ".join(found).decode("latin-1").replace("\\(", "(").replace("\\)", ")")


def test_what_is_longer_than_its_stock_is_not_counted_as_free() -> None:
    long = family(tube(length_mm=3600.0))
    bill = made_of(long, CATALOGUE, ()).bill
    line = next(one for one in bill.lines if one.key.startswith("tube"))
    assert not line.planned
    assert line.cost is None
    assert bill.without_price >= 1
    assert "not planned" in encode_bill(made_of(long, CATALOGUE, ())).decode()
