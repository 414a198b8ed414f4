"""Whose rows a session sees: the one place where every query is bound to its owner.

Set where a request comes in, used wherever a row is read or written. A session that acts for a racer sees that racer's
rows and no others, whatever the use case asks for; one that acts through a share sees one boat with what belongs to
it, and may be forbidden to write. What has to look across racers (signing in, the keeper's list) says so.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from typing import Any, Final

from sqlalchemy import ColumnElement, event, false, select
from sqlalchemy.orm import ORMExecuteState, Session, sessionmaker, with_loader_criteria

from kunstflug.core.quantity.errors import NotFound, NotSignedIn, OnlyToLookAt
from kunstflug.store.base import HasOwner
from kunstflug.store.tables import Base, Boat, IdempotencyRow, LiveDrive, PartRow, RunRow, SetupPart, SetupRow

EVERY_RACER: Final = {"every_racer": True}
"""Execution options of a statement that looks across racers on purpose."""
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
        owned = [m.class_ for m in state.all_mappers if issubclass(m.class_, HasOwner)]
        if owned and state.session.info.get("accounts"):
            raise NotSignedIn
        return
    if not who.writes and (state.is_insert or state.is_update or state.is_delete):
        raise OnlyToLookAt
    if state.is_insert or state.is_column_load or state.is_relationship_load:
        return  # relationships of what was found pass the criteria on
    racer = who.racer
    options = [with_loader_criteria(HasOwner, lambda cls: cls.owner_id == racer, include_aliases=True)]
    if who.boat is not None:
        options += _of_boat(who.boat)
    state.statement = state.statement.options(*options)


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
    touched = [row for row in (*session.new, *session.dirty, *session.deleted) if isinstance(row, HasOwner)]
    if who is None:
        return
    if touched and not who.writes:
        raise OnlyToLookAt
    for row in touched:
        if row.owner_id != who.racer:
            raise NotFound("row", "another's")
        if who.boat is not None and isinstance(row, Boat) and (row in session.new or row.deleted_at is not None):
            raise OnlyToLookAt  # whoever works on a boat together with its owner neither makes boats nor throws it away
