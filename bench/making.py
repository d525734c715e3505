"""How long plans of cutting take: lengths with their proof, sheets to their gap, and everything of each demo.

``python -m bench.making`` prints the figures.
"""

import random
import time

from gauze.core.evaluate import Detail, evaluate
from gauze.core.evaluate.building.workshop import workshop_of
from gauze.core.evaluate.made import made_of
from gauze.core.formats.design_file import decode_design
from gauze.core.making.cutting import Saw, Stock, Wanted, plan_cuts
from gauze.core.making.sheets import Cutout, SheetSize, plan_sheets
from gauze.core.materials import load_catalogue
from gauze.demo import DEMOS
from gauze.session.exporting import book_of, files_of

_JOBS = 6


def main() -> None:
    """Print the figures."""
    dice = random.Random(7)  # noqa: S311 - lengths to try
    for low, high in ((200.0, 1500.0), (100.0, 700.0)):
        for _ in range(_JOBS):
            wanted = [Wanted(f"piece {index}", round(dice.uniform(low, high), 1), 5) for index in range(12)]
            stocks = [Stock(2000.0, 9.5), Stock(3000.0, 12.9), Stock(730.0, quantity=1, offcut=True)]
            started = time.perf_counter()
            plan = plan_cuts(stocks, wanted, Saw(2.0))
            gap = 100.0 * (plan.cost / plan.bound - 1.0)
            proof = "proven" if plan.optimal else f"at most {gap:.1f} % above the bound"
            print(
                f"60 pieces of 12 lengths, {low:g} to {high:g} mm: {time.perf_counter() - started:5.2f} s, "
                f"{len(plan.bars)} bars, {proof}"
            )
    for tiles in (
        [Cutout("tile", 180.0, 180.0, 200)],
        [Cutout("large", 180.0, 180.0, 60), Cutout("small", 95.0, 95.0, 140)],
    ):
        started = time.perf_counter()
        sheets = plan_sheets([SheetSize(1000.0, 500.0, 1.0)], tiles, 3.0)
        gap = 100.0 * (sheets.cost / sheets.bound - 1.0)
        print(
            f"200 tiles of {len(tiles)} sizes: {time.perf_counter() - started:5.2f} s, {sheets.bought} sheets, "
            f"at most {gap:.0f} % more than the bound"
        )
    catalogue = load_catalogue()
    for demo in DEMOS:
        design = decode_design(demo.read(), catalogue)
        started = time.perf_counter()
        made = made_of(design, catalogue, ())
        planned = time.perf_counter()
        evaluation = evaluate(design, catalogue, Detail(fineness=1.0, most_pixels=60_000))
        lit = time.perf_counter()
        workshop = workshop_of(evaluation, made)
        stated = time.perf_counter()
        book = book_of(evaluation, made)
        written = time.perf_counter()
        files = files_of(design, catalogue, (), ("templates", "printed"), demo.key)
        print(
            f"{demo.key:16} planned {planned - started:5.2f} s, {len(workshop.steps):3} steps and parts "
            f"{stated - lit:5.2f} s, book {written - stated:5.2f} s ({len(book) // 1024} KB), "
            f"templates and solids {time.perf_counter() - written:5.2f} s ({len(files)} files)"
        )


if __name__ == "__main__":
    main()
