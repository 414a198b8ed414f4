"""In which units a column's values can be what somebody takes them for, and how likely each is."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from kunstflug.core.quantity.value import Array
from kunstflug.documents.columns import MONTH_FIRST, UNITS, Role
from kunstflug.files.headings import is_electric
from kunstflug.files.moments import DIGITS_CLOCK, Order, day_of_digits, order_of, seconds_of_digits

TYPICAL: Final = 0.0
SELDOM: Final = -2.0
"""Logarithm of how likely values are that can be but seldom are; these and the ranges are our own choice."""
UNSAID: Final = -6.0
FEW: Final = 5
MANY: Final = 100


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """A unit in which a column can be read, and the logarithm of how likely its values are then."""

    unit: str
    likely: float


@dataclass(frozen=True, slots=True, kw_only=True)
class _Range:
    """Where the largest value of a column usually lies, and where it can lie, in the core's unit."""

    usual: tuple[float, float]
    possible: tuple[float, float]


_RANGES: Final[tuple[tuple[Role, _Range], ...]] = (
    (Role.SPEED, _Range(usual=(3.0, 70.0), possible=(0.0, 130.0))),
    (Role.ELEVATION, _Range(usual=(-400.0, 3000.0), possible=(-500.0, 9000.0))),
    (Role.VOLTAGE, _Range(usual=(5.5, 62.0), possible=(0.0, 130.0))),
    (Role.CURRENT, _Range(usual=(8.0, 600.0), possible=(0.0, 2000.0))),
    (Role.RPM, _Range(usual=(3000.0, 80_000.0), possible=(0.0, 300_000.0))),
    (Role.THROTTLE, _Range(usual=(40.0, 110.0), possible=(0.0, 120.0))),
    (Role.CHARGE, _Range(usual=(50.0, 40_000.0), possible=(0.0, 100_000.0))),
    (Role.CELL, _Range(usual=(3.0, 4.45), possible=(0.0, 5.0))),
)
_SAID_ONLY: Final = frozenset({"min", "mm", "mm/s", "100 rpm", "1/s", "cm/s", "K", "ft"})
"""Units that values alone do not make likely."""
_FAST_MPS: Final = 40.0
_LESS_USED: Final = (("km/h", 0.1), ("kn", 0.3), ("mph", 0.3), ("dA", 0.6), ("dV", 0.6), ("cV", 0.6), ("cA", 1.2))
_WHOLE: Final = frozenset({"mV", "cV", "dV", "mA", "cA", "dA", "mm/s", "us"})
"""Units that devices write so that they need no decimal point."""
_STARTS_C: Final = (-5.0, 45.0)
"""Temperature of a boat's parts when a log begins [degC]; the water is not frozen."""
_WARM_C: Final = 80.0
WARM: Final = -0.5
"""A boat that ran before begins warmer, up to that."""
_LASTS_S: Final = (2.0, 6 * 3600.0)
_STEPS_S: Final = (0.004, 20.0)


def readings(role: Role, told: str, heading: str, cells: list[str], numbers: Array) -> list[Reading]:
    """Units in which a column can be of a role, the likeliest first; none where its values rule the role out.

    Parameters
    ----------
    told : the unit that the file tells, or nothing.
    cells, numbers : the first cells as text, and more of them as numbers.
    """
    known = numbers[np.isfinite(numbers)]
    match role:
        case Role.TIME | Role.DATE:
            found = list(_moments(role, cells, known))
        case Role.PLACE:
            found = list(_places(cells))
        case Role.LATITUDE | Role.LONGITUDE:
            found = list(_angles(role, known))
        case Role.MOTOR_TEMPERATURE | Role.CONTROLLER_TEMPERATURE:
            found = list(_temperatures(role, known))
        case _:
            found = list(_amounts(role, heading, known))
    if told in UNITS[role]:
        found = [one for one in found if one.unit == told] or found
    else:
        found = [replace(one, likely=one.likely + UNSAID * (one.unit in _SAID_ONLY)) for one in found]
    return sorted(found, key=lambda one: -one.likely)


def _amounts(role: Role, heading: str, known: Array) -> Iterator[Reading]:
    """Units of a number: its largest value tells."""
    if len(known) < 1:
        return
    span = dict(_RANGES)[role]
    most = float(np.percentile(np.abs(known), 98 if len(known) > MANY else 90))  # one wild value rules nothing out
    steps = bool(np.any(known != np.trunc(known)))
    if np.median(known) < 0 and role not in (Role.CURRENT, Role.ELEVATION):
        return  # a pack that is emptied may be logged so
    if role is Role.SPEED and len(known) > 4 * FEW and np.all(np.diff(known) > 0):
        return  # no boat goes faster from the first to the last moment
    for unit, (factor, offset) in UNITS[role].items():
        value = most * factor + offset
        electric = unit.startswith("field")
        if electric and ((not is_electric(heading) and most <= span.usual[1]) or unit == "field, 2 poles"):
            continue
        if unit == "rpm" and is_electric(heading) and most > span.usual[1]:
            continue
        least = -1.0 if role is Role.THROTTLE else span.possible[0]
        if (unit == "us" and not 400 <= most <= 2600) or not least <= value <= span.possible[1]:
            continue
        usual = span.usual[0] <= value <= span.usual[1]
        likely = (TYPICAL if usual else SELDOM) - dict(_LESS_USED).get(unit, 0.4 if electric else 0.0)
        likely += SELDOM if steps and unit in _WHOLE else 0.0
        likely -= 0.5 if role is Role.SPEED and value > _FAST_MPS else 0.0
        yield Reading(unit=unit, likely=likely)


def _temperatures(role: Role, known: Array) -> Iterator[Reading]:
    """Units of a temperature: where it begins tells, as a boat's parts begin as warm as the air and the water."""
    if not len(known):
        return
    first, most = float(known[0]), float(np.max(known))
    for unit, (factor, offset) in UNITS[role].items():
        start, top = first * factor + offset, most * factor + offset
        low = 8.0 if unit == "degF" else _STARTS_C[0]
        if start >= -40.0 and top <= 300.0 and (unit != "K" or first > 200):
            likely = SELDOM if not low <= start <= _WARM_C or top > 200 else TYPICAL if start <= _STARTS_C[1] else WARM
            yield Reading(unit=unit, likely=likely)


def _angles(role: Role, known: Array) -> Iterator[Reading]:
    """Units of a latitude or longitude; a pond is smaller than a tenth of a degree."""
    if len(known) < 1:
        return
    most, round_ = float(np.max(np.abs(known))), 90.0 if role is Role.LATITUDE else 180.0
    spread = float(np.percentile(known, 95) - np.percentile(known, 5)) if len(known) > 1 else 0.0
    minutes = np.abs(known) % 100
    for unit, factor in (("deg", 1.0), ("1e-7 deg", 1e-7), ("ddmm.mmmm", 0.01)):
        if most * factor > round_ or (unit == "ddmm.mmmm" and float(np.max(minutes)) >= 60.0):
            continue
        if unit == "1e-7 deg" and most < 1e5:
            continue
        wide = spread * (0.01 / 0.6 if unit == "ddmm.mmmm" else factor)
        whole = unit == "deg" and np.all(known == np.trunc(known))
        seldom = wide > 0.2 or (unit == "ddmm.mmmm" and most <= round_) or whole
        yield Reading(unit=unit, likely=SELDOM if seldom else TYPICAL)


_TWO: Final = re.compile(r"^\s*\(?[+-]?\d{1,3}\.\d+\s*[ ,;]\s*[+-]?\d{1,3}\.\d+\)?\s*$")


def _places(cells: list[str]) -> Iterator[Reading]:
    """Both angles in one cell; the latitude first, as ISO 6709 has it, where both can be."""
    told = [cell for cell in cells if cell]
    pairs = np.array([two_numbers(cell) for cell in told if _TWO.match(cell)])
    if len(pairs) < max(FEW, 0.9 * len(told)):
        return
    for unit, latitude, likely in (("lat lon", 0, TYPICAL), ("lon lat", 1, SELDOM / 2)):
        if float(np.max(np.abs(pairs[:, latitude]))) <= 90.0:
            yield Reading(unit=unit, likely=likely)


def two_numbers(cell: str) -> tuple[float, float]:
    """The two numbers of a cell; NaN where it has not two."""
    found = re.findall(r"[+-]?\d+(?:\.\d+)?", cell)
    return (float(found[0]), float(found[1])) if len(found) == 2 else (np.nan, np.nan)


def _moments(role: Role, cells: list[str], known: Array) -> Iterator[Reading]:
    """How a clock or a date is written."""
    told = [cell for cell in cells if cell]
    if not told:
        return
    dated = sum(re.search(r"\d[-./]\d+[-./]\d", cell) is not None for cell in told) > len(told) / 2
    timed = sum(":" in cell for cell in told) > len(told) / 2
    wanted = {(Role.TIME, True, True): "date and time", (Role.DATE, True, False): "date"}.get((role, dated, timed))
    if wanted:
        order = order_of(told)
        if order is not Order.MONTH_FIRST:
            yield Reading(unit=wanted, likely=TYPICAL)
        if order is not Order.DAY_FIRST:
            yield Reading(unit=wanted + MONTH_FIRST, likely=TYPICAL - 0.1 * (order is Order.EITHER))
    elif role is Role.TIME and timed and not dated:
        yield Reading(unit="clock", likely=TYPICAL)
    elif role is Role.DATE:
        yield from _digit_days(told)
    elif len(known) > 1 and len(known) >= len(told) / 2:
        yield from _counts(told, known)


def _digit_days(told: list[str]) -> Iterator[Reading]:
    for unit in ("ddmmyy", "yymmdd"):
        days = [day_of_digits(cell, unit) for cell in told]
        if all(day is not None for day in days):
            yield Reading(unit=unit, likely=TYPICAL - 0.5 * (unit == "yymmdd"))


def _counts(told: list[str], known: Array) -> Iterator[Reading]:
    """Units of a clock that counts: it must rise, at steps and for as long as a device logs."""
    steps = np.diff(known)
    if np.mean(steps >= 0) < 0.85 or not np.any(steps > 0):
        return
    step, whole = float(np.median(steps[steps > 0])), float(np.max(known) - np.min(known))
    if all(DIGITS_CLOCK.match(cell) for cell in told):
        seconds = np.array([seconds_of_digits(cell) for cell in told])
        jumps = float(np.max(np.diff(seconds), initial=0.0)) < 30.0 < float(np.max(steps[: len(told)], initial=0.0))
        if np.isfinite(seconds).all() and known[0] >= 1e4:
            yield Reading(unit="hhmmss", likely=1.0 if jumps else TYPICAL - 0.5)
            if jumps:
                return
    if known[0] > 1e11:
        yield Reading(unit="unix ms", likely=TYPICAL)
        return
    if known[0] > 1e8 and step < _STEPS_S[1]:
        yield Reading(unit="unix s", likely=TYPICAL)
        return
    even = float(np.percentile(np.abs(steps - step), 90)) < 0.2 * step
    for unit in ("s", "ms", "us", "min"):
        factor = UNITS[Role.TIME][unit][0]
        each, long = step * factor, whole * factor
        can = 1e-4 <= each <= 120.0 and long <= 10 * _LASTS_S[1]
        usual = _STEPS_S[0] <= each <= _STEPS_S[1] and _LASTS_S[0] <= long <= _LASTS_S[1]
        few = len(known) < 4 * FEW and long <= _LASTS_S[1]
        if can:
            likely = (TYPICAL if usual or (few and each >= _STEPS_S[0]) else SELDOM) + even
            yield Reading(unit=unit, likely=likely)
