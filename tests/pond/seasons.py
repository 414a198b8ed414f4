"""Seasons of random boats on a world that the model is wrong about in form, and what was said of each run before it."""

import dataclasses
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np
from tests.core.drive.test_population import random_boat

from kunstflug.core.drive.forecast import forecast
from kunstflug.core.learning.judged import judged
from kunstflug.core.learning.learn import learn
from kunstflug.core.learning.seen import What
from kunstflug.core.quantity.value import Z80, Value
from kunstflug.core.setup.setup import Setup
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.pond.season import Day, season
from kunstflug.pond.world import World

CHANGED = (1, 3, 5, 8, 10)  # runs before which one thing is changed
ASKED = (0, 1, 3, 10)  # runs that were known when it is asked


def boats(count: int, seed: int) -> Iterator[tuple[int, Setup]]:
    """Random boats that run."""
    rng, k = np.random.default_rng(seed), 0
    while count:
        k += 1
        setup = setup_of(SetupDocument.model_validate(random_boat(rng)))
        if forecast(setup, samples=0).runs:
            count -= 1
            yield k, setup


def one_change(setup: Setup, rng: np.random.Generator) -> Setup:
    """Another propeller, another winding, more or less mass, a larger pack."""
    which, up = rng.integers(4), bool(rng.integers(2))
    if which == 0:
        size = Value(value=setup.propeller.diameter_m.value * (1.05 if up else 0.95))
        return dataclasses.replace(setup, propeller=dataclasses.replace(setup.propeller, diameter_m=size))
    if which == 1:
        kv = Value(value=setup.motor.kv_rpm_per_v.value * (1.1 if up else 0.9))
        return dataclasses.replace(setup, motor=dataclasses.replace(setup.motor, kv_rpm_per_v=kv))
    if which == 2:
        mass = Value(value=setup.all_up_mass_kg.value * (1.08 if up else 0.92))
        return dataclasses.replace(setup, all_up_mass_kg=mass)
    charge = Value(value=setup.pack.capacity_ah.value * 1.15)
    return dataclasses.replace(setup, pack=dataclasses.replace(setup.pack, capacity_ah=charge))


@dataclass
class Results:
    """By what was read and how many runs were known: readings less what was said, in logarithms or K, and in spreads.

    ``true`` is the error of the forecast against the speed that the boat really holds; ``as_last`` and
    ``in_proportion`` are those of two naive answers: the last run's speed, and that speed scaled by free rpm and
    propeller.
    """

    off: dict = field(default_factory=lambda: defaultdict(list))
    spreads: dict = field(default_factory=lambda: defaultdict(list))
    true: dict = field(default_factory=lambda: defaultdict(list))
    as_last: dict = field(default_factory=lambda: defaultdict(list))
    in_proportion: dict = field(default_factory=lambda: defaultdict(list))

    def held(self, what: What, known: int) -> float:
        """Part of the results that lay in the 80 % band."""
        return float(np.mean(np.abs(self.spreads[what, known]) < Z80))

    def within(self, known: int, part: float) -> float:
        """Part of the boats whose true speed was said within a part."""
        return float(np.mean(np.abs(self.true[known]) < part))


def _turn(setup: Setup) -> float:
    return setup.motor.kv_rpm_per_v.value * setup.pack.cells * setup.propeller.diameter_m.value


def results(count: int, *, logged: bool, seed: int = 11) -> Results:
    """Seasons of eleven runs."""
    found, rng = Results(), np.random.default_rng(seed + 1)
    for k, setup in boats(count, seed):
        days, now = [], setup
        for n in range(max(ASKED) + 1):
            if n in CHANGED:
                now = one_change(now, rng)
            days.append(Day(setup=now, outing=n // 2, logged=logged))
        runs = season(days, k)
        said = judged(learn(runs))
        for n in ASKED:
            speed = said[n].readings[0].then.value
            real = World(runs[n].setup, k).steady().speed_mps
            found.true[n].append(np.log(real / speed))
            if n:
                last = said[n - 1].readings[0].read
                found.as_last[n].append(np.log(real / last))
                found.in_proportion[n].append(np.log(real / last * _turn(runs[n - 1].setup) / _turn(runs[n].setup)))
            for reading in said[n].readings:
                then = reading.then
                off = reading.off_from(then)
                found.off[reading.what, n].append(off)
                found.spreads[reading.what, n].append(off / then.spread)
    return found
