"""The coupled operating point at steady full throttle.

Everything is explicit in the advance coefficient J = V / (n D). At a given J the torque balance

    eta_s Kt ((U - n / KV) / R - I0 (1/2 + n / 2 n0)) = KQ(J) rho n^2 D^5

is a quadratic in the shaft speed n; with n the boat's speed is V = J n D, and what remains is one equation,

    KT(J) rho n^2 D^4 = resistance(V),

whose first crossing from rest is where a boat that accelerates from a standstill ends up.
"""

import dataclasses
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kunstflug.core import hull, motor
from kunstflug.core.drive import kernel
from kunstflug.core.drive.parameters import DriveParameters
from kunstflug.core.propeller import OpenWaterCurve, seam
from kunstflug.core.values import Floats


@dataclass(frozen=True, slots=True, kw_only=True)
class DriveState:
    """The whole drive at given advance coefficients; every field of one broadcast shape."""

    advance: Floats  # J [1]
    speed_mps: Floats
    shaft_rps: Floats
    current_a: Floats
    no_load_a: Floats
    motor_torque_nm: Floats
    propeller_torque_nm: Floats
    thrust_n: Floats
    resistance_n: Floats


@dataclass(frozen=True, slots=True, kw_only=True)
class OperatingPoint:
    """Where thrust meets resistance, with every power by name [W]; floats or arrays of one shape."""

    speed_mps: Floats
    rpm: Floats
    free_rpm: Floats
    slip: Floats
    advance: Floats
    current_a: Floats  # out of the pack
    motor_current_a: Floats
    throttle: Floats  # part of the voltage the motor sees; below 1 where a bus limit is set and reached
    pack_voltage_v: Floats
    motor_voltage_v: Floats
    electrical_power_w: Floats  # out of the pack's terminals
    shaft_power_w: Floats  # out of the motor
    thrust_n: Floats
    resistance_n: Floats
    torque_nm: Floats
    immersed: Floats  # part of the turn in the water
    side_force_n: Floats  # of the propeller, towards the side its lower blades move to
    propeller_efficiency: Floats
    motor_efficiency: Floats
    volume_froude: Floats
    planes: Floats  # 1 where the boat is past its hump, else 0
    pack_loss_w: Floats
    wiring_loss_w: Floats
    controller_loss_w: Floats
    copper_loss_w: Floats
    no_load_loss_w: Floats
    shaft_loss_w: Floats
    propeller_loss_w: Floats
    useful_power_w: Floats  # thrust x speed
    chemical_power_w: Floats  # open-circuit voltage x current

    @property
    def losses_w(self) -> Floats:
        """All losses added up [W]; with the useful power they make the chemical power."""
        return (
            self.pack_loss_w
            + self.wiring_loss_w
            + self.controller_loss_w
            + self.copper_loss_w
            + self.no_load_loss_w
            + self.shaft_loss_w
            + self.propeller_loss_w
        )


def total_resistance_ohm(p: DriveParameters) -> Floats:
    """Resistance of the whole electrical line [ohm], winding at its temperature."""
    return (
        p.pack_resistance_ohm
        + p.wiring_resistance_ohm
        + p.controller_resistance_ohm
        + motor.copper_resistance_ohm(p.winding_resistance_ohm, p.winding_c)
    )


def hull_resistance_n(p: DriveParameters, speed_mps: Floats, lift_n: Floats = 0.0) -> Floats:
    """Resistance of the boat at a speed [N]: running surfaces, appendages, air.

    ``lift_n`` is the propeller's lift, which takes weight off the running surfaces (to 70 % of it at the most).
    """
    froude = hull.volume_froude(speed_mps, p.mass_kg, p.water_kg_m3)
    ratio = hull.running_drag_ratio(froude, p.planing_drag_ratio, p.hump_drag_ratio)
    return (
        hull.carried_n(p.mass_kg, lift_n) * ratio
        + hull.appendage_drag_n(speed_mps, p.appendage_area_m2, p.water_kg_m3)
        + hull.air_drag_n(speed_mps, p.headwind_mps, p.air_drag_area_m2, p.air_kg_m3)
    )


def immersed_at(p: DriveParameters, advance: Floats) -> Floats:
    """Part of the turn in the water [1] at advance coefficients J.

    The hull's rise goes with speed, the propeller's curve with J. An electric drive holds its speed of turning, so the
    speed that belongs to a J is taken at 0.85 of free rpm: that moves the seam a little, and keeps all explicit in J.
    """
    turns = seam.REFERENCE_TURNS * p.kv_rpm_per_v * p.kv_factor * p.pack_ocv_v / 60
    froude = hull.volume_froude(advance * turns * p.diameter_m, p.mass_kg, p.water_kg_m3)
    return seam.immersed_part(froude, p.immersion)


def state_at_advance(p: DriveParameters, curve: OpenWaterCurve, advance: Floats) -> DriveState:
    """The drive in torque balance at advance coefficients J [1], whether or not thrust meets resistance."""
    kv = p.kv_rpm_per_v * p.kv_factor
    immersed = immersed_at(p, advance) if curve.ventilated else p.immersion
    kt, kq = curve.coefficients(advance / p.pitch_factor, p.blade_area, immersed, p.blade_friction)
    torque_constant = motor.torque_constant_nm_per_a(kv)
    line_ohm = total_resistance_ohm(p)
    # a n^2 + b n - c = 0 in n [1/s]
    a = kq * p.water_kg_m3 * p.diameter_m**5 / p.shaft_efficiency
    b = torque_constant * 60 * (1 / (kv * line_ohm) + 0.5 * p.no_load_current_a / p.no_load_rpm)
    c = torque_constant * (p.pack_ocv_v / line_ohm - 0.5 * p.no_load_current_a)
    shaft_rps = 2 * c / (b + np.sqrt(np.maximum(b**2 + 4 * a * c, 0.0)))
    rpm = 60 * shaft_rps
    current_a = (p.pack_ocv_v - rpm / kv) / line_ohm
    no_load_a = motor.no_load_current_a(rpm, p.no_load_current_a, p.no_load_rpm)
    speed_mps = advance * shaft_rps * p.diameter_m
    thrust_n = kt * p.water_kg_m3 * shaft_rps**2 * p.diameter_m**4
    return DriveState(
        advance=advance,
        speed_mps=speed_mps,
        shaft_rps=shaft_rps,
        current_a=current_a,
        no_load_a=no_load_a,
        motor_torque_nm=torque_constant * (current_a - no_load_a),
        propeller_torque_nm=kq * p.water_kg_m3 * shaft_rps**2 * p.diameter_m**5,
        thrust_n=thrust_n,
        resistance_n=hull_resistance_n(p, speed_mps, p.lift_ratio * thrust_n),
    )


_NAMES = tuple(DriveParameters.__dataclass_fields__)


def _from_rows(rows: tuple[npt.NDArray[np.float64], ...]) -> DriveParameters:
    return DriveParameters(**dict(zip(_NAMES, rows, strict=True)))


def _rows(p: DriveParameters, count: int) -> tuple[npt.NDArray[np.float64], ...]:
    """Every parameter as an array of shape (count,), in field order."""
    flat = (np.asarray(getattr(p, name), dtype=float).reshape(-1) for name in _NAMES)
    return tuple(column if column.size == count else np.full(count, column[0]) for column in flat)


def first_crossing(p: DriveParameters, curve: OpenWaterCurve) -> npt.NDArray[np.float64]:
    """Advance coefficient J at which thrust first meets resistance when accelerating from rest.

    Returns
    -------
    Shape (N,), N the broadcast size of the parameters. With no headwind thrust exceeds resistance at rest, so
    there is always one; NaN where the boat is pushed backwards from the start.
    """
    count = np.broadcast(*(np.asarray(getattr(p, name)) for name in _NAMES)).size
    rows = np.column_stack(_rows(p, count))
    return kernel.crossings(rows, np.zeros(count, dtype=np.int64), (curve,))


def operating_point(p: DriveParameters, curve: OpenWaterCurve) -> OperatingPoint:
    """The drive where thrust first meets resistance.

    Parameters
    ----------
    p : floats, or arrays that broadcast to N cases in all.
    curve : open-water curve of the propeller that all cases share.

    Returns
    -------
    Floats for one case, else arrays of shape (N,).
    """
    advance = first_crossing(p, curve)
    rows = _rows(p, advance.size)
    if np.any(np.isfinite(np.asarray(p.bus_limit_a)) | np.isfinite(np.asarray(p.phase_limit_a))):
        return _limited(_from_rows(rows), curve, advance)
    if advance.size > 1:
        return point_at(_from_rows(rows), curve, advance)
    alone = DriveParameters(**dict(zip(_NAMES, (float(r[0]) for r in rows), strict=True)))
    return point_at(alone, curve, float(advance[0]))


def at_throttle(p: DriveParameters, throttle: Floats) -> DriveParameters:
    """The electrical line that a motor sees at part throttle.

    The motor sees its part of the voltage; bus current = throttle x motor current, so what lies before the controller
    counts with the throttle squared (synchronous half bridge, averaged).
    """
    supply = p.pack_resistance_ohm + p.wiring_resistance_ohm
    return dataclasses.replace(
        p,
        pack_ocv_v=p.pack_ocv_v * throttle,
        pack_resistance_ohm=supply * np.asarray(throttle) ** 2,
        wiring_resistance_ohm=0.0 * np.asarray(throttle),
    )


def _limited(p: DriveParameters, curve: OpenWaterCurve, advance: npt.NDArray[np.float64]) -> OperatingPoint:
    """Points whose bus or phase current a controller holds at its limit, by bisection on the throttle it gives."""
    over = _over_limit(p, point_at(p, curve, advance))
    low, high = np.where(over, 0.05, 1.0), np.ones_like(advance)
    if over.any():
        for _ in range(30):
            tried = (low + high) / 2
            at = first_crossing(at_throttle(p, tried), curve)
            too_much = _over_limit(p, point_at(p, curve, at, tried))
            low, high = np.where(over & ~too_much, tried, low), np.where(over & too_much, tried, high)
        advance = np.where(over, first_crossing(at_throttle(p, low), curve), advance)
    found = point_at(p, curve, advance, np.where(over, low, 1.0))
    if advance.size > 1:
        return found
    alone = {f.name: float(np.asarray(getattr(found, f.name)).reshape(-1)[0]) for f in dataclasses.fields(found)}
    return OperatingPoint(**alone)


def _over_limit(p: DriveParameters, point: OperatingPoint) -> npt.NDArray[np.bool_]:
    """Where a set limit is passed. At full throttle bus and phase current are one; below it the phase has more."""
    bus = np.asarray(point.current_a) > np.asarray(p.bus_limit_a)
    return bus | (np.asarray(point.motor_current_a) > np.asarray(p.phase_limit_a))


def point_at(p: DriveParameters, curve: OpenWaterCurve, advance: Floats, throttle: Floats = 1.0) -> OperatingPoint:
    """Every result by name for a drive at advance coefficients J [1] and a throttle [1]."""
    s = state_at_advance(at_throttle(p, throttle) if np.any(np.asarray(throttle) != 1.0) else p, curve, advance)
    bus_a = s.current_a * throttle
    rpm = 60 * s.shaft_rps
    omega = 2 * np.pi * s.shaft_rps
    copper_ohm = motor.copper_resistance_ohm(p.winding_resistance_ohm, p.winding_c)
    pack_voltage_v = p.pack_ocv_v - bus_a * p.pack_resistance_ohm
    motor_voltage_v = (
        throttle * (pack_voltage_v - bus_a * p.wiring_resistance_ohm) - s.current_a * p.controller_resistance_ohm
    )
    shaft_power_w = s.motor_torque_nm * omega
    propeller_power_w = s.propeller_torque_nm * omega
    useful_w = s.thrust_n * s.speed_mps
    # Energy per time by names: the back-EMF times current is what crosses from copper to iron and shaft.
    emf_v = rpm / (p.kv_rpm_per_v * p.kv_factor)
    immersed = immersed_at(p, advance) if curve.ventilated else p.immersion + 0.0 * advance
    froude = hull.volume_froude(s.speed_mps, p.mass_kg, p.water_kg_m3)
    return OperatingPoint(
        speed_mps=s.speed_mps,
        rpm=rpm,
        free_rpm=p.kv_rpm_per_v * p.kv_factor * p.pack_ocv_v,
        slip=1 - s.speed_mps / (s.shaft_rps * p.pitch_m),
        advance=advance,
        current_a=bus_a,
        motor_current_a=s.current_a,
        throttle=throttle + 0.0 * np.asarray(advance),
        pack_voltage_v=pack_voltage_v,
        motor_voltage_v=motor_voltage_v,
        electrical_power_w=pack_voltage_v * bus_a,
        shaft_power_w=shaft_power_w,
        thrust_n=s.thrust_n,
        resistance_n=s.resistance_n,
        torque_nm=s.motor_torque_nm,
        immersed=immersed,
        side_force_n=s.propeller_torque_nm / (0.35 * p.diameter_m) * seam.side_factor(immersed),
        propeller_efficiency=useful_w / propeller_power_w,
        motor_efficiency=shaft_power_w / (motor_voltage_v * s.current_a),
        volume_froude=froude,
        planes=np.where(froude >= hull.PLANING_FROUDE, 1.0, 0.0),
        pack_loss_w=bus_a**2 * p.pack_resistance_ohm,
        wiring_loss_w=bus_a**2 * p.wiring_resistance_ohm,
        controller_loss_w=s.current_a**2 * p.controller_resistance_ohm,
        copper_loss_w=s.current_a**2 * copper_ohm,
        no_load_loss_w=emf_v * s.no_load_a,
        shaft_loss_w=shaft_power_w * (1 - p.shaft_efficiency),
        propeller_loss_w=propeller_power_w - useful_w,
        useful_power_w=useful_w,
        chemical_power_w=p.pack_ocv_v * bus_a,
    )
