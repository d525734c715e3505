"""Prints the figures that the project watches: ``.venv/bin/python -m bench.figures``.

Nothing here passes or fails. Run it on a quiet machine; each figure is a median over repeats.
"""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # as the application does, before NumPy is loaded

import importlib.util
import statistics
import subprocess
import sys
import time
from collections.abc import Callable

import msgspec

from bench.cavities import measure_growth
from gauze.core.design import Design, Purpose, RowPlan, StripChoice, StripPanel
from gauze.core.evaluate import AT_REST, WHILE_DRAGGING, Detail, evaluate, find
from gauze.core.materials import load_catalogue
from gauze.core.optics.box_transport import forget_transports

CATALOGUE = load_catalogue()
REPEATS = 15


def panel_of_400() -> Design:
    """A 600 x 400 mm panel with 396 emitters in 11 rows, each row 36."""
    return _design(600.0, 400.0, 30.0, "12v-white-60", RowPlan(count=11, spacing_mm=36.0))


def display_of_64() -> Design:
    """64 x 64 emitters: 64 rows of 5 V pixels at 30/m, spaced as they are pitched."""
    return _design(64 * 33.34, 64 * 33.34, 40.0, "5v-rgb-pixel-30", RowPlan(count=64, spacing_mm=33.3))


def _design(width_mm: float, height_mm: float, depth_mm: float, strip: str, rows: RowPlan) -> Design:
    white = CATALOGUE.strip(strip).white_cct_k is not None
    return Design(
        name="bench",
        purpose=Purpose(
            use="looked_at",
            viewing_distance_mm=2000.0,
            target_distance_mm=600.0,
            wanted_illuminance_lx=500.0,
            wanted_luminance_cd_m2=1000.0,
        ),
        build=StripPanel(
            face_width_mm=width_mm,
            face_height_mm=height_mm,
            depth_mm=depth_mm,
            row_direction="along_width",
            rows=rows,
            end_margin_mm=0.0,
            strips=(StripChoice(strip=strip, cct_k=4000.0 if white else None),),
            diffuser="opal-acrylic-3",
            back="matt-white-paint",
            walls="matt-white-paint",
        ),
    )


def milliseconds(work: Callable[[int], object], repeats: int = REPEATS) -> tuple[float, float]:
    """Median and worst time of a call, which gets the number of the repeat."""
    times = []
    for index in range(repeats):
        start = time.perf_counter()
        work(index)
        times.append(1000.0 * (time.perf_counter() - start))
    return statistics.median(times), max(times)


def update(design: Design, detail: Detail, *, lid_moves: bool) -> tuple[float, float]:
    """Time of one update; with the lid moving nothing of the box can be reused."""

    def work(index: int) -> None:
        build = design.panel
        if lid_moves:
            forget_transports()
            build = msgspec.structs.replace(build, depth_mm=build.depth_mm + 0.5 * index)
        else:
            spacing_mm = (build.rows.spacing_mm or 0.0) - 0.02 * index
            rows = msgspec.structs.replace(build.rows, spacing_mm=spacing_mm)
            build = msgspec.structs.replace(build, rows=rows)
        find(evaluate(msgspec.structs.replace(design, build=build), CATALOGUE, detail))

    work(0)
    return milliseconds(work)


def show(name: str, figures: tuple[float, float], wanted: str) -> None:
    """Print one line."""
    print(f"{name:<66} {figures[0]:8.1f} ms median {figures[1]:8.1f} ms worst   wanted {wanted}")


def measure_solver() -> None:
    """Light, visibility, target and findings together: what follows a hand."""
    panel, display = panel_of_400(), display_of_64()
    count = evaluate(panel, CATALOGUE, WHILE_DRAGGING).layout.emitter_count
    print(f"Panel 600 x 400 mm, {count} emitters, with all findings")
    show("  while dragging, the lid moves", update(panel, WHILE_DRAGGING, lid_moves=True), "16 ms")
    show("  while dragging, the rows move", update(panel, WHILE_DRAGGING, lid_moves=False), "16 ms")
    show("  at rest, the lid moved", update(panel, AT_REST, lid_moves=True), "100 ms")
    show("  at rest, the rows moved", update(panel, AT_REST, lid_moves=False), "100 ms")
    count = evaluate(display, CATALOGUE, WHILE_DRAGGING).layout.emitter_count
    print(f"Display of {count} emitters")
    show("  at rest, the lid moved", update(display, AT_REST, lid_moves=True), "250 ms")
    show("  at rest, the rows moved", update(display, AT_REST, lid_moves=False), "250 ms")


def measure_window() -> None:
    """Start, memory and events of the real window, each in a process of its own."""
    for _ in range(3):
        started = time.time()
        command = [sys.executable, "-m", "bench.window", repr(started)]
        environment = {**os.environ, "QT_QPA_PLATFORM": os.environ.get("QT_QPA_PLATFORM", "offscreen")}
        result = subprocess.run(command, capture_output=True, text=True, check=True, env=environment)
        print(result.stdout.rstrip())


def measure_builds() -> None:
    """Every demo in the real window, in a process of its own."""
    result = subprocess.run([sys.executable, "-m", "bench.builds"], capture_output=True, text=True, check=True)
    print(result.stdout.rstrip())


def measure_reference() -> None:
    """Print the reference renderer's time beside the engine's, where it is installed."""
    if importlib.util.find_spec("mitsuba") is None:
        print("The reference renderer is not installed: pip install -e .[reference]")
        return
    subprocess.run([sys.executable, "-m", "bench.reference.compare"], check=False)


if __name__ == "__main__":
    measure_solver()
    measure_window()  # first: a process tells the memory of the one that started it as its own peak
    measure_builds()
    measure_growth()
    measure_reference()
