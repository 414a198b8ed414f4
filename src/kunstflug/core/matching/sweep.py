"""The sweep: KV x diameter x pitch ratio x cells (x controller, pack, mass) in one vectorised call."""

from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt

from kunstflug.core import hull, motor, pack
from kunstflug.core.drive import kernel
from kunstflug.core.drive.duty import USABLE
from kunstflug.core.drive.forecast import curve_for
from kunstflug.core.drive.limits import CELL_FLOOR_V, CELL_STOP_V, Limits, limits_of
from kunstflug.core.drive.nearest import CELL_EMPTY_V, STALL_RATIO
from kunstflug.core.drive.operating_point import immersed_at, operating_point
from kunstflug.core.drive.parameters import DriveParameters, drive_values
from kunstflug.core.drive.schools import USUAL, Schools
from kunstflug.core.drive.setup import Setup
from kunstflug.core.drive.variation import varied
from kunstflug.core.errors import InvalidValue
from kunstflug.core.progress import Progress, unheard
from kunstflug.core.propeller import OpenWaterCurve
from kunstflug.core.propeller import part as propeller
from kunstflug.core.values import Floats

Array = npt.NDArray[np.float64]
Numbers = dict[str, Array]

MOST_CASES: Final = 2_000_000
CHUNK: Final = 100_000
CHUNK_HELD: Final = 5_000  # a drive held at a set limit takes thirty points
REASONS: Final = (
    "Pack current",
    "Cell under load",
    "Controller current",
    "Motor power",
    "Loaded rpm",
    "Electrical rpm",
    "Wire, held",
)
NO_POINT: Final = 3  # verdict code of a drive that does not run


@dataclass(frozen=True, slots=True, kw_only=True)
class Ranges:
    """Values to try of each variable; arrays, one value where it stays as it is."""

    kv_rpm_per_v: Array
    diameter_m: Array
    pitch_ratio: Array
    cells: Array
    mass_factor: Array

    @property
    def count(self) -> int:
        """Number of drives."""
        return int(np.prod([len(getattr(self, name)) for name in _AXES]))


_KEPT = ("speed_mps", "current_a", "rpm", "shaft_power_w")
_AXES = ("kv_rpm_per_v", "diameter_m", "pitch_ratio", "cells", "mass_factor")


def ranges_about(
    setup: Setup,
    *,
    kv: Array | None = None,
    diameter: Array | None = None,
    pitch_ratio: Array | None = None,
    cells: Array | None = None,
    mass_factor: Array | None = None,
) -> Ranges:
    """Ranges with today's value for all that is not given."""
    ratio = propeller.pitch(setup.propeller).value / setup.propeller.diameter_m.value
    return Ranges(
        kv_rpm_per_v=_axis(kv, setup.motor.kv_rpm_per_v.value),
        diameter_m=_axis(diameter, setup.propeller.diameter_m.value),
        pitch_ratio=_axis(pitch_ratio, ratio),
        cells=_axis(cells, pack.series_cells(setup.pack)),
        mass_factor=_axis(mass_factor, 1.0),
    )


def _axis(given: Array | None, now: float) -> Array:
    return np.atleast_1d(np.asarray(now if given is None else given, dtype=np.float64))


@dataclass(frozen=True, slots=True, kw_only=True)
class SweepResult:
    """All drives of a sweep; arrays of shape (N,), KV slowest, mass fastest.

    Parameters
    ----------
    use : load over limit of the tightest margin [1]; above 1 it does not hold.
    reason : index into ``REASONS`` of that margin.
    verdict : 0 holds, 1 short runs, 2 stop, 3 does not run.
    run_s : full throttle until 80 % of the charge is used [s].
    """

    ranges: Ranges
    kv_rpm_per_v: Array
    diameter_m: Array
    pitch_ratio: Array
    cells: Array
    mass_factor: Array
    speed_mps: Array
    current_a: Array
    rpm: Array
    shaft_power_w: Array
    use: Array
    reason: npt.NDArray[np.int8]
    verdict: npt.NDArray[np.int8]
    run_s: Array


def sweep(
    setup: Setup,
    ranges: Ranges,
    schools: Schools = USUAL,
    leave_out: frozenset[str] = frozenset(),
    progress: Progress = unheard,
) -> SweepResult:
    """Every combination of the ranges, solved as operating points at nominal parameters.

    A KV other than the setup's is another winding: its resistance follows KV^-2 where it was given, and the
    estimator's KV^-1 where it was guessed. Other cells change the pack's voltage, resistance and mass. ``leave_out``
    names those of ``REASONS`` that do not count (the part is still to be bought).

    Raises
    ------
    InvalidValue : more drives than are accepted, or a value that cannot be.
    Stopped : ``progress`` raised it, between two pieces of 100 000.
    """
    if ranges.count > MOST_CASES:
        raise InvalidValue("sweep", f"{ranges.count} drives", f"at most {MOST_CASES}; take every second value")
    for name in _AXES:
        if np.any(~np.isfinite(getattr(ranges, name))) or np.any(getattr(ranges, name) <= 0):
            raise InvalidValue(f"sweep.{name}", "not positive", "positive numbers")
    curves = [curve_for(setup, ratio) for ratio in ranges.pitch_ratio.tolist()]
    pieces = []
    chunk = CHUNK_HELD if _is_limited(setup, leave_out) else CHUNK
    for a in range(0, ranges.count, chunk):
        progress(a, ranges.count)
        index = np.arange(a, min(a + chunk, ranges.count))
        pieces.append(_chunk(setup, ranges, curves, index, schools, leave_out))
    progress(ranges.count, ranges.count)
    columns = {name: np.concatenate([piece[name] for piece in pieces]) for name in pieces[0]}
    return SweepResult(ranges=ranges, **columns)


def _chunk(
    setup: Setup,
    ranges: Ranges,
    curves: list[OpenWaterCurve],
    index: npt.NDArray[np.int64],
    schools: Schools,
    leave_out: frozenset[str],
) -> dict[str, Array]:
    where = np.unravel_index(index, [len(getattr(ranges, name)) for name in _AXES])
    axis = {name: getattr(ranges, name)[at] for name, at in zip(_AXES, where, strict=True)}
    p = varied(setup, drive_values(setup).nominal(), **axis)
    names = tuple(DriveParameters.__dataclass_fields__)
    rows = np.empty((len(index), len(names)))
    for k, name in enumerate(names):
        rows[:, k] = getattr(p, name)
    which = where[2].astype(np.int64)
    j = kernel.crossings(rows, which, curves)
    numbers = _full_throttle(p, curves, which, j)
    if _is_limited(setup, leave_out):
        _hold(p, curves, which, numbers)
    numbers["volume_froude"] = np.asarray(hull.volume_froude(numbers["speed_mps"], p.mass_kg, p.water_kg_m3))
    poles, charge_ah = motor.pole_count(setup.motor), pack.usable_ah(setup.pack)
    judged = judge(numbers, limits_of(setup, schools), poles, axis["cells"], charge_ah, leave_out)
    return {**axis, **{name: numbers[name] for name in _KEPT}, **judged}


def _is_limited(setup: Setup, leave_out: frozenset[str]) -> bool:
    """Whether the controller is at hand and has a limit set."""
    c = setup.controller
    return "Controller current" not in leave_out and (c.bus_limit_a is not None or c.phase_limit_a is not None)


def _hold(p: DriveParameters, curves: list[OpenWaterCurve], which: npt.NDArray[np.int64], numbers: Numbers) -> None:
    """Puts the point of a held throttle where the current is past a limit that is set in the controller."""
    held = numbers["current_a"] > np.minimum(p.bus_limit_a, p.phase_limit_a)
    for k, curve in enumerate(curves):
        at = np.flatnonzero(held & (which == k))
        if not at.size:
            continue
        size = which.shape
        rows = {name: np.broadcast_to(getattr(p, name), size)[at] for name in DriveParameters.__dataclass_fields__}
        point = operating_point(DriveParameters(**rows), curve)
        for name in ("speed_mps", "current_a", "rpm", "free_rpm", "shaft_power_w", "pack_voltage_v"):
            numbers[name][at] = getattr(point, name)
        numbers["motor_w"][at] = np.asarray(point.motor_voltage_v) * np.asarray(point.motor_current_a)


def _full_throttle(p: DriveParameters, curves: list[OpenWaterCurve], which: npt.NDArray[np.int64], j: Array) -> Numbers:
    """Loads at the crossings, full throttle."""
    kq, immersed_all = np.empty_like(j), np.asarray(immersed_at(p, j))
    for k, curve in enumerate(curves):
        at = which == k
        if np.any(at):
            immersed = immersed_all[at] if curve.ventilated else 1.0
            pick = curve.coefficients(j[at] / p.pitch_factor, p.blade_area, immersed, p.blade_friction)[1]
            kq[at] = np.asarray(pick)
    kv = p.kv_rpm_per_v * p.kv_factor
    torque_constant = motor.torque_constant_nm_per_a(kv)
    copper = motor.copper_resistance_ohm(p.winding_resistance_ohm, p.winding_c)
    line = p.pack_resistance_ohm + p.wiring_resistance_ohm + p.controller_resistance_ohm + copper
    a = kq * p.water_kg_m3 * p.diameter_m**5 / p.shaft_efficiency
    b = torque_constant * 60 * (1 / (kv * line) + 0.5 * p.no_load_current_a / p.no_load_rpm)
    c = torque_constant * (p.pack_ocv_v / line - 0.5 * p.no_load_current_a)
    n = 2 * c / (b + np.sqrt(np.maximum(b**2 + 4 * a * c, 0.0)))
    rpm = 60 * n
    current = (p.pack_ocv_v - rpm / kv) / line
    no_load = motor.no_load_current_a(rpm, p.no_load_current_a, p.no_load_rpm)
    volts = p.pack_ocv_v - current * p.pack_resistance_ohm
    return {
        "speed_mps": j * n * p.diameter_m,
        "current_a": current,
        "rpm": rpm,
        "free_rpm": np.asarray(kv * p.pack_ocv_v),
        "shaft_power_w": torque_constant * (current - no_load) * 2 * np.pi * n,
        "pack_voltage_v": volts,
        "motor_w": (volts - current * (p.wiring_resistance_ohm + p.controller_resistance_ohm)) * current,
    }


def judge(
    n: Numbers,
    limits: Limits,
    poles: Floats,
    cells: Floats,
    charge_ah: Floats,
    leave_out: frozenset[str] = frozenset(),
) -> dict[str, Array]:
    """Loads against their limits: use, reason, verdict and run time, as a ``SweepResult`` has them.

    Parameters
    ----------
    n : numbers of N drives: current, rpm, free rpm, pack voltage, motor power and volume Froude number.
    charge_ah : usable charge of the packs, all of it.
    """
    cell = n["pack_voltage_v"] / cells
    uses, stops = uses_of(limits, n["current_a"], cell, n["motor_w"], n["rpm"], poles)
    counts = np.array([[name not in leave_out] for name in REASONS])
    uses, stops = uses * counts, stops * counts
    planes = n["volume_froude"] >= hull.PLANING_FROUDE
    runs = planes & (n["rpm"] >= STALL_RATIO * n["free_rpm"]) & (cell >= CELL_EMPTY_V)
    with np.errstate(invalid="ignore"):
        verdict = np.where(np.max(stops, axis=0) > 1, 2, np.where(np.max(uses, axis=0) > 1, 1, 0))
    return {
        "use": np.max(uses, axis=0),
        "reason": np.argmax(uses, axis=0).astype(np.int8),
        "verdict": np.where(runs, verdict, NO_POINT).astype(np.int8),
        "run_s": USABLE * charge_ah * 3600.0 / np.maximum(n["current_a"], 1e-3),
    }


def uses_of(
    limits: Limits, current: Array, cell_v: Array, motor_w: Array, rpm: Array, poles: Floats
) -> tuple[Array, Array]:
    """Loads over the limits where *holds* ends and over those where *stop* begins, shape (len(REASONS), N)."""
    cell = np.maximum(cell_v, 0.1)
    uses = np.stack([
        current / limits.pack_a, CELL_FLOOR_V / cell, current / limits.controller_a,
        motor_w / limits.motor_w, rpm / limits.rpm, rpm * poles / 2 / limits.electrical_rpm,
        current / limits.wire_a,
    ])  # fmt: skip
    stops = np.stack([
        current / limits.pack_stop_a, CELL_STOP_V / cell, current / limits.controller_stop_a,
        motor_w / limits.motor_stop_w, rpm / limits.rpm_stop, rpm * poles / 2 / (1.1 * limits.electrical_rpm),
        current / limits.wire_stop_a,
    ])  # fmt: skip
    return uses, stops


def pareto_front(gain: Array, cost: Array) -> npt.NDArray[np.int64]:
    """Indices of those that nobody beats: highest gain for each cost, by rising cost."""
    order = np.lexsort((-gain, cost))
    best = np.maximum.accumulate(np.concatenate([[-np.inf], gain[order][:-1]]))
    return order[gain[order] > best]
