"""A wire in still air: what it carries for good at a temperature."""

import math
from functools import lru_cache
from typing import Final

from kunstflug.core.laws.electric import awg_diameter_m, awg_resistance_ohm_per_m, copper_resistance_ohm
from kunstflug.core.laws.resistance import GRAVITY_MPS2

SILICONE_W_MK: Final = 0.2  # handbook value, from memory
EMISSIVITY: Final = 0.9
STEFAN_BOLTZMANN: Final = 5.670374e-8


def film_w_m2k(surface_c: float, air_c: float, diameter_m: float) -> float:
    """Heat transfer coefficient of a horizontal wire in still air, convection and radiation [W/(m2 K)].

    Natural convection by Churchill and Chu [churchill1975], air by Sutherland's laws; emissivity 0.9.

    Parameters
    ----------
    surface_c, air_c : temperatures [degC].
    diameter_m : outside of the wire [m].
    """
    kelvin = (surface_c + air_c) / 2 + 273.15
    viscosity = 1.458e-6 * kelvin**1.5 / (kelvin + 110.4)
    density = 101325.0 / (287.05 * kelvin)
    conductivity = 2.64638e-3 * kelvin**1.5 / (kelvin + 245.4 * 10 ** (-12 / kelvin))
    nu, prandtl = viscosity / density, 0.705
    rise = max(surface_c - air_c, 1e-6)
    rayleigh = GRAVITY_MPS2 / kelvin * rise * diameter_m**3 / nu**2 * prandtl
    nusselt = (0.60 + 0.387 * rayleigh ** (1 / 6) / (1 + (0.559 / prandtl) ** (9 / 16)) ** (8 / 27)) ** 2
    hot, cold = surface_c + 273.15, air_c + 273.15
    radiation = EMISSIVITY * STEFAN_BOLTZMANN * (hot**2 + cold**2) * (hot + cold)
    return nusselt * conductivity / diameter_m + radiation


SILICONE_J_M3K: Final = 1.5e6  # 1200 kg/m3 x 1250 J/(kg K), handbook values from memory
COPPER_J_M3K: Final = 3.45e6  # 8960 kg/m3 x 385 J/(kg K)


def wire_time_constant_s(current_a: float, celsius: float, gauge: int, outside_m: float, air_c: float = 25.0) -> float:
    """Time constant with which a wire in still air goes to where a current settles [s].

    Heat capacity of conductor and silicone over what the current's heat is a kelvin, at that temperature.

    Parameters
    ----------
    current_a, celsius : the current, and where it settles; see ``wire_current_a``.

    Examples
    --------
    >>> round(wire_time_constant_s(wire_current_a(180.0, 10, 5.5e-3), 180.0, 10, 5.5e-3))
    138
    """
    inside = float(awg_diameter_m(gauge))
    copper, silicone = math.pi / 4 * inside**2, math.pi / 4 * (outside_m**2 - inside**2)
    heat_w_m = current_a**2 * float(copper_resistance_ohm(awg_resistance_ohm_per_m(gauge), celsius))
    return (copper * COPPER_J_M3K + silicone * SILICONE_J_M3K) * (celsius - air_c) / heat_w_m


@lru_cache(maxsize=512)  # asked for with every forecast of the same wire
def wire_current_a(celsius: float, gauge: int, outside_m: float, air_c: float = 25.0) -> float:
    """Current at which a wire's conductor settles at a temperature in still air [A].

    Copper rising with its temperature, silicone of 0.2 W/(m K) round it, air outside.

    Parameters
    ----------
    celsius : of the conductor [degC].
    gauge, outside_m : AWG number and outer diameter [m].
    """
    inside = float(awg_diameter_m(gauge))
    sleeve = math.log(outside_m / inside) / (2 * math.pi * SILICONE_W_MK)  # K m / W
    low, high, lost = air_c, celsius, 0.0
    for _ in range(50):
        surface = (low + high) / 2
        lost = film_w_m2k(surface, air_c, outside_m) * math.pi * outside_m * (surface - air_c)
        low, high = (surface, high) if surface + lost * sleeve < celsius else (low, surface)
    return math.sqrt(lost / float(copper_resistance_ohm(awg_resistance_ohm_per_m(gauge), celsius)))
