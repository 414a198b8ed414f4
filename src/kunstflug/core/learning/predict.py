"""What a run would show with some numbers of its setup, and how that changes with each: many runs at once."""

import dataclasses
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

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
from kunstflug.core.learning.seen import Seen
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
_DRIVE: Final = frozenset(DRIVE_NAMES)
_HEAT: Final = frozenset(HEAT_NAMES)


@dataclass(frozen=True, slots=True, kw_only=True)
class Said:
    """What a run's readings would be, as logarithms: of the value, or of the rise over ``base_c``.

    Parameters
    ----------
    names : numbers of the setup, n of them.
    at : their logarithms over what was given or guessed, shape (n,), at which this was worked out.
    value : shape (k,), in the order of the run's readings; NaN where the model has no answer.
    slope : by each number's logarithm, shape (k, n).
    heat_at : where the heat was worked out; carried on in a straight line from there.
    """

    names: tuple[str, ...]
    at: Array
    value: Array
    slope: Array
    base_c: float
    heat_at: Array


@dataclass(frozen=True, eq=False, slots=True, kw_only=True)
class Base:
    """A run's setup as bought: one row of the drive, one of its heat, and the spread of every number."""

    drive: Rows
    heat: Rows
    curve: OpenWaterCurve
    features: Array
    families: Mapping[Owner, str]
    spread: Mapping[str, float]


def base_of(run: Seen) -> Base:
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


def base_c(run: Seen) -> float:
    """Temperature that rises are counted from [degC]."""
    conditions = run.setup.conditions
    return min(conditions.water_c.value, conditions.air_c.value) - BELOW_K


def said(
    runs: Sequence[Seen],
    bases: Sequence[Base],
    names: Sequence[tuple[str, ...]],
    at: Sequence[Array],
    before: Sequence[Said | None],
    *,
    heat: bool = True,
    anew: bool = True,
) -> list[Said]:
    """What runs would show at some numbers, with slopes.

    Parameters
    ----------
    names, at : of each run, the numbers that may differ from what was given, and their logarithms over it.
    before : what was said of a run elsewhere.
    heat : whether the heat is worked out anew, too, which takes the most time; else it follows in a straight line.
    anew : whether with its slopes, which takes four times as long; else they are those of before.
    """
    steady = _steady(bases, names, at)
    wanted = [k for k, run in enumerate(runs) if _warm_ones(run) and (heat or before[k] is None)]
    tables = _tables_of({k: _moved(bases[k], names[k], at[k]) for k in wanted}, [base.curve for base in bases])

    def heated(k: int) -> tuple[Array, Array]:
        by_current = steady[k][1][STEADY.index(What.CURRENT)]
        slopes = anew or before[k] is None
        return _warm(runs[k], bases[k], tables[k], _warm_ones(runs[k]), names[k], at[k], by_current, slopes=slopes)

    warmed = dict(zip(wanted, side_by_side(heated, wanted), strict=True))
    found = []
    for k, run in enumerate(runs):
        count, old = len(run.readings), before[k]
        value, slope = np.full(count, np.nan), np.zeros((count, len(names[k])))
        point, slopes = steady[k]
        for i, reading in enumerate(run.readings):
            if reading.what in STEADY:
                j = STEADY.index(reading.what)
                value[i], slope[i] = point[j], slopes[j]
        heat_at, warm = at[k], _warm_ones(run)
        if k in warmed:
            value[warm], fresh = warmed[k]
            if old is None or anew:
                slope[warm] = fresh
            else:
                slope[warm], heat_at = old.slope[warm], old.heat_at
        elif warm and old is not None:
            value[warm], slope[warm] = (old.value + old.slope @ (at[k] - old.at))[warm], old.slope[warm]
            heat_at = old.heat_at
        slope = np.nan_to_num(slope)
        found.append(Said(names=names[k], at=at[k], value=value, slope=slope, base_c=base_c(run), heat_at=heat_at))
    return found


def _steady(bases: Sequence[Base], names: Sequence[tuple[str, ...]], at: Sequence[Array]) -> list[tuple[Array, Array]]:
    """Logarithms of speed, current, rpm and voltage of each run, shape (4,), and their slopes, shape (4, n)."""
    rows, which, spans = [], [], []
    curves: list[OpenWaterCurve] = []
    places: dict[int, int] = {}
    for k, base in enumerate(bases):
        curve = base.curve
        if id(curve) not in places:
            places[id(curve)] = len(curves)
            curves.append(curve)
        mine = [name for name in names[k] if name in _DRIVE]
        block = np.repeat(base.drive, 1 + len(mine))
        for name, x in zip(names[k], at[k], strict=True):
            if name in _DRIVE:
                block[name] *= np.exp(x)
        for j, name in enumerate(mine):
            block[name][1 + j] *= np.exp(STEP)
        rows.append(block)
        which.append(np.full(len(block), places[id(curve)], dtype=np.int64))
        spans.append(mine)
    stacked, curve_of_row = np.concatenate(rows), np.concatenate(which)
    table = _logs_of(stacked, curves, curve_of_row)
    begins = np.cumsum([0, *(1 + len(mine) for mine in spans)])
    changed = _changed(table, stacked, curves, curve_of_row, begins, spans)
    found = []
    for k, mine in enumerate(spans):
        slopes = np.zeros((len(STEADY), len(names[k])))
        slopes[:, [names[k].index(name) for name in mine]] = changed[:, begins[k] + 1 : begins[k + 1]]
        found.append((table[:, begins[k]], slopes))
    return found


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
    rows, which, curves = [], [], []
    for k, base in enumerate(bases):
        curves.append(base.curve)
        block = np.repeat(base.drive, len(at[k]))
        for j, name in enumerate(names[k]):
            if name in _DRIVE:
                block[name] *= np.exp(at[k][:, j])
        rows.append(block)
        which.append(np.full(len(block), k, dtype=np.int64))
    table = _logs_of(np.concatenate(rows), curves, np.concatenate(which))
    return np.split(table.T, np.cumsum([len(block) for block in rows])[:-1])


def long_enough(run: Seen) -> Duty:
    """The run's duty, its soak as long as the last reading needs."""
    last = max((r.minutes for r in run.readings if r.what in HEAT), default=0.0)
    soak = run.duty.phases[-1]
    if 60.0 * last + 6.0 <= soak.seconds:
        return run.duty
    longer = dataclasses.replace(soak, seconds=60.0 * last + 6.0)
    return dataclasses.replace(run.duty, phases=(*run.duty.phases[:-1], longer))


def _warm_ones(run: Seen) -> list[int]:
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
    run: Seen,
    base: Base,
    made: ThrottleTables,
    which: list[int],
    names: tuple[str, ...],
    at: Array,
    by_current: Array,
    *,
    slopes: bool,
) -> tuple[Array, Array]:
    """Logarithms of the rises and of the charge used, shape (k,), and their slopes, shape (k, n), where wanted.

    Parameters
    ----------
    made : of the drive at these numbers: what a resistance heats is asked for at the same current, and what belongs to
        the heat moves nothing of the drive, so that it serves them all.
    """
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
        slope[row] = np.where(driven_names, heated * by_current, 0.0)
        slope[row, [names.index(name) for name in (*ohms, *mine)]] = changed
    return value, slope


def _logs(run: Seen, reading: Reading, driven: DutyRun) -> Array:
    """Logarithm of a reading's rise, or of the charge used, for each drive of a duty."""
    if reading.what is What.CHARGE:
        found: Array = np.log(np.maximum(driven.used_ah[:, -1], 1e-6))
        return found
    when = min(driven.duty.landing_s + 60.0 * reading.minutes, driven.time_s[-1])
    k = min(int(np.searchsorted(driven.time_s, when)), len(driven.time_s) - 1)
    celsius = driven.temperature_c[:, k, NODES.index(NODE_OF[reading.what])]
    rises: Array = np.log(np.maximum(celsius - base_c(run), 0.1))
    return rises
