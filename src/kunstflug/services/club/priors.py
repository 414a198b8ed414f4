"""A club's priors: who shares what their boats showed, and everybody's first forecast that starts from it."""

from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass
from datetime import datetime
from typing import Final

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from kunstflug.core.learning.pool import LEAST_RACERS, Each, Summary, here, pooled, summary_of
from kunstflug.core.learning.run_evidence import RunEvidence
from kunstflug.core.quantity.errors import NotAllowed
from kunstflug.documents.priors import FamilyOut, PriorsOut, SummaryDocument
from kunstflug.services.account import audit
from kunstflug.services.account.accounts import Who
from kunstflug.services.learning.learning import forget, seen_runs
from kunstflug.services.learning.pool import exchanged, keep, locked_pool, pool_in, summary_in
from kunstflug.services.shared.computing import Computing
from kunstflug.services.shared.views import utc
from kunstflug.store.acting import EVERY_RACER, Acting, act, acting
from kunstflug.store.base import now
from kunstflug.store.database import Store, retried
from kunstflug.store.people import PoolRow, Racer, SummaryRow
from kunstflug.wording.learning import family_words

FEW: Final = 20
"""Up to so many racers the parts in common are estimated at once: a second or two."""


def standing(store: Store, who: Who) -> PriorsOut:
    """Whether a racer shares, and which families the club knows."""
    with store.transaction() as session:
        own = session.scalar(select(SummaryRow))
        summary = summary_in(own)
        row = session.scalar(select(PoolRow).execution_options(**EVERY_RACER))
        pool = pool_in(row)
        racers = session.scalar(
            select(func.count()).where(SummaryRow.document.is_not(None)).execution_options(**EVERY_RACER)
        )
    known = {} if pool is None else {family: count for family, count in pool.racers.items() if count > 0}
    return PriorsOut(
        agreed_at=utc(own.created_at) if own else None,
        told=sorted(family_words(family) for family in (summary.families if summary else ())),
        families=[
            FamilyOut(words=family_words(family), racers=count, used=count >= LEAST_RACERS)
            for family, count in sorted(known.items(), key=lambda pair: (-pair[1], pair[0]))
        ],
        racers=racers or 0,
        made_at=utc(row.made_at) if row and row.made_at else None,
        least=LEAST_RACERS,
    )


def agree(store: Store, who: Who, address: str) -> None:
    """Shares what one's boats showed from now on.

    Raises
    ------
    NotAllowed : a guest has no boats of their own.
    """
    if who.role == "guest":
        raise NotAllowed("guests have no boats to share")
    summary = summary_of(_runs(store, who.racer))
    exchange(store, who.racer, summary, True, address)
    _settle(store)


def withdraw(store: Store, who: Who, address: str) -> None:
    """Stops sharing; from now on the club knows only what the others showed."""
    exchange(store, who.racer, None, False, address)
    _settle(store)


def _settle(store: Store) -> None:
    """Estimates the parts in common at once while few racers share; among many that waits for the nightly command."""
    with store.transaction() as session:
        count = session.scalar(select(func.count()).select_from(SummaryRow).execution_options(**EVERY_RACER)) or 0
    if count <= FEW:
        _estimated(store)
    forget(store)


def _runs(store: Store, racer: int) -> list[RunEvidence]:
    with acting(Acting(racer=racer, writes=False)), store.transaction() as session:
        return seen_runs(session, racer)


@retried
def exchange(store: Store, racer: int, summary: Summary | None, agreed: bool | None = None, address: str = "") -> None:
    """Replaces what a racer shares.

    Parameters
    ----------
    agreed : what the racer has just decided; None for a summary made anew, which is dropped if they have stopped.
    """
    with store.transaction() as session:
        taken_out(session, racer)
        act(session, Acting(racer=racer))
        row = session.scalar(select(SummaryRow))
        if agreed is not None and agreed != (row is not None):
            audit.note(session, racer, "priors", "shared from now on" if agreed else "no longer shared", address)
        if agreed is False and row is not None:
            session.delete(row)
        if agreed is False or (row is None and not agreed):
            return
        row = row or SummaryRow(owner_id=racer)
        row.document = None if summary is None else SummaryDocument.of(summary).model_dump(mode="json")
        row.made_at = now()
        session.add(row)
        session.flush()
        exchanged(locked_pool(session), None, summary_in(row))


def taken_out(session: Session, racer: int) -> None:
    """Take a racer's summary out of the pool. The pool is locked first, always before a racer's own row."""
    of_racer = select(SummaryRow).where(SummaryRow.owner_id == racer).execution_options(**EVERY_RACER)
    pool = locked_pool(session)
    summary = summary_in(session.scalar(of_racer))
    if summary is not None:
        exchanged(pool, summary, None)
    session.flush()


# --- all summaries


@dataclass(frozen=True, slots=True, kw_only=True)
class Remade:
    """Result of recalculating all summaries."""

    racers: int
    share: float
    width: float
    families: int


def make_anew(store: Store, work: Computing, heard: Callable[[int, int], None] = lambda done, whole: None) -> Remade:
    """Recalculate all racers' summaries and what families have in common. The program may run meanwhile.

    Parameters
    ----------
    work : where it is done; a racer takes some tenths of a second.
    heard : called with how many racers are done, of how many.
    """
    with store.transaction() as session:
        agreed = list(session.scalars(select(SummaryRow.owner_id).execution_options(**EVERY_RACER)))

    def runs() -> Iterator[tuple[int, list[RunEvidence]]]:
        for racer in agreed:
            yield racer, _runs(store, racer)

    with closing(work.done(_summed, runs())) as made:
        for done, (racer, summary) in enumerate(made, 1):
            exchange(store, racer, summary)
            heard(done, len(agreed))
    return _estimated(store, work.each)


def _estimated(store: Store, each: Each = here) -> Remade:
    """Pool all stored summaries, with the parts in common that make them likeliest."""
    before = _handed_out(store)
    whole = pooled((summary for _, summary in before.values()), each=each)

    @retried
    def finish() -> None:
        pool = whole
        with store.transaction() as session:
            row = locked_pool(session)
            after = _all(session)
            # Update the pool with everybody who started, stopped or changed meanwhile.
            for racer in before.keys() | after.keys():
                old, new = before.get(racer), after.get(racer)
                if old and new and old[0] == new[0]:
                    continue
                pool = pool.without(old[1]) if old else pool
                pool = pool.with_one(new[1]) if new else pool
            keep(row, pool)

    finish()
    return Remade(
        racers=len(before),
        share=whole.share,
        width=whole.width,
        families=sum(count >= LEAST_RACERS for count in whole.racers.values()),
    )


def _summed(one: tuple[int, list[RunEvidence]]) -> tuple[int, Summary | None]:
    """One piece of work; it needs no database."""
    return one[0], summary_of(one[1])


Handed = dict[int, tuple[datetime | None, Summary]]


def _handed_out(store: Store) -> Handed:
    with store.transaction() as session:
        return _all(session)


def _all(session: Session) -> Handed:
    """Every racer's summary, and when it was made."""
    rows = session.scalars(
        select(SummaryRow)
        .join(Racer, Racer.id == SummaryRow.owner_id)
        .where(Racer.disabled_at.is_(None))
        .order_by(SummaryRow.owner_id)
        .execution_options(**EVERY_RACER)
    )
    found: Handed = {}
    for row in rows:
        summary = summary_in(row)
        if summary is not None:
            found[row.owner_id] = (row.made_at, summary)
    return found
