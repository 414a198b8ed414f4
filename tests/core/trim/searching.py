"""Searches for the best setting on a boat of the trim world, run by run: ours, along one knob after another, a grid."""

from dataclasses import dataclass

import numpy as np

from kunstflug.core.quantity.value import Array
from kunstflug.core.trim.curve import Points, curve_of
from kunstflug.core.trim.next_setting import Advice, Knob, best_known, next_setting
from kunstflug.pond.trim_world import DAY, REPEAT, TrimWorld

RUNS = 60
A_DAY = 4
LOW, HIGH = -6.0, 6.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Found:
    """After each run, the part of the gain that the setting held for best has; and the worst margin of all tried."""

    parts: list[float]
    worst_margin: float

    @property
    def needed(self) -> int:
        """Runs until 95 % were reached; all and one where never."""
        return next((n + 1 for n, part in enumerate(self.parts) if part >= 0.95), RUNS + 1)


class Reading:
    """Runs on one boat, with the luck of days and runs."""

    def __init__(self, world: TrimWorld, seed: int) -> None:
        self.world, self.rng = world, np.random.default_rng(10_000 + seed)
        self.at: list[Array] = []
        self.read: list[float] = []
        self.worst = 0.0
        self._day = 0.0

    def run(self, at: Array) -> float:
        if len(self.at) % A_DAY == 0:
            self._day = float(self.rng.normal(0, DAY))
        self.at.append(at)
        self.worst = max(self.worst, self.world.margin(at))
        self.read.append(self.world.log_speed(at) + self._day + float(self.rng.normal(0, REPEAT)))
        return self.read[-1]

    def points(self) -> Points:
        n = len(self.at)
        return Points(
            at=np.array(self.at),
            read=np.array(self.read),
            spread=np.full(n, REPEAT),
            day=np.arange(n) // A_DAY,
        )


def ours(world: TrimWorld, seed: int, runs: int = 18) -> Found:
    """By the curve and the next setting that it names; where it says enough, the best one is run again."""
    knobs = [Knob(name=str(k), step=1.0, low=LOW, high=HIGH) for k in range(len(world.best))]
    reading, parts = Reading(world, seed), []
    at = np.zeros(len(knobs))
    for _ in range(runs):
        reading.run(at)
        curve = curve_of(reading.points())
        parts.append(world.part(best_known(curve)))
        told = next_setting(curve, knobs, lambda x: world.margin(x) <= 0.95)
        at = told.at if told.advice is Advice.TRY else best_known(curve)
    return Found(parts=parts, worst_margin=reading.worst)


def coordinate(world: TrimWorld, seed: int) -> Found:
    """One knob after the other: a step, kept where it was faster, else the other way, else the next knob."""
    reading, parts = Reading(world, seed), []
    best = np.zeros(len(world.best))
    fastest = reading.run(best)
    parts.append(world.part(best))
    knob, way, tries = 0, 1.0, 0
    while len(parts) < RUNS:
        tried = best.copy()
        tried[knob] = np.clip(tried[knob] + way, LOW, HIGH)
        read = reading.run(tried)
        if read > fastest:
            best, fastest, tries = tried, read, 0
        elif tries == 0:
            way, tries = -way, 1
        else:
            knob, way, tries = (knob + 1) % len(best), 1.0, 0
        parts.append(world.part(best))
    return Found(parts=parts, worst_margin=reading.worst)


def grid(world: TrimWorld, seed: int) -> Found:
    """Six settings of each knob, one knob after the other, the fastest of each is kept."""
    reading, parts = Reading(world, seed), []
    best = np.zeros(len(world.best))
    while len(parts) < RUNS:
        for knob in range(len(best)):
            seen = []
            for setting in np.linspace(LOW, HIGH, 6):
                tried = best.copy()
                tried[knob] = setting
                seen.append((reading.run(tried), setting))
                parts.append(world.part(best))
            best = best.copy()
            best[knob] = max(seen)[1]
    return Found(parts=parts[:RUNS], worst_margin=reading.worst)
