"""One posterior over all things of a racer, from all runs; what was said of each run then, and without it.

The latents are in ``core.setup.knowledge``. What belongs to a day, an instrument or a single run is a latent, too:
it is learnt with the rest and then left out, so that no thing is blamed for the wind of one Sunday.
"""

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
import numpy.typing as npt

from kunstflug.core.drive.values import parts_of
from kunstflug.core.learning.estimate import FREEDOM, Estimate, Model, estimate, loss
from kunstflug.core.learning.predict import Base, Said, base_of, said, steady_many
from kunstflug.core.learning.seen import HEAT, STEADY, Reading, Seen, What
from kunstflug.core.quantity.draws import even_deviates
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.knowledge import (
    OWNED,
    RACER,
    Aboard,
    Anchors,
    Column,
    Knowledge,
    Latents,
    Mixed,
    Owner,
    likeness,
)

# One standard deviation of a logarithm (all common practice, no source).
DAY: Final = 0.007  # of the speed, from one day to another
REPEAT: Final = 0.006  # of the speed, from one run to another of the same day
INSTRUMENT: Final = 0.005  # of a speed, from one instrument to another
CHARGE_OPEN: Final = 0.012  # of the resting voltage, where the charge at the start was not told
DUTY_OPEN: Final = 0.12  # of a rise and of the charge used, where the duty is a guess
DUTY_KNOWN: Final = 0.05
LAWS: Final = {What.CURRENT: 0.01, What.RPM: 0.003, What.VOLTAGE: 0.002, What.CHARGE: 0.04}
HELD: Final = {
    What.CURRENT: 0.02, What.RPM: 0.006, What.VOLTAGE: 0.004, What.CHARGE: 0.05, What.CASE: 0.06, What.CONTROLLER: 0.06,
    What.PACK: 0.06, What.CONNECTOR: 0.10,
}  # fmt: skip
"""What the laws are wrong by of a reading in all runs of a boat, so that a hundred runs do not bend its numbers."""
LAWS_K: Final = 1.0
LAWS_RISE: Final = 0.03
"""What the laws leave open of a reading beside the numbers they are given, of a rise [1], and in K."""
ANCHORS: Final = 4  # how often the model is asked again about its slopes, at most
LEAST_PART: Final = 0.2
FARTHEST: Final = 3.0  # spreads from what was given, past which the laws are not asked
JITTER: Final = 1e-9
DRAWS: Final = 128
SEED: Final = 907
MOST_DRAWN: Final = 24  # runs that draws are held against, the newest
MOST_OFF: Final = 0.2
MOVED: Final = 0.8  # in spreads, past which slopes are worked out anew
LEAST_RISE_K: Final = 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """What was said of a reading, as logarithm or in K beside what was read.

    Parameters
    ----------
    value : said, in the reading's unit.
    spread : one standard deviation with the reading's own; of the logarithm, or in K.
    """

    value: float
    spread: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Judged:
    """A reading and what was said of it.

    Parameters
    ----------
    bought : before any run.
    then : with what was known when it was run.
    without : with all runs but this one.
    now : with all runs.
    off : read less ``without``, in spreads.
    weight : what the robust loss left of it, 0 to 1.
    """

    what: What
    read: float
    minutes: float
    bought: Told
    then: Told
    without: Told
    now: Told
    off: float
    weight: float


@dataclass(frozen=True, slots=True, kw_only=True)
class JudgedRun:
    """A run's readings and what was said of each.

    Parameters
    ----------
    offs : readings less what was said without the run, shape (k,); logarithms, or K.
    spread : their covariance, shape (k, k).
    """

    key: str
    readings: tuple[Judged, ...]
    offs: Array
    spread: Array
    said: Said


@dataclass(frozen=True, slots=True, kw_only=True)
class Learned:
    """What all runs taught.

    Parameters
    ----------
    mean, covariance : of the things' latents, shapes (m,) and (m, m).
    draws : of them, shape (S, m).
    taught_by : keys of the runs with each thing aboard.
    steps : of the estimate's last search.
    evidence : what it was made of, see ``judged``.
    """

    latents: Latents
    parts: Mapping[tuple[Owner, Any], str]
    mean: Array
    covariance: Array
    draws: Array
    taught_by: Mapping[str, tuple[str, ...]]
    steps: int
    evidence: "_Evidence"

    def knowledge(self, boat: str) -> Knowledge:
        """What is known, as it counts in a boat; a boat that never ran has the racer's own experience."""
        return Knowledge(
            boat=boat,
            latents=self.latents,
            parts=self.parts,
            mean=self.mean,
            covariance=self.covariance,
            drawn=self.draws,
            runs=len(self.evidence.cases),
        )


def latents_of(runs: Sequence[Seen], bases: Sequence[Base]) -> Latents:
    """The latents of all things aboard in some runs."""
    spreads: dict[Column, float] = {}
    setups: dict[str, list[Array]] = {}
    seen: set[tuple[str, ...]] = set()
    for run, base in zip(runs, bases, strict=True):
        mine, at = setups.setdefault(run.boat, []), base.features
        if not any(np.allclose(at, other, atol=1e-6) for other in mine):
            mine.append(at)
        things = (run.boat, *sorted(run.things.values()))
        if things not in seen:
            seen.add(things)
            for column, spread in _columns(run, base):
                spreads.setdefault(column, spread)
    anchors = {}
    for boat, found in setups.items():
        table = np.array(found)
        like = likeness(table, table) + JITTER * np.eye(len(table))
        anchors[boat] = Anchors(features=table, factor=np.linalg.cholesky(like).astype(np.float64))
        spreads |= {(boat, f"setup_{k}"): 1.0 for k in range(len(table))}
    return Latents(columns={c: k for k, c in enumerate(spreads)}, spread=spreads, anchors=anchors)


def _columns(run: Seen, base: Base) -> Iterator[tuple[Column, float]]:
    """Latents of the things of a run, and the spread of each one's number."""
    for owner, owned in OWNED.items():
        thing = run.boat if owner in (Owner.HULL, Owner.MODEL) else run.things.get(owner)
        for name in owned:
            if thing is None or not base.spread[name]:
                continue
            yield (RACER, name), base.spread[name]
            yield (thing, name), base.spread[name]


@dataclass(frozen=True, slots=True, kw_only=True)
class _Own:
    """What belongs to days, instruments and single runs: latents past those of the things."""

    columns: Mapping[Column, int]
    first: int

    def add(self, run: Seen, table: Array, mixed: Mixed) -> Array:
        """Coefficients of each reading by these latents, shape (k, own); ``table`` takes what enters by a number."""
        out = np.zeros((len(run.readings), len(self.columns)))
        heat = self.columns[run.key, "heat"]
        for i, reading in enumerate(run.readings):
            if reading.what in HELD:
                out[i, self.columns[f"laws of {run.boat}", reading.what]] = HELD[reading.what]
            if reading.what is What.SPEED:
                out[i, self.columns[run.outing, "speed"]] = DAY
                out[i, self.columns[run.key, "speed"]] = REPEAT
                if reading.instrument:
                    out[i, self.columns[reading.instrument, "speed"]] = INSTRUMENT
            elif reading.what in HEAT or reading.what is What.CHARGE:
                out[i, heat] = DUTY_KNOWN if run.duty_known else DUTY_OPEN
        charge = self.columns.get((run.key, "charge"))
        if charge is not None and "pack_ocv_v" in mixed.names:
            table[mixed.names.index("pack_ocv_v"), self.first + charge] = CHARGE_OPEN
        return out


def _own_of(runs: Sequence[Seen], first: int) -> _Own:
    columns: dict[Column, int] = {}
    for run in runs:
        wanted = [(run.outing, "speed"), (run.key, "speed"), (run.key, "heat")]
        wanted += [(r.instrument, "speed") for r in run.readings if r.instrument]
        wanted += [(f"laws of {run.boat}", r.what.value) for r in run.readings if r.what in HELD]
        if not run.charge_known:
            wanted.append((run.key, "charge"))
        for column in wanted:
            columns.setdefault(column, len(columns))
    return _Own(columns=columns, first=first)


def spread_of(reading: Reading, rise_k: float) -> float:
    """Spread of a reading's logarithm with what the laws leave open of it; of a temperature, of its rise [K]."""
    if reading.what in HEAT:
        return math.hypot(math.hypot(reading.spread, LAWS_K) / rise_k, LAWS_RISE)
    return math.hypot(reading.spread, LAWS.get(reading.what, 0.0))


@dataclass(slots=True, kw_only=True)
class _Case:
    """A run on its way through the estimate; readings and what is said of them are logarithms."""

    run: Seen
    base: Base
    mixed: Mixed
    table: Array  # numbers by all latents
    own: Array  # readings by own latents
    rows: slice
    said: Said

    def line(self, m: int) -> tuple[Array, Array]:
        """What is said of the readings with all latents at 0, and the slopes by all latents."""
        slope = self.said.slope @ self.table
        slope[:, m:] += self.own
        return self.said.value - self.said.slope @ self.said.at, slope


class Memory:
    """Slopes that were worked out before, so that one run more asks the model about one run only."""

    def __init__(self) -> None:
        self.said: dict[str, tuple[Seen, Said]] = {}
        self._bases: dict[str, tuple[Seen, Base]] = {}
        self._ended: dict[Column, float] = {}

    def start(self, columns: Sequence[Column]) -> Array:
        """Where a search begins: where the last one ended, and at what was given for what is new."""
        return np.array([self._ended.get(column, 0.0) for column in columns])

    def end(self, columns: Sequence[Column], at: Array) -> None:
        """Keeps where a search ended."""
        self._ended = dict(zip(columns, at.tolist(), strict=True))

    def base(self, run: Seen) -> Base:
        """The run's setup as bought."""
        kept = self._bases.get(run.key)
        if kept is None or (kept[0] is not run and kept[0] != run):
            kept = self._bases[run.key] = (run, base_of(run))
        return kept[1]

    def known(self, run: Seen, names: tuple[str, ...]) -> Said | None:
        """What was worked out for the same run before."""
        kept = self.said.get(run.key)
        return kept[1] if kept is not None and kept[0] == run and kept[1].names == names else None


def learn(runs: Sequence[Seen], memory: Memory | None = None) -> Learned:
    """What runs teach, in the order of their time.

    Parameters
    ----------
    memory : of an earlier call; runs that are in it are not worked out anew.
    """
    memory = Memory() if memory is None else memory
    bases = [memory.base(run) for run in runs]
    latents = latents_of(runs, bases)
    m = len(latents.columns)
    own = _own_of(runs, m)
    width = m + len(own.columns)
    cases = _cases(runs, latents, own, width, m, memory)
    bought = [case.line(m)[0] for case in cases]
    read, spread = _read(cases, bought)
    kept = np.flatnonzero(np.isfinite(read) & np.isfinite(_joined(bought)))
    found = _searched(cases, read, spread, kept, [*latents.columns, *own.columns], m, memory)
    return _learned(cases, found, kept, read, spread, bought, latents, m)


def _searched(
    cases: Sequence[_Case],
    read: Array,
    spread: Array,
    kept: npt.NDArray[np.int64],
    columns: Sequence[Column],
    m: int,
    memory: Memory,
) -> Estimate:
    """The likeliest latents: searched about the laws' slopes, and about new ones as far as the laws then agree."""
    at = memory.start(columns)
    cost = _cost(cases, read, spread, kept, at, m)
    for _ in range(ANCHORS):
        found = _about(cases, read, spread, kept, at, m)
        part = 1.0
        while True:
            before = [case.said for case in cases]
            reached = at + part * (found.mean - at)
            bent = _ask_again(cases, reached)
            new = _cost(cases, read, spread, kept, reached, m)
            if new <= cost or part <= LEAST_PART or not bent:
                break
            # The laws bend on the way there: half as far.
            part *= 0.5
            for case, old in zip(cases, before, strict=True):
                case.said = old
        at, cost = reached, new
        if not bent and part == 1.0:
            break
    _ask_again(cases, at, heat=True)
    found = _about(cases, read, spread, kept, at, m)
    memory.end(columns, found.mean)
    for case in cases:
        memory.said[case.run.key] = (case.run, case.said)
    return found


def _about(
    cases: Sequence[_Case], read: Array, spread: Array, kept: npt.NDArray[np.int64], at: Array, m: int
) -> Estimate:
    """The likeliest latents about the slopes at hand."""
    lines = [case.line(m) for case in cases]
    start, slopes = _joined([v for v, _ in lines])[kept], _joined([j for _, j in lines], len(at))[kept]
    return estimate(_straight(start, slopes), read[kept], spread[kept], at, np.ones(len(at)), freedom=FREEDOM)


def _cost(cases: Sequence[_Case], read: Array, spread: Array, kept: npt.NDArray[np.int64], at: Array, m: int) -> float:
    """What is minimised, with what the laws themselves say close by; infinite where they say nothing."""
    said_there = _joined([line + slope @ at for line, slope in (case.line(m) for case in cases)])[kept]
    found = loss((read[kept] - said_there) / spread[kept], FREEDOM) + 0.5 * float(at @ at)
    return found if math.isfinite(found) else math.inf


def _straight(start: Array, slopes: Array) -> Model:
    """A model that is linear in the latents."""

    def model(at: Array) -> tuple[Array, Array]:
        return start + slopes @ at, slopes

    return model


def _joined(parts: Sequence[Array], width: int | None = None) -> Array:
    """Arrays one below the other; an empty one where there are none."""
    empty = np.zeros(0) if width is None else np.zeros((0, width))
    return np.concatenate([empty, *parts])


def _cases(runs: Sequence[Seen], latents: Latents, own: _Own, width: int, m: int, memory: Memory) -> list[_Case]:
    bases = [memory.base(run) for run in runs]
    mixes = _mixes(runs, bases, latents)
    fresh = [k for k, run in enumerate(runs) if memory.known(run, mixes[k].names) is None]
    if fresh:
        names = [mixes[k].names for k in fresh]
        nowhere = [np.zeros(len(n)) for n in names]
        asked = said([runs[k] for k in fresh], [bases[k] for k in fresh], names, nowhere, [None] * len(fresh))
        for k, answer in zip(fresh, asked, strict=True):
            memory.said[runs[k].key] = (runs[k], answer)
    found, begin = [], 0
    for run, base, mixed in zip(runs, bases, mixes, strict=True):
        table = np.zeros((len(mixed.names), width))
        table[:, :m] = mixed.table
        rows = slice(begin, begin + len(run.readings))
        begin = rows.stop
        coefficients = own.add(run, table, mixed)
        answer = memory.said[run.key][1]
        found.append(_Case(run=run, base=base, mixed=mixed, table=table, own=coefficients, rows=rows, said=answer))
    return found


def _mixes(runs: Sequence[Seen], bases: Sequence[Base], latents: Latents) -> list[Mixed]:
    """The numbers of each run as mixtures; runs of one setup have one."""
    known: dict[tuple[str, ...], Mixed] = {}
    found = []
    for run, base in zip(runs, bases, strict=True):
        key = (run.boat, *sorted(run.things.values()), base.features.tobytes().hex())
        if key not in known:
            known[key] = latents.rows(Aboard(boat=run.boat, things=run.things, features=base.features))
        found.append(known[key])
    return found


def _read(cases: Sequence[_Case], bought: Sequence[Array]) -> tuple[Array, Array]:
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
            spread.append(spread_of(reading, rise))
    return np.array(read), np.array(spread)


def _ask_again(cases: Sequence[_Case], at: Array, *, heat: bool = False) -> bool:
    """Asks the laws anew where what was learnt has moved far from where they were asked; at most some spreads away.

    A run of which the laws say nothing there keeps its own slopes.
    """
    far = []
    for case in cases:
        spread = np.maximum(case.mixed.before, 1e-3)
        x = np.clip(case.table @ at, -FARTHEST * spread, FARTHEST * spread)
        moved = np.abs(x - (case.said.heat_at if heat else case.said.at)) / spread
        if np.max(moved, initial=0.0) > MOVED:
            far.append((case, x))
    if not far:
        return False
    cases_far, at_far = [c for c, _ in far], [x for _, x in far]
    names, before = [c.mixed.names for c in cases_far], [c.said for c in cases_far]
    asked = said([c.run for c in cases_far], [c.base for c in cases_far], names, at_far, before, heat=heat)
    for case, answer in zip(cases_far, asked, strict=True):
        if np.isfinite(answer.value).sum() >= np.isfinite(case.said.value).sum():
            case.said = answer
    return True


def _learned(
    cases: Sequence[_Case],
    found: Estimate,
    kept: npt.NDArray[np.int64],
    read: Array,
    spread: Array,
    bought: Sequence[Array],
    latents: Latents,
    m: int,
) -> Learned:
    weights = np.ones(len(read))
    weights[kept] = found.weights
    parts: dict[tuple[Owner, Any], str] = {}
    taught: dict[str, list[str]] = {}
    for case in cases:
        for owner, part in parts_of(case.run.setup).items():
            if owner in case.run.things:
                parts[owner, part] = case.run.things[owner]
        for thing in (case.run.boat, *case.run.things.values()):
            taught.setdefault(thing, []).append(case.run.key)
    return Learned(
        latents=latents,
        parts=parts,
        mean=found.mean[:m],
        covariance=found.covariance[:m, :m],
        draws=_draws(cases, found, m),
        taught_by={thing: tuple(keys) for thing, keys in taught.items()},
        steps=found.steps,
        evidence=_Evidence(
            cases=tuple(cases), found=found, read=read, spread=spread, weights=weights, bought=tuple(bought), m=m
        ),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class _Evidence:
    """What an estimate was made of; runs are judged from it when somebody asks."""

    cases: tuple[_Case, ...]
    found: Estimate
    read: Array
    spread: Array
    weights: Array
    bought: tuple[Array, ...]
    m: int


def judged(learned: Learned) -> tuple[JudgedRun, ...]:
    """Every run's readings, and what was said of each before, then, without it and now."""
    e = learned.evidence
    width = len(e.found.mean)
    known = _Known(mean=np.zeros(width), covariance=np.eye(width))
    return tuple(
        _judged(c, before, known, e.found, e.read[c.rows], e.spread[c.rows], e.weights[c.rows], e.m)
        for c, before in zip(e.cases, e.bought, strict=True)
    )


@dataclass(slots=True, kw_only=True)
class _Known:
    """What was known before a run; moved on by each, in closed form (R. E. Kalman, J. Basic Eng. 82 (1960) 35-45)."""

    mean: Array
    covariance: Array

    def update(self, slope: Array, off: Array, variance: Array) -> None:
        """One run more: what was read less what all latents at 0 say."""
        ph = self.covariance @ slope.T
        gain = np.linalg.solve(slope @ ph + np.diag(variance), ph.T).T
        self.mean = self.mean + gain @ (off - slope @ self.mean)
        self.covariance = self.covariance - gain @ ph.T


def _judged(
    case: _Case, before: Array, known: _Known, found: Estimate, read: Array, spread: Array, weights: Array, m: int
) -> JudgedRun:
    """About the end of the search all is linear: what was known then, and what would be without this run."""
    line, slope = case.line(m)
    use = np.isfinite(line) & np.isfinite(read)
    variance, noise = spread**2, spread**2 / weights
    now = line + slope @ found.mean
    then, s_then = line + slope @ known.mean, slope @ known.covariance @ slope.T + np.diag(variance)
    s_now = slope @ found.covariance @ slope.T
    # Leaving a run out of a linear fit, in closed form (R. D. Cook, S. Weisberg, Residuals and Influence (1982)).
    inside = np.diag(noise) - s_now + 1e-12 * np.eye(len(line))
    gain = np.where(use, np.linalg.solve(inside, np.where(use, read - now, 0.0)), 0.0)
    without = now + np.where(use, read - now - noise * gain, 0.0)
    s_without = s_now + s_now @ np.linalg.solve(inside, s_now) + np.diag(variance)
    s_bought = slope @ slope.T + np.diag(variance)
    offs = np.where(use, read - without, 0.0)
    items = tuple(
        Judged(
            what=reading.what,
            read=reading.value,
            minutes=reading.minutes,
            bought=_told(reading.what, before[i], s_bought[i, i], case.said.base_c),
            then=_told(reading.what, then[i], s_then[i, i], case.said.base_c),
            without=_told(reading.what, without[i], s_without[i, i], case.said.base_c),
            now=_told(reading.what, now[i], s_now[i, i] + variance[i], case.said.base_c),
            off=float(offs[i] / math.sqrt(max(s_without[i, i], 1e-12))),
            weight=float(weights[i]),
        )
        for i, reading in enumerate(case.run.readings)
    )
    known.update(slope[use], (read - line)[use], noise[use])
    return JudgedRun(key=case.run.key, readings=items, offs=offs, spread=s_without, said=case.said)


def _draws(cases: Sequence[_Case], found: Estimate, m: int) -> Array:
    """Draws of the things' latents, shape (DRAWS, m), each moved so that the laws themselves say what was read.

    A draw of the Gaussian posterior keeps to the readings only as far as the laws are straight; one step of randomised
    maximum likelihood brings it back (D. S. Oliver, A. C. Reynolds, N. Liu, Inverse Theory (2008), ch. 10).
    """
    width = len(found.mean)
    factor = np.linalg.cholesky(found.covariance + 1e-12 * np.eye(width))
    z = (found.mean[:, np.newaxis] + factor @ even_deviates(width, DRAWS, SEED)).T
    last = [c for c in cases if any(r.what in STEADY for r in c.run.readings)][-MOST_DRAWN:]
    if not last:
        return z[:, :m]
    kept = [[i for i, r in enumerate(c.run.readings) if r.what in STEADY] for c in last]
    real = steady_many([c.base for c in last], [c.mixed.names for c in last], [(c.table @ z.T).T for c in last])
    offs, slopes = [], []
    for case, rows, logs in zip(last, kept, real, strict=True):
        line, slope = case.line(m)
        columns = [STEADY.index(case.run.readings[i].what) for i in rows]
        offs.append(line[rows] + z @ (slope - _only_own(case, m))[rows].T - logs[:, columns])
        slopes.append(slope[rows])
    off, slope = np.concatenate(offs, axis=1), np.concatenate(slopes)
    off = np.where(np.isfinite(off), off, 0.0)
    spreads = np.concatenate(
        [[spread_of(c.run.readings[i], 1.0) for i in rows] for c, rows in zip(last, kept, strict=True)]
    )
    gain = np.linalg.solve(slope @ slope.T + np.diag(spreads**2), slope).T  # the least move, as the prior counts it
    moved: Array = z + np.clip(off, -MOST_OFF, MOST_OFF) @ gain.T
    return moved[:, :m]


def _only_own(case: _Case, m: int) -> Array:
    """Slopes of what stands beside the laws."""
    out = np.zeros((len(case.run.readings), case.table.shape[1]))
    out[:, m:] = case.own
    return out


def _told(what: What, value: float, variance: float, base_c: float) -> Told:
    """A value as it was compared, back in its unit."""
    if not math.isfinite(value):
        return Told(value=math.nan, spread=math.nan)
    shown, spread = math.exp(min(value, 50.0)), math.sqrt(max(variance, 0.0))
    return Told(value=base_c + shown, spread=shown * spread) if what in HEAT else Told(value=shown, spread=spread)
