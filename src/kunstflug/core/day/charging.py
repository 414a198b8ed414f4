"""Which pack is charged when, by which charger, so that the last run ends as early as it can.

A charge is constant current, then constant voltage (``laws.cell.charge``). Runs follow one another in the racer's
order, so a pack that is charged by r ends the day at r + tail, its tail being all that comes after. On one charger the
order of least lateness is that of the due times [jackson1955]; over several, every way of sharing the packs is tried
while there are few.
"""

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from kunstflug.core.laws.cell import FULL_CELL_V, charge

BALANCE_S: Final = 600.0
"""To balance the cells at the end of a charge (common practice, no source)."""
ONE_C: Final = 1.0
"""Charging current over the capacity where the maker says no more (common practice, no source)."""
FULL: Final = 0.999
MOST_WAYS: Final = 5000
"""So many ways of sharing packs between chargers are tried; more are shared in the order of their runs."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ChargerOf:
    """A charger.

    Parameters
    ----------
    power_w : output [W]; infinite where nobody said, as is the current.
    """

    name: str
    most_current_a: float = math.inf
    power_w: float = math.inf
    most_cells: int = 24


@dataclass(frozen=True, slots=True, kw_only=True)
class PackOf:
    """A pack and how full it is.

    Parameters
    ----------
    cell_ohm : of one cell [ohm].
    most_c : charging current over the capacity that its maker allows [1/h].
    """

    name: str
    cells: int
    capacity_ah: float
    cell_ohm: float
    soc: float
    most_c: float = ONE_C


@dataclass(frozen=True, slots=True, kw_only=True)
class Charging:
    """One charge: seconds from the day's start [s], current [A], state of charge at its start and end [1]."""

    pack: str
    charger: str
    start_s: float
    end_s: float
    current_a: float
    soc_from: float
    soc_to: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """A pack that is to be charged: from when it may be, and how much of the day comes after it [s]."""

    pack: PackOf
    release_s: float
    tail_s: float


def current_a(pack: PackOf, charger: ChargerOf) -> float:
    """The current that pack and charger allow [A]; 0 where the charger has too few cells.

    Examples
    --------
    >>> pack = PackOf(name="6S", cells=6, capacity_ah=5.0, cell_ohm=2e-3, soc=0.2)
    >>> round(current_a(pack, ChargerOf(name="small", power_w=80.0)), 3)
    3.175
    """
    if pack.cells > charger.most_cells:
        return 0.0
    return min(pack.most_c * pack.capacity_ah, charger.most_current_a, charger.power_w / (pack.cells * FULL_CELL_V))


def seconds(pack: PackOf, charger: ChargerOf, balance_s: float = BALANCE_S) -> float:
    """How long a pack takes on a charger, balanced [s]; 0 for a full one, infinite where it cannot be."""
    if pack.soc >= FULL:
        return 0.0
    amps = current_a(pack, charger)
    if amps <= 0.0:
        return math.inf
    rate = amps / pack.capacity_ah
    # A trickle of a current ends where it began: the charge is over at a twentieth of the capacity, or half of that.
    found = charge(pack.soc, pack.capacity_ah, pack.cell_ohm, rate, min(0.05, 0.5 * rate))
    return found.total_s + balance_s


def schedule(
    wanted: Sequence[Wanted], chargers: Sequence[ChargerOf], balance_s: float = BALANCE_S
) -> tuple[Charging, ...]:
    """Charges in the order of their start; packs that no charger can charge are left out.

    With equal release times and few packs the latest end of the day is the least there is; else packs are shared in
    the order of their runs, each to the charger that has it ready first.
    """
    able = [job for job in wanted if any(math.isfinite(seconds(job.pack, c, balance_s)) for c in chargers)]
    if not able or not chargers:
        return ()
    at_once = len({job.release_s for job in able}) == 1
    if at_once and len(chargers) ** len(able) <= MOST_WAYS:
        ways = itertools.product(range(len(chargers)), repeat=len(able))
        found = [_shared(able, chargers, way, balance_s) for way in ways]
        return min((one for one in found if one is not None), key=lambda one: _cost(one, able))
    return _in_order(able, chargers, balance_s)


def _shared(
    jobs: Sequence[Wanted], chargers: Sequence[ChargerOf], way: Sequence[int], balance_s: float
) -> tuple[Charging, ...] | None:
    """Each charger does its packs in the order of their due times; None where one cannot."""
    free = [jobs[0].release_s] * len(chargers)
    made: list[Charging] = []
    for k in sorted(range(len(jobs)), key=lambda k: (-jobs[k].tail_s, k)):
        took = seconds(jobs[k].pack, chargers[way[k]], balance_s)
        if math.isinf(took):
            return None
        made.append(_charging(jobs[k].pack, chargers[way[k]], free[way[k]], took))
        free[way[k]] += took
    return tuple(sorted(made, key=lambda c: (c.start_s, c.end_s)))


def _in_order(jobs: Sequence[Wanted], chargers: Sequence[ChargerOf], balance_s: float) -> tuple[Charging, ...]:
    free: dict[str, float] = {}
    made = [
        charged
        for job in sorted(jobs, key=lambda job: -job.tail_s)
        if (charged := put_on(job.pack, chargers, free, job.release_s, balance_s)) is not None
    ]
    return tuple(sorted(made, key=lambda c: (c.start_s, c.end_s)))


def put_on(
    pack: PackOf, chargers: Sequence[ChargerOf], free: dict[str, float], release_s: float, balance_s: float = BALANCE_S
) -> Charging | None:
    """A pack on the charger that has it ready first, which is busy until then; None where none can charge it.

    Parameters
    ----------
    free : from when each charger is [s], by its name; from the start where it does not stand in it.
    """
    starts = {c.name: max(free.get(c.name, 0.0), release_s) for c in chargers}
    ends = {c.name: starts[c.name] + seconds(pack, c, balance_s) for c in chargers}
    best = min(chargers, key=lambda c: ends[c.name], default=None)
    if best is None or math.isinf(ends[best.name]):
        return None
    free[best.name] = ends[best.name]
    return _charging(pack, best, starts[best.name], ends[best.name] - starts[best.name])


def _charging(pack: PackOf, charger: ChargerOf, start_s: float, took_s: float) -> Charging:
    return Charging(
        pack=pack.name,
        charger=charger.name,
        start_s=start_s,
        end_s=start_s + took_s,
        current_a=current_a(pack, charger) if took_s > 0 else 0.0,
        soc_from=pack.soc,
        soc_to=1.0,
    )


def _cost(charges: Sequence[Charging], jobs: Sequence[Wanted]) -> tuple[float, float]:
    """When the day ends for what is charged, then how early all packs are ready."""
    tails = {job.pack.name: job.tail_s for job in jobs}
    return max(c.end_s + tails[c.pack] for c in charges), sum(c.end_s for c in charges)
