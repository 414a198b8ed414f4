"""The one balance of the drive, compiled: torque, and thrust against resistance.

Everything is explicit in the advance coefficient J = V / (n D). At a given J the torque balance

    eta_s Kt ((U - n / KV) / R - I0 (1/2 + n / 2 n0)) = KQ(J) rho n^2 D^5

is a quadratic in the shaft speed n; with n the boat's speed is V = J n D, and what remains is one equation,

    KT(J) rho n^2 D^4 = resistance(V),

whose first crossing from rest is where a boat that accelerates from a standstill ends up; at the hump, which gust and
trim may carry it over, somewhere between there and the plane. Every forecast, sweep, curve and table comes from here;
the laws are the components' own functions, compiled into these kernels.
"""

import math
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.laws.attitude import left_to_bottom, running_by_stern, wetted_by_stern
from kunstflug.core.laws.electric import (
    copper_resistance_ohm,
    electrical_rpm,
    no_load_current_a,
    torque_constant_nm_per_a,
)
from kunstflug.core.laws.jit import jitable, kept
from kunstflug.core.laws.resistance import (
    GRAVITY_MPS2,
    PLANING_FROUDE,
    air_drag_n,
    air_lift_n,
    appendage_drag_n,
    carried_n,
    running_drag_ratio,
    volume_froude,
    wetted_area_m2,
)
from kunstflug.core.laws.shares import in_shares
from kunstflug.core.propeller import Curves
from kunstflug.core.propeller.curve import coefficients_at
from kunstflug.core.propeller.seam import REFERENCE_TURNS, immersed_part, side_factor
from kunstflug.core.quantity.value import Array

USABLE: Final = 0.80  # part of the capacity that is used before landing (common practice, no source)
SIDE_RADIUS: Final = 0.35  # 0.7 R over the diameter, where a blade's force is taken to act
LEAST_THROTTLE: Final = 0.05
HUMP_WIDTH: Final = 0.2  # of the resistance, either side of which the hump holds a boat or does not
HUMP_BEHIND: Final = 12.0  # volume Froude number past which no hump is looked for: heavy boats run wet for long
PIECES: Final = 4  # of each stretch of the curve, where the hump may hold a boat
POINTS_A_SHARE: Final = 200  # a thread costs more than it saves below so many points
STATES_A_SHARE: Final = 4000  # the same for states

# Fractions of the curve, from rest to zero thrust, between which the first crossing is looked for; closer together
# at low speed, where the hump is narrow.
_u = np.linspace(0.0, 1.0, 27)
GRID: Final[Array] = 0.3 * _u + 0.7 * _u**2


@jitable
def _line_ohm(p: Any, throttle: float) -> float:
    """Resistance of the line a motor sees [ohm].

    The motor sees its part of the voltage; bus current = throttle x motor current, so what lies before the controller
    counts with the throttle squared (synchronous half bridge, averaged).
    """
    supply = (p.pack_resistance_ohm + p.wiring_resistance_ohm) * throttle * throttle
    return supply + p.controller_resistance_ohm + copper_resistance_ohm(p.winding_resistance_ohm, p.winding_c)


@jitable
def _froude_1(p: Any) -> Any:
    """Volume Froude number at 1 m/s [s/m]: worked out once for a drive, used at every speed."""
    return volume_froude(1.0, p.mass_kg, p.water_kg_m3)


@jitable
def _immersed(p: Any, j: float, throttle: float, seam_pitch: float, froude_1: float) -> Any:
    """Part of the turn in the water [1].

    The hull's rise goes with speed, the propeller's curve with J. An electric drive holds its speed of turning, so the
    speed that belongs to a J is taken at 0.85 of free rpm: that moves the seam a little, and keeps all explicit in J.
    """
    if seam_pitch < 0.0:
        return p.immersion
    turns = REFERENCE_TURNS * p.kv_rpm_per_v * p.kv_factor * p.pack_ocv_v * throttle / 60
    return immersed_part(froude_1 * j * turns * p.diameter_m, p.immersion, p.rise_froude)


@jitable
def _resistance_n(p: Any, speed: float, lift_n: float, froude_1: float) -> Any:
    """Resistance of the boat [N]: what carries and runs wet, less the lift of propeller and air; hardware; air."""
    froude = froude_1 * speed
    left = left_to_bottom(p.trims_freely * lift_n / (p.mass_kg * GRAVITY_MPS2))
    on_plane = p.planing_drag_ratio * running_by_stern(left, p.pressure_share)
    ratio = running_drag_ratio(froude, on_plane, p.hump_drag_ratio)
    carried = carried_n(p.mass_kg, lift_n + air_lift_n(speed, p.headwind_mps, p.air_lift_area_m2, p.air_kg_m3))
    volume = carried / (GRAVITY_MPS2 * p.water_kg_m3)
    wet = wetted_area_m2(volume, froude, p.wetted_factor * wetted_by_stern(left), p.wetted_exponent)
    return p.discrepancy * (
        carried * ratio
        + appendage_drag_n(speed, p.appendage_area_m2 + wet, p.water_kg_m3)
        + air_drag_n(speed, p.headwind_mps, p.air_drag_area_m2, p.air_kg_m3)
    )


@jitable
def _state(
    p: Any, j: float, throttle: float, cubics: Array, step: float, seam_pitch: float, froude_1: float
) -> tuple[float, float, float, float, float, float, float]:
    """Torque balance at J: speed [m/s], turns [1/s], motor current [A], thrust, resistance [N], propeller torque [Nm],
    immersed part [1].
    """
    kv = p.kv_rpm_per_v * p.kv_factor
    immersed = _immersed(p, j, throttle, seam_pitch, froude_1)
    kt, kq = coefficients_at(
        j / p.pitch_factor, cubics, step, seam_pitch, p.blade_area, immersed, p.blade_friction, p.water_at_rest
    )
    kt, kq = kt * p.thrust_part, kq * p.torque_part
    # Of the torque, kt J / 2 pi pushes the boat; the rest is lost, and how much that is, is known worst.
    kq += (p.propeller_losses - 1.0) * max(kq - kt * j / (2 * math.pi), 0.0)
    constant, line, volts, d = (
        torque_constant_nm_per_a(kv),
        _line_ohm(p, throttle),
        p.pack_ocv_v * throttle,
        p.diameter_m,
    )
    # a n^2 + b n - c = 0 in n [1/s]
    a = kq * p.water_kg_m3 * d**5 / p.shaft_efficiency
    b = constant * 60 * (1 / (kv * line) + 0.5 * p.no_load_current_a / p.no_load_rpm)
    c = constant * (volts / line - 0.5 * p.no_load_current_a)
    n = 2 * c / (b + math.sqrt(max(b * b + 4 * a * c, 0.0)))
    speed = j * n * d
    thrust = kt * p.water_kg_m3 * n * n * d**4
    resistance = _resistance_n(p, speed, p.lift_ratio * thrust, froude_1)
    return speed, n, (volts - 60 * n / kv) / line, thrust, resistance, kq * p.water_kg_m3 * n * n * d**5, immersed


@jitable
def _surplus(
    p: Any, j: float, throttle: float, cubics: Array, step: float, seam_pitch: float, froude_1: float
) -> float:
    """Thrust less resistance at J [N]."""
    _, _, _, thrust, resistance, _, _ = _state(p, j, throttle, cubics, step, seam_pitch, froude_1)
    return thrust - resistance


@jitable
def _chance(margin: float) -> Any:
    """Chance to get past a place [1] where thrust has so much over the resistance, at least [1].

    Gust, wave and trim carry a boat over that lacks a little, and hold one that has little to spare. How much of the
    resistance that is, is common practice, no source.
    """
    x = min(max(0.5 + 0.5 * margin / HUMP_WIDTH, 0.0), 1.0)
    return x * x * x * (x * (6.0 * x - 15.0) + 10.0)


@jitable
def _chances_up_to(margin: float) -> Any:
    """The chance, added up over all margins below one [1]."""
    x = min(max(0.5 + 0.5 * margin / HUMP_WIDTH, 0.0), 1.0)
    inside = x * x * x * x * (x * (x - 3.0) + 2.5)
    return 2.0 * HUMP_WIDTH * inside + max(margin - HUMP_WIDTH, 0.0)


@jitable
def _mean_chance(first: float, last: float) -> Any:
    """Mean chance over a stretch on which the margin goes evenly from one to another [1]."""
    if abs(first - last) < 1e-6:
        return _chance(0.5 * (first + last))
    return (_chances_up_to(first) - _chances_up_to(last)) / (first - last)


@jitable
def _crossing(
    p: Any, throttle: float, cubics: Array, step: float, seam_pitch: float, grid: Array
) -> tuple[float, float]:
    """J at which the boat ends up from rest, NaN where thrust never falls to the resistance; and the chance to plane.

    That is where thrust first falls to the resistance. Where it comes near to that on the way, at the hump and as long
    as the boat runs wet behind it, it is the mean over what gust and trim add or take: J, summed over the chance to get
    past each place.
    """
    froude_1 = _froude_1(p)
    end = step * cubics.shape[1] * p.pitch_factor
    mean, least, behind, plane = 0.0, math.inf, -math.inf, -math.inf
    j1, f1, r1, n1 = 0.0, 0.0, math.inf, 0.0  # the place before
    cross = (0.0, 0.0, 0.0, 0.0)  # the two places between which thrust falls to the resistance, and what it has there
    for k in range(grid.shape[0]):
        j = grid[k] * end
        ratio, froude, newton = _over(p, j, throttle, cubics, step, seam_pitch, froude_1)
        behind = _margin_at(HUMP_BEHIND, f1, r1, froude, ratio, least, behind)
        plane = _margin_at(PLANING_FROUDE, f1, r1, froude, ratio, least, plane)
        if r1 > 0.0 >= ratio and cross[2] == 0.0:
            cross = (j1, n1, j, newton)
        if behind >= 2.0 * HUMP_WIDTH:  # nothing held it: what is summed is not needed
            if ratio <= 0.0:
                break
        elif k > 0:
            more, least = _passed(p, throttle, cubics, step, seam_pitch, froude_1, j1, j, least, ratio)
            mean += more
            if least <= -HUMP_WIDTH:
                break
        j1, f1, r1, n1 = j, froude, ratio, newton
    if cross[2] == 0.0:
        return math.nan, 0.0
    free = _chance(2.0 * behind - 3.0 * HUMP_WIDTH)
    if free == 0.0:
        return mean, _chance(plane)
    # Past all that might hold it, it is where thrust equals the resistance; between, one goes over into the other.
    at = _between(p, throttle, cubics, step, seam_pitch, froude_1, cross[0], cross[1], cross[2], cross[3])
    return at if free == 1.0 else (1.0 - free) * mean + free * at, _chance(plane)


@jitable
def _margin_at(
    limit: float, f1: float, r1: float, froude: float, ratio: float, least: float, otherwise: float
) -> float:
    """What thrust had least over the resistance up to a Froude number, where it lies between two places."""
    if f1 < limit <= froude:
        return min(least, r1 + (limit - f1) / (froude - f1) * (ratio - r1))
    return otherwise


@jitable
def _passed(
    p: Any,
    throttle: float,
    cubics: Array,
    step: float,
    seam_pitch: float,
    froude_1: float,
    low: float,
    high: float,
    least: float,
    ratio: float,
) -> tuple[float, float]:
    """J between two places, summed over the chance to get past each; and the least that thrust had up to the second."""
    if min(least, ratio) >= HUMP_WIDTH:
        return high - low, min(least, ratio)
    summed = 0.0
    for i in range(1, PIECES + 1):
        at = low + i / PIECES * (high - low)
        here = ratio if i == PIECES else _over(p, at, throttle, cubics, step, seam_pitch, froude_1)[0]
        lower = min(least, here)
        summed, least = summed + _mean_chance(min(least, 10.0), lower) * (high - low) / PIECES, lower
    return summed, least


@jitable
def _over(
    p: Any, j: float, throttle: float, cubics: Array, step: float, seam_pitch: float, froude_1: float
) -> tuple[float, float, float]:
    """What thrust has over the resistance, over that [1], volume Froude number [1], and the same in newton, at J."""
    speed, _, _, thrust, resistance, _, _ = _state(p, j, throttle, cubics, step, seam_pitch, froude_1)
    return (thrust - resistance) / max(resistance, 1e-9), froude_1 * speed, thrust - resistance


@jitable
def _between(
    p: Any,
    throttle: float,
    cubics: Array,
    step: float,
    seam_pitch: float,
    froude_1: float,
    low: float,
    f_low: float,
    high: float,
    f_high: float,
) -> float:
    """J at which thrust falls to the resistance, between two: regula falsi with the Illinois step [dowell1971]."""
    for _ in range(60):
        x = (low * f_high - high * f_low) / (f_high - f_low) if f_high != f_low else high
        fx = _surplus(p, x, throttle, cubics, step, seam_pitch, froude_1)
        if (fx > 0) != (f_high > 0):
            low, f_low = high, f_high
        else:
            f_low = 0.5 * f_low
        moved = abs(x - high)
        high, f_high = x, fx
        if fx == 0.0 or moved <= 1e-12 * abs(x):
            break
    return high


@jitable
def _over_limit(p: Any, j: float, throttle: float, cubics: Array, step: float, seam_pitch: float) -> bool:
    """Whether a limit that is set in the controller is passed. At full throttle bus and phase current are one."""
    if not math.isfinite(j):
        return False
    current = _state(p, j, throttle, cubics, step, seam_pitch, _froude_1(p))[2]
    return current * throttle > p.bus_limit_a or current > p.phase_limit_a


@jitable
def _held(p: Any, cubics: Array, step: float, seam_pitch: float, grid: Array) -> tuple[float, float, float]:
    """J, chance to plane and throttle that the controller allows; bisection on that where it holds a current."""
    full = p.full_throttle
    j, chance = _crossing(p, full, cubics, step, seam_pitch, grid)
    if not _over_limit(p, j, full, cubics, step, seam_pitch):
        return j, chance, full
    low, high = LEAST_THROTTLE, full
    for _ in range(30):
        tried = (low + high) / 2
        at, _ = _crossing(p, tried, cubics, step, seam_pitch, grid)
        if _over_limit(p, at, tried, cubics, step, seam_pitch):
            high = tried
        else:
            low = tried
    j, chance = _crossing(p, low, cubics, step, seam_pitch, grid)
    return j, chance, low


@jitable
def _fill(o: Any, p: Any, j: float, throttle: float, cubics: Array, step: float, seam_pitch: float) -> None:
    """Every result by name into a record of ``point.POINT``."""
    speed, n, current, thrust, resistance, load_nm, immersed = _state(
        p, j, throttle, cubics, step, seam_pitch, _froude_1(p)
    )
    kv, rpm, omega, bus = p.kv_rpm_per_v * p.kv_factor, 60 * n, 2 * math.pi * n, current * throttle
    idle = no_load_current_a(rpm, p.no_load_current_a, p.no_load_rpm)
    o.speed_mps, o.rpm, o.free_rpm, o.advance, o.throttle = speed, rpm, kv * p.pack_ocv_v * p.full_throttle, j, throttle
    o.slip = 1 - speed / (n * p.pitch_m)
    o.current_a, o.motor_current_a = bus, current
    o.pack_voltage_v = p.pack_ocv_v - bus * p.pack_resistance_ohm
    o.weak_cell_v = (p.pack_ocv_v - bus * p.pack_resistance_ohm * p.weak_cell) / p.cells
    o.cells = p.cells
    o.motor_voltage_v = (
        throttle * (o.pack_voltage_v - bus * p.wiring_resistance_ohm) - current * p.controller_resistance_ohm
    )
    o.electrical_power_w, o.motor_power_w = o.pack_voltage_v * bus, o.motor_voltage_v * current
    o.torque_nm = torque_constant_nm_per_a(kv) * (current - idle)
    o.shaft_power_w, o.electrical_rpm = o.torque_nm * omega, electrical_rpm(rpm, p.poles)
    o.thrust_n, o.resistance_n, o.immersed = thrust, resistance, immersed
    o.side_force_n = load_nm / (SIDE_RADIUS * p.diameter_m) * side_factor(immersed)
    o.useful_power_w = thrust * speed
    o.propeller_efficiency = o.useful_power_w / (load_nm * omega)
    o.motor_efficiency = o.shaft_power_w / o.motor_power_w
    o.volume_froude = volume_froude(speed, p.mass_kg, p.water_kg_m3)
    o.endurance_s = USABLE * p.pack_ah * 3600.0 / max(bus, 1e-3)
    o.pack_loss_w, o.wiring_loss_w = bus * bus * p.pack_resistance_ohm, bus * bus * p.wiring_resistance_ohm
    o.controller_loss_w = current * current * p.controller_resistance_ohm
    o.copper_loss_w = current * current * copper_resistance_ohm(p.winding_resistance_ohm, p.winding_c)
    # The back-EMF times current is what crosses from copper to iron and shaft.
    o.no_load_loss_w, o.shaft_loss_w = rpm / kv * idle, o.shaft_power_w * (1 - p.shaft_efficiency)
    o.propeller_loss_w, o.chemical_power_w = load_nm * omega - o.useful_power_w, p.pack_ocv_v * bus


@kept
def _one(p: Any, which: int, cubics: Array, steps: Array, pitches: Array, grid: Array, o: Any) -> None:
    j, chance, throttle = _held(p, cubics[which], steps[which], pitches[which], grid)
    _fill(o, p, j, throttle, cubics[which], steps[which], pitches[which])
    o.planes = chance


@kept
def _points(rows: Any, which: Any, cubics: Array, steps: Array, pitches: Array, grid: Array, out: Any) -> None:
    for k in range(rows.shape[0]):
        _one(rows[k], which[k], cubics, steps, pitches, grid, out[k])


def points(
    rows: npt.NDArray[np.void], which: npt.NDArray[np.int64], curves: Curves, out: npt.NDArray[np.void]
) -> npt.NDArray[np.void]:
    """Operating points of many drives into ``out``, see ``point.solve``."""

    def share(at: slice) -> None:
        _points(rows[at], which[at], curves.cubics, curves.steps, curves.seam_pitches, GRID, out[at])

    in_shares(len(rows), POINTS_A_SHARE, share)
    return out


@dataclass(frozen=True, slots=True, kw_only=True)
class States:
    """Drives at given advance coefficients; arrays of shape (N, G)."""

    speed_mps: Array
    shaft_rps: Array
    current_a: Array  # the motor's
    thrust_n: Array


@kept
def _states(
    rows: Any, cubics: Array, step: float, seam_pitch: float, throttle: Array, j: Array, speed: Array, turns: Array,
    current: Array, thrust: Array,
) -> None:  # fmt: skip
    for k in range(j.shape[0]):
        froude_1 = _froude_1(rows[k])
        for g in range(j.shape[1]):
            found = _state(rows[k], j[k, g], throttle[k], cubics, step, seam_pitch, froude_1)
            speed[k, g], turns[k, g], current[k, g], thrust[k, g] = found[:4]


def states(rows: npt.NDArray[np.void], curves: Curves, throttle: Array, j: Array) -> States:
    """Drives in torque balance at J of shape (N, G), all with the first curve; see ``point.states``."""
    out = States(
        speed_mps=np.empty(j.shape),
        shaft_rps=np.empty(j.shape),
        current_a=np.empty(j.shape),
        thrust_n=np.empty(j.shape),
    )
    step, seam = curves.steps[0], curves.seam_pitches[0]

    def share(at: slice) -> None:
        _states(
            rows[at], curves.cubics[0], step, seam, throttle[at], j[at], out.speed_mps[at], out.shaft_rps[at],
            out.current_a[at], out.thrust_n[at],
        )  # fmt: skip

    in_shares(len(j), STATES_A_SHARE // j.shape[1] + 1, share)
    return out


@kept
def _resistances(rows: Any, speed: Array, out: Array) -> None:
    for k in range(speed.shape[0]):
        froude_1 = _froude_1(rows[k])
        for g in range(speed.shape[1]):
            out[k, g] = _resistance_n(rows[k], speed[k, g], 0.0, froude_1)


def resistances(rows: npt.NDArray[np.void], speed_mps: Array) -> Array:
    """Resistance [N] of boats at speeds of shape (N, G), see ``point.resistance_n``."""
    out = np.empty_like(speed_mps)
    _resistances(rows, speed_mps, out)
    return out
