"""Boats that are followed while they are driven: what came of their devices is kept, and becomes a run."""

import dataclasses
import logging
import os
import zlib
from collections.abc import Iterator, Sequence
from datetime import UTC, datetime, timedelta
from typing import Any, Final

from sqlalchemy import func, select, update
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session

from kunstflug.core.live.recorded import Recorded, SoakTable, recorded, soak_table
from kunstflug.core.live.watch import Sample, Watch
from kunstflug.core.quantity.errors import AlreadyThere, InvalidValue, KunstflugError, NotFound, OnlyToLookAt
from kunstflug.core.quantity.units import Dimension, number_in
from kunstflug.core.tracks import TrackAnalysis, analyse
from kunstflug.documents.live import DriveView, SoakOut, SourceIn, soak_out
from kunstflug.documents.setup import setup_of
from kunstflug.files.stream import LineReader
from kunstflug.services.learning import learning
from kunstflug.services.live.bridges import Reach, check_reach, check_source, name_of, reach_of
from kunstflug.services.run.run import conditions_of_the_day, made_run, new_run
from kunstflug.services.shared.aims import circuit_of, duty_of, judging_of
from kunstflug.services.shared.room import make_room
from kunstflug.services.shared.rows import RequestKey, document_of, is_id, once, owned, racer_of
from kunstflug.services.shared.run_rows import save_log, save_track
from kunstflug.services.shared.views import utc
from kunstflug.services.shared.water import cooling_of
from kunstflug.services.shelf import pack_life
from kunstflug.store.acting import EVERY_RACER, may_write
from kunstflug.store.base import now
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import Boat, LiveBlock, LiveDrive, RunRow, SetupRow

SHOWN: Final = 20
GIVES_UP_S: Final = 1800.0
"""A device that says nothing for so long has gone home."""
LIVE_ROOM: Final = 5_000_000
"""So many bytes must be free before a boat is followed: some three hours; nothing breaks off on the water."""


_log = logging.getLogger("kunstflug.live")


@dataclasses.dataclass(slots=True)
class Following:
    """What follows one boat: its watch, and what reads its lines."""

    watch: Watch
    reader: LineReader

    def take(self, line: bytes, *, advised: bool = True) -> Sample | None:
        """Takes a line; what it told, if it was a sample."""
        sample = self.reader.read(line)
        if sample is not None:
            try:
                self.watch.feed(sample, advised=advised)
            except Exception:  # a day at the pond does not end with one line that no law can follow
                _log.exception("a line could not be followed")
        return sample


def begin(store: Store, setup_id: int) -> Following:
    """What follows a setup, with what its runs taught and the boat's own water, duty and schools.

    Raises
    ------
    NotFound : no such setup.
    """
    with store.transaction() as session:
        owner = racer_of(session)
        row = owned(session, SetupRow, setup_id, owner)
        boat = owned(session, Boat, row.boat_id, owner)
        document, drawn = document_of(row), circuit_of(boat)
        schools, duty, boat_id = judging_of(boat), duty_of(boat), boat.id
        holds = pack_life.capacity_of(session, setup_id)
    setup = setup_of(document, learning.knowledge_of(store, boat_id))
    watch = Watch(setup, schools, cooling_of(setup, drawn), duty.pass_s, holds=holds)
    return Following(watch=watch, reader=LineReader())


@retried
def open_drive(store: Store, setup_id: int, source: SourceIn, request: RequestKey | None = None) -> DriveView:
    """A setup that is followed from now on.

    Raises
    ------
    NotFound : no such setup.
    InvalidValue : a device that is not near, or that racers of a club's server may not have listened to.
    AlreadyThere : somebody else's boat is followed there, or the racer follows as many as one may.
    """
    check_source(source)
    reach = reach_of(*_reach()) if store.accounts else None
    if reach is not None:
        source = check_reach(source, reach)
    with store.transaction() as session:
        owner = racer_of(session)
        setup = owned(session, SetupRow, setup_id, owner)

        def make() -> int:
            make_room(session, owner, LIVE_ROOM)
            _one_boat_a_device(session, owner, source, reach)
            drive = LiveDrive(owner_id=owner, setup_id=setup.id, source=source.model_dump(mode="json"))
            session.add(drive)
            session.flush()
            return drive.id

        return _view(session, _drive(session, once(session, owner, request, make), owner))


def _reach() -> tuple[str, str]:
    return os.environ.get("KUNSTFLUG_DEVICES", ""), os.environ.get("KUNSTFLUG_LIVE_PORTS", "10110-10141")


def _one_boat_a_device(session: Session, owner: int, source: SourceIn, reach: Reach | None) -> None:
    """A device tells of one boat: where another racer's is followed, no second one is."""
    open_ones = select(LiveDrive).where(LiveDrive.ended_at.is_(None)).order_by(LiveDrive.id).with_for_update()
    rows = session.scalars(open_ones.execution_options(**EVERY_RACER)).all()
    same = [row for row in rows if name_of(SourceIn.model_validate(row.source)) == name_of(source)]
    if any(row.owner_id != owner for row in same):
        raise AlreadyThere("another racer's boat is followed there; take another port")
    if reach is not None and sum(row.owner_id == owner and row not in same for row in rows) >= reach.each:
        raise AlreadyThere(f"you follow {reach.each} boats already; end one first")


def of_device(store: Store, source: SourceIn) -> list[int]:
    """One's own drives that nobody ended and that listen to a device: it tells of another boat now."""
    with store.transaction() as session:
        rows = session.scalars(
            select(LiveDrive).where(LiveDrive.owner_id == racer_of(session), LiveDrive.ended_at.is_(None))
        )
        return [row.id for row in rows if name_of(SourceIn.model_validate(row.source)) == name_of(source)]


def _drive(session: Session, drive_id: int, owner: int, *, lock: bool = False) -> LiveDrive:
    found = None
    if is_id(drive_id):
        query = select(LiveDrive).where(LiveDrive.id == drive_id, LiveDrive.owner_id == owner)
        found = session.scalar(query.with_for_update() if lock else query)
    if found is None:
        raise NotFound("drive", drive_id)
    return found


def _view(session: Session, row: LiveDrive) -> DriveView:
    return _views(session, [row])[0]


def _views(session: Session, rows: Sequence[LiveDrive]) -> list[DriveView]:
    """Views of drives; the lines of all are counted at once."""
    of = select(LiveBlock.drive_id, func.sum(LiveBlock.lines)).where(LiveBlock.drive_id.in_([row.id for row in rows]))
    kept = {key: int(lines) for key, lines in session.execute(of.group_by(LiveBlock.drive_id)).all()}
    return [
        DriveView(
            id=row.id,
            setup_id=row.setup_id,
            started_at=utc(row.created_at),
            ended_at=utc(row.ended_at) if row.ended_at else None,
            source=SourceIn.model_validate(row.source),
            kept=kept.get(row.id, 0),
            run_id=row.run_id,
            soak=SoakOut.model_validate(row.soak) if row.soak else None,
        )
        for row in rows
    ]


def drive(store: Store, drive_id: int) -> DriveView:
    """A drive.

    Raises
    ------
    NotFound
    """
    with store.transaction() as session:
        return _view(session, _drive(session, drive_id, racer_of(session)))


def drives(store: Store, setup_id: int) -> list[DriveView]:
    """The last drives of a setup, newest first."""
    with store.transaction() as session:
        owner = racer_of(session)
        setup = owned(session, SetupRow, setup_id, owner)
        query = select(LiveDrive).where(LiveDrive.setup_id == setup.id).order_by(LiveDrive.id.desc()).limit(SHOWN)
        return _views(session, session.scalars(query).all())


def drive_of_run(store: Store, run_id: int) -> DriveView | None:
    """The drive that a run came of; None for a run of another kind."""
    with store.transaction() as session:
        owner = racer_of(session)
        run = owned(session, RunRow, run_id, owner)
        row = session.scalar(select(LiveDrive).where(LiveDrive.run_id == run.id))
        return _view(session, row) if row is not None else None


@dataclasses.dataclass(frozen=True, slots=True, kw_only=True)
class OpenDrive:
    """A drive that has not ended, of whoever; ``over`` where nothing came for long, or its device tells of another."""

    id: int
    owner: int
    over: bool


def open_ones(store: Store) -> list[OpenDrive]:
    """Drives that have not ended, of whoever, the newest first."""
    last = select(func.max(LiveBlock.created_at)).where(LiveBlock.drive_id == LiveDrive.id).scalar_subquery()
    query = select(LiveDrive, func.coalesce(last, LiveDrive.created_at)).where(LiveDrive.ended_at.is_(None))
    found, heard = [], set[str]()
    with store.transaction() as session:
        for row, at in session.execute(query.order_by(LiveDrive.id.desc()).execution_options(**EVERY_RACER)):
            device = name_of(SourceIn.model_validate(row.source))
            over = device in heard or now() - at > timedelta(seconds=GIVES_UP_S)
            heard.add(device)
            found.append(OpenDrive(id=row.id, owner=row.owner_id, over=over))
    return found


def relay_of(store: Store, drive_id: int) -> str | None:
    """Where the process that listens tells what it knows; None where none does."""
    with store.transaction() as session:
        return _drive(session, drive_id, racer_of(session)).relay


def check_may_end(store: Store, drive_id: int) -> None:
    """Whether whoever asks may end a drive: before anybody is told to.

    Raises
    ------
    NotFound, OnlyToLookAt
    """
    with store.transaction() as session:
        _drive(session, drive_id, racer_of(session))
        if not may_write(session):
            raise OnlyToLookAt


def claim(store: Store, drive_id: int, seen: str | None, mine: str | None) -> bool:
    """Takes over the listening from whoever was seen to have it, or gives it up; whether nobody else was faster."""
    with store.transaction() as session:
        changed = session.execute(
            update(LiveDrive)
            .where(LiveDrive.id == drive_id, LiveDrive.relay.is_not_distinct_from(seen), LiveDrive.ended_at.is_(None))
            .values(relay=mine)
        )
        return bool(changed.rowcount)  # type: ignore[attr-defined]  # of an update


def keep(store: Store, drive_id: int, part: str, number: int, lines: list[bytes]) -> None:
    """Keeps lines; the same block once more, of which nobody knew whether it arrived, changes nothing."""
    block = zlib.compress(b"".join(lines))
    with store.transaction() as session:
        owner = racer_of(session)
        row = insert(LiveBlock).values(
            owner_id=owner, created_at=now(), drive_id=drive_id, part=part, number=number, lines=len(lines), block=block
        )
        session.execute(row.on_duplicate_key_update(number=number))


def replayed(store: Store, drive_id: int, following: Following) -> Iterator[Sample | None]:
    """What each line that was kept told, as it is taken by what follows the boat."""
    for line in kept_lines(store, drive_id):
        yield following.take(line, advised=False)


def kept_lines(store: Store, drive_id: int) -> Iterator[bytes]:
    """All lines of a drive in the order in which they came."""
    after = 0
    while True:
        with store.transaction() as session:
            query = select(LiveBlock.id, LiveBlock.block).where(LiveBlock.drive_id == drive_id, LiveBlock.id > after)
            rows = session.execute(query.order_by(LiveBlock.id).limit(500)).all()
        for key, block in rows:
            after = key
            yield from zlib.decompress(block).splitlines(keepends=True)
        if not rows:
            return


@retried
def finish(store: Store, drive_id: int) -> DriveView:
    """Ends a drive: what was kept becomes a run; one that has ended stays as it is.

    Raises
    ------
    NotFound
    """
    found = drive(store, drive_id)
    if found.ended_at is not None:
        return found
    samples, soak, lies_s = _driven(store, found)
    with store.transaction() as session:
        owner = racer_of(session)
        row = _drive(session, drive_id, owner, lock=True)
        if row.ended_at is None:
            if samples:
                received = select(func.min(LiveBlock.created_at), func.max(LiveBlock.created_at))
                first, last = session.execute(received.where(LiveBlock.drive_id == row.id)).one()
                begun = first.replace(tzinfo=UTC).timestamp()
                row.run_id = _run(session, owner, row.setup_id, recorded(samples, begun), begun)
                if soak is not None:
                    landed = last.replace(tzinfo=UTC) - timedelta(seconds=lies_s)
                    row.soak = soak_out(soak, landed).model_dump(mode="json")
            row.ended_at, row.relay = now(), None
            session.flush()
        view = _view(session, row)
    learning.forget(store)
    return view


def _driven(store: Store, view: DriveView) -> tuple[list[Sample], SoakTable | None, float]:
    """What was received of a drive, how it cools down from there, and for how long it lies still [s].

    What no law can follow still becomes a run, without its temperatures: a drive can always be ended.
    """
    try:
        following = begin(store, view.setup_id)
        samples = [sample for sample in replayed(store, view.id, following) if sample is not None]
        return samples, soak_table(following.watch), following.watch.state().lies_s
    except KunstflugError:
        raise
    except Exception:
        _log.exception("drive %d ends without temperatures", view.id)
    reader = LineReader()
    read = (reader.read(line) for line in kept_lines(store, view.id))
    return [sample for sample in read if sample is not None], None, 0.0


def _run(session: Session, owner: int, setup_id: int, made: Recorded, begun: float) -> int:
    """The run that a drive becomes: its track, its log, else the best speed as a display would have shown it."""
    at = datetime.fromtimestamp(begun, UTC).replace(tzinfo=None)

    def make(setup: SetupRow) -> int:
        run = new_run(session, setup, at, "live", conditions_of_the_day(session, owner, at))
        analysis = _analysed(made)
        if analysis is not None and made.track is not None:
            save_track(session, run, "live", made.track, analysis, ())
        elif made.best_mps > 0:
            run.typed = _peak(made.best_mps)
            run.best_mps, run.duration_s = made.best_mps, made.seconds
        session.flush()
        if made.log is not None:
            save_log(session, run, made.log)
        return run.id

    return made_run(session, owner, setup_id, None, make).id


def _analysed(made: Recorded) -> TrackAnalysis | None:
    """What a track says; None where too little of it can be used."""
    if made.track is None:
        return None
    try:
        return analyse(made.track)
    except InvalidValue:
        return None
    except Exception:  # of a track that nobody foresaw the rest is kept
        _log.exception("a track could not be read")
        return None


def _peak(best_mps: float) -> dict[str, Any]:
    speed = {"value": round(number_in(best_mps, "km/h", Dimension.SPEED), 2), "unit": "km/h", "source": "measured"}
    return {"peaks": [{"speed": speed}]}
