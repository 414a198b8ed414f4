"""Thrust, current and shaft speed against voltage and boat's speed: made once, read at every step of a duty."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.drive.point import resistance_n, solve, states
from kunstflug.core.drive.rows import Rows
from kunstflug.core.laws.jit import kept
from kunstflug.core.propeller import OpenWaterCurve
from kunstflug.core.quantity.value import Array

FULL: Final = 11
DUTIES: Final = 0.15 + 0.85 / FULL * np.arange(FULL + 2)
"""Voltage that the motor sees over the full resting voltage: throttle x what the charge leaves, 1 at index ``FULL``. A
winding colder than the setup says counts as a little more than 1."""
SPEEDS: Final = 120
ADVANCES: Final = 72
BALANCED: Final = 1e-6  # of the resistance, within which thrust equals it
LEAST_SURPLUS: Final = 0.03  # of the thrust, with which a boat comes over its hump that it only just comes over
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
    # every duty of every drive at once: a call for each would take longer than the work in it
    every = states(np.tile(rows, len(DUTIES)), curve, np.repeat(DUTIES, count), np.tile(j, (len(DUTIES), 1)))
    shape = (len(DUTIES), count, ADVANCES)
    speeds = every.speed_mps.reshape(shape)
    top = speeds[-1].max(axis=-1)
    thrust, current, rps = (np.empty((count, len(DUTIES), SPEEDS)) for _ in range(3))
    axes = np.linspace(0.0, 1.0, SPEEDS) * top[:, np.newaxis]
    for d in range(len(DUTIES)):
        # Past its own zero thrust a propeller that is overrun brakes a little and draws nothing.
        _onto(axes, speeds[d], every.thrust_n.reshape(shape)[d], OVERRUN_N, thrust[:, d])
        _onto(axes, speeds[d], every.current_a.reshape(shape)[d], 0.0, current[:, d])
        _onto(axes, speeds[d], every.shaft_rps.reshape(shape)[d], np.nan, rps[:, d])
    drag, at_full = resistance_n(rows, axes), _at_full_stick(rows["full_throttle"], thrust)
    _over_the_hump(rows, curve, axes, at_full, drag)
    return ThrottleTables(
        top_mps=top,
        full_mps=_full_mps(axes, at_full - drag),
        thrust_n=np.maximum(thrust, OVERRUN_N),
        current_a=np.maximum(current, 0.0),
        shaft_rps=rps,
        drag_n=drag,
    )


def _over_the_hump(rows: Rows, curve: OpenWaterCurve, axes: Array, thrust: Array, drag: Array) -> None:
    """Where the hump may hold a boat: a drag that lets it come to the speed that the balance says, and no further.

    Parameters
    ----------
    axes, thrust, drag : at full stick, shape (N, speeds); the drag is changed in place.
    """
    points = solve(rows, (curve,))
    held, pulled, braked = (np.asarray(points.speed_mps), np.asarray(points.thrust_n), np.asarray(points.resistance_n))
    unsure = (np.abs(pulled / braked - 1.0) > BALANCED)[:, np.newaxis]
    below = axes < held[:, np.newaxis]
    np.copyto(drag, np.minimum(drag, (1.0 - LEAST_SURPLUS) * thrust), where=unsure & below)
    np.copyto(drag, np.maximum(drag, (1.0 + LEAST_SURPLUS) * thrust), where=unsure & ~below)


@kept
def _onto(axes: Array, speeds: Array, values: Array, right: float, out: Array) -> None:
    """Values over rising speeds, shape (N, G), read on rising axes, shape (N, S), linear between.

    Parameters
    ----------
    right : past the last speed; NaN for the last value.
    """
    for n in range(axes.shape[0]):
        out[n] = np.interp(axes[n], speeds[n], values[n])
        if not np.isnan(right):
            out[n][axes[n] > speeds[n, -1]] = right


def _at_full_stick(throttle: Array, thrust: Array) -> Array:
    """Thrust of shape (N, speeds) at the throttle that full stick gives, from that of (N, duties, speeds); linear."""
    at = np.clip((throttle - DUTIES[0]) / (DUTIES[1] - DUTIES[0]), 0.0, FULL)
    k, each = np.minimum(at.astype(int), FULL - 1), np.arange(len(thrust))
    part = (at - k)[:, np.newaxis]
    found: Array = (1.0 - part) * thrust[each, k] + part * thrust[each, k + 1]
    return found


def _full_mps(axes: Array, surplus: Array) -> Array:
    """Speeds of shape (N,) at which what is left of the thrust, shape (N, speeds), is first used up; linear between."""
    past = np.maximum(np.argmax(surplus <= 0, axis=1), 1)
    each = np.arange(len(axes))
    before, after = surplus[each, past - 1], surplus[each, past]
    part = np.clip(before / np.maximum(before - after, 1e-12), 0.0, 1.0)
    found: Array = axes[each, past - 1] + part * (axes[each, past] - axes[each, past - 1])
    return found
