"""Compare: setups in their order, what changed between them, forecast against measured."""

import json
from hashlib import sha256
from typing import Any, Final

from sqlalchemy import func, select
from sqlalchemy.orm import Session, joinedload

from kunstflug.core.drive import MODEL_VERSION
from kunstflug.core.drive.forecast import forecast as core_forecast
from kunstflug.core.drive.schools import Schools
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.quantity.errors import InvalidDocument, InvalidValue
from kunstflug.core.tracks.display import OVERSTATES
from kunstflug.documents.run import kept_typed
from kunstflug.documents.setup import SetupDocument
from kunstflug.services.aims import judging_of
from kunstflug.services.changes import differences
from kunstflug.services.evidence import in_conditions
from kunstflug.services.knowing import known_setup
from kunstflug.services.match import forecast_of
from kunstflug.services.rows import after_cursor, cursor_of, document_of, owned, racer_of
from kunstflug.services.run_rows import held_of, log_numbers_of, odd_conditions, track_numbers
from kunstflug.services.views import ComparedRun, MeasuredView, Page, TrailSetup, TrailView, utc
from kunstflug.store.acting import may_write
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import Boat, ForecastRow, RunForecastRow, RunRow, SetupRow

SETUPS: Final = 40
RUNS_EACH: Final = 8
RUNS_PAGE: Final = 40
# label, dimension, the forecast's key, and where it was measured: track or log, with the key of its summary
_COMPARED: Final = (
    ("Current", "current", "current_a"),
    ("Loaded rpm", "rotation", "rpm"),
    ("Pack under load", "voltage", "pack_voltage_v"),
)
_LOG_KEYS: Final = {"current_a": "current_a", "rpm": "rpm", "pack_voltage_v": "voltage_v"}


@retried
def trail(store: Store, boat_id: int, before: str | None = None, limit: int = SETUPS) -> TrailView:
    """The newest setups of a boat in their order, each with its newest runs.

    Speed forecasts are made for each run's own water and air, and kept with the state they were made of; wind is taken
    out by comparing with the both-ways average where the run has one. The forecast of a setup itself is the one stored
    with it; its verdict is today's, as on Match.
    """
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
        compared = _compared_runs(session, runs, documents)
        schools = judging_of(boat)
        return TrailView(
            boat_id=boat.id,
            boat_name=boat.name,
            setups=[
                _trail_setup(
                    row, parents[row.id], documents, forecasts[row.id], compared, counts.get(row.id, 0), schools
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
    with store.transaction() as session:
        setup = owned(session, SetupRow, setup_id, racer_of(session))
        query = select(RunRow.id).where(RunRow.setup_id == setup.id, RunRow.deleted_at.is_(None))
        if before is not None:
            at, key = after_cursor(before)
            query = query.where((RunRow.started_at < at) | ((RunRow.started_at == at) & (RunRow.id < key)))
        ids = list(session.scalars(query.order_by(RunRow.started_at.desc(), RunRow.id.desc()).limit(limit + 1)))
        rows = _runs_with_numbers(session, ids[:limit])
        found = _compared_runs(session, rows, {setup.id: document_of(setup)})
        last = rows[0] if rows else None
        items = [found[row.id] for row in reversed(rows)]
        return Page(items=items, next=cursor_of(last.started_at, last.id) if last and len(ids) > limit else None)


def _trail_setup(
    row: SetupRow,
    parent: int | None,
    documents: dict[int, SetupDocument],
    forecast: ForecastRow,
    compared: dict[int, ComparedRun],
    count: int,
    schools: Schools,
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
        verdict=_verdict(documents[row.id], schools) or Verdict(forecast.verdict),
        runs=[c for c in compared.values() if c.setup_id == row.id],
        runs_in_all=count,
    )


def _verdict(document: SetupDocument, schools: Schools) -> Verdict | None:
    """As Match says it today: by what the boat is for now, with what its runs taught; None where it cannot be asked."""
    try:
        return core_forecast(known_setup(document), 0, schools, explained=False, drawn=False).verdict
    except InvalidValue:
        return None


def _compared_runs(session: Session, runs: list[RunRow], documents: dict[int, SetupDocument]) -> dict[int, ComparedRun]:
    """Runs beside their forecasts, in their order; a forecast that is missing or of another state is made."""
    kept = {
        row.run_id: row
        for row in session.scalars(select(RunForecastRow).where(RunForecastRow.run_id.in_([r.id for r in runs])))
    }
    found = {}
    for run in runs:
        row = kept.get(run.id)
        state = state_hash(documents[run.setup_id], run.conditions)
        if row is None or row.state_hash != state:
            row = keep_run_forecast(session, run, documents[run.setup_id])
        found[run.id] = _compared(run, row.result)
    return found


def state_hash(document: SetupDocument, conditions: dict[str, Any]) -> str:
    """What a run's forecast depends on: the model, the setup, the water and the air."""
    state = [MODEL_VERSION, document.model_dump(mode="json"), conditions.get("water"), conditions.get("air")]
    return sha256(json.dumps(state, sort_keys=True).encode()).hexdigest()


def keep_run_forecast(session: Session, run: RunRow, document: SetupDocument) -> RunForecastRow:
    """Makes a run's forecast in its own water and air, and keeps it in place of an older one."""
    result = _headline(document, run.conditions)
    row = session.scalar(select(RunForecastRow).where(RunForecastRow.run_id == run.id))
    if not may_write(session):
        return RunForecastRow(result=result)
    if row is None:
        row = RunForecastRow(owner_id=run.owner_id, run_id=run.id)
        session.add(row)
    row.model_version, row.state_hash, row.result = MODEL_VERSION, state_hash(document, run.conditions), result
    session.flush()
    return row


def _headline(document: SetupDocument, conditions: dict[str, Any]) -> dict[str, Any]:
    """Speed, current, rpm and voltage with their bands; the words beside it say what could not be used."""
    try:
        point = forecast_of(in_conditions(document, conditions)).point
        odd = ""
    except (InvalidValue, InvalidDocument):
        point = forecast_of(document).point
        odd = "; ".join(odd_conditions(conditions)) or "its conditions cannot be used"
    keys = ("speed_mps", *(key for _, _, key in _COMPARED))
    return {"odd": odd, **{key: getattr(point, key).model_dump(mode="json") for key in keys}}


def _compared(run: RunRow, forecast: dict[str, Any]) -> ComparedRun:
    found = []
    track, log, speed = track_numbers(run), log_numbers_of(run), forecast["speed_mps"]
    if track is not None and track.both_ways_mps:
        found.append(_measured("Top speed, average of both directions", "speed", speed, track.both_ways_mps))
    elif track is not None and track.best_2s_mps:
        found.append(_measured("Top speed, best 2 s", "speed", speed, track.best_2s_mps))
    else:
        found += _displayed(run, forecast, logged=log is not None)
    if log is not None:
        for label, dimension, key in _COMPARED:
            found.append(_measured(label, dimension, forecast[key], getattr(log, _LOG_KEYS[key])))
    return ComparedRun(
        run_id=run.id,
        setup_id=run.setup_id,
        started_at=utc(run.started_at),
        measured=[m for m in found if m.measured is not None],
        odd=forecast["odd"],
    )


def _displayed(run: RunRow, forecast: dict[str, Any], *, logged: bool) -> list[MeasuredView]:
    """What was typed off displays, beside its forecast."""
    typed, found = kept_typed(run.typed), []
    held = held_of(typed)
    if held is not None:
        read = "there and back" if held.both_ways else "display's peak"
        label = f"Top speed, {read} less {100 * OVERSTATES:.1f} %"
        found.append(_measured(label, "speed", forecast["speed_mps"], round(held.speed_mps, 3), held.band_mps))
    if not logged:
        found += [
            _measured(label, dimension, forecast[key], getattr(typed, _LOG_KEYS[key]))
            for label, dimension, key in _COMPARED
        ]
    return found


def _measured(
    label: str,
    dimension: str,
    banded: dict[str, Any],
    measured: float | None,
    unsure: tuple[float, float] | None = None,
) -> MeasuredView:
    """A forecast beside what was measured; it holds where the band meets what the measurement leaves open."""
    low, high = banded["low"], banded["high"]
    inside = None
    if measured is not None and low is not None and high is not None:
        least, most = unsure or (measured, measured)
        inside = low <= most and least <= high
    return MeasuredView(
        label=label,
        dimension=dimension,
        forecast=banded["value"],
        low=low,
        high=high,
        measured=measured,
        inside=inside,
    )
