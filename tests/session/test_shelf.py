"""The shelf between designs: kept, changed by two windows, damaged; and designs that carry what they use of it."""

from pathlib import Path

import msgspec
import pytest

from gauze.core.errors import DesignError, FormatError
from gauze.core.families import check_design
from gauze.core.formats.design_file import decode_design, encode_design
from gauze.core.materials.labels import ModuleLabel, StripLabel, SupplyLabel
from gauze.session.edits import with_lamp, with_shelf, with_used_own_only
from gauze.session.shelf import MOST_PRICES, Shelf, change_shelf, load_shelf, usable
from gauze.session.versions import keep_version, take_up
from tests.builders import CATALOGUE, design
from tests.families import family, shells, tube

REEL = StripLabel(id="own-reel", name="Reel", like="12v-white-60", watts_per_m=9.6)
BRICK = SupplyLabel(id="own-brick", name="Brick", volts=12.0, amps=5.0)
CORD = ModuleLabel(id="own-cord", name="Cord", like="5v-rgb-cord-pixel", amps=0.05)


def test_what_is_put_there_is_there_the_next_time(tmp_path: Path) -> None:
    path = tmp_path / "deep" / "shelf.json"
    change_shelf(path, lambda shelf: shelf.with_thing(REEL))
    change_shelf(path, lambda shelf: shelf.with_thing(BRICK))
    changed = msgspec.structs.replace(REEL, on_hand=3.0)
    shelf = change_shelf(path, lambda shelf: shelf.with_thing(changed))
    assert load_shelf(path) == shelf == Shelf((), (changed, BRICK))
    assert change_shelf(path, lambda shelf: shelf.without(REEL.id)).things == (BRICK,)


def test_an_old_file_without_things_is_read(tmp_path: Path) -> None:
    path = tmp_path / "shelf.json"
    path.write_text('{"format": "gauze-shelf", "format_version": 1, "own_diffusers": []}')
    assert load_shelf(path) == Shelf()


@pytest.mark.parametrize(
    "data", [b"", b"{", b"[]", b'{"format": "gauze-shelf", "format_version": 9, "own_diffusers": []}']
)
def test_a_damaged_one_is_put_aside_and_told(data: bytes, tmp_path: Path) -> None:
    path = tmp_path / "shelf.json"
    path.write_bytes(data)
    with pytest.raises(FormatError, match="put aside"):
        load_shelf(path)
    assert path.with_suffix(".damaged").read_bytes() == data
    assert load_shelf(path) == Shelf()


def test_the_same_is_not_put_there_twice_and_ids_differ() -> None:
    shelf = Shelf().with_all((BRICK, BRICK, msgspec.structs.replace(BRICK, amps=8.0)))
    assert [thing.id for thing in shelf.things] == ["own-brick", "own-brick-2"]
    assert shelf.with_all(shelf.things) == shelf


def test_what_is_like_nothing_of_the_catalogue_stays_but_is_not_offered() -> None:
    lost = msgspec.structs.replace(REEL, id="own-lost", like="gone")
    shelf = Shelf((), (lost, REEL, BRICK))
    assert usable(shelf, CATALOGUE).lamps == (REEL,)
    assert lost in shelf.things


def test_a_design_carries_the_reel_that_lights_it() -> None:
    lit = with_lamp(design(), REEL, CATALOGUE)
    assert lit is not None
    assert lit.own_lamps == (REEL,)
    assert decode_design(encode_design(lit), CATALOGUE) == lit  # on a machine that knows nothing of the shelf
    known = with_shelf(lit, (), (msgspec.structs.replace(REEL, watts_per_m=1.0), CORD))
    assert known.own_lamps == (REEL, CORD)  # its own label of the same reel comes first
    assert with_used_own_only(known) == lit


def test_a_kept_version_carries_its_own_too() -> None:
    lit = with_lamp(design(), REEL, CATALOGUE)
    assert lit is not None
    kept = msgspec.structs.replace(keep_version(lit), build=design().build)
    kept = with_used_own_only(kept)
    assert kept.own_lamps == ()
    again = take_up(kept, 0)
    assert again.own_lamps == (REEL,)
    check_design(again, CATALOGUE)


def test_a_family_takes_what_it_is_lit_by() -> None:
    assert with_lamp(family(shells()), REEL, CATALOGUE) is None
    assert with_lamp(family(tube()), CORD, CATALOGUE) is None
    lit = with_lamp(family(shells()), CORD, CATALOGUE)
    assert lit is not None
    assert lit.module is not None
    assert lit.module.module == CORD.id


@pytest.mark.parametrize(
    ("own", "field"),
    [
        ((msgspec.structs.replace(REEL, id="reel"),), "own_lamps[0].id"),
        ((REEL, REEL), "own_lamps[0].id"),
        ((msgspec.structs.replace(REEL, like="velvet"),), "own_lamps"),
        ((msgspec.structs.replace(REEL, watts_per_m=-1.0),), "own_lamps[0].watts_per_m"),
        ((msgspec.structs.replace(REEL, amps_per_m=9.0),), "own_lamps"),
    ],
)
def test_a_file_with_an_impossible_label_is_refused(own: tuple[StripLabel, ...], field: str) -> None:
    with pytest.raises(DesignError) as told:
        check_design(msgspec.structs.replace(design(), own_lamps=own), CATALOGUE)
    assert told.value.field == field


def test_prices_are_kept_the_oldest_forgotten_first(tmp_path: Path) -> None:
    path = tmp_path / "shelf.json"
    change_shelf(path, lambda shelf: shelf.with_price("board:40", 3.5).with_price("wire:0.75", 0.4))
    change_shelf(path, lambda shelf: shelf.with_price("board:40", 4.0))
    assert dict(load_shelf(path).prices) == {"wire:0.75": 0.4, "board:40": 4.0}
    full = Shelf(prices={f"key {number}": 1.0 for number in range(MOST_PRICES)}).with_price("new", 2.0)
    assert len(full.prices) == MOST_PRICES
    assert "key 0" not in full.prices
    assert full.prices["new"] == 2.0
