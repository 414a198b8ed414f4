"""Every error the program raises on purpose.

KunstflugError
|- InvalidValue        a value outside what is possible: field, value, what is allowed
|- UnreadableFile      a file that cannot be read: line and reason
|  `- FileTooLarge     more bytes or samples than are accepted
|- NotFound            a row that does not exist (or belongs to someone else)
|- StoreUnavailable    the database does not answer
|- Stopped             long work was told to stop
`- StartupProblem      the program cannot start: what is missing, in one sentence
"""


class KunstflugError(Exception):
    """Root of the tree; its text is fit to be shown to a racer."""


class InvalidValue(KunstflugError):
    """A value outside what is possible.

    Parameters
    ----------
    field : dotted name of the field, as in the setup document (``motor.kv``).
    value : what was given.
    allowed : what is allowed, in words.
    """

    def __init__(self, field: str, value: object, allowed: str) -> None:
        super().__init__(f"{field} is {value}; allowed is {allowed}")
        self.field = field
        self.value = value
        self.allowed = allowed


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
        super().__init__(f"there is no {kind} {key}")
        self.kind = kind
        self.key = key


class StoreUnavailable(KunstflugError):
    """The database does not answer; nothing was saved."""


class Stopped(KunstflugError):
    """Long work was told to stop; nothing came of it."""


class StartupProblem(KunstflugError):
    """The program cannot start: what is missing and what to do, in one sentence."""
