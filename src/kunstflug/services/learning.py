"""What a racer's runs taught: worked out once for a state of the log, kept in memory, shown for a boat."""

import dataclasses
import math
import threading
import time
import weakref
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Final

import numpy as np
from sqlalchemy import Engine, select, text
from sqlalchemy.orm import Session, joinedload, selectinload

from kunstflug.core.cooling.table import CoolingTable
from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.point import solve
from kunstflug.core.drive.values import as_bought, drive_values, features, known_of, parts_of
from kunstflug.core.learning.attribution import (
    Effect,
    Repeatability,
    Share,
    Try,
    effect,
    order_of_passes,
    passes_needed,
    repeatability,
    rulings,
    shared_out,
)
from kunstflug.core.learning.causes import odd_run
from kunstflug.core.learning.learn import Judged, JudgedRun, Learned, Memory, Told, judged, learn
from kunstflug.core.learning.measure_next import worth
from kunstflug.core.learning.seen import HEAT, Seen, What
from kunstflug.core.quantity.errors import KunstflugError
from kunstflug.core.quantity.units import Dimension, number_in
from kunstflug.core.quantity.value import Array, Value
from kunstflug.core.setup.knowledge import OWNER, TAUGHT, Knowledge, Owner
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.nodes import as_bought as heat_as_bought
from kunstflug.documents.run import kept_typed
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.documents.water import CircuitIn
from kunstflug.services.changes import differences, with_difference
from kunstflug.services.evidence import Kept, seen_of
from kunstflug.services.plan import cooling_of
from kunstflug.services.rows import document_of, local_racer, owned
from kunstflug.services.run import APART
from kunstflug.services.run_rows import log_numbers_of, track_numbers
from kunstflug.services.views import (
    CauseView,
    ChangeEffectView,
    KnowledgeView,
    KnownReadingView,
    KnownRunView,
    MeasureNextView,
    NumberView,
    SaidView,
    ShareView,
    utc,
)
from kunstflug.store.database import Store
from kunstflug.store.tables import Boat, RunRow, SetupPart, SetupRow
from kunstflug.wording.guesses import PARAMETERS
from kunstflug.wording.learning import CAUSES, MEASURES, OWNERS, READINGS, RULINGS

MOST_RUNS: Final = 200
"""The newest runs of all boats that are learnt from."""
STALE_S: Final = 2.0
"""A state of the log is looked at again after this; a slider asks many times a second."""
Z80: Final = 1.2816
SEEN_BY: Final = (0.01, 0.02, 0.05)
"""Parts of the speed for which it is said how many passes they take."""

_STATE: Final = text(
    """
    SELECT
      (SELECT COALESCE(SUM(CRC32(CONCAT_WS('|', id, setup_id, started_at, conditions, typed, deleted_at))), 0)
       FROM runs WHERE owner_id = :owner),
      (SELECT COALESCE(SUM(CRC32(CONCAT_WS('|', id, run_id, place, celsius, minutes_after))), 0)
       FROM temperature_readings WHERE owner_id = :owner),
      (SELECT COALESCE(SUM(CRC32(CONCAT_WS('|', id, run_id, summary))), 0) FROM tracks WHERE owner_id = :owner),
      (SELECT COALESCE(SUM(CRC32(CONCAT_WS('|', id, run_id, summary, deleted_at))), 0)
       FROM controller_logs WHERE owner_id = :owner),
      (SELECT COALESCE(SUM(CRC32(CONCAT_WS('|', id, deleted_at, circuit))), 0) FROM boats WHERE owner_id = :owner),
      (SELECT COALESCE(SUM(CRC32(CONCAT_WS('|', id, deleted_at))), 0) FROM setups WHERE owner_id = :owner),
      (SELECT COALESCE(SUM(CRC32(CONCAT_WS('|', setup_id, kind, part_id))), 0)
       FROM setup_parts WHERE owner_id = :owner)
    """
)


@dataclass(slots=True)
class _Cache:
    """What one process has learnt of one racer."""

    state: tuple[str, ...] = ()
    looked: float = -math.inf
    learned: Learned | None = None
    seen: tuple[Seen, ...] = ()
    memory: Memory = field(default_factory=Memory)
    lock: threading.Lock = field(default_factory=threading.Lock)


_caches: "weakref.WeakKeyDictionary[Engine, _Cache]" = weakref.WeakKeyDictionary()


def fresh(store: Store) -> bool:
    """Whether what is kept in memory was looked at just now: asking for it then takes no time."""
    cache = _caches.get(store.engine)
    return cache is not None and time.monotonic() - cache.looked < STALE_S


def knowledge_of(store: Store, boat_id: int) -> Knowledge | None:
    """What is known as it counts in a boat; None where nothing ever ran."""
    learned = _learned(store).learned
    return None if learned is None else learned.knowledge(str(boat_id))


def _learned(store: Store) -> _Cache:
    cache = _caches.setdefault(store.engine, _Cache())
    if fresh(store):
        return cache
    with cache.lock:
        if fresh(store):
            return cache
        with store.transaction() as session:
            owner = local_racer(session)
            state = tuple(str(v) for v in session.execute(_STATE, {"owner": owner}).one())
            if state != cache.state:
                cache.seen = tuple(seen_runs(session, owner))
                cache.learned = learn(cache.seen, cache.memory) if cache.seen else None
                cache.state = state
        cache.looked = time.monotonic()
    return cache


def forget(store: Store) -> None:
    """Looks at the log again at the next question."""
    cache = _caches.get(store.engine)
    if cache is not None:
        cache.looked = -math.inf


def seen_runs(session: Session, owner: int) -> list[Seen]:
    """All runs that teach, in the order of their time."""
    rows = session.scalars(
        select(RunRow)
        .join(SetupRow, RunRow.setup_id == SetupRow.id)
        .join(Boat, RunRow.boat_id == Boat.id)
        .where(
            RunRow.owner_id == owner, RunRow.deleted_at.is_(None), SetupRow.deleted_at.is_(None),
            Boat.deleted_at.is_(None),
        )
        .options(
            joinedload(RunRow.track), joinedload(RunRow.log), joinedload(RunRow.setup), selectinload(RunRow.readings)
        )
        .order_by(RunRow.started_at.desc(), RunRow.id.desc())
        .limit(MOST_RUNS)
    ).all()[::-1]  # fmt: skip
    links: dict[int, dict[str, str]] = defaultdict(dict)
    for link in session.scalars(select(SetupPart).where(SetupPart.owner_id == owner)):
        links[link.setup_id][link.kind] = f"part {link.part_id}"
    documents = {row.setup_id: document_of(row.setup) for row in rows}
    cooling = _cooling(session, rows, documents)
    found, outing, last = [], 0, datetime.min
    for row in rows:
        outing += row.started_at - last > APART
        last = row.started_at
        seen = seen_of(
            Kept(
                key=str(row.id),
                boat=str(row.boat_id),
                document=documents[row.setup_id],
                started_at=row.started_at,
                outing=f"outing {outing} of {row.boat_id}",
                conditions=row.conditions,
                typed=kept_typed(row.typed),
                track=track_numbers(row),
                log=log_numbers_of(row),
                readings=[(r.place, r.celsius, r.minutes_after) for r in row.readings],
                links=links[row.setup_id],
                cooling=cooling.get(row.setup_id),
            )
        )
        if seen is not None:
            found.append(seen)
    return found


def _cooling(
    session: Session, rows: Sequence[RunRow], documents: dict[int, SetupDocument]
) -> dict[int, CoolingTable | None]:
    """Of each setup the boat's own water, where it is drawn."""
    drawn = {
        boat.id: CircuitIn.model_validate(boat.circuit)
        for boat in session.scalars(select(Boat).where(Boat.id.in_({r.boat_id for r in rows})))
        if boat.circuit
    }
    found: dict[int, CoolingTable | None] = {}
    for row in rows:
        if row.boat_id in drawn and row.setup_id not in found:
            try:
                found[row.setup_id] = cooling_of(setup_of(documents[row.setup_id]), drawn[row.boat_id])
            except KunstflugError:
                found[row.setup_id] = None
    return found


def boat_knowledge(store: Store, boat_id: int) -> KnowledgeView:
    """What is known of a boat: its numbers, its runs against what was said of them, its changes, what to measure."""
    with store.transaction() as session:
        boat = owned(session, Boat, boat_id, local_racer(session))
        setups = {
            row.id: row
            for row in session.scalars(
                select(SetupRow).where(SetupRow.boat_id == boat.id, SetupRow.deleted_at.is_(None)).order_by(SetupRow.id)
            )
        }
        runs = {r.id: r for r in session.scalars(select(RunRow).where(RunRow.boat_id == boat.id))}
        documents = {key: document_of(row) for key, row in setups.items()}
        name, aside = boat.name, [r.id for r in runs.values() if kept_typed(r.typed).set_aside and not r.deleted_at]
        run_setups = {key: row.setup_id for key, row in runs.items()}
        started = {key: utc(row.started_at) for key, row in runs.items()}
        parents = {key: row.parent_id for key, row in setups.items()}
    cache = _learned(store)
    newest = list(documents)[-1] if documents else None
    learned = cache.learned
    if learned is None or newest is None:
        return KnowledgeView(
            boat_id=boat_id, boat_name=name, runs=0, runs_of_boat=0, numbers=[], judged=[], changes=[], measure=[],
            set_aside=aside, repeats_within=None, repeats_between=None, needed={},
        )  # fmt: skip
    mine = [run for run in judged(learned) if int(run.key) in run_setups]
    setup = setup_of(documents[newest])
    known = _with(setup, learned, str(boat_id))
    same = repeatability(_groups(mine, cache.seen, run_setups))
    return KnowledgeView(
        boat_id=boat_id,
        boat_name=name,
        runs=len(cache.seen),
        runs_of_boat=len(mine),
        numbers=numbers_of(setup, learned, str(boat_id)),
        judged=[_run_view(run, run_setups[int(run.key)], started[int(run.key)]) for run in mine],
        changes=_changes(documents, parents, mine, cache.seen, run_setups, same, learned, boat_id),
        measure=_measure(known, cache.seen, str(boat_id)),
        set_aside=aside,
        repeats_within=round(same.within, 5),
        repeats_between=round(same.between, 5),
        needed={f"{100 * part:.0f}": passes_needed(part, same.within) for part in SEEN_BY},
    )


def _with(setup: Setup, learned: Learned, boat: str) -> Setup:
    return dataclasses.replace(setup, knowledge=learned.knowledge(boat))


def numbers_of(setup: Setup, learned: Learned, boat: str) -> list[NumberView]:
    """Every number that is not sure, from what was given to what is known, those taught most first."""
    known_setup = _with(setup, learned, boat)
    known = known_of(known_setup)
    assert known is not None
    assert known_setup.knowledge is not None
    things = known_setup.knowledge.aboard(parts_of(setup), features(setup)).things
    before = {n: v for n, v in (*as_bought(setup), *heat_as_bought(setup)) if v.spread}
    found = []
    for name, bought in before.items():
        now = known.of(name, bought)
        owner = OWNER[name]
        thing = boat if owner in (Owner.HULL, Owner.MODEL) else things.get(owner, "")
        label, dimension, unit = PARAMETERS[name]
        found.append(
            NumberView(
                name=name,
                label=label,
                owner=OWNERS[owner],
                unit=unit,
                before=_shown(bought, dimension, unit),
                now=_shown(now, dimension, unit),
                narrowed=round(1.0 - min(now.spread / bought.spread, 1.0), 4),
                moved=round(math.log(now.value / bought.value) / bought.spread, 3),
                taught=now.spread < TAUGHT * bought.spread,
                runs=list(learned.taught_by.get(thing, ())),
            )
        )
    return sorted(found, key=lambda n: -n.narrowed)


def _shown(value: Value, dimension: Dimension, unit: str) -> SaidView:
    middle = number_in(value.value, unit, dimension)
    ends = sorted((middle * math.exp(-Z80 * value.spread), middle * math.exp(Z80 * value.spread)))
    return SaidView(value=_rounded(middle), low=_rounded(ends[0]), high=_rounded(ends[1]))


def _rounded(value: float) -> float | None:
    return float(f"{value:.4g}") if math.isfinite(value) else None


def _run_view(run: JudgedRun, setup_id: int, started: datetime) -> KnownRunView:
    odd = odd_run(run)
    return KnownRunView(
        run_id=int(run.key),
        setup_id=setup_id,
        started_at=started,
        readings=[
            KnownReadingView(
                label=READINGS[r.what][0],
                dimension=READINGS[r.what][1].value,
                minutes=round(r.minutes, 2),
                read=_rounded(r.read) or 0.0,
                bought=_told(r, r.bought),
                then=_told(r, r.then),
                without=_told(r, r.without),
                inside=_inside(r, r.then),
                weight=round(r.weight, 3),
            )
            for r in run.readings
        ],
        off=round(odd.off, 2) if odd else None,
        worst=READINGS[odd.worst][0] if odd else "",
        causes=[CauseView(words=CAUSES[s.cause], chance=round(s.chance, 3)) for s in odd.suspicions[:3]] if odd else [],
    )


def _ends(reading: Judged, told: Told) -> tuple[float, float]:
    if reading.what in HEAT:
        return told.value - Z80 * told.spread, told.value + Z80 * told.spread
    return told.value * math.exp(-Z80 * told.spread), told.value * math.exp(Z80 * told.spread)


def _told(reading: Judged, told: Told) -> SaidView:
    low, high = _ends(reading, told)
    return SaidView(value=_rounded(told.value), low=_rounded(low), high=_rounded(high))


def _inside(reading: Judged, told: Told) -> bool:
    low, high = _ends(reading, told)
    return bool(low <= reading.read <= high)


def _tries(runs: Sequence[JudgedRun], seen: Sequence[Seen], setups: dict[int, int]) -> dict[int, list[Try]]:
    """Of each setup its speeds over what was forecast for their own conditions, as logarithms."""
    outings = {run.key: run for run in seen}
    found: dict[int, list[Try]] = defaultdict(list)
    for run in runs:
        for reading in run.readings:
            if reading.what is What.SPEED and reading.weight > 0.5 and math.isfinite(reading.bought.value):
                own = next(r.spread for r in outings[run.key].readings if r.what is What.SPEED)
                value = math.log(reading.read / reading.bought.value)
                found[setups[int(run.key)]].append(Try(value=value, spread=own, outing=outings[run.key].outing))
    return found


def _groups(runs: Sequence[JudgedRun], seen: Sequence[Seen], setups: dict[int, int]) -> list[list[Try]]:
    return list(_tries(runs, seen, setups).values())


def _changes(
    documents: dict[int, SetupDocument],
    parents: dict[int, int | None],
    runs: Sequence[JudgedRun],
    seen: Sequence[Seen],
    setups: dict[int, int],
    same: Repeatability,
    learned: Learned,
    boat_id: int,
) -> list[ChangeEffectView]:
    """What each change brought, by forecast and as measured, and what may be said of it."""
    tries = _tries(runs, seen, setups)
    speeds = {key: float(forecast(setup_of(d), 0).point.speed_mps) for key, d in documents.items()}
    knowing = {key: _with(setup_of(d), learned, str(boat_id)) for key, d in documents.items()}
    learnt = {key: float(forecast(setup, 0).point.speed_mps) for key, setup in knowing.items()}
    edges = [(p, key) for key, p in parents.items() if p in documents and p is not None]
    effects: list[Effect | None] = []
    for before, after in edges:
        step = math.log(speeds[after] / speeds[before])
        found = effect(tries.get(before, []), [_moved(t, step) for t in tries.get(after, [])], same)
        effects.append(found if found is not None and math.isfinite(found.value) else None)
    counts = [len(differences(documents[a], documents[b])) for a, b in edges]
    words = rulings(effects, counts)
    views = []
    for (before, after), found, count, ruling in zip(edges, effects, counts, words, strict=True):
        part = abs(learnt[after] / learnt[before] - 1.0)
        needed = passes_needed(max(part, 0.002), same.within)
        views.append(
            ChangeEffectView(
                before_id=before,
                after_id=after,
                things=count,
                forecast=_rounded(learnt[after] / learnt[before] - 1.0),
                measured=None if found is None else SaidView(
                    value=_rounded(math.expm1(found.value)), low=_rounded(math.expm1(found.low)),
                    high=_rounded(math.expm1(found.high)),
                ),
                ruling=ruling,
                words=RULINGS[ruling],
                passes=needed,
                order=order_of_passes(min(needed, 4)),
                shares=_shares(documents[before], documents[after], found) if count > 1 else [],
            )
        )  # fmt: skip
    return views


MOST_SHARED: Final = 6
SHARE_DRAWS: Final = 64
SHARE_SEED: Final = 33
LEAST_SHARE: Final = 0.002
NO_SHARE: Final = 2e-4


def _shares(before: SetupDocument, after: SetupDocument, found: Effect | None) -> list[ShareView]:
    """A measured effect of several changes, shared out by what is forecast of each alone and how sure that is.

    As bought: a part of which one field is changed is no part that ever ran. A field that moves nothing has no share.
    """
    changed = differences(before, after)
    if found is None or len(changed) > MOST_SHARED:
        return []
    base = _speeds(setup_of(before))
    forecasts = []
    for one in changed:
        try:
            steps = np.log(_speeds(setup_of(with_difference(before, one))) / base)
        except KunstflugError:
            return []
        value, spread = float(steps[0]), float(np.nanstd(steps[1:]))
        if not math.isfinite(value):
            return []
        if abs(value) > NO_SHARE:
            forecasts.append(Share(name=one.label, value=value, spread=math.hypot(spread, LEAST_SHARE)))
    half = (found.high - found.low) / 4.0  # a 95 % interval is some four standard deviations wide
    return [
        ShareView(label=s.name, value=round(math.expm1(s.value), 5), spread=round(s.spread, 5))
        for s in (shared_out(found.value, half, forecasts) if len(forecasts) > 1 else ())
    ]


def _speeds(setup: Setup) -> Array:
    """Speed of the nominal drive and of draws [m/s]; the same draws for every setup."""
    rows = drive_values(setup).rows(SHARE_DRAWS, SHARE_SEED)
    return np.asarray(solve(rows, (curve_of(setup),)).speed_mps)


def _moved(run: Try, step: float) -> Try:
    return Try(value=run.value + step, spread=run.spread, outing=run.outing)


def _measure(setup: Setup, seen: Sequence[Seen], boat: str) -> list[MeasureNextView]:
    """What to measure next, for the speed and for the motor's temperature."""
    known = known_of(setup)
    latest = next((run for run in reversed(seen) if run.boat == boat), None)
    if known is None or latest is None:
        return []
    covariance = np.cov(known.off.T) + np.diag(known.fresh**2)
    places = {name: k for k, name in enumerate(known.names)}
    found = []
    for wanted in (What.SPEED, What.CASE):
        for one in worth(latest, places, covariance, wanted):
            found.append(
                MeasureNextView(wanted=READINGS[wanted][0], words=MEASURES[one.measure], narrows=round(one.narrows, 4))
            )
    return found
