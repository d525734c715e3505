"""A cavity of a wanted kind around emitters that are there already: where a builder starts from."""

from typing import Literal, get_args

import numpy as np

from gauze.core.design.cavity import (
    BaffledShape,
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
)
from gauze.core.design.loose import LooseEmitter
from gauze.core.layout.model import FloatArray

Kind = Literal["box", "prism", "frustum", "channel", "tube", "sphere", "cup", "open_wall", "open_corner", "baffled"]
KINDS: tuple[Kind, ...] = get_args(Kind)
_MARGIN_MM = 10.0
_ABOVE_MM = 30.0  # from the highest emitter to the lid
_REACH_MM = 400.0  # of what is lit by reflection
_PARTITION_MM = 1.0


def cavity_around(kind: Kind, emitters: tuple[LooseEmitter, ...]) -> CavityShape:
    """Return a cavity that holds emitters, with sizes rounded up to millimetres.

    A box stands with its corner at the origin; where emitters lie beyond that, a prism over a rectangle takes its place. Emitters
    below z = 0 fit in none: the layout says so.
    """
    places = np.array([(e.x_mm, e.y_mm, e.z_mm) for e in emitters])
    return _sized(kind, places)


def _sized(kind: Kind, places: FloatArray) -> CavityShape:  # noqa: PLR0911  one for each kind
    low, high = places.min(axis=0), places.max(axis=0)
    width, height = (_up(high[i] + max(low[i], 0.0) or 2 * _MARGIN_MM) for i in (0, 1))
    depth = _up(high[2] + _ABOVE_MM)
    across = _up(2.0 * np.hypot(places[:, 0], places[:, 1]).max() + 2.0 * _MARGIN_MM)
    match kind:
        case "box" if low[:2].min() >= 0:
            return BoxShape(width_mm=width, height_mm=height, depth_mm=depth)
        case "box" | "prism":
            return PrismShape(corners_mm=_rectangle(low, high), depth_mm=depth)
        case "frustum":
            return FrustumShape(back_mm=across, lid_mm=_up(1.2 * across), depth_mm=depth)
        case "cup":
            return CupShape(back_mm=across, front_mm=_up(1.1 * across), depth_mm=depth)
        case "sphere":
            return SphereShape(diameter_mm=_up(max(1.6 * across, 1.3 * high[2])), base_mm=across)
        case "channel":
            wide = _up(2.0 * np.abs(places[:, 1]).max() + 2.0 * _MARGIN_MM)
            return ChannelShape(section="rectangle", length_mm=width, width_mm=wide, depth_mm=_up(high[2] + _MARGIN_MM))
        case "tube":
            return _tube(places, width)
        case "open_wall":
            return WallShape(width_mm=width, height_mm=height, reach_mm=_up(high[2] + _REACH_MM))
        case "open_corner":
            return CornerShape(reach_mm=_up(max(high[0], high[2]) + _REACH_MM), height_mm=height)
        case _:
            return _baffled(places, (width, height), depth)


def _up(value: float) -> float:
    return float(np.ceil(value))


def _rectangle(low: FloatArray, high: FloatArray) -> tuple[tuple[float, float], ...]:
    x0, y0 = (float(np.floor(value - _MARGIN_MM)) for value in low[:2])
    x1, y1 = (_up(value + _MARGIN_MM) for value in high[:2])
    return ((x0, y0), (x1, y0), (x1, y1), (x0, y1))


def _tube(places: FloatArray, length_mm: float) -> CavityShape:
    """Stand on z = 0: a place at y and z lies inside when y^2 + z^2 <= z times the diameter."""
    y, z = places[:, 1], np.maximum(places[:, 2], 0.5)
    diameter = _up(max(float(((y**2 + z**2) / z).max()) * 1.05, 1.2 * float(z.max()) + _MARGIN_MM, 3 * _MARGIN_MM))
    return TubeShape(length_mm=length_mm, diameter_mm=diameter)


def _baffled(places: FloatArray, size: tuple[float, float], depth: float) -> CavityShape:
    pitches = [_gap(places[:, axis], size[axis]) for axis in (0, 1)]
    columns, rows = (max(1, min(round(size[axis] / pitches[axis]), 128)) for axis in (0, 1))
    return BaffledShape(
        columns=columns,
        rows=rows,
        pitch_x_mm=size[0] / columns,
        pitch_y_mm=size[1] / rows,
        depth_mm=depth,
        partition_mm=_PARTITION_MM,
        partition_height_mm=depth,
    )


def _gap(values: FloatArray, size: float) -> float:
    """Usual distance between different values."""
    gaps = np.diff(np.unique(np.round(values, 2)))
    return max(float(np.median(gaps)) if len(gaps) else size, 4.0 * _PARTITION_MM)
