"""Parts on the shelf as the drive sees them: put there, found, the same part not twice."""

from dataclasses import dataclass
from typing import Any, Final

from sqlalchemy import select
from sqlalchemy.orm import Session

from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import OneOf
from kunstflug.documents.names import part_name
from kunstflug.documents.setup import SHELF_PARTS, PartDocument, stored_part
from kunstflug.services.shared.rows import racer_of
from kunstflug.store.database import Store
from kunstflug.store.tables import PartRow

FOR_SALE: Final = "for sale"
"""What a shop sells: it can be put into a boat on the screen, and has to be bought for it."""
STATES: Final = ("new", "in use", "worn", "in repair", "dead", "lost", FOR_SALE)
USABLE_STATES: Final = ("new", "in use", "worn", FOR_SALE)


def dumped(document: PartDocument) -> dict[str, Any]:
    """A part's document as it is kept."""
    raw: dict[str, Any] = document.model_dump(mode="json", exclude_none=True)
    return raw


def alike(one: PartDocument, other: PartDocument) -> bool:
    """Whether two parts are the same to the letter, whatever they are called."""
    return {**dumped(one), "name": ""} == {**dumped(other), "name": ""}


@dataclass(frozen=True, slots=True, kw_only=True)
class ShelfPart:
    """A part on the shelf, ready for searches and single steps."""

    id: int
    kind: str
    name: str
    document: PartDocument
    state: str
    price: float | None

    @property
    def raw(self) -> dict[str, Any]:
        """Its document as it is kept."""
        return dumped(self.document)

    @property
    def usable(self) -> bool:
        """Whether it can be put into a boat."""
        return self.state in USABLE_STATES

    @property
    def for_sale(self) -> bool:
        """Whether it has to be bought first."""
        return self.state == FOR_SALE

    def is_like(self, other: PartDocument) -> bool:
        """Whether it is another part to the letter."""
        return alike(self.document, other)


def shelf_part(row: PartRow) -> ShelfPart:
    """A row as a part."""
    document = stored_part(row.kind, row.document)
    return ShelfPart(id=row.id, kind=row.kind, name=row.name, document=document, state=row.state, price=row.price)


def shelf_parts(store: Store) -> list[ShelfPart]:
    """All parts on the shelf, by kind and name."""
    with store.transaction() as session:
        query = (
            select(PartRow)
            .where(PartRow.owner_id == racer_of(session), PartRow.deleted_at.is_(None))
            .order_by(PartRow.kind, PartRow.name)
        )
        return [shelf_part(row) for row in session.scalars(query)]


def check_kind(kind: str) -> None:
    """Refuses a kind of part that does not lie on a shelf.

    Raises
    ------
    InvalidValue : it is none.
    """
    if kind not in SHELF_PARTS:
        raise InvalidValue("kind", kind, OneOf(words=tuple(SHELF_PARTS)))


def shelve(session: Session, owner: int, kind: str, document: PartDocument) -> PartRow:
    """The part on the shelf that is the same to the letter, or a new one."""
    name = part_name(kind, document)[:120]
    named = document.model_copy(update={"name": name})
    same = select(PartRow).where(
        PartRow.owner_id == owner, PartRow.kind == kind, PartRow.name == name, PartRow.deleted_at.is_(None)
    )
    for row in session.scalars(same):
        if dumped(stored_part(kind, row.document)) == dumped(named):
            return row
    row = PartRow(owner_id=owner, kind=kind, name=name, document=dumped(named))
    session.add(row)
    session.flush()
    return row
