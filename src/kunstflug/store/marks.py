"""A mark that moves with everything that teaches: whoever keeps what was learnt looks at it instead of at the log.

It is drawn anew in the transaction that changes a run, and never counted on: after a backup was put back, the same mark
stands for the same log, and no later one can be mistaken for it.
"""

import uuid
from typing import Any, Final

from sqlalchemy import event, select, update
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import ORMExecuteState, Session, sessionmaker

from kunstflug.store.acting import BOUND, acts_for
from kunstflug.store.base import HasOwner
from kunstflug.store.people import Racer
from kunstflug.store.tables import (
    Boat,
    ChangeMark,
    ControllerLogRow,
    ReadingRow,
    RunRow,
    SetupPart,
    SetupRow,
    TrackRow,
)

_TEACH: Final = (RunRow, TrackRow, ControllerLogRow, ReadingRow)
_BEAR: Final = (Boat, SetupRow, SetupPart)
"""What teaches through its runs: a new one has none yet."""
_TABLES: Final = frozenset(row.__table__ for row in (*_TEACH, *_BEAR))
_OWNERS: Final = "owners of what changed"
_ALL: Final = -1


def watch(sessions: "sessionmaker[Session]") -> None:
    """Moves the marks of whoever's runs these sessions change."""
    event.listen(sessions, "before_flush", _touched)
    event.listen(sessions, "do_orm_execute", _sent)
    event.listen(sessions, "before_commit", _move)


def mark_of(session: Session, owner: int) -> str:
    """The mark of a racer's log; empty where nothing ever ran."""
    return session.scalar(select(ChangeMark.mark).where(ChangeMark.owner_id == owner)) or ""


def _note(session: Session, owner: int) -> None:
    session.info.setdefault(_OWNERS, set()).add(owner)


def _touched(session: Session, *_: object) -> None:
    changed = [row for row in session.dirty if session.is_modified(row)]
    for row in (*session.new, *changed, *session.deleted):
        if isinstance(row, _TEACH) or (isinstance(row, _BEAR) and row not in session.new):
            assert isinstance(row, HasOwner)
            _note(session, row.owner_id)


def _sent(state: ORMExecuteState) -> None:
    """A statement that changes many rows at once names no row: the racer's for whom it is sent, else everybody's."""
    told: Any = state.statement
    if getattr(told, "is_dml", False) and told.table in _TABLES:
        who = acts_for(state.session)
        every = state.execution_options.get("every_racer")
        _note(state.session, who.racer if who is not None and not every else _ALL)


def _move(session: Session) -> None:
    """The last thing that a transaction does: the row is held for as short as can be."""
    session.flush()
    owners: set[int] = session.info.pop(_OWNERS, set())
    if not owners:
        return
    mark, there = uuid.uuid4().hex, session.connection()
    if _ALL in owners:
        there.execute(update(ChangeMark).values(mark=mark), execution_options=BOUND)
    for owner in sorted(owners - {_ALL}):
        if there.scalar(select(Racer.id).where(Racer.id == owner)) is None:
            continue  # gone with all that was theirs
        row = insert(ChangeMark).values(owner_id=owner, mark=mark)
        there.execute(row.on_duplicate_key_update(mark=row.inserted.mark))
