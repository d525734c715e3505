"""The chain of a tile wall, and the shadow of its connectors on the lids."""

import numpy as np

from gauze.core.design.tile_wall import TileWall, apothem_mm
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.evaluate.light import GroupFaceLight
from gauze.core.layout.tile_wall import TileLayout
from gauze.core.optics.cavity.light import CavityLight
from gauze.core.optics.cavity.shadow import shadow_share
from gauze.core.units import LengthUnit, format_length

GOOD_SHADOW, FAIR_SHADOW = 0.03, 0.10  # of the light on the lid; common practice, no source
_MOST_TOLD = 40
_LONG_MM = 8.0  # of a connector, into the tile; typical


def find(evaluation: Evaluation, unit: LengthUnit) -> list[Finding]:
    """Judge the connector's shadow, and note the chain."""
    build = evaluation.design.build
    light, layout = evaluation.light, evaluation.layout
    if not isinstance(build, TileWall) or not isinstance(light, GroupFaceLight) or not isinstance(layout, TileLayout):
        return []
    assert isinstance(layout, TileLayout)
    found = [_chain(build, layout)]
    if layout.chain.links:
        found.insert(0, _shadow(build, light, unit))
    return found


def link_shadow(evaluation: Evaluation, unit: LengthUnit) -> Finding | None:
    """Return the finding about the connectors' shadow, or None where there are none."""
    return next((finding for finding in find(evaluation, unit) if finding.code == "link shadow"), None)


def _shadow(build: TileWall, light: GroupFaceLight, unit: LengthUnit) -> Finding:
    shares = [
        shadow_share(face, *_block(build, len(face.light.cavity.plan)))
        for face in light.faces
        if isinstance(face.light, CavityLight)
    ]
    worst = max(shares)
    state = State.GOOD if worst <= GOOD_SHADOW else State.WATCH if worst <= FAIR_SHADOW else State.FAILS
    words = (
        "The connectors throw no shadow that shows"
        if state is State.GOOD
        else "The connectors throw a shadow on the lids"
    )
    size = f"{format_length(build.link_wide_mm, unit)} wide, {format_length(build.link_high_mm, unit)} high"
    return Finding(
        code="link shadow",
        place="lay",
        state=state,
        sentence=f"{words}: {worst:.1%} of the light at the darkest place.",
        value=worst,
        unit="",
        limit=GOOD_SHADOW,
        figures=(
            Figure(
                "Shadow",
                f"{worst:.2%}",
                f"direct light whose straight way to the lid a connector blocks ({size}, {format_length(_LONG_MM, unit)} into "
                "the tile, on the back in the middle of an edge), over all light there; bounced light counts as without it",
                "limits: common practice, no source",
            ),
        ),
        fixable=state is not State.GOOD,
    )


def _block(build: TileWall, sides: int) -> tuple[np.ndarray, np.ndarray]:
    """Corners of a connector at the lower edge of a tile, in its own frame."""
    edge = -(apothem_mm(sides, build.side_mm) - build.wall_mm)
    half = build.link_wide_mm / 2.0
    return np.array([-half, edge, 0.0]), np.array([half, edge + _LONG_MM, build.link_high_mm])


def _tiles(build: TileWall, layout: TileLayout) -> list[Figure]:
    """What each tile takes, in the order of the chain, as far as that is read."""
    found, first = [], 1
    for place, tile in enumerate(layout.chain.order):
        pieces = layout.by_sides[build.tiles[tile].sides]
        leds = sum(piece.emitters for piece in pieces)
        before = next((link.start + 1 for link in layout.chain.links if link.end == tile), None)
        after = [str(link.end + 1) for link in layout.chain.links if link.start == tile]
        ways = "from the feed" if before is None else f"in from tile {before}"
        ways += f", out to {' and '.join(after)}" if after else ", the end of the chain"
        if place < _MOST_TOLD:
            found.append(
                Figure(
                    f"Tile {build.tile_numbers[tile]}",
                    f"{len(pieces)} pieces, LEDs {first} to {first + leds - 1}",
                    ways,
                )
            )
        first += leds
    return found


def _chain(build: TileWall, layout: TileLayout) -> Finding:
    chain = layout.chain
    ends = len(chain.order) - len({link.start for link in chain.links})
    way = " → ".join(str(tile + 1) for tile in chain.order[:24]) + (" …" if len(chain.order) > 24 else "")
    leds = sum(piece.emitters for tile in build.tiles for piece in layout.by_sides[tile.sides])
    branches = max(ends - 1, 0)
    words = "without branches" if branches == 0 else f"with {branches} branch{'es' if branches > 1 else ''}"
    return Finding(
        code="chain",
        place="lay",
        state=State.NOTE,
        sentence=f"The data chain runs from tile {build.tile_numbers[chain.order[0]]} through {len(chain.order)} tiles over "
        f"{len(chain.links)} links, {words}.",
        value=float(len(chain.links)),
        unit="",
        limit=None,
        figures=(
            Figure("Order", way, "tiles by number; from the back everything is mirrored (B shows it so)"),
            Figure("LEDs", str(leds), "of all tiles, in the order of the chain"),
            *_tiles(build, layout),
        ),
        cautions=(Caution.OVERHEAD,),
    )
