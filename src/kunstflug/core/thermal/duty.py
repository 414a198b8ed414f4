"""A duty: phases at full throttle, cruise and rest, from a cold boat to landing and soak."""

import math
from dataclasses import dataclass
from enum import IntEnum, StrEnum
from typing import Final

from kunstflug.core.drive.schools import HELD, PAUSE_HEAT, Stint
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import NumberBetween


class Mode(IntEnum):
    """What a phase does: full throttle, a part of the top speed, throttle off, or full throttle held in place."""

    FULL = 0
    HOLD = 1
    REST = 2
    TUB = 3


class Kind(StrEnum):
    """What a duty is for."""

    PASSES = "passes"
    LAP_RACE = "lap_race"
    TUB_TEST = "tub_test"


class PhaseKind(StrEnum):
    """What a phase is called."""

    WARM_UP = "warm_up"
    PASS = "pass"
    COOL_DOWN = "cool_down"
    STRAIGHT = "straight"
    TURN = "turn"
    HELD = "held"
    SOAK = "soak"


@dataclass(frozen=True, slots=True, kw_only=True)
class Phase:
    """One stretch of a duty.

    Parameters
    ----------
    number : of the passes or straights, counted from 1; 0 where there is one.
    seconds : its length [s].
    level : part of the top speed to hold [1]; only with HOLD.
    """

    kind: PhaseKind
    mode: Mode
    seconds: float
    number: int = 0
    level: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Duty:
    """A sequence of phases, from a cold boat to landing and soak."""

    kind: Kind
    phases: tuple[Phase, ...]

    @property
    def seconds(self) -> float:
        """Length of it all [s]."""
        return sum(p.seconds for p in self.phases)

    @property
    def full_s(self) -> float:
        """Full throttle of its first stretch on the water [s]; infinite where it has none."""
        return next((p.seconds for p in self.phases if p.mode is Mode.FULL), math.inf)

    @property
    def stint(self) -> Stint:
        """Its full throttle, as limits are held against it."""
        phases = self.phases
        full = [k for k, p in enumerate(phases) if p.mode in (Mode.FULL, Mode.TUB)]
        if not full:
            return HELD
        first = phases[full[0]]
        after = phases[full[0] + 1] if full[0] + 1 < len(phases) else None
        pause = after if after is not None and len(full) > 1 and after.mode is Mode.HOLD else None
        if pause is None:
            return Stint(full_s=first.seconds * len(full), pause_s=0.0, count=1)
        heat = PAUSE_HEAT * (pause.level / COOL_LEVEL) ** 4  # current goes with the square of the speed
        return Stint(full_s=first.seconds, pause_s=pause.seconds, count=len(full), pause_heat=heat)

    @property
    def landing_s(self) -> float:
        """When the boat lies still at the end [s]."""
        last = self.phases[-1]
        return self.seconds - (last.seconds if last.mode is Mode.REST else 0.0)


SOAK: Final = Phase(kind=PhaseKind.SOAK, mode=Mode.REST, seconds=180.0)
WARM_UP: Final = Phase(kind=PhaseKind.WARM_UP, mode=Mode.HOLD, seconds=15.0, level=0.5)
COOL_LEVEL: Final = 0.5
STRAIGHT_S: Final = 7.0
TURN_S: Final = 3.0
TURN_LEVEL: Final = 0.8


def passes_duty(count: int, full_s: float, cool_s: float) -> Duty:
    """Warm-up, then passes at full throttle [s] with a cool-down lap [s] after each, landing, soak.

    Raises
    ------
    InvalidValue : no passes, or longer ones than are accepted.
    """
    _check("passes", count, 1, 30)
    _check("pass_s", full_s, 0.5, 120)
    _check("cool_s", cool_s, 0, 300)
    phases = [WARM_UP]
    for k in range(1, count + 1):
        phases.append(Phase(kind=PhaseKind.PASS, number=k, mode=Mode.FULL, seconds=full_s))
        if cool_s:
            cool = Phase(kind=PhaseKind.COOL_DOWN, number=k, mode=Mode.HOLD, seconds=cool_s, level=COOL_LEVEL)
            phases.append(cool)
    return Duty(kind=Kind.PASSES, phases=(*phases, SOAK))


def lap_race_duty(minutes: float) -> Duty:
    """Laps of seven seconds at full throttle and three seconds lifted, for some minutes; landing, soak."""
    _check("minutes", minutes, 0.5, 30)
    laps = max(round(minutes * 60 / (STRAIGHT_S + TURN_S)), 1)
    phases: list[Phase] = []
    for k in range(1, laps + 1):
        phases.append(Phase(kind=PhaseKind.STRAIGHT, number=k, mode=Mode.FULL, seconds=STRAIGHT_S))
        turn = Phase(kind=PhaseKind.TURN, number=k, mode=Mode.HOLD, seconds=TURN_S, level=TURN_LEVEL)
        phases.append(turn)
    return Duty(kind=Kind.LAP_RACE, phases=(*phases, SOAK))


def tub_duty(minutes: float) -> Duty:
    """Full throttle, held in a tub: no speed, no ram water; harsher than any pond."""
    _check("minutes", minutes, 0.2, 15)
    return Duty(kind=Kind.TUB_TEST, phases=(held_phase(minutes * 60), SOAK))


def held_phase(seconds: float) -> Phase:
    """Full throttle, held in place, for some seconds [s]."""
    return Phase(kind=PhaseKind.HELD, mode=Mode.TUB, seconds=seconds)


def _check(field: str, value: float, low: float, high: float) -> None:
    if not low <= value <= high:
        raise InvalidValue(field, value, NumberBetween(low=low, high=high))
