"""The shadow that a block on the back of a cavity throws on its lid."""

import numpy as np

from gauze.core.layout.model import BoolArray, FloatArray
from gauze.core.optics.cavity.emitters import per_lumen
from gauze.core.optics.cavity.face import CavityFace

_MOST_PLACES = 500
_NEAR = 3.0  # depths about the block within which its shadow is looked for


def shadow_share(face: CavityFace, low_mm: FloatArray, high_mm: FloatArray) -> float:
    """Largest share of the light on the lid, of any place, that an upright block from one corner to the other takes away.

    The straight way from an LED to the place is blocked or it is not; bounced light is taken as it is without the block, which is
    good for one that is small beside the cavity. 0 where nothing is lit.
    """
    chart, emitters = face.chart, face.light.emitters
    middle = (low_mm + high_mm)[:2] / 2.0
    depth = float(chart.places_mm[:, 2].max())
    near = np.flatnonzero(np.hypot(*(chart.places_mm[:, :2] - middle).T) < _NEAR * depth + np.ptp([low_mm, high_mm]))
    if not len(near):
        return 0.0
    near = near[:: -(-len(near) // _MOST_PLACES)]
    places, normals = chart.places_mm[near], chart.normals[near]
    place, lamp = np.nonzero(blocked_by_block(emitters.places_mm, places, low_mm, high_mm))
    away = places[place] - emitters.places_mm[lamp]
    squared = np.maximum(np.einsum("nk,nk->n", away, away), 1e-6)
    leaving = np.maximum(np.einsum("nk,nk->n", away, emitters.axes[lamp]), 0.0)
    arriving = np.maximum(-np.einsum("nk,nk->n", away, normals[place]), 0.0)
    flux_lm = emitters.flux_lm @ face.basis_xyz[:, 1]
    each = per_lumen(leaving, arriving, squared, emitters.power[lamp]) * flux_lm[lamp]
    lost = np.bincount(place, each, len(near))
    whole = (face.direct[near] + face.bounced[near]) @ face.basis_xyz[:, 1]
    lit = whole > 0
    return float(np.clip(lost[lit] / whole[lit], 0.0, 1.0).max()) if lit.any() else 0.0


def blocked_by_block(starts: FloatArray, ends: FloatArray, low: FloatArray, high: FloatArray) -> BoolArray:
    """Which straight ways, from each start (n, 3) to each end (m, 3), pass through an upright block; shape (m, n)."""
    enters, leaves = np.full((2, len(ends), len(starts)), [[[-np.inf]], [[np.inf]]])
    for start, end, least, most in zip(starts.T, ends.T, low, high, strict=True):  # axis by axis
        way = end[:, None] - start[None, :]
        slower = 1.0 / np.where(np.abs(way) < 1e-12, 1e-12, way)
        one, other = (least - start) * slower, (most - start) * slower
        np.maximum(enters, np.minimum(one, other), out=enters)
        np.minimum(leaves, np.maximum(one, other), out=leaves)
    return np.asarray((enters < leaves) & (leaves > 1e-9) & (enters < 1.0 - 1e-9))
