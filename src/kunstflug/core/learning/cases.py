"""Runs on their way through the estimate: which latents they see, and what they read, as logarithms."""

import dataclasses
import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Final, Self

import numpy as np

from kunstflug.core.evidence.instruments import DAY, REPEAT
from kunstflug.core.evidence.readings import HEAT, STEADY, What
from kunstflug.core.learning.predict import (
    Base,
    Query,
    RunPrediction,
    alike,
    asked,
    base_of,
    said_by,
    steady_many,
    warm_ones,
)
from kunstflug.core.learning.run_evidence import RunEvidence
from kunstflug.core.learning.spreads import (
    CHARGE_OPEN,
    DUTY_CHARGE,
    DUTY_RISE,
    HELD,
    HELD_OF_SETUP,
    INSTRUMENT,
    spread_of,
)
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.club import Club, Column
from kunstflug.core.setup.knowledge import (
    OWNED,
    RACER,
    Aboard,
    Anchors,
    Indices,
    Latents,
    Mixture,
    Owner,
    likeness,
)

JITTER: Final = 1e-9
ALIKE: Final = 1e-6  # features that differ by less are of one setup
LEAST_RISE_K: Final = 0.5
PITCH_OPEN: Final = 0.3  # of the logarithm, where runs deny the laws


def latents_of(
    runs: Sequence[RunEvidence], bases: Sequence[Base], club: Club | None = None, denied: frozenset[str] = frozenset()
) -> Latents:
    """The latents of all things aboard in some runs.

    Parameters
    ----------
    club : what is known of families of things; those count that ran.
    denied : boats whose runs deny the laws: their pitch is left open, too, which nothing else can stand in for.
    """
    spreads: dict[Column, float] = {}
    setups: dict[str, list[Array]] = {}
    seen: set[tuple[str, ...]] = set()
    for run, base in zip(runs, bases, strict=True):
        mine, at = setups.setdefault(run.boat, []), base.features
        if not mine or np.abs(np.array(mine) - at).max(axis=1).min() > ALIKE:
            mine.append(at)
        things = (run.boat, *sorted(run.things.values()))
        if things not in seen:
            seen.add(things)
            for column, spread in _columns(run, base):
                open_ = run.boat in denied and column[1] == "pitch_factor" and column[0] != RACER
                spreads.setdefault(column, max(spread, PITCH_OPEN) if open_ else spread)
    anchors = {}
    for boat, found in setups.items():
        table = np.array(sorted(found, key=lambda at: at.tolist()))
        like = likeness(table, table) + JITTER * np.eye(len(table))
        anchors[boat] = Anchors(features=table, factor=np.linalg.cholesky(like).astype(np.float64))
        spreads |= {(boat, f"setup_{k}"): 1.0 for k in range(len(table))}
    ran = None
    if club is not None:
        ran = club.of_families({family for base in bases for family in base.families.values()})
        spreads |= dict.fromkeys(ran.columns, 1.0)
    return Latents(
        columns={c: k for k, c in enumerate(spreads)}, spread=spreads, anchors=anchors, club=ran, denied=denied
    )


def _columns(run: RunEvidence, base: Base) -> Iterator[tuple[Column, float]]:
    """Latents of the things of a run, and the spread of each one's number."""
    for _, thing, name in numbers_of(run):
        if base.spread[name]:
            yield (RACER, name), base.spread[name]
            yield (thing, name), base.spread[name]


def numbers_of(run: RunEvidence) -> Iterator[tuple[Owner, str, str]]:
    """Every number of the things that were aboard: whose it is, of which thing, and its name."""
    for owner, owned in OWNED.items():
        thing = run.boat if owner in (Owner.HULL, Owner.MODEL) else run.things.get(owner)
        if thing is not None:
            yield from ((owner, thing, name) for name in owned)


def of_run(key: str) -> str:
    """Whose latents belong to one run alone; no boat, part or instrument is called so."""
    return f"run/{key}"


def _setup_key(run: RunEvidence, base: Base) -> tuple[str | float, ...]:
    """What runs of one setup have in common: the boat, its parts, and what it is alike to."""
    features = np.round(base.features, 6).tolist()
    return (run.boat, *sorted(run.things.values()), *base.families.values(), *features)


def _of_instrument(name: str) -> str:
    """Whose latents belong to an instrument; its name is whatever a racer typed."""
    return f"instrument/{name}"


@dataclass(frozen=True, slots=True, kw_only=True)
class Own:
    """What belongs to days, instruments and single runs: latents past those of the things.

    Parameters
    ----------
    columns : place of each.
    setups : of each run's key, whose latents what the laws get wrong of its setup are.
    first : place of the first of them.
    """

    columns: Mapping[Column, int]
    setups: Mapping[str, str]
    first: int

    def charge(self, run: RunEvidence) -> int | None:
        """Place of what is open of a run's charge, which enters by the pack's resting voltage; None if known."""
        own = self.columns.get((of_run(run.key), "charge"))
        return None if own is None else self.first + own

    def of(self, run: RunEvidence) -> Array:
        """Coefficients of each reading by these latents, shape (k, own)."""
        out = np.zeros((len(run.readings), len(self.columns)))
        heat = self.columns[of_run(run.key), "heat"]
        for i, reading in enumerate(run.readings):
            if reading.what in HELD:
                out[i, self.columns[f"laws/{run.boat}", reading.what]] = HELD[reading.what]
                out[i, self.columns[self.setups[run.key], reading.what]] = HELD_OF_SETUP[reading.what]
            if reading.what is What.SPEED:
                out[i, self.columns[run.outing, "speed"]] = DAY
                out[i, self.columns[of_run(run.key), "speed"]] = REPEAT
                if reading.instrument:
                    out[i, self.columns[_of_instrument(reading.instrument), "speed"]] = INSTRUMENT
            elif reading.what in HEAT:
                out[i, heat] = DUTY_RISE[run.duty_from]
            elif reading.what is What.CHARGE:
                out[i, heat] = DUTY_CHARGE[run.duty_from]
        return out


def own_of(runs: Sequence[RunEvidence], bases: Sequence[Base], first: int) -> Own:
    """The latents of days, instruments, single runs and laws, past those of the things."""
    columns: dict[Column, int] = {}
    setups: dict[str, str] = {}
    for run, base in zip(runs, bases, strict=True):
        setups[run.key] = f"laws/{_setup_key(run, base)}"
        mine = of_run(run.key)
        wanted = [(run.outing, "speed"), (mine, "speed"), (mine, "heat")]
        wanted += [(_of_instrument(r.instrument), "speed") for r in run.readings if r.instrument]
        wanted += [(f"laws/{run.boat}", r.what.value) for r in run.readings if r.what in HELD]
        wanted += [(setups[run.key], r.what.value) for r in run.readings if r.what in HELD]
        if not run.charge_known:
            wanted.append((mine, "charge"))
        for column in wanted:
            columns.setdefault(column, len(columns))
    return Own(columns=columns, setups=setups, first=first)


@dataclass(slots=True, kw_only=True)
class Case:
    """A run on its way through the estimate; readings and what is said of them are logarithms."""

    run: RunEvidence
    base: Base
    mixed: Mixture
    columns_of: Indices  # places of the latents that take part in its numbers
    table: Array  # numbers by those
    own: Array  # readings by own latents
    width: int  # of all latents, own ones at their end
    rows: slice
    said: RunPrediction
    drawn: tuple[RunPrediction, Array, Array] | None = None

    def line(self, m: int) -> tuple[Array, Array]:
        """What is said of the readings with all latents at 0, and the slopes by all latents; kept while that holds."""
        if self.drawn is None or self.drawn[0] is not self.said:
            slope = np.zeros((len(self.said.value), m + self.own.shape[1]))
            slope[:, self.columns_of] = self.said.slope @ self.table
            slope[:, m:] += self.own
            self.drawn = (self.said, self.said.value - self.said.slope @ self.said.at, slope)
        return self.drawn[1], self.drawn[2]

    def bare(self) -> Self:
        """Without what is worked out again from the rest."""
        return dataclasses.replace(self, drawn=None)

    def at(self, latents: Array) -> Array:
        """Logarithms of the setup's numbers at some latents of shape (..., p): shape (..., n)."""
        found: Array = latents[..., self.columns_of] @ self.table.T
        return found

    def steady(self) -> list[int]:
        """Places of the readings that full throttle held gives: speed, current, rpm and voltage."""
        return [i for i, reading in enumerate(self.run.readings) if reading.what in STEADY]

    def warm(self) -> list[int]:
        """Places of the readings for which the duty has to be run: temperatures and the charge used."""
        return warm_ones(self.run)

    def columns(self) -> list[int]:
        """Places of those readings in ``STEADY``."""
        return [STEADY.index(self.run.readings[i].what) for i in self.steady()]


def bent(cases: Sequence[Case], at: Sequence[Array]) -> list[Array]:
    """What the laws say of the steady readings, less the straight line along the case's slopes; logarithms.

    Parameters
    ----------
    at : logarithms of each case's n numbers, shape (S, n).

    Returns
    -------
    One array for each case, shape (S, k) for its k steady readings.
    """
    laws = steady_many([case.base for case in cases], [case.mixed.names for case in cases], at) if cases else []
    found = []
    for case, x, logs in zip(cases, at, laws, strict=True):
        rows = case.steady()
        straight = case.said.value[rows] + (x - case.said.at) @ case.said.slope[rows].T
        found.append(logs[:, case.columns()] - straight)
    return found


class Memory:
    """What was said of runs as bought, so that one run more asks the model about one run only.

    What is learnt hangs on the runs alone, whatever was learnt before.
    """

    def __init__(self) -> None:
        self.asked: dict[str, tuple[RunEvidence, tuple[str, ...], Query]] = {}
        self._bases: dict[str, tuple[RunEvidence, Base]] = {}

    def only(self, runs: Sequence[RunEvidence]) -> None:
        """Forgets all other runs."""
        keys = {run.key for run in runs}
        for kept in (self.asked, self._bases):
            for key in [key for key in kept if key not in keys]:
                del kept[key]

    def base(self, run: RunEvidence) -> Base:
        """The run's setup as bought."""
        kept = self._bases.get(run.key)
        if kept is None or (kept[0] is not run and kept[0] != run):
            kept = self._bases[run.key] = (run, base_of(run))
        return kept[1]

    def known(self, run: RunEvidence, names: tuple[str, ...], *, sloped: bool) -> Query | None:
        """What was worked out for the same run before."""
        kept = self.asked.get(run.key)
        if kept is None or kept[:2] != (run, names) or (sloped and kept[2].steady is None):
            return None
        return kept[2]


def cases_of(runs: Sequence[RunEvidence], latents: Latents, own: Own, memory: Memory) -> list[Case]:
    """Runs with their slopes, those that are new asked for."""
    bases = [memory.base(run) for run in runs]
    mixes = _mixes(runs, bases, latents)
    names = [mixed.names for mixed in mixes]
    of_setup, of_duty = alike(runs, bases, names)
    sloped = {*of_setup, *of_duty}
    fresh = [k for k, run in enumerate(runs) if memory.known(run, names[k], sloped=k in sloped) is None]
    if fresh:
        nowhere = [np.zeros(len(names[k])) for k in fresh]
        told = asked(
            [runs[k] for k in fresh], [bases[k] for k in fresh], [names[k] for k in fresh], nowhere,
            [k in sloped for k in fresh],
        )  # fmt: skip
        for k, answer in zip(fresh, told, strict=True):
            memory.asked[runs[k].key] = (runs[k], names[k], answer)
    found, begin = [], 0
    for k, (run, base, mixed) in enumerate(zip(runs, bases, mixes, strict=True)):
        one, steady, warm = (memory.asked[runs[i].key][2] for i in (k, of_setup[k], of_duty[k]))
        assert steady.steady is not None
        # What is exact in this boat stays so, whatever others of the racer have taught.
        unsure = np.array([base.spread[name] > 0 for name in mixed.names], dtype=bool)
        columns, table = mixed.columns, mixed.table * unsure[:, np.newaxis]
        charge = own.charge(run)
        if charge is not None and "pack_ocv_v" in mixed.names:
            columns, table = np.append(columns, charge), np.hstack([table, np.zeros((len(table), 1))])
            table[mixed.names.index("pack_ocv_v"), -1] = CHARGE_OPEN
        rows = slice(begin, begin + len(run.readings))
        begin = rows.stop
        found.append(
            Case(
                run=run, base=base, mixed=mixed, columns_of=columns, table=table, own=own.of(run), rows=rows,
                width=own.first + len(own.columns),
                said=said_by(run, mixed.names, np.zeros(len(mixed.names)), one, steady.steady, warm.warm),
            )
        )  # fmt: skip
    return found


def _mixes(runs: Sequence[RunEvidence], bases: Sequence[Base], latents: Latents) -> list[Mixture]:
    """The numbers of each run as mixtures; runs of one setup have one."""
    known: dict[tuple[str | float, ...], Mixture] = {}
    found = []
    for run, base in zip(runs, bases, strict=True):
        key = _setup_key(run, base)
        if key not in known:
            aboard = Aboard(boat=run.boat, things=run.things, features=base.features, families=base.families)
            known[key] = latents.rows(aboard)
        found.append(known[key])
    return found


def read_of(cases: Sequence[Case], bought: Sequence[Array]) -> tuple[Array, Array]:
    """All readings as logarithms, of the value or of the rise, and their spreads.

    How much a temperature's spread counts goes with its rise; the mean of the rise read and the one forecast is taken,
    so that readings that are low by chance do not count less.
    """
    read, spread = [], []
    for case, logs in zip(cases, bought, strict=True):
        for reading, said_log in zip(case.run.readings, logs, strict=True):
            value = reading.value
            rise = 1.0
            if reading.what in HEAT:
                value = max(reading.value - case.said.base_c, LEAST_RISE_K)
                rise = math.sqrt(value * math.exp(said_log)) if math.isfinite(said_log) else value
            read.append(math.log(value) if value > 0 else math.nan)
            spread.append(spread_of(reading, rise, case.run.setup.conditions))
    return np.array(read), np.array(spread)
