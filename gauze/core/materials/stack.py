"""Diffusing layers laid on each other, as one: what a face is closed with."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from gauze.core.materials.diffuser import Diffuser

_LIKE = 0.03  # lobes whose widths differ by less than this, relatively, are one


@dataclass(frozen=True)
class Lobe:
    """A Gaussian scattering lobe: its share of the incident light, its width in direction cosines."""

    transmittance: float
    sigma: float


@dataclass(frozen=True)
class Stack:
    """One or more layers, the inner one first; all shares are of the incident light.

    ``diffuse`` + the lobes + ``regular`` is ``transmittance``. ``reflectance`` is that of the inner side,
    ``outer_reflectance`` what a room's light meets. ``spread`` is the relative uncertainty of the transmittance.
    """

    layers: tuple[Diffuser, ...]
    transmittance: float
    reflectance: float
    outer_reflectance: float
    diffuse: float
    lobes: tuple[Lobe, ...]
    regular: float

    @property
    def name(self) -> str:
        """Names of the layers, the inner one first."""
        return " + ".join(layer.name for layer in self.layers) or "Matt wall"

    @property
    def source(self) -> str:
        """Where the inner layer's figures are from; empty for a wall."""
        return self.layers[0].source if self.layers else ""

    @property
    def thickness_mm(self) -> float:
        """Thickness of all layers."""
        return sum(layer.thickness_mm for layer in self.layers)

    @property
    def sideways_spread_mm(self) -> float:
        """Standard deviation of the place where light leaves: variances of the layers add."""
        return math.hypot(*(layer.sideways_spread_mm for layer in self.layers))

    @property
    def spread(self) -> float:
        """Relative uncertainty: those of the layers add as independent ones do."""
        return math.hypot(*(layer.spread for layer in self.layers))


def stacked(layers: Sequence[Diffuser]) -> Stack:
    """Lay layers on each other, the inner one first.

    Light is reflected back and forth between two layers: tau = tau1 tau2 / (1 - rho1 rho2) and
    rho = rho1 + tau1^2 rho2 / (1 - rho1 rho2) (adding method, for layers that are alike on both sides). Light that
    passes both without being reflected keeps its kind: regular stays regular, a lobe after a lobe is a lobe of the
    summed variance. Light that was reflected between them, or passed a diffuse part, is diffuse.

    Raises
    ------
    ValueError
        Without a layer.
    CatalogueError
        When a layer's haze cannot be met.
    """
    if not layers:
        raise ValueError("a stack has at least one layer")
    stack = _single(layers[0])
    for layer in layers[1:]:
        stack = _join(stack, _single(layer))
    return stack


def _single(layer: Diffuser) -> Stack:
    split = layer.split()
    lobes = (Lobe(split.lobe, layer.lobe_sigma),) if split.lobe > 0 else ()
    return Stack(
        (layer,), layer.transmittance, layer.reflectance, layer.reflectance, split.diffuse, lobes, split.regular
    )


def _join(inner: Stack, outer: Stack) -> Stack:
    turns = 1.0 - inner.outer_reflectance * outer.reflectance
    transmittance = inner.transmittance * outer.transmittance / turns
    lobes = [
        Lobe(a.transmittance * b.transmittance, math.hypot(a.sigma, b.sigma)) for a in inner.lobes for b in outer.lobes
    ]
    lobes += [Lobe(lobe.transmittance * outer.regular, lobe.sigma) for lobe in inner.lobes]
    lobes += [Lobe(lobe.transmittance * inner.regular, lobe.sigma) for lobe in outer.lobes]
    merged = _merge([lobe for lobe in lobes if lobe.transmittance > 0])
    regular = inner.regular * outer.regular
    return Stack(
        layers=(*inner.layers, *outer.layers),
        transmittance=transmittance,
        reflectance=inner.reflectance + inner.transmittance**2 * outer.reflectance / turns,
        outer_reflectance=outer.outer_reflectance + outer.transmittance**2 * inner.outer_reflectance / turns,
        diffuse=transmittance - regular - sum(lobe.transmittance for lobe in merged),
        lobes=merged,
        regular=regular,
    )


def _merge(lobes: list[Lobe]) -> tuple[Lobe, ...]:
    """Put lobes of nearly the same width together, keeping their light and their mean variance."""
    merged: list[Lobe] = []
    for lobe in sorted(lobes, key=lambda lobe: lobe.sigma):
        if merged and lobe.sigma <= merged[-1].sigma * (1.0 + _LIKE):
            last = merged.pop()
            total = last.transmittance + lobe.transmittance
            variance = (last.transmittance * last.sigma**2 + lobe.transmittance * lobe.sigma**2) / total
            merged.append(Lobe(total, math.sqrt(variance)))
        else:
            merged.append(lobe)
    return tuple(merged)


def matt_wall(reflectance: float) -> Stack:
    """A matt surface, lit and looked at from one side, as if it were a sheet: what it reflects stands for transmittance."""
    return Stack((), reflectance, reflectance, reflectance, reflectance, (), 0.0)
