"""The reference cases: designs of loose emitters, one for each kind of cavity, written as files for tests and tracer alike.

    python -m bench.reference.cases FOLDER

Invented sizes, chosen to be hard: bright walls, few emitters, corners.
"""

import json
import math
import sys
from pathlib import Path
from typing import Any

import msgspec
import numpy as np

from gauze.core.design import Design
from gauze.core.design.cavity import (
    BaffledShape,
    BoxShape,
    CavityShape,
    ChannelShape,
    FrustumShape,
    Leg,
    MitredChannelShape,
    PrismShape,
    SphereShape,
    TubeShape,
)
from gauze.core.design.loose import LooseEmitter
from gauze.core.formats.design_file import encode_design
from gauze.session.emitters import Inside, new_design

FLUX_LM = 20.0
DIFFUSER = "opal-acrylic-3"
Places = list[tuple[float, float, float]]

# reflectance of back, of walls; cells along u and v
BRIGHT, DARK = (0.9, 0.9), (0.5, 0.1)


def grid(columns: int, rows: int, width: float, height: float, z: float) -> Places:
    """Even places over a rectangle from the origin."""
    return [((i + 0.5) * width / columns, (j + 0.5) * height / rows, z) for j in range(rows) for i in range(columns)]


def line(count: int, length: float, z: float) -> Places:
    """Even places along x."""
    return [((i + 0.5) * length / count, 0.0, z) for i in range(count)]


def hexagon(across_mm: float) -> list[tuple[float, float]]:
    """Corners of a regular hexagon about the origin."""
    radius = across_mm / math.sqrt(3)
    return [(radius * math.cos(i * math.pi / 3), radius * math.sin(i * math.pi / 3)) for i in range(6)]


def rim(corners: list[tuple[float, float]], each: int, z: float) -> list[tuple[float, ...]]:
    """Emitters on the walls of a polygon, looking inwards: place and axis."""
    found = []
    for (x0, y0), (x1, y1) in zip(corners, corners[1:] + corners[:1], strict=True):
        inwards = np.array([-(y1 - y0), x1 - x0]) / math.hypot(x1 - x0, y1 - y0)
        for i in range(each):
            share = (i + 0.5) / each
            place = np.array([x0 + share * (x1 - x0), y0 + share * (y1 - y0)]) + 1.0 * inwards
            found.append((*map(float, place), z, *map(float, inwards), 0.0))
    return found


CASES: dict[str, tuple[CavityShape, list[Any], tuple[float, float], tuple[int, int]]] = {
    "box_bright": (
        BoxShape(width_mm=400.0, height_mm=300.0, depth_mm=30.0),
        grid(10, 6, 400, 300, 1.5),
        BRIGHT,
        (24, 18),
    ),
    "box_dark": (BoxShape(width_mm=400.0, height_mm=300.0, depth_mm=60.0), grid(5, 4, 400, 300, 1.5), DARK, (24, 18)),
    "prism_edge_lit": (
        PrismShape(corners_mm=tuple(hexagon(200.0)), depth_mm=35.0),
        rim(hexagon(200.0), 5, 12.0),
        BRIGHT,
        (22, 22),
    ),
    "frustum": (
        FrustumShape(sides=4, back_mm=20.0, lid_mm=120.0, depth_mm=60.0),
        [(x, y, 0.5) for x in (-5.0, 0.0, 5.0) for y in (-5.0, 0.0, 5.0)],
        (0.5, 0.9),
        (20, 20),
    ),
    "frustum_hexagon": (
        FrustumShape(sides=6, back_mm=30.0, lid_mm=90.0, depth_mm=25.0),
        [(0.0, 0.0, 0.5)],
        BRIGHT,
        (22, 22),
    ),
    "channel": (
        ChannelShape(section="rectangle", length_mm=250.0, width_mm=15.0, depth_mm=10.0),
        line(15, 250, 1.5),
        (0.7, 0.7),
        (60, 8),
    ),
    "channel_v_lens": (
        ChannelShape(section="v", length_mm=200.0, width_mm=24.0, depth_mm=12.0, bed_mm=12.0, lens_rise_mm=5.0),
        line(12, 200, 1.5),
        (0.7, 0.85),
        (48, 10),
    ),
    "tube_sparse": (
        TubeShape(length_mm=300.0, diameter_mm=40.0, bed_height_mm=6.0),
        line(5, 300, 7.0),
        (0.8, 0.8),
        (40, 16),
    ),
    "tube_dense": (
        TubeShape(length_mm=200.0, diameter_mm=30.0, bed_height_mm=5.0, lit_deg=180.0),
        line(24, 200, 6.0),
        (0.8, 0.8),
        (40, 12),
    ),
    "baffled_gap_above": (
        BaffledShape(
            columns=3,
            rows=3,
            pitch_x_mm=25.0,
            pitch_y_mm=25.0,
            depth_mm=20.0,
            partition_mm=1.0,
            partition_height_mm=16.0,
        ),
        [(37.5, 37.5, 1.0)],
        BRIGHT,
        (24, 24),
    ),
    "baffled_gap_below": (
        BaffledShape(
            columns=3,
            rows=2,
            pitch_x_mm=30.0,
            pitch_y_mm=25.0,
            depth_mm=22.0,
            partition_mm=1.6,
            partition_height_mm=17.0,
            gap_below_mm=3.0,
        ),
        [(45.0, 12.5, 1.0), (15.0, 37.5, 1.0)],
        (0.8, 0.7),
        (24, 20),
    ),
    "baffled_thin": (
        BaffledShape(
            columns=4,
            rows=4,
            pitch_x_mm=25.0,
            pitch_y_mm=25.0,
            depth_mm=20.0,
            partition_mm=0.4,
            partition_height_mm=17.0,
        ),
        [(31.0, 42.0, 1.0), (87.5, 87.5, 1.0), (87.5, 12.5, 1.0)],
        (0.8, 0.8),
        (24, 24),
    ),
    "baffled_thick_oblong": (
        BaffledShape(
            columns=3,
            rows=4,
            pitch_x_mm=25.0,
            pitch_y_mm=15.0,
            depth_mm=20.0,
            partition_mm=3.0,
            partition_height_mm=15.0,
            gap_below_mm=2.0,
        ),
        [(37.5, 22.5, 1.0), (12.5, 52.5, 1.0), (62.5, 37.5, 1.0)],
        (0.8, 0.8),
        (18, 24),
    ),
    "baffled_low": (
        BaffledShape(
            columns=3,
            rows=3,
            pitch_x_mm=20.0,
            pitch_y_mm=20.0,
            depth_mm=18.0,
            partition_mm=0.8,
            partition_height_mm=8.0,
        ),
        [(30.0, 30.0, 1.0), (10.0, 50.0, 1.0)],
        BRIGHT,
        (18, 18),
    ),
    "baffled_bare_rim": (
        BaffledShape(
            columns=3,
            rows=2,
            pitch_x_mm=20.0,
            pitch_y_mm=24.0,
            depth_mm=18.0,
            partition_mm=3.0,
            partition_height_mm=12.0,
            gap_below_mm=2.0,
            rim_partition=False,
        ),
        [(9.0, 11.0, 1.0), (30.0, 36.0, 1.0), (59.2, 12.0, 1.0)],
        (0.8, 0.8),
        (24, 24),
    ),
    "tube_slit": (
        TubeShape(length_mm=250.0, diameter_mm=40.0, lit_deg=70.0),
        [((i + 0.5) * 25.0, side * 18.0, 20.0, 0.0, -side, 0.0) for side in (-1.0, 1.0) for i in range(10)],
        (0.85, 0.85),
        (40, 8),
    ),
    "box_edge_lit": (
        BoxShape(width_mm=300.0, height_mm=180.0, depth_mm=22.0),
        [((i + 0.5) * 25.0, y, 11.0, 0.0, side, 0.0) for y, side in ((1.5, 1.0), (178.5, -1.0)) for i in range(12)],
        BRIGHT,
        (24, 18),
    ),
    "channel_packages": (
        ChannelShape(section="rectangle", length_mm=150.0, width_mm=16.0, depth_mm=9.0),
        line(6, 150, 1.5),
        (0.7, 0.7),
        (60, 8),
    ),
    "baffled_packages": (
        BaffledShape(
            columns=3,
            rows=2,
            pitch_x_mm=22.0,
            pitch_y_mm=22.0,
            depth_mm=16.0,
            partition_mm=0.8,
            partition_height_mm=11.0,
        ),
        [(33.0, 11.0, 1.0), (8.0, 33.0, 1.0)],
        (0.8, 0.8),
        (24, 16),
    ),
    "ball": (
        SphereShape(diameter_mm=80.0, base_mm=40.0),
        [(10.0, 0.0, 1.5), (-5.0, 8.0, 1.5), (-5.0, -8.0, 1.5)],
        (0.8, 0.8),
        (24, 24),
    ),
}


# Corners of frames are no cavities of the file: what the tracer and the tests read of them is written as plain JSON
_BESIDE_MM = 96.0  # of the sides beside the one that is looked at
_PITCH_MM = 16.0
MITRED = {
    "mitred_right_angle": (
        MitredChannelShape(
            section="rectangle",
            length_mm=128.0,
            width_mm=20.0,
            depth_mm=12.0,
            after=Leg(turn_deg=90.0, length_mm=_BESIDE_MM),
        ),
        1.5,
    ),
    "mitred_lens": (
        MitredChannelShape(
            section="v",
            length_mm=96.0,
            width_mm=20.0,
            depth_mm=10.0,
            bed_mm=12.0,
            lens_rise_mm=5.0,
            before=Leg(turn_deg=60.0, length_mm=_BESIDE_MM),
            after=Leg(turn_deg=-45.0, length_mm=_BESIDE_MM),
        ),
        1.5,
    ),
}


def mitred(name: str) -> dict[str, Any]:
    """Return a corner with LEDs along the middle lines of all its sides, none where they meet."""
    shape, z = MITRED[name]
    rows = [(x, y, z) for x, y, z in line(int(shape.length_mm / _PITCH_MM), shape.length_mm, z)]
    for leg, start, sign in ((shape.before, 0.0, -1.0), (shape.after, shape.length_mm, 1.0)):
        if leg is not None:
            turn = math.radians(leg.turn_deg) * sign
            away = ((index + 0.5) * _PITCH_MM * sign for index in range(int(leg.length_mm / _PITCH_MM)))
            rows += [(start + x * math.cos(turn), x * math.sin(turn), z) for x in away]
    emitters = [[*place, 0.0, 0.0, 1.0, FLUX_LM] for place in rows]
    back, walls = BRIGHT
    inside = msgspec.to_builtins(shape)
    return {
        "build": {"cavity": inside, "back": back, "walls": walls, "emitters": emitters, "emitter_size_mm": POINT_MM}
    }


POINT_MM = 0.01  # as good as a point
SIZES_MM = {"channel_packages": 4.0, "baffled_packages": 5.0}


def case(name: str) -> Design:
    """Return one case as a design."""
    cavity, places, (back, walls), _ = CASES[name]
    emitters = []
    for place in places:
        x_mm, y_mm, z_mm, nx, ny, nz = place if len(place) == 6 else (*place, 0.0, 0.0, 1.0)
        emitters.append(LooseEmitter(x_mm, y_mm, z_mm, nx, ny, nz, FLUX_LM))
    design = new_design(f"Reference {name.replace('_', ' ')}", tuple(emitters), (), Inside(cavity))
    return msgspec.structs.replace(
        design,
        build=msgspec.structs.replace(
            design.loose, diffuser=DIFFUSER, back=back, walls=walls, emitter_size_mm=SIZES_MM.get(name, POINT_MM)
        ),
    )


def main() -> None:
    """Write all cases into a folder."""
    folder = Path(sys.argv[1])
    folder.mkdir(parents=True, exist_ok=True)
    for name in CASES:
        (folder / f"{name}.gauze").write_bytes(encode_design(case(name)))
    for name in MITRED:
        (folder / f"{name}.json").write_text(json.dumps(mitred(name), indent=1) + "\n", "utf-8")


if __name__ == "__main__":
    main()
