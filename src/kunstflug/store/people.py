"""The tables of racers: who they are, how they come in, what they share, what a club has in common."""

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, Index, String, UniqueConstraint
from sqlalchemy.dialects.mysql import DATETIME, LONGBLOB
from sqlalchemy.orm import Mapped, mapped_column

from kunstflug.store.base import Base, Owned, now


class Racer(Base):
    """Somebody with boats: the one of a machine without accounts, those of a club, and the club itself."""

    __tablename__ = "racers"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(120), unique=True)
    role: Mapped[str] = mapped_column(String(10), default="racer")  # racer, keeper, guest; club for the club itself
    password_hash: Mapped[str | None] = mapped_column(String(200))
    disabled_at: Mapped[datetime | None]
    demo: Mapped[str] = mapped_column(String(20), default="")  # "loading" while it is made, then "loaded"
    trim_rules: Mapped[dict[str, Any] | None]  # the racer's own chances, by the rule's key
    created_at: Mapped[datetime] = mapped_column(default=now)


class Pairing(Owned, Base):
    """A code that pairs one more device: for a few minutes, for a few tries."""

    __tablename__ = "pairings"
    code_hash: Mapped[str] = mapped_column(String(64))
    expires_at: Mapped[datetime]
    tries: Mapped[int] = mapped_column(default=0)


class DeviceRow(Owned, Base):
    """A phone of the local network that was paired, or a browser that signed in: what may talk to the program."""

    __tablename__ = "devices"
    name: Mapped[str] = mapped_column(String(60))
    kind: Mapped[str] = mapped_column(String(10), default="phone")  # or browser
    token_hash: Mapped[str] = mapped_column(String(64), unique=True)
    seen_at: Mapped[datetime] = mapped_column(default=now)
    expires_at: Mapped[datetime | None]  # a phone is taken back by hand only


class InvitationRow(Owned, Base):
    """A link that makes an account, or sets a password anew; holds once. Its owner is who made it."""

    __tablename__ = "invitations"
    token_hash: Mapped[str] = mapped_column(String(64), unique=True)
    role: Mapped[str] = mapped_column(String(10))
    racer_id: Mapped[int | None] = mapped_column(ForeignKey("racers.id"))  # whose password it sets
    expires_at: Mapped[datetime]


class RecoveryCodeRow(Owned, Base):
    """A code that stands for a forgotten password; holds once."""

    __tablename__ = "recovery_codes"
    code_hash: Mapped[str] = mapped_column(String(64), unique=True)


class PasskeyRow(Owned, Base):
    """A passkey's public half."""

    __tablename__ = "passkeys"
    name: Mapped[str] = mapped_column(String(60))
    credential_hash: Mapped[str] = mapped_column(String(64), unique=True)
    credential: Mapped[bytes] = mapped_column(LONGBLOB)
    public_key: Mapped[bytes] = mapped_column(LONGBLOB)
    signs: Mapped[int] = mapped_column(default=0)


class ChallengeRow(Base):
    """What a passkey is asked to sign; holds once, for a few minutes."""

    __tablename__ = "challenges"
    challenge: Mapped[str] = mapped_column(String(64), primary_key=True)
    racer_id: Mapped[int | None] = mapped_column(ForeignKey("racers.id"))  # none where somebody signs in
    expires_at: Mapped[datetime]


class AttemptRow(Base):
    """How often something was tried in vain lately: a sign-in by a name, or from an address."""

    __tablename__ = "attempts"
    key: Mapped[str] = mapped_column(String(64), primary_key=True)
    times: Mapped[int]
    until: Mapped[datetime]  # forgotten then


class AuditRow(Base):
    """What was done with an account, and from where."""

    __tablename__ = "audit_entries"
    id: Mapped[int] = mapped_column(primary_key=True)
    racer_id: Mapped[int | None]  # no foreign key: the entry outlives the account
    at: Mapped[datetime] = mapped_column(default=now)
    what: Mapped[str] = mapped_column(String(30))
    words: Mapped[str] = mapped_column(String(200), default="")
    address: Mapped[str] = mapped_column(String(60), default="")
    __table_args__ = (Index("ix_audit_entries_racer_id", "racer_id"),)


class ShareRow(Owned, Base):
    """A boat that is shown to another racer, or to whoever has the link."""

    __tablename__ = "shares"
    boat_id: Mapped[int] = mapped_column(ForeignKey("boats.id"))
    with_id: Mapped[int | None] = mapped_column(ForeignKey("racers.id"))
    token_hash: Mapped[str | None] = mapped_column(String(64), unique=True)
    writes: Mapped[bool] = mapped_column(default=False)
    __table_args__ = (UniqueConstraint("boat_id", "with_id"),)


class ClassRuleRow(Owned, Base):
    """What a class allows; the club's."""

    __tablename__ = "class_rules"
    name: Mapped[str] = mapped_column(String(60))
    rule: Mapped[dict[str, Any]]
    __table_args__ = (UniqueConstraint("owner_id", "name"),)


class SummaryRow(Owned, Base):
    """A racer who shares with the club, and their summary; ``document`` is empty until one of their boats has run."""

    __tablename__ = "summaries"
    made_at: Mapped[datetime | None] = mapped_column(DATETIME(fsp=6))
    document: Mapped[dict[str, Any] | None]
    __table_args__ = (UniqueConstraint("owner_id"),)


class PoolRow(Owned, Base):
    """The pool of all summaries; it belongs to the club."""

    __tablename__ = "pools"
    made_at: Mapped[datetime | None] = mapped_column(DATETIME(fsp=6))
    document: Mapped[dict[str, Any] | None]
    __table_args__ = (UniqueConstraint("owner_id"),)
