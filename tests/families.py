"""A design of every family for tests, and random ones for Hypothesis. Invented data."""

from typing import Any

from hypothesis import strategies as st

from gauze.core.design import Design, StripChoice
from gauze.core.design.build import FamilyBuild, ModuleChoice
from gauze.core.design.channel_bar import Bar, ChannelBar, Frame
from gauze.core.design.edge_lit import EdgeLit
from gauze.core.design.indirect import IndirectLamp
from gauze.core.design.pixel_display import Baffle, PixelDisplay, Show
from gauze.core.design.reflector_head import ReflectorHead
from gauze.core.design.shell_string import ShellString
from gauze.core.design.tile_wall import Tile, TileWall
from gauze.core.design.tube import Tube
from tests.builders import purpose

WHITE = (StripChoice(strip="24v-white-120", cct_k=4000.0),)
PIXELS = (StripChoice(strip="5v-rgb-pixel-60"),)
_SHEET = {"diffuser": "opal-acrylic-3"}


def tube(**changes: Any) -> Tube:
    return Tube(**({"length_mm": 230.0, "diameter_mm": 30.0, "strips": WHITE, "diffuser": "opal-shell-1"} | changes))


def bars(**changes: Any) -> ChannelBar:
    usual = {"width_mm": 15.0, "depth_mm": 10.0, "bars": (Bar(length_mm=150.0),), "strips": WHITE}
    return ChannelBar(**(usual | _SHEET | changes))


def frame(sides: int = 6, size_mm: float = 120.0, **changes: Any) -> ChannelBar:
    return bars(**({"bars": (), "frame": Frame(sides=sides, size_mm=size_mm)} | changes))


def edge_lit(**changes: Any) -> EdgeLit:
    usual = {"width_mm": 160.0, "height_mm": 110.0, "depth_mm": 18.0, "strips": WHITE}
    return EdgeLit(**(usual | _SHEET | changes))


def head(**changes: Any) -> ReflectorHead:
    usual = {
        "back_mm": 46.0,
        "opening_mm": 100.0,
        "depth_mm": 50.0,
        "module": ModuleChoice(module="12v-chips-3x3", cct_k=3000.0),
        "diffuser": "screen-film",
    }
    return ReflectorHead(**(usual | changes))


def indirect(**changes: Any) -> IndirectLamp:
    usual = {"strip_mm": 300.0, "height_mm": 500.0, "width_mm": 500.0, "reach_mm": 400.0, "strips": WHITE}
    return IndirectLamp(**(usual | changes))


def shells(**changes: Any) -> ShellString:
    usual = {
        "diameter_mm": 50.0,
        "base_mm": 24.0,
        "columns": 3,
        "rows": 2,
        "pitch_x_mm": 90.0,
        "pitch_y_mm": 80.0,
        "module": ModuleChoice(module="5v-rgb-cord-pixel"),
        "diffuser": "opal-shell-1",
    }
    return ShellString(**(usual | changes))


def display(**changes: Any) -> PixelDisplay:
    usual = {"columns": 8, "rows": 8, "depth_mm": 14.0, "module": ModuleChoice(module="5v-rgb-grid-8x8")}
    return PixelDisplay(**(usual | _SHEET | changes))


def strip_display(**changes: Any) -> PixelDisplay:
    return display(**({"module": None, "strips": PIXELS, "columns": 8, "rows": 5, "row_pitch_mm": 20.0} | changes))


def cells(**changes: Any) -> PixelDisplay:
    small = {"module": None, "strips": PIXELS, "columns": 4, "rows": 3, "row_pitch_mm": 20.0}
    return display(**(small | {"baffle": Baffle(wall_mm=1.0, height_mm=12.0, gap_below_mm=2.0)} | changes))


def tiles(*placed: Tile, **changes: Any) -> TileWall:
    usual = {"side_mm": 90.0, "depth_mm": 24.0, "rim_height_mm": 9.0, "strips": PIXELS}
    return TileWall(tiles=placed or (Tile(sides=6, x_mm=0.0, y_mm=0.0),), **(usual | _SHEET | changes))


FAMILIES: dict[str, FamilyBuild] = {
    "tube": tube(),
    "slit tube": tube(lit_deg=150.0, carrier="flanks"),
    "tube with a bed": tube(carrier="bed", bed_height_mm=8.0),
    "bars": bars(bars=(Bar(length_mm=150.0, gap_after_mm=20.0), Bar(length_mm=100.0, zone=2))),
    "frame": frame(),
    "path": bars(bars=(), corners_mm=((0.0, 0.0), (150.0, 0.0), (150.0, 120.0))),
    "edge-lit": edge_lit(),
    "edge-lit four": edge_lit(sides="four", tilt_deg=10.0),
    "head": head(),
    "faceted head": head(sides=6),
    "corner": indirect(groove_depth_mm=5.0),
    "wall, upright": indirect(place="wall", aim_deg=10.0),
    "wall, lying": indirect(place="wall", stance="lying", base_mm=60.0, groove_depth_mm=5.0),
    "balls": shells(),
    "cups": shells(shell="cup", zigzag=True, cord="rows"),
    "grids": display(),
    "strip rows": strip_display(show=Show(kind="text", text="A")),
    "cells": cells(),
    "tiles": tiles(Tile(sides=6, x_mm=0.0, y_mm=0.0)),
    "tiles, back-lit": tiles(Tile(sides=4, x_mm=0.0, y_mm=0.0), lighting="back", strips=WHITE),
}


def family(build: FamilyBuild, **purpose_changes: Any) -> Design:
    """A build with a purpose."""
    return Design(name="Test build", purpose=purpose(**purpose_changes), build=build)


# -- random ones -------------------------------------------------------------------------------------------------------


def _mm(low: float, high: float) -> st.SearchStrategy[float]:
    return st.floats(low, high).map(lambda value: round(value, 2))


def builds() -> st.SearchStrategy[FamilyBuild]:
    """Random builds of every family, most of which stand."""
    sheets = st.sampled_from(["opal-acrylic-3", "opal-lens-1", ("screen-film", "opal-acrylic-3")])
    bar = st.builds(Bar, length_mm=_mm(60, 600), gap_after_mm=_mm(0, 50), zone=st.integers(1, 3))
    corner = st.tuples(_mm(-400, 400), _mm(-400, 400))
    level = st.floats(0, 1).map(lambda value: round(value, 3))
    return st.one_of(
        st.builds(
            tube,
            length_mm=_mm(90, 1500),
            diameter_mm=_mm(14, 90),
            carrier=st.sampled_from(["back", "flanks"]),
            lit_deg=st.sampled_from([360.0, 180.0, 120.0]),
            end_spare_mm=_mm(0, 25),
            diffuser=sheets,
        ),
        st.builds(
            bars, bars=st.lists(bar, min_size=1, max_size=5).map(tuple), width_mm=_mm(9, 30), depth_mm=_mm(4, 40)
        ),
        st.builds(frame, sides=st.integers(3, 12), size_mm=_mm(60, 500), corner_gap_mm=_mm(0, 8)),
        st.builds(
            bars, bars=st.just(()), corners_mm=st.lists(corner, min_size=2, max_size=6).map(tuple), closed=st.booleans()
        ),
        st.builds(
            edge_lit,
            width_mm=_mm(80, 900),
            height_mm=_mm(80, 900),
            sides=st.sampled_from(["long", "short", "four"]),
            tilt_deg=_mm(-30, 60),
            walls=st.floats(0, 0.98),
        ),
        st.builds(head, sides=st.sampled_from([0, 4, 6, 8]), opening_mm=_mm(50, 200), depth_mm=_mm(10, 150)),
        st.builds(indirect, distance_mm=_mm(10, 300), aim_deg=_mm(-60, 60), groove_depth_mm=_mm(0, 20)),
        st.builds(shells, columns=st.integers(1, 20), rows=st.integers(1, 20), zigzag=st.booleans(), diffuser=sheets),
        st.builds(
            strip_display,
            columns=st.integers(1, 40),
            rows=st.integers(1, 30),
            depth_mm=_mm(3, 60),
            show=st.builds(
                Show, kind=st.sampled_from(["all", "text", "clock"]), text=st.text(max_size=12), colour=st.tuples(level)
            ),
        ),
        st.builds(cells, columns=st.integers(1, 20), rows=st.integers(1, 20)),
        st.builds(tiles, side_mm=_mm(40, 200), lighting=st.sampled_from(["rim", "back"]), wall_mm=_mm(0, 5)),
    )
