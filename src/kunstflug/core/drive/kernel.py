"""The crossing of thrust and resistance, compiled: the same laws as everywhere, one case after the other.

numpy evaluates the operating point in a hundred passes over memory; compiled, a case stays in registers. The laws
themselves are not written again: they are the component's own functions, compiled by numba. Only the balance of
``operating_point.state_at_advance`` stands here a second time, and the tests hold the two together.
"""

from typing import Any, Final

import numpy as np
import numpy.typing as npt
from numba import prange

from kunstflug.core import hull, motor
from kunstflug.core.drive.jit import inner, kept, kept_parallel
from kunstflug.core.drive.parameters import DriveParameters

Array = npt.NDArray[np.float64]

_NAMES = tuple(DriveParameters.__dataclass_fields__)
_AT = {name: k for k, name in enumerate(_NAMES)}
OCV: Final = _AT["pack_ocv_v"]
R_PACK: Final = _AT["pack_resistance_ohm"]
R_WIRES: Final = _AT["wiring_resistance_ohm"]
R_CONTROLLER: Final = _AT["controller_resistance_ohm"]
KV: Final = _AT["kv_rpm_per_v"]
R_WINDING: Final = _AT["winding_resistance_ohm"]
WINDING_C: Final = _AT["winding_c"]
I0: Final = _AT["no_load_current_a"]
RPM0: Final = _AT["no_load_rpm"]
SHAFT: Final = _AT["shaft_efficiency"]
DIAMETER: Final = _AT["diameter_m"]
PITCH_FACTOR: Final = _AT["pitch_factor"]
LOADING: Final = _AT["blade_loading"]
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


@kept
def _coefficients(j: float, coefs: Array, step: float) -> tuple[float, float, float, float]:
    """KT, KQ of the force and of a friction coefficient of 1, from the curve's cubics."""
    k = min(max(int(j / step), 0), coefs.shape[1] - 1)
    t = j - k * step
    c = coefs[:, k]
    return (
        ((c[0, 0] * t + c[1, 0]) * t + c[2, 0]) * t + c[3, 0],
        ((c[0, 1] * t + c[1, 1]) * t + c[2, 1]) * t + c[3, 1],
        ((c[0, 2] * t + c[1, 2]) * t + c[2, 2]) * t + c[3, 2],
        ((c[0, 3] * t + c[1, 3]) * t + c[2, 3]) * t + c[3, 3],
    )


@kept
def _surplus(j: float, p: Array, coefs: Array, step: float) -> float:
    """Thrust less resistance [N] of the drive in torque balance at J; see ``state_at_advance``."""
    kt0, kq0, ktf, kqf = _coefficients(j / p[PITCH_FACTOR], coefs, step)
    kt = p[LOADING] * (kt0 + p[FRICTION] * ktf)
    kq = p[LOADING] * (kq0 + p[FRICTION] * kqf)
    kt_motor = _torque_constant(p[KV])
    line = p[R_PACK] + p[R_WIRES] + p[R_CONTROLLER] + _copper(p[R_WINDING], p[WINDING_C])
    d = p[DIAMETER]
    a = kq * p[WATER] * d**5 / p[SHAFT]
    b = kt_motor * 60 * (1 / (p[KV] * line) + 0.5 * p[I0] / p[RPM0])
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
def _crossing(p: Array, coefs: Array, step: float, grid: Array) -> float:
    """First J at which thrust falls to the resistance; NaN where there is none."""
    end = step * coefs.shape[1] * p[PITCH_FACTOR]
    low, f_low = 0.0, _surplus(0.0, p, coefs, step)
    high, f_high = 0.0, 0.0
    found = False
    for k in range(1, grid.shape[0]):
        high = grid[k] * end
        f_high = _surplus(high, p, coefs, step)
        if f_low > 0 and f_high <= 0:
            found = True
            break
        low, f_low = high, f_high
    if not found:
        return np.nan
    # Regula falsi with the Illinois step [dowell1971].
    for _ in range(60):
        x = (low * f_high - high * f_low) / (f_high - f_low) if f_high != f_low else high
        fx = _surplus(x, p, coefs, step)
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
def _crossings_parallel(rows: Array, which: Array, coefs: Array, steps: Array, grid: Array) -> Array:
    out = np.empty(rows.shape[0])
    for k in prange(rows.shape[0]):
        w = which[k]
        out[k] = _crossing(rows[k], coefs[w], steps[w], grid)
    return out


@kept
def _crossings_serial(rows: Array, which: Array, coefs: Array, steps: Array, grid: Array) -> Array:
    out = np.empty(rows.shape[0])
    for k in range(rows.shape[0]):
        w = which[k]
        out[k] = _crossing(rows[k], coefs[w], steps[w], grid)
    return out


def crossings(rows: Array, which: npt.NDArray[np.int64], coefs: Array, steps: Array) -> Array:
    """First crossings of many cases.

    Parameters
    ----------
    rows : shape (N, parameters), columns in the order of :class:`DriveParameters`.
    which : shape (N,), which of the curves a case has.
    coefs : shape (K, 4, G - 1, 4), cubics of K curves: power, interval, (kt, kq, kt and kq of friction).
    steps : shape (K,), steps of the curves' uniform grids in J.

    Returns
    -------
    Advance coefficients J, shape (N,); NaN where there is no crossing.
    """
    # Two threads cost more than they save below some thousand cases.
    run: Any = _crossings_parallel if len(rows) > 4000 else _crossings_serial
    return run(rows, which, coefs, steps, GRID)
