"""A layout with the light that its pieces really give; the same layout where all give what their labels say."""

from collections.abc import Iterable
from dataclasses import replace

import numpy as np

from gauze.core.layout import BuiltLayout, Layout, PanelLayout, StripPiece
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.model import EmitterSet, FloatArray
from gauze.core.layout.pixel_display import DisplayLayout
from gauze.core.parts.flux import FluxFactors


def dimmed(layout: BuiltLayout, factors: FluxFactors) -> BuiltLayout:
    """Return a layout whose emitters give their flux times the factor of their segment and channel.

    Copies of a unit whose factors differ become units of their own; those that are alike stay one.
    """
    if not factors:
        return layout
    if layout.instances:
        return _dimmed_instances(layout, factors)
    pieces = [(piece.id, 0) for piece in layout.pieces] or [(f"emitter-{n}", 0) for n in layout.emitter_numbers]
    changed = replace(layout, units=(_dimmed_unit(layout.unit, pieces, factors),), emitted_lm=_emitted(layout, factors))
    if isinstance(changed, PanelLayout):
        return replace(changed, panel=_dimmed_rows(changed.panel, factors, pieces))
    if not isinstance(changed, DisplayLayout):
        return changed
    return replace(
        changed,
        panel=None if changed.panel is None else _dimmed_rows(changed.panel, factors, pieces),
        shown_panel=None if changed.shown_panel is None else _dimmed_rows(changed.shown_panel, factors, pieces),
        shown_unit=None if changed.shown_unit is None else _dimmed_unit(changed.shown_unit, pieces, factors),
    )


def _dimmed_rows(layout: Layout, factors: FluxFactors, pieces: list[tuple[str, int]]) -> Layout:
    return replace(layout, emitters=tuple(_dimmed_set(emitters, pieces, factors) for emitters in layout.emitters))


def _dimmed_set(emitters: EmitterSet, pieces: list[tuple[str, int]], factors: FluxFactors) -> EmitterSet:
    channel = np.full(len(emitters.piece), emitters.channel.channel_index)
    found = factors.of_emitters(pieces, emitters.piece, emitters.segment, channel)
    return emitters if found is None else replace(emitters, flux_lm=emitters.flux_lm * found)


def _unit_factors(unit: CavityLayout, pieces: list[tuple[str, int]], factors: FluxFactors) -> FloatArray | None:
    count = unit.emitter_count
    piece = np.arange(count) if unit.piece is None else unit.piece
    segment = np.zeros(count, int) if unit.segment is None else unit.segment
    of_channel = np.array([channel.channel_index for channel in unit.channels] or [0])
    channel = np.zeros(count, int) if unit.channel is None else of_channel[unit.channel]
    return factors.of_emitters(pieces, piece, segment, channel)


def _dimmed_unit(unit: CavityLayout, pieces: list[tuple[str, int]], factors: FluxFactors) -> CavityLayout:
    found = _unit_factors(unit, pieces, factors)
    return unit if found is None else replace(unit, flux_lm=unit.flux_lm * found)


def _dimmed_instances(layout: BuiltLayout, factors: FluxFactors) -> BuiltLayout:
    units: list[CavityLayout] = []
    known: dict[tuple[int, bytes], int] = {}
    instances = []
    for instance in layout.instances:
        unit = layout.units[instance.unit]
        found = _unit_factors(unit, list(instance.pieces), factors)
        key = (instance.unit, b"" if found is None else found.tobytes())
        if key not in known:
            known[key] = len(units)
            units.append(unit if found is None else replace(unit, flux_lm=unit.flux_lm * found))
        instances.append(replace(instance, unit=known[key]))
    return replace(layout, units=tuple(units), instances=tuple(instances), emitted_lm=_emitted(layout, factors))


def _emitted(layout: BuiltLayout, factors: FluxFactors) -> float | None:
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
