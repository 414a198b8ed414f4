"""A current held against what stands beside it: power over volts, and what a counted charge gains in its time."""

from collections.abc import Sequence
from typing import Final

import numpy as np

from kunstflug.core.quantity.value import Array
from kunstflug.documents.columns import UNITS, Role
from kunstflug.files.columns import Option, Proposal
from kunstflug.files.headings import unit_of_power

NEAR: Final = 0.15
"""Within which a unit agrees with what stands beside it: instruments and rounding; our own choice."""
FAR: Final = 0.4
"""Beyond which the unit that was taken is doubted."""
LEAST_RISE: Final = 20
"""Steps of its last digit that a charge must have gained to tell anything."""
_COUNTS: Final = ("s", "ms", "us", "min", "unix s", "unix ms")


def current_checked(
    proposals: Sequence[Proposal], headings: Sequence[str], units: Sequence[str], columns: Sequence[Array]
) -> list[Proposal]:
    """The same proposals; a current's unit is settled, or doubted, by what stands beside it.

    Parameters
    ----------
    headings, units : first row and unit row.
    columns : numbers of each column over the first rows.
    """
    found = list(proposals)
    at = {p.role: k for k, p in enumerate(proposals) if p.role is not None}
    if Role.CURRENT not in at:
        return found
    k, told = at[Role.CURRENT], proposals[at[Role.CURRENT]]
    ratio = _by_power(proposals, at, headings, units, columns) or _by_charge(proposals, at, columns)
    if not ratio:
        return found
    fits = {unit: abs(np.log(ratio / factor)) for unit, (factor, _) in UNITS[Role.CURRENT].items()}
    unit = min(fits, key=lambda one: fits[one])
    if fits[unit] > NEAR:
        return found
    only_unit = all(option.role in (Role.CURRENT, None) for option in told.options)
    if not told.sure and only_unit and unit in {option.unit for option in told.options}:
        found[k] = Proposal(role=Role.CURRENT, unit=unit, sure=True)
    elif unit != told.unit and fits[told.unit] > FAR:
        both = (Option(role=Role.CURRENT, unit=unit), Option(role=Role.CURRENT, unit=told.unit), Option(role=None))
        found[k] = Proposal(role=Role.CURRENT, unit=unit, sure=False, options=both)
    return found


def _in_core(role: Role, proposals: Sequence[Proposal], at: dict[Role, int], columns: Sequence[Array]) -> Array:
    factor, offset = UNITS[role][proposals[at[role]].unit]
    return columns[at[role]] * factor + offset


def _by_power(
    proposals: Sequence[Proposal], at: dict[Role, int], headings: Sequence[str], units: Sequence[str],
    columns: Sequence[Array],
) -> float:  # fmt: skip
    """Amperes for one of the current's numbers, by power over volts; 0 where either is not there."""
    watts = [(k, unit_of_power(h, u)) for k, (h, u) in enumerate(zip(headings, units, strict=True))]
    powers = [columns[k] * (1000.0 if unit == "kw" else 1.0) for k, unit in watts if unit]
    if len(powers) != 1 or Role.VOLTAGE not in at or not proposals[at[Role.VOLTAGE]].sure:
        return 0.0
    volts, raw = _in_core(Role.VOLTAGE, proposals, at, columns), np.abs(columns[at[Role.CURRENT]])
    high = np.nanmax(raw, initial=0.0)
    with np.errstate(divide="ignore", invalid="ignore"):
        each = np.abs(powers[0]) / volts / raw
    each = each[(raw > 0.3 * high) & np.isfinite(each) & (each > 0)]
    return float(np.median(each)) if len(each) > 4 else 0.0


def _by_charge(proposals: Sequence[Proposal], at: dict[Role, int], columns: Sequence[Array]) -> float:
    """Amperes for one of the current's numbers, by what the charge gained; 0 where nothing tells."""
    if Role.CHARGE not in at or Role.TIME not in at or proposals[at[Role.TIME]].unit not in _COUNTS:
        return 0.0
    if not (proposals[at[Role.CHARGE]].sure and proposals[at[Role.TIME]].sure):
        return 0.0
    time, mah = (_in_core(role, proposals, at, columns) for role in (Role.TIME, Role.CHARGE))
    raw = np.abs(columns[at[Role.CURRENT]])
    known = np.isfinite(time) & np.isfinite(mah) & np.isfinite(raw)
    time, mah, raw = time[known], mah[known], raw[known]
    steps = np.diff(mah)
    if len(time) < 8 or np.any(np.diff(time) <= 0) or np.any(steps < 0) or not np.any(steps > 0):
        return 0.0  # counted anew, or what is left of a pack
    if mah[-1] - mah[0] < LEAST_RISE * float(np.min(steps[steps > 0])):
        return 0.0
    flowed = float(np.sum((raw[1:] + raw[:-1]) / 2 * np.diff(time))) / 3.6  # mAh, if they were amperes
    return (mah[-1] - mah[0]) / flowed if flowed > 0 else 0.0
