"""Seasons of random boats on a world that the model is wrong about in form, and what was said of each run before it."""

import dataclasses
import zlib
from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

import numpy as np
from tests.core.drive.test_population import random_boat

from kunstflug.core.drive.forecast import Forecast, forecast
from kunstflug.core.evidence.readings import What
from kunstflug.core.learning.cases import Memory
from kunstflug.core.learning.judged import judged
from kunstflug.core.learning.learn import learn
from kunstflug.core.learning.run_evidence import RunEvidence
from kunstflug.core.parts.propeller import CAST_SPREAD, pitch
from kunstflug.core.quantity.value import Source, Value
from kunstflug.core.setup.setup import Setup
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.pond.season import Day, season, warm_as_it_was
from kunstflug.pond.world import KV_OF_WORLD, World, hidden_parts

CHANGED = (1, 3, 5, 8, 10)  # runs before which one thing is changed
ASKED = (0, 1, 3, 10)  # runs that were known when it is asked
# One standard deviation of what the bench reads (common practice, no source).
GAUGE = 0.01  # pitch, by a blade gauge
DRILL = 0.01  # KV, by the volts of a motor spun in a drill


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
    """By what was read and how many runs were known: readings less what was said, in logarithms or K, and whether they
    lay in the 80 % band.

    ``true`` is the error of the forecast, as the racer sees it, against the speed that the boat really holds;
    ``as_last`` and ``in_proportion`` are those of two naive answers: the last run's speed, and that speed scaled by
    free rpm and propeller. ``warm`` and ``warm_as_last`` are the same for temperatures, in K; the naive one takes the
    last rise over the water. ``match`` is whether the forecast's own band held what the boat really does.
    """

    off: dict = field(default_factory=lambda: defaultdict(list))
    inside: dict = field(default_factory=lambda: defaultdict(list))
    match: dict = field(default_factory=lambda: defaultdict(list))
    true: dict = field(default_factory=lambda: defaultdict(list))
    as_last: dict = field(default_factory=lambda: defaultdict(list))
    in_proportion: dict = field(default_factory=lambda: defaultdict(list))
    warm: dict = field(default_factory=lambda: defaultdict(list))
    warm_as_last: dict = field(default_factory=lambda: defaultdict(list))

    def held(self, what: What, known: int) -> float:
        """Part of the results that lay in the 80 % band."""
        return float(np.mean(self.inside[what, known]))

    def within_k(self, what: What, known: int, most_k: float) -> float:
        """Part of the boats whose true temperature was said within some K."""
        return float(np.mean(np.abs(self.warm[what, known]) < most_k))

    def within(self, known: int, part: float) -> float:
        """Part of the boats whose true speed was said within a part."""
        return float(np.mean(np.abs(self.true[known]) < part))


def measured(run: RunEvidence, seed: int) -> RunEvidence:
    """The same run, written down by a racer who measured the propeller's pitch and the motor's KV beforehand.

    A gauge measures the face of a blade; the effective pitch differs from that by ``CAST_SPREAD``, as in the model.
    """
    wheel, mill = run.setup.propeller, run.setup.motor
    real, face = hidden_parts(run.setup, seed), float(np.hypot(GAUGE, CAST_SPREAD))
    read = [np.random.default_rng((seed, 79, zlib.crc32(repr(part).encode()))) for part in (wheel, mill)]
    pitch_m = pitch(wheel).value * real.pitch * float(np.exp(face * read[0].standard_normal()))
    kv = mill.kv_rpm_per_v.value * KV_OF_WORLD * real.kv * float(np.exp(DRILL * read[1].standard_normal()))
    gauged = Value(value=pitch_m, source=Source.MEASURED, spread=GAUGE)
    spun = Value(value=kv, source=Source.MEASURED, spread=DRILL)
    setup = dataclasses.replace(
        run.setup,
        propeller=dataclasses.replace(wheel, pitch_m=gauged, pitch_ratio=None),
        motor=dataclasses.replace(mill, kv_rpm_per_v=spun),
    )
    return dataclasses.replace(run, setup=setup)


def _forecast(runs: Sequence[RunEvidence], known: int, memory: Memory) -> Forecast:
    """What is forecast for a run with what those before it taught."""
    setup = runs[known].setup
    if known:
        taught = learn(runs[:known], memory).knowledge(runs[known].boat)
        setup = dataclasses.replace(setup, knowledge=taught)
    return forecast(setup, explained=False, drawn=False)


def _turn(setup: Setup) -> float:
    return setup.motor.kv_rpm_per_v.value * setup.pack.cells * setup.propeller.diameter_m.value


def _as_last(runs: Sequence[RunEvidence], n: int, what: What) -> float:
    """A temperature that rises over today's water as it last did over that day's [degC]."""
    last = next(reading.value for reading in runs[n - 1].readings if reading.what is what)
    now, then = runs[n].setup.conditions.water_c.value, runs[n - 1].setup.conditions.water_c.value
    return last - then + now


def results(count: int, *, logged: bool, seed: int = 11, bench: bool = False, **kept: bool) -> Results:
    """Seasons of eleven runs; ``kept`` is what else was written down of each, see ``Day``.

    Parameters
    ----------
    bench : propellers and motors were measured before they ran, see ``measured``.
    """
    found, rng = Results(), np.random.default_rng(seed + 1)
    for k, setup in boats(count, seed):
        days, now = [], setup
        for n in range(max(ASKED) + 1):
            if n in CHANGED:
                now = one_change(now, rng)
            days.append(Day(setup=now, outing=n // 2, logged=logged, **kept))
        driven = season(days, k)
        runs = [measured(run, k) for run in driven] if bench else driven
        said, memory = judged(learn(runs)), Memory()  # of its own: a forecast begins nowhere that later runs taught
        for n in ASKED:
            told, steady = _forecast(runs, n, memory), World(driven[n].setup, k).steady()
            speed, real = told.point.speed_mps, steady.speed_mps
            found.match[What.SPEED, n].append(told.low.speed_mps <= real <= told.high.speed_mps)
            found.match[What.CURRENT, n].append(told.low.current_a <= steady.current_a <= told.high.current_a)
            found.true[n].append(np.log(real / speed))
            if n:
                last = said[n - 1].readings[0].read
                found.as_last[n].append(np.log(real / last))
                found.in_proportion[n].append(np.log(real / last * _turn(runs[n - 1].setup) / _turn(runs[n].setup)))
            was = warm_as_it_was(days[n], k, n)
            for reading in said[n].readings:
                then = reading.then
                if reading.what in was:
                    found.warm[reading.what, n].append(was[reading.what] - then.value)
                    if n:
                        found.warm_as_last[reading.what, n].append(was[reading.what] - _as_last(runs, n, reading.what))
                found.off[reading.what, n].append(reading.off_from(then))
                found.inside[reading.what, n].append(then.holds(reading.read))
    return found
