"""The one table of limits: where *holds* ends and *stop* begins for every load, and why.

A limit that is itself a guess never says *stop*: it says short runs, and that it should be measured first.
"""

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.drive.schools import ControllerSchool, Schools, Stint
from kunstflug.core.laws.electric import burst_time_constant_s, silicone_outside_m
from kunstflug.core.laws.wire import wire_current_a, wire_time_constant_s
from kunstflug.core.parts import controller, motor, pack
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.value import Value
from kunstflug.core.setup.doubts import believed_controller_a, believed_motor_a, believed_motor_w
from kunstflug.core.setup.setup import Setup, thinnest_awg, wire_gauge

# All of these are common practice, no source.
RATING_MARGIN: Final = 0.9  # part of a rating that is used, with margin
CELL_FLOOR_V: Final = 3.3  # a cell under load that holds
CELL_STOP_V: Final = 3.0
# Silicone is printed for 180 to 200 degC, and smokes past 300.
WIRE_HOLDS_C: Final = 180.0
WIRE_STOP_C: Final = 300.0
MOTOR_POWER_S: Final = 60.0  # time constant of a can with its water: what 5 W a gram brings to its ceiling, and when
MOTOR_POWER_STOP: Final = 2.0
RPM_STOP: Final = 1.25
ELECTRICAL_STOP: Final = 1.1
MOTOR_CURRENT_STOP: Final = 1.3


class LimitKey(StrEnum):
    """The loads that are held against a limit."""

    PACK_CURRENT = "pack_current"
    CELL_VOLTAGE = "cell_voltage"
    WIRE_CURRENT = "wire_current"
    CONTROLLER_CURRENT = "controller_current"
    ELECTRICAL_RPM = "electrical_rpm"
    MOTOR_CURRENT = "motor_current"
    MOTOR_POWER = "motor_power"
    LOADED_RPM = "loaded_rpm"
    CELLS = "cells"


KEYS: Final = tuple(LimitKey)
LOADS: Final = {
    LimitKey.PACK_CURRENT: "current_a",
    LimitKey.CELL_VOLTAGE: "weak_cell_v",
    LimitKey.WIRE_CURRENT: "current_a",
    LimitKey.CONTROLLER_CURRENT: "current_a",
    LimitKey.ELECTRICAL_RPM: "electrical_rpm",
    LimitKey.MOTOR_CURRENT: "motor_current_a",
    LimitKey.MOTOR_POWER: "motor_power_w",
    LimitKey.LOADED_RPM: "rpm",
    LimitKey.CELLS: "cells",
}
"""Result of the operating point that each limit is held against."""
RISING: Final = frozenset(KEYS) - {LimitKey.CELL_VOLTAGE}
"""Limits that are passed by more; the others by less."""
WALLS: Final = frozenset({LimitKey.CELLS})
"""Limits that are no matter of degree: up to one nothing is used of it, past it nothing may be connected."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PackRating(Fact):
    """Current of a C rating, believed in part; of two packs the weaker one."""

    c_rating: float
    trust: float
    of_weaker: bool
    guess: Fact | None


@dataclass(frozen=True, slots=True, kw_only=True)
class PrintedCells(Fact):
    """Cells in series that are printed on the controller."""


@dataclass(frozen=True, slots=True, kw_only=True)
class CellFloor(Fact):
    """A cell under load stays above a floor."""

    floor_v: float


@dataclass(frozen=True, slots=True, kw_only=True)
class WireHeld(Fact):
    """What a wire carries in still air up to a temperature: for good, or through a stint of so many seconds."""

    gauge_awg: int
    celsius: float
    air_c: float
    stint: Stint
    guess: Fact | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ControllerSustained(Fact):
    """A rating with a margin."""

    rating_a: float
    part: float
    guess: Fact | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ControllerInPasses(Fact):
    """What brings a cold controller to its ceiling in a stint, by its burst rating."""

    stint: Stint
    burst_a: float
    time_constant_s: float
    guess: Fact | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Commutation(Fact):
    """Electrical rpm that a controller follows, with a number of poles."""

    poles: int
    guess: Fact | None


@dataclass(frozen=True, slots=True, kw_only=True)
class MotorPrintedCurrent(Fact):
    """Current printed on the motor."""

    guess: Fact | None


@dataclass(frozen=True, slots=True, kw_only=True)
class MotorHeldPower(Fact):
    """Power that the motor takes: for good, or through a stint; as printed where it is printed."""

    stint: Stint | None
    guess: Fact | None


@dataclass(frozen=True, slots=True, kw_only=True)
class RotorCeiling(Fact):
    """Loaded rpm one aims at."""

    factor: float
    guess: Fact | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Limit:
    """One limit.

    Parameters
    ----------
    holds, stop : in the core's unit of the load; infinite where there is none.
    guessed : whether nobody gave it.
    basis : where it comes from.
    """

    key: LimitKey
    holds: float
    stop: float
    guessed: bool
    basis: Fact

    @property
    def exists(self) -> bool:
        """Whether there is such a limit."""
        return math.isfinite(self.holds)


def _limit(key: LimitKey, holds: float, stop: float, basis: Fact, *, guessed: bool) -> Limit:
    never = math.inf if key in RISING else 0.0
    return Limit(key=key, holds=holds, stop=never if guessed else stop, guessed=guessed, basis=basis)


def limits_of(setup: Setup, schools: Schools) -> tuple[Limit, ...]:
    """Limits of a setup under the chosen schools, in the order of ``KEYS``."""
    return (
        _pack(setup, schools),
        _limit(LimitKey.CELL_VOLTAGE, CELL_FLOOR_V, CELL_STOP_V, CellFloor(floor_v=CELL_FLOOR_V), guessed=False),
        _wire(setup, schools.stint),
        _controller(setup, schools),
        _electrical(setup),
        _motor_current(setup),
        _motor_power(setup, schools.stint),
        _rotor(setup, schools),
        _cells(setup),
    )


def _pack(setup: Setup, schools: Schools) -> Limit:
    printed, rating = pack.printed_current_a(setup.pack), pack.printed_c(setup.pack)
    basis = PackRating(
        c_rating=rating.value,
        trust=schools.pack_trust,
        of_weaker=setup.pack.second_cells is not None,
        guess=printed.reason,
    )
    # What is printed is no guess of ours, even where part of it is not believed.
    guessed = setup.pack.c_rating is None
    return _limit(LimitKey.PACK_CURRENT, printed.value * schools.pack_trust, printed.value, basis, guessed=guessed)


def _wire(setup: Setup, stint: Stint) -> Limit:
    gauge, air, thin = wire_gauge(setup), setup.conditions.air_c.value, thinnest_awg(setup)
    basis = WireHeld(gauge_awg=thin, celsius=WIRE_HOLDS_C, air_c=air, stint=stint, guess=gauge.reason)
    holds, stop = (wire_through_a(stint, celsius, thin, air) for celsius in (WIRE_HOLDS_C, WIRE_STOP_C))
    return _limit(LimitKey.WIRE_CURRENT, holds, stop, basis, guessed=gauge.guessed)


def wire_through_a(stint: Stint, celsius: float, gauge: int, air_c: float) -> float:
    """Current that brings a silicone wire to a temperature in a stint [A]; on Match and on Fit."""
    outside_m = silicone_outside_m(gauge)
    held = wire_current_a(celsius, gauge, outside_m, air_c)
    return held * stint.more_current(wire_time_constant_s(held, celsius, gauge, outside_m, air_c))


@dataclass(frozen=True, slots=True, kw_only=True)
class BelievedRatings:
    """Ratings of a controller that are believed: continuous, burst [A], and the time constant between them [s]."""

    continuous: Value
    burst_a: float
    time_constant_s: float


def believed_ratings(setup: Setup) -> BelievedRatings:
    """Ratings of a setup's controller; a doubt of the continuous one falls on the burst as well."""
    rating = believed_controller_a(setup)
    doubted = rating.value / setup.controller.continuous_current_a.value
    burst = max(controller.burst_current(setup.controller).value * doubted, rating.value)
    tau = burst_time_constant_s(rating.value, burst, controller.burst_seconds(setup.controller).value)
    return BelievedRatings(continuous=rating, burst_a=burst, time_constant_s=tau)


def _controller(setup: Setup, schools: Schools) -> Limit:
    found = believed_ratings(setup)
    rating, burst, why = found.continuous.value, found.burst_a, found.continuous.reason
    through = max(rating * schools.stint.more_current(found.time_constant_s), rating)
    holds: float = rating
    basis: Fact = ControllerSustained(rating_a=rating, part=RATING_MARGIN, guess=why)
    if schools.controller is ControllerSchool.BURST:
        # Never more than is printed.
        holds = min(through, burst)
        basis = ControllerInPasses(stint=schools.stint, burst_a=burst, time_constant_s=found.time_constant_s, guess=why)
    # A rating that is not believed is still printed: its stop stands.
    stop = max(burst, through)
    return _limit(LimitKey.CONTROLLER_CURRENT, holds * RATING_MARGIN, stop, basis, guessed=False)


def _electrical(setup: Setup) -> Limit:
    limit, poles = controller.electrical_rpm_limit(setup.controller), motor.pole_count(setup.motor)
    basis = Commutation(poles=poles, guess=limit.reason)
    guessed = limit.guessed or setup.motor.poles is None
    return _limit(LimitKey.ELECTRICAL_RPM, limit.value, ELECTRICAL_STOP * limit.value, basis, guessed=guessed)


def _motor_current(setup: Setup) -> Limit:
    most = believed_motor_a(setup)
    if most is None:
        basis = MotorPrintedCurrent(guess=None)
        return Limit(key=LimitKey.MOTOR_CURRENT, holds=math.inf, stop=math.inf, guessed=False, basis=basis)
    basis = MotorPrintedCurrent(guess=most.reason)
    return _limit(LimitKey.MOTOR_CURRENT, most.value, MOTOR_CURRENT_STOP * most.value, basis, guessed=False)


def _motor_power(setup: Setup, stint: Stint) -> Limit:
    most, guessed = believed_motor_w(setup), setup.motor.max_power_w is None
    basis = MotorHeldPower(stint=stint if guessed else None, guess=most.reason)
    # What is printed is meant as it stands. Heat of copper goes with the square of the power at one voltage.
    holds = most.value * (max(stint.more_current(MOTOR_POWER_S), 1.0) if guessed else 1.0)
    return _limit(LimitKey.MOTOR_POWER, holds, MOTOR_POWER_STOP * holds, basis, guessed=guessed)


def _cells(setup: Setup) -> Limit:
    """The cells that are printed on the controller: with more it dies at once."""
    most = math.inf if setup.controller.max_cells is None else float(setup.controller.max_cells)
    return Limit(key=LimitKey.CELLS, holds=most, stop=most, guessed=False, basis=PrintedCells())


@dataclass(frozen=True, slots=True, kw_only=True)
class BeyondCells(Fact):
    """More cells in series than are printed on the controller."""

    cells: int
    printed: int


def wall_of(setup: Setup) -> BeyondCells | None:
    """What a part's sheet forbids of a setup, known before anything is computed; None where nothing does."""
    cells, printed = pack.series_cells(setup.pack), setup.controller.max_cells
    return BeyondCells(cells=cells, printed=printed) if printed is not None and cells > printed else None


def _rotor(setup: Setup, schools: Schools) -> Limit:
    ceiling = motor.rpm_ceiling(setup.motor)
    rpm = ceiling.value * schools.rpm_factor
    basis = RotorCeiling(factor=schools.rpm_factor, guess=ceiling.reason)
    return _limit(LimitKey.LOADED_RPM, rpm, RPM_STOP * rpm, basis, guessed=ceiling.guessed)
