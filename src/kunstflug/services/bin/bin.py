"""The bin: boats, setups, runs, parts, tub tests and controller logs are taken out, and put back as they were.

What belongs to something goes into the bin with it and bears the same moment, so that it comes back with it, and what
lay in the bin before stays there.
"""

from collections.abc import Callable
from datetime import datetime
from typing import Any, Final

from sqlalchemy import ColumnElement, delete, func, select, update
from sqlalchemy.orm import Session

from kunstflug.core.quantity.errors import InUse, NotFound
from kunstflug.services.shared.rows import is_id, owned, racer_of
from kunstflug.services.shared.views import BinnedView, utc
from kunstflug.store.base import now
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import (
    Boat,
    ControllerLogRow,
    ForecastRow,
    LiveBlock,
    LiveDrive,
    ObservationRow,
    PartEventRow,
    PartRow,
    PhotoRow,
    ReadingRow,
    RunRow,
    SetupPart,
    SetupRow,
    SetupTick,
    TrackRow,
    TubTestRow,
)

TABLES: Final[dict[str, Any]] = {
    "boat": Boat,
    "setup": SetupRow,
    "run": RunRow,
    "part": PartRow,
    "tub-test": TubTestRow,
    "controller-log": ControllerLogRow,
}
MOST_LISTED: Final = 200


@retried
def take_out(store: Store, kind: str, key: int) -> BinnedView:
    """Puts something into the bin.

    Parameters
    ----------
    kind : one of ``TABLES``; a controller log goes by its run's id.

    Raises
    ------
    NotFound : there is none.
    InUse : the only setup of a boat, or a part that setups refer to.
    """
    with store.transaction() as session:
        owner = racer_of(session)
        row = _living(session, kind, key, owner)
        moment = now()
        match kind:
            case "setup":
                _check_last_setup(session, row)
                session.execute(
                    update(RunRow)
                    .where(RunRow.setup_id == row.id, RunRow.deleted_at.is_(None))
                    .values(deleted_at=moment)
                )
            case "part":
                _check_unused(session, row)
        row.deleted_at = moment
        session.flush()
        return _view(session, kind, row)


def _living(session: Session, kind: str, key: int, owner: int) -> Any:
    if kind != "controller-log":
        return owned(session, TABLES[kind], key, owner, lock=True)
    run = owned(session, RunRow, key, owner, lock=True)
    log = session.scalar(
        select(ControllerLogRow).where(ControllerLogRow.run_id == run.id, ControllerLogRow.deleted_at.is_(None))
    )
    if log is None:
        raise NotFound("controller log of run", key)
    return log


def _check_last_setup(session: Session, row: SetupRow) -> None:
    session.execute(select(Boat.id).where(Boat.id == row.boat_id).with_for_update())
    left = session.scalar(
        select(func.count()).select_from(SetupRow).where(SetupRow.boat_id == row.boat_id, SetupRow.deleted_at.is_(None))
    )
    if left == 1:
        raise InUse("this is the boat's only setup; take the boat out instead")


def _check_unused(session: Session, row: PartRow) -> None:
    used = session.scalar(select(func.count()).select_from(SetupPart).where(SetupPart.part_id == row.id))
    if used:
        raise InUse(f"{used} setups refer to this part; mark it dead or lost instead, so that they keep it")


@retried
def put_back(store: Store, kind: str, key: int) -> BinnedView:
    """Puts something back that lies in the bin, with what went there together with it.

    Raises
    ------
    NotFound : it does not lie in the bin.
    InUse : what it belongs to lies in the bin itself.
    """
    with store.transaction() as session:
        row = _binned(session, kind, key, racer_of(session))
        view, moment = _view(session, kind, row), row.deleted_at
        match kind:
            case "setup":
                _check_there(session, Boat, row.boat_id, "boat")
                session.execute(
                    update(RunRow).where(RunRow.setup_id == row.id, RunRow.deleted_at == moment).values(deleted_at=None)
                )
            case "run":
                _check_there(session, SetupRow, row.setup_id, "setup")
                _check_there(session, Boat, row.boat_id, "boat")
            case "tub-test":
                _check_there(session, SetupRow, row.setup_id, "setup")
            case "controller-log":
                _check_there(session, RunRow, row.run_id, "run")
        row.deleted_at = None
        return view


def _binned(session: Session, kind: str, key: int, owner: int) -> Any:
    table = TABLES[kind]
    column = table.run_id if kind == "controller-log" else table.id
    query = select(table).where(column == key, table.owner_id == owner, table.deleted_at.is_not(None))
    row = session.scalar(query.with_for_update()) if is_id(key) else None
    if row is None:
        raise NotFound(f"{kind.replace('-', ' ')} in the bin", key)
    return row


def _check_there(session: Session, table: Any, key: int, word: str) -> None:
    if session.scalar(select(table.deleted_at).where(table.id == key)) is not None:
        raise InUse(f"its {word} lies in the bin, too; put that back first")


def listing(store: Store) -> list[BinnedView]:
    """What lies in the bin, newest first; what went there with something is not listed by itself."""
    with store.transaction() as session:
        owner = racer_of(session)
        found = []
        for kind, table in TABLES.items():
            query = select(table).where(table.owner_id == owner, table.deleted_at.is_not(None))
            if kind == "run":
                # A run that went with its setup is put back with it.
                query = query.join(SetupRow, SetupRow.id == RunRow.setup_id).where(
                    (SetupRow.deleted_at.is_(None)) | (SetupRow.deleted_at != RunRow.deleted_at)
                )
            rows = session.scalars(query.order_by(table.deleted_at.desc()).limit(MOST_LISTED)).all()
            found += [_view(session, kind, row) for row in rows]
    return sorted(found, key=lambda v: v.deleted_at, reverse=True)[:MOST_LISTED]


def _view(session: Session, kind: str, row: Any) -> BinnedView:
    return BinnedView(
        kind=kind,
        id=row.run_id if kind == "controller-log" else row.id,
        name=_NAMES[kind](session, row),
        deleted_at=utc(row.deleted_at),
        with_it=_with_it(session, kind, row),
    )


def _with_it(session: Session, kind: str, row: Any) -> str:
    if kind == "boat":
        setups = session.scalar(select(func.count()).select_from(SetupRow).where(SetupRow.boat_id == row.id))
        runs = session.scalar(select(func.count()).select_from(RunRow).where(RunRow.boat_id == row.id))
        return f"{_counted(setups, 'setup')}, {_counted(runs, 'run')}"
    if kind == "setup":
        runs = session.scalar(
            select(func.count())
            .select_from(RunRow)
            .where(RunRow.setup_id == row.id, RunRow.deleted_at == row.deleted_at)
        )
        return _counted(runs, "run") if runs else ""
    return ""


def _counted(count: int | None, word: str) -> str:
    return f"{count or 0} {word}{'' if count == 1 else 's'}"


def _day(moment: datetime) -> str:
    return f"{moment:%-d %b %Y}"


def _of_boat(session: Session, boat_id: int) -> str:
    return session.get_one(Boat, boat_id).name


def _of_setup(session: Session, setup_id: int) -> str:
    setup = session.get_one(SetupRow, setup_id)
    return f"{_of_boat(session, setup.boat_id)}, {setup.name}"


def _of_log(session: Session, row: ControllerLogRow) -> str:
    run = session.get_one(RunRow, row.run_id)
    return f"log of {_of_boat(session, run.boat_id)}, {_day(run.started_at)}"


_NAMES: Final[dict[str, Callable[[Session, Any], str]]] = {
    "boat": lambda session, row: str(row.name),
    "part": lambda session, row: f"{row.kind} {row.name}",
    "setup": lambda session, row: f"{_of_boat(session, row.boat_id)}, {row.name}",
    "run": lambda session, row: f"{_of_boat(session, row.boat_id)}, {_day(row.started_at)}",
    "tub-test": lambda session, row: f"{_of_setup(session, row.setup_id)}, {_day(row.created_at)}",
    "controller-log": _of_log,
}


@retried
def destroy(store: Store, kind: str, key: int) -> None:
    """Deletes for good what lies in the bin, with all that belongs to it.

    Raises
    ------
    NotFound : it does not lie in the bin.
    """
    with store.transaction() as session:
        row = _binned(session, kind, key, racer_of(session))
        match kind:
            case "boat":
                _destroy_setups(session, list(session.scalars(select(SetupRow.id).where(SetupRow.boat_id == row.id))))
            case "setup":
                session.execute(update(SetupRow).where(SetupRow.parent_id == row.id).values(parent_id=row.parent_id))
                _destroy_setups(session, [row.id])
                return
            case "run":
                _destroy_runs(session, [row.id])
                return
            case "part":
                session.execute(delete(PartEventRow).where(PartEventRow.part_id == row.id))
        session.execute(delete(TABLES[kind]).where(TABLES[kind].id == row.id))


def _destroy_runs(session: Session, ids: list[int]) -> None:
    for table in (TrackRow, ControllerLogRow, ReadingRow, ObservationRow, PhotoRow):
        session.execute(delete(table).where(table.run_id.in_(ids)))
    _destroy_drives(session, LiveDrive.run_id.in_(ids))
    session.execute(delete(RunRow).where(RunRow.id.in_(ids)))


def _destroy_drives(session: Session, which: ColumnElement[bool]) -> None:
    of = select(LiveDrive.id).where(which)
    session.execute(delete(LiveBlock).where(LiveBlock.drive_id.in_(of)))
    session.execute(delete(LiveDrive).where(which))


def _destroy_setups(session: Session, ids: list[int]) -> None:
    _destroy_runs(session, list(session.scalars(select(RunRow.id).where(RunRow.setup_id.in_(ids)))))
    _destroy_drives(session, LiveDrive.setup_id.in_(ids))
    for table in (ForecastRow, SetupTick, SetupPart, TubTestRow):
        session.execute(delete(table).where(table.setup_id.in_(ids)))
    session.execute(update(SetupRow).where(SetupRow.id.in_(ids)).values(parent_id=None))
    session.execute(delete(SetupRow).where(SetupRow.id.in_(ids)))
