"""The speed controller: conduction, ratings, what can be set in it, and how it feeds the receiver."""

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.units import Dimension
from kunstflug.core.values import Floats, Part, Value, choice, count, guess, known, quantity


class HotAction(StrEnum):
    """What a controller does above its temperature limit."""

    HALF = "half power"
    OFF = "off"


class Supply(StrEnum):
    """Where receiver and servo get their power."""

    SWITCHING = "switching BEC"
    LINEAR = "linear BEC"
    SEPARATE = "own receiver pack"


RECEIVER_W = 4.0  # receiver and a working servo, on average (common practice, no source)
RECEIVER_V = 6.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Controller(Part):
    """A speed controller by what is printed on it."""

    continuous_current_a: Value = quantity("Continuous current", Dimension.CURRENT, "A", 5, 1000, required=True)
    burst_current_a: Value | None = quantity("Burst current", Dimension.CURRENT, "A", 5, 2000, help="lasts seconds")
    max_cells: int | None = count("Most cells", 1, 24)
    resistance_ohm: Value | None = quantity("Conduction resistance", Dimension.RESISTANCE, "mohm", 0.05, 50)
    electrical_rpm_limit_rpm: Value | None = quantity(
        "Electrical rpm limit", Dimension.ROTATION, "rpm", 20000, 1000000, help="rpm x pole pairs"
    )
    bus_limit_a: Value | None = quantity(
        "Bus current limit", Dimension.CURRENT, "A", 5, 1000, help="as set in it; it then gives less throttle"
    )
    phase_limit_a: Value | None = quantity(
        "Phase current limit", Dimension.CURRENT, "A", 5, 2000, help="as set in it; holds the motor's current"
    )
    temperature_limit_c: Value | None = quantity(
        "Temperature limit", Dimension.TEMPERATURE, "degC", 50, 130, help="as set in it"
    )
    hot_action: HotAction = choice("Above its temperature limit", HotAction, HotAction.HALF)
    timing_deg: Value | None = quantity(
        "Timing", Dimension.ANGLE, "deg", 0, 35, help="electrical degrees ahead; 15 is the usual middle"
    )
    ramp_s: Value | None = quantity(
        "Ramp from rest to full", Dimension.TIME, "s", 0.05, 10, help="soft start and throttle ramp together"
    )
    burst_s: Value | None = quantity(
        "Burst lasts", Dimension.TIME, "s", 0.5, 120, help="as printed beside the burst current"
    )
    supply: Supply = choice("Receiver's supply", Supply, Supply.SWITCHING)
    mass_kg: Value | None = quantity("Mass", Dimension.MASS, "g", 5, 2000)


def conduction_resistance(controller: Controller) -> Value:
    """Resistance of two conducting switches [ohm].

    0.75 mohm for a 120 A controller, falling with the root of its rating: common practice, no source.
    """
    rating = controller.continuous_current_a.value
    return known(
        controller.resistance_ohm,
        guess(0.75e-3 * (120.0 / rating) ** 0.5, 0.3, f"from the {rating:g} A rating: 0.75 mohm at 120 A"),
    )


SWITCHING_S: Final = 100e-9  # rise and fall of a stage together (common practice, no source)
SWITCHED_HZ: Final = 16e3  # at part throttle (common practice, no source)


def switching_loss_w(bus_v: float, phase_a: float, throttle: float) -> float:
    """Loss of the stage that is switched at part throttle [W], hard switching: U I (t_r + t_f) f / 2.

    None at full throttle, where only the commutation switches. Textbook law; its two times are guesses.
    """
    return 0.5 * bus_v * phase_a * SWITCHING_S * SWITCHED_HZ * (throttle < 0.995)


def burst_current(controller: Controller) -> Value:
    """Burst current [A]; 1.3 x continuous where none is printed (common practice, no source)."""
    rating = controller.continuous_current_a.value
    return known(controller.burst_current_a, guess(1.3 * rating, 0.15, "no burst rating printed: 1.3 x continuous"))


def electrical_rpm(rpm: Floats, poles: Floats) -> Floats:
    """Electrical rpm: shaft rpm x pole pairs.

    Examples
    --------
    >>> electrical_rpm(30000, 12)
    180000.0
    """
    return rpm * poles / 2


def electrical_rpm_limit(controller: Controller) -> Value:
    """Largest electrical rpm; 240 000 where none is printed (common practice, no source)."""
    return known(
        controller.electrical_rpm_limit_rpm, guess(240000.0, 0.2, "no limit printed: 240 000 electrical rpm assumed")
    )


def burst_seconds(controller: Controller) -> Value:
    """Seconds that the burst rating lasts [s]; 10 where none are printed (common practice, no source)."""
    return known(controller.burst_s, guess(10.0, 0.5, "no burst time printed: 10 s assumed"))


def burst_time_constant_s(continuous_a: float, burst_a: float, seconds: float) -> float:
    """Time constant of the one-body heating that a burst rating describes [s].

    The rise goes with I^2; held at the continuous current it settles at the ceiling, at the burst current it is there
    after ``seconds`` from cold: Ic^2 = Ib^2 (1 - exp(-t / tau)), solved for tau. Infinite for a burst that is no
    larger than the continuous rating.

    Examples
    --------
    >>> round(burst_time_constant_s(120.0, 160.0, 10.0), 2)
    12.1
    """
    if burst_a <= continuous_a:
        return math.inf
    return -seconds / math.log(1.0 - (continuous_a / burst_a) ** 2)


def current_for_seconds_a(continuous_a: float, tau_s: float, seconds: float) -> float:
    """Current that brings a cold controller to its ceiling in some seconds [A]; the inverse of the above."""
    if math.isinf(tau_s):
        return continuous_a
    return continuous_a / math.sqrt(1.0 - math.exp(-seconds / tau_s))


def timing_factors(controller: Controller) -> tuple[Value, Value]:
    """Factors on KV and on the no-load current [1] for a timing; 1 where none is set.

    A printed KV is taken to hold at 15 deg; each degree more gives 0.4 % of KV and 2 % of no-load current (common
    practice, no source).
    """
    if controller.timing_deg is None:
        return Value(value=1.0), Value(value=1.0)
    ahead = controller.timing_deg.value - 15.0
    why = f"timing of {controller.timing_deg.value:g} deg, {ahead:+g} from the usual 15"
    return guess(1.0 + 0.004 * ahead, 0.01, why), guess(1.0 + 0.02 * ahead, 0.1, why)


def receiver_load(controller: Controller, pack_v: float) -> tuple[float, float]:
    """Current out of the pack [A] and heat in the controller [W] for receiver and servo.

    A linear BEC burns what it takes off the voltage; a switching one is taken to 85 % (common practice, no source).
    """
    if controller.supply is Supply.SEPARATE:
        return 0.0, 0.0
    if controller.supply is Supply.LINEAR:
        amps = RECEIVER_W / RECEIVER_V
        return amps, amps * max(pack_v - RECEIVER_V, 0.0)
    return RECEIVER_W / 0.85 / pack_v, RECEIVER_W * (1 / 0.85 - 1)
