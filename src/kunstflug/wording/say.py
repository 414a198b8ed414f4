"""Says facts: every kind of fact has one function that makes words of it, registered here."""

import importlib
from collections.abc import Callable
from typing import Any, Final, TypeVar

from kunstflug.core.quantity.facts import Fact
from kunstflug.wording.tongue import Tongue

SUBJECTS: Final = (
    "ranges", "bench", "build", "changes", "choose", "day", "drive", "fit", "guesses", "heat", "limits", "rules",
    "tracks",
)  # fmt: skip
"""Modules that say facts, each of its subject."""

F = TypeVar("F", bound=Fact)
Saying = Callable[[F, Tongue], str]

_SAYINGS: Final[dict[type[Fact], Callable[[Any, Tongue], str]]] = {}


def says(kind: type[F]) -> Callable[[Saying[F]], Saying[F]]:
    """Registers the words of a kind of fact."""

    def register(saying: Saying[F]) -> Saying[F]:
        _SAYINGS[kind] = saying
        return saying

    return register


def fixed(kind: type[Fact], words: str) -> None:
    """Registers words that have no numbers in them."""
    _SAYINGS[kind] = lambda fact, tongue: words


def say(fact: Fact, tongue: Tongue) -> str:
    """Words of a fact: a clause, without capital and full stop, or whole sentences.

    Raises
    ------
    KeyError : a kind of fact that nobody has words for.
    """
    if not said(type(fact)):
        raise KeyError(type(fact).__name__)
    return _SAYINGS[type(fact)](fact, tongue)


def said(kind: type[Fact]) -> bool:
    """Whether there are words for a kind of fact; a subject is read when the first of its facts is said."""
    likely = sorted(SUBJECTS, key=lambda subject: subject not in kind.__module__)
    for subject in likely:
        if kind in _SAYINGS:
            break
        importlib.import_module(f"kunstflug.wording.{subject}")
    return kind in _SAYINGS


def read_all() -> None:
    """Reads the words of all subjects, as a process that answers requests does before the first one."""
    for subject in SUBJECTS:
        importlib.import_module(f"kunstflug.wording.{subject}")


def sentence(clause: str) -> str:
    """A clause as a sentence: capital first, full stop last."""
    text = clause[:1].upper() + clause[1:]
    return text if text.endswith((".", "!", "?")) or not text else f"{text}."


def join(items: list[str], last: str = "and") -> str:
    """Words in a row: "a, b and c"."""
    return items[0] if len(items) == 1 else f"{', '.join(items[:-1])} {last} {items[-1]}" if items else ""


def one(noun: str) -> str:
    """A noun with its article: a 5 mm bore, an 8 mm bore, an 11 mm bore.

    Examples
    --------
    >>> one("8 mm bore"), one("5 mm bore"), one("O-ring"), one("18 mm tube")
    ('an 8 mm bore', 'a 5 mm bore', 'an O-ring', 'an 18 mm tube')
    """
    number = noun.split()[0].split(".")[0]
    vowel = noun[:1].lower() in "aeio" or noun[:1] == "8" or number in ("11", "18")
    return f"{'an' if vowel else 'a'} {noun}"
