"""Numbers on a part that contradict each other or what any such part can do: questioned beside their field.

What is believed is what the limits use; nothing that was typed is changed. The ratios are common practice, no source:
generous for good parts, passed only by numbers that were printed to be read.
"""

import dataclasses
from dataclasses import dataclass
from typing import Final

from kunstflug.core.laws.cell import NOMINAL_CELL_V, energy_wh
from kunstflug.core.parts import motor, pack
from kunstflug.core.parts import propeller as propellers
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Value, guess
from kunstflug.core.setup.setup import Setup

MOST_A_PER_KG: Final = 2500.0  # controller, continuous
MOST_W_PER_KG: Final = 12000.0  # motor, for minutes
MOST_WH_PER_KG: Final = 230.0  # pack
RESISTANCE_FACTOR: Final = 4.0  # a typed resistance this far from the estimate is asked about
PITCH_SLACK: Final = 0.02


@dataclass(frozen=True, slots=True, kw_only=True)
class Doubt:
    """One number that is questioned: field of the setup document, and why."""

    path: str
    reason: Fact


@dataclass(frozen=True, slots=True, kw_only=True)
class TooMuchForMass(Fact):
    """A rating no part of such a mass has; so much of it is believed.

    Parameters
    ----------
    printed, believed : in the core's unit of ``dimension``.
    per_kg : what is believed for each kilogram.
    """

    dimension: Dimension
    printed: float
    believed: float
    mass_kg: float
    per_kg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class TooMuchEnergy(Fact):
    """More energy for its mass than any high-rate pack has."""

    energy_wh: float
    mass_kg: float
    most_wh_kg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class FarFromUsual(Fact):
    """A resistance that is many times, or a small part of, what such a part has; it is used as given."""

    given_ohm: float
    usual_ohm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class TwoPitches(Fact):
    """Pitch and pitch ratio contradict each other; the pitch is used."""

    pitch_m: float
    pitch_ratio: float
    ratio_of_pitch: float


@dataclass(frozen=True, slots=True, kw_only=True)
class BurstBelowContinuous(Fact):
    """A burst current below the continuous one; the latter is used."""

    burst_a: float
    continuous_a: float


def believed_controller_a(setup: Setup) -> Value:
    """Continuous rating of the controller that is believed [A]."""
    return _believed(setup.controller.continuous_current_a, setup.controller.mass_kg, MOST_A_PER_KG, Dimension.CURRENT)


def believed_motor_w(setup: Setup) -> Value:
    """Power limit of the motor that is believed [W]."""
    printed = setup.motor.max_power_w
    if printed is None:
        return motor.power_limit(setup.motor)
    return _believed(printed, motor.motor_mass(setup.motor), MOST_W_PER_KG, Dimension.POWER)


def believed_motor_a(setup: Setup) -> Value | None:
    """Current limit of the motor that is believed [A]; None where none is printed.

    More than the believed power at the pack's nominal voltage is not.
    """
    printed = setup.motor.max_current_a
    if printed is None:
        return None
    volts = NOMINAL_CELL_V * pack.series_cells(setup.pack)
    return _believed(printed, motor.motor_mass(setup.motor), MOST_W_PER_KG / volts, Dimension.CURRENT)


def _believed(printed: Value, mass: Value | None, per_kg: float, dimension: Dimension) -> Value:
    if mass is None or printed.value <= per_kg * mass.value:
        return printed
    most = per_kg * mass.value
    reason = TooMuchForMass(
        dimension=dimension, printed=printed.value, believed=most, mass_kg=mass.value, per_kg=per_kg
    )
    return guess(most, 0.3, reason)


def doubts_of(setup: Setup) -> tuple[Doubt, ...]:
    """Every number of a setup that is questioned."""
    found = [
        _less("controller.continuous_current", setup.controller.continuous_current_a, believed_controller_a(setup)),
        _less("motor.max_power", setup.motor.max_power_w, believed_motor_w(setup)),
        _less("motor.max_current", setup.motor.max_current_a, believed_motor_a(setup)),
        _less("pack.c_rating", setup.pack.c_rating, pack.printed_c(setup.pack)),
        _energy(setup),
        _far("motor.resistance", setup.motor.resistance_ohm, _unmeasured_winding(setup)),
        _far("pack.cell_resistance", setup.pack.cell_resistance_ohm, _unmeasured_cell(setup)),
        _two_pitches(setup),
        _burst(setup),
    ]
    return tuple(d for d in found if d is not None)


def _less(path: str, given: Value | None, believed: Value | None) -> Doubt | None:
    if given is None or believed is None or believed.reason is None or believed.value >= given.value:
        return None
    return Doubt(path=path, reason=believed.reason)


def _energy(setup: Setup) -> Doubt | None:
    mass, other = setup.pack.mass_kg, pack.second_pack(setup.pack)
    if mass is None:
        return None
    wh = energy_wh(0.0, 1.0, setup.pack.capacity_ah.value * setup.pack.parallel, setup.pack.cells)
    wh += 0.0 if other is None else energy_wh(0.0, 1.0, other.capacity_ah.value, other.cells)
    if wh / mass.value <= MOST_WH_PER_KG:
        return None
    reason = TooMuchEnergy(energy_wh=wh, mass_kg=mass.value, most_wh_kg=MOST_WH_PER_KG)
    return Doubt(path="pack.capacity", reason=reason)


def _unmeasured_winding(setup: Setup) -> Value:
    return motor.winding_resistance(dataclasses.replace(setup.motor, resistance_ohm=None))


def _unmeasured_cell(setup: Setup) -> Value:
    return pack.cell_resistance(dataclasses.replace(setup.pack, cell_resistance_ohm=None))


def _far(path: str, given: Value | None, usual: Value) -> Doubt | None:
    if given is None or given.guessed:
        return None
    if 1 / RESISTANCE_FACTOR <= given.value / usual.value <= RESISTANCE_FACTOR:
        return None
    return Doubt(path=path, reason=FarFromUsual(given_ohm=given.value, usual_ohm=usual.value))


def _two_pitches(setup: Setup) -> Doubt | None:
    wheel = setup.propeller
    if wheel.pitch_m is None or wheel.pitch_ratio is None:
        return None
    ratio = propellers.pitch_ratio(wheel)
    if abs(ratio / wheel.pitch_ratio.value - 1) < PITCH_SLACK:
        return None
    reason = TwoPitches(pitch_m=wheel.pitch_m.value, pitch_ratio=wheel.pitch_ratio.value, ratio_of_pitch=ratio)
    return Doubt(path="propeller.pitch_ratio", reason=reason)


def _burst(setup: Setup) -> Doubt | None:
    burst, rating = setup.controller.burst_current_a, setup.controller.continuous_current_a
    if burst is None or burst.value >= rating.value:
        return None
    reason = BurstBelowContinuous(burst_a=burst.value, continuous_a=rating.value)
    return Doubt(path="controller.burst_current", reason=reason)
