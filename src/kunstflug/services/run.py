"""Run: tracks and logs taken in, conditions, gun readings, observations; the simulated pond's button."""

import hashlib
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from itertools import pairwise
from typing import Any, Final

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from kunstflug.core.quantity.errors import AlreadyThere, InvalidValue, NotFound, UnreadableFile
from kunstflug.core.quantity.facts import AtMost
from kunstflug.core.tracks import TrackSamples, analyse
from kunstflug.core.tracks.turns import Turn, find_turns
from kunstflug.documents.run import TypedRun, kept_typed
from kunstflug.documents.setup import setup_of
from kunstflug.files.controller_csv import ReadLog, read_controller_csv, write_controller_csv
from kunstflug.files.geojson import write_geojson
from kunstflug.files.gpx import write_gpx
from kunstflug.files.mapped_csv import write_track_csv
from kunstflug.files.reading import Damage, ReadTrack
from kunstflug.files.track_file import read_track
from kunstflug.pond import Weather, boat_seed, run_outing
from kunstflug.services.compare import keep_run_forecast
from kunstflug.services.rows import (
    RequestKey,
    after_cursor,
    check_tag,
    cursor_of,
    document_of,
    once,
    owned,
    racer_of,
    tag_of,
)
from kunstflug.services.run_rows import (
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
from kunstflug.services.views import Page, RunItem, RunView, TrackView, TurnView, utc
from kunstflug.store.blocks import log_of, track_of
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import Boat, ObservationRow, RunRow, SetupRow, now

DRAWN_SAMPLES: Final = 4000
MOST_READINGS: Final = 40
PAGE: Final = 50
APART: Final = timedelta(hours=4)
"""Runs that are farther apart are of two outings (common practice, no source)."""


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
    keep_run_forecast(session, run, document_of(session.get_one(SetupRow, run.setup_id)))
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


def simulate(
    store: Store, setup_id: int, seed: int, passes: int, weather: Weather, request: RequestKey | None = None
) -> RunView:
    """A run on the simulated pond, with track, controller log and gun readings.

    The hidden boat belongs to the boat, not to the run: the same boat stays the same over its outings.
    """
    with store.transaction() as session:
        row = owned(session, SetupRow, setup_id, racer_of(session))
        document, boat_id = document_of(row), row.boat_id
    started = now()
    outing = run_outing(
        setup_of(document),
        seed=seed,
        boat_seed=boat_seed(boat_id),
        passes=passes,
        weather=weather,
        start_unix_s=started.replace(tzinfo=UTC).timestamp(),
    )
    return save_outing(store, setup_id, outing, weather, started, request)


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


@retried
def save_outing(
    store: Store,
    setup_id: int,
    outing: Any,
    weather: Weather,
    started: datetime,
    request: RequestKey | None = None,
    observations: tuple[str, ...] = (),
) -> RunView:
    """Saves what a simulated outing brought home."""
    analysis = analyse(outing.track)
    conditions = {
        "water": {"value": weather.water_c, "unit": "degC", "source": "measured"},
        "air": {"value": weather.air_c, "unit": "degC", "source": "measured"},
        "wind": {"value": weather.wind_mps, "unit": "m/s", "source": "measured"},
        "wind_from_deg": weather.wind_from_deg,
        "water_state": "ripples" if weather.wind_mps > 1 else "glass",
    }

    def make(setup: SetupRow) -> int:
        run = new_run(session, setup, started, "simulated pond", conditions)
        save_track(session, run, "simulated", outing.track, analysis, ())
        save_log(session, run, outing.controller)
        for k, reading in enumerate(outing.readings):
            typed = {"value": reading.celsius, "unit": "degC", "source": "measured"}
            session.add(reading_row(run, k, reading.place, typed, reading.minutes_after))
        session.add_all(ObservationRow(owner_id=owner, run_id=run.id, words=words) for words in observations)
        session.flush()
        return run.id

    with store.transaction() as session:
        owner = racer_of(session)
        return made_run(session, owner, setup_id, request, make)


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


def track(store: Store, run_id: int) -> TrackView:
    """Cleaned track of a run, thinned to what a screen can draw; its speed is never averaged away at a peak."""
    with store.transaction() as session:
        row = run_of(session, run_id, racer_of(session))
        if row.track is None:
            return TrackView(time_s=[], east_m=[], north_m=[], speed_mps=[], turns=[])
        block = row.track.block
    cleaned = analyse(track_of(block)).track
    keep = _thinned(cleaned.speed_mps)

    def column(values: np.ndarray, digits: int) -> list[float | None]:
        return [v if v == v else None for v in np.round(values[keep], digits).tolist()]

    return TrackView(
        time_s=np.round(cleaned.time_s[keep], 2).tolist(),
        east_m=column(cleaned.east_m, 2),
        north_m=column(cleaned.north_m, 2),
        speed_mps=column(cleaned.speed_mps, 3),
        turns=[_turn_view(turn) for turn in find_turns(cleaned)],
    )


def _turn_view(turn: Turn) -> TurnView:
    return TurnView(
        start_s=round(turn.start_s, 2),
        end_s=round(turn.end_s, 2),
        turned_deg=round(turn.turned_deg, 1),
        radius_m=round(turn.radius_m, 2),
        entry_mps=round(turn.entry_mps, 3),
        slowest_mps=round(turn.slowest_mps, 3),
        exit_mps=round(turn.exit_mps, 3),
        lost=round(turn.lost, 4),
        lateral_g=round(turn.lateral_g, 3),
    )


def _thinned(speed: np.ndarray) -> np.ndarray:
    """Indices to draw: of each bucket the slowest and the fastest sample."""
    if len(speed) <= DRAWN_SAMPLES:
        return np.arange(len(speed))
    edges = np.linspace(0, len(speed), DRAWN_SAMPLES // 2 + 1).astype(int)
    filled = np.where(np.isfinite(speed), speed, -1.0)
    kept = {0, len(speed) - 1}
    for a, b in pairwise(edges.tolist()):
        kept |= {a + int(np.argmin(filled[a:b])), a + int(np.argmax(filled[a:b]))}
    return np.array(sorted(kept))


def track_gpx(store: Store, run_id: int) -> bytes:
    """The raw track of a run as GPX 1.1, in its pieces, under the name it came with."""
    return write_gpx(*_raw_track(store, run_id))


def track_geojson(store: Store, run_id: int) -> bytes:
    """The same as GeoJSON."""
    return write_geojson(*_raw_track(store, run_id))


def track_csv(store: Store, run_id: int) -> bytes:
    """The same as CSV."""
    return write_track_csv(_raw_track(store, run_id)[0])


def _raw_track(store: Store, run_id: int) -> tuple[TrackSamples, str]:
    with store.transaction() as session:
        row = run_of(session, run_id, racer_of(session))
        if row.track is None:
            raise NotFound("track of run", run_id)
        boat = session.get_one(Boat, row.boat_id)
        samples = track_of(row.track.block)
        return samples, samples.name or f"{boat.name}, {row.setup.name}"


def log_csv(store: Store, run_id: int) -> bytes:
    """The controller log of a run as CSV."""
    with store.transaction() as session:
        row = run_of(session, run_id, racer_of(session))
        if row.log is None or row.log.deleted_at is not None:
            raise NotFound("controller log of run", run_id)
        log = log_of(row.log.block)
    return write_controller_csv(log)


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
        keep_run_forecast(session, row, document_of(session.get_one(SetupRow, row.setup_id)))
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
        keep_run_forecast(session, row, document_of(setup))
        return run_view(row)
