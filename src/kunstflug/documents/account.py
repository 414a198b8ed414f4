"""Accounts, sharing and the club, as they are sent."""

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from kunstflug.documents.base import Out, Strict

Role = Literal["keeper", "racer", "guest"]
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=2, max_length=40, pattern=r"^[\w .'-]+$")]
Password = Annotated[str, StringConstraints(min_length=1, max_length=128)]
Secret = Annotated[str, StringConstraints(min_length=1, max_length=200)]


class AccountOut(Out):
    """Whether there are accounts, and who is signed in."""

    accounts: bool
    demo: bool = Field(description="whether these are the demo's boats")
    name: str | None
    role: Role | None
    sees: str = Field(description="whose boat is looked at through a share; empty for one's own")
    writes: bool
    boat_id: int | None
    news: list["AuditItem"] = Field(description="what was done with the keys of one's account in the last 30 days")


class SignIn(Strict):
    """Who somebody is, with a password."""

    name: Name
    password: Password


class Join(Strict):
    """An invitation taken up: the account that it makes."""

    token: Secret
    name: Name
    password: Password


class Recover(Strict):
    """A forgotten password, set anew with a recovery code or with the link of whoever runs the server."""

    name: Name
    code: Secret
    password: Password


class NewPassword(Strict):
    """Another password; the old one is asked for."""

    old: Password
    new: Password


class Confirmed(Strict):
    """The password once more, for what cannot be undone."""

    password: Password


class Proof(Strict):
    """That it is really them who changes the keys: the password once more, or a passkey's answer to a new question."""

    password: Password | None = None
    passkey: dict[str, Any] | None = Field(default=None, description="as the browser gives it (WebAuthn's JSON form)")


class JoinedOut(Out):
    """A new account, with the recovery codes that are shown once."""

    name: str
    role: Role
    recovery_codes: list[str]


class CodesOut(Out):
    """Recovery codes, shown once."""

    recovery_codes: list[str]


class LoginView(Out):
    """A browser that is signed in, or a phone that was paired."""

    id: int
    kind: Literal["browser", "phone"]
    name: str
    signed_in_at: datetime
    seen_at: datetime
    this: bool


class AuditItem(Out):
    """Something that was done with an account."""

    at: datetime
    what: str
    words: str
    address: str
    name: str


class PasskeyView(Out):
    """A passkey that signs in."""

    id: int
    name: str
    made_at: datetime


class SecurityOut(Out):
    """One's own account: where it is signed in, passkeys, recovery codes left, what was done with it."""

    logins: list[LoginView]
    passkeys: list[PasskeyView]
    codes_left: int
    room_taken: int = Field(description="bytes of tracks, logs and pictures")
    room: int | None = Field(description="how many there may be")
    entries: list[AuditItem]


class InviteIn(Strict):
    """What somebody is invited as."""

    role: Role = "racer"


class InvitationOut(Out):
    """A link that makes an account; shown once."""

    path: str
    expires_at: datetime


class MemberView(Out):
    """A racer of the club, as the others see them; more for the keeper."""

    id: int
    name: str
    role: Role
    disabled: bool
    seen_at: datetime | None


class MemberIn(Strict):
    """What a keeper changes about a member."""

    role: Role | None = None
    disabled: bool | None = None


class ShareIn(Strict):
    """Whom a boat is shared with: a racer by name, or whoever has the link."""

    with_name: Name | None = None
    together: bool = False


class BoatShareView(Out):
    """How a boat is shared; the link's path is said once, when it is made."""

    id: int
    with_name: str | None
    together: bool
    made_at: datetime
    path: str | None = None


class SharedBoat(Out):
    """A boat that somebody shared with me."""

    share_id: int
    boat_id: int
    boat: str
    owner: str
    together: bool


class ClassRule(Strict):
    """What a class allows; what is not said is free."""

    most_cells: Annotated[int, Field(ge=1, le=60)] | None = None
    most_length_m: Annotated[float, Field(gt=0, le=5)] | None = None
    least_mass_kg: Annotated[float, Field(gt=0, le=100)] | None = None
    most_mass_kg: Annotated[float, Field(gt=0, le=100)] | None = None
    most_voltage_v: Annotated[float, Field(gt=0, le=300)] | None = None
    most_noise_db: Annotated[float, Field(gt=0, le=150)] | None = None
    noise_at_m: Annotated[float, Field(ge=1, le=200, description="how far off the meter stands")] | None = None


class ClassRuleView(Out):
    """A class with what it allows."""

    name: str
    rule: ClassRule


class ClubOut(Out):
    """The club: who is in it, its classes."""

    members: list[MemberView]
    classes: list[ClassRuleView]
    shared: list[SharedBoat]


class TakenOver(Out):
    """The boat that a setup of another's became."""

    boat_id: int


class TakenPart(Out):
    """The part that one of the club's became on one's own shelf."""

    part_id: int
