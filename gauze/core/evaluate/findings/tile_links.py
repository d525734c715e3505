"""The chain of a tile wall, and the shadow of its connectors on the lids."""

from collections.abc import Iterable

import numpy as np

from gauze.core.design.tile_wall import TileWall, apothem_mm
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.evaluate.light import GroupFaceLight
from gauze.core.layout.families.tile_wall import TileLayout
from gauze.core.optics.cavity.face import CavityFace
from gauze.core.optics.cavity.light import CavityLight
from gauze.core.optics.cavity.shadow import shadow_share
from gauze.core.words import Joined, Length, Percent, say

GOOD_SHADOW, FAIR_SHADOW = 0.03, 0.10  # of the light on the lid; common practice, no source
_MOST_TOLD = 40
_LONG_MM = 8.0  # of a connector, into the tile; typical


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the connector's shadow, and note the chain."""
    build, light, layout = evaluation.design.build_as(TileWall), evaluation.light, evaluation.layout.as_kind(TileLayout)
    found = [_chain(build, layout)]
    if layout.chain.links and isinstance(light, GroupFaceLight):
        found.insert(0, _shadow(build, light, in_motion=evaluation.detail.in_motion))
    return found


def link_shadow(evaluation: Evaluation) -> Finding | None:
    """Return the finding about the connectors' shadow, or None where there are none."""
    return next((finding for finding in find(evaluation) if finding.code == "link shadow"), None)


def _asked(light: GroupFaceLight, *, in_motion: bool) -> Iterable[CavityFace]:
    """The faces whose shadows are computed: while a hand is at work one of each geometry, within which it hardly differs."""
    if not in_motion:
        return light.faces
    units = zip(light.built.cavities, light.faces, strict=True)
    return {id(cavity.places_mm): face for cavity, face in units}.values()


def _shadow(build: TileWall, light: GroupFaceLight, *, in_motion: bool) -> Finding:
    shares = [
        shadow_share(face, *_block(build, len(face.light.cavity.plan)))
        for face in _asked(light, in_motion=in_motion)
        if isinstance(face.light, CavityLight)
    ]
    worst = max(shares)
    state = State.GOOD if worst <= GOOD_SHADOW else State.WATCH if worst <= FAIR_SHADOW else State.FAILS
    words = (
        say("The connectors throw no shadow that shows")
        if state is State.GOOD
        else say("The connectors throw a shadow on the lids")
    )
    size = say(
        "{link_wide} wide, {link_high} high", link_wide=Length(build.link_wide_mm), link_high=Length(build.link_high_mm)
    )
    return Finding(
        code="link shadow",
        place="lay",
        state=state,
        sentence=say("{words}: {worst} of the light at the darkest place.", words=words, worst=Percent(worst, 1)),
        value=worst,
        unit="",
        limit=GOOD_SHADOW,
        figures=(
            Figure(
                say("Shadow"),
                Percent(worst, 2),
                say(
                    "direct light whose straight way to the lid a connector blocks ({size}, {long} into the "
                    "tile, on the back in the middle of an edge), over all light there; bounced light counts as "
                    "without it",
                    size=size,
                    long=Length(_LONG_MM),
                ),
                say("limits: common practice, no source"),
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
        way_in = say("from the feed") if before is None else say("in from tile {before}", before=before)
        way_out = say("out to {tiles}", tiles=Joined.of(after)) if after else say("the end of the chain")
        if place < _MOST_TOLD:
            found.append(
                Figure(
                    say("Tile {tile_numbers}", tile_numbers=build.tile_numbers[tile]),
                    say(
                        "{pieces} pieces, LEDs {first} to {first2}",
                        pieces=len(pieces),
                        first=first,
                        first2=first + leds - 1,
                    ),
                    Joined.of((way_in, way_out)),
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
    words = (
        say("without branches")
        if branches == 0
        else say("with one branch")
        if branches == 1
        else say("with {branches} branches", branches=branches)
    )
    return Finding(
        code="chain",
        place="lay",
        state=State.NOTE,
        sentence=say(
            "The data chain runs from tile {tile_numbers} through {order} tiles over {links} links, {words}.",
            tile_numbers=build.tile_numbers[chain.order[0]],
            order=len(chain.order),
            links=len(chain.links),
            words=words,
        ),
        value=float(len(chain.links)),
        unit="",
        limit=None,
        figures=(
            Figure(say("Order"), way, say("tiles by number; from the back everything is mirrored (B shows it so)")),
            Figure(say("LEDs"), str(leds), say("of all tiles, in the order of the chain")),
            *_tiles(build, layout),
        ),
        cautions=(Caution.OVERHEAD,),
    )
