"""The reference renderer beside the engine on one case, in one run, at equal error: ``python -m bench.reference.compare``.

Needs the packages of ``reference`` and a recent LLVM library (DRJIT_LIBLLVM_PATH).
"""

import json
import math
import time
from pathlib import Path

import numpy as np

from bench.reference.trace import trace
from gauze.core.evaluate import AT_REST, CavityFaceLight, evaluate
from gauze.core.formats.design_file import decode_design
from gauze.core.materials import load_catalogue
from gauze.core.optics.cavity.transport import forget_transports
from tests.reference_maps import FOLDER, LID, light_over_cells, read_reference

CASE, CELLS = "box_bright", (24, 18)
_SHORT = {"count": 4_800_000, "check": 1000}  # paths of the trial: all, or for each cell
_LEAST_ERROR = 0.0005  # what the committed map can tell of the engine's error, beside its own noise


def own_error() -> tuple[float, float, float]:
    """Root mean square error of the engine on the case, and its times: at first, and with the box known."""
    catalogue, reference = load_catalogue(), read_reference(CASE)
    design = decode_design((FOLDER / f"{CASE}.gauze").read_bytes(), catalogue)
    evaluate(design, catalogue, AT_REST)  # the modules are loaded
    forget_transports()
    start = time.perf_counter()
    evaluation = evaluate(design, catalogue, AT_REST)
    first = time.perf_counter() - start
    start = time.perf_counter()
    evaluate(design, catalogue, AT_REST)
    again = time.perf_counter() - start
    assert isinstance(evaluation.light, CavityFaceLight)
    difference = light_over_cells(evaluation.light.face.light, reference) / reference.illuminance - 1.0
    noise = reference.error / reference.illuminance
    squared = float((difference**2).mean() - (noise**2).mean())
    return math.sqrt(max(squared, _LEAST_ERROR**2)), first, again


def renderer(way: str) -> tuple[float, float]:
    """Noise of one cell and time of a short trial."""
    design = json.loads((Path(FOLDER) / f"{CASE}.gauze").read_text("utf-8"))
    trace(design, LID, CELLS, 24_000 if way == "count" else 24, way)  # the kernels are compiled
    start = time.perf_counter()
    rows = trace(design, LID, CELLS, _SHORT[way], way)
    took = time.perf_counter() - start
    return math.sqrt(float(np.mean((rows[:, 3] / rows[:, 2]) ** 2))), took


def main() -> None:
    """Print the figures; the renderer's noise falls with the root of its time, which is how it is carried to equal error."""
    error, first, again = own_error()
    print(f"{CASE}: the engine errs by {error:.2%} RMS in {first:.2f} s at first, {again:.2f} s with the box known")
    for way, words in (("check", "stock path integrator"), ("count", "forward counting")):
        noise, took = renderer(way)
        equal = took * (noise / error) ** 2
        half = took * (noise / 0.005) ** 2
        print(
            f"  {words:<22} {noise:.2%} in {took:.1f} s; to {error:.2%} {equal:,.0f} s: {equal / first:,.0f} times (at first), "
            f"{equal / again:,.0f} times (box known); to 0.50% {half:,.0f} s"
        )


if __name__ == "__main__":
    main()
