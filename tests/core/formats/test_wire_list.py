"""The wire list: what is cut, and whether all of it adds up."""

import csv
import io

import msgspec
import pytest

from gauze.core.design.wiring import Injection, RunSection, Wiring
from gauze.core.electrical.soldering import soldering_steps
from gauze.core.electrical.wire_list import STRIPPED_MM, metres_by_section, runs_of
from gauze.core.electrical.wires import carries_a
from gauze.core.evaluate.stages import network_for
from gauze.core.families import lay_out
from gauze.core.formats.wire_list import COLUMNS, encode_wire_list
from tests.builders import CATALOGUE, design

WIRED = msgspec.structs.replace(
    design(), wiring=Wiring(scheme="both_ends", wire_mm2=1.5, injections=(Injection(piece="row-3", after=4),))
)


def test_every_wire_is_a_line_with_its_run_numbered_from_the_supply_on() -> None:
    laid = lay_out(WIRED, CATALOGUE)
    network = network_for(WIRED, laid, CATALOGUE)
    power = network.power
    assert power is not None
    text = encode_wire_list(WIRED, power, soldering_steps(power, laid.pieces, network.joints)).decode()
    remarks = [line for line in text.splitlines() if line.startswith("#")]
    rows = list(csv.DictReader(io.StringIO("\n".join(line for line in text.splitlines() if not line.startswith("#")))))
    assert tuple(rows[0]) == COLUMNS
    assert len(rows) == len(power.wires)
    assert f"# {2 * len(rows)} joints" in remarks
    numbers = [int(row["wire"]) for row in rows]
    assert numbers == sorted(numbers)
    assert set(numbers) == set(range(1, max(numbers) + 1))
    from_supply = [row["from"] == "supply" for row in rows]
    assert from_supply == sorted(from_supply, reverse=True)
    assert any(row["to"] == "row-3 after 4" for row in rows)
    for row in rows:
        assert float(row["cut_mm"]) >= float(row["length_mm"]) + 2 * STRIPPED_MM - 0.5
        assert float(row["cut_mm"]) % 5 == 0
        if row["fuse_a"]:
            assert row["conductor"] == "+"
            assert float(row["current_a"]) < float(row["fuse_a"]) <= carries_a(1.5)
    metres = sum(float(row["cut_mm"]) for row in rows) / 1000.0
    assert metres_by_section(runs_of(power)) == {1.5: pytest.approx(metres)}
    assert f"# 1.5 mm²: {metres:.2f} m" in remarks


def test_the_fuse_of_a_thick_lead_protects_the_thin_wire_behind_it() -> None:
    lead = RunSection(start="supply", end="row-1 start", wire_mm2=6.0)
    wiring = Wiring(scheme="buses", wire_mm2=0.75, sections=(lead,))
    what = msgspec.structs.replace(design(), wiring=wiring)
    power = network_for(what, lay_out(what, CATALOGUE), CATALOGUE).power
    assert power is not None
    first, *rest = runs_of(power)
    assert (first.section_mm2, {run.section_mm2 for run in rest}) == (6.0, {0.75})
    assert first.fuse_a is not None
    assert 1.25 * first.current_a <= first.fuse_a <= carries_a(0.75)
    assert set(metres_by_section(runs_of(power))) == {0.75, 6.0}
