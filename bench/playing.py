"""Figures of a display that plays: ``.venv/bin/python -m bench.playing`` prints how long its light takes, and each picture."""

import time

import numpy as np

from gauze.core.design import with_build
from gauze.core.effects import EFFECTS, Options, flashes_per_s
from gauze.core.evaluate.playing import Response, response_of
from gauze.core.formats.design_file import decode_design
from gauze.core.materials import load_catalogue
from gauze.core.optics.appearance import Viewing, true_colour
from gauze.demo import demo

_PICTURES = 30


def picture_ms(response: Response, key: str) -> float:
    """From the time to a picture for the screen, in the median."""
    effect = next(one for one in EFFECTS if one.key == key)
    taken = []
    for number in range(_PICTURES):
        begun = time.perf_counter()
        levels = effect.frame(number / 30.0, response.screen, Options())
        true_colour(response.picture(levels), Viewing(response.white_cd_m2, 0.0, 0.0))
        taken.append(time.perf_counter() - begun)
    return 1000.0 * float(np.median(taken))


def main() -> None:
    """Print a line for each size."""
    catalogue = load_catalogue()
    for key, columns, rows in (
        ("tide_board", 32, 8),
        ("tide_board", 64, 32),
        ("glow_board", 24, 10),
        ("glow_board", 64, 32),
    ):
        design = with_build(decode_design(demo(key).read(), catalogue), columns=columns, rows=rows)
        begun = time.perf_counter()
        response = response_of(design, catalogue)
        lit_s = time.perf_counter() - begun
        begun = time.perf_counter()
        flashes_per_s(next(one for one in EFFECTS if one.key == "fire"), response.screen, Options())
        counted_s = time.perf_counter() - begun
        each = ", ".join(f"{name} {picture_ms(response, name):.1f}" for name in ("text", "fire", "clouds"))
        print(
            f"{key}, {columns} x {rows}: its light {lit_s:.2f} s, flashes counted {counted_s:.2f} s; a picture, ms: {each}"
        )


if __name__ == "__main__":
    main()
