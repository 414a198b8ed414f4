"""When there is no working operating point: why, and the nearest thing that would work."""

from dataclasses import dataclass

import numpy as np

from kunstflug.core import hull, pack
from kunstflug.core.drive.operating_point import OperatingPoint, operating_point
from kunstflug.core.drive.parameters import DriveParameters
from kunstflug.core.drive.setup import Setup
from kunstflug.core.drive.variation import varied
from kunstflug.core.propeller import OpenWaterCurve

STALL_RATIO = 0.5  # below half the free rpm a motor gives less power the more it is loaded
CELL_EMPTY_V = 2.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Remedy:
    """One single change after which the drive works.

    Parameters
    ----------
    field : of the setup document.
    value : new value in the core's unit.
    speed_mps : what it would give.
    """

    field: str
    value: float
    sentence: str
    speed_mps: float


def refusal(setup: Setup, point: OperatingPoint) -> str:
    """Why there is no working operating point; empty where there is one."""
    if not np.isfinite(point.speed_mps):
        return "The boat is pushed backwards: thrust never meets the resistance of hull and headwind."
    stalls, empty = _overloaded(point, pack.series_cells(setup.pack))
    if stalls or empty:
        volts = point.pack_voltage_v / pack.series_cells(setup.pack)
        return (
            f"Propeller too big: it holds the motor at {point.rpm / point.free_rpm:.0%} of its free rpm with "
            f"{point.current_a:.0f} A and {volts:.2f} V a cell. Something burns before the boat gets there."
        )
    if point.volume_froude < hull.PLANING_FROUDE:
        return (
            f"Motor too weak for this hull: thrust of {point.thrust_n:.1f} N does not carry it over the hump; "
            f"it stays below planing at {point.speed_mps * 3.6:.0f} km/h."
        )
    return ""


def _overloaded(point: OperatingPoint, cells):  # type: ignore[no-untyped-def]  # floats or arrays
    return point.rpm < STALL_RATIO * point.free_rpm, point.pack_voltage_v < CELL_EMPTY_V * cells


def remedies(setup: Setup, nominal: DriveParameters, curve: OpenWaterCurve) -> tuple[Remedy, ...]:
    """The smallest single changes after which the drive works: propeller, KV, mass, cells."""
    kv, diameter, mass = (float(np.asarray(v)) for v in (nominal.kv_rpm_per_v, nominal.diameter_m, nominal.mass_kg))
    sizes, windings, masses = _steps(0.97, 0.4, 1.6), _steps(0.95, 0.25, 4.0), _steps(0.95, 0.3, 1.0)
    now = pack.series_cells(setup.pack)
    other = setup.pack.second_cells or 0  # only the first of two packs in series is changed
    several = (c for c in range(1 + other, pack.MOST_SERIES_CELLS + 1) if c != now)
    cells = np.array(sorted(several, key=lambda c: abs(c - now)), dtype=float)
    tried = (
        ("propeller.diameter", diameter * sizes, varied(setup, nominal, diameter_m=diameter * sizes)),
        ("motor.kv", kv * windings, varied(setup, nominal, kv_rpm_per_v=kv * windings)),
        ("all_up_mass", mass * masses, varied(setup, nominal, mass_factor=masses)),
        ("pack.cells", cells, varied(setup, nominal, cells=cells)),
    )
    found = (_first_working(setup, curve, field, values, p) for field, values, p in tried)
    return tuple(r for r in found if r is not None)


_WORDS = {
    "propeller.diameter": lambda v: f"a propeller of {v * 1e3:.0f} mm",
    "motor.kv": lambda v: f"{v:.0f} rpm/V",
    "all_up_mass": lambda v: f"a boat of {v * 1e3:.0f} g",
    "pack.cells": lambda v: f"{v:.0f} cells" if v != 1 else "one cell",
}


def _steps(ratio: float, low: float, high: float) -> np.ndarray:
    """Factors either side of 1, nearest first."""
    down = ratio ** np.arange(1, 40)
    both = np.concatenate([down, 1 / down])
    both = both[(both >= low) & (both <= high)]
    return both[np.argsort(np.abs(np.log(both)), kind="stable")]


def _works(point: OperatingPoint, cells) -> np.ndarray:  # type: ignore[no-untyped-def]  # floats or arrays
    stalls, empty = _overloaded(point, cells)
    return (
        np.isfinite(point.speed_mps)
        & ~np.asarray(stalls)
        & ~np.asarray(empty)
        & (np.asarray(point.volume_froude) >= hull.PLANING_FROUDE)
    )


def _first_working(
    setup: Setup, curve: OpenWaterCurve, field: str, values: np.ndarray, p: DriveParameters
) -> Remedy | None:
    if not len(values):  # with so many cells in the second pack there is no other number for the first
        return None
    points = operating_point(p, curve)
    cells = values if field == "pack.cells" else pack.series_cells(setup.pack)
    works = _works(points, cells)
    if not np.any(works):
        return None
    k = int(np.argmax(works))
    speed = float(np.asarray(points.speed_mps)[k])
    value = float(values[k]) - (setup.pack.second_cells or 0 if field == "pack.cells" else 0)
    return Remedy(field=field, value=value, sentence=f"{_WORDS[field](value)} would run", speed_mps=speed)
