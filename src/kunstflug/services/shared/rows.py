"""Finding rows of an owner, tags of what can be changed, requests that are done once; rows to documents."""

import hashlib
import json
import weakref
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any, TypeVar

from sqlalchemy import Engine, delete, select, update
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from kunstflug.core.quantity.errors import AlreadyThere, Changed, InvalidValue, NotFound, NotSignedIn, TagMissing
from kunstflug.documents.setup import SetupDocument
from kunstflug.services.shared.views import SetupView, utc
from kunstflug.store.acting import Acting, act, acts_for
from kunstflug.store.base import Binned, Owned
from kunstflug.store.database import Store
from kunstflug.store.people import Racer
from kunstflug.store.tables import Base, Boat, IdempotencyRow, PartRow, RunRow, SetupRow, TubTestRow

LOCAL_RACER = "local"
CLUB = "club"

Row = TypeVar("Row", bound=Owned)

_WORDS: dict[type[Any], str] = {
    Boat: "boat", PartRow: "part", SetupRow: "setup", RunRow: "run", TubTestRow: "tub test"
}  # fmt: skip
_LARGEST_ID = 2**31 - 1
_racers: "weakref.WeakKeyDictionary[Engine, int]" = weakref.WeakKeyDictionary()


def racer_of(session: Session) -> int:
    """Whose rows a session sees; where there are no accounts, the one racer there is, made when missing.

    Raises
    ------
    NotSignedIn : there are accounts, and nobody signed in.
    """
    who = acts_for(session)
    if who is not None:
        return who.racer
    if session.info.get("accounts"):
        raise NotSignedIn
    engine = session.get_bind().engine
    found = _racers.get(engine)
    if found is None:
        session.execute(insert(Racer).values(name=LOCAL_RACER).prefix_with("IGNORE"))
        found = session.scalars(select(Racer.id).where(Racer.name == LOCAL_RACER)).one()
        session.commit()  # another program may be making the same row
        _racers[engine] = found
    act(session, Acting(racer=found, login=found))
    return found


def club_id(session: Session) -> int:
    """The club, whose are the shared shelf, the ponds and the classes; made when missing."""
    found = session.scalar(select(Racer.id).where(Racer.role == CLUB))
    if found is None:
        row = Racer(name=CLUB, role=CLUB)
        session.add(row)
        session.flush()
        found = row.id
    return found


def clear(session: Session, racer: int) -> None:
    """Deletes all rows of a racer; the racer stays."""
    for table in reversed(Base.metadata.sorted_tables):
        if "parent_id" in table.columns:
            session.execute(update(table).where(table.c.owner_id == racer).values(parent_id=None))
        if "owner_id" in table.columns:
            session.execute(delete(table).where(table.c.owner_id == racer))


def is_demo(store: Store) -> bool:
    """Whether the racer has the demo's boats."""
    with store.transaction() as session:
        return bool(session.scalar(select(Racer.demo).where(Racer.id == racer_of(session))))


def is_id(key: int) -> bool:
    """Whether a number can be one of a row."""
    return 0 < key <= _LARGEST_ID


def owned(session: Session, table: type[Row], key: int, owner: int, *, lock: bool = False) -> Row:
    """A row of an owner that is not in the bin, nor its boat.

    Parameters
    ----------
    lock : holds the row until the end of the transaction: who reads it to change it waits for the other.

    Raises
    ------
    NotFound : there is none, it lies in the bin, or it belongs to someone else.
    """
    missing = NotFound(_WORDS[table], key)
    if not is_id(key):
        raise missing
    query = select(table).where(table.id == key, table.owner_id == owner)
    if issubclass(table, Binned):
        query = query.where(table.deleted_at.is_(None))
    if issubclass(table, SetupRow | RunRow):
        query = query.where(select(Boat.id).where(Boat.id == table.boat_id, Boat.deleted_at.is_(None)).exists())
    if lock:
        query = query.with_for_update().execution_options(populate_existing=True)
    found = session.scalar(query)
    if found is None:
        raise missing
    return found


def newest_first(query: Any) -> Any:
    """Of runs that are wanted by their time: read in that order, so that a page costs no more than a page.

    The database would rather read all runs of a racer and sort them.
    """
    return query.with_hint(RunRow, "FORCE INDEX (ix_runs_owner_started)").prefix_with("STRAIGHT_JOIN")


def tag_of(state: object) -> str:
    """The tag of a state: equal for equal states, and for no others."""
    text = json.dumps(state, sort_keys=True, separators=(",", ":"), default=str)
    return hashlib.sha256(text.encode()).hexdigest()[:24]


def check_tag(expected: str | None, state: Mapping[str, object], what: str) -> None:
    """Lets a change through that was made knowing the state there is.

    Parameters
    ----------
    expected : tag of the state that the change was made to, ``*`` for any.

    Raises
    ------
    TagMissing : none was sent.
    Changed : the state is another by now.
    """
    if expected is None:
        raise TagMissing
    tag = tag_of(state)
    if expected.strip().strip('"') not in ("*", tag):
        raise Changed(what, state, tag)


@dataclass(frozen=True, slots=True, kw_only=True)
class RequestKey:
    """What a client calls a request, so that sending it twice makes one thing; the digest tells requests apart."""

    key: str
    digest: str


def once(session: Session, owner: int, request: RequestKey | None, make: Callable[[], int]) -> int:
    """Id of what a request makes: made now, or, where the request was sent before, what it made then.

    The key is written in the transaction that makes it: two of the same request at once wait for one another.

    Raises
    ------
    AlreadyThere : the key belongs to another request.
    """
    if request is None:
        return make()
    row = IdempotencyRow(owner_id=owner, key=request.key, digest=request.digest)
    try:
        with session.begin_nested():
            session.add(row)
            session.flush()
    except IntegrityError:
        found = session.scalars(
            select(IdempotencyRow).where(IdempotencyRow.owner_id == owner, IdempotencyRow.key == request.key)
        ).one()
        if found.digest != request.digest or found.made_id is None:
            raise AlreadyThere("this idempotency key was used for another request; nothing was saved") from None
        return found.made_id
    row.made_id = make()
    return row.made_id


def cursor_of(moment: datetime, key: int) -> str:
    """Where a list that is sorted by time goes on."""
    return f"{moment.isoformat()}_{key}"


def after_cursor(cursor: str) -> tuple[datetime, int]:
    """Time and id of a cursor.

    Raises
    ------
    InvalidValue : not one that we made.
    """
    moment, _, key = cursor.rpartition("_")
    try:
        return datetime.fromisoformat(moment).replace(tzinfo=None), int(key)
    except ValueError as error:
        raise InvalidValue("before", cursor[:60], "what the list before said as next") from error


def document_of(row: SetupRow) -> SetupDocument:
    """Document of a setup row."""
    return SetupDocument.model_validate(row.document)


def setup_view(row: SetupRow) -> SetupView:
    """View of a setup row."""
    return SetupView(
        id=row.id,
        boat_id=row.boat_id,
        parent_id=row.parent_id,
        name=row.name,
        created_at=utc(row.created_at),
        document=document_of(row),
    )
