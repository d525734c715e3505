"""Figures of the largest builds of every kind: ``python -m bench.large`` prints how long their light takes, coarse and exact."""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import math
import time
from collections.abc import Iterator

from bench.cavities import crowd
from bench.trade import Case
from gauze.core.design import Design, StripChoice
from gauze.core.design.build import ModuleChoice
from gauze.core.design.channel_bar import Bar, ChannelBar
from gauze.core.design.pixel_display import Baffle, PixelDisplay
from gauze.core.design.tile_wall import Tile, TileWall
from gauze.core.design.tube import Tube
from gauze.core.evaluate import AT_REST, WHILE_DRAGGING, State, evaluate, find
from gauze.core.materials import load_catalogue


def builds() -> Iterator[tuple[str, Design]]:
    """What is to be as fast as small builds are."""
    white = (StripChoice(strip="24v-white-120", cct_k=4000.0),)
    display = PixelDisplay(
        columns=64,
        rows=64,
        module=ModuleChoice(module="5v-rgb-grid-8x8"),
        depth_mm=14.0,
        diffuser="satin-acrylic-3",
        back="matt-white-paint",
        walls="matt-white-paint",
        baffle=Baffle(wall_mm=0.8, height_mm=13.0, gap_below_mm=1.8),
    )
    yield "64 x 64 pixels with partitions", Case("", display, State.GOOD, "").design
    side = 80.0
    tiles = tuple(
        Tile(sides=4, x_mm=side * column, y_mm=side * row, turn_deg=0.0) for row in range(10) for column in range(10)
    )
    wall = TileWall(
        side_mm=side,
        depth_mm=30.0,
        strips=(StripChoice(strip="5v-rgb-pixel-60"),),
        diffuser="opal-acrylic-3",
        walls="matt-white-paint",
        tiles=tiles,
    )
    yield "100 tiles", Case("", wall, State.GOOD, "").design
    tube = Tube(
        length_mm=3000.0,
        diameter_mm=36.0,
        diffuser="opal-shell-1",
        back="matt-white-paint",
        walls="matt-white-paint",
        strips=white,
    )
    yield "3 m of tube at 120/m", Case("", tube, State.GOOD, "").design
    bars = ChannelBar(
        width_mm=20.0,
        depth_mm=25.0,
        bars=tuple(Bar(length_mm=2000.0, gap_after_mm=20.0) for _ in range(10)),
        strips=white,
        diffuser="opal-lens-1",
        back="matt-white-paint",
        walls="bare-aluminium",
    )
    yield "20 m of bars", Case("", bars, State.GOOD, "").design
    yield "100 000 loose emitters", crowd(100_000)


def main() -> None:
    """Print a line for each: everything of an evaluation with its findings, with nothing kept from before."""
    catalogue = load_catalogue()
    evaluate(crowd(100), catalogue, WHILE_DRAGGING)  # the modules are loaded
    for name, design in builds():
        seconds = []
        for detail in (WHILE_DRAGGING, AT_REST):
            start = time.perf_counter()
            findings = find(evaluate(design, catalogue, detail))
            seconds.append(time.perf_counter() - start)
            if not all(math.isfinite(finding.value) for finding in findings):
                raise ArithmeticError(f"{name}: a finding is not a number")
        print(f"{name:34s} coarse {seconds[0]:5.2f} s, exact after it {seconds[1]:5.2f} s", flush=True)


if __name__ == "__main__":
    main()
