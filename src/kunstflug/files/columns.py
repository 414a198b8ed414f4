"""What the columns of somebody's CSV file are: all of them are given their roles at once, and what is close is asked.

Each column speaks for each role by its heading, by the unit that is told and by its values. The assignment with the
largest sum is taken; where another one comes near, both readings of the columns in which they differ are options.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
import scipy

from kunstflug.core.quantity.value import Array
from kunstflug.documents.columns import UNITS, Role
from kunstflug.files.candidates import SELDOM, TYPICAL, Reading, readings
from kunstflug.files.headings import is_electric, is_other, lies_beside, roles_in, says_a_role, unit_in

NAN: Final = float("nan")
NAMED: Final = 5.0
"""What a heading's word is worth, as a logarithm; this and what follows are our own choice."""
NEXT_WORD: Final = 0.7  # less for each role that a heading says before this one
BESIDE: Final = 2.0
BY_VALUES: Final = 1.5
CLOSE: Final = 1.0
"""Two assignments nearer than this are both shown."""
LIKELY: Final = 3.0
MOST_OPTIONS: Final = 16
MANY_ROLES: Final = 4
BY_UNIT: Final = 2.0
LEAST: Final = 0.1
"""A role that a heading says is taken, however seldom its values are, and asked about."""
_BY_UNIT: Final = frozenset({Role.VOLTAGE, Role.CURRENT, Role.RPM, Role.CHARGE, Role.SPEED})
"""Roles that a unit says without a word that is known; asked about."""
_CELLS: Final = 16


@dataclass(frozen=True, slots=True, kw_only=True)
class Option:
    """One way to read a column; no role where it is passed over."""

    role: Role | None
    unit: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Proposal:
    """What a column is taken to be.

    Parameters
    ----------
    role : None where it is passed over.
    sure : no other reading comes near.
    options : what else it may be, itself first; none where it is sure.
    """

    role: Role | None
    unit: str
    sure: bool
    options: tuple[Option, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class _Column:
    """A column and what it can be.

    Parameters
    ----------
    named, other : whether its heading says a role, or something that is none.
    speaks : whether it holds numbers that change.
    scores : of each role that it is taken for.
    units : of each role that its values can be.
    """

    heading: str
    told: str
    named: bool
    other: bool
    speaks: bool
    scores: dict[Role, float]
    units: dict[Role, list[Reading]]


def proposals(headings: list[str], units: list[str], columns: list[list[str]], numbers: list[Array]) -> list[Proposal]:
    """What each column is; no role but cells twice.

    Parameters
    ----------
    headings, units : first row and unit row; empty strings where there is none.
    columns, numbers : first cells of each column, as text and as numbers (NaN where a cell is none).
    """
    if {"v", "a"} <= {heading.strip() for heading in headings}:  # beside one another they are volts and amperes
        headings = [heading.upper() if heading.strip() in ("v", "a") else heading for heading in headings]
    table = [_column(*one) for one in zip(headings, units, columns, numbers, strict=True)]
    best, close = _assigned(table)
    _told_by_each_other(table, best)
    taken = {role for column, role, near in zip(table, best, close, strict=True) if role and _clear(column, role, near)}
    if Role.PLACE in taken:
        taken |= {Role.LATITUDE, Role.LONGITUDE}
    return [_proposal(*one, taken) for one in zip(table, best, close, strict=True)]


def _column(heading: str, unit: str, cells: list[str], numbers: Array) -> _Column:
    told = unit_in(heading, unit)
    wanted = roles_in(heading, told)
    named = {role: NAMED - NEXT_WORD * rank for rank, role in enumerate(wanted)}
    other, away = not wanted and is_other(heading, unit), BESIDE if lies_beside(heading) else 0.0
    can = [role for role in Role if role in named or not (wanted or (told and told not in UNITS[role]))]
    units = {role: readings(role, told, heading, cells, numbers) for role in can}
    units = {role: found for role, found in units.items() if found}
    worth = {
        role: named.get(role) or (0.0 if other or says_a_role(heading) else _unnamed(role, told, cells, numbers))
        for role in units
    }
    known = numbers[np.isfinite(numbers)]
    return _Column(
        heading=heading,
        told=told,
        named=bool(wanted),
        other=other,
        speaks=len(known) >= len(numbers) / 2 and len(known) > 1 and float(np.ptp(known)) > 0,
        scores={role: max(worth[role] + found[0].likely - away, LEAST) for role, found in units.items() if worth[role]},
        units=units,
    )


def _unnamed(role: Role, told: str, cells: list[str], numbers: Array) -> float:
    """What a role is worth without a word for it: by its unit, or by values that rise from each row to the next."""
    if role in _BY_UNIT and told in UNITS[role]:
        return BY_UNIT
    known = numbers[np.isfinite(numbers)]
    if role is Role.PLACE:
        alone = len(cells) > 2
    else:
        rises = len(known) > 4 and len(known) == len(numbers) and bool(np.all(np.diff(known) > 0))
        alone = role is Role.TIME and (rises or (not len(known) and len(cells) > 2))
    return BY_VALUES if alone else 0.0


def _told_by_each_other(table: Sequence[_Column], roles: Sequence[Role | None]) -> None:
    """Both angles of a position are written alike; a receiver's sentences have their day in digits, day first."""
    at = {role: table[k].units for k, role in enumerate(roles) if role is not None}
    if Role.LATITUDE not in at or Role.LONGITUDE not in at:
        return
    worth: dict[str, list[float]] = {}
    for role in (Role.LATITUDE, Role.LONGITUDE):
        for one in at[role][role]:
            worth.setdefault(one.unit, []).append(one.likely)
    both = {unit: sum(likely) for unit, likely in worth.items() if len(likely) == 2}
    if not both:
        return
    unit = max(both, key=lambda unit: both[unit])
    for role in (Role.LATITUDE, Role.LONGITUDE):
        alike = [one for one in at[role][role] if one.unit == unit]
        at[role][role] = [replace(one, likely=max(one.likely, TYPICAL)) for one in alike]
    if unit == "ddmm.mmmm" and Role.DATE in at:
        days = at[Role.DATE][Role.DATE]
        at[Role.DATE][Role.DATE] = [one for one in days if one.unit == "ddmmyy"] or days


def _assigned(table: Sequence[_Column]) -> tuple[list[Role | None], list[list[Role | None]]]:
    """The role of each column in the best assignment, and the roles it has in those that come near."""
    slots = [role for role in Role for _ in range(_CELLS if role is Role.CELL else 1)]
    worth = np.zeros((len(table), len(slots) + len(table)))
    for k, column in enumerate(table):
        worth[k, : len(slots)] = [column.scores.get(role, -np.inf) for role in slots]
    worth[np.isneginf(worth)] = -1e3
    best, total = _solved(worth, slots)
    close: list[list[Role | None]] = [[] for _ in table]
    for k, role in enumerate(best):
        if role is None:
            continue
        barred = worth.copy()
        barred[k, [slot is role for slot in slots] + [False] * len(table)] = -1e3
        other, less = _solved(barred, slots)
        if total - less < CLOSE:
            for at, (mine, theirs) in enumerate(zip(best, other, strict=True)):
                if mine is not theirs and theirs not in close[at]:
                    close[at].append(theirs)
    return best, close


def _solved(worth: Array, slots: Sequence[Role]) -> tuple[list[Role | None], float]:
    rows, chosen = scipy.optimize.linear_sum_assignment(worth, maximize=True)
    pairs = zip(rows.tolist(), chosen.tolist(), strict=True)
    roles = [slots[c] if c < len(slots) and worth[r, c] > 0 else None for r, c in pairs]
    return roles, float(np.sum(np.maximum(worth[rows, chosen], 0.0)))


def _proposal(column: _Column, role: Role | None, close: Sequence[Role | None], taken: set[Role]) -> Proposal:
    options = [Option(role=None)] if role is None else list(_units(column, role))
    unsure = _unknown(column, taken) if role is None and not close else not _clear(column, role, close)
    if unsure:
        others = close if close or role is not None else _open(column, taken)
        most = 1 if len(others) > MANY_ROLES else 2
        for other in others:
            options += [Option(role=None)] if other is None else list(_units(column, other))[:most]
    unit = options[0].unit
    told = tuple(dict.fromkeys(options))[:MOST_OPTIONS]
    told = told if Option(role=None) in told else (*told, Option(role=None))
    return Proposal(role=role, unit=unit, sure=not unsure, options=told if unsure else ())


def _units(column: _Column, role: Role) -> Iterator[Option]:
    found = column.units[role]
    return (Option(role=role, unit=one.unit) for one in found if one.likely > found[0].likely - LIKELY)


def _open(column: _Column, taken: set[Role]) -> list[Role]:
    """The roles that nobody has yet and that a column's values may well be, the likeliest first."""
    can = [role for role in column.units if role not in taken]
    can = [role for role in can if column.units[role][0].likely > SELDOM] or can
    return sorted(can, key=lambda role: (role is Role.ELEVATION, -column.units[role][0].likely))


def _clear(column: _Column, role: Role | None, close: Sequence[Role | None]) -> bool:
    """Whether a column is of its role without a doubt; none by its unit, by its heading or by another assignment."""
    if close or role is None:
        return not close
    found = column.units[role]
    open_ = len(found) > 1 and found[0].likely - found[1].likely < CLOSE
    seldom = found[0].likely <= SELDOM and column.told != found[0].unit
    untrue = column.told in UNITS[role] and found[0].unit != column.told
    unnamed = not column.named and role in _BY_UNIT
    electric = role is Role.RPM and is_electric(column.heading)
    return not (open_ or seldom or untrue or unnamed or electric or lies_beside(column.heading))


def _unknown(column: _Column, taken: set[Role]) -> bool:
    """Whether a column that is passed over might be something: a word that nobody here knows, or impossible values."""
    if column.named:
        beside = lies_beside(column.heading) and not column.units
        return column.speaks and not beside and not taken & set(roles_in(column.heading, column.told))
    return not column.other and column.speaks and bool(column.units)


NEAR_SPEED: Final = 0.1
"""Of a logarithm, within which a speed may be that of the way; knots and miles an hour are 0.14 apart."""
EVEN: Final = 0.03
"""Spread of that ratio, up to which it is a unit and no matter of the receiver."""


def speed_unit_by_the_way(speed: Array, way_mps: Array) -> tuple[str, bool]:
    """The unit in which speeds agree best with the ways between the positions, and whether the ratio is constant.

    Empty where none agrees.
    """
    moving = np.isfinite(speed) & np.isfinite(way_mps) & (way_mps > 2.0) & (speed > 0)
    if not moving.any():
        return "", False
    ratio = np.log(speed[moving] / way_mps[moving])
    middle = float(np.median(ratio))
    off = {unit: abs(middle + np.log(factor)) for unit, (factor, _) in UNITS[Role.SPEED].items()}
    best = min(off, key=lambda unit: off[unit])
    even = float(np.median(np.abs(ratio - middle))) < EVEN
    return (best, even) if off[best] < NEAR_SPEED else ("", False)
