"""Heat from surfaces to still air, and between the faces of a closed gap.

Properties of air at atmospheric pressure: Incropera & DeWitt, Fundamentals of Heat and Mass Transfer, table A.4, from memory.
Correlations: Churchill & Chu (1975) for upright plates and lying cylinders; for lying plates McAdams, and for gaps Globe &
Dropkin (warm side below) and MacGregor & Emery (upright), as given there, chapter 9, from memory.
"""

import math
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

GRAVITY_M_S2 = 9.81
STEFAN_BOLTZMANN_W_M2_K4 = 5.670e-8
ZERO_C_IN_K = 273.15

# K; then kinematic viscosity in 1e-6 m^2/s, conductivity in 1e-3 W/(m K), thermal diffusivity in 1e-6 m^2/s
_TABLE = (
    (250.0, 11.44, 22.3, 15.9),
    (300.0, 15.89, 26.3, 22.5),
    (350.0, 20.92, 30.0, 29.9),
    (400.0, 26.41, 33.8, 38.3),
    (450.0, 32.39, 37.3, 47.2),
    (500.0, 38.79, 40.7, 56.7),
    (1000.0, 121.9, 66.7, 168.0),
)
_LAMINAR, _TURNS_FROM = 1e9, 3e8
DISCHARGE = 0.6  # of an opening with a sharp edge; from memory
_DENSITY_K_KG_M3 = 353.0  # density of air times its temperature, at atmospheric pressure
_HEAT_J_KG_K = 1006.0  # of air at constant pressure

Facing = Literal["upright", "up", "down"]  # where a warm surface looks


@dataclass(frozen=True)
class Air:
    """Air at a film temperature: kinematic viscosity, conductivity, thermal diffusivity."""

    temperature_k: float
    nu_m2_s: float
    conductivity_w_m_k: float
    alpha_m2_s: float

    @classmethod
    def at(cls, temperature_k: float) -> "Air":
        """Return air at a temperature, in straight lines between those of the table."""
        low, high = next((pair for pair in pairwise(_TABLE) if temperature_k <= pair[1][0]), (_TABLE[-2], _TABLE[-1]))
        share = (temperature_k - low[0]) / (high[0] - low[0])
        nu, conductivity, alpha = (one + share * (other - one) for one, other in zip(low[1:], high[1:], strict=True))
        return cls(temperature_k, nu * 1e-6, conductivity * 1e-3, alpha * 1e-6)

    @property
    def prandtl(self) -> float:
        """Prandtl number."""
        return self.nu_m2_s / self.alpha_m2_s

    def rayleigh(self, difference_k: float, length_m: float) -> float:
        """Rayleigh number of a surface, with the expansion of an ideal gas."""
        beta = 1.0 / self.temperature_k
        return GRAVITY_M_S2 * beta * abs(difference_k) * length_m**3 / (self.nu_m2_s * self.alpha_m2_s)


def _churchill_chu(rayleigh: float, prandtl: float, least: float, of_prandtl: float) -> float:
    share = (1.0 + (of_prandtl / prandtl) ** (9.0 / 16.0)) ** (8.0 / 27.0)
    return float((least + 0.387 * rayleigh ** (1.0 / 6.0) / share) ** 2)


def upright_nusselt(rayleigh: float, prandtl: float) -> float:
    """Nusselt number of an upright plate by its height: Churchill & Chu, their laminar form up to 1e9 and that for any above.

    Below 1e9 one goes over into the other: the two differ there by a third, and a balance could not settle on a step.
    """
    if rayleigh >= _LAMINAR:
        return _churchill_chu(rayleigh, prandtl, 0.825, 0.492)
    laminar = 0.68 + 0.670 * math.sqrt(math.sqrt(rayleigh)) / float(
        (1.0 + (0.492 / prandtl) ** (9.0 / 16.0)) ** (4.0 / 9.0)
    )
    share = math.log(max(rayleigh, 1e-9) / _TURNS_FROM) / math.log(_LAMINAR / _TURNS_FROM)
    if share <= 0.0:
        return laminar
    return laminar + share * (_churchill_chu(rayleigh, prandtl, 0.825, 0.492) - laminar)


def cylinder_nusselt(rayleigh: float, prandtl: float) -> float:
    """Nusselt number of a lying cylinder by its diameter: Churchill & Chu, to 1e12."""
    return _churchill_chu(rayleigh, prandtl, 0.60, 0.559)


def upward_nusselt(rayleigh: float) -> float:
    """Nusselt number of a warm plate that looks up, by its area over its rim: the larger of McAdams' two forms.

    The second is given from 1e7 on and overtakes the first at 5e6: by 6 % at 1e7. At least conduction's 1.
    """
    return float(max(0.54 * rayleigh**0.25, 0.15 * rayleigh ** (1.0 / 3.0), 1.0))


def downward_nusselt(rayleigh: float) -> float:
    """Nusselt number of a warm plate that looks down, by its area over its rim: McAdams."""
    return float(max(0.27 * rayleigh**0.25, 1.0))


def convection_w_m2_k(surface_k: float, air_k: float, facing: Facing, length_m: float) -> float:
    """Coefficient of a plate in still air; ``length_m`` is its height, or of a lying one its area over its rim."""
    air = Air.at((surface_k + air_k) / 2.0)
    rayleigh = air.rayleigh(surface_k - air_k, length_m)
    if facing == "upright":
        nusselt = upright_nusselt(rayleigh, air.prandtl)
    elif facing == "up":
        nusselt = upward_nusselt(rayleigh)
    else:
        nusselt = downward_nusselt(rayleigh)
    return nusselt * air.conductivity_w_m_k / length_m


def cylinder_w_m2_k(surface_k: float, air_k: float, diameter_m: float) -> float:
    """Coefficient of a lying cylinder in still air."""
    air = Air.at((surface_k + air_k) / 2.0)
    nusselt = cylinder_nusselt(air.rayleigh(surface_k - air_k, diameter_m), air.prandtl)
    return nusselt * air.conductivity_w_m_k / diameter_m


def gap_w_m2_k(warm_k: float, cool_k: float, gap_m: float, height_m: float, facing: Facing) -> float:
    """Coefficient between the two faces of a closed gap; ``facing`` is where its warm side looks. At least conduction."""
    air = Air.at((warm_k + cool_k) / 2.0)
    rayleigh = air.rayleigh(warm_k - cool_k, gap_m)
    nusselt = 1.0
    if facing == "up":
        nusselt = 0.069 * rayleigh ** (1.0 / 3.0) * air.prandtl**0.074
    elif facing == "upright" and rayleigh > 0:
        nusselt = 0.42 * rayleigh**0.25 * air.prandtl**0.012 * max(height_m / gap_m, 1.0) ** -0.3
    return max(nusselt, 1.0) * air.conductivity_w_m_k / gap_m


def vent_w_k(inside_k: float, room_k: float, area_m2: float, height_m: float) -> float:
    """Watts per K that warm air carries out through openings of one area each, low and high, so far apart.

    The pressure of the warm column drives the air through both, half of it at each: the flow is
    C_d A sqrt(g H (T_in - T_room) / T_in), and it leaves as warm as the air inside. Stack ventilation through two openings as in
    handbooks of ventilation, discharge coefficient of a sharp edge 0.6, from memory.
    """
    warmer_k = max(inside_k - room_k, 0.0)
    flow_m3_s = DISCHARGE * area_m2 * math.sqrt(GRAVITY_M_S2 * height_m * warmer_k / inside_k)
    return flow_m3_s * _DENSITY_K_KG_M3 / room_k * _HEAT_J_KG_K


def radiation_w_m2_k(one_k: float, other_k: float, emissivity: float) -> float:
    """Coefficient of radiation between a surface and what is all around it, or opposite: sigma e (T1^2 + T2^2)(T1 + T2)."""
    return STEFAN_BOLTZMANN_W_M2_K4 * emissivity * (one_k**2 + other_k**2) * (one_k + other_k)


def opposite_emissivity(one: float, other: float) -> float:
    """Emissivity that two wide faces opposite each other have together: 1 / (1/e1 + 1/e2 - 1)."""
    return 1.0 / (1.0 / one + 1.0 / other - 1.0)


def rise_of_strip_k(
    watts_per_m: float, width_m: float, half_gap_m: float, sheet: tuple[float, float], h_w_m2_k: float
) -> float:
    """Rise of a strip over the air, on a sheet that spreads its heat to half-way to its neighbours and loses it on the way.

    The fin equation with an adiabatic tip on either side, and the strip's own width: q' / (h w + 2 sqrt(h k t) tanh(m L)),
    m = sqrt(h / (k t)). Of a sheet that conducts perfectly it is that of the mean.

    Parameters
    ----------
    sheet:
        Conductivity in W/(m K), and thickness in m.
    h_w_m2_k:
        What the sheet loses on both faces together, per area of one.
    """
    conductivity, thickness_m = sheet
    sideways = conductivity * thickness_m
    m = math.sqrt(h_w_m2_k / sideways)
    return watts_per_m / (h_w_m2_k * width_m + 2.0 * sideways * m * math.tanh(m * half_gap_m))
