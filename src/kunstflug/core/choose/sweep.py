"""The sweep: KV x diameter x pitch ratio x cells x mass in one vectorised call."""

import dataclasses
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.choose.fronts import Drives
from kunstflug.core.drive.curves import curve_for
from kunstflug.core.drive.limits import LimitKey, limits_of
from kunstflug.core.drive.point import solve
from kunstflug.core.drive.schools import USUAL, Schools
from kunstflug.core.drive.varied import varied
from kunstflug.core.drive.verdict import LimitTable, judge
from kunstflug.core.laws.shares import pieces
from kunstflug.core.parts import pack
from kunstflug.core.parts import propeller as propellers
from kunstflug.core.propeller import OpenWaterCurve
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import AtMost, Fact
from kunstflug.core.quantity.progress import Progress, unheard
from kunstflug.core.quantity.value import Array, exact
from kunstflug.core.setup.editor import edited, typed
from kunstflug.core.setup.setup import HEAVIEST_KG, Setup

MOST_CASES: Final = 2_000_000
CHUNK: Final = 25_000  # so many at a time on each core: a million in under 500 MB
CHUNK_HELD: Final = 5_000  # a drive held at a set limit takes thirty points
AXES: Final = ("kv_rpm_per_v", "diameter_m", "pitch_ratio", "cells", "mass_factor")


@dataclass(frozen=True, slots=True, kw_only=True)
class Positive(Fact):
    """Positive, finite numbers."""


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
        return int(np.prod([len(getattr(self, name)) for name in AXES]))


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
    return Ranges(
        kv_rpm_per_v=_axis(kv, setup.motor.kv_rpm_per_v.value),
        diameter_m=_axis(diameter, setup.propeller.diameter_m.value),
        pitch_ratio=_axis(pitch_ratio, propellers.pitch_ratio(setup.propeller)),
        cells=_axis(cells, pack.series_cells(setup.pack)),
        mass_factor=_axis(mass_factor, 1.0),
    )


def _axis(given: Array | None, now: float) -> Array:
    return np.atleast_1d(np.asarray(now if given is None else given, dtype=np.float64))


@dataclass(frozen=True, slots=True, kw_only=True)
class SweepResult(Drives):
    """All drives of a sweep; arrays of shape (N,), KV slowest, mass fastest."""

    ranges: Ranges
    kv_rpm_per_v: Array
    diameter_m: Array
    pitch_ratio: Array
    cells: Array
    mass_factor: Array
    rpm: Array
    shaft_power_w: Array


def sweep(
    setup: Setup,
    ranges: Ranges,
    schools: Schools = USUAL,
    leave_out: frozenset[LimitKey] = frozenset(),
    progress: Progress = unheard,
    doubts: Array | None = None,
) -> SweepResult:
    """Every combination of the ranges, solved as operating points at nominal parameters.

    What follows from another KV, propeller or number of cells is what the editor makes of it. ``leave_out`` names
    limits that do not count: the part is still to be bought. ``doubts`` are those of drives like these, see ``judge``.

    Raises
    ------
    InvalidValue : more drives than are accepted, or a value that cannot be.
    Stopped : ``progress`` raised it, between two pieces.
    """
    if ranges.count > MOST_CASES:
        raise InvalidValue("sweep", ranges.count, AtMost(most=MOST_CASES))
    for name in AXES:
        if np.any(~np.isfinite(getattr(ranges, name))) or np.any(getattr(ranges, name) <= 0):
            raise InvalidValue(f"sweep.{name}", float(np.min(getattr(ranges, name))), Positive())
    curves = [curve_for(setup, ratio) for ratio in ranges.pitch_ratio.tolist()]
    limits = _limits(setup, ranges.cells, schools)
    columns, done = dict[str, Any](), 0

    def piece(at: slice) -> dict[str, Any]:
        return _chunk(setup, ranges, curves, limits, np.arange(at.start, at.stop), leave_out, doubts)

    progress(0, ranges.count)
    for found in pieces(piece, ranges.count, CHUNK_HELD if _is_limited(setup, leave_out) else CHUNK):
        for name, values in found.items():
            columns.setdefault(name, np.empty(ranges.count, values.dtype))[done : done + len(values)] = values
        done += len(values)
        progress(done, ranges.count)
    return SweepResult(ranges=ranges, **columns)


def _limits(setup: Setup, cells: Array, schools: Schools) -> LimitTable:
    """Limits for each number of cells: what is believed of a printed motor current goes with the voltage."""
    other, drives = setup.pack.second_cells or 0, []
    # No limit hangs on the boat's mass: it must not stop a pack that is lighter than the parts beside it.
    roomy = dataclasses.replace(setup, all_up_mass_kg=exact(0.5 * HEAVIEST_KG))
    for count in cells.tolist():
        first = round(count) - other
        with_cells = setup if first == setup.pack.cells else edited(roomy, typed("pack.cells", first, roomy))
        drives.append(limits_of(with_cells, schools))
    return LimitTable.of(drives)


def _is_limited(setup: Setup, leave_out: frozenset[LimitKey]) -> bool:
    """Whether the controller is at hand and has a limit set."""
    c = setup.controller
    return LimitKey.CONTROLLER_CURRENT not in leave_out and (c.bus_limit_a is not None or c.phase_limit_a is not None)


def _chunk(
    setup: Setup,
    ranges: Ranges,
    curves: list[OpenWaterCurve],
    limits: LimitTable,
    index: npt.NDArray[np.int64],
    leave_out: frozenset[LimitKey],
    doubts: Array | None,
) -> dict[str, Any]:
    where = np.unravel_index(index, [len(getattr(ranges, name)) for name in AXES])
    axis = {name: getattr(ranges, name)[at] for name, at in zip(AXES, where, strict=True)}
    rows = varied(setup, **axis)
    if LimitKey.CONTROLLER_CURRENT in leave_out:
        rows["bus_limit_a"] = rows["phase_limit_a"] = np.inf
    found = solve(rows, curves, where[AXES.index("pitch_ratio")].astype(np.int64))
    judged = judge(found, limits.at(where[AXES.index("cells")]), leave_out, doubts)
    return {
        **axis,
        "speed_mps": np.asarray(found.speed_mps),
        "current_a": np.asarray(found.current_a),
        "rpm": np.asarray(found.rpm),
        "shaft_power_w": np.asarray(found.shaft_power_w),
        "use": judged.use,
        "tightest": judged.tightest,
        "verdict": judged.verdict,
        "run_s": np.array(found.endurance_s),
        "mass_kg": rows["mass_kg"],
    }
