"""The club: who is in it, what its classes allow, what is taken from its shelf."""

from sqlalchemy import delete, func, select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session

from kunstflug.core.choose.class_rules import ClassLimits, Raced
from kunstflug.core.laws.sound import Loudness
from kunstflug.core.quantity.errors import InvalidValue, NotAllowed, NotFound
from kunstflug.documents.account import ClassRule, ClassRuleView, ClubOut, MemberIn, MemberView
from kunstflug.documents.setup import stored_part
from kunstflug.services.account import audit
from kunstflug.services.account.accounts import Who
from kunstflug.services.club import priors, sharing
from kunstflug.services.shared.rows import CLUB, clear, club_id, is_id, racer_of
from kunstflug.services.shared.stock import shelve
from kunstflug.services.shared.views import utc
from kunstflug.store.acting import EVERY_RACER, Acting, act
from kunstflug.store.base import now
from kunstflug.store.database import Store, retried
from kunstflug.store.people import ChallengeRow, ClassRuleRow, DeviceRow, InvitationRow, Racer
from kunstflug.store.tables import PartRow

MOST_CLASSES = 100


def club(store: Store, who: Who) -> ClubOut:
    """Members, classes, and what others share with whoever asks."""
    with store.transaction() as session:
        seen = (
            select(DeviceRow.owner_id, func.max(DeviceRow.seen_at).label("seen_at"))
            .group_by(DeviceRow.owner_id)
            .execution_options(**EVERY_RACER)
            .subquery()
        )
        rows = session.execute(
            select(Racer, seen.c.seen_at)
            .outerjoin(seen, seen.c.owner_id == Racer.id)
            .where(Racer.password_hash.is_not(None))
            .order_by(Racer.name)
            .execution_options(**EVERY_RACER)
        ).all()
        keeper = who.role == "keeper"
        members = [
            MemberView.model_validate(
                {
                    "id": row.id,
                    "name": row.name,
                    "role": row.role,
                    "disabled": row.disabled_at is not None,
                    "seen_at": utc(at) if at and keeper else None,
                }
            )
            for row, at in rows
            if keeper or row.disabled_at is None
        ]
    return ClubOut(members=members, classes=classes(store), shared=sharing.shared_with(store, who))


@retried
def change_member(store: Store, who: Who, member_id: int, asked: MemberIn, address: str) -> None:
    """Makes a member a keeper, racer or guest; closes an account or opens it again.

    Raises
    ------
    NotFound : no such member.
    NotAllowed : a keeper would shut themselves out.
    """
    with store.transaction() as session:
        row = session.get(Racer, member_id) if is_id(member_id) else None
        if row is None or row.password_hash is None or row.role == CLUB:
            raise NotFound("member", member_id)
        if row.id == who.racer:
            raise NotAllowed("another keeper has to change this")
        if asked.role is not None:
            row.role = asked.role
        if asked.disabled is not None:
            row.disabled_at = now() if asked.disabled else None
            session.execute(delete(DeviceRow).where(DeviceRow.owner_id == row.id).execution_options(**EVERY_RACER))
        said = [asked.role or "", {True: "closed", False: "opened", None: ""}[asked.disabled]]
        audit.note(session, who.racer, "member changed", f"{row.name}: {' '.join(filter(None, said))}", address)


# --- classes


def classes(store: Store) -> list[ClassRuleView]:
    """The club's classes with what they allow; none where there is no club."""
    with store.transaction() as session:
        rows = session.scalars(select(ClassRuleRow).order_by(ClassRuleRow.name).execution_options(**EVERY_RACER))
        return [ClassRuleView(name=row.name, rule=ClassRule.model_validate(row.rule)) for row in rows]


def raced(store: Store, name: str, loudness: Loudness) -> Raced | None:
    """A boat's class by its name; None for no class, or one that was taken away."""
    found = next((one.rule for one in classes(store) if one.name == name), None) if name else None
    limits = None if found is None else ClassLimits(name=name, **found.model_dump(exclude_none=True))
    return None if limits is None else Raced(limits=limits, loudness=loudness)


@retried
def keep_class(store: Store, name: str, rule: ClassRule) -> ClassRuleView:
    """Keeps what a class allows, in place of what was said before.

    Raises
    ------
    InvalidValue : too many, or the least mass above the most.
    """
    if rule.least_mass_kg and rule.most_mass_kg and rule.least_mass_kg > rule.most_mass_kg:
        raise InvalidValue("least_mass_kg", rule.least_mass_kg, "at most the most mass")
    with store.transaction() as session:
        owner = club_id(session)
        act(session, Acting(racer=owner))
        if (session.scalar(select(func.count()).select_from(ClassRuleRow)) or 0) >= MOST_CLASSES:
            raise InvalidValue("name", name, f"one of at most {MOST_CLASSES} classes")
        raw = rule.model_dump(mode="json", exclude_none=True)
        row = insert(ClassRuleRow).values(owner_id=owner, name=name, rule=raw, created_at=now())
        session.execute(row.on_duplicate_key_update(rule=row.inserted.rule))
    return ClassRuleView(name=name, rule=rule)


@retried
def forget_class(store: Store, name: str) -> None:
    """Takes a class away.

    Raises
    ------
    NotFound
    """
    with store.transaction() as session:
        gone = session.execute(delete(ClassRuleRow).where(ClassRuleRow.name == name).execution_options(**EVERY_RACER))
        if not gone.rowcount:  # type: ignore[attr-defined]
            raise NotFound("class", name)


# --- what is the club's


@retried
def take_part(store: Store, part_id: int) -> int:
    """Puts a copy of a part of the club's shelf on one's own; gives its number there.

    Raises
    ------
    NotFound : no such part of the club's.
    """
    with store.transaction() as session:
        mine = racer_of(session)
        found = session.scalar(
            select(PartRow)
            .where(PartRow.id == (part_id if is_id(part_id) else 0), PartRow.owner_id == club_id(session))
            .where(PartRow.deleted_at.is_(None))
            .execution_options(**EVERY_RACER)
        )
        if found is None:
            raise NotFound("part", part_id)
        return shelve(session, mine, found.kind, stored_part(found.kind, found.document)).id


# --- going


def wipe(session: Session, racer: int) -> None:
    """Deletes everything of a racer, and the racer."""
    priors.taken_out(session, racer)
    act(session, Acting(racer=racer))
    sharing.forget_shares(session, racer)
    session.execute(delete(InvitationRow).where(InvitationRow.racer_id == racer).execution_options(**EVERY_RACER))
    session.execute(delete(ChallengeRow).where(ChallengeRow.racer_id == racer))
    clear(session, racer)
    session.execute(delete(Racer).where(Racer.id == racer))
