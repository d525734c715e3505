"""Emitters whose light on a face is sharper than its pixels, drawn as sharp as the pixels can hold.

A pixel is one sample. Light that changes within it would be hit or missed: the map would hold a multiple of the flux, or a
part. An emitter nearer to the face than ``CLEARANCE_PIXELS`` is therefore taken as standing off so far, and a beam narrower than
a pixel as being as wide: the flux on the face stays, and the spot is spread over a few pixels. How many were changed is reported.
"""

from dataclasses import replace

import numpy as np

from gauze.core.layout.families.tiles import Tile
from gauze.core.layout.model import FloatArray
from gauze.core.optics.cavity.emitters import Emitters

# Samples a pixel apart of the light of a cosine emitter at d pixels miss its flux by about 4 x 2 pi d K1(2 pi d): 0.2 % here
CLEARANCE_PIXELS = 1.5
_STEP_MM = 1e-3
_ASIDE = 0.3  # cosine of an emitter's axis to the way inwards, up to which it lights much of what is close to it


def resolved(tile: Tile, emitters: Emitters, step_mm: float) -> tuple[Emitters, int]:
    """Return the emitters as pixels of a width can show their light on a tile, and how many of them had to be changed.

    Emitters that look away from the tile, or lie behind it, stay as they are.
    """
    clearance = tile.clearance_mm(emitters.places_mm)
    least = CLEARANCE_PIXELS * step_mm
    # cos^m falls like a Gaussian of width 1 / sqrt(m): on a face at a distance d it is d / sqrt(m) wide
    sharpest = (np.maximum(clearance, least) / step_mm) ** 2
    lit = emitters.flux_lm.any(axis=1)
    near = np.flatnonzero(lit & (clearance < least) & (clearance > -_STEP_MM))
    away = _inwards(tile, emitters.places_mm[near])
    facing = (emitters.axes[near] * away).sum(axis=1) < _ASIDE  # what looks away does not light what is under it
    near, away = near[facing], away[facing]
    narrow = np.flatnonzero(lit & (emitters.power > sharpest))
    if not len(near) and not len(narrow):
        return emitters, 0
    places, power = emitters.places_mm.copy(), emitters.power.copy()
    places[near] += (least - clearance[near])[:, None] * away
    power[narrow] = sharpest[narrow]
    return replace(emitters, places_mm=places, power=power), len(np.union1d(near, narrow))


def _inwards(tile: Tile, places: FloatArray) -> FloatArray:
    """Unit vectors away from a tile's surface: the gradient of the distance from it."""
    slope = np.empty_like(places)
    for axis in range(3):
        step = np.zeros(3)
        step[axis] = _STEP_MM
        slope[:, axis] = tile.clearance_mm(places + step) - tile.clearance_mm(places - step)
    length = np.linalg.norm(slope, axis=1, keepdims=True)
    return np.asarray(slope / np.maximum(length, 1e-12))
