"""What was done with accounts, by whom and from where; written with what it tells of, in the same transaction."""

from typing import Final

from sqlalchemy import select
from sqlalchemy.orm import Session

from kunstflug.documents.account import AuditItem
from kunstflug.services.shared.rows import racer_of
from kunstflug.services.shared.views import utc
from kunstflug.store.database import Store
from kunstflug.store.people import AuditRow, Racer

SHOWN: Final = 100


def note(session: Session, racer: int | None, what: str, words: str = "", address: str = "") -> None:
    """Writes down that something was done.

    Parameters
    ----------
    racer : with whose account; None where nobody knows.
    what : in one or two words; words : beside it, never a secret.
    """
    session.add(AuditRow(racer_id=racer, what=what[:30], words=words[:200], address=address[:60]))


def own_entries(store: Store) -> list[AuditItem]:
    """What was done with one's own account, the last first."""
    with store.transaction() as session:
        racer = racer_of(session)
        rows = session.scalars(
            select(AuditRow).where(AuditRow.racer_id == racer).order_by(AuditRow.id.desc()).limit(SHOWN)
        )
        return [item(row, "") for row in rows]


def all_entries(store: Store) -> list[AuditItem]:
    """What was done with all accounts, the last first; for the keeper."""
    with store.transaction() as session:
        rows = session.execute(
            select(AuditRow, Racer.name)
            .outerjoin(Racer, Racer.id == AuditRow.racer_id)
            .order_by(AuditRow.id.desc())
            .limit(SHOWN)
        )
        return [item(row, name or "") for row, name in rows]


def item(row: AuditRow, name: str) -> AuditItem:
    """An entry as it is shown."""
    return AuditItem(at=utc(row.at), what=row.what, words=row.words, address=row.address, name=name)
