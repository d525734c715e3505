"""The wires of a build as a table, CSV in UTF-8: what to cut, and from where to where it goes."""

import csv
import io
from collections.abc import Mapping, Sequence

from gauze.core.design import Design
from gauze.core.design.design import LONGEST_NAME
from gauze.core.electrical.power import Power
from gauze.core.electrical.soldering import TOLERANCE, SolderingStep
from gauze.core.electrical.wire_list import Run, metres_by_section, runs_of
from gauze.core.printable import printable

COLUMNS = (
    "step",
    "wire",
    "conductor",
    "from",
    "to",
    "section_mm2",
    "length_mm",
    "cut_mm",
    "current_a",
    "drop_v",
    "fuse_a",
)


def encode_wire_list(design: Design, power: Power, steps: Sequence[SolderingStep]) -> bytes:
    """Write one line for each wire, after remarks (lines that begin with #) with what is needed in all.

    Last, as remarks again, what each step of soldering lights, and what the supply should give then.
    """
    runs = runs_of(power)
    out = io.StringIO()
    out.write(f"# {printable(design.name, LONGEST_NAME)}\n")
    for section, metres in metres_by_section(runs).items():
        out.write(f"# {section:g} mm²: {metres:.2f} m\n")
    out.write(f"# {2 * sum(len(run.wires) for run in runs)} joints\n")
    table = csv.writer(out, lineterminator="\n")
    table.writerow(COLUMNS)
    step_of = {wire: step.number for step in steps for wire in step.wires}
    for run in runs:
        table.writerows(_rows(run, step_of))
    out.write("# before each step: supply off; with a meter, no short between plus and minus\n")
    for step in steps:
        out.write(f"# {_step_words(step)}\n")
    return out.getvalue().encode()


def _step_words(step: SolderingStep) -> str:
    wires = ", ".join(f"{number} {conductor}" for number, conductor in step.wires)
    data = "".join(f", data from {start} to {end}" for start, end in step.data_from)
    lights = f"{', '.join(step.lights)} should light" if step.lights else "the ends get brighter"
    reading = f"{step.supply_a:.2f} A from the supply within {TOLERANCE:.0%}, {step.least_v:.2f} V or more there"
    return printable(f"step {step.number}: solder {wires}{data}; then {lights}: {reading}", most=2000)


def _rows(run: Run, step_of: Mapping[tuple[int, str], int]) -> list[list[str]]:
    return [
        [
            str(step_of[run.number, one.wire.conductor]),
            str(run.number),
            one.wire.conductor,
            str(run.start),
            str(run.end),
            f"{run.section_mm2:g}",
            f"{run.length_mm:.0f}",
            f"{run.cut_mm:.0f}",
            f"{one.current_a:.3f}",
            f"{one.drop_v:.4f}",
            f"{run.fuse_a:g}" if run.fuse_a is not None and one.wire.conductor == "+" else "",
        ]
        for one in run.wires
    ]
