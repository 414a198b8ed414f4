"""A boat as one document and back; the same boat taken in twice is there once."""

import base64
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from kunstflug.core.quantity.errors import FieldProblem, InvalidDocument, NotFound
from kunstflug.core.tracks import analyse
from kunstflug.documents.boat import (
    BoatDocument,
    BoatReadingIn,
    BoatRunIn,
    BoatSetupIn,
    BoatTubTestIn,
    EventIn,
    PartIn,
)
from kunstflug.documents.run import kept_typed
from kunstflug.documents.setup import SHELF_PARTS, SetupDocument, parsed_setup, stored_part
from kunstflug.files.exact_csv import read_exact_log, write_exact_log
from kunstflug.files.gpx import read_gpx, write_gpx
from kunstflug.services.boats.boats import save_setup
from kunstflug.services.run.photo import scaled
from kunstflug.services.shared.forecasts import forecast_of
from kunstflug.services.shared.rows import owned, racer_of
from kunstflug.services.shared.run_rows import (
    check_conditions,
    check_typed,
    headline,
    log_numbers_of,
    reading_row,
    save_log,
    save_track,
    speed_of,
    track_numbers,
)
from kunstflug.services.shared.stock import dumped
from kunstflug.services.shared.views import utc
from kunstflug.store.blocks import log_of, track_of
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import (
    Boat,
    ObservationRow,
    PartEventRow,
    PartRow,
    PhotoRow,
    RunRow,
    SetupPart,
    SetupRow,
    SetupTick,
    TubTestRow,
)


def find_boat(store: Store, name: str) -> int:
    """Id of a boat by its name.

    Raises
    ------
    NotFound : no boat of that name.
    """
    with store.transaction() as session:
        owner = racer_of(session)
        query = select(Boat.id).where(Boat.owner_id == owner, Boat.name == name, Boat.deleted_at.is_(None))
        found = session.scalars(query.order_by(Boat.id)).first()
    if found is None:
        raise NotFound("boat", name)
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class BoatTaken:
    """What a boat document brought: the boat, and how much of it was new."""

    boat_id: int
    setup_id: int
    name: str
    setups: int
    runs: int
    parts: int
    tub_tests: int


def export_boat(store: Store, boat_id: int, *, tracks: bool = True) -> BoatDocument:
    """A boat as a document.

    Parameters
    ----------
    tracks : with tracks, controllers' logs and pictures; without them the figures say what they said.
    """
    with store.transaction() as session:
        boat = owned(session, Boat, boat_id, racer_of(session))
        setups = list(
            session.scalars(
                select(SetupRow).where(SetupRow.boat_id == boat.id, SetupRow.deleted_at.is_(None)).order_by(SetupRow.id)
            )
        )
        keys = {row.id: row.uid for row in setups}
        links = session.execute(
            select(SetupPart.setup_id, SetupPart.kind, PartRow)
            .join(PartRow, PartRow.id == SetupPart.part_id)
            .where(SetupPart.setup_id.in_(keys), PartRow.deleted_at.is_(None))
        ).all()
        used: dict[int, dict[str, str]] = {}
        for setup_id, kind, part in links:
            used.setdefault(setup_id, {})[kind] = part.uid
        parts = {part.id: part for _, _, part in links}
        ticks: dict[int, list[str]] = {}
        for tick in session.scalars(select(SetupTick).where(SetupTick.setup_id.in_(keys), SetupTick.done)):
            ticks.setdefault(tick.setup_id, []).append(tick.step)
        runs = session.scalars(
            select(RunRow)
            .where(RunRow.boat_id == boat.id, RunRow.deleted_at.is_(None), RunRow.setup_id.in_(keys))
            .order_by(RunRow.id)
            .options(selectinload(RunRow.readings), selectinload(RunRow.observations))
        )
        tests = session.scalars(
            select(TubTestRow)
            .where(TubTestRow.setup_id.in_(keys), TubTestRow.deleted_at.is_(None))
            .order_by(TubTestRow.id)
        )
        return BoatDocument(
            key=boat.uid,
            name=boat.name,
            created_at=utc(boat.created_at),
            archived_at=utc(boat.archived_at) if boat.archived_at else None,
            aim=boat.aim,
            circuit=boat.circuit,
            setups=[
                BoatSetupIn(
                    key=row.uid, parent=keys.get(row.parent_id or 0), name=row.name, created_at=utc(row.created_at),
                    document=row.document, parts=dict(sorted(used.get(row.id, {}).items())),
                    ticks=sorted(ticks.get(row.id, [])),
                )
                for row in setups
            ],
            parts=[_part(part) for part in sorted(parts.values(), key=lambda part: part.uid)],
            runs=[_run(row, keys, tracks=tracks) for row in runs],
            tub_tests=[
                BoatTubTestIn(
                    key=row.uid, setup=keys[row.setup_id], created_at=utc(row.created_at), water_c=row.water_c,
                    air_c=row.air_c, readings=row.readings, outcome=row.outcome, note=row.note,
                )
                for row in tests
            ],
        )  # fmt: skip


def _part(row: PartRow) -> PartIn:
    events = [EventIn(at=utc(e.happened_at), kind=e.kind, words=e.words) for e in row.events]
    return PartIn(
        key=row.uid, kind=row.kind, document=row.document, state=row.state, pieces=row.pieces, price=row.price,
        record=row.record, events=events,
    )  # fmt: skip


def _run(row: RunRow, keys: Mapping[int, str], *, tracks: bool) -> BoatRunIn:
    log = row.log if row.log is not None and row.log.deleted_at is None else None
    return BoatRunIn(
        key=row.uid,
        setup=keys[row.setup_id],
        started_at=utc(row.started_at),
        source=row.source,
        conditions=row.conditions,
        note=row.note,
        observations=[o.words for o in row.observations],
        readings=[BoatReadingIn(place=r.place, typed=r.typed, minutes_after=r.minutes_after) for r in row.readings],
        typed=kept_typed(row.typed),
        figures=track_numbers(row),
        log_figures=log_numbers_of(row),
        format=row.track.format if row.track else None,
        content=row.content_hash,
        track=_gpx(row) if tracks and row.track else None,
        log=write_exact_log(log_of(log.block)).decode() if tracks and log is not None else None,
        picture=base64.b64encode(row.photo.jpeg).decode() if tracks and row.photo else None,
    )


def _gpx(row: RunRow) -> str:
    assert row.track is not None
    samples = track_of(row.track.block)
    return write_gpx(samples, samples.name, exact=True).decode()


def _naive(moment: datetime) -> datetime:
    return moment.astimezone(UTC).replace(tzinfo=None) if moment.tzinfo else moment


@retried
def import_boat(store: Store, document: BoatDocument) -> BoatTaken:
    """A boat of a document; what is there already stays as it is, and only what is missing is added.

    Raises
    ------
    InvalidDocument : a setup, part or run in it is none, or names what is not there.
    InvalidValue : an impossible value in it.
    """
    _check_names(document)
    with store.transaction() as session:
        owner = racer_of(session)
        boat = session.scalar(select(Boat).where(Boat.owner_id == owner, Boat.uid == document.key).with_for_update())
        if boat is None:
            boat = Boat(
                owner_id=owner, uid=document.key, name=document.name, created_at=_naive(document.created_at),
                archived_at=_naive(document.archived_at) if document.archived_at else None, aim=document.aim,
                circuit=document.circuit,
            )  # fmt: skip
            session.add(boat)
            session.flush()
        elif boat.deleted_at is not None:
            boat.deleted_at = None  # taken in again: out of the bin
        parts, new_parts = _parts(session, owner, document)
        setups, new_setups = _setups(session, owner, boat.id, document, parts)
        new_runs = _runs(session, owner, boat.id, document, setups)
        new_tests = _tub_tests(session, owner, document, setups)
        return BoatTaken(
            boat_id=boat.id, setup_id=setups[document.setups[-1].key].id, name=boat.name, setups=new_setups,
            runs=new_runs, parts=new_parts, tub_tests=new_tests,
        )  # fmt: skip


def _check_names(document: BoatDocument) -> None:
    """Everything that is named is there, parents before their children."""
    seen: set[str] = set()
    parts = {part.key for part in document.parts}
    for k, setup in enumerate(document.setups):
        if setup.parent is not None and setup.parent not in seen:
            raise _wrong(f"setups.{k + 1}.parent", setup.parent, "the key of a setup above it")
        if setup.key in seen:
            raise _wrong(f"setups.{k + 1}.key", setup.key, "a key of its own")
        missing = next((key for key in setup.parts.values() if key not in parts), None)
        if missing is not None:
            raise _wrong(f"setups.{k + 1}.parts", missing, "keys of parts in this document")
        seen.add(setup.key)
    named = [*((f"runs.{k + 1}", r.setup) for k, r in enumerate(document.runs))]
    named += ((f"tub_tests.{k + 1}", t.setup) for k, t in enumerate(document.tub_tests))
    for field, key in named:
        if key not in seen:
            raise _wrong(f"{field}.setup", key, "the key of a setup in this document")
    for k, part in enumerate(document.parts):
        if part.kind not in SHELF_PARTS:
            raise _wrong(f"parts.{k + 1}.kind", part.kind, f"one of {', '.join(SHELF_PARTS)}")


def _wrong(field: str, value: str, allowed: str) -> InvalidDocument:
    return InvalidDocument([FieldProblem(field=field, value=value, allowed=allowed)])


def _parts(session: Session, owner: int, document: BoatDocument) -> tuple[dict[str, PartRow], int]:
    keys = [part.key for part in document.parts]
    there = {
        row.uid: row for row in session.scalars(select(PartRow).where(PartRow.owner_id == owner, PartRow.uid.in_(keys)))
    }
    added = 0
    for part in document.parts:
        if part.key in there:
            there[part.key].deleted_at = None
            continue
        checked = stored_part(part.kind, part.document)
        row = PartRow(
            owner_id=owner, uid=part.key, kind=part.kind, name=str(part.document.get("name", ""))[:120],
            document=dumped(checked), state=part.state, pieces=part.pieces, price=part.price, record=part.record,
            events=[
                PartEventRow(owner_id=owner, happened_at=_naive(e.at), kind=e.kind, words=e.words) for e in part.events
            ],
        )  # fmt: skip
        session.add(row)
        there[part.key] = row
        added += 1
    session.flush()
    return there, added


def _setups(
    session: Session, owner: int, boat_id: int, document: BoatDocument, parts: dict[str, PartRow]
) -> tuple[dict[str, SetupRow], int]:
    keys = [setup.key for setup in document.setups]
    rows = session.scalars(select(SetupRow).where(SetupRow.owner_id == owner, SetupRow.uid.in_(keys)))
    there = {row.uid: row for row in rows}
    added = 0
    for setup in document.setups:
        if setup.key in there:
            there[setup.key].deleted_at = None
            continue
        made: SetupDocument = parsed_setup(setup.document)
        parent = there[setup.parent].id if setup.parent else None
        row = save_setup(session, owner, boat_id, parent, setup.name, made, forecast_of(made, None))
        row.uid, row.created_at = setup.key, _naive(setup.created_at)
        for kind, key in setup.parts.items():
            session.add(SetupPart(setup_id=row.id, kind=kind, part_id=parts[key].id, owner_id=owner))
        for step in setup.ticks:
            session.add(SetupTick(setup_id=row.id, step=step[:60], owner_id=owner, done=True))
        there[setup.key] = row
        added += 1
    session.flush()
    return there, added


def _runs(session: Session, owner: int, boat_id: int, document: BoatDocument, setups: dict[str, SetupRow]) -> int:
    keys = [run.key for run in document.runs]
    there = set(session.scalars(select(RunRow.uid).where(RunRow.owner_id == owner, RunRow.uid.in_(keys))))
    added = 0
    for run in document.runs:
        if run.key in there:
            continue
        _add_run(session, owner, boat_id, run, setups[run.setup])
        added += 1
    session.flush()
    return added


def _add_run(session: Session, owner: int, boat_id: int, run: BoatRunIn, setup: SetupRow) -> None:
    check_conditions(run.conditions)
    check_typed(run.typed)
    row = RunRow(
        owner_id=owner, uid=run.key, boat_id=boat_id, setup_id=setup.id, started_at=_naive(run.started_at),
        source=run.source, content_hash=run.content, conditions=run.conditions,
        typed=run.typed.model_dump(mode="json", exclude_defaults=True), note=run.note, readings=[], observations=[],
    )  # fmt: skip
    session.add(row)
    row.readings = [reading_row(row, k, r.place, r.typed, r.minutes_after) for k, r in enumerate(run.readings)]
    row.observations = [ObservationRow(owner_id=owner, words=words) for words in run.observations]
    headline(row)
    if run.track is not None or run.log is not None or run.picture is not None:
        session.flush()  # these are kept by the run's number; all else goes in together
    if run.track is not None:
        samples = read_gpx(run.track.encode()).samples
        save_track(session, row, run.format or "GPX", samples, analyse(samples), ())
        session.refresh(row, ["track"])
    elif run.figures is not None:  # what the track said is kept, without the track
        held = speed_of(run.typed, run.figures)
        row.best_mps = held.reading.value if held else None
        row.duration_s = run.figures.duration_s
    if run.log is not None:
        save_log(session, row, read_exact_log(run.log.encode()))
    if run.picture is not None:
        jpeg, width, height = scaled(base64.b64decode(run.picture, validate=False))
        session.add(PhotoRow(owner_id=owner, run_id=row.id, width=width, height=height, jpeg=jpeg))


def _tub_tests(session: Session, owner: int, document: BoatDocument, setups: dict[str, SetupRow]) -> int:
    keys = [test.key for test in document.tub_tests]
    there = set(session.scalars(select(TubTestRow.uid).where(TubTestRow.owner_id == owner, TubTestRow.uid.in_(keys))))
    added = 0
    for test in document.tub_tests:
        if test.key in there:
            continue
        session.add(
            TubTestRow(
                owner_id=owner, uid=test.key, setup_id=setups[test.setup].id, created_at=_naive(test.created_at),
                water_c=test.water_c, air_c=test.air_c, readings=test.readings, outcome=test.outcome, note=test.note,
            )
        )  # fmt: skip
        added += 1
    session.flush()
    return added
