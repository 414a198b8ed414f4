"""Parts on the shelf as the drive sees them: found by kind, put there, the same part not twice."""

from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from kunstflug.core.errors import InvalidValue
from kunstflug.formats.setup_document import SHELF_PARTS, parsed_part, part_of
from kunstflug.services.changes import part_name
from kunstflug.services.rows import RequestKey, local_racer, once, owned
from kunstflug.services.views import PartView
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import PartRow


def parts(store: Store, kind: str | None) -> list[PartView]:
    """Parts on the shelf, by kind and name."""
    with store.transaction() as session:
        query = (
            select(PartRow)
            .where(PartRow.owner_id == local_racer(session), PartRow.deleted_at.is_(None))
            .order_by(PartRow.kind, PartRow.name)
        )
        if kind:
            query = query.where(PartRow.kind == kind)
        return [_part_view(row) for row in session.scalars(query)]


def _part_view(row: PartRow) -> PartView:
    return PartView(
        id=row.id, kind=row.kind, name=row.name, document=row.document, state=row.state, pieces=row.pieces,
        price=row.price, record=row.record,
    )  # fmt: skip


@retried
def add_part(store: Store, kind: str, raw: dict[str, Any], request: RequestKey | None = None) -> PartView:
    """A part put on the shelf.

    Raises
    ------
    InvalidValue, InvalidDocument : an unknown kind, or a value outside its range.
    """
    if kind not in SHELF_PARTS:
        raise InvalidValue("kind", kind, ", ".join(SHELF_PARTS))
    document = parsed_part(kind, raw)
    part_of(kind, document)
    with store.transaction() as session:
        owner = local_racer(session)
        made = once(session, owner, request, lambda: shelve(session, owner, kind, document).id)
        return _part_view(owned(session, PartRow, made, owner))


def shelve(session: Session, owner: int, kind: str, document: Any) -> PartRow:
    """The part on the shelf that is the same to the letter, or a new one."""
    name = part_name(kind, document)[:120]
    stored = document.model_copy(update={"name": name}).model_dump(mode="json", exclude_none=True)
    same = select(PartRow).where(
        PartRow.owner_id == owner, PartRow.kind == kind, PartRow.name == name, PartRow.deleted_at.is_(None)
    )
    for row in session.scalars(same):
        if row.document == stored:
            return row
    row = PartRow(owner_id=owner, kind=kind, name=name, document=stored)
    session.add(row)
    session.flush()
    return row
