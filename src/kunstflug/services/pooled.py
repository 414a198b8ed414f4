"""What a club knows of families of things, from what is kept of its racers' summaries."""

from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from kunstflug.core.learning.pool import Pool, Summary, pooled
from kunstflug.core.setup.club import Club
from kunstflug.documents.priors import PoolDocument, SummaryDocument
from kunstflug.services.accounts import club_id
from kunstflug.store.acting import EVERY_RACER, Acting, act
from kunstflug.store.tables import PoolRow, SummaryRow, now


def summary_in(row: SummaryRow | None) -> Summary | None:
    """What a racer hands out; None for nothing."""
    return None if row is None or row.document is None else SummaryDocument.model_validate(row.document).summary()


def pool_in(row: PoolRow | None) -> Pool | None:
    """All summaries together; None where nobody hands one out."""
    return None if row is None or row.document is None else PoolDocument.model_validate(row.document).pool()


def club_for(session: Session, owner: int) -> Club | None:
    """What the other racers of a club taught: one's own runs count by themselves, and only once."""
    pool = pool_in(session.scalar(select(PoolRow).execution_options(**EVERY_RACER)))
    if pool is None:
        return None
    own = session.scalar(select(SummaryRow).where(SummaryRow.owner_id == owner).execution_options(**EVERY_RACER))
    summary = summary_in(own)
    return (pool if summary is None else pool.without(summary)).club()


def locked_pool(session: Session) -> PoolRow:
    """The club's row, held until the end of the transaction; made when missing. From here on one acts for the club."""
    act(session, Acting(racer=club_id(session)))
    row = session.scalar(select(PoolRow).with_for_update())
    if row is None:
        row = PoolRow(owner_id=club_id(session))
        session.add(row)
    return row


def exchanged(row: PoolRow, before: Summary | None, after: Summary | None) -> None:
    """Puts one racer's summary in place of an earlier one; None for none."""
    pool = pool_in(row) or pooled(())
    if before is not None:
        pool = pool.without(before)
    if after is not None:
        pool = pool.with_one(after)
    keep(row, pool)


def keep(row: PoolRow, pool: Pool, at: datetime | None = None) -> None:
    """Keeps all summaries together."""
    row.document, row.made_at = PoolDocument.of(pool).model_dump(mode="json"), at or now()
