"""What a racer's runs taught: worked out once for a state of the log, and kept in memory."""

import math
import threading
import time
import weakref
from collections import OrderedDict, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from functools import partial
from typing import Final

from sqlalchemy import Engine, func, select
from sqlalchemy.orm import Session, joinedload, selectinload

from kunstflug.core.cooling.table import CoolingTable
from kunstflug.core.evidence.outings import same_outing
from kunstflug.core.learning.cases import Memory
from kunstflug.core.learning.judged import JudgedRun, judged
from kunstflug.core.learning.learn import Posterior, identity_of, learn, newcomer
from kunstflug.core.learning.run_evidence import RunEvidence
from kunstflug.core.quantity.errors import KunstflugError
from kunstflug.core.setup.club import Club
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.documents.run import kept_typed
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.services.learning.disk import kept
from kunstflug.services.learning.evidence import StoredRun, seen_of
from kunstflug.services.learning.pool import club_for
from kunstflug.services.shared.aims import circuit_of
from kunstflug.services.shared.rows import document_of, owned, racer_of
from kunstflug.services.shared.run_rows import log_numbers_of, track_numbers
from kunstflug.services.shared.water import cooling_of
from kunstflug.store.acting import EVERY_RACER, Acting, acting, acting_now
from kunstflug.store.database import Store, retried
from kunstflug.store.marks import mark_of
from kunstflug.store.people import PoolRow
from kunstflug.store.tables import Boat, RunRow, SetupPart, SetupRow

MOST_RUNS: Final = 200
"""The newest runs of all boats that are learnt from."""
MOST_EARLIER: Final = 40
"""So many earlier states of knowledge are kept at once."""
STALE_S: Final = 2.0
"""A state of the log is looked at again after this; a slider asks many times a second."""


@dataclass(slots=True)
class _Cache:
    """What one process has learnt of one racer."""

    state: tuple[str, ...] = ()
    looked: float = -math.inf  # when the look at the log began that this stands on
    changed: float = -math.inf  # when somebody last said that the log changed
    learned: Posterior | None = None
    judged: dict[int, JudgedRun] | None = None  # worked out when somebody asks
    club: Club | None = None  # what the other racers taught
    seen: tuple[RunEvidence, ...] = ()
    memory: Memory = field(default_factory=Memory)
    earlier: dict[int, Posterior] = field(default_factory=dict)  # from only so many of the first runs
    lock: threading.Lock = field(default_factory=threading.Lock)

    def take(self, found: "_Taught") -> None:
        """What runs taught; where they are the same as before, all stays that was worked out of it."""
        if self.learned is not None and found.learned is not None and self.learned.identity == found.learned.identity:
            return
        self.seen, self.club, self.learned = found.seen, found.club, found.learned
        self.judged = None
        self.earlier.clear()


@dataclass(frozen=True, slots=True)
class _Taught:
    """What the log of a racer taught.

    Always from the runs alone: two processes that came to the same log on different ways say the same of it.
    """

    seen: tuple[RunEvidence, ...]
    club: Club | None
    learned: Posterior | None

    @classmethod
    def by(cls, seen: tuple[RunEvidence, ...], club: Club | None, identity: str, memory: Memory) -> "_Taught":
        """Of these runs, and of what the other racers taught."""
        work = partial(learn, seen, memory, club)
        found = kept(["learned", identity], work) if seen else None
        memory.only(seen)
        return cls(seen, club, found)


class _Moved(Exception):
    """The log changed while it was read: what was read is of no state that anybody could name."""


def _state_of(store: Store, session: Session) -> tuple[str, ...]:
    """What the log looks like: the racer's mark, and when the club's pool was made."""
    owner = racer_of(session)
    if not store.accounts:
        return (str(owner), mark_of(session, owner))
    pool = session.scalar(select(func.max(PoolRow.made_at)).execution_options(**EVERY_RACER))
    return (str(owner), mark_of(session, owner), str(pool))


def _read_log(store: Store, memory: Memory, tries: int = 4) -> tuple[tuple[str, ...], _Taught]:
    """What the log taught, with the state of it: kept for the next who asks of the same.

    Where somebody writes all the time it is read as it is at last, and not kept.
    """
    with store.transaction() as session:
        state = _state_of(store, session)

    def read() -> tuple[tuple[RunEvidence, ...], Club | None, str]:
        with store.transaction() as session:
            owner = racer_of(session)
            seen = tuple(seen_runs(session, owner))
            club = club_for(session, owner) if store.accounts else None
            if tries and _state_of(store, session) != state:
                raise _Moved
        return seen, club, identity_of(seen, club)

    try:
        return state, _Taught.by(*(kept(["log", *state], read) if tries else read()), memory)
    except _Moved:
        return _read_log(store, memory, tries - 1)


MOST_RACERS: Final = 50
"""Of so many racers what was learnt is kept in memory; whoever asked last stays."""

_caches: "weakref.WeakKeyDictionary[Engine, OrderedDict[int, _Cache]]" = weakref.WeakKeyDictionary()
_turn: Final = threading.Lock()


def _cache_of(store: Store) -> _Cache:
    """What is kept of the racer for whom this is asked; 0 where there are no accounts."""
    who = acting_now()
    racer = who.racer if who else 0
    with _turn:
        kept = _caches.setdefault(store.engine, OrderedDict())
        found = kept.setdefault(racer, _Cache())
        kept.move_to_end(racer)
        while len(kept) > MOST_RACERS:
            kept.popitem(last=False)
    return found


def fresh(store: Store) -> bool:
    """Whether what is kept in memory was looked at just now: asking for it then takes no time."""
    return _is_fresh(_cache_of(store))


def _is_fresh(cache: _Cache) -> bool:
    return time.monotonic() - cache.looked < STALE_S and cache.looked > cache.changed


@dataclass(frozen=True, slots=True, kw_only=True)
class Lessons:
    """Which of a racer's runs count in what is asked.

    Parameters
    ----------
    learnt : whether any do; else the boat is computed as bought.
    first : only so many of them, the oldest: what was known then.
    """

    learnt: bool = True
    first: int | None = None


ALL: Final = Lessons()


def knowledge_of(
    store: Store, boat_id: int | None = None, lessons: Lessons = ALL, *, remembered: bool = False
) -> Knowledge | None:
    """What is known as it counts in a boat; None for a boat as bought, or where nothing ever ran and no club knows it.

    Parameters
    ----------
    boat_id : None for a boat that is not kept yet: what the racer's other boats taught of things of their kind.
    remembered : what this process learnt last, without a look at the database.
    """
    if not lessons.learnt:
        return None
    cache, first, boat = _cache_of(store) if remembered else _learned(store), lessons.first, str(boat_id or "")
    learned = None
    if first != 0:
        learned = cache.learned if first is None or first >= len(cache.seen) else _earlier(cache, first)
    if learned is not None:
        return learned.knowledge(boat)
    return None if cache.club is None else newcomer(cache.club, boat)


def _earlier(cache: _Cache, first: int) -> Posterior:
    """What the first runs taught; kept for a hand that goes to and fro over a season."""
    with cache.lock:
        found = cache.earlier.pop(first, None) or learn(cache.seen[:first], club=cache.club)
        cache.earlier[first] = found  # the last that was asked for goes last
        while len(cache.earlier) > MOST_EARLIER:
            del cache.earlier[next(iter(cache.earlier))]
    return found


def learned_of(store: Store) -> tuple[Posterior | None, tuple[RunEvidence, ...]]:
    """What all runs taught, and the runs; None where nothing ever ran."""
    cache = _learned(store)
    return cache.learned, cache.seen


def judgements(store: Store) -> dict[int, JudgedRun]:
    """Every run that is learnt from, by its id, beside what was forecast of it: before any run, then, without it."""
    cache = _learned(store)
    with cache.lock:
        if cache.judged is None:
            learned = cache.learned
            runs = kept(["judged", learned.identity], partial(judged, learned)) if learned else ()
            cache.judged = {int(run.key): run for run in runs}
        return cache.judged


def _learned(store: Store) -> _Cache:
    cache = _cache_of(store)
    if _is_fresh(cache):
        return cache
    who = acting_now()
    # Through a share one sees one boat, but it is computed as its owner's: with all that their runs taught.
    whole = None if who is None else Acting(racer=who.racer, login=who.login, writes=False)
    with cache.lock, acting(whole):
        if _is_fresh(cache):
            return cache
        begun = time.monotonic()  # what is saved from here on may not be in what is read
        with store.transaction() as session:
            state = _state_of(store, session)
        if state != cache.state:
            cache.state, taught = _read_log(store, cache.memory)
            cache.take(taught)
        cache.looked = begun
    return cache


def forget(store: Store) -> None:
    """Looks at the log again at the next question."""
    _cache_of(store).changed = time.monotonic()


@retried
def set_aside(store: Store, run_ids: Sequence[int], aside: bool) -> None:
    """Learns nothing more from some runs, or counts them again: all of them, or none where one is missing.

    Raises
    ------
    NotFound : no such run.
    """
    with store.transaction() as session:
        owner = racer_of(session)
        for run_id in sorted(set(run_ids)):  # in one order: two requests never wait for each other
            row = owned(session, RunRow, run_id, owner, lock=True)
            typed = kept_typed(row.typed).model_copy(update={"set_aside": aside})
            row.typed = typed.model_dump(mode="json", exclude_defaults=True)
    forget(store)


def seen_runs(session: Session, owner: int) -> list[RunEvidence]:
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
        outing += not same_outing(last, row.started_at)
        last = row.started_at
        seen = seen_of(
            StoredRun(
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
        boat.id: circuit
        for boat in session.scalars(select(Boat).where(Boat.id.in_({r.boat_id for r in rows})))
        if (circuit := circuit_of(boat)) is not None
    }
    found: dict[int, CoolingTable | None] = {}
    for row in rows:
        if row.boat_id in drawn and row.setup_id not in found:
            try:
                found[row.setup_id] = cooling_of(setup_of(documents[row.setup_id]), drawn[row.boat_id])
            except KunstflugError:
                found[row.setup_id] = None
    return found
