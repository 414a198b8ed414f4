"""What a run would show with some numbers of its setup, and how that changes with each: many runs at once."""

import dataclasses
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.point import solve
from kunstflug.core.drive.values import NAMES as DRIVE_NAMES
from kunstflug.core.drive.values import Rows, families_of, features
from kunstflug.core.drive.values import as_bought as drive_as_bought
from kunstflug.core.learning.seen import HEAT, STEADY, Reading, Seen, What
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
) -> list[Said]:
    """What runs would show at some numbers, with slopes.

    Parameters
    ----------
    names, at : of each run, the numbers that may differ from what was given, and their logarithms over it.
    before : what was said of a run elsewhere; the slopes of its heat, which change little, are taken from there.
    heat : whether the heat is worked out anew, too, which takes the most time.
    """
    steady = _steady(bases, names, at)
    found = []
    for k, run in enumerate(runs):
        count = len(run.readings)
        value, slope = np.full(count, np.nan), np.zeros((count, len(names[k])))
        point, slopes = steady[k]
        for i, reading in enumerate(run.readings):
            if reading.what in STEADY:
                j = STEADY.index(reading.what)
                value[i], slope[i] = point[j], slopes[j]
        warm = [i for i, r in enumerate(run.readings) if r.what in HEAT or r.what is What.CHARGE]
        old, heat_at = before[k], at[k]
        if warm and old is not None and not heat:
            value[warm], slope[warm] = (old.value + old.slope @ (at[k] - old.at))[warm], old.slope[warm]
            heat_at = old.heat_at
        elif warm:
            by_current = slopes[STEADY.index(What.CURRENT)]
            value[warm], fresh = _warm(run, bases[k], warm, names[k], at[k], by_current, slopes=old is None)
            slope[warm] = fresh if old is None else old.slope[warm]
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
    points = solve(np.concatenate(rows), curves, np.concatenate(which))
    with np.errstate(divide="ignore", invalid="ignore"):
        table = np.log(np.stack([np.asarray(getattr(points, FIELDS[what])) for what in STEADY]))
    found, begin = [], 0
    for k, mine in enumerate(spans):
        block = table[:, begin : begin + 1 + len(mine)]
        begin += 1 + len(mine)
        slopes = np.zeros((len(STEADY), len(names[k])))
        for j, name in enumerate(mine):
            slopes[:, names[k].index(name)] = (block[:, 1 + j] - block[:, 0]) / STEP
        found.append((block[:, 0], slopes))
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
    points = solve(np.concatenate(rows), curves, np.concatenate(which))
    with np.errstate(divide="ignore", invalid="ignore"):
        table = np.log(np.stack([np.asarray(getattr(points, FIELDS[what])) for what in STEADY], axis=-1))
    return np.split(table, np.cumsum([len(block) for block in rows])[:-1])


def long_enough(run: Seen) -> Duty:
    """The run's duty, its soak as long as the last reading needs."""
    last = max((r.minutes for r in run.readings if r.what in HEAT), default=0.0)
    soak = run.duty.phases[-1]
    if 60.0 * last + 6.0 <= soak.seconds:
        return run.duty
    longer = dataclasses.replace(soak, seconds=60.0 * last + 6.0)
    return dataclasses.replace(run.duty, phases=(*run.duty.phases[:-1], longer))


def _warm(
    run: Seen, base: Base, which: list[int], names: tuple[str, ...], at: Array, by_current: Array, *, slopes: bool
) -> tuple[Array, Array]:
    """Logarithms of the rises and of the charge used, shape (k,), and their slopes, shape (k, n), where wanted."""
    ohms = [name for name in OHMS if slopes and name in names]
    mine = [name for name in names if slopes and name in _HEAT]
    count = 1 + len(ohms) + len(mine)
    drives, heat = np.repeat(base.drive, count), np.repeat(base.heat, count)
    for name, x in zip(names, at, strict=True):
        if name in _DRIVE:
            drives[name] *= np.exp(x)
        else:
            heat[name] *= np.exp(x)
    # What a resistance heats is asked for at the same current, and what belongs to the heat moves nothing of the drive:
    # the nominal drive's tables serve them all.
    made = throttle_tables(drives[:1], base.curve)
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
