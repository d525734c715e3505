"""Units of one geometry whose LEDs differ in strength, as along a line that drops: lit by a few patterns, and added up.

Light adds. A few units are lit side by side, their own strengths being the patterns. Along the strips of many the strengths
change smoothly, so those of each unit are a sum of a few patterns (straight lines between knots along the strips, for each
colour), and its light is the sum of theirs. A unit of which that is not so to within ``_MISSED`` is lit by itself.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.errors import Pause
from gauze.core.evaluate.light.face_light import Detail
from gauze.core.evaluate.light.one_cavity import light_columns, light_one_cavity, tables_of, xyz_per_lumen
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.materials import Catalogue, Layer
from gauze.core.optics.cavity.emitters import Emitters
from gauze.core.optics.cavity.face import CavityFace, colour_columns
from gauze.core.optics.cavity.light import CavityLight
from gauze.core.optics.kernel.parallel import beside

_PATTERNS = 3  # as many columns as the light carries at once
_MISSED = 0.01  # of a unit's brightest LED, by which its patterns may miss any of its LEDs
_MOST_COLUMNS = 3


def light_units(
    cavities: Sequence[CavityLayout], layers: tuple[Layer, ...], catalogue: Catalogue, detail: Detail, pause: Pause
) -> tuple[CavityFace, ...]:
    """Light every unit; raises :class:`gauze.core.errors.Cancelled` by ``pause()``."""
    alike: dict[int, list[int]] = {}
    for index, cavity in enumerate(cavities):
        alike.setdefault(id(cavity.places_mm), []).append(index)

    def light(members: list[int]) -> dict[int, CavityFace]:
        """All of one geometry."""
        found: dict[int, CavityFace] = {}
        if len(members) > 1:
            found = _added_up([cavities[index] for index in members], members, layers, catalogue, detail, pause)
        alone = (index for index in members if index not in found)
        return found | {index: light_one_cavity(cavities[index], layers, catalogue, detail, pause) for index in alone}

    faces: dict[int, CavityFace] = {}
    for some in beside(light, list(alike.values())):
        faces |= some
    return tuple(faces[index] for index in range(len(cavities)))


@dataclass(frozen=True)
class _Mixture:
    """Patterns (patterns, emitters), and how much of each is in every unit: weights (units, patterns, columns)."""

    patterns: FloatArray
    weights: FloatArray
    missed: FloatArray  # (units,)


def _added_up(
    units: list[CavityLayout],
    numbers: list[int],
    layers: tuple[Layer, ...],
    catalogue: Catalogue,
    detail: Detail,
    pause: Pause,
) -> dict[int, CavityFace]:
    """The faces of those units that their patterns describe, by their numbers."""
    first = units[0]
    full = np.max([unit.flux_lm for unit in units], axis=0)
    columns, basis = colour_columns(full, xyz_per_lumen(first))
    column = _column_of(columns)
    if column is None or not full.any():
        return {}
    mixture = _mixture(units, full, column, len(basis))
    good = np.flatnonzero(mixture.missed <= _MISSED)
    if len(good) < min(_PATTERNS, len(units)):
        return {}
    lit = _Lit(first, full, mixture.patterns, column, len(basis))
    faces = lit.faces(layers, catalogue, detail, pause)
    if any(face.chart.inside.shape != faces[0].chart.inside.shape for face in faces):
        return {}
    found = {}
    for index in good:
        pause()
        flux = np.zeros_like(columns)
        flux[np.arange(len(full)), column] = units[index].flux_lm
        found[numbers[index]] = _sum(faces, mixture.weights[index], flux, basis, lit.emitters)
    return found


class _Lit:
    """The patterns of every colour, lit."""

    def __init__(
        self, unit: CavityLayout, full: FloatArray, patterns: FloatArray, column: IndexArray, colours: int
    ) -> None:
        self._unit, self._full, self._patterns, self._column, self._colours = unit, full, patterns, column, colours
        kinds = unit.distribution, tables_of(unit), unit.emitter_size_mm
        self.emitters = Emitters(unit.places_mm, unit.axes, unit.power, full[:, None], *kinds)

    def faces(self, layers: tuple[Layer, ...], catalogue: Catalogue, detail: Detail, pause: Pause) -> list[CavityFace]:
        """For every colour a face with a column for each pattern; colours that share their places differ in strength only.

        One that gives no light anywhere, as green and blue at the far end of a long line, is another's at nothing.
        """
        found: list[CavityFace | None] = []
        known: list[tuple[FloatArray, CavityFace]] = []  # places with flux, of one lumen in all
        for colour in range(self._colours):
            own = np.flatnonzero((self._column == colour) & (self._full > 0))
            if not len(own):
                found.append(None)
                continue
            total = float(self._full[own].sum())
            key = np.column_stack([self._unit.places_mm[own], self._full[own] / total])
            face = next((one for places, one in known if places.shape == key.shape and np.allclose(places, key)), None)
            if face is None:
                columns = (self._patterns[:, own] * self._full[own] / total).T
                face = light_columns(_part(self._unit, own), columns, layers, catalogue, detail, pause)
                known.append((key, face))
            found.append(_times(face, total))
        return [_times(known[0][1], 0.0) if face is None else face for face in found]


def _part(unit: CavityLayout, chosen: IndexArray) -> CavityLayout:
    return replace(
        unit,
        places_mm=unit.places_mm[chosen],
        axes=unit.axes[chosen],
        power=unit.power[chosen],
        flux_lm=unit.flux_lm[chosen],
        cct_k=unit.cct_k[chosen],
        cie_xy=unit.cie_xy[chosen],
        distribution=unit.distribution[chosen],
        channels=(),
        channel=None,
    )


def _times(face: CavityFace, factor: float) -> CavityFace:
    light = face.light
    assert isinstance(light, CavityLight)
    brighter = replace(
        light,
        bounced_at_knots=light.bounced_at_knots * factor,
        lid_flux_lm=light.lid_flux_lm * factor,
        direct_flux_lm=light.direct_flux_lm * factor,
        open_flux_lm=light.open_flux_lm * factor,
    )
    return replace(
        face,
        light=brighter,
        direct=face.direct * factor,
        bounced=face.bounced * factor,
        luminance=face.luminance * factor,
    )


def _column_of(columns: FloatArray) -> IndexArray | None:
    """In which column each emitter's colour stands; None where colours are mixed in all of them, as many are."""
    if columns.shape[1] > _MOST_COLUMNS or (np.count_nonzero(columns, axis=1) > 1).any():
        return None
    return np.asarray(columns.argmax(axis=1))


def _mixture(units: list[CavityLayout], full: FloatArray, column: IndexArray, colours: int) -> _Mixture:
    lit = full > 0
    share = np.array([np.where(lit, unit.flux_lm / np.where(lit, full, 1.0), 0.0) for unit in units])
    if len(units) <= _PATTERNS:
        each = np.repeat(np.eye(len(units))[:, :, None], colours, axis=2)
        return _Mixture(share, each, np.zeros(len(units)))
    patterns = _hats(units[0])
    weights = np.zeros((len(units), _PATTERNS, colours))
    missed = np.zeros(len(units))
    for colour in range(colours):
        own = lit & (column == colour)
        if own.any():
            some, *_ = np.linalg.lstsq(patterns[:, own].T, share[:, own].T, rcond=None)
            some = np.maximum(some, 0.0)
            weights[:, :, colour] = some.T
            missed = np.maximum(missed, np.abs(some.T @ patterns[:, own] - share[:, own]).max(axis=1))
    return _Mixture(patterns, weights, missed / np.maximum(share.max(axis=1), 1e-9))


def _hats(unit: CavityLayout) -> FloatArray:
    """Straight lines between knots along the strips, piece after piece: each 1 at its knot; shape (patterns, emitters)."""
    piece = np.zeros(unit.emitter_count, int) if unit.piece is None else unit.piece
    segment = np.arange(unit.emitter_count) if unit.segment is None else unit.segment
    _, rank = np.unique(np.stack([piece, segment]), axis=1, return_inverse=True)
    along = rank.ravel() / max(float(rank.max()), 1.0) * (_PATTERNS - 1)
    return np.maximum(1.0 - np.abs(along - np.arange(_PATTERNS)[:, None]), 0.0)


def _sum(
    faces: list[CavityFace], weights: FloatArray, flux_lm: FloatArray, basis_xyz: FloatArray, emitters: Emitters
) -> CavityFace:
    """The face of a unit: of every colour its patterns, each times its weight; ``weights`` (patterns, colours)."""
    first = faces[0]
    lights = [face.light for face in faces if isinstance(face.light, CavityLight)]
    own = replace(emitters, flux_lm=flux_lm)

    def added(parts: list[FloatArray]) -> FloatArray:
        return np.stack([part @ weights[:, colour] for colour, part in enumerate(parts)], axis=-1)

    light = replace(
        lights[0],
        emitters=own,
        sources=own,
        bounced_at_knots=added([one.bounced_at_knots for one in lights]),
        lid_flux_lm=added([one.lid_flux_lm for one in lights]),
        direct_flux_lm=added([one.direct_flux_lm for one in lights]),
        open_flux_lm=added([one.open_flux_lm for one in lights]),
        balance_error=max(one.balance_error for one in lights),
        corrected=max(one.corrected for one in lights),
    )
    return replace(
        first,
        light=light,
        basis_xyz=basis_xyz,
        direct=added([face.direct for face in faces]),
        bounced=added([face.bounced for face in faces]),
        luminance=added([face.luminance for face in faces]),
        unresolved=max(face.unresolved for face in faces),
    )
