"""What a run would show with some numbers of its setup, and how that changes with each: many runs at once."""

import dataclasses
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.family import families_of, features
from kunstflug.core.drive.point import solve
from kunstflug.core.drive.rows import NAMES as DRIVE_NAMES
from kunstflug.core.drive.rows import Rows
from kunstflug.core.drive.values import as_bought as drive_as_bought
from kunstflug.core.evidence.readings import HEAT, STEADY, Reading, What
from kunstflug.core.laws.shares import side_by_side
from kunstflug.core.learning.run_evidence import RunEvidence
from kunstflug.core.propeller import OpenWaterCurve
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.knowledge import Owner
from kunstflug.core.thermal.duty import Duty
from kunstflug.core.thermal.nodes import NAMES as HEAT_NAMES
from kunstflug.core.thermal.nodes import NODES, Node
from kunstflug.core.thermal.nodes import as_bought as heat_as_bought
from kunstflug.core.thermal.run import DutyRun, run_drives
from kunstflug.core.thermal.tables import ThrottleTables, throttle_tables

STEP: Final = 1e-3
JUMP: Final = 0.03
"""A larger change of the speed's logarithm within one step is no slope: the step carried the boat over its hump."""
HEAT_STEP: Final = 0.05
OHMS: Final = (
    "winding_resistance_ohm", "controller_resistance_ohm", "pack_resistance_ohm", "wiring_resistance_ohm",
)  # fmt: skip
"""What a current heats. Every other number of the drive warms the parts by the current it makes."""
BELOW_K: Final = 2.0  # rises are counted from a little below the colder of water and air, so that all are above 0
FIELDS: Final = {
    What.SPEED: "speed_mps",
    What.CURRENT: "current_a",
    What.RPM: "rpm",
    What.VOLTAGE: "pack_voltage_v",
}
NODE_OF: Final = {
    What.CASE: Node.CASE,
    What.CONTROLLER: Node.CONTROLLER,
    What.PACK: Node.PACK,
    What.CONNECTOR: Node.CONNECTOR,
}
SETUP_NAMES: Final = (
    "kv_rpm_per_v", "cells", "pack_ah", "mass_kg", "diameter_m", "controller_resistance_ohm", "winding_resistance_ohm",
)  # fmt: skip
"""Numbers by which setups of a boat are told apart, beside their propeller's curve."""
_DRIVE: Final = frozenset(DRIVE_NAMES)
_HEAT: Final = frozenset(HEAT_NAMES)


@dataclass(frozen=True, slots=True, kw_only=True)
class RunPrediction:
    """What a run's readings would be, as logarithms: of the value, or of the rise over ``base_c``.

    Parameters
    ----------
    names : numbers of the setup, n of them.
    at : their logarithms over what was given or guessed, shape (n,), at which this was worked out.
    value : shape (k,), in the order of the run's readings; NaN where the model has no answer.
    slope : by each number's logarithm, shape (k, n).
    """

    names: tuple[str, ...]
    at: Array
    value: Array
    slope: Array
    base_c: float


@dataclass(frozen=True, eq=False, slots=True, kw_only=True)
class Base:
    """A run's setup as bought: one row of the drive, one of its heat, and the spread of every number."""

    drive: Rows
    heat: Rows
    curve: OpenWaterCurve
    features: Array
    families: Mapping[Owner, str]
    spread: Mapping[str, float]


def base_of(run: RunEvidence) -> Base:
    """The setup of a run as bought."""
    drive, heat = drive_as_bought(run.setup), heat_as_bought(run.setup)
    return Base(
        drive=drive.rows(),
        heat=heat.rows(),
        curve=curve_of(run.setup),
        features=features(run.setup),
        families=families_of(run.setup),
        spread={name: value.spread for name, value in (*drive, *heat)},
    )


def base_c(run: RunEvidence) -> float:
    """Temperature that rises are counted from [degC]."""
    conditions = run.setup.conditions
    return min(conditions.water_c.value, conditions.air_c.value) - BELOW_K


@dataclass(frozen=True, slots=True, kw_only=True)
class Query:
    """What a run would show, asked of the laws.

    Parameters
    ----------
    value : see ``RunPrediction``.
    steady : how speed, current, rpm and voltage change, shape (4, n); None where only the values were asked for.
    warm : how temperatures and the charge used change, in their order, shape (k, n); None likewise.
    """

    value: Array
    steady: Array | None
    warm: Array | None


def asked(
    runs: Sequence[RunEvidence],
    bases: Sequence[Base],
    names: Sequence[tuple[str, ...]],
    at: Sequence[Array],
    sloped: Sequence[bool],
) -> list[Query]:
    """What runs would show at some numbers, with slopes where they are wanted: these take many times as long.

    Parameters
    ----------
    names, at : of each run, the numbers that may differ from what was given, and their logarithms over it.
    """
    logs = [row[0] for row in steady_many(bases, names, [x[np.newaxis] for x in at])]
    slopes = [
        slopes_of(base.drive, base.curve, n, x) if wanted else None
        for base, n, x, wanted in zip(bases, names, at, sloped, strict=True)
    ]
    wanted = [k for k, run in enumerate(runs) if warm_ones(run)]
    tables = _tables_of({k: _moved(bases[k], names[k], at[k]) for k in wanted}, [base.curve for base in bases])

    def heated(k: int) -> tuple[Array, Array]:
        by_current = None if (slope := slopes[k]) is None else slope[STEADY.index(What.CURRENT)]
        return _warm(runs[k], bases[k], tables[k], warm_ones(runs[k]), names[k], at[k], by_current)

    warmed = dict(zip(wanted, side_by_side(heated, wanted), strict=True))
    found = []
    for k, run in enumerate(runs):
        value = np.full(len(run.readings), np.nan)
        for i, reading in enumerate(run.readings):
            if reading.what in STEADY:
                value[i] = logs[k][STEADY.index(reading.what)]
        warm = np.zeros((0, len(names[k])))
        if k in warmed:
            value[warm_ones(run)], warm = warmed[k]
        found.append(Query(value=value, steady=slopes[k], warm=np.nan_to_num(warm) if sloped[k] else None))
    return found


def said_by(
    run: RunEvidence, names: tuple[str, ...], at: Array, one: Query, steady: Array, warm: Array | None
) -> RunPrediction:
    """What is said of a run, with the slopes of one of its setup and of one of its duty."""
    slope = np.zeros((len(run.readings), len(names)))
    for i, reading in enumerate(run.readings):
        if reading.what in STEADY:
            slope[i] = steady[STEADY.index(reading.what)]
    if warm is not None:
        slope[warm_ones(run)] = warm
    return RunPrediction(names=names, at=at, value=one.value, slope=slope, base_c=base_c(run))


def said(run: RunEvidence, base: Base, names: tuple[str, ...], at: Array) -> RunPrediction:
    """What is said of one run at some numbers, with its own slopes."""
    (one,) = asked([run], [base], [names], [at], [True])
    assert one.steady is not None
    return said_by(run, names, at, one, one.steady, one.warm)


def alike(
    runs: Sequence[RunEvidence], bases: Sequence[Base], names: Sequence[tuple[str, ...]]
) -> tuple[list[int], list[int]]:
    """For each run, one of the same setup whose slopes it has, and one of the same duty and places for its heat.

    Days hardly change a slope. Which run it is, the days themselves say.
    """
    setups: dict[tuple[Any, ...], list[int]] = {}
    duties: dict[tuple[Any, ...], list[int]] = {}
    for k, (run, base) in enumerate(zip(runs, bases, strict=True)):
        key = (run.boat, id(base.curve), tuple(base.features[1:].round(6)), names[k])
        key = (*key, *(base.drive[name][0] for name in SETUP_NAMES))
        setups.setdefault(key, []).append(k)
        read = tuple((run.readings[i].what, run.readings[i].minutes) for i in warm_ones(run))
        duties.setdefault((*key, run.duty, run.duty_from, read), []).append(k)
    order = [(base.drive.tobytes(), repr(run.readings)) for run, base in zip(runs, bases, strict=True)]
    found = [0] * len(runs), [0] * len(runs)
    for out, groups in zip(found, (setups, duties), strict=True):
        for group in groups.values():
            first = min(group, key=order.__getitem__)
            for k in group:
                out[k] = first
    return found


def logs_of(rows: Rows, curve: OpenWaterCurve, names: tuple[str, ...], x: Array) -> Array:
    """Logarithms of speed, current, rpm and voltage, shape (N, 4), of drives whose numbers move by the same logarithms.

    Parameters
    ----------
    rows : as bought, shape (N,).
    """
    moved = rows.copy()
    for name, part in zip(names, np.exp(x).tolist(), strict=True):
        if name in _DRIVE:
            moved[name] *= part
    return _logs_of(moved, [curve], np.zeros(len(rows), dtype=np.int64)).T


def slopes_of(row: Rows, curve: OpenWaterCurve, names: tuple[str, ...], x: Array) -> Array:
    """How those logarithms change by each number's, shape (4, n), for one drive."""
    mine = [(j, name) for j, name in enumerate(names) if name in _DRIVE]
    rows = np.repeat(row, 1 + len(mine))
    for name, part in zip(names, np.exp(x).tolist(), strict=True):
        if name in _DRIVE:
            rows[name] *= part
    for k, (_, name) in enumerate(mine):
        rows[name][1 + k] *= np.exp(STEP)
    which = np.zeros(len(rows), dtype=np.int64)
    table = _logs_of(rows, [curve], which)
    found = np.zeros((len(STEADY), len(names)))
    changed = _changed(table, rows, [curve], which, np.array([0, len(rows)]), [[name for _, name in mine]])
    found[:, [j for j, _ in mine]] = changed[:, 1:]
    return np.nan_to_num(found)


def _changed(
    table: Array,
    rows: Rows,
    curves: Sequence[OpenWaterCurve],
    which: npt.NDArray[np.int64],
    begins: npt.NDArray[np.int64],
    spans: Sequence[Sequence[str]],
) -> Array:
    """How the logarithms change with the number that each row steps in, shape (4, N).

    Where the step carries the boat over its hump, or the laws have no answer, it is taken in the other direction. If
    that fails as well, the slope is 0.

    Parameters
    ----------
    table : logarithms of all rows, shape (4, N).
    begins : where each run's rows begin; the first of them has no step in it.
    spans : names of the numbers that the others step in.
    """
    owner = np.repeat(np.arange(len(spans)), np.diff(begins))
    base: Array = table[:, begins[owner]]
    found: Array = (table - base) / STEP
    over = np.flatnonzero(~(np.abs(table[0] - base[0]) < JUMP) & np.isfinite(base[0]))
    if len(over):
        back = rows[over].copy()
        for i, row in enumerate(over):
            back[spans[owner[row]][row - begins[owner[row]] - 1]][i] *= np.exp(-2 * STEP)
        less = base[:, over] - _logs_of(back, curves, which[over])
        found[:, over] = np.where(np.abs(less[0]) < JUMP, less / STEP, 0.0)
    return found


def _logs_of(rows: Rows, curves: Sequence[OpenWaterCurve], which: npt.NDArray[np.int64]) -> Array:
    """Logarithms of speed, current, rpm and voltage, shape (4, N)."""
    points = solve(rows, curves, which)
    with np.errstate(divide="ignore", invalid="ignore"):
        found: Array = np.log(np.stack([np.asarray(getattr(points, FIELDS[what])) for what in STEADY]))
    return found


def steady_many(bases: Sequence[Base], names: Sequence[tuple[str, ...]], at: Sequence[Array]) -> list[Array]:
    """Logarithms of speed, current, rpm and voltage of each setup, shape (S, 4), for S sets of its numbers, (S, n)."""
    counts = [len(x) for x in at]
    rows, which = np.empty(sum(counts), dtype=bases[0].drive.dtype), np.empty(sum(counts), dtype=np.int64)
    curves: list[OpenWaterCurve] = []
    places: dict[int, int] = {}
    for base, mine, x, end in zip(bases, names, at, np.cumsum(counts), strict=True):
        if id(base.curve) not in places:
            places[id(base.curve)] = len(curves)
            curves.append(base.curve)
        block, factor = rows[end - len(x) : end], np.exp(x)
        block[:], which[end - len(x) : end] = base.drive[0], places[id(base.curve)]
        for j, name in enumerate(mine):
            if name in _DRIVE:
                block[name] *= factor[:, j]
    return np.split(_logs_of(rows, curves, which).T, np.cumsum(counts)[:-1])


def long_enough(run: RunEvidence) -> Duty:
    """The run's duty, its soak as long as the last reading needs."""
    last = max((r.minutes for r in run.readings if r.what in HEAT), default=0.0)
    soak = run.duty.phases[-1]
    if 60.0 * last + 6.0 <= soak.seconds:
        return run.duty
    longer = dataclasses.replace(soak, seconds=60.0 * last + 6.0)
    return dataclasses.replace(run.duty, phases=(*run.duty.phases[:-1], longer))


def warm_ones(run: RunEvidence) -> list[int]:
    """Places of the readings for which the duty has to be run."""
    return [i for i, r in enumerate(run.readings) if r.what in HEAT or r.what is What.CHARGE]


def _moved(base: Base, names: tuple[str, ...], at: Array) -> Rows:
    """The row of a run's drive at some numbers."""
    row = base.drive.copy()
    for name, x in zip(names, at, strict=True):
        if name in _DRIVE:
            row[name] *= np.exp(x)
    return row


def _tables_of(rows: Mapping[int, Rows], curves: Sequence[OpenWaterCurve]) -> dict[int, ThrottleTables]:
    """Tables of one boat for each row; those of one propeller are made together."""
    together: dict[int, list[int]] = {}
    for k in rows:
        together.setdefault(id(curves[k]), []).append(k)
    found = {}
    for group in together.values():
        made = throttle_tables(np.concatenate([rows[k] for k in group]), curves[group[0]])
        for n, k in enumerate(group):
            found[k] = ThrottleTables(
                **{f.name: getattr(made, f.name)[n : n + 1] for f in dataclasses.fields(ThrottleTables)}
            )
    return found


def _warm(
    run: RunEvidence,
    base: Base,
    made: ThrottleTables,
    which: list[int],
    names: tuple[str, ...],
    at: Array,
    by_current: Array | None,
) -> tuple[Array, Array]:
    """Logarithms of the rises and of the charge used, shape (k,), and their slopes, shape (k, n), where wanted.

    Parameters
    ----------
    made : of the drive at these numbers: what a resistance heats is asked for at the same current, and what belongs to
        the heat moves nothing of the drive, so that it serves them all.
    by_current : how the current's logarithm changes with each number; None where only the values are wanted.
    """
    slopes = by_current is not None
    ohms = [name for name in OHMS if slopes and name in names]
    mine = [name for name in names if slopes and name in _HEAT]
    count = 1 + len(ohms) + len(mine)
    drives, heat = np.repeat(_moved(base, names, at), count), np.repeat(base.heat, count)
    for name, x in zip(names, at, strict=True):
        if name not in _DRIVE:
            heat[name] *= np.exp(x)
    tables = ThrottleTables(
        **{f.name: np.repeat(getattr(made, f.name), count, axis=0) for f in dataclasses.fields(ThrottleTables)}
    )
    for j, name in enumerate(ohms):
        drives[name][1 + j] *= np.exp(HEAT_STEP)
    for j, name in enumerate(mine):
        heat[name][1 + len(ohms) + j] *= np.exp(HEAT_STEP)
    duty = long_enough(run)
    driven = run_drives(run.setup, duty, drives, heat, step_s=0.2, stride=3, cooling=run.cooling, tables=tables)
    value, slope = np.empty(len(which)), np.zeros((len(which), len(names)))
    driven_names = np.array([name in _DRIVE for name in names], dtype=bool)
    for row, i in enumerate(which):
        reading = run.readings[i]
        read = _logs(run, reading, driven)
        changed = (read[1:] - read[0]) / HEAT_STEP
        value[row] = read[0]
        heated = 1.0 if reading.what is What.CHARGE else 2.0 * float(np.sum(changed[: len(ohms)]))
        slope[row] = np.where(driven_names, heated * by_current, 0.0) if by_current is not None else 0.0
        slope[row, [names.index(name) for name in (*ohms, *mine)]] = changed
    return value, slope


def _logs(run: RunEvidence, reading: Reading, driven: DutyRun) -> Array:
    """Logarithm of a reading's rise, or of the charge used, for each drive of a duty."""
    if reading.what is What.CHARGE:
        found: Array = np.log(np.maximum(driven.used_ah[:, -1], 1e-6))
        return found
    when = min(driven.duty.landing_s + 60.0 * reading.minutes, driven.time_s[-1])
    k = min(int(np.searchsorted(driven.time_s, when)), len(driven.time_s) - 1)
    celsius = driven.temperature_c[:, k, NODES.index(NODE_OF[reading.what])]
    rises: Array = np.log(np.maximum(celsius - base_c(run), 0.1))
    return rises
