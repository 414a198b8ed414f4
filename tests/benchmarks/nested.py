"""The plain way to an operating point: speed outside, shaft speed inside, a scalar root-finder both times."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from types import SimpleNamespace

import numpy as np
from scipy.optimize import brentq

from kunstflug.core.drive.rows import Rows
from kunstflug.core.propeller import OpenWaterCurve


@dataclass(frozen=True)
class NestedLaws:
    """Of one drive: thrust less drag [N] and turns [1/s] at a speed, and the speed where the curve ends [m/s]."""

    surplus_n: Callable[[float], float]
    shaft_rps: Callable[[float], float]
    end_mps: float


def nested_operating_point(rows: Rows, curve: OpenWaterCurve, k: int = 0) -> tuple[float, float]:
    """Speed [m/s] and rpm: the first crossing from rest."""
    laws = nested_laws(rows, curve, k)
    grid = np.linspace(0.0, 0.97 * laws.end_mps, 40)
    low = 0.0
    for high in grid[1:]:
        if laws.surplus_n(high) <= 0:
            speed = brentq(laws.surplus_n, low, high, xtol=1e-9, rtol=1e-9)
            return speed, 60 * laws.shaft_rps(speed)
        low = high
    return math.nan, math.nan


def nested_laws(rows: Rows, curve: OpenWaterCurve, k: int = 0) -> NestedLaws:
    """Written out on its own from the equations in docs/model.md; shares only the curve."""
    p = SimpleNamespace(**{name: float(rows[name][k]) for name in rows.dtype.names})
    line = (
        p.pack_resistance_ohm
        + p.wiring_resistance_ohm
        + p.controller_resistance_ohm
        + p.winding_resistance_ohm * (235 + p.winding_c) / 255
    )
    kv = p.kv_rpm_per_v * p.kv_factor
    torque_constant = 60 / (2 * math.pi * kv)
    froude_speed = math.sqrt(9.80665 * (p.mass_kg / p.water_kg_m3) ** (1 / 3))

    def coefficients(j: float) -> tuple[float, float]:
        # the hull rises with the speed that belongs to 0.85 of free rpm
        rising = j * 0.85 * kv * p.pack_ocv_v / 60 * p.diameter_m / froude_speed
        dipped = p.immersion + (1 - p.immersion) * math.exp(-((rising / p.rise_froude) ** 2))
        kt, kq = curve.coefficients(j / p.pitch_factor, p.blade_area, dipped, p.blade_friction, p.water_at_rest)
        kt, kq = p.thrust_part * float(kt), p.torque_part * float(kq)
        useful = j * kt / (2 * math.pi)  # of the torque; the rest is lost
        return kt, kq if kq < useful else useful + p.propeller_losses * (kq - useful)

    def shaft(speed: float) -> float:
        def balance(n: float) -> float:
            current = (p.pack_ocv_v - 60 * n / kv) / line
            idle = p.no_load_current_a * (0.5 + 30 * n / p.no_load_rpm)
            _, kq = coefficients(speed / (n * p.diameter_m))
            load = kq * p.water_kg_m3 * n**2 * p.diameter_m**5
            return p.shaft_efficiency * torque_constant * (current - idle) - load

        top = kv * p.pack_ocv_v / 60
        least = max(speed / (curve.j_end * p.pitch_factor * p.diameter_m), 1e-3 * top)
        return brentq(balance, least, top, xtol=1e-10, rtol=1e-10)

    def surplus(speed: float) -> float:
        n = shaft(speed)
        kt, _ = coefficients(speed / (n * p.diameter_m))
        thrust = kt * p.water_kg_m3 * n**2 * p.diameter_m**4
        froude = speed / froude_speed
        ratio = p.planing_drag_ratio * (1 - math.exp(-((froude / 1.5) ** 2)))
        if froude > 0:
            ratio += p.hump_drag_ratio * math.exp(-((math.log(froude / 1.9) / 0.45) ** 2))
        relative = speed + p.headwind_mps
        weight = p.mass_kg * 9.80665
        wind = max(relative, 0.0)
        carried = max(weight - 0.5 * p.air_kg_m3 * p.air_lift_area_m2 * wind**2, 0.3 * weight)
        wet = p.wetted_factor * (carried / (9.80665 * p.water_kg_m3)) ** (2 / 3)
        wet *= (math.sqrt(froude**2 + 9.0) / 20.0) ** -p.wetted_exponent
        drag = (
            carried * ratio
            + 0.5 * p.water_kg_m3 * (p.appendage_area_m2 + wet) * speed**2
            + 0.5 * p.air_kg_m3 * p.air_drag_area_m2 * relative * abs(relative)
        )
        return thrust - p.discrepancy * drag

    end = curve.j_end * p.pitch_factor * p.diameter_m * kv * p.pack_ocv_v / 60
    return NestedLaws(surplus_n=surplus, shaft_rps=shaft, end_mps=end)
