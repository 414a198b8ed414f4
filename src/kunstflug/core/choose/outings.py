"""The next outings, one after the other: what each is for, and what it will teach."""

from dataclasses import dataclass
from typing import Final

from kunstflug.core.choose.steps import Intent, Trial
from kunstflug.core.quantity.facts import Fact

MOST_OUTINGS: Final = 3
MOST_PASSES: Final = 16
"""Of each setup: more is another day."""
LEAST_FASTER: Final = 1.01
LEAST_LONGER: Final = 1.03


def serves(now: Trial, then: Trial, intent: Intent) -> bool:
    """Whether a change does enough of what is wanted to be worth an outing."""
    match intent:
        case Intent.FASTER:
            return then.speed_mps > LEAST_FASTER * now.speed_mps
        case Intent.LONGER:
            return then.run_s > LEAST_LONGER * now.run_s
    return max(then.at_risk) < max(now.at_risk)


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
    chance, chance_then : that a limit is passed, before and after [1].
    passes : of each setup in one outing; None where no outing has so many.
    """

    gain_mps: float
    warmer_k: float
    chance: float
    chance_then: float
    passes: int | None
