"""Builds of the kinds that the trade makes, from good ones to plain mistakes, with the verdict that their builder would give.

``.venv/bin/python -m bench.trade`` prints them with ours beside it, as the table in docs/verdicts.md; a test compares the two.
What a builder says of each is common practice, no source.
"""

from dataclasses import dataclass
from typing import Any

from gauze.core.design import Design, Purpose, RowPlan, StripChoice, StripPanel
from gauze.core.design.build import ModuleChoice
from gauze.core.design.channel_bar import Bar, ChannelBar
from gauze.core.design.design import Build, StandardKey
from gauze.core.design.edge_lit import EdgeLit
from gauze.core.design.indirect import IndirectLamp
from gauze.core.design.pixel_display import Baffle, PixelDisplay
from gauze.core.design.reflector_head import ReflectorHead
from gauze.core.design.shell_string import ShellString
from gauze.core.design.tile_wall import Tile, TileWall
from gauze.core.design.tube import Tube
from gauze.core.evaluate import AT_REST, Finding, State, evaluate, find, verdict_of
from gauze.core.materials import Catalogue, load_catalogue
from gauze.core.words import ENGLISH

_WORDS = {State.GOOD: "ready", State.WATCH: "worth a look", State.FAILS: "to change"}


@dataclass(frozen=True)
class Case:
    """A build, what its builder says of it, and by which findings it is to be called so."""

    name: str
    build: Build
    builder: State
    because: str
    codes: tuple[str, ...] = ()
    standard: StandardKey | None = None
    purpose: tuple[tuple[str, Any], ...] = ()

    @property
    def design(self) -> Design:
        """The design, looked at from 2 m unless it says otherwise."""
        usual: dict[str, Any] = {
            "use": "looked_at",
            "viewing_distance_mm": 2000.0,
            "target_distance_mm": 600.0,
            "wanted_illuminance_lx": 100.0,
            "wanted_luminance_cd_m2": 100.0,
            "standard": self.standard,
        }
        return Design(name=self.name, purpose=Purpose(**(usual | dict(self.purpose))), build=self.build)


def _white(strip: str) -> tuple[StripChoice, ...]:
    return (StripChoice(strip=strip, cct_k=4000.0),)


def _panel(
    strip: str, count: int, spacing_mm: float, depth_mm: float, sheet: str | tuple[str, ...], **changes: Any
) -> StripPanel:
    """White inside, half a spacing from the outer rows to the walls."""
    choices: dict[str, Any] = {
        "face_width_mm": 600.0,
        "face_height_mm": count * spacing_mm,
        "depth_mm": depth_mm,
        "row_direction": "along_width",
        "rows": RowPlan(count=count, spacing_mm=spacing_mm),
        "end_margin_mm": 0.0,
        "strips": _white(strip),
        "diffuser": sheet,
        "back": "matt-white-paint",
        "walls": "matt-white-paint",
    }
    return StripPanel(**(choices | changes))


def _channel(strip: str, depth_mm: float, lens: str = "opal-lens-1") -> ChannelBar:
    return ChannelBar(
        width_mm=15.0,
        depth_mm=depth_mm,
        bars=(Bar(length_mm=1000.0),),
        strips=_white(strip),
        diffuser=lens,
        back="matt-white-paint",
        walls="bare-aluminium",
    )


def _tube(strip: str, carrier: str, sheet: str, **changes: Any) -> Tube:
    choices: dict[str, Any] = {
        "length_mm": 1000.0,
        "diameter_mm": 50.0,
        "lit_deg": 160.0,
        "carrier": carrier,
        "diffuser": sheet,
        "back": "matt-white-paint",
        "walls": "matt-white-paint",
        "strips": _white(strip),
    }
    return Tube(**(choices | changes))


def _grid(depth_mm: float, sheet: str, baffle: Baffle | None) -> PixelDisplay:
    return PixelDisplay(
        columns=8,
        rows=8,
        module=ModuleChoice(module="5v-rgb-grid-8x8", levels=(0.1, 0.08, 0.03)),
        depth_mm=depth_mm,
        diffuser=sheet,
        back="matt-white-paint",
        walls="matt-white-paint",
        baffle=baffle,
    )


def _edge(width_mm: float, height_mm: float, depth_mm: float, **changes: Any) -> EdgeLit:
    choices: dict[str, Any] = {
        "diffuser": "opal-acrylic-3",
        "strips": _white("24v-white-120"),
        "bar_height_mm": depth_mm / 2.0,
        "back": "matt-white-paint",
        "walls": "matt-white-paint",
        "support_mm": 6.0,
    }
    return EdgeLit(width_mm=width_mm, height_mm=height_mm, depth_mm=depth_mm, **(choices | changes))


def _tiles(side_mm: float, depth_mm: float, lighting: str, strip: str = "5v-rgb-pixel-60", **changes: Any) -> TileWall:
    step = side_mm * 3.0**0.5
    return TileWall(
        side_mm=side_mm,
        depth_mm=depth_mm,
        lighting=lighting,  # type: ignore[arg-type]  # "rim" or "back", as the table below writes
        strips=(StripChoice(strip=strip, levels=(1.0, 0.81, 0.22)),),
        diffuser="opal-acrylic-3",
        walls="matt-white-paint",
        tiles=(Tile(sides=6, x_mm=0.0, y_mm=0.0), Tile(sides=6, x_mm=0.0, y_mm=round(step, 4))),
        **changes,
    )


def _shells(sheet: str) -> ShellString:
    return ShellString(
        diffuser=sheet,
        back="white-card",
        walls="birch-plywood",
        module=ModuleChoice(module="5v-rgb-cord-pixel", levels=(1.0, 0.7, 0.13)),
        diameter_mm=60.0,
        base_mm=24.0,
        columns=4,
        rows=3,
        pitch_x_mm=120.0,
        pitch_y_mm=120.0,
    )


def _wash(groove_depth_mm: float, **changes: Any) -> IndirectLamp:
    return IndirectLamp(
        **changes,
        walls="matt-white-paint",
        strips=(StripChoice(strip="24v-white-120", cct_k=2700.0),),
        strip_mm=1400.0,
        distance_mm=70.0,
        groove_depth_mm=groove_depth_mm,
    )


_FULL = Baffle(wall_mm=0.8, height_mm=13.0)
_LIGHTING = (("use", "lighting"),)
GOOD, LOOK, BAD = State.GOOD, State.WATCH, State.FAILS

CASES = (
    Case(
        "Sign: opal, rows 33 mm apart, as deep",
        _panel("12v-white-60", 6, 33.0, 33.0, "opal-acrylic-3"),
        GOOD,
        "opal as far away as the rows are apart",
    ),
    Case(
        "Sign: the same, half as deep",
        _panel("12v-white-60", 6, 33.0, 16.5, "opal-acrylic-3"),
        BAD,
        "rows show",
        ("dots",),
    ),
    Case(
        "Wall picture: painted glass, five rows 30 mm apart, 22 mm deep",
        _panel("12v-white-60", 5, 30.0, 22.0, "white-paint-one-coat"),
        GOOD,
        "accepted at once",
        standard="soft",
    ),
    Case(
        "Wall picture: painted glass, three rows 60 mm apart, 22 mm deep",
        _panel("12v-white-60", 3, 60.0, 22.0, "white-paint-one-coat"),
        BAD,
        "shadow lines between the rows",
        ("dots",),
        standard="soft",
    ),
    Case(
        "Table for photographs: two layers, 80 mm deep",
        _panel("24v-white-120", 10, 30.0, 80.0, ("opal-acrylic-3", "opal-acrylic-3")),
        GOOD,
        "flat in the picture",
        standard="reference",
    ),
    Case(
        "Table for photographs: satin sheet, 25 mm deep",
        _panel("24v-white-120", 10, 30.0, 25.0, "satin-acrylic-3"),
        BAD,
        "every row in the picture",
        ("dots",),
        standard="reference",
    ),
    Case(
        "Ceiling light: opal, 40 mm deep",
        _panel("24v-white-60", 6, 50.0, 40.0, "opal-acrylic-3"),
        GOOD,
        "bright enough, nobody looks into it",
        purpose=_LIGHTING,
    ),
    Case(
        "Ceiling light: clear sheet",
        _panel("24v-white-60", 6, 50.0, 40.0, "clear-acrylic-3"),
        LOOK,
        "lights well, and dazzles whoever looks up",
        ("dots",),
        purpose=_LIGHTING,
    ),
    Case(
        "Sign: rows huddled in the middle of a grey box",
        _panel(
            "12v-white-120",
            3,
            25.0,
            40.0,
            "opal-acrylic-3",
            face_height_mm=260.0,
            walls="grey-paint",
            back="grey-paint",
        ),
        BAD,
        "dark above and below",
        ("evenness", "dim rim"),
    ),
    Case(
        "Work light: two rows behind dense opal, 1000 lx wanted",
        _panel("12v-white-60", 2, 40.0, 50.0, "dense-opal-acrylic-3"),
        BAD,
        "far too dim",
        ("target brightness",),
        purpose=(*_LIGHTING, ("wanted_illuminance_lx", 1000.0)),
    ),
    Case(
        "Shelf: 15 x 10 mm channel, opal, 120/m",
        _channel("12v-white-120", 10.0),
        GOOD,
        "what everybody builds",
        standard="soft",
    ),
    Case(
        "Shelf: 15 x 10 mm channel, opal, 60/m",
        _channel("12v-white-60", 10.0),
        BAD,
        "a string of dots",
        ("dots",),
        standard="soft",
    ),
    Case(
        "Shelf: 15 x 5 mm channel, opal, 120/m",
        _channel("12v-white-120", 5.0),
        BAD,
        "a string of dots",
        ("dots",),
        standard="soft",
    ),
    Case(
        "Shelf: 15 x 5 mm channel, opal, 240/m",
        _channel("12v-white-240", 5.0),
        GOOD,
        "a line of light",
        standard="soft",
    ),
    Case(
        "Line on a wall: chip-on-board under an opal lens",
        _channel("24v-chip-on-board", 10.0),
        GOOD,
        "no dots at all",
    ),
    Case(
        "Bench light: frosted lens, 60/m",
        _channel("24v-white-60", 10.0, "frosted-lens-1"),
        LOOK,
        "lights well; every LED in view",
        ("dots",),
        purpose=_LIGHTING,
    ),
    Case(
        "Slit tube, strips on both flanks, white sleeve",
        _tube("12v-white-60", "flanks", "corrugated-white-4"),
        GOOD,
        "the best of tubes",
    ),
    Case(
        "Tube of 35 mm, pixels 30/m on its back, baking parchment",
        _tube(
            "5v-rgb-pixel-30",
            "back",
            "baking-parchment",
            diameter_mm=35.0,
            lit_deg=360.0,
            strips=(StripChoice(strip="5v-rgb-pixel-30"),),
        ),
        BAD,
        "blobs",
        ("dots",),
    ),
    Case(
        "Pixels of 10 mm, partitions, painted sheet 12 mm away",
        _grid(12.0, "white-paint-one-coat", _FULL),
        GOOD,
        "cells are filled",
    ),
    Case(
        "Pixels of 10 mm, partitions, painted sheet 3 mm away",
        _grid(3.0, "white-paint-one-coat", Baffle(wall_mm=0.8, height_mm=4.0)),
        LOOK,
        "a hotspot in each cell",
        ("cell evenness",),
    ),
    Case(
        "Pixels of 10 mm, partitions that end 6 mm below the sheet",
        _grid(14.0, "opal-acrylic-3", Baffle(wall_mm=0.8, height_mm=9.0)),
        BAD,
        "light spills into the next cells",
        ("crosstalk",),
    ),
    Case(
        "Glow: pixels of 10 mm, opal 12 mm away, no partitions",
        _grid(12.0, "opal-acrylic-3", None),
        GOOD,
        "a soft glow",
    ),
    Case(
        "Reading head: bare funnel under film",
        ReflectorHead(
            back_mm=40.0,
            opening_mm=90.0,
            depth_mm=45.0,
            module=ModuleChoice(module="12v-chips-2x2", cct_k=3000.0),
            diffuser="screen-film",
            back="matt-white-paint",
            walls="bare-aluminium",
        ),
        GOOD,
        "smooth and flat",
        purpose=_LIGHTING,
    ),
    Case(
        "Drawing table of 150 mm, lit from its edges, 50 mm deep",
        _edge(210.0, 150.0, 50.0, sides="four"),
        GOOD,
        "even enough to trace on",
    ),
    Case(
        "Drawing table of 400 mm, lit from its edges, 20 mm deep",
        _edge(600.0, 400.0, 20.0),
        BAD,
        "the middle is dark",
        ("rim",),
    ),
    Case("Hexagons, lit from the rim, 40 mm deep", _tiles(80.0, 40.0, "rim"), GOOD, "they glow"),
    Case(
        "Hexagons, lit from the back, sheet 8 mm over pixels 30 mm apart",
        _tiles(90.0, 8.0, "back", "5v-rgb-pixel-30", row_spacing_mm=30.0),
        BAD,
        "every LED shows",
        ("dots",),
    ),
    Case(
        "Balls of 60 mm with a pixel each",
        _shells("opal-shell-1"),
        GOOD,
        "even balls of light",
        purpose=(("wanted_luminance_cd_m2", 60.0),),
    ),
    Case("Wash in a corner, strip 6 mm deep in its groove", _wash(6.0), GOOD, "only the wall is seen"),
    Case(
        "Wash of a wall from below, strip flush with its cover and tilted out",
        _wash(0.0, place="wall", stance="lying", aim_deg=70.0),
        BAD,
        "the bare strip is in view",
        ("bare strip",),
    ),
)


def findings_of(case: Case, catalogue: Catalogue) -> list[Finding]:
    """Judge a build."""
    return find(evaluate(case.design, catalogue, AT_REST))


def row_of(case: Case, findings: list[Finding]) -> str:
    """Write a build with both verdicts as a row of the table."""
    told = [one for one in findings if one.state in (State.FAILS, State.WATCH)] or [
        one for one in findings if one.code in ("dots", "rim", "evenness")
    ][:1]
    said = " ".join(ENGLISH.read(one.sentence) for one in told)
    return f"| {case.name} | {_WORDS[case.builder]}: {case.because} | {_WORDS[verdict_of(findings).state]} | {said} |"


def main() -> None:
    """Print the table."""
    catalogue = load_catalogue()
    print("| Build | Its builder | Gauze | What it says |\n| --- | --- | --- | --- |")
    for case in CASES:
        print(row_of(case, findings_of(case, catalogue)))


if __name__ == "__main__":
    main()
