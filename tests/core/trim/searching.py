"""Searches for the best setting on a boat nobody knows, run by run: ours, along one knob after another, a grid."""

from dataclasses import dataclass, field

import numpy as np
from tests.pond.trim_worlds import MOST, TrimBoat

from kunstflug.core.quantity.value import Array
from kunstflug.core.trim.cliff import Sight, cliff_of
from kunstflug.core.trim.curve import Points, curve_of
from kunstflug.core.trim.next_setting import Advice, Knob, TrimKnowledge, next_setting
from kunstflug.core.trim.signs import Behaviour

REPEAT, DAY = 0.015, 0.006
"""Of one run to the next, and of a day: a racer with a display."""
INSTRUMENT = 0.006
A_DAY = 4
RUNS = 60


@dataclass(slots=True, kw_only=True)
class Found:
    """After each run, the part of the gain that the setting held for best has; the worst margin; when enough was said.

    Parameters
    ----------
    left : part of the speed that was still to be won when it said enough.
    turned : at how many settings each knob was run.
    """

    parts: list[float] = field(default_factory=list)
    worst_margin: float = 0.0
    enough: int | None = None
    left: float = 0.0
    turned: Array = field(default_factory=lambda: np.zeros(0))

    @property
    def needed(self) -> int:
        """Runs until 95 % were reached; all and one where never."""
        return next((n + 1 for n, part in enumerate(self.parts) if part >= 0.95), RUNS + 1)


class Reading:
    """Runs on one boat, with the luck of days and runs."""

    def __init__(self, boat: TrimBoat, seed: int) -> None:
        self.boat, self.rng = boat, np.random.default_rng(10_000 + seed)
        self.at: list[Array] = []
        self.read: list[float] = []  # NaN where it ended upside down
        self.sights: list[Sight] = []
        self._day = 0.0

    def run(self, at: Array) -> float:
        if len(self.at) % A_DAY == 0:
            self._day = float(self.rng.normal(0, DAY))
        seen = self.boat.signs(at, self.rng)
        over = Behaviour.BLEW_OVER in seen
        self.at.append(at)
        self.sights.append(Sight.OVER if over else Sight.WARNED if seen else Sight.CALM)
        self.read.append(np.nan if over else self.boat.log_speed(at) + self._day + float(self.rng.normal(0, REPEAT)))
        return self.read[-1]

    @property
    def worst(self) -> float:
        return max(self.boat.margin(at) for at in self.at)

    def points(self) -> tuple[Points, list[int]]:
        """What has a speed, and which of them frightened."""
        ran = [k for k, read in enumerate(self.read) if np.isfinite(read)]
        points = Points(
            at=np.array([self.at[k] for k in ran]),
            read=np.array([self.read[k] for k in ran]),
            spread=np.full(len(ran), INSTRUMENT),
            day=np.array(ran) // A_DAY,
        )
        return points, [n for n, k in enumerate(ran) if self.sights[k] is not Sight.CALM]


def ours(boat: TrimBoat, seed: int, runs: int = 20, doubt: float | None = None) -> Found:
    """By the next setting that it names; where it says enough, the best one is run again.

    Parameters
    ----------
    doubt : to which the margin is known; None where nobody knows it.
    """
    count = len(boat.best)
    knobs = [Knob(name=str(k), step=1.0, low=-MOST, high=MOST, blind=doubt is None) for k in range(count)]
    reading, found = Reading(boat, seed), Found()
    wrong = float(np.exp(reading.rng.normal(0, doubt or 0.0)))

    def uses(at: Array) -> Array:
        return wrong * np.array([boat.margin(x) for x in at])

    at = np.zeros(count)
    for n in range(runs):
        reading.run(at)
        points, frightened = reading.points()
        said = None if doubt is None else uses(np.array(reading.at))
        known = TrimKnowledge(
            curve=curve_of(points),
            cliff=cliff_of(np.array(reading.at), reading.sights, said, doubt or 0.0),
            uses=None if doubt is None else uses,
            frightened=frightened,
        )
        told = next_setting(known, knobs)
        found.parts.append(boat.part(told.top))
        if told.advice is Advice.ENOUGH and found.enough is None:
            found.enough, found.left = n + 1, -boat.log_speed(told.top)
        at = told.at
    found.worst_margin = reading.worst
    found.turned = np.array([len({round(x[k], 3) for x in reading.at}) for k in range(count)])
    return found


def coordinate(boat: TrimBoat, seed: int, runs: int = 20) -> Found:
    """By hand, a knob after the other: a step, kept where faster and calm, else the other way, else the next knob."""
    reading, found = Reading(boat, seed), Found()
    best = np.zeros(len(boat.best))
    fastest = reading.run(best)
    found.parts.append(boat.part(best))
    knob, way, tries = 0, 1.0, 0
    while len(found.parts) < runs:
        tried = best.copy()
        tried[knob] = np.clip(tried[knob] + way, -MOST, MOST)
        read = reading.run(tried)
        if read > fastest and reading.sights[-1] is Sight.CALM:
            best, fastest, tries = tried, read, 0
        elif tries == 0:
            way, tries = -way, 1
        else:
            knob, way, tries = (knob + 1) % len(best), 1.0, 0
        found.parts.append(boat.part(best))
    found.worst_margin = reading.worst
    return found


def grid(boat: TrimBoat, seed: int, runs: int = 20) -> Found:
    """Six settings of each knob, one knob after the other, the fastest of each is kept."""
    reading, found = Reading(boat, seed), Found()
    best = np.zeros(len(boat.best))
    while len(found.parts) < runs:
        for knob in range(len(best)):
            seen = []
            for setting in np.linspace(-MOST, MOST, 6):
                tried = best.copy()
                tried[knob] = setting
                read = reading.run(tried)
                seen.append((read if np.isfinite(read) else -1.0, setting))
                found.parts.append(boat.part(best))
            best = best.copy()
            best[knob] = max(seen)[1]
    found.parts = found.parts[:runs]
    found.worst_margin = reading.worst
    return found
