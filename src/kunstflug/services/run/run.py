"""Run: tracks and logs taken in, conditions, gun readings, observations; the simulated pond's button."""

import hashlib
from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any, Final

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from kunstflug.core.evidence.outings import APART
from kunstflug.core.quantity.errors import AlreadyThere, InvalidValue, UnreadableFile
from kunstflug.core.quantity.facts import AtMost
from kunstflug.core.tracks import analyse
from kunstflug.documents.run import TypedRun, kept_typed
from kunstflug.files.controller_csv import ReadLog, read_controller_csv
from kunstflug.files.reading import Damage, ReadTrack
from kunstflug.files.track_file import read_track
from kunstflug.services.shared.rows import (
    RequestKey,
    after_cursor,
    check_tag,
    cursor_of,
    once,
    owned,
    racer_of,
    tag_of,
)
from kunstflug.services.shared.run_rows import (
    MOST_WORDS,
    Reading,
    check_conditions,
    check_typed,
    headline,
    notes_state,
    reading_row,
    run_of,
    run_view,
    save_log,
    save_track,
    written_state,
)
from kunstflug.services.shared.views import Page, RunItem, RunView, utc
from kunstflug.store.base import now
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import Boat, ObservationRow, RunRow, SetupRow

MOST_READINGS: Final = 40
PAGE: Final = 50


class PartlyReadable(UnreadableFile):
    """A damaged file of which part can be read; offered, never taken silently.

    Parameters
    ----------
    readable, seconds : samples that can be read, and how long they last [s].
    damages, broken : the first places that cannot be read, and how many there are.
    """

    def __init__(self, readable: int, seconds: float, damages: tuple[Damage, ...], broken: int) -> None:
        super().__init__(damages[0].reason, damages[0].line or None)
        self.readable = readable
        self.seconds = seconds
        self.damages = damages
        self.broken = broken


def import_track(
    store: Store,
    setup_id: int,
    data: bytes,
    file_name: str,
    *,
    accept_damage: bool,
    request: RequestKey | None = None,
    choice: int | None = None,
) -> RunView:
    """A run from a track file; the same file for the same setup is the run that it already is.

    Parameters
    ----------
    choice : which of several tracks in the file.

    Raises
    ------
    SeveralTracks : more than one, and nobody said which.
    UnreadableFile : not a track; ``PartlyReadable`` where part of it can be read and ``accept_damage`` is false.
    AlreadyThere : the file is a run of another setup.
    NotFound : no such setup.
    """
    of = b"" if choice is None else b"#%d" % choice
    return keep_track(
        store, setup_id, read_track(data, choice), data + of, file_name, accept_damage=accept_damage, request=request
    )


@retried
def keep_track(
    store: Store,
    setup_id: int,
    read: ReadTrack,
    content: bytes,
    file_name: str,
    *,
    accept_damage: bool,
    request: RequestKey | None = None,
) -> RunView:
    """A run from a track that was read.

    Parameters
    ----------
    content : of the file: what came before is the run that it already is.

    Raises
    ------
    PartlyReadable : damaged, and not accepted.
    AlreadyThere, NotFound
    """
    if read.damages and not accept_damage:
        raise PartlyReadable(len(read.samples), float(read.samples.time_s[-1]), read.damages, read.broken)
    analysis = analyse(read.samples)
    started, digest = _moment(read.samples.start_unix_s), hashlib.sha256(content).hexdigest()

    def make(setup: SetupRow) -> int:
        known = _same_file(session, owner, setup.id, digest)
        if known is not None:
            return known
        run = new_run(session, setup, started, file_name, {})
        run.content_hash = digest
        save_track(session, run, read.format, read.samples, analysis, read.damages)
        return run.id

    with store.transaction() as session:
        owner = racer_of(session)
        return made_run(session, owner, setup_id, request, make)


def made_run(
    session: Session, owner: int, setup_id: int, request: RequestKey | None, make: Callable[[SetupRow], int]
) -> RunView:
    """The run that a request makes for a setup, with its forecast; the boat is held, so that none is made twice."""
    setup = owned(session, SetupRow, setup_id, owner)
    session.execute(select(Boat.id).where(Boat.id == setup.boat_id).with_for_update())
    run = run_of(session, once(session, owner, request, lambda: make(setup)), owner)
    return run_view(run)


def _same_file(session: Session, owner: int, setup_id: int, content: str) -> int | None:
    """The run that a file already is.

    Raises
    ------
    AlreadyThere : it is one of another setup.
    """
    found = session.execute(
        select(RunRow.id, RunRow.setup_id, Boat.name, SetupRow.name)
        .join(SetupRow, SetupRow.id == RunRow.setup_id)
        .join(Boat, Boat.id == RunRow.boat_id)
        .where(
            RunRow.owner_id == owner,
            RunRow.content_hash == content,
            RunRow.deleted_at.is_(None),
            Boat.deleted_at.is_(None),
        )
        .order_by(RunRow.setup_id != setup_id)
    ).first()
    if found is None:
        return None
    run_id, of, boat, setup = found
    if of != setup_id:
        raise AlreadyThere(f"this file is already a run of {boat}, {setup}; move that run instead", run_id)
    return int(run_id)


def new_run(session: Session, setup: SetupRow, started: datetime, source: str, conditions: dict[str, Any]) -> RunRow:
    """A run of a setup as it begins."""
    run = RunRow(
        owner_id=setup.owner_id,
        boat_id=setup.boat_id,
        setup_id=setup.id,
        started_at=started,
        source=source[:200],
        conditions=conditions,
    )
    session.add(run)
    session.flush()
    return run


def conditions_of_the_day(session: Session, owner: int, at: datetime) -> dict[str, Any]:
    """What was last written of water, air and wind at the same outing; nothing where nothing was."""
    rows = session.scalars(
        select(RunRow.conditions)
        .where(
            RunRow.owner_id == owner, RunRow.deleted_at.is_(None),
            RunRow.started_at <= at, RunRow.started_at >= at - APART,
        )
        .order_by(RunRow.started_at.desc(), RunRow.id.desc())
        .limit(20)
    )  # fmt: skip
    return next((dict(conditions) for conditions in rows if conditions), {})


def _moment(unix_s: float) -> datetime:
    """Time of a track, now where it has none."""
    return datetime.fromtimestamp(unix_s, UTC).replace(tzinfo=None) if np.isfinite(unix_s) else now()


@retried
def type_run(
    store: Store, setup_id: int, started: datetime | None = None, request: RequestKey | None = None
) -> RunView:
    """A run that left no file: empty, for the racer to type in what the displays showed.

    Parameters
    ----------
    started : when it was, in UTC; now where nobody says. Its water and air are those of the outing so far.
    """

    def make(setup: SetupRow) -> int:
        at = started or now()
        return new_run(session, setup, at, "typed in", conditions_of_the_day(session, setup.owner_id, at)).id

    with store.transaction() as session:
        return made_run(session, racer_of(session), setup_id, request, make)


def add_log(store: Store, run_id: int, data: bytes, *, accept_damage: bool) -> RunView:
    """A controller log put to a run, in place of one that was there.

    Raises
    ------
    UnreadableFile : not a log, or damaged and not accepted.
    """
    return keep_log(store, run_id, read_controller_csv(data), accept_damage=accept_damage)


@retried
def keep_log(store: Store, run_id: int, read: ReadLog, *, accept_damage: bool) -> RunView:
    """A controller log that was read, put to a run.

    Raises
    ------
    PartlyReadable : damaged, and not accepted.
    """
    if read.damages and not accept_damage:
        seconds = float(read.log.time_s[-1] - read.log.time_s[0])
        raise PartlyReadable(len(read.log.time_s), seconds, read.damages, read.broken)
    with store.transaction() as session:
        owner = racer_of(session)
        run = run_of(session, run_id, owner, lock=True)
        save_log(session, run, read.log)
        return run_view(run_of(session, run_id, owner))


def runs(store: Store, boat_id: int, before: str | None = None, limit: int = PAGE) -> Page[RunItem]:
    """Runs of a boat, newest first.

    Parameters
    ----------
    before : where the list before ended.
    """
    with store.transaction() as session:
        boat = owned(session, Boat, boat_id, racer_of(session))
        query = (
            select(
                RunRow.id, RunRow.setup_id, SetupRow.name, RunRow.started_at, RunRow.source, RunRow.best_mps,
                RunRow.duration_s,
            )
            .join(SetupRow, SetupRow.id == RunRow.setup_id)
            .where(RunRow.boat_id == boat.id, RunRow.deleted_at.is_(None))
            .order_by(RunRow.started_at.desc(), RunRow.id.desc())
            .limit(limit + 1)
        )  # fmt: skip
        if before is not None:
            at, key = after_cursor(before)
            query = query.where((RunRow.started_at < at) | ((RunRow.started_at == at) & (RunRow.id < key)))
        rows = session.execute(query).all()
    items = [
        RunItem(
            id=row.id, setup_id=row.setup_id, setup_name=row.name, started_at=utc(row.started_at), source=row.source,
            best_mps=row.best_mps, duration_s=row.duration_s,
        )
        for row in rows[:limit]
    ]  # fmt: skip
    more = len(rows) > limit
    return Page(items=items, next=cursor_of(rows[limit - 1].started_at, rows[limit - 1].id) if more else None)


def run(store: Store, run_id: int) -> RunView:
    """A run."""
    with store.transaction() as session:
        return run_view(run_of(session, run_id, racer_of(session)))


@retried
def set_notes(
    store: Store,
    run_id: int,
    conditions: dict[str, Any],
    note: str,
    observations: list[str],
    readings: list[Reading],
    expected: str | None,
    typed: TypedRun | None = None,
) -> RunView:
    """All that is written by hand on a run: conditions, note, what the boat did, gun readings, numbers off displays.

    Parameters
    ----------
    readings : place, temperature as typed, minutes after landing.
    typed : what was read off displays; None leaves what there is.
    expected : tag of the state that this changes.

    Raises
    ------
    InvalidValue : an impossible temperature, wind, speed or time.
    Changed, TagMissing : it is another by now, or nobody said which.
    """
    check_conditions(conditions)
    if typed is not None:
        check_typed(typed)
    if len(readings) > MOST_READINGS:
        raise InvalidValue("readings", len(readings), AtMost(most=MOST_READINGS))
    with store.transaction() as session:
        owner = racer_of(session)
        row = run_of(session, run_id, owner, lock=True)
        kept, then = written_state(row), typed if typed is not None else kept_typed(row.typed)
        if expected is not None and tag_of(notes_state(conditions, note, observations, then, readings)) == tag_of(kept):
            return run_view(row)  # sent once more, since nobody knew whether it had arrived
        check_tag(expected, kept, "what is written on this run")
        row.conditions, row.note = conditions, note
        if typed is not None:
            row.typed = typed.model_dump(mode="json", exclude_defaults=True)
            headline(row)
        row.observations = [ObservationRow(owner_id=owner, words=words[:MOST_WORDS]) for words in observations]
        row.readings = [reading_row(row, k, *reading) for k, reading in enumerate(readings)]
        session.flush()
        return run_view(row)


@retried
def move_run(store: Store, run_id: int, setup_id: int) -> RunView:
    """A run put to another setup, of this boat or another."""
    with store.transaction() as session:
        owner = racer_of(session)
        row = run_of(session, run_id, owner, lock=True)
        setup = owned(session, SetupRow, setup_id, owner)
        row.setup_id, row.boat_id = setup.id, setup.boat_id
        session.flush()
        row = run_of(session, run_id, owner)
        return run_view(row)
