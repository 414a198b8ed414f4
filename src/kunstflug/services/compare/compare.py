"""Compare: setups in their order, what changed between them, forecast against measured."""

import math
from typing import Final

from sqlalchemy import func, select
from sqlalchemy.orm import Session, joinedload

from kunstflug.core.drive.forecast import forecast as core_forecast
from kunstflug.core.drive.schools import Schools
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.evidence.display import OVERSTATES
from kunstflug.core.evidence.instruments import By
from kunstflug.core.evidence.judgement import Prediction
from kunstflug.core.evidence.readings import STEADY, Reading
from kunstflug.core.evidence.speed import SpeedHeld
from kunstflug.core.learning.judged import JudgedRun
from kunstflug.core.setup.setup import Setup
from kunstflug.documents.base import rounded
from kunstflug.documents.run import kept_typed
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.services.learning.evidence import drive_readings
from kunstflug.services.learning.learning import ALL, Lessons, forget, judgements, knowledge_of
from kunstflug.services.shared.aims import judging_of
from kunstflug.services.shared.changes import differences
from kunstflug.services.shared.rows import after_cursor, cursor_of, document_of, owned, racer_of
from kunstflug.services.shared.run_rows import log_numbers_of, odd_conditions, speed_of, track_numbers
from kunstflug.services.shared.views import ComparedRun, MeasuredView, Page, TrailSetup, TrailView, utc
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import Boat, ForecastRow, RunRow, SetupRow
from kunstflug.wording.learning import READINGS

SETUPS: Final = 40
RUNS_EACH: Final = 8
RUNS_PAGE: Final = 40
LABELS: Final = {
    By.BOTH_WAYS: "Top speed, average of both directions",
    By.RECEIVER: "Top speed, best 2 s",
}


@retried
def trail(
    store: Store, boat_id: int, before: str | None = None, limit: int = SETUPS, lessons: Lessons = ALL
) -> TrailView:
    """The newest setups of a boat in their order, each with its newest runs.

    A run stands beside what was forecast of it with what was known then, in its own water and air. The forecast of a
    setup itself is the one stored with it; its verdict is today's, as on Match.
    """
    forget(store)  # another process may have saved a run a moment ago
    known, then = knowledge_of(store, boat_id, lessons), judgements(store)
    with store.transaction() as session:
        boat = owned(session, Boat, boat_id, racer_of(session))
        query = select(SetupRow).where(SetupRow.boat_id == boat.id, SetupRow.deleted_at.is_(None))
        if before is not None:
            query = query.where(SetupRow.id < after_cursor(before)[1])
        rows = session.scalars(query.order_by(SetupRow.id.desc()).limit(limit + 1)).all()
        shown = list(reversed(rows[:limit]))
        parents = _parents(session, boat.id)
        documents = {row.id: document_of(row) for row in shown}
        documents |= _missing_documents(session, {parents[row.id] for row in shown} - set(documents))
        forecasts = _newest_forecasts(session, list(documents))
        runs, counts = _newest_runs(session, [row.id for row in shown])
        compared = {run.id: _compared(run, then.get(run.id)) for run in runs}
        schools = judging_of(boat)
        return TrailView(
            boat_id=boat.id,
            boat_name=boat.name,
            setups=[
                _trail_setup(
                    row,
                    parents[row.id],
                    documents,
                    forecasts[row.id],
                    compared,
                    counts.get(row.id, 0),
                    _verdict(setup_of(documents[row.id], known), schools),
                )
                for row in shown
            ],
            older=cursor_of(shown[0].created_at, shown[0].id) if len(rows) > limit else None,
        )


def _parents(session: Session, boat_id: int) -> dict[int, int | None]:
    """Of each setup the nearest one above it that is not in the bin."""
    rows = session.execute(
        select(SetupRow.id, SetupRow.parent_id, SetupRow.deleted_at).where(SetupRow.boat_id == boat_id)
    ).all()
    above = {row.id: row.parent_id for row in rows}
    binned = {row.id for row in rows if row.deleted_at is not None}
    found: dict[int, int | None] = {}
    for row in rows:
        parent = row.parent_id
        while parent in binned:
            parent = above.get(parent)
        found[row.id] = parent
    return found


def _missing_documents(session: Session, ids: set[int | None]) -> dict[int, SetupDocument]:
    wanted = [i for i in ids if i is not None]
    return {row.id: document_of(row) for row in session.scalars(select(SetupRow).where(SetupRow.id.in_(wanted)))}


def _newest_forecasts(session: Session, setup_ids: list[int]) -> dict[int, ForecastRow]:
    newest = select(func.max(ForecastRow.id)).where(ForecastRow.setup_id.in_(setup_ids)).group_by(ForecastRow.setup_id)
    return {f.setup_id: f for f in session.scalars(select(ForecastRow).where(ForecastRow.id.in_(newest)))}


def _newest_runs(session: Session, setup_ids: list[int]) -> tuple[list[RunRow], dict[int, int]]:
    """The newest runs of each setup with their numbers, and how many there are."""
    order = func.row_number().over(partition_by=RunRow.setup_id, order_by=(RunRow.started_at.desc(), RunRow.id.desc()))
    ranked = (
        select(RunRow.id, RunRow.setup_id, order.label("place"))
        .where(RunRow.setup_id.in_(setup_ids), RunRow.deleted_at.is_(None))
        .subquery()
    )
    ids = list(session.scalars(select(ranked.c.id).where(ranked.c.place <= RUNS_EACH)))
    counts = dict(
        session.execute(
            select(RunRow.setup_id, func.count())
            .where(RunRow.setup_id.in_(setup_ids), RunRow.deleted_at.is_(None))
            .group_by(RunRow.setup_id)
        ).all()
    )
    return _runs_with_numbers(session, ids), counts


def _runs_with_numbers(session: Session, ids: list[int]) -> list[RunRow]:
    query = (
        select(RunRow)
        .where(RunRow.id.in_(ids))
        .options(joinedload(RunRow.track), joinedload(RunRow.log))
        .order_by(RunRow.started_at, RunRow.id)
    )
    return list(session.scalars(query))


def compared_runs(store: Store, setup_id: int, before: str | None = None, limit: int = RUNS_PAGE) -> Page[ComparedRun]:
    """Runs of a setup beside their forecasts, newest first."""
    forget(store)
    then = judgements(store)
    with store.transaction() as session:
        setup = owned(session, SetupRow, setup_id, racer_of(session))
        query = select(RunRow.id).where(RunRow.setup_id == setup.id, RunRow.deleted_at.is_(None))
        if before is not None:
            at, key = after_cursor(before)
            query = query.where((RunRow.started_at < at) | ((RunRow.started_at == at) & (RunRow.id < key)))
        ids = list(session.scalars(query.order_by(RunRow.started_at.desc(), RunRow.id.desc()).limit(limit + 1)))
        rows = _runs_with_numbers(session, ids[:limit])
        last = rows[0] if rows else None
        items = [_compared(row, then.get(row.id)) for row in reversed(rows)]
        return Page(items=items, next=cursor_of(last.started_at, last.id) if last and len(ids) > limit else None)


def _trail_setup(
    row: SetupRow,
    parent: int | None,
    documents: dict[int, SetupDocument],
    forecast: ForecastRow,
    compared: dict[int, ComparedRun],
    count: int,
    verdict: Verdict,
) -> TrailSetup:
    before = documents.get(parent) if parent is not None else None
    return TrailSetup(
        setup_id=row.id,
        parent_id=parent,
        name=row.name,
        created_at=utc(row.created_at),
        changes=differences(before, documents[row.id]) if before is not None else [],
        model_version=forecast.model_version,
        forecast_mps=forecast.speed_mps,
        low_mps=forecast.low_mps,
        high_mps=forecast.high_mps,
        verdict=verdict,
        runs=[c for c in compared.values() if c.setup_id == row.id],
        runs_in_all=count,
    )


def _verdict(setup: Setup, schools: Schools) -> Verdict:
    """As Match says it today: by what the boat is for now, with what its runs taught."""
    return core_forecast(setup, schools=schools, explained=False, drawn=False).verdict


def _compared(run: RunRow, judged: JudgedRun | None) -> ComparedRun:
    """A run beside what was forecast of it; without a forecast where nothing is learnt from it."""
    typed, track = kept_typed(run.typed), track_numbers(run)
    speed = speed_of(typed, track, run.conditions)
    then = {} if judged is None else {reading.what: reading.then for reading in judged.readings}
    rows = [] if speed is None else [(_speed_label(speed), "speed", speed.reading)]
    rows += [
        (READINGS[reading.what][0], READINGS[reading.what][1].value, reading)
        for reading in drive_readings(typed, log_numbers_of(run))
        if reading.what in STEADY
    ]
    return ComparedRun(
        run_id=run.id,
        setup_id=run.setup_id,
        started_at=utc(run.started_at),
        measured=[_measured(label, dimension, reading, then.get(reading.what)) for label, dimension, reading in rows],
        odd="; ".join(odd_conditions(run.conditions)),
    )


def _speed_label(speed: SpeedHeld) -> str:
    read = "there and back" if speed.both_ways else "display's peak"
    return LABELS.get(speed.by, f"Top speed, {read} less {100 * OVERSTATES:.1f} %")


def _measured(label: str, dimension: str, reading: Reading, then: Prediction | None) -> MeasuredView:
    there = then if then is not None and math.isfinite(then.value) else None
    return MeasuredView(
        label=label,
        dimension=dimension,
        forecast=rounded(there.value, 4) if there else None,
        low=rounded(there.low, 4) if there else None,
        high=rounded(there.high, 4) if there else None,
        measured=round(reading.value, 3),
        inside=there.holds(reading.value) if there else None,
    )
