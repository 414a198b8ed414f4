"""Wires and connectors: resistance of what lies between pack and controller."""

import math
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from typing import Final

from kunstflug.core.units import Dimension
from kunstflug.core.values import Floats, Part, Value, choice, count, guess, known, quantity

COPPER_OHM_M: Final = 1 / 58.0e6  # at 20 degC, 100 % IACS [iec60028, from memory]
STRANDED_FACTOR: Final = 1.03  # stranded wire has 2 to 5 % more (common practice, no source)
PINS_A: Final = ((3.5, 40.0), (4.0, 70.0), (5.5, 150.0), (6.0, 180.0), (8.0, 250.0), (10.0, 350.0))
"""Pin diameter [mm] and the current it carries for passes [A] (common practice, no source)."""


class Plugs(StrEnum):
    """How the three motor plugs lie."""

    SPACED = "spaced"
    BUNDLED = "bundled"


@dataclass(frozen=True, slots=True, kw_only=True)
class Wiring(Part):
    """All conductor between pack and motor, by gauge and length."""

    gauge_awg: int = count("Gauge", 2, 22, default=10, help="AWG number")
    length_m: Value | None = quantity(
        "Conductor length", Dimension.LENGTH, "mm", 20, 6000, help="both poles added up, extension leads included"
    )
    extension_length_m: Value | None = quantity(
        "Extension leads",
        Dimension.LENGTH,
        "mm",
        10,
        6000,
        help="conductor of leads put in between, both poles added up",
    )
    extension_gauge_awg: int | None = count("Extension gauge", 2, 22, help="AWG number; the same where not given")
    connector_diameter_m: Value | None = quantity("Connector pin", Dimension.LENGTH, "mm", 1.5, 12)
    plugs: Plugs = choice("Motor plugs", Plugs, Plugs.SPACED, help="three bundled together cook each other")
    connector_pairs: int = count("Connector pins in line", 0, 24, default=4, help="each plugged pin counts once")


def awg_diameter_m(gauge: Floats) -> Floats:
    """Diameter of a solid conductor [m], 0.127 mm x 92^((36 - n) / 39) [astm-b258].

    Examples
    --------
    >>> round(awg_diameter_m(10) * 1e3, 4)
    2.5882
    """
    return 0.127e-3 * 92.0 ** ((36.0 - gauge) / 39.0)


def awg_resistance_ohm_per_m(gauge: Floats) -> Floats:
    """Resistance of solid copper at 20 degC [ohm/m] [astm-b258, iec60028]."""
    return COPPER_OHM_M / (math.pi / 4 * awg_diameter_m(gauge) ** 2)


def pin_resistance_ohm(diameter_m: Floats) -> Floats:
    """Resistance of one plugged pin with its solder joints [ohm].

    0.15 mohm at 5.5 mm, inversely with the section: common practice, no source.
    """
    return 0.15e-3 * (5.5e-3 / diameter_m) ** 2


def wiring_resistance(wiring: Wiring) -> Value:
    """Resistance of wires and connectors together [ohm]."""
    length = known(wiring.length_m, guess(0.5, 0.3, "half a metre of conductor in all"))
    pin = known(wiring.connector_diameter_m, guess(5.5e-3, 0.2, "5.5 mm pins"))
    wire_ohm = awg_resistance_ohm_per_m(wiring.gauge_awg) * STRANDED_FACTOR * length.value
    if wiring.extension_length_m is not None:
        gauge = wiring.extension_gauge_awg or wiring.gauge_awg
        wire_ohm += awg_resistance_ohm_per_m(gauge) * STRANDED_FACTOR * wiring.extension_length_m.value
    total = wire_ohm + wiring.connector_pairs * pin_resistance_ohm(pin.value)
    spread = 0.15 if wiring.length_m and wiring.connector_diameter_m else 0.30
    return guess(
        float(total), spread, f"AWG {wiring.gauge_awg}, {length.value * 1e3:.0f} mm, {wiring.connector_pairs} pins"
    )


def _film_c(surface_c: float, air_c: float, diameter_m: float) -> float:
    """Heat transfer coefficient of a horizontal wire in still air, convection and radiation [W/(m2 K)].

    Natural convection by Churchill and Chu [churchill1975], air by Sutherland's laws; emissivity 0.9.
    """
    kelvin = (surface_c + air_c) / 2 + 273.15
    viscosity = 1.458e-6 * kelvin**1.5 / (kelvin + 110.4)
    density = 101325.0 / (287.05 * kelvin)
    conductivity = 2.64638e-3 * kelvin**1.5 / (kelvin + 245.4 * 10 ** (-12 / kelvin))
    nu, prandtl = viscosity / density, 0.705
    rise = max(surface_c - air_c, 1e-6)
    rayleigh = 9.80665 / kelvin * rise * diameter_m**3 / nu**2 * prandtl
    nusselt = (0.60 + 0.387 * rayleigh ** (1 / 6) / (1 + (0.559 / prandtl) ** (9 / 16)) ** (8 / 27)) ** 2
    hot, cold = surface_c + 273.15, air_c + 273.15
    radiation = 0.9 * 5.670374e-8 * (hot**2 + cold**2) * (hot + cold)
    return nusselt * conductivity / diameter_m + radiation


def wire_temperature_c(current_a: float, gauge: int, outside_m: float, air_c: float = 25.0) -> float:
    """Temperature of a wire's conductor that carries a current for good in still air [degC].

    Copper rising with its temperature, silicone of 0.2 W/(m K) round it, air outside.
    """
    inside = float(awg_diameter_m(gauge))
    sleeve = math.log(outside_m / inside) / (2 * math.pi * 0.2)  # K m / W

    def surplus(surface_c: float) -> tuple[float, float]:
        lost = _film_c(surface_c, air_c, outside_m) * math.pi * outside_m * (surface_c - air_c)
        return lost, surface_c + lost * sleeve

    low, high = air_c, 2000.0
    for _ in range(60):
        surface = (low + high) / 2
        lost, conductor = surplus(surface)
        made = current_a**2 * float(awg_resistance_ohm_per_m(gauge)) * (235.0 + conductor) / 255.0
        low, high = (surface, high) if made > lost else (low, surface)
    return surplus(high)[1]


@lru_cache(maxsize=256)  # asked for with every forecast of the same wire
def wire_current_a(celsius: float, gauge: int, outside_m: float, air_c: float = 25.0) -> float:
    """Current at which a wire's conductor settles at a temperature in still air [A]; the inverse of the above."""
    inside = float(awg_diameter_m(gauge))
    sleeve = math.log(outside_m / inside) / (2 * math.pi * 0.2)
    low, high, lost = air_c, celsius, 0.0
    for _ in range(50):
        surface = (low + high) / 2
        lost = _film_c(surface, air_c, outside_m) * math.pi * outside_m * (surface - air_c)
        low, high = (surface, high) if surface + lost * sleeve < celsius else (low, surface)
    return math.sqrt(lost / (float(awg_resistance_ohm_per_m(gauge)) * (235.0 + celsius) / 255.0))


def silicone_outside_m(gauge: int) -> float:
    """Outer diameter of a silicone wire [m]: 5.5 mm for AWG 10, 6.6 for AWG 8, in between and beyond with the core.

    2.1 x the conductor and no less than 0.6 mm of wall (common practice, no source).
    """
    inside = float(awg_diameter_m(gauge))
    return max(2.08 * inside, inside + 1.2e-3)


def thinnest_awg(wiring: Wiring) -> int:
    """The thinner gauge of wire and extension leads: the larger number."""
    if wiring.extension_length_m is None or wiring.extension_gauge_awg is None:
        return wiring.gauge_awg
    return max(wiring.gauge_awg, wiring.extension_gauge_awg)
