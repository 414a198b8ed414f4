"""When there is no working operating point: why, and the nearest single change that would work."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.point import OperatingPoint, solve
from kunstflug.core.drive.rows import Rows
from kunstflug.core.drive.varied import varied
from kunstflug.core.drive.verdict import overloaded, runs
from kunstflug.core.laws.resistance import PLANING_FROUDE
from kunstflug.core.parts import pack
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.setup import Setup


@dataclass(frozen=True, slots=True, kw_only=True)
class PushedBackwards(Fact):
    """Thrust never meets the resistance of hull and headwind."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PropellerTooBig(Fact):
    """The propeller holds the motor far below its free rpm, or empties the cells."""

    rpm_part: float
    current_a: float
    cell_v: float


@dataclass(frozen=True, slots=True, kw_only=True)
class StaysBelowPlaning(Fact):
    """Thrust does not carry the hull over its hump."""

    thrust_n: float
    speed_mps: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Remedy:
    """One single change after which the drive works.

    Parameters
    ----------
    path : of the setup document.
    value : new value in the core's unit.
    speed_mps : what it would give.
    """

    path: str
    value: float
    speed_mps: float


def refusal(point: OperatingPoint) -> Fact | None:
    """Why one drive has no working operating point; None where it has one."""
    if bool(runs(point)[0]):
        return None
    if not np.isfinite(point.speed_mps):
        return PushedBackwards()
    stalls, empty = overloaded(point)
    if stalls[0] or empty[0]:
        return PropellerTooBig(
            rpm_part=float(point.rpm / point.free_rpm),
            current_a=float(point.current_a),
            cell_v=float(point.weak_cell_v),
        )
    assert point.volume_froude < PLANING_FROUDE
    return StaysBelowPlaning(thrust_n=float(point.thrust_n), speed_mps=float(point.speed_mps))


SIZES: Final = (0.97, 0.4, 1.6)
WINDINGS: Final = (0.95, 0.25, 4.0)
MASSES: Final = (0.95, 0.3, 1.0)


def remedies(setup: Setup) -> tuple[Remedy, ...]:
    """The smallest single changes after which the drive works: propeller, KV, mass, cells."""
    kv, diameter = setup.motor.kv_rpm_per_v.value, setup.propeller.diameter_m.value
    mass = setup.all_up_mass_kg.value
    sizes, windings, masses = _steps(*SIZES), _steps(*WINDINGS), _steps(*MASSES)
    now = pack.series_cells(setup.pack)
    most = setup.controller.max_cells or pack.MOST_SERIES_CELLS
    other = setup.pack.second_cells or 0  # only the first of two packs in series is changed
    several = (c for c in range(1 + other, min(most, pack.MOST_SERIES_CELLS) + 1) if c != now)
    cells = np.array(sorted(several, key=lambda c: abs(c - now)), dtype=float)
    found = (
        _first_working(setup, "propeller.diameter", diameter * sizes, varied(setup, diameter_m=diameter * sizes)),
        _first_working(setup, "motor.kv", kv * windings, varied(setup, kv_rpm_per_v=kv * windings)),
        _first_working(setup, "all_up_mass", mass * masses, varied(setup, mass_factor=masses)),
        _first_working(setup, "pack.cells", cells - other, varied(setup, cells=cells)) if len(cells) else None,
    )
    return tuple(r for r in found if r is not None)


def _steps(ratio: float, low: float, high: float) -> Array:
    """Factors either side of 1, nearest first."""
    down = ratio ** np.arange(1, 40)
    both = np.concatenate([down, 1 / down])
    both = both[(both >= low) & (both <= high)]
    return both[np.argsort(np.abs(np.log(both)), kind="stable")]


def _first_working(setup: Setup, path: str, values: Array, rows: Rows) -> Remedy | None:
    points = solve(rows, (curve_of(setup),))
    works = runs(points)
    if not np.any(works):
        return None
    k = int(np.argmax(works))
    return Remedy(path=path, value=float(values[k]), speed_mps=float(np.asarray(points.speed_mps)[k]))
