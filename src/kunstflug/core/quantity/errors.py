"""Every error the program raises on purpose.

KunstflugError
|- InvalidValue        a value outside what is possible: field, value, what is allowed
|- InvalidDocument     a document that is none: every field that is wrong
|- UnreadableFile      a file that cannot be read: line and reason
|  `- FileTooLarge     more bytes or samples than are accepted
|- NotFound            a row that does not exist (or belongs to someone else)
|- Changed             somebody else changed it meanwhile; nothing was saved
|- TagMissing          a change that does not say what it is a change of
|- AlreadyThere        the same file, or another request with the same key, is there already
|- InUse               it cannot go while something else refers to it
|- StoreUnavailable    the database does not answer
|  `- StoreBusy        it was in the middle of something; the same again may work
|- Unreachable         nobody answers at an address where work should be done
|- MissingPackages     optional packages that are not installed
|- Stopped             long work was told to stop
|- RestoreProblem      a backup that cannot be read, or not by this program
`- StartupProblem      the program cannot start: what is missing, in one sentence
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from kunstflug.core.quantity.facts import Fact


class KunstflugError(Exception):
    """Root of the tree; `wording` makes its text for a racer."""


class InvalidValue(KunstflugError):
    """A value outside what is possible.

    Parameters
    ----------
    field : dotted name of the field, as in the setup document (``motor.kv``).
    given : what was given; an ``Amount`` where it has a unit.
    allowed : what is allowed, a fact or words.
    """

    def __init__(self, field: str, given: object, allowed: Fact | str) -> None:
        super().__init__(f"{field}: {given!r} / {allowed!r}")
        self.field = field
        self.given = given
        self.allowed = allowed


@dataclass(frozen=True, slots=True, kw_only=True)
class FieldProblem:
    """One field of a document that is wrong.

    Parameters
    ----------
    field : dotted name, as documents carry it.
    value : what was given, where it can be shown.
    allowed : what is allowed, in words.
    """

    field: str
    value: str | int | float | bool | None
    allowed: str


class InvalidDocument(KunstflugError):
    """A document that is none.

    Parameters
    ----------
    fields : every field that is wrong; at least one.
    """

    def __init__(self, fields: Sequence[FieldProblem]) -> None:
        first = fields[0]
        super().__init__(f"{first.field}: {first.allowed}")
        self.fields = tuple(fields)


class UnreadableFile(KunstflugError):
    """A file that cannot be read.

    Parameters
    ----------
    reason : what is wrong, in words.
    line : the line at which reading broke, counted from 1, where it is known.
    """

    def __init__(self, reason: str, line: int | None = None) -> None:
        super().__init__(f"line {line}: {reason}" if line else reason)
        self.reason = reason
        self.line = line


class FileTooLarge(UnreadableFile):
    """More bytes or samples than are accepted."""


class NotFound(KunstflugError):
    """A row that does not exist, or belongs to someone else."""

    def __init__(self, kind: str, key: object) -> None:
        super().__init__(f"{kind} {key}")
        self.kind = kind
        self.key = key


class Changed(KunstflugError):
    """Somebody else changed it meanwhile; nothing was saved.

    Parameters
    ----------
    what : what was to be changed, in words.
    current : what stands there now, as JSON, with its tag.
    """

    def __init__(self, what: str, current: Mapping[str, object], tag: str) -> None:
        super().__init__(what)
        self.what = what
        self.current = dict(current)
        self.tag = tag


class TagMissing(KunstflugError):
    """A change that does not say which state it is a change of."""


class AlreadyThere(KunstflugError):
    """The same file, or another request with the same key, is there already.

    Parameters
    ----------
    run_id : the run that the file is, where it is a file.
    """

    def __init__(self, text: str, run_id: int | None = None) -> None:
        super().__init__(text)
        self.run_id = run_id


class InUse(KunstflugError):
    """It cannot go while something else refers to it."""


class NotSignedIn(KunstflugError):
    """Nobody said who they are, or what they said does not hold."""


class NotAllowed(KunstflugError):
    """Somebody who is known may not do this."""


class OnlyToLookAt(NotAllowed):
    """A change of what is shared to be looked at."""


class OwnersAlone(NotAllowed):
    """A change, through a boat that is worked on together, of what is its owner's alone."""


class TooOften(KunstflugError):
    """Tried in vain too often.

    Parameters
    ----------
    wait_s : until it may be tried again.
    """

    def __init__(self, wait_s: float) -> None:
        super().__init__(wait_s)
        self.wait_s = wait_s


class NoRoom(KunstflugError):
    """A racer takes all the room there is for one.

    Parameters
    ----------
    most : bytes.
    """

    def __init__(self, most: int) -> None:
        super().__init__(most)
        self.most = most


class StoreUnavailable(KunstflugError):
    """The database does not answer."""


class StoreBusy(StoreUnavailable):
    """The database was in the middle of something; nothing was saved, and the same again may work."""


class Unreachable(KunstflugError):
    """Nobody answers at an address where work should be done."""

    def __init__(self, address: str) -> None:
        super().__init__(address)
        self.address = address


class MissingPackages(KunstflugError):
    """Optional packages that are not installed.

    Parameters
    ----------
    purpose : what they are for.
    extra : name of the optional dependency.
    """

    def __init__(self, purpose: str, extra: str) -> None:
        super().__init__(f"{purpose}: {extra}")
        self.purpose = purpose
        self.extra = extra


class Stopped(KunstflugError):
    """Long work was told to stop; nothing came of it."""


class RestoreProblem(KunstflugError):
    """A backup that cannot be read, or not by this program."""


class StartupProblem(KunstflugError):
    """The program cannot start: what is missing and what to do, in one sentence."""


class RunsAlready(StartupProblem):
    """Another program holds the folder."""
