"""Whose rows a session sees: the one place where every query is bound to its owner.

Set where a request comes in, used wherever a row is read or written. A session that acts for a racer sees that racer's
rows and no others, whatever the use case asks for; one that acts through a share sees one boat with what belongs to
it. A share that only shows writes nothing at all, in no table. Whoever works on a boat *together* with its owner adds
setups, runs, notes, readings and tub tests, ticks what is done, follows it live, and changes its name, aim and water;
they throw nothing away, and the owner's shelf, plans, ponds, rules of thumb and account are not theirs. What has to
look across racers (signing in, the keeper's list) says so; so does the plain SQL that names its owner by itself.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from typing import Any, Final

from sqlalchemy import ColumnElement, Table, TextClause, event, false, inspect, select
from sqlalchemy.orm import ORMExecuteState, Session, sessionmaker, with_loader_criteria

from kunstflug.core.quantity.errors import NotFound, NotSignedIn, OnlyToLookAt, OwnersAlone
from kunstflug.store.base import Binned, HasOwner
from kunstflug.store.tables import (
    Base,
    Boat,
    ControllerLogRow,
    DayTick,
    ForecastRow,
    IdempotencyRow,
    LiveBlock,
    LiveDrive,
    ObservationRow,
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

EVERY_RACER: Final = {"every_racer": True}
"""Execution options of a statement that looks across racers on purpose."""
BOUND: Final = {"bound": True}
"""Of plain SQL that carries its owner as a parameter, or touches nobody's rows."""
_TOGETHER: Final = (
    Boat, SetupRow, SetupPart, SetupTick, ForecastRow, RunRow, TrackRow, ControllerLogRow, ReadingRow, ObservationRow,
    PhotoRow, TubTestRow, LiveDrive, LiveBlock, DayTick, IdempotencyRow,
)  # fmt: skip
"""What whoever works on a boat together with its owner may write."""
_KEY: Final = "acting"


@dataclass(frozen=True, slots=True, kw_only=True)
class Acting:
    """For whom something is done.

    Parameters
    ----------
    racer : whose rows these are.
    login : who does it; another than the racer where something is shared. None for a guest with a link.
    boat : where only one boat of theirs is shared.
    writes : whether anything may be changed.
    """

    racer: int
    login: int | None = None
    boat: int | None = None
    writes: bool = True


_acting: ContextVar[Acting | None] = ContextVar("acting", default=None)


def acting_now() -> Acting | None:
    """For whom things are done here; None where nobody said."""
    return _acting.get()


@contextmanager
def acting(who: Acting | None) -> Iterator[None]:
    """Everything in the block is done for somebody."""
    before = _acting.set(who)
    try:
        yield
    finally:
        _acting.reset(before)


def begin(session: Session, *, accounts: bool, room: int | None) -> None:
    """Binds a session to whom it acts for."""
    session.info[_KEY] = _acting.get()
    session.info["accounts"] = accounts
    session.info["room"] = room


def acts_for(session: Session) -> Acting | None:
    """For whom a session acts."""
    found: Acting | None = session.info.get(_KEY)
    return found


def act(session: Session, who: Acting) -> None:
    """From here on the session acts for somebody."""
    session.info[_KEY] = who


def may_write(session: Session) -> bool:
    """Whether what a session works out may be kept."""
    who = acts_for(session)
    return who is None or who.writes


def bind(sessions: "sessionmaker[Session]") -> None:
    """Binds every statement and every new row of these sessions to its owner."""
    event.listen(sessions, "do_orm_execute", _restrict)
    event.listen(sessions, "before_flush", _check)


def _restrict(state: ORMExecuteState) -> None:
    if state.execution_options.get("every_racer"):
        return
    who = acts_for(state.session)
    if who is None:
        _nobody(state)
        return
    if state.is_column_load or state.is_relationship_load:
        return  # relationships of what was found pass the criteria on
    told: Any = state.statement
    if isinstance(told, TextClause):
        if not state.execution_options.get("bound"):
            raise RuntimeError("plain SQL that does not say whose rows it touches")
        return
    if told.is_dml:
        _may(who, told)
        if told.is_insert:
            return
    if not state.is_orm_statement:
        state.statement = _core_bound(told, who)
        return
    racer = who.racer
    options = [with_loader_criteria(HasOwner, lambda cls: cls.owner_id == racer, include_aliases=True)]
    if who.boat is not None:
        options += _of_boat(who.boat)
    state.statement = told.options(*options)


def _nobody(state: ORMExecuteState) -> None:
    owned = any(issubclass(m.class_, HasOwner) for m in state.all_mappers) or _core_owned(state)
    if owned and state.session.info.get("accounts"):
        raise NotSignedIn


def _core_bound(told: Any, who: Acting) -> Any:
    """A statement of tables, not of classes: no criteria reach it, so it is bound by hand."""
    for table in _tables_in(told):
        if "owner_id" in table.c:
            if who.boat is not None:
                raise OwnersAlone
            told = told.where(table.c.owner_id == who.racer)
    return told


def _tables_in(told: Any) -> list[Any]:
    """Tables of a statement that names no class."""
    return [told.table] if told.is_dml else [one for one in told.get_final_froms() if isinstance(one, Table)]


def _core_owned(state: ORMExecuteState) -> bool:
    plain = state.is_orm_statement or isinstance(state.statement, TextClause)
    return not plain and any("owner_id" in table.c for table in _tables_in(state.statement))


def _may(who: Acting, told: Any) -> None:
    """Whether a statement that changes rows may be sent; the criteria bind those it finds, here is what it makes."""
    if not who.writes:
        raise OnlyToLookAt
    given = told.compile().params
    if told.is_insert and "owner_id" in told.table.c and given.get("owner_id") != who.racer:
        raise NotFound("row", "another's")
    if who.boat is None:
        return
    binned = "deleted_at" in told.table.c
    thrown = binned and (told.is_delete or "deleted_at" in given or "archived_at" in given)
    if thrown or all(told.table is not mine.__table__ for mine in _TOGETHER):
        raise OwnersAlone


def _of_boat(boat: int) -> list[Any]:
    """What belongs to one boat; nothing else of its owner is seen through a share."""
    # Core tables inside: a criterion must not be restricted by itself.
    setups, runs = SetupRow.__table__, RunRow.__table__
    links, drives = SetupPart.__table__, LiveDrive.__table__
    of_setup = select(setups.c.id).where(setups.c.boat_id == boat)
    of_run = select(runs.c.id).where(runs.c.boat_id == boat)
    of_part = select(links.c.part_id).where(links.c.setup_id.in_(of_setup))
    of_drive = select(drives.c.id).where(drives.c.setup_id.in_(of_setup))

    within = (("boat_id", [boat]), ("setup_id", of_setup), ("run_id", of_run), ("part_id", of_part),
              ("drive_id", of_drive))  # fmt: skip

    def limit(table: Any) -> ColumnElement[bool]:
        if table is Boat:
            return table.id == boat
        if table is PartRow:
            return table.id.in_(of_part)
        for key, found in within:
            if hasattr(table, key):
                return getattr(table, key).in_(found)
        return false()

    # A request's key is the client's own secret, and what it made is looked up like anything else.
    return [with_loader_criteria(t, limit(t), include_aliases=True) for t in _tables() if t is not IdempotencyRow]


def _tables() -> list[type[HasOwner]]:
    return [m.class_ for m in Base.registry.mappers if issubclass(m.class_, HasOwner)]


def _check(session: Session, *_: object) -> None:
    who = acts_for(session)
    if who is None:
        return
    changed = [row for row in session.dirty if session.is_modified(row)]
    touched = [*session.new, *changed, *session.deleted]
    if touched and not who.writes:
        raise OnlyToLookAt
    for row in touched:
        if isinstance(row, HasOwner) and row.owner_id != who.racer:
            raise NotFound("row", "another's")
        if who.boat is not None:
            _together(session, row, who.boat)


def _together(session: Session, row: object, boat: int) -> None:
    """Whether whoever works on a boat together with its owner may write a row: adds and changes, throws nothing away.

    Raises
    ------
    OwnersAlone, NotFound
    """
    if not isinstance(row, _TOGETHER) or (isinstance(row, Boat) and row in session.new):
        raise OwnersAlone
    if isinstance(row, Binned) and (row.deleted_at is not None or row in session.deleted):
        raise OwnersAlone
    if isinstance(row, Boat) and inspect(row).attrs.archived_at.history.has_changes():
        raise OwnersAlone
    if isinstance(row, SetupRow | RunRow | DayTick) and row.boat_id != boat:
        raise NotFound("boat", row.boat_id)
