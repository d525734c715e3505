"""Designs for tests, and random ones for Hypothesis. Invented data."""

from typing import Any

import msgspec
from hypothesis import strategies as st

from gauze.core.design import Design, LooseEmitters, Purpose, RowPlan, StripChoice, StripPanel
from gauze.core.design.cavity import (
    BoxShape,
    CavityShape,
    ChannelShape,
    CornerShape,
    CupShape,
    FrustumShape,
    PrismShape,
    SphereShape,
    TubeShape,
    WallShape,
    lit_by_reflection,
)
from gauze.core.design.loose import LooseEmitter
from gauze.core.errors import DesignError
from gauze.core.families import lay_out
from gauze.core.layout import RowLayout, lay_out_strip_panel
from gauze.core.layout.cavity import Cavity, Reflectances
from gauze.core.layout.shapes import surface_of
from gauze.core.materials import load_catalogue

CATALOGUE = load_catalogue()


def panel(**changes: Any) -> StripPanel:
    """A 600 x 400 mm panel with eleven rows of 12 V white strip behind opal acrylic."""
    choices: dict[str, Any] = {
        "face_width_mm": 600.0,
        "face_height_mm": 400.0,
        "depth_mm": 30.0,
        "row_direction": "along_width",
        "rows": RowPlan(count=11, spacing_mm=36.0),
        "end_margin_mm": 0.0,
        "strips": (StripChoice(strip="12v-white-60", cct_k=4000.0),),
        "diffuser": "opal-acrylic-3",
        "back": "matt-white-paint",
        "walls": "matt-white-paint",
    }
    return StripPanel(**(choices | changes))


def purpose(**changes: Any) -> Purpose:
    """Looked at from 2 m."""
    choices: dict[str, Any] = {
        "use": "looked_at",
        "viewing_distance_mm": 2000.0,
        "target_distance_mm": 600.0,
        "wanted_illuminance_lx": 500.0,
        "wanted_luminance_cd_m2": 1000.0,
    }
    return Purpose(**(choices | changes))


def design(purpose_changes: dict[str, Any] | None = None, **changes: Any) -> Design:
    """The panel with its purpose."""
    return Design(name="Test panel", purpose=purpose(**(purpose_changes or {})), build=panel(**changes))


def with_purpose(one: Design, **changes: Any) -> Design:
    """The same for another purpose."""
    return msgspec.structs.replace(one, purpose=msgspec.structs.replace(one.purpose, **changes))


def layout(**changes: Any) -> RowLayout:
    """The panel laid out."""
    return lay_out_strip_panel(panel(**changes), CATALOGUE)


def warm_and_cool() -> tuple[StripChoice, StripChoice]:
    """Two whites for alternate rows."""
    return (StripChoice(strip="24v-white-120", cct_k=2700.0), StripChoice(strip="24v-white-120", cct_k=6500.0))


def _row_plans() -> st.SearchStrategy[RowPlan]:
    count = st.integers(1, 14)
    spacing = st.floats(12, 90).map(lambda value: round(value, 3))
    margin = st.floats(6, 60).map(lambda value: round(value, 3))
    return st.one_of(
        st.builds(RowPlan, count=count, spacing_mm=spacing),
        st.builds(RowPlan, count=count, side_margin_mm=margin),
        st.builds(RowPlan, spacing_mm=spacing, side_margin_mm=margin),
    )


def _choices() -> st.SearchStrategy[StripChoice]:
    def choose(strip_id: str, cct_k: int, level: float) -> StripChoice:
        strip = CATALOGUE.strip(strip_id)
        levels = tuple(round(level, 4) for _ in strip.channel)
        return StripChoice(strip=strip_id, cct_k=float(cct_k) if strip.white_cct_k else None, levels=levels)

    return st.builds(choose, st.sampled_from(sorted(CATALOGUE.strips)), st.integers(2200, 6500), st.floats(0, 1))


def _sheets() -> st.SearchStrategy[str | tuple[str, ...]]:
    names = st.sampled_from(sorted(CATALOGUE.diffusers))
    return st.one_of(names, st.lists(names, min_size=2, max_size=3).map(tuple))


def _stands(candidate: Design) -> bool:
    try:
        lay_out(candidate, CATALOGUE)
    except DesignError:
        return False
    return True


def designs() -> st.SearchStrategy[Design]:
    """Random designs that stand."""
    finishes = st.one_of(st.sampled_from(sorted(CATALOGUE.finishes)), st.floats(0, 0.98))
    sizes = st.floats(120, 900)
    builds = st.builds(
        StripPanel,
        face_width_mm=sizes,
        face_height_mm=sizes,
        depth_mm=st.floats(3, 200),
        row_direction=st.sampled_from(["along_width", "along_height"]),
        rows=_row_plans(),
        end_margin_mm=st.floats(0, 25),
        strips=st.lists(_choices(), min_size=1, max_size=2).map(tuple),
        diffuser=_sheets(),
        back=finishes,
        walls=finishes,
        alternate_shift_mm=st.sampled_from([0.0, 0.0, 2.5]),
    )
    return st.builds(
        Design,
        name=st.text(max_size=40),
        purpose=st.just(purpose()),
        build=builds,
        measured_row_current_a=st.one_of(st.none(), st.floats(0.01, 20)),
    ).filter(_stands)


# -- loose emitters --------------------------------------------------------------------------------------------------------


def emitter(x_mm: float, y_mm: float, z_mm: float = 1.0, **changes: Any) -> LooseEmitter:
    """A bare package of 10 lm that looks up."""
    choices: dict[str, Any] = {"nx": 0.0, "ny": 0.0, "nz": 1.0, "flux_lm": 10.0}
    return LooseEmitter(x_mm=x_mm, y_mm=y_mm, z_mm=z_mm, **(choices | changes))


def loose(cavity: CavityShape, *emitters: LooseEmitter, **changes: Any) -> LooseEmitters:
    """Emitters in a cavity behind opal acrylic."""
    choices: dict[str, Any] = {"diffuser": "opal-acrylic-3", "back": 0.9, "walls": 0.8}
    if lit_by_reflection(cavity):
        choices["diffuser"] = None
    return LooseEmitters(cavity=cavity, emitters=emitters, **(choices | changes))


def loose_design(cavity: CavityShape, *emitters: LooseEmitter, **changes: Any) -> Design:
    """The same with a purpose."""
    return Design(name="Test emitters", purpose=purpose(), build=loose(cavity, *emitters, **changes))


# one of each kind, with a place for an emitter inside
CAVITIES: dict[str, tuple[CavityShape, tuple[float, float, float]]] = {
    "box": (BoxShape(width_mm=90.0, height_mm=60.0, depth_mm=25.0), (40.0, 20.0, 2.0)),
    "prism": (PrismShape(corners_mm=((0, 0), (80, 10), (60, 70), (10, 60)), depth_mm=30.0), (40.0, 35.0, 2.0)),
    "frustum": (FrustumShape(sides=4, back_mm=30.0, lid_mm=80.0, depth_mm=40.0), (5.0, 0.0, 1.0)),
    "round frustum": (FrustumShape(back_mm=30.0, lid_mm=80.0, depth_mm=40.0), (5.0, 0.0, 1.0)),
    "channel": (ChannelShape(section="rectangle", length_mm=90.0, width_mm=15.0, depth_mm=10.0), (30.0, 0.0, 1.0)),
    "v": (ChannelShape(section="v", length_mm=90.0, width_mm=24.0, bed_mm=10.0, depth_mm=12.0), (30.0, 0.0, 1.0)),
    "u": (
        ChannelShape(section="u", length_mm=90.0, width_mm=16.0, depth_mm=14.0, lens_rise_mm=4.0),
        (30.0, 0.0, 1.0),
    ),
    "half round": (ChannelShape(section="half_round", length_mm=90.0, width_mm=20.0, depth_mm=10.0), (30.0, 0.0, 1.0)),
    "tube": (TubeShape(length_mm=90.0, diameter_mm=30.0, bed_height_mm=5.0), (30.0, 0.0, 6.0)),
    "slit tube": (TubeShape(length_mm=90.0, diameter_mm=30.0, lit_deg=120.0), (30.0, 0.0, 3.0)),
    "sphere": (SphereShape(diameter_mm=80.0, base_mm=30.0), (0.0, 0.0, 1.0)),
    "cup": (CupShape(back_mm=40.0, front_mm=60.0, depth_mm=50.0), (0.0, 5.0, 1.0)),
    "open wall": (WallShape(width_mm=300.0, height_mm=200.0, reach_mm=200.0), (150.0, 100.0, 60.0)),
    "open corner": (CornerShape(reach_mm=300.0, height_mm=200.0), (60.0, 100.0, 60.0)),
}


def surface(name: str) -> Cavity:
    """The surface of one of the cavities above, bright inside."""
    found = surface_of(CAVITIES[name][0], Reflectances(0.9, 0.85, 0.4))
    assert isinstance(found, Cavity)
    return found
