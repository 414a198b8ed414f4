"""The logbook: all outings of all boats in time; what ran, what came out, what broke, what was mended."""

from collections import defaultdict
from datetime import timedelta
from typing import Any, Final

from sqlalchemy import Text, func, or_, select, type_coerce
from sqlalchemy.orm import Session, selectinload

from kunstflug.core.evidence.outings import same_outing
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.units import Dimension
from kunstflug.documents.quantity import parsed_quantity, si
from kunstflug.documents.run import TypedRun, kept_typed
from kunstflug.services.logbook.views import (
    LogbookBoat,
    LogbookDue,
    LogbookEvent,
    LogbookRun,
    LogbookView,
    OutingView,
    SeasonRun,
)
from kunstflug.services.shared.rows import after_cursor, cursor_of, newest_first, owned, racer_of
from kunstflug.services.shared.run_rows import run_of
from kunstflug.services.shared.views import utc
from kunstflug.services.shelf.shelf import shelf
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import Boat, ObservationRow, PartEventRow, PartRow, PhotoRow, RunRow, SetupPart, SetupRow
from kunstflug.wording.stopped import SUSPECTS

PAGE: Final = 60
SEASON: Final = timedelta(days=400)
MOST_IN_SEASON: Final = 1000
MOST_EVENTS: Final = 200
NOTE: Final = 160


def logbook(
    store: Store,
    before: str | None = None,
    words: str = "",
    boat_id: int | None = None,
    only: str = "",
    limit: int = PAGE,
) -> LogbookView:
    """Outings, newest first, and what a season looks like.

    Parameters
    ----------
    before : where the list before ended.
    words : to be found in a run's boat, setup, note, or what the boat did.
    only : ``damage``, ``stopped``, ``track``, or nothing.
    """
    with store.transaction() as session:
        owner = racer_of(session)
        query = _query(owner, words, boat_id, only)
        if before is not None:
            at, key = after_cursor(before)
            query = query.where((RunRow.started_at < at) | ((RunRow.started_at == at) & (RunRow.id < key)))
        rows = list(session.execute(query.limit(limit + 1)).all())
        more = len(rows) > limit
        packs = _packs(session, {row.RunRow.setup_id for row in rows})
        pictures = set(session.scalars(select(PhotoRow.run_id).where(PhotoRow.owner_id == owner)))
        runs = [_run(row.RunRow, row.boat, row.setup, packs, pictures) for row in rows[:limit]]
        outings = _outings([row.RunRow for row in rows[:limit]], runs)
        last = rows[limit - 1].RunRow if more else None
        if before is not None:
            goes_on = bool(rows) and same_outing(rows[0].RunRow.started_at, at)
            return LogbookView(
                outings=outings, goes_on=goes_on, next=_next(last), season=[], boats=[], events=[], due=[]
            )  # what stands at the top was sent with the first page
        season = _season(session, owner)
        boats = _boats(session, owner)
        events = _events(session, owner)
    due = [
        LogbookDue(part_id=part.id, kind=part.kind, name=part.name, words=part.due) for part in shelf(store) if part.due
    ]
    return LogbookView(
        outings=outings, goes_on=False, next=_next(last), season=season, boats=boats, events=events, due=due
    )


def _next(last: RunRow | None) -> str | None:
    return None if last is None else cursor_of(last.started_at, last.id)


def _query(owner: int, words: str, boat_id: int | None, only: str) -> Any:
    query = (
        select(RunRow, Boat.name.label("boat"), SetupRow.name.label("setup"))
        .join(Boat, Boat.id == RunRow.boat_id)
        .join(SetupRow, SetupRow.id == RunRow.setup_id)
        .where(RunRow.owner_id == owner, RunRow.deleted_at.is_(None), Boat.deleted_at.is_(None))
        .options(selectinload(RunRow.observations))
        .order_by(RunRow.started_at.desc(), RunRow.id.desc())
    )
    query = newest_first(query) if boat_id is None else query.where(RunRow.boat_id == boat_id)
    for word in words.lower().split()[:6]:
        like = f"%{word.replace('%', '').replace('_', '')[:60]}%"
        seen = select(ObservationRow.id).where(
            ObservationRow.run_id == RunRow.id, func.lower(ObservationRow.words).like(like)
        )
        query = query.where(
            or_(seen.exists(), *(func.lower(column).like(like) for column in (Boat.name, SetupRow.name, RunRow.note)))
        )
    match only:
        case "damage":
            query = query.where(func.json_extract(RunRow.typed, "$.damage[0]").is_not(None))
        case "stopped":
            query = query.where(func.json_extract(RunRow.typed, "$.stopped").is_not(None))
        case "track":
            query = query.where(RunRow.track.has())
        case "":
            pass
        case _:
            raise InvalidValue("only", only, "damage, stopped or track")
    return query


def _packs(session: Session, setup_ids: set[int]) -> dict[int, str]:
    """Name of the pack from the shelf that a setup uses."""
    rows = session.execute(
        select(SetupPart.setup_id, PartRow.name)
        .join(PartRow, PartRow.id == SetupPart.part_id)
        .where(SetupPart.setup_id.in_(setup_ids), SetupPart.kind == "pack")
    )
    return {row.setup_id: row.name for row in rows}


def _run(row: RunRow, boat: str, setup: str, packs: dict[int, str], pictures: set[int]) -> LogbookRun:
    typed = kept_typed(row.typed)
    stopped = ""
    if typed.stopped is not None:
        found = typed.stopped.found
        stopped = f"stopped: {SUSPECTS[found]}" if found else "stopped"
        stopped += f"; {typed.stopped.cure}" if typed.stopped.cure else ""
    return LogbookRun(
        id=row.id, boat_id=row.boat_id, boat=boat, setup_id=row.setup_id, setup=setup, started_at=utc(row.started_at),
        source=row.source, best_mps=row.best_mps, seen=[o.words for o in row.observations],
        open=[words for words in typed.damage if words not in typed.mended], mended=list(typed.mended),
        stopped=stopped, note=row.note[:NOTE], pack=packs.get(row.setup_id, ""), photo=row.id in pictures,
    )  # fmt: skip


def _outings(rows: list[RunRow], runs: list[LogbookRun]) -> list[OutingView]:
    """Runs, newest first, cut where hours lie between them."""
    groups: list[list[int]] = []
    for k, row in enumerate(rows):
        if groups and same_outing(row.started_at, rows[groups[-1][-1]].started_at):
            groups[-1].append(k)
        else:
            groups.append([k])
    return [_outing([rows[k] for k in group], [runs[k] for k in group]) for group in groups]


def _outing(rows: list[RunRow], runs: list[LogbookRun]) -> OutingView:
    def first(key: str, dimension: Dimension) -> float | None:
        """The condition that was written down first; the others of the day are within it."""
        for row in reversed(rows):
            raw = row.conditions.get(key)
            if raw is not None:
                return float(si(parsed_quantity(dimension, raw, f"conditions.{key}"), dimension))
        return None

    return OutingView(
        started_at=runs[-1].started_at,
        ended_at=runs[0].started_at,
        water_c=first("water", Dimension.TEMPERATURE),
        air_c=first("air", Dimension.TEMPERATURE),
        wind_mps=first("wind", Dimension.SPEED),
        packs=sorted({run.pack for run in runs if run.pack}),
        runs=runs,
    )


_BROKE: Final = (
    type_coerce(RunRow.typed, Text).like('%"damage"%') & (func.json_length(RunRow.typed, "$.damage") > 0),
    type_coerce(RunRow.typed, Text).like('%"stopped"%')
    & (func.json_type(func.json_extract(RunRow.typed, "$.stopped")) == "OBJECT"),
)
"""Asked of the database: thousands of documents would be read for a mark each. Few hold the word at all."""


def _season(session: Session, owner: int) -> list[SeasonRun]:
    newest = session.scalar(
        select(RunRow.started_at)
        .where(RunRow.owner_id == owner, RunRow.deleted_at.is_(None))
        .order_by(RunRow.started_at.desc())
        .limit(1)
    )
    if newest is None:
        return []
    rows = session.execute(
        newest_first(select(RunRow.id, RunRow.boat_id, RunRow.started_at, RunRow.best_mps, or_(*_BROKE).label("broke")))
        .join(Boat, Boat.id == RunRow.boat_id)
        .where(
            RunRow.owner_id == owner, RunRow.deleted_at.is_(None), Boat.deleted_at.is_(None),
            RunRow.started_at >= newest - SEASON,
        )
        .order_by(RunRow.started_at.desc())
        .limit(MOST_IN_SEASON)
    )  # fmt: skip
    return [
        SeasonRun(
            run_id=row.id, boat_id=row.boat_id, at=utc(row.started_at), best_mps=row.best_mps,
            broke=bool(row.broke),
        )
        for row in reversed(list(rows))
    ]  # fmt: skip


def _boats(session: Session, owner: int) -> list[LogbookBoat]:
    """Every boat with its best run and what is open on it."""
    whole = RunRow.owner_id == owner, RunRow.deleted_at.is_(None)
    counts: dict[int, int] = dict(
        session.execute(select(RunRow.boat_id, func.count()).where(*whole).group_by(RunRow.boat_id)).all()
    )
    rank = func.row_number().over(
        partition_by=RunRow.boat_id, order_by=(RunRow.best_mps.desc(), RunRow.started_at.desc(), RunRow.id)
    )
    ranked = (
        select(RunRow.id, RunRow.boat_id, RunRow.setup_id, RunRow.started_at, RunRow.best_mps, rank.label("rank"))
        .where(*whole, RunRow.best_mps > 0)
        .subquery()
    )
    best = {row.boat_id: row for row in session.execute(select(ranked).where(ranked.c.rank == 1))}
    damaged = defaultdict(list)
    for row in session.execute(
        select(RunRow.boat_id, RunRow.typed).where(*whole, _BROKE[0]).order_by(RunRow.started_at.desc())
    ):
        damaged[row.boat_id].append(row)
    return [
        LogbookBoat(
            boat_id=boat.id, name=boat.name, runs=counts.get(boat.id, 0), best_mps=run.best_mps if run else None,
            best_run_id=run.id if run else None, best_setup_id=run.setup_id if run else None,
            best_at=utc(run.started_at) if run else None, open=_open_of(damaged[boat.id]),
        )
        for boat in session.scalars(
            select(Boat).where(Boat.owner_id == owner, Boat.deleted_at.is_(None)).order_by(Boat.id)
        )
        for run in (best.get(boat.id),)
    ]  # fmt: skip


def _open_of(rows: Any) -> list[str]:
    """Damage of a boat that nobody has mended, newest first."""
    found: dict[str, None] = {}
    for row in rows:
        typed = kept_typed(row.typed)
        found |= dict.fromkeys(words for words in typed.damage if words not in typed.mended)
    return list(found)


def open_damage(store: Store, boat_id: int) -> list[str]:
    """Damage of a boat that nobody has mended, newest first.

    Raises
    ------
    NotFound
    """
    with store.transaction() as session:
        owned(session, Boat, boat_id, racer_of(session))
        rows = session.execute(
            select(RunRow.typed)
            .where(
                RunRow.owner_id == racer_of(session), RunRow.boat_id == boat_id, RunRow.deleted_at.is_(None),
                RunRow.typed.is_not(None),
            )
            .order_by(RunRow.started_at.desc())
        ).all()  # fmt: skip
    return _open_of(rows)


def _events(session: Session, owner: int) -> list[LogbookEvent]:
    rows = session.execute(
        select(PartEventRow, PartRow.name, PartRow.kind.label("part_kind"))
        .join(PartRow, PartRow.id == PartEventRow.part_id)
        .where(PartEventRow.owner_id == owner, PartRow.deleted_at.is_(None))
        .order_by(PartEventRow.happened_at.desc())
        .limit(MOST_EVENTS)
    )
    return [
        LogbookEvent(
            at=utc(row.PartEventRow.happened_at), part_id=row.PartEventRow.part_id, part=row.name,
            part_kind=row.part_kind, kind=row.PartEventRow.kind, words=row.PartEventRow.words,
        )
        for row in rows
    ]  # fmt: skip


@retried
def mend(store: Store, run_id: int, words: str, *, mended: bool = True) -> None:
    """Damage of a run mended, or not after all.

    Raises
    ------
    InvalidValue : no such damage was written down on it.
    NotFound : no such run.
    """
    with store.transaction() as session:
        row = run_of(session, run_id, racer_of(session), lock=True)
        typed = kept_typed(row.typed)
        if words not in typed.damage:
            raise InvalidValue("damage", words, "damage that is written down on this run")
        kept = [w for w in typed.mended if w != words] + ([words] if mended else [])
        changed = TypedRun.model_validate({**typed.model_dump(mode="json"), "mended": kept})
        row.typed = changed.model_dump(mode="json", exclude_defaults=True)
