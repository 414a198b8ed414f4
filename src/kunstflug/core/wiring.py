"""Wires and connectors: resistance of what lies between pack and controller."""

import math
from dataclasses import dataclass
from typing import Final

from kunstflug.core.units import Dimension
from kunstflug.core.values import Floats, Part, Value, count, guess, known, quantity

COPPER_OHM_M: Final = 1 / 58.0e6  # at 20 degC, 100 % IACS [iec60028, from memory]
STRANDED_FACTOR: Final = 1.03  # stranded wire has 2 to 5 % more (common practice, no source)


@dataclass(frozen=True, slots=True, kw_only=True)
class Wiring(Part):
    """All conductor between pack and motor, by gauge and length."""

    gauge_awg: int = count("Gauge", 2, 22, default=10, help="AWG number")
    length_m: Value | None = quantity(
        "Conductor length", Dimension.LENGTH, "mm", 20, 6000, help="both poles added up, extension leads included"
    )
    connector_diameter_m: Value | None = quantity("Connector pin", Dimension.LENGTH, "mm", 1.5, 12)
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
    total = wire_ohm + wiring.connector_pairs * pin_resistance_ohm(pin.value)
    spread = 0.15 if wiring.length_m and wiring.connector_diameter_m else 0.30
    return guess(
        float(total), spread, f"AWG {wiring.gauge_awg}, {length.value * 1e3:.0f} mm, {wiring.connector_pairs} pins"
    )
