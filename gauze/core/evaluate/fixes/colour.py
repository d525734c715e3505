"""The levels of the channels at which the whole has the wanted white."""

import itertools
from collections.abc import Sequence

import msgspec
import numpy as np

from gauze.core.design import Design, StripChoice
from gauze.core.design.build import FamilyBuild
from gauze.core.evaluate.finding import Fix
from gauze.core.evaluate.fixes.trial import Trial
from gauze.core.evaluate.light import BoxFaceLight, CavityFaceLight
from gauze.core.evaluate.light.one_cavity import xyz_per_lumen
from gauze.core.optics.colour import levels_for_white
from gauze.core.words import Fixed, Joined, Percent, say

NEUTRAL_K = 6500.0  # near the white of CIE D65, and of screens


def _wanted_k(trial: Trial) -> float:
    """The white that is asked for; a neutral one where none is."""
    return trial.design.purpose.wanted_cct_k or NEUTRAL_K


def levels_for_wanted_white(trial: Trial) -> Fix | None:
    """Set every channel so that the mixture has the wanted colour temperature, as bright as that goes."""
    wanted_k = _wanted_k(trial)
    attempt = trial.attempt(trial.changed(strips=tuple(_all_full(choice) for choice in trial.design.panel.strips)))
    if attempt is None or not isinstance(attempt.light, BoxFaceLight):
        return None
    full = attempt.light
    if len(full.layout.emitters) < 2:
        return None
    light = full.face.light
    reaching = [share.flux_lm * light.grids[share.grid_index].lid_share for share in light.shares]
    levels = levels_for_white(np.array(reaching)[:, None] * full.face.xyz_per_lumen, wanted_k)
    if levels is None:
        return None
    strips = list(trial.design.panel.strips)
    for index, choice in enumerate(strips):
        own = [
            round(float(level), 3)
            for level, emitters in zip(levels, full.layout.emitters, strict=True)
            if emitters.channel.strip_index == index
        ]
        if own:
            strips[index] = msgspec.structs.replace(choice, levels=tuple(own))
    evaluation = trial.attempt(trial.changed(strips=tuple(strips)))
    if evaluation is None:
        return None
    shown = Joined.of([Percent(level) for level in levels])
    return trial.fix(say("Levels for {wanted} K: {shown}", wanted=Fixed(wanted_k, ".0f"), shown=shown), evaluation)


def flux_for_wanted_white(trial: Trial) -> Fix | None:
    """Dim two or three colours of loose emitters so that what reaches the sheet has the wanted colour temperature."""
    wanted_k, build, now = _wanted_k(trial), trial.design.loose, trial.now.light
    if not isinstance(now, CavityFaceLight):
        return None
    basis, reaching = now.face.basis_xyz, now.face.light.lid_flux_lm
    if not 2 <= len(now.channels) <= len(basis):  # of more than three colours the flux is no longer kept apart
        return None
    levels = levels_for_white(reaching[:, None] * basis, wanted_k)
    if levels is None:
        return None
    away = np.abs(xyz_per_lumen(now.layout)[:, None, :] - basis[None]).sum(axis=2)
    emitters = tuple(
        msgspec.structs.replace(emitter, flux_lm=round(emitter.flux_lm * float(levels[which]), 3))
        for emitter, which in zip(build.emitters, away.argmin(axis=1), strict=True)
    )
    evaluation = trial.attempt(trial.changed(emitters=emitters))
    if evaluation is None:
        return None
    shown = Joined.of([Percent(level) for level in levels])
    return trial.fix(
        say("Flux of the colours for {wanted} K: {shown}", wanted=Fixed(wanted_k, ".0f"), shown=shown), evaluation
    )


def levels_of_lamps(trial: Trial) -> Fix | None:
    """Set the channels of the strips or the module of a build so that their mixture has the wanted colour temperature.

    All channels of a build share their places or stand alike, so that their flux is in the proportion that reaches the sheet.
    """
    wanted_k, build = _wanted_k(trial), trial.design.build_as(FamilyBuild)
    counts = [len(trial.catalogue.strip(choice.strip).channel) for choice in build.strips]
    if build.module is not None:
        counts.append(len(trial.catalogue.module(build.module.module).channel))
    full = trial.attempt(_with_levels(trial, build, [()] * len(counts)))
    if full is None or len(full.channels) != sum(counts) or sum(counts) < 2:
        return None
    reaching = np.array([channel.flux_lm * channel.xyz_per_lumen for channel in full.channels])
    levels = levels_for_white(reaching, wanted_k)
    if levels is None:
        return None
    rounded = [round(float(level), 3) for level in levels]
    starts = np.cumsum([0, *counts])
    own = [tuple(rounded[first:last]) for first, last in itertools.pairwise(starts.tolist())]
    evaluation = trial.attempt(_with_levels(trial, build, own))
    if evaluation is None:
        return None
    shown = Joined.of([Percent(level) for level in levels])
    return trial.fix(say("Levels for {wanted} K: {shown}", wanted=Fixed(wanted_k, ".0f"), shown=shown), evaluation)


def _with_levels(trial: Trial, build: FamilyBuild, levels: Sequence[tuple[float, ...]]) -> Design:
    """Return the design with levels for each strip, and for the module after them."""
    strips = tuple(
        msgspec.structs.replace(choice, levels=own) for choice, own in zip(build.strips, levels, strict=False)
    )
    module = None if build.module is None else msgspec.structs.replace(build.module, levels=levels[-1])
    return trial.changed(strips=strips, module=module)


def _all_full(choice: StripChoice) -> StripChoice:
    return msgspec.structs.replace(choice, levels=())
