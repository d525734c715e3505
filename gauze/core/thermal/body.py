"""The heat balance of one body: what its LEDs turn into heat, and how it gets out through the back, the walls and the lid."""

from dataclasses import dataclass
from typing import Literal

from gauze.core.thermal.convection import (
    ZERO_C_IN_K,
    Facing,
    convection_w_m2_k,
    cylinder_w_m2_k,
    gap_w_m2_k,
    opposite_emissivity,
    radiation_w_m2_k,
    vent_w_k,
)

EMISSIVITY = 0.9  # of paint, plastics, timber and anodised metal; typical, from memory
Stance = Literal["upright", "face_up", "face_down"]
_OF_BACK: dict[Stance, Facing] = {"upright": "upright", "face_up": "down", "face_down": "up"}
_OF_LID: dict[Stance, Facing] = {"upright": "upright", "face_up": "up", "face_down": "down"}
_MOST_RISE_K = 600.0
_NARROWEST_M = 2e-3
_EXACT_K, _FREE_ROUNDS, _ROUNDS = 1e-4, 30, 500


@dataclass(frozen=True)
class Body:
    """One lit body. Areas in m^2, of the outside; lengths in m.

    ``back_m2`` is what the LEDs sit on and what is one with it, where air gets to it from outside; ``inside_m2`` what of it looks
    into the body. ``lid_m2`` gives what comes through the air inside to the room, ``wall_m2`` both. ``gap_m`` is from the back to
    the lid, ``height_m`` what stands upright of it when it does, ``span_m`` an area over its rim. ``back_r`` and ``lid_r`` are
    thickness over conductivity. ``diameter_m`` is that of a round one, else None. ``sink_w_k`` is what a heat sink gives besides.
    ``vent_m2`` is the area of openings low and high, each, ``stack_m`` how far one is above the other.
    """

    watts: float
    back_m2: float
    inside_m2: float
    lid_m2: float
    wall_m2: float
    gap_m: float
    height_m: float
    span_m: float
    back_r: float
    lid_r: float
    diameter_m: float | None = None
    sink_w_k: float = 0.0
    vent_m2: float = 0.0
    stack_m: float = 0.0


@dataclass(frozen=True)
class Warmth:
    """Temperatures of a body in degrees C, in the mean: its back, the outside of it, the air inside, the lid outside.

    ``back_w`` leaves at the back and its walls, ``lid_w`` at the lid, ``vent_w`` with the air; together they are the heat of the
    body.
    """

    back_c: float
    back_outside_c: float
    inside_c: float
    lid_c: float
    back_w: float
    lid_w: float
    vent_w: float = 0.0


def warmth_of(body: Body, ambient_c: float, stance: Stance) -> Warmth:
    """Balance a body in a room.

    Watts leave at the back and its half of the walls, with air through vents, or cross to the lid and leave there and at the
    other half. What each way conducts depends on the temperatures, though little, so both are computed alternately until nothing
    changes.

    Raises
    ------
    ArithmeticError
        When they do not settle.
    """
    room_k = ambient_c + ZERO_C_IN_K
    back_k, outside_k, lid_k = room_k + 20.0, room_k + 15.0, room_k + 5.0
    for turn in range(_ROUNDS):
        through = _through_back_w_k(body, outside_k, room_k, stance)
        by_back = through + _surface_w_k(body, back_k, room_k, "upright", body.wall_m2 / 2.0) + body.sink_w_k
        by_lid = _lid_w_k(body, lid_k, room_k, stance)
        across = _across_w_k(body, back_k, lid_k, stance)
        by_front = across * by_lid / (across + by_lid) if across > 0 else 0.0
        by_vent = _vented_w_k(body, (back_k, lid_k, room_k), stance)
        rise_k = min(body.watts / max(by_back + by_front + by_vent, 1e-9), _MOST_RISE_K)
        lid_rise_k = rise_k * across / (across + by_lid) if across > 0 else 0.0
        moved_k = max(abs(room_k + rise_k - back_k), abs(room_k + lid_rise_k - lid_k))
        step = 1.0 if turn < _FREE_ROUNDS else 0.5  # where they oscillate around the balance
        back_k += step * (room_k + rise_k - back_k)
        lid_k += step * (room_k + lid_rise_k - lid_k)
        outside_k = back_k - (through * rise_k * body.back_r / body.back_m2 if body.back_m2 > 0 else 0.0)
        if moved_k < _EXACT_K:
            break
    else:
        raise ArithmeticError(f"the heat of a body did not settle in {_ROUNDS} rounds")
    return Warmth(
        back_k - ZERO_C_IN_K,
        outside_k - ZERO_C_IN_K,
        (back_k + lid_k) / 2.0 - ZERO_C_IN_K,
        lid_k - ZERO_C_IN_K,
        by_back * rise_k,
        by_lid * lid_rise_k,
        by_vent * rise_k,
    )


def _surface_w_k(body: Body, surface_k: float, room_k: float, facing: Facing, area_m2: float) -> float:
    """Watts per K from an outer surface to the room, by air and by radiation."""
    if area_m2 <= 0.0:
        return 0.0
    if body.diameter_m is not None:
        by_air = cylinder_w_m2_k(surface_k, room_k, body.diameter_m)
    else:
        by_air = convection_w_m2_k(surface_k, room_k, facing, body.height_m if facing == "upright" else body.span_m)
    return area_m2 * (by_air + radiation_w_m2_k(surface_k, room_k, EMISSIVITY))


def _through_back_w_k(body: Body, outside_k: float, room_k: float, stance: Stance) -> float:
    """Watts per K through the back to its outside and on to the room."""
    outside = _surface_w_k(body, outside_k, room_k, _OF_BACK[stance], body.back_m2)
    return 1.0 / (1.0 / outside + body.back_r / body.back_m2) if outside > 0 else 0.0


def _lid_w_k(body: Body, lid_k: float, room_k: float, stance: Stance) -> float:
    """Watts per K from the lid's outside to the room, with half of the walls."""
    walls = _surface_w_k(body, lid_k, room_k, "upright", body.wall_m2 / 2.0)
    return _surface_w_k(body, lid_k, room_k, _OF_LID[stance], body.lid_m2) + walls


def _vented_w_k(body: Body, at_k: tuple[float, float, float], stance: Stance) -> float:
    """Watts per K from the back into the air inside, and out with it: half of the gap's film, then what the air carries."""
    back_k, lid_k, room_k = at_k
    if body.vent_m2 <= 0.0 or body.stack_m <= 0.0 or body.inside_m2 <= 0.0:
        return 0.0
    carried = vent_w_k((back_k + lid_k) / 2.0, room_k, body.vent_m2, body.stack_m)
    gap_m = max(body.gap_m, _NARROWEST_M)
    into_air = 2.0 * gap_w_m2_k(back_k, lid_k, gap_m, body.height_m, _OF_LID[stance]) * body.inside_m2
    return 1.0 / (1.0 / into_air + 1.0 / carried) if carried > 0.0 else 0.0


def _across_w_k(body: Body, back_k: float, lid_k: float, stance: Stance) -> float:
    """Watts per K from the back through the air inside, by radiation, and through the lid to its outside."""
    if body.inside_m2 <= 0.0 or body.lid_m2 <= 0.0:
        return 0.0
    by_air = gap_w_m2_k(back_k, lid_k, max(body.gap_m, _NARROWEST_M), body.height_m, _OF_LID[stance])
    by_radiation = radiation_w_m2_k(back_k, lid_k, opposite_emissivity(EMISSIVITY, EMISSIVITY))
    area = (body.inside_m2 + body.lid_m2) / 2.0
    return 1.0 / (1.0 / (area * (by_air + by_radiation)) + body.lid_r / body.lid_m2)
