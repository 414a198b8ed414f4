"""A boat that stopped: which part it was, found by swapping one at a time for one that is known to be good.

Chances start from what usually stops a boat, are weighed by what was seen, and by every swap: with the guilty part
swapped the boat runs, with another it still does not. All numbers are common practice, no source.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final


class Suspect(StrEnum):
    """What may have stopped a boat."""

    RECEIVER = "receiver"
    CONTROLLER = "controller"
    MOTOR = "motor"
    PACK = "pack"
    LEADS = "leads"
    RADIO = "radio"
    DRIVE_LINE = "drive_line"


class Sign(StrEnum):
    """What was seen of a boat that stopped."""

    DEAD = "dead"  # no light, no sound
    BEEPS = "beeps"  # the controller asks for a signal
    STUTTERS = "stutters"  # turns to and fro
    NO_STEERING = "no_steering"  # the servo is dead, too
    RUNS_AGAIN = "runs_again"  # after a rest
    HARD_TO_TURN = "hard_to_turn"  # by hand
    MOTOR_SCREAMS = "motor_screams"  # turns, but the boat does not go
    SMELLS = "smells"  # burnt
    WATER_INSIDE = "water_inside"
    FAR_AWAY = "far_away"  # stopped far out


PRIOR: Final[dict[Suspect, float]] = {
    Suspect.LEADS: 0.26,
    Suspect.CONTROLLER: 0.20,
    Suspect.PACK: 0.17,
    Suspect.DRIVE_LINE: 0.14,
    Suspect.MOTOR: 0.11,
    Suspect.RECEIVER: 0.07,
    Suspect.RADIO: 0.05,
}
"""What it usually is before anything is known."""
_OTHERWISE: Final = 0.10
SEEN: Final[dict[Sign, dict[Suspect, float]]] = {
    Sign.DEAD: {Suspect.LEADS: 0.7, Suspect.PACK: 0.5, Suspect.CONTROLLER: 0.5},
    Sign.BEEPS: {Suspect.RECEIVER: 0.6, Suspect.RADIO: 0.7, Suspect.PACK: 0.3, Suspect.LEADS: 0.2},
    Sign.STUTTERS: {Suspect.MOTOR: 0.6, Suspect.LEADS: 0.5, Suspect.CONTROLLER: 0.5},
    Sign.NO_STEERING: {Suspect.RECEIVER: 0.8, Suspect.RADIO: 0.8, Suspect.CONTROLLER: 0.4, Suspect.PACK: 0.4,
                       Suspect.LEADS: 0.4},
    Sign.RUNS_AGAIN: {Suspect.CONTROLLER: 0.6, Suspect.PACK: 0.5, Suspect.LEADS: 0.2, Suspect.MOTOR: 0.2},
    Sign.HARD_TO_TURN: {Suspect.DRIVE_LINE: 0.8, Suspect.MOTOR: 0.4},
    Sign.MOTOR_SCREAMS: {Suspect.DRIVE_LINE: 0.9},
    Sign.SMELLS: {Suspect.MOTOR: 0.5, Suspect.CONTROLLER: 0.7},
    Sign.WATER_INSIDE: {Suspect.RECEIVER: 0.5, Suspect.CONTROLLER: 0.5, Suspect.LEADS: 0.3},
    Sign.FAR_AWAY: {Suspect.RADIO: 0.7, Suspect.RECEIVER: 0.5},
}  # fmt: skip
"""How often a sign is seen where a part is the cause; ``_OTHERWISE`` where it stands not."""
CURED: Final = 0.95  # with the guilty part swapped the boat runs
CURED_ALL_THE_SAME: Final = 0.04  # with another it runs by chance: a plug was moved
STATIC: Final = (Suspect.LEADS, Suspect.DRIVE_LINE)
"""These are looked at, not swapped."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Chance:
    """A suspect, how likely it is [1], and whether it was swapped."""

    suspect: Suspect
    chance: float
    swapped: bool


def suspects(signs: Sequence[Sign], swaps: Mapping[Suspect, bool]) -> tuple[Chance, ...]:
    """Who it may be, likeliest first.

    Parameters
    ----------
    swaps : of each part that was swapped whether the boat ran then.
    """
    weights = dict(PRIOR)
    for sign in dict.fromkeys(signs):
        for suspect in weights:
            weights[suspect] *= SEEN[sign].get(suspect, _OTHERWISE)
    for swapped, ran in swaps.items():
        for suspect in weights:
            cured = CURED if suspect is swapped else CURED_ALL_THE_SAME
            weights[suspect] *= cured if ran else 1 - cured
    total = sum(weights.values())
    found = [Chance(suspect=s, chance=w / total, swapped=s in swaps) for s, w in weights.items()]
    return tuple(sorted(found, key=lambda c: -c.chance))


def next_swap(found: Sequence[Chance]) -> Suspect | None:
    """Which part to swap next: the likeliest that was not; None once one is as good as found."""
    if found and found[0].chance > 0.85:
        return None
    return next((c.suspect for c in found if not c.swapped), None)
