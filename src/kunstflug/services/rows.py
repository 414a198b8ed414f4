"""Finding rows of an owner, and rows to documents."""

from typing import Any, TypeVar

from sqlalchemy import select
from sqlalchemy.orm import Session

from kunstflug.core.errors import NotFound
from kunstflug.formats.setup_document import SetupDocument
from kunstflug.services.views import SetupView
from kunstflug.store.tables import Boat, Owned, PartRow, Racer, RunRow, SetupRow

LOCAL_RACER = "local"

Row = TypeVar("Row", bound=Owned)

_WORDS: dict[type[Any], str] = {Boat: "boat", PartRow: "part", SetupRow: "setup", RunRow: "run"}


def local_racer(session: Session) -> int:
    """The one racer there is for now, made when missing."""
    found = session.scalar(select(Racer).where(Racer.name == LOCAL_RACER))
    if found is None:
        found = Racer(name=LOCAL_RACER)
        session.add(found)
        session.flush()
    return found.id


def owned(session: Session, table: type[Row], key: int, owner: int) -> Row:
    """A row of an owner.

    Raises
    ------
    NotFound : there is none, or it belongs to someone else.
    """
    found = session.get(table, key)
    if found is None or found.owner_id != owner:
        raise NotFound(_WORDS[table], key)
    return found


def document_of(row: SetupRow) -> Any:
    """Document of a setup row."""
    return SetupDocument.model_validate(row.document)


def setup_view(row: SetupRow) -> SetupView:
    """View of a setup row."""
    return SetupView(
        id=row.id,
        boat_id=row.boat_id,
        parent_id=row.parent_id,
        name=row.name,
        created_at=row.created_at,
        document=document_of(row),
    )
