"""Figures of the engine for any cavity: how the time grows with the emitters, and the reference renderer beside it."""

import itertools
import math
import resource
import time

import numpy as np

from gauze.core.design import Design
from gauze.core.design.cavity import BoxShape
from gauze.core.design.loose import LooseEmitter
from gauze.core.evaluate import AT_REST, evaluate
from gauze.core.materials import load_catalogue
from gauze.core.optics.cavity.transport import forget_transports
from gauze.session.emitters import Inside, new_design

CATALOGUE = load_catalogue()
WIDTH_MM, HEIGHT_MM, DEPTH_MM = 1200.0, 800.0, 30.0
COUNTS = (100, 1_000, 10_000, 100_000)


def crowd(count: int) -> Design:
    """Emitters of two alternating whites, evenly over the back of a box, a bit off their places, so that nothing is a lattice."""
    random = np.random.default_rng(3)
    columns = round(math.sqrt(count * WIDTH_MM / HEIGHT_MM))
    rows = round(count / columns)
    step = np.array([WIDTH_MM / columns, HEIGHT_MM / rows])
    places = np.stack(np.meshgrid(np.arange(columns), np.arange(rows)), axis=-1).reshape(-1, 2)
    spots = (places + 0.5 + random.uniform(-0.2, 0.2, places.shape)) * step
    emitters = tuple(
        LooseEmitter(
            x_mm=float(x),
            y_mm=float(y),
            z_mm=1.5,
            nx=0.0,
            ny=0.0,
            nz=1.0,
            flux_lm=0.5,
            cct_k=2700.0 if row % 2 else 6500.0,
        )
        for (x, y), (_, row) in zip(spots, places, strict=True)
    )
    cavity = BoxShape(width_mm=WIDTH_MM, height_mm=HEIGHT_MM, depth_mm=DEPTH_MM)
    return new_design("crowd", emitters, (), Inside(cavity))


def seconds(design: Design) -> float:
    """Time of one evaluation at rest."""
    start = time.perf_counter()
    evaluate(design, CATALOGUE, AT_REST)
    return time.perf_counter() - start


def measure_growth() -> None:
    """Loose emitters in a 1200 x 800 x 30 mm box, from a hundred to a hundred thousand: everything, at rest."""
    print(f"Loose emitters, {WIDTH_MM:g} x {HEIGHT_MM:g} x {DEPTH_MM:g} mm, all of an evaluation at rest")
    times = []
    for count in COUNTS:
        design = crowd(count)
        forget_transports()
        first = seconds(design)
        again = min(seconds(design) for _ in range(2))
        times.append(again)
        print(f"  {len(design.loose.emitters):>7} emitters   first {first:6.2f} s   with the box known {again:6.2f} s")
    steps = [math.log(b / a) / math.log(10) for a, b in itertools.pairwise(times)]
    print(
        f"  growth per tenfold: powers {', '.join(f'{step:.2f}' for step in steps)} of the number (n log n is 1.1 to 1.2)"
    )
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000
    print(f"  most memory of this process {memory:.0f} MB   wanted 500 MB; 100 000 emitters wanted 5 s")


if __name__ == "__main__":
    measure_growth()
