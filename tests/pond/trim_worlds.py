"""Boats whose trim has a best setting nobody knows, by laws of three kinds; the third was written first, and sealed.

Each has a speed over its knobs (steps from where they stand, all 0), a use of the margin at which it lifts off or
porpoises, and whether it warns before. The core knows none of these forms: it has bowls, and a line for the margin.
"""

import math
from dataclasses import dataclass

import numpy as np
from scipy import optimize

from kunstflug.core.quantity.value import Array
from kunstflug.core.trim.signs import Behaviour
from kunstflug.pond.trim_world import TrimWorld

MOST = 6.0


@dataclass(frozen=True, slots=True, kw_only=True)
class TrimBoat:
    """A boat of one of the worlds.

    Parameters
    ----------
    best : the best setting that keeps the margin, in steps, shape (k,).
    warns : whether its bow goes light before it lifts off.
    """

    kind: str
    laws: "First | Second | Third"
    best: Array
    warns: bool

    def log_speed(self, at: Array) -> float:
        """Logarithm of the speed over the best there is."""
        return self.laws.raw(at) - self.laws.raw(self.best)

    def part(self, at: Array) -> float:
        """Part of the gain that there is, 0 at the start and 1 at the best setting; past the cliff nothing."""
        if self.laws.margin(at) > 1.0:
            return 0.0
        return 1.0 - self.log_speed(at) / self.log_speed(np.zeros(len(self.best)))

    def margin(self, at: Array) -> float:
        """Use of the margin; past 1 the run ends upside down, without a speed."""
        return self.laws.margin(at)

    def signs(self, at: Array, rng: np.random.Generator) -> frozenset[Behaviour]:
        """What somebody taps after a run."""
        use = self.margin(at)
        if use > 1.0:
            return frozenset((Behaviour.BLEW_OVER,))
        shows = 1.0 / (1.0 + math.exp(-(use - 0.86) / 0.04))
        return frozenset((Behaviour.LIGHT_BOW,)) if self.warns and rng.random() < 0.8 * shows else frozenset()


@dataclass(frozen=True, slots=True, kw_only=True)
class First:
    """The pond's own: a power of the way to the best setting, a straight edge; it begins at half its margin."""

    world: TrimWorld

    def raw(self, at: Array) -> float:
        return self.world.log_speed(at)

    def margin(self, at: Array) -> float:
        return 0.5 + 0.5 * self.world.margin(at)


@dataclass(frozen=True, slots=True, kw_only=True)
class Second:
    """Hats that are flat far out, the last knob hardly matters, and an edge that is an egg about the start."""

    tops: Array
    worth: Array
    wide: Array
    twist: float
    push: Array
    start: float

    def raw(self, at: Array) -> float:
        off = (at - self.tops) / self.wide
        off = off + self.twist * np.roll(off, 1)
        return float(np.sum(self.worth * (np.exp(-0.5 * off**2) - 1.0)))

    def margin(self, at: Array) -> float:
        return self.start + float(self.push @ at) + 0.0015 * float(at @ at)


@dataclass(frozen=True, slots=True, kw_only=True)
class Third:
    """Knobs act through two attitudes of the boat, drag is a cosh of each, and the margin grows like an exponential."""

    acts: Array  # of each knob on each attitude, shape (2, k)
    wanted: Array  # shape (2,)
    steep: Array
    costs: Array  # of each knob's own drag, shape (k,)
    rises: Array
    start: float

    def raw(self, at: Array) -> float:
        away = self.acts @ at - self.wanted
        drag = 1.0 + float(np.sum(self.steep * (np.cosh(away) - 1.0))) + float(np.sum(self.costs * np.abs(at)))
        return -math.log(drag) / 3.0

    def margin(self, at: Array) -> float:
        return self.start * math.exp(float(self.rises @ at))


def _best(laws: First | Second | Third, knobs: int, rng: np.random.Generator) -> Array:
    """The fastest setting within the range and a margin of 0.97, from many starts."""
    found = np.zeros(knobs)
    for start in np.vstack([np.zeros(knobs), rng.uniform(-4, 4, (24, knobs))]):
        one = optimize.minimize(
            lambda x: -laws.raw(np.clip(x, -MOST, MOST)) + 5.0 * max(laws.margin(np.clip(x, -MOST, MOST)) - 0.97, 0.0),
            start,
            method="Nelder-Mead",
            options={"maxiter": 600},
        )
        at = np.clip(one.x, -MOST, MOST)
        if laws.margin(at) <= 0.98 and laws.raw(at) > laws.raw(found):
            found = at
    return found


def boat_of(kind: str, seed: int, knobs: int = 3) -> TrimBoat:
    """A boat with hidden numbers; its best setting is worth 2 % of speed or more."""
    for turn in range(50):
        rng = np.random.default_rng([seed, turn, ("first", "second", "third").index(kind)])
        laws = {"first": _first, "second": _second, "third": _third}[kind](rng, knobs)
        best = _best(laws, knobs, rng)
        if laws.raw(best) - laws.raw(np.zeros(knobs)) > 0.02 and laws.margin(np.zeros(knobs)) < 0.85:
            return TrimBoat(kind=kind, laws=laws, best=best, warns=bool(rng.random() < 0.75))
    raise AssertionError("no such boat")


def _first(rng: np.random.Generator, knobs: int) -> First:
    return First(world=TrimWorld.of(int(rng.integers(1_000_000)), knobs))


def _second(rng: np.random.Generator, knobs: int) -> Second:
    push = rng.normal(size=knobs) * 0.05
    return Second(
        tops=rng.uniform(1.0, 5.0, knobs) * rng.choice([-1.0, 1.0], knobs),
        worth=np.append(rng.uniform(0.05, 0.18, knobs - 1), 0.006),
        wide=rng.uniform(3.0, 6.0, knobs),
        twist=float(rng.uniform(-0.3, 0.3)),
        push=push,
        start=float(rng.uniform(0.4, 0.75)),
    )


def _third(rng: np.random.Generator, knobs: int) -> Third:
    return Third(
        acts=rng.normal(size=(2, knobs)) * 0.22,
        wanted=rng.normal(size=2) * 0.9,
        steep=rng.uniform(0.15, 0.6, 2),
        costs=rng.uniform(0.0, 0.004, knobs),
        rises=rng.normal(size=knobs) * 0.07,
        start=float(rng.uniform(0.35, 0.8)),
    )
