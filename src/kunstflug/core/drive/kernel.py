"""The crossing of thrust and resistance, compiled: the same laws as everywhere, one case after the other.

numpy evaluates the operating point in a hundred passes over memory; compiled, a case stays in registers. The laws
themselves are not written again: they are the component's own functions, compiled by numba. Only the balance of
``operating_point.state_at_advance`` stands here a second time, and the tests hold the two together.
"""

from collections.abc import Sequence
from typing import Any, Final

import numpy as np
import numpy.typing as npt
from numba import prange

from kunstflug.core import hull, motor
from kunstflug.core.drive.jit import inner, kept, kept_parallel
from kunstflug.core.drive.parameters import DriveParameters
from kunstflug.core.propeller import OpenWaterCurve, seam

Array = npt.NDArray[np.float64]

_NAMES = tuple(DriveParameters.__dataclass_fields__)
_AT = {name: k for k, name in enumerate(_NAMES)}
OCV: Final = _AT["pack_ocv_v"]
R_PACK: Final = _AT["pack_resistance_ohm"]
R_WIRES: Final = _AT["wiring_resistance_ohm"]
R_CONTROLLER: Final = _AT["controller_resistance_ohm"]
KV: Final = _AT["kv_rpm_per_v"]
KV_FACTOR: Final = _AT["kv_factor"]
R_WINDING: Final = _AT["winding_resistance_ohm"]
WINDING_C: Final = _AT["winding_c"]
I0: Final = _AT["no_load_current_a"]
RPM0: Final = _AT["no_load_rpm"]
SHAFT: Final = _AT["shaft_efficiency"]
DIAMETER: Final = _AT["diameter_m"]
PITCH_FACTOR: Final = _AT["pitch_factor"]
AREA: Final = _AT["blade_area"]
IMMERSION: Final = _AT["immersion"]
FRICTION: Final = _AT["blade_friction"]
LIFT: Final = _AT["lift_ratio"]
MASS: Final = _AT["mass_kg"]
PLANING: Final = _AT["planing_drag_ratio"]
HUMP: Final = _AT["hump_drag_ratio"]
APPENDAGE: Final = _AT["appendage_area_m2"]
AIR_AREA: Final = _AT["air_drag_area_m2"]
WIND: Final = _AT["headwind_mps"]
WATER: Final = _AT["water_kg_m3"]
AIR: Final = _AT["air_kg_m3"]

# Fractions of the curve, from rest to zero thrust, between which the first crossing is looked for; closer together
# at low speed, where the hump is narrow.
_u = np.linspace(0.0, 1.0, 33)
GRID: Final[Array] = 0.3 * _u + 0.7 * _u**2

_torque_constant: Any = inner(motor.torque_constant_nm_per_a)
_copper: Any = inner(motor.copper_resistance_ohm)
_froude: Any = inner(hull.volume_froude)
_running: Any = inner(hull.running_drag_ratio)
_appendage: Any = inner(hull.appendage_drag_n)
_air: Any = inner(hull.air_drag_n)
_carried: Any = inner(hull.carried_n)
_immersed: Any = inner(seam.immersed_part)


@kept
def _wetness(immersed: float, slip: float) -> float:
    """``seam.wetness``, written out: compiled code calls no Python function of two levels."""
    a = min(max((immersed - seam.WET_FROM) / (seam.WET_FULL - seam.WET_FROM), 0.0), 1.0)
    b = min(max((slip - seam.LIGHT_SLIP) / (seam.HEAVY_SLIP - seam.LIGHT_SLIP), 0.0), 1.0)
    return a * a * (3.0 - 2.0 * a) * (1.0 - b * b * (3.0 - 2.0 * b))


@kept
def _coefficients(
    j: float, coefs: Array, step: float, seam_pitch: float, area: float, immersed: float, friction: float
) -> tuple[float, float]:
    """KT, KQ from the curve's cubics; see ``OpenWaterCurve.coefficients``."""
    k = min(max(int(j / step), 0), coefs.shape[1] - 1)
    t = j - k * step
    c = coefs[:, k]
    kt_wet = ((c[0, 4] * t + c[1, 4]) * t + c[2, 4]) * t + c[3, 4]
    kq_wet = ((c[0, 5] * t + c[1, 5]) * t + c[2, 5]) * t + c[3, 5]
    if seam_pitch == 0.0:
        return area * kt_wet, area * kq_wet
    kt = ((c[0, 0] * t + c[1, 0]) * t + c[2, 0]) * t + c[3, 0]
    kq = ((c[0, 1] * t + c[1, 1]) * t + c[2, 1]) * t + c[3, 1]
    kt += friction * (((c[0, 2] * t + c[1, 2]) * t + c[2, 2]) * t + c[3, 2])
    kq += friction * (((c[0, 3] * t + c[1, 3]) * t + c[2, 3]) * t + c[3, 3])
    wet = _wetness(immersed, 1.0 - j / seam_pitch)
    dry = (1.0 - wet) * area
    return immersed * (dry * kt + wet * kt_wet), immersed * (dry * kq + wet * kq_wet)


@kept
def _surplus(j: float, p: Array, coefs: Array, step: float, seam_pitch: float) -> float:
    """Thrust less resistance [N] of the drive in torque balance at J; see ``state_at_advance``."""
    kv = p[KV] * p[KV_FACTOR]
    immersed = p[IMMERSION]
    if seam_pitch != 0.0:
        turns = seam.REFERENCE_TURNS * kv * p[OCV] / 60
        immersed = _immersed(_froude(j * turns * p[DIAMETER], p[MASS], p[WATER]), immersed)
    kt, kq = _coefficients(j / p[PITCH_FACTOR], coefs, step, seam_pitch, p[AREA], immersed, p[FRICTION])
    kt_motor = _torque_constant(kv)
    line = p[R_PACK] + p[R_WIRES] + p[R_CONTROLLER] + _copper(p[R_WINDING], p[WINDING_C])
    d = p[DIAMETER]
    a = kq * p[WATER] * d**5 / p[SHAFT]
    b = kt_motor * 60 * (1 / (kv * line) + 0.5 * p[I0] / p[RPM0])
    c = kt_motor * (p[OCV] / line - 0.5 * p[I0])
    n = 2 * c / (b + np.sqrt(max(b * b + 4 * a * c, 0.0)))
    v = j * n * d
    ratio = _running(_froude(v, p[MASS], p[WATER]), p[PLANING], p[HUMP])
    thrust = kt * p[WATER] * n * n * d**4
    resistance = (
        _carried(p[MASS], p[LIFT] * thrust) * ratio
        + _appendage(v, p[APPENDAGE], p[WATER])
        + _air(v, p[WIND], p[AIR_AREA], p[AIR])
    )
    return thrust - resistance


@kept
def _crossing(p: Array, coefs: Array, step: float, seam_pitch: float, grid: Array) -> float:
    """First J at which thrust falls to the resistance; NaN where there is none."""
    end = step * coefs.shape[1] * p[PITCH_FACTOR]
    low, f_low = 0.0, _surplus(0.0, p, coefs, step, seam_pitch)
    high, f_high = 0.0, 0.0
    found = False
    for k in range(1, grid.shape[0]):
        high = grid[k] * end
        f_high = _surplus(high, p, coefs, step, seam_pitch)
        if f_low > 0 and f_high <= 0:
            found = True
            break
        low, f_low = high, f_high
    if not found:
        return np.nan
    # Regula falsi with the Illinois step [dowell1971].
    for _ in range(60):
        x = (low * f_high - high * f_low) / (f_high - f_low) if f_high != f_low else high
        fx = _surplus(x, p, coefs, step, seam_pitch)
        if (fx > 0) != (f_high > 0):
            low, f_low = high, f_high
        else:
            f_low = 0.5 * f_low
        moved = abs(x - high)
        high, f_high = x, fx
        if fx == 0.0 or moved <= 1e-12 * abs(x):
            break
    return high


@kept_parallel
def _crossings_parallel(rows: Array, which: Array, coefs: Array, steps: Array, pitches: Array, grid: Array) -> Array:
    out = np.empty(rows.shape[0])
    for k in prange(rows.shape[0]):
        w = which[k]
        out[k] = _crossing(rows[k], coefs[w], steps[w], pitches[w], grid)
    return out


@kept
def _crossings_serial(rows: Array, which: Array, coefs: Array, steps: Array, pitches: Array, grid: Array) -> Array:
    out = np.empty(rows.shape[0])
    for k in range(rows.shape[0]):
        w = which[k]
        out[k] = _crossing(rows[k], coefs[w], steps[w], pitches[w], grid)
    return out


def crossings(rows: Array, which: npt.NDArray[np.int64], curves: Sequence[OpenWaterCurve]) -> Array:
    """First crossings of many cases.

    Parameters
    ----------
    rows : shape (N, parameters), columns in the order of :class:`DriveParameters`.
    which : shape (N,), which of the curves a case has.
    curves : open-water curves, all on grids of the same size.

    Returns
    -------
    Advance coefficients J, shape (N,); NaN where there is no crossing.
    """
    # Two threads cost more than they save below some thousand cases.
    run: Any = _crossings_parallel if len(rows) > 4000 else _crossings_serial
    cubics = np.stack([c.cubics for c in curves]) if len(curves) > 1 else curves[0].cubics[np.newaxis]
    return run(rows, which, cubics, np.array([c.step for c in curves]), np.array([c.seam_pitch for c in curves]), GRID)
