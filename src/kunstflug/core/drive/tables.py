"""Thrust, current and shaft speed against voltage and boat's speed: made once, read at every step of a duty."""

import dataclasses
from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.drive.operating_point import at_throttle, hull_resistance_n, state_at_advance
from kunstflug.core.drive.parameters import DriveParameters
from kunstflug.core.propeller import OpenWaterCurve

Array = npt.NDArray[np.float64]

DUTIES: Final = np.linspace(0.15, 1.0, 12)
"""Part of the full resting voltage that the motor sees: throttle x what is left of the charge."""
SPEEDS: Final = 120
OVERRUN_N: Final = -0.5  # a propeller that is overrun brakes a little (common practice, no source)


@dataclass(frozen=True, slots=True, kw_only=True)
class ThrottleTables:
    """Tables of N boats.

    Parameters
    ----------
    top_mps : shape (N,), speed at which full throttle gives no thrust: end of each boat's speed axis.
    thrust_n, current_a, shaft_rps : shape (N, duties, speeds); the current is the motor's.
    drag_n : shape (N, speeds).
    """

    top_mps: Array
    thrust_n: Array
    current_a: Array
    shaft_rps: Array
    drag_n: Array


def throttle_tables(p: DriveParameters, curve: OpenWaterCurve) -> ThrottleTables:
    """Tables for parameters of shape (N, 1) or floats (N = 1).

    At part throttle the motor sees its part of the voltage, see ``at_throttle``.
    """
    columns = {f.name: np.atleast_1d(np.asarray(getattr(p, f.name), dtype=float)) for f in dataclasses.fields(p)}
    shaped = {name: c.reshape(-1, 1, 1) for name, c in columns.items()}
    count = max(c.shape[0] for c in shaped.values())
    duty = DUTIES[np.newaxis, :, np.newaxis]
    part = at_throttle(DriveParameters(**shaped), duty)
    fraction = np.linspace(0.0, 1.0, 90)
    j = fraction * curve.j_end * shaped["pitch_factor"]
    state = state_at_advance(part, curve, j)
    shape = (count, len(DUTIES), len(fraction))
    speed, thrust, current, rps = (
        np.broadcast_to(np.asarray(a), shape)
        for a in (state.speed_mps, state.thrust_n, state.current_a, state.shaft_rps)
    )
    top = speed[:, -1, :].max(axis=-1)
    out = np.empty((3, count, len(DUTIES), SPEEDS))
    for n in range(count):
        axis = np.linspace(0.0, top[n], SPEEDS)
        for d in range(len(DUTIES)):
            # Past its own zero thrust a propeller that is overrun brakes a little and draws nothing.
            out[0, n, d] = np.interp(axis, speed[n, d], thrust[n, d], right=OVERRUN_N)
            out[1, n, d] = np.interp(axis, speed[n, d], current[n, d], right=0.0)
            out[2, n, d] = np.interp(axis, speed[n, d], rps[n, d])
    flat = DriveParameters(**{name: c.reshape(-1, 1) for name, c in columns.items()})
    axes = np.linspace(0.0, 1.0, SPEEDS) * top[:, np.newaxis]
    drag = np.broadcast_to(np.asarray(hull_resistance_n(flat, axes)), (count, SPEEDS))
    return ThrottleTables(
        top_mps=top,
        thrust_n=np.maximum(out[0], OVERRUN_N),
        current_a=np.maximum(out[1], 0.0),
        shaft_rps=out[2],
        drag_n=drag,
    )
