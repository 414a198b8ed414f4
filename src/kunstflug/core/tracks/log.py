"""A controller log, and what it says of full throttle held."""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.evidence.instruments import FULL_THROTTLE
from kunstflug.core.tracks.samples import Array

MOST_CURRENT_PART: Final = 0.8
HOLE_S: Final = 5.0  # a log that is silent for longer says nothing about the charge


@dataclass(frozen=True, slots=True, kw_only=True)
class ControllerLog:
    """A controller log; arrays of shape (N,), NaN where a column is missing."""

    time_s: Array
    columns: dict[str, Array]


@dataclass(frozen=True, slots=True, kw_only=True)
class LogNumbers:
    """What a controller log says of full throttle; NaN for what it does not have."""

    samples: int
    current_a: float
    rpm: float
    voltage_v: float
    controller_c: float
    mah: float


def log_numbers(log: ControllerLog) -> LogNumbers:
    """What a controller log says of full throttle held: the median of its fastest-turning quarter.

    Full throttle is throttle above 95 % where the log has a throttle, else current above 80 % of its highest.
    """
    columns = log.columns
    nothing = np.full(len(log.time_s), np.nan)
    current, rpm = columns.get("current_a", nothing), columns.get("rpm", nothing)
    if "throttle_percent" in columns:
        full = columns["throttle_percent"] >= 100.0 * FULL_THROTTLE
    elif np.isfinite(current).any():
        full = current >= MOST_CURRENT_PART * np.nanmax(current)
    else:
        full = np.isfinite(rpm)
    held = full & (rpm >= np.nanpercentile(rpm[full], 60)) if np.isfinite(rpm[full]).any() else full

    def median(name: str) -> float:
        values = columns.get(name, nothing)[held]
        return float(np.median(values[np.isfinite(values)])) if np.isfinite(values).any() else math.nan

    hot = columns.get("controller_degc", nothing)
    return LogNumbers(
        samples=len(log.time_s),
        current_a=median("current_a"),
        rpm=median("rpm"),
        voltage_v=median("voltage_v"),
        controller_c=float(np.nanmax(hot)) if np.isfinite(hot).any() else math.nan,
        mah=charge_mah(log.time_s, current),
    )


def charge_mah(time_s: Array, current_a: Array) -> float:
    """Charge that a log shows [mAh]; NaN where it has holes or no current flowed out on the whole."""
    if not np.isfinite(current_a).all() or len(current_a) < 2 or np.max(np.diff(time_s)) > HOLE_S:
        return math.nan
    charge = float(np.trapezoid(current_a, time_s) / 3.6)
    return charge if charge > 0 else math.nan
