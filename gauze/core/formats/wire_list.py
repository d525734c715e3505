"""The wires of a build as a table, CSV in UTF-8: what to cut, and from where to where it goes."""

import csv
import io

from gauze.core.design import Design
from gauze.core.design.design import LONGEST_NAME
from gauze.core.electrical.power import Power
from gauze.core.electrical.wire_list import Run, metres_by_section, runs_of
from gauze.core.printable import printable

COLUMNS = (
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


def encode_wire_list(design: Design, power: Power) -> bytes:
    """Write one line for each wire, after remarks (lines that begin with #) with what is needed in all."""
    runs = runs_of(power)
    out = io.StringIO()
    out.write(f"# {printable(design.name, LONGEST_NAME)}\n")
    for section, metres in metres_by_section(runs).items():
        out.write(f"# {section:g} mm²: {metres:.2f} m\n")
    out.write(f"# {2 * sum(len(run.wires) for run in runs)} joints\n")
    table = csv.writer(out, lineterminator="\n")
    table.writerow(COLUMNS)
    for run in runs:
        table.writerows(_rows(run))
    return out.getvalue().encode()


def _rows(run: Run) -> list[list[str]]:
    return [
        [
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
