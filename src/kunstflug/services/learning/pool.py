"""The stored pool of a club's summaries, and what a racer gets from it."""

from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from kunstflug.core.learning.pool import Pool, Summary, pooled
from kunstflug.core.setup.club import Club
from kunstflug.documents.priors import PoolDocument, SummaryDocument
from kunstflug.services.shared.rows import club_id
from kunstflug.store.acting import EVERY_RACER, Acting, act
from kunstflug.store.base import now
from kunstflug.store.people import PoolRow, SummaryRow


def summary_in(row: SummaryRow | None) -> Summary | None:
    """A racer's summary; None if they share none."""
    return None if row is None or row.document is None else SummaryDocument.model_validate(row.document).summary()


def pool_in(row: PoolRow | None) -> Pool | None:
    """The pool; None if nobody shares."""
    return None if row is None or row.document is None else PoolDocument.model_validate(row.document).pool()


def club_for(session: Session, owner: int) -> Club | None:
    """What the other racers showed. A racer's own summary is taken out: their runs count by themselves, once."""
    pool = pool_in(session.scalar(select(PoolRow).execution_options(**EVERY_RACER)))
    if pool is None:
        return None
    own = session.scalar(select(SummaryRow).where(SummaryRow.owner_id == owner).execution_options(**EVERY_RACER))
    summary = summary_in(own)
    return (pool if summary is None else pool.without(summary)).club()


def locked_pool(session: Session) -> PoolRow:
    """Lock the club's row, and make it if missing. From here on the session acts for the club."""
    act(session, Acting(racer=club_id(session)))
    row = session.scalar(select(PoolRow).with_for_update())
    if row is None:
        row = PoolRow(owner_id=club_id(session))
        session.add(row)
    return row


def exchanged(row: PoolRow, before: Summary | None, after: Summary | None) -> None:
    """Replace one racer's summary in the pool; None for none."""
    pool = pool_in(row) or pooled(())
    if before is not None:
        pool = pool.without(before)
    if after is not None:
        pool = pool.with_one(after)
    keep(row, pool)


def keep(row: PoolRow, pool: Pool, at: datetime | None = None) -> None:
    """Store the pool."""
    row.document, row.made_at = PoolDocument.of(pool).model_dump(mode="json"), at or now()
