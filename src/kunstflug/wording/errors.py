"""Errors in words: what is wrong, what would be right, what was not lost."""

from kunstflug.core.quantity.errors import (
    Changed,
    FieldProblem,
    InvalidDocument,
    InvalidValue,
    KunstflugError,
    MissingPackages,
    NoRoom,
    NotAllowed,
    NotFound,
    NotSignedIn,
    OnlyToLookAt,
    OwnersAlone,
    TagMissing,
    TooOften,
    Unreachable,
)
from kunstflug.core.quantity.facts import Fact, Missing
from kunstflug.wording.fields import in_words, named
from kunstflug.wording.say import say, sentence
from kunstflug.wording.tongue import METRIC, Tongue, trimmed


def say_error(error: KunstflugError, tongue: Tongue = METRIC) -> str:
    """An error as sentences a racer reads."""
    match error:
        case InvalidValue():
            return f"{named(error.field).label} must be {allowed(error, tongue)} ({_entered(error, tongue)})."
        case InvalidDocument():
            return _document(error.fields[0])
        case NotFound():
            return f"There is no {error.kind} {error.key}."
        case Changed():
            return sentence(
                f"{error.what} was changed elsewhere in the meantime. Nothing was saved: compare both, then choose"
            )
        case TagMissing():
            return "Say which state you change: send its tag as If-Match, or * to overwrite whatever is there."
        case NotAllowed() | NotSignedIn() | TooOften() | NoRoom():
            return _refused(error)
        case Unreachable() | MissingPackages():
            return _nobody_computes(error)
        case _:
            return sentence(str(error))


def _nobody_computes(error: Unreachable | MissingPackages) -> str:
    """Why work is not done on other machines."""
    if isinstance(error, Unreachable):
        return f"Nobody answers at {error.address}. Start the scheduler there, or leave the address out."
    return f"{sentence(error.purpose)[:-1]} needs optional packages: pip install 'kunstflug[{error.extra}]'."


def _refused(error: KunstflugError) -> str:
    """Why somebody may not do what they asked for."""
    match error:
        case OnlyToLookAt():
            return "This boat is shared with you to look at. Nothing was changed; take the setup over to change it."
        case OwnersAlone():
            return "Nothing was changed: what throws something away, and all else of its owner's, is the owner's alone."
        case NoRoom():
            return (
                f"Your {trimmed(error.most / 1e6, 3)} MB are full; nothing was saved, your input is kept. "
                "Delete tracks or pictures that you no longer need, for good, in the bin, or ask the club's keeper for more."
            )
        case TooOften():
            minutes = max(1, round(error.wait_s / 60))
            return f"Tried too often. Wait {minutes} minute{'s' if minutes > 1 else ''}, then try again."
        case _:
            return sentence(str(error) or "sign in first")


def _document(problem: FieldProblem) -> str:
    """The first thing that is wrong with a document; the field's part is named, since nobody may be looking at it."""
    if problem.field == "request":
        return sentence(problem.allowed)
    place = in_words(problem.field)
    if problem.allowed == "field required":
        return sentence(f"{place} is missing")
    return sentence(f"{place}: {problem.allowed}")


def allowed(error: InvalidValue, tongue: Tongue = METRIC) -> str:
    """What is allowed in place of a value."""
    return say(error.allowed, tongue) if isinstance(error.allowed, Fact) else error.allowed


def given(error: InvalidValue, tongue: Tongue = METRIC) -> str:
    """What was given, in words."""
    value = error.given
    if isinstance(value, Fact):
        return say(value, tongue)
    if isinstance(value, bool) or not isinstance(value, int | float):
        return str(value)
    return trimmed(float(value), 6)


def _entered(error: InvalidValue, tongue: Tongue) -> str:
    return "nothing was entered" if isinstance(error.given, Missing) else f"you entered {given(error, tongue)}"


def field_problems(error: KunstflugError, tongue: Tongue = METRIC) -> list[FieldProblem]:
    """Fields that are wrong, where an error is about fields."""
    match error:
        case InvalidDocument():
            return list(error.fields)
        case InvalidValue():
            return [FieldProblem(field=error.field, value=given(error, tongue), allowed=allowed(error, tongue))]
        case _:
            return []
