"""A layout with the light that its pieces really give; the same layout where all give what their labels say."""

from collections.abc import Iterable
from dataclasses import replace

import numpy as np

from gauze.core.layout import Layout, RowLayout, StripPiece
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.model import EmitterSet, FloatArray
from gauze.core.parts.flux import FluxFactors

_HARDLY = 0.005  # of the mean, by which factors within a unit differ unseen


def dimmed(layout: Layout, factors: FluxFactors) -> Layout:
    """Return a layout whose emitters give their flux times the factor of their segment and channel.

    Copies of a unit whose factors differ become units of their own; those that are alike stay one.
    """
    if not factors:
        return layout
    if layout.instances:
        return _dimmed_instances(layout, factors)
    pieces = [(piece.id, 0) for piece in layout.pieces] or [(f"emitter-{n}", 0) for n in layout.emitter_numbers]
    changed = layout.with_light(
        lambda rows: _dimmed_rows(rows, factors, pieces), lambda cavity: _dimmed_cavity(cavity, pieces, factors)
    )
    return replace(changed, emitted_lm=_emitted(layout, factors))


def _dimmed_rows(layout: RowLayout, factors: FluxFactors, pieces: list[tuple[str, int]]) -> RowLayout:
    return replace(layout, emitters=tuple(_dimmed_set(emitters, pieces, factors) for emitters in layout.emitters))


def _dimmed_set(emitters: EmitterSet, pieces: list[tuple[str, int]], factors: FluxFactors) -> EmitterSet:
    channel = np.full(len(emitters.piece), emitters.channel.channel_index)
    found = factors.of_emitters(pieces, emitters.piece, emitters.segment, channel)
    return emitters if found is None else replace(emitters, flux_lm=emitters.flux_lm * found)


def _cavity_factors(cavity: CavityLayout, pieces: list[tuple[str, int]], factors: FluxFactors) -> FloatArray | None:
    count = cavity.emitter_count
    piece = np.arange(count) if cavity.piece is None else cavity.piece
    segment = np.zeros(count, int) if cavity.segment is None else cavity.segment
    of_channel = np.array([channel.channel_index for channel in cavity.channels] or [0])
    channel = np.zeros(count, int) if cavity.channel is None else of_channel[cavity.channel]
    return factors.of_emitters(pieces, piece, segment, channel)


def _dimmed_cavity(cavity: CavityLayout, pieces: list[tuple[str, int]], factors: FluxFactors) -> CavityLayout:
    found = _cavity_factors(cavity, pieces, factors)
    return cavity if found is None else replace(cavity, flux_lm=cavity.flux_lm * found)


def _dimmed_instances(layout: Layout, factors: FluxFactors) -> Layout:
    cavities: list[CavityLayout] = []
    known: dict[tuple[int, bytes], int] = {}
    instances = []
    for instance in layout.instances:
        cavity = layout.cavities[instance.cavity]
        found = _as_one(_cavity_factors(cavity, list(instance.pieces), factors), cavity)
        key = (instance.cavity, b"" if found is None else found.tobytes())
        if key not in known:
            known[key] = len(cavities)
            cavities.append(cavity if found is None else replace(cavity, flux_lm=cavity.flux_lm * found))
        instances.append(replace(instance, cavity=known[key]))
    return replace(layout, cavities=tuple(cavities), instances=tuple(instances), emitted_lm=_emitted(layout, factors))


def _as_one(factors: FloatArray | None, cavity: CavityLayout) -> FloatArray | None:
    """The mean for every channel of a unit within which they hardly differ: such units differ in strength only."""
    if factors is None:
        return None
    channel = np.zeros(len(factors), int) if cavity.channel is None else cavity.channel
    count = np.bincount(channel)
    mean = (np.bincount(channel, factors) / np.maximum(count, 1))[channel]
    return mean if np.abs(factors - mean).max() <= _HARDLY * max(float(mean.max()), 1e-9) else factors


def _emitted(layout: Layout, factors: FluxFactors) -> float | None:
    """What all LEDs give, where the units do not say."""
    if layout.emitted_lm is None:
        return None
    before = sum(_flux_lm(layout.strips, None))
    return layout.emitted_lm * sum(_flux_lm(layout.strips, factors)) / before if before > 0 else layout.emitted_lm


def _flux_lm(pieces: Iterable[StripPiece], factors: FluxFactors | None) -> Iterable[float]:
    for piece in pieces:
        if not piece.lit:
            continue
        for index, (level, channel) in enumerate(
            zip(piece.choice.levels_for(piece.strip), piece.strip.channel, strict=True)
        ):
            whole = level * channel.flux_lm_per_m * piece.length_mm / 1000.0
            segments = np.arange(piece.segments)
            found = None if factors is None else factors.of(piece.id, segments, np.full(len(segments), index))
            yield whole if found is None else whole * float(found.mean())
