"""When there is no working operating point: why, and the nearest thing that would work."""

import dataclasses
from dataclasses import dataclass

import numpy as np

from kunstflug.core import hull
from kunstflug.core.drive.operating_point import OperatingPoint, operating_point
from kunstflug.core.drive.parameters import DriveParameters
from kunstflug.core.drive.setup import Setup
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
    stalls, empty = _overloaded(point, setup.pack.cells)
    if stalls or empty:
        volts = point.pack_voltage_v / setup.pack.cells
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
    """The smallest single changes after which the drive works, nearest first."""
    found = []
    for field, name, factors, words in (
        ("propeller.diameter", "diameter_m", _steps(0.97, 0.4, 1.6), "a propeller of {mm:.0f} mm"),
        ("motor.kv", "kv_rpm_per_v", _steps(0.95, 0.25, 4.0), "{value:.0f} rpm/V"),
        ("all_up_mass", "mass_kg", _steps(0.95, 0.3, 1.0), "a boat of {g:.0f} g"),
    ):
        found.append(_first_working(setup, nominal, curve, field, name, factors, words))
    found.append(_cells(setup, nominal, curve))
    return tuple(r for r in found if r is not None)


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
    setup: Setup,
    nominal: DriveParameters,
    curve: OpenWaterCurve,
    field: str,
    name: str,
    factors: np.ndarray,
    words: str,
) -> Remedy | None:
    values = getattr(nominal, name) * factors
    changed = {name: values}
    if name == "diameter_m":  # the same pitch ratio, so the same curve
        changed["pitch_m"] = nominal.pitch_m * factors
    points = operating_point(dataclasses.replace(nominal, **changed), curve)
    works = _works(points, setup.pack.cells)
    if not np.any(works):
        return None
    k = int(np.argmax(works))
    speed = float(np.asarray(points.speed_mps)[k])
    text = words.format(mm=values[k] * 1e3, g=values[k] * 1e3, value=values[k])
    return Remedy(field=field, value=float(values[k]), sentence=f"{text} would run", speed_mps=speed)


def _cells(setup: Setup, nominal: DriveParameters, curve: OpenWaterCurve) -> Remedy | None:
    now = setup.pack.cells
    cells = np.array(sorted((c for c in range(1, 25) if c != now), key=lambda c: abs(c - now)), dtype=float)
    changed = dataclasses.replace(
        nominal,
        pack_ocv_v=nominal.pack_ocv_v * cells / now,
        pack_resistance_ohm=nominal.pack_resistance_ohm * cells / now,
    )
    points = operating_point(changed, curve)
    works = _works(points, cells)
    if not np.any(works):
        return None
    k = int(np.argmax(works))
    speed = float(np.asarray(points.speed_mps)[k])
    return Remedy(
        field="pack.cells", value=float(cells[k]), sentence=f"{cells[k]:.0f} cells would run", speed_mps=speed
    )
