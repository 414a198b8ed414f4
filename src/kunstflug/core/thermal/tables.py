"""Thrust, current and shaft speed against voltage and boat's speed: made once, read at every step of a duty."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.drive.point import resistance_n, states
from kunstflug.core.drive.values import Rows
from kunstflug.core.propeller import OpenWaterCurve
from kunstflug.core.quantity.value import Array

DUTIES: Final = np.linspace(0.15, 1.0, 12)
"""Part of the full resting voltage that the motor sees: throttle x what is left of the charge."""
SPEEDS: Final = 120
ADVANCES: Final = 90
OVERRUN_N: Final = -0.5  # a propeller that is overrun brakes a little (common practice, no source)


@dataclass(frozen=True, slots=True, kw_only=True)
class ThrottleTables:
    """Tables of N boats.

    Parameters
    ----------
    top_mps : shape (N,), speed at which full throttle gives no thrust: end of each boat's speed axis.
    thrust_n, current_a, shaft_rps : shape (N, duties, speeds); the current is the motor's.
    drag_n : shape (N, speeds).
    full_mps : shape (N,), speed held at full throttle, where thrust first falls to drag.
    """

    top_mps: Array
    full_mps: Array
    thrust_n: Array
    current_a: Array
    shaft_rps: Array
    drag_n: Array


def throttle_tables(rows: Rows, curve: OpenWaterCurve) -> ThrottleTables:
    """Tables of drives of shape (N,)."""
    count, fraction = len(rows), np.linspace(0.0, 1.0, ADVANCES)
    j = fraction * curve.j_end * rows["pitch_factor"][:, np.newaxis]
    every = [states(rows, curve, duty, j) for duty in DUTIES]
    top = every[-1].speed_mps.max(axis=-1)
    thrust, current, rps = (np.empty((count, len(DUTIES), SPEEDS)) for _ in range(3))
    axes = np.linspace(0.0, 1.0, SPEEDS) * top[:, np.newaxis]
    for d, state in enumerate(every):
        for n in range(count):
            # Past its own zero thrust a propeller that is overrun brakes a little and draws nothing.
            thrust[n, d] = np.interp(axes[n], state.speed_mps[n], state.thrust_n[n], right=OVERRUN_N)
            current[n, d] = np.interp(axes[n], state.speed_mps[n], state.current_a[n], right=0.0)
            rps[n, d] = np.interp(axes[n], state.speed_mps[n], state.shaft_rps[n])
    drag = resistance_n(rows, axes)
    return ThrottleTables(
        top_mps=top,
        full_mps=_full_mps(axes, thrust[:, -1] - drag),
        thrust_n=np.maximum(thrust, OVERRUN_N),
        current_a=np.maximum(current, 0.0),
        shaft_rps=rps,
        drag_n=drag,
    )


def _full_mps(axes: Array, surplus: Array) -> Array:
    """Speeds of shape (N,) at which what is left of the thrust, shape (N, speeds), is first used up; linear between."""
    past = np.maximum(np.argmax(surplus <= 0, axis=1), 1)
    each = np.arange(len(axes))
    before, after = surplus[each, past - 1], surplus[each, past]
    part = np.clip(before / np.maximum(before - after, 1e-12), 0.0, 1.0)
    found: Array = axes[each, past - 1] + part * (axes[each, past] - axes[each, past - 1])
    return found
