"""What is uncertain of a build, with its prior, and the build as it would be if these were otherwise."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal

import msgspec

from gauze.core.design import Design
from gauze.core.design.design import catalogue_of
from gauze.core.design.fields import has_field, with_field
from gauze.core.design.strip_panel import finish_of
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.layout.pieces import Piece, StripPiece
from gauze.core.materials import Catalogue, Diffuser

Name = Literal[
    "rail_ohm_per_m", "rail_factor", "supply_v", "flux_factor", "transmittance", "reflectance_walls", "reflectance_back"
]
ELECTRIC: tuple[Name, ...] = ("rail_ohm_per_m", "rail_factor", "supply_v")
RAIL_SPREAD = 0.3  # of the catalogue's rail resistance: copper's thickness is seldom told; common practice, no source
SUPPLY_SPREAD = 0.03  # of a supply as it is set; common practice, no source
REFLECTANCE_SPREAD = 0.05  # of a finish, absolute; common practice, no source
FLUX_SPREAD, SHEET_SPREAD = 0.15, 0.08  # where the catalogue tells none; common practice, no source


@dataclass(frozen=True)
class Parameter:
    """One uncertain value: its prior, and the limit within which it lies either way."""

    name: Name
    prior: float
    limit: float
    unit: str

    @property
    def sigma(self) -> float:
        """Standard deviation of a value that is anywhere within its limits (rectangular: JCGM 100, 4.3.7)."""
        return self.limit / math.sqrt(3.0)


def parameters_of(evaluation: Evaluation) -> tuple[Parameter, ...]:
    """Return what is uncertain of a design."""
    return (*_electric(evaluation), *_of_light(evaluation))


def _electric(evaluation: Evaluation) -> list[Parameter]:
    strips = [piece.strip for piece in evaluation.layout.pieces if isinstance(piece, StripPiece)]
    found = []
    if strips:
        rail = strips[0].rail_ohm_per_m
        found.append(Parameter("rail_ohm_per_m", rail, RAIL_SPREAD * rail, "ohm/m"))
    power = evaluation.network.power
    if power is not None and power.supplies and evaluation.network.wiring.battery is None:
        volts = power.supplies[0].set_v
        found.append(Parameter("supply_v", volts, SUPPLY_SPREAD * volts, "V"))
    return found


def _of_light(evaluation: Evaluation) -> list[Parameter]:
    kinds = [piece.strip if isinstance(piece, StripPiece) else piece.module for piece in evaluation.layout.pieces]
    spread = max((kind.flux_spread for kind in kinds), default=0.0) or FLUX_SPREAD
    found = [Parameter("flux_factor", 1.0, spread, "")]
    design, layers = evaluation.design, evaluation.diffuser.layers
    if layers:
        through = layers[0].transmittance
        found.append(Parameter("transmittance", through, (layers[0].spread or SHEET_SPREAD) * through, ""))
    known: tuple[tuple[Name, str], ...] = (("reflectance_walls", "build.walls"), ("reflectance_back", "build.back"))
    for name, path in known:
        if has_field(design, path):
            value = finish_of(getattr(design.build, path.removeprefix("build.")), evaluation.catalogue).reflectance
            if 0.0 < value < 1.0:
                found.append(Parameter(name, value, min(REFLECTANCE_SPREAD, 0.9 * (1.0 - value), 0.9 * value), ""))
    return found


def changed_design(design: Design, catalogue: Catalogue, values: Mapping[str, float]) -> tuple[Design, Catalogue]:
    """Return a design and its catalogue with other reflectances and another transmittance of the innermost sheet.

    What the sheet lets through more it sends back less: its absorption stays.
    """
    own = catalogue_of(design, catalogue)
    for name, path in (("reflectance_walls", "build.walls"), ("reflectance_back", "build.back")):
        if name in values:
            design = with_field(design, path, min(max(values[name], 0.0), 0.99))
    if "transmittance" in values and design.build.layers:
        own = _with_sheet(design, own, values["transmittance"])
        design = msgspec.structs.replace(design, own_diffusers=(), own_lamps=())  # they stand in the catalogue now
    return design, own


def _with_sheet(design: Design, catalogue: Catalogue, transmittance: float) -> Catalogue:
    layer = design.build.layers[0]
    before = catalogue.diffuser(layer)
    through = min(max(transmittance, 0.001), 1.0 - before.absorptance - 0.001)
    after = msgspec.structs.replace(
        before, transmittance=through, reflectance=max(1.0 - before.absorptance - through, 0.0)
    )
    if not isinstance(layer, str):
        return catalogue  # a sheet of computed numbers has no row
    sheets: dict[str, Diffuser] = {**catalogue.diffusers, layer: after}
    return replace(catalogue, diffusers=sheets)


def changed_pieces(pieces: tuple[Piece, ...], values: Mapping[str, float]) -> tuple[Piece, ...]:
    """Return pieces of strip with another resistance of their rails; strips of several kinds change alike."""
    if "rail_ohm_per_m" not in values:
        return pieces
    first = next((piece.strip.rail_ohm_per_m for piece in pieces if isinstance(piece, StripPiece)), 0.0)
    factor = values["rail_ohm_per_m"] / first if first > 0 else 1.0
    strips = {
        piece.strip.id: msgspec.structs.replace(piece.strip, rail_ohm_per_m=piece.strip.rail_ohm_per_m * factor)
        for piece in pieces
        if isinstance(piece, StripPiece)
    }
    return tuple(
        replace(piece, strip=strips[piece.strip.id]) if isinstance(piece, StripPiece) else piece for piece in pieces
    )
