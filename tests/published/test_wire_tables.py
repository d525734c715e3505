"""Copper wire against the tables of standards.

Sources: IEC 60228:2004, table 3 (class 5, plain copper, ohm/km at 20 degC), from memory; ASTM B258 (diameters of gauges, inch),
from memory. A solid copper wire of a gauge has about the resistance that handbooks give for it (AWG 18: 20.9 ohm/km,
from memory).
"""

import pytest

from gauze.core.electrical.wires import (
    CARRIES_A,
    FUSES_A,
    carries_a,
    fuse_for,
    ohm_per_km,
    thinnest_mm2,
    wire_ohm,
)
from gauze.core.materials.wire_gauge import diameter_of_gauge_mm, section_of_gauge_mm2

IEC_60228 = {0.5: 39.0, 0.75: 26.0, 1.0: 19.5, 1.5: 13.3, 2.5: 7.98, 4.0: 4.95, 6.0: 3.30, 10.0: 1.91}
ASTM_B258_INCH = {
    10: 0.1019,
    12: 0.0808,
    14: 0.0641,
    16: 0.0508,
    18: 0.0403,
    20: 0.0320,
    22: 0.0253,
    24: 0.0201,
    26: 0.0159,
}
COPPER_OHM_MM2_PER_M = 0.017241  # IEC 60028, annealed copper at 20 degC


@pytest.mark.parametrize("section", IEC_60228)
def test_resistances_are_those_of_the_standard(section: float) -> None:
    assert ohm_per_km(section) == pytest.approx(IEC_60228[section])
    assert wire_ohm(section, 2500.0) == pytest.approx(IEC_60228[section] * 2.5 / 1000.0)


@pytest.mark.parametrize("gauge", ASTM_B258_INCH)
def test_gauges_have_the_diameters_of_the_standard(gauge: int) -> None:
    assert diameter_of_gauge_mm(gauge) / 25.4 == pytest.approx(ASTM_B258_INCH[gauge], rel=4e-3)


def test_between_the_sections_of_the_table_resistance_goes_by_area() -> None:
    """Of every section it lies between that of solid copper and a tenth above: strands are twisted, and drawn thin."""
    for section in (0.14, 0.25, 0.34, 0.6, 0.82, 1.2, 2.0, 3.0, 8.0, section_of_gauge_mm2(18)):
        solid = 1000.0 * COPPER_OHM_MM2_PER_M / section
        assert solid < ohm_per_km(section) < 1.17 * solid
    assert ohm_per_km(section_of_gauge_mm2(18)) == pytest.approx(20.9, rel=0.15)


def test_thicker_wire_carries_more_and_the_thinnest_that_carries_it_is_found() -> None:
    sections = sorted(CARRIES_A)
    carried = [carries_a(section) for section in sections]
    assert carried == sorted(carried)
    assert thinnest_mm2(6.0) == 0.75
    assert thinnest_mm2(6.1) == 1.0
    assert thinnest_mm2(1000.0) is None
    assert carries_a(0.6) == pytest.approx(3.0 + 0.4 * 3.0)


@pytest.mark.parametrize(
    ("amps", "section", "fuse"), [(2.0, 0.75, 3.0), (4.0, 0.75, 5.0), (5.5, 0.75, None), (8.0, 2.5, 10.0)]
)
def test_a_fuse_lies_above_what_flows_and_below_what_the_wire_carries(
    amps: float, section: float, fuse: float | None
) -> None:
    found = fuse_for(amps, section)
    assert found.rating_a == fuse
    if fuse is not None:
        assert amps < fuse <= carries_a(section)
        assert fuse in FUSES_A
