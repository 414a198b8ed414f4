"""The runs of a day on a time line: each waits for its pack, a cool boat, and hands; and what holds the day up."""

import math
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.day.charging import BALANCE_S, FULL, ChargerOf, Charging, PackOf, Wanted, put_on, schedule

PACK_COOLS_S: Final = 1200.0
"""A pack cools for so long before it is charged again (common practice, no source)."""


class WaitsFor(StrEnum):
    """What a run waits for last."""

    START = "start"  # the hour at which the day on the water begins
    HANDS = "hands"  # landing, reading, changing packs
    PACK = "pack"  # its charge
    COOLING = "cooling"  # of the boat
    TOLD = "told"  # an hour that the racer set
    NEVER = "never"  # no charger can charge its pack


@dataclass(frozen=True, slots=True, kw_only=True)
class RunOf:
    """A run that is planned.

    Parameters
    ----------
    boat : whose parts have to cool after it.
    run_s, cool_s : on the water, and until the boat may run again [s].
    used : part of the pack's charge that it takes [1].
    late_s : how much longer it took than planned, or will [s].
    not_before_s : not earlier than this, from the day's start [s].
    """

    name: str
    boat: str
    pack: str
    run_s: float
    cool_s: float
    used: float
    late_s: float = 0.0
    not_before_s: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Slot:
    """A run on the time line [s] from the day's start; infinite where it never comes to be."""

    run: RunOf
    ready_s: float
    start_s: float
    end_s: float
    waits_for: WaitsFor
    waited_s: float


@dataclass(frozen=True, slots=True, kw_only=True)
class DayPlan:
    """A day.

    Parameters
    ----------
    bottleneck : what held most of it up; None where nothing did.
    waited_s : what that took [s].
    left_full : packs that no run takes: they go back to storage.
    """

    charges: tuple[Charging, ...]
    runs: tuple[Slot, ...]
    end_s: float
    bottleneck: WaitsFor | None
    waited_s: float
    left_full: tuple[str, ...]


def day_plan(
    packs: Sequence[PackOf],
    chargers: Sequence[ChargerOf],
    runs: Sequence[RunOf],
    *,
    water_s: float = 0.0,
    hands_s: float = 600.0,
    balance_s: float = BALANCE_S,
) -> DayPlan:
    """Charges and runs of a day, in the racer's order of runs.

    Parameters
    ----------
    water_s : from when boats may run, from the day's start [s].
    hands_s : between landing and the next start: readings, notes, another pack [s].
    """
    day = _Day(packs, chargers, runs, water_s, hands_s, balance_s)
    for run in runs:
        day.place(run)
    real = [p for p in day.placed if math.isfinite(p.end_s)]
    bottleneck, waited_s = _most_waited(real)
    return DayPlan(
        charges=tuple(sorted(day.charges, key=lambda c: c.start_s)),
        runs=tuple(day.placed),
        end_s=max((p.end_s for p in real), default=water_s),
        bottleneck=bottleneck,
        waited_s=waited_s,
        left_full=tuple(pack.name for pack in packs if pack.name not in day.flown),
    )


class _Day:
    """A day while it is planned: which packs are ready when, which chargers are free, what cools."""

    def __init__(
        self,
        packs: Sequence[PackOf],
        chargers: Sequence[ChargerOf],
        runs: Sequence[RunOf],
        water_s: float,
        hands_s: float,
        balance_s: float,
    ) -> None:
        self.chargers, self.water_s, self.hands_s, self.balance_s = chargers, water_s, hands_s, balance_s
        self.packs = {pack.name: pack for pack in packs}
        first: dict[str, float] = {}
        for run, tail in zip(runs, _tails(runs, hands_s), strict=True):
            first.setdefault(run.pack, tail)
        wanted = [
            Wanted(pack=self.packs[name], release_s=0.0, tail_s=tail)
            for name, tail in first.items()
            if self.packs[name].soc < FULL
        ]
        self.charges = list(schedule(wanted, chargers, balance_s))
        self.ready = {pack.name: 0.0 for pack in packs if pack.soc >= FULL}
        self.ready |= {c.pack: c.end_s for c in self.charges}
        self.free = {
            charger.name: max((c.end_s for c in self.charges if c.charger == charger.name), default=0.0)
            for charger in chargers
        }
        self.placed: list[Slot] = []
        self.cool: dict[str, float] = {}
        self.flown: set[str] = set()
        self.hands = 0.0

    def place(self, run: RunOf) -> None:
        """The next run as early as its pack, its boat and the racer's hands allow."""
        if run.pack in self.flown:
            self._charge_again(run.pack)
        self.flown.add(run.pack)
        ready = self.ready.get(run.pack, math.inf)
        at, why = _start(run, ready, self.water_s, self.hands, self.cool.get(run.boat, 0.0), not self.placed)
        end = at + run.run_s + run.late_s
        waited = at - max(self.water_s, self.hands) if math.isfinite(at) else math.inf
        self.placed.append(
            Slot(run=run, ready_s=ready, start_s=at, end_s=end, waits_for=why, waited_s=max(waited, 0.0))
        )
        if math.isfinite(at):
            self.hands, self.cool[run.boat] = end + self.hands_s, end + run.cool_s
            # What is left of the pack, and when it may go on the charger.
            self.packs[run.pack] = _used(self.packs[run.pack], run.used)
            self.ready[run.pack] = end

    def _charge_again(self, pack: str) -> None:
        """A pack that ran goes back on a charger once it has cooled."""
        cooled = self.ready.get(pack, math.inf) + PACK_COOLS_S
        again = put_on(self.packs[pack], self.chargers, self.free, cooled, self.balance_s)
        self.charges += [again] if again is not None else []
        self.ready[pack] = again.end_s if again is not None else math.inf


def _most_waited(placed: Sequence[Slot]) -> tuple[WaitsFor | None, float]:
    """What the day waits for longest, and how long in all [s]."""
    waits = Counter[WaitsFor]()
    for p in placed:
        if p.waits_for in (WaitsFor.PACK, WaitsFor.COOLING, WaitsFor.TOLD):
            waits[p.waits_for] += round(p.waited_s)
    top = waits.most_common(1)
    return (top[0][0], float(top[0][1])) if top and top[0][1] > 0 else (None, 0.0)


def _tails(runs: Sequence[RunOf], hands_s: float) -> list[float]:
    """Of each run, what the day still takes from its start on [s]."""
    found: list[float] = []
    after = 0.0
    for run in reversed(runs):
        after += run.run_s + run.late_s + (hands_s if found else 0.0)
        found.append(after)
    return found[::-1]


def _start(
    run: RunOf, ready_s: float, water_s: float, hands_s: float, cool_s: float, is_first: bool
) -> tuple[float, WaitsFor]:
    """When a run starts, and the last thing that it waited for."""
    if math.isinf(ready_s):
        return math.inf, WaitsFor.NEVER
    ends = {
        WaitsFor.START if is_first else WaitsFor.HANDS: max(water_s, hands_s),
        WaitsFor.PACK: ready_s,
        WaitsFor.COOLING: cool_s,
        WaitsFor.TOLD: run.not_before_s,
    }
    why = max(ends, key=lambda kind: ends[kind])  # the first of equals: hands before the rest
    return ends[why], why


def _used(pack: PackOf, part: float) -> PackOf:
    return PackOf(
        name=pack.name,
        cells=pack.cells,
        capacity_ah=pack.capacity_ah,
        cell_ohm=pack.cell_ohm,
        soc=max(1.0 - part, 0.0),  # it was full when it went out
        most_c=pack.most_c,
    )
