"""Figures of the circuits: ``python -m bench.network`` prints how long volts and amps take, and the light that follows them."""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import time
from collections.abc import Callable
from functools import partial

import msgspec
import numpy as np

from gauze.core.design import Design
from gauze.core.design.wiring import Wiring
from gauze.core.electrical.circuit import Circuit, Loads, Resistors, Source, constant_current, series_leds
from gauze.core.electrical.power import power_of
from gauze.core.electrical.solve import solve
from gauze.core.evaluate import AT_REST, evaluate, search_fixes
from gauze.core.evaluate.stages import forget_lights
from gauze.core.families import lay_out, parts_of
from gauze.core.formats.design_file import decode_design
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.materials import load_catalogue
from gauze.core.optics.cavity.transport import forget_transports
from gauze.demo import DEMOS, demo


def ladders(segments: int, pieces: int, amps: float, *, pixels: bool) -> Circuit:
    """Pieces of strip side by side on one supply, 0.06 ohm in each rail of each."""
    each, node = segments // pieces, 2
    starts: list[IndexArray] = []
    ends: list[IndexArray] = []
    ohms: list[FloatArray] = []
    plus: list[IndexArray] = []
    minus: list[IndexArray] = []
    for _ in range(pieces):
        for base in (1, 0):
            rail = np.arange(node, node + each)
            starts.append(np.concatenate([[base], rail[:-1]]))
            ends.append(rail)
            ohms.append(np.full(each, 0.06 / each))
            (plus if base else minus).append(rail)
            node += each
    count = each * pieces
    one = amps / count
    curve = (
        constant_current(np.full(count, one), np.full(count, 2.7), np.full(count, 3.5))
        if pixels
        else series_leds(np.full(count, 1.0), np.full(count, 3.0), np.full(count, 2.0 / one))
    )
    loads = Loads(np.concatenate(plus), np.concatenate(minus), *curve)
    resistors = Resistors(np.concatenate(starts), np.concatenate(ends), np.concatenate(ohms))
    return Circuit([str(number) for number in range(node)], resistors, loads, (Source("supply", 1, 0, 5.0),))


def seconds(what: Callable[[], object], times: int = 3) -> float:
    """Least time of a few."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        what()
        found.append(time.perf_counter() - start)
    return min(found)


def main() -> None:
    """Print the figures."""
    for segments, pieces, amps, pixels in (
        (1000, 10, 40.0, True),
        (1000, 10, 20.0, False),
        (20_000, 20, 300.0, True),
        (20_000, 20, 100.0, False),
    ):
        circuit = ladders(segments, pieces, amps, pixels=pixels)
        known = solve(circuit).node_v
        cold, warm = seconds(partial(solve, circuit)), seconds(partial(solve, circuit, known))
        kind = "pixels" if pixels else "analog segments"
        print(f"{segments} {kind} on {pieces} strips: {1000 * cold:.1f} ms, from volts much alike {1000 * warm:.1f} ms")
    catalogue = load_catalogue()
    for one in DEMOS:
        design = decode_design(one.read(), catalogue)
        layout = lay_out(design, catalogue)
        joints = parts_of(design, layout, catalogue).joints
        if layout.pieces:
            took = seconds(partial(power_of, layout.pieces, joints, design.wiring or Wiring()))
            print(f"{one.key:16} volts and amps {1000 * took:5.1f} ms")
    string = decode_design(demo("quay_line").read(), catalogue)
    assert string.wiring is not None
    bare = msgspec.structs.replace(string, wiring=msgspec.structs.replace(string.wiring, injections=()))
    print(
        f"fewest feeds for a string of pixels: {seconds(partial(search_fixes, 'drop', bare, catalogue), 1):.2f} s for all fixes"
    )
    for name, design in (("full volts", msgspec.structs.replace(string, wiring=None)), ("with its drop", bare)):
        print(f"light of the string, {name}: {lit(design):.2f} s again")


def lit(design: Design) -> float:
    """Time of the exact light, again."""
    catalogue = load_catalogue()

    def again() -> None:
        forget_lights()
        forget_transports()
        evaluate(design, catalogue, AT_REST)

    return seconds(again)


if __name__ == "__main__":
    main()
