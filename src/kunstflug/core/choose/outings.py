"""The next outings, one after the other: what each is for, and what it will teach."""

from dataclasses import dataclass
from typing import Final

from kunstflug.core.quantity.facts import Fact

MOST_OUTINGS: Final = 3
MOST_PASSES: Final = 16
"""Of each setup: more is another day."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SettlesGuess(Fact):
    """A run of the boat as it is settles what is said of it so far from guesses.

    Parameters
    ----------
    chance : that a limit is passed, as said now [1].
    """

    chance: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ShowsStep(Fact):
    """Passes before and after a change show what it brings.

    Parameters
    ----------
    passes : of each setup in one outing; None where no outing has so many.
    """

    gain_mps: float
    warmer_k: float
    passes: int | None
