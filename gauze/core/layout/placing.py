"""From the frame of a cavity to the plan and back, where there are several side by side."""

import math
from dataclasses import replace

import numpy as np

from gauze.core.layout.built import Instance, Layout
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.model import BoolArray, FloatArray

_ON_EDGE_MM = 1e-6
_NO_SIDE_MM = 1e-12  # two corners at one place: no side that anything could lie beyond


def turn_of(instance: Instance) -> FloatArray:
    """Matrix that brings a row vector of the plan into a unit's frame; its transpose brings it back."""
    cosine, sine = math.cos(math.radians(instance.turn_deg)), math.sin(math.radians(instance.turn_deg))
    return np.array([[cosine, -sine, 0.0], [sine, cosine, 0.0], [0.0, 0.0, 1.0]])


def in_plan(instance: Instance, points: FloatArray) -> FloatArray:
    """Points (n, 2) of a unit's frame, where they stand in the plan."""
    return np.asarray(points @ turn_of(instance)[:2, :2].T + np.array([instance.x_mm, instance.y_mm]))


def within(points: FloatArray, polygon: FloatArray) -> BoolArray:
    """Which points (n, 2) lie in a convex polygon whose corners run counter-clockwise."""
    sides = np.roll(polygon, -1, axis=0) - polygon
    inwards = np.stack([-sides[:, 1], sides[:, 0]], axis=1) / np.maximum(np.hypot(*sides.T), _NO_SIDE_MM)[:, None]
    rim = (inwards * polygon).sum(axis=1)
    return np.asarray((inwards @ points.T >= (rim - _ON_EDGE_MM)[:, None]).all(axis=0))


def placed_cavities(layout: Layout) -> list[CavityLayout]:
    """Every cavity with its emitters at their places in the plan; of a clipped one only those that are its own."""
    if not layout.instances:
        return [layout.cavity]
    found = []
    for instance in layout.instances:
        cavity, turn = layout.cavities[instance.cavity], turn_of(instance)
        mine = slice(None) if instance.clip_mm is None else within(cavity.places_mm[:, :2], instance.clip_mm)
        found.append(
            replace(
                cavity,
                places_mm=cavity.places_mm[mine] @ turn.T + np.array([instance.x_mm, instance.y_mm, 0.0]),
                axes=cavity.axes[mine] @ turn.T,
                power=cavity.power[mine],
                flux_lm=cavity.flux_lm[mine],
                cct_k=cavity.cct_k[mine],
                cie_xy=cavity.cie_xy[mine],
                distribution=cavity.distribution[mine],
                channel=None if cavity.channel is None else cavity.channel[mine],
            )
        )
    return found
