"""Modules in space: every chip or pixel in its place."""

from collections.abc import Sequence

import numpy as np

from gauze.core.design.build import ModuleChoice
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import Source, channel_of
from gauze.core.materials import Module, StripChannel


def board_places_mm(module: Module) -> FloatArray:
    """Places of the emitters about the board's middle, shape (columns * rows, 2), row by row from below."""
    x = (np.arange(module.columns) - (module.columns - 1) / 2.0) * module.pitch_mm
    y = (np.arange(module.rows) - (module.rows - 1) / 2.0) * module.pitch_mm
    return np.stack([grid.ravel() for grid in np.meshgrid(x, y)], axis=1)


def module_sources(
    module: Module,
    choice: ModuleChoice,
    places_mm: FloatArray,
    axes: FloatArray,
    shares: Sequence[FloatArray] | None = None,
) -> list[Source]:
    """Return emitters of all channels at places (n, 3), looking along axes (n, 3).

    They lie on one module, or on several one after the other. ``shares`` are how far each emitter is lit in each channel, from 0
    to 1; all in full where it is left out.
    """
    levels = choice.levels_for(module)
    which, each = np.arange(len(places_mm)), module.emitters
    found = []
    for index, channel in enumerate(module.channel):
        source = StripChannel(
            name=channel.name,
            power_w_per_m=0.0,
            flux_lm_per_m=0.0,
            cct_k=channel.cct_k,
            peak_nm=channel.peak_nm,
            width_nm=channel.width_nm,
        )
        flux = np.full(len(places_mm), levels[index] * channel.flux_lm / module.emitters)
        if shares is not None:
            flux = flux * shares[index]
        own = channel_of(source, 0, index, levels[index], choice.cct_k)
        found.append(Source(own, places_mm, axes, flux, module.half_angle_deg, which // each, which % each))
    return found
