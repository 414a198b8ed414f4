"""Wires and connectors as a part: what lies between pack and controller."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.laws.electric import awg_resistance_ohm_per_m, pin_resistance_ohm
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.fields import Part, choice, count, length
from kunstflug.core.quantity.value import Value, guess, known

STRANDED_FACTOR: Final = 1.03  # stranded wire has 2 to 5 % more (common practice, no source)
USUAL_LENGTH_M: Final = 0.5
USUAL_PIN_M: Final = 5.5e-3
SMALLEST_PIN_A: Final = 25.0
# Rating of the controller up to which a gauge is usually soldered to it (common practice, no source).
GAUGE_FOR_A: Final = ((45.0, 14), (90.0, 12), (160.0, 10), (240.0, 8))
THICKEST_AWG: Final = 6


class Plugs(StrEnum):
    """How the three motor plugs lie."""

    SPACED = "spaced"
    BUNDLED = "bundled"


@dataclass(frozen=True, slots=True, kw_only=True)
class Wiring(Part):
    """All conductor between pack and motor, by gauge and length."""

    gauge_awg: int | None = count(2, 22)
    length_m: Value | None = length(20, 6000)
    extension_length_m: Value | None = length(10, 6000, estimated=False)
    extension_gauge_awg: int | None = count(2, 22, estimated=False)
    connector_diameter_m: Value | None = length(1.5, 12)
    plugs: Plugs = choice(Plugs, Plugs.SPACED)
    connector_pairs: int = count(0, 24, default=4)


@dataclass(frozen=True, slots=True, kw_only=True)
class GaugeFromRating(Fact):
    """No gauge: the one that is usually soldered to a controller of such a rating."""

    gauge_awg: int
    rating_a: float


@dataclass(frozen=True, slots=True, kw_only=True)
class WiresAdded(Fact):
    """Resistance of wires and pins added."""

    gauge_awg: int
    length_m: float
    pins: int


@dataclass(frozen=True, slots=True, kw_only=True)
class PinRating:
    """Pin diameter [m] and the current it carries in passes [A]."""

    pin_m: float
    current_a: float


PIN_RATINGS: Final = tuple(
    PinRating(pin_m=mm * 1e-3, current_a=amps)
    for mm, amps in ((3.5, 40.0), (4.0, 70.0), (5.5, 150.0), (6.0, 180.0), (8.0, 250.0), (10.0, 350.0))
)
"""Round pins as they are sold (common practice, no source)."""


def gauge_for_awg(rating_a: float) -> int:
    """AWG number of the wire that is usually soldered to a controller of a rating [A] (common practice, no source)."""
    return next((gauge for most, gauge in GAUGE_FOR_A if rating_a <= most), THICKEST_AWG)


def thinnest_awg(wiring: Wiring, gauge_awg: int) -> int:
    """The thinner gauge of wire and extension leads: the larger number."""
    if wiring.extension_length_m is None or wiring.extension_gauge_awg is None:
        return gauge_awg
    return max(gauge_awg, wiring.extension_gauge_awg)


def pin_rating_a(pin_m: float) -> float:
    """Current that a pin carries in passes [A] (common practice, no source)."""
    return max((r.current_a for r in PIN_RATINGS if r.pin_m <= pin_m + 1e-5), default=SMALLEST_PIN_A)


def pin_for(current_a: float) -> PinRating:
    """The smallest pin that carries a current in passes; the largest there is where none does."""
    return next((r for r in PIN_RATINGS if r.current_a >= current_a), PIN_RATINGS[-1])


def wiring_resistance(wiring: Wiring, gauge_awg: int) -> Value:
    """Resistance of wires and connectors together [ohm], with wire of a gauge."""
    long = known(wiring.length_m, guess(USUAL_LENGTH_M, 0.3, None))
    pin = known(wiring.connector_diameter_m, guess(USUAL_PIN_M, 0.2, None))
    wire_ohm = awg_resistance_ohm_per_m(gauge_awg) * STRANDED_FACTOR * long.value
    if wiring.extension_length_m is not None:
        thin = wiring.extension_gauge_awg or gauge_awg
        wire_ohm += awg_resistance_ohm_per_m(thin) * STRANDED_FACTOR * wiring.extension_length_m.value
    total = wire_ohm + wiring.connector_pairs * pin_resistance_ohm(pin.value)
    measured = wiring.gauge_awg is not None and wiring.length_m and wiring.connector_diameter_m
    why = WiresAdded(gauge_awg=gauge_awg, length_m=long.value, pins=wiring.connector_pairs)
    return guess(float(total), 0.15 if measured else 0.30, why)
