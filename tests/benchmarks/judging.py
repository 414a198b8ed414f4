"""Learning, judged where it was not tuned: three worlds of different form, beside what a racer does by hand.

Run: ``python -m tests.benchmarks.judging [boats] [world ...]``; the figures of the last run stand in ``docs/model.md``.
By hand is the forecast as bought, in proportion to the last run: what it says of the next setup, over what it says of
the last one, times what the last one ran.
"""

import dataclasses
import sys
import time
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from kunstflug.core.drive.forecast import forecast
from kunstflug.core.evidence.readings import What
from kunstflug.core.learning.causes import Cause, odd_run
from kunstflug.core.learning.judged import judged
from kunstflug.core.learning.learn import learn
from kunstflug.core.learning.predict import long_enough
from kunstflug.core.learning.run_evidence import RunEvidence
from kunstflug.core.quantity.value import Z80
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.heat_forecast import heat_forecast
from kunstflug.core.thermal.nodes import NODES, Node
from kunstflug.pond.season import GUN_K, GUN_MINUTES, Day, season, warm_as_it_was
from kunstflug.pond.world import World
from tests.pond.other_worlds import Sealed, Second
from tests.pond.seasons import boats, measured, one_change

WORLDS = {"pond": World, "second": Second, "sealed": Sealed}
ASKED = (0, 1, 3, 10, 30, 100)
WRITTEN = {
    "logs": {"logged": True},
    "display and gun": {"logged": False},
    "display alone": {"logged": False, "gun": False},
}
HELD = ("speed", "current", "case", "controller", "pack")
NODE = {What.CASE: Node.CASE, What.CONTROLLER: Node.CONTROLLER, What.PACK: Node.PACK}


@dataclass
class Found:
    """By how many runs were known: errors as logarithms, whether bands held, errors of temperatures in K."""

    off: dict = field(default_factory=lambda: defaultdict(list))
    hand: dict = field(default_factory=lambda: defaultdict(list))
    held: dict = field(default_factory=lambda: defaultdict(list))
    current: dict = field(default_factory=lambda: defaultdict(list))
    warm: dict = field(default_factory=lambda: defaultdict(list))
    out: dict = field(default_factory=lambda: defaultdict(int))


def seasons(
    count: int, world: type[World], seed: int, longest: int, **kept: bool
) -> Iterator[tuple[int, list[Day], list[RunEvidence]]]:
    """Boats with their runs: one thing is changed before each run that is asked about, and now and then between."""
    rng = np.random.default_rng(seed + 1)
    for k, setup in boats(count, seed):
        days, now = [], setup
        for n in range(longest + 1):
            if n in ASKED[1:] or n in (5, 8) or (n > 10 and n % 7 == 0):
                now = (
                    one_change(now, rng)
                    if n <= 10 or n in ASKED or rng.random() < 0.5
                    else days[rng.integers(len(days))].setup
                )
            days.append(Day(setup=now, outing=n // 3, **kept))
        try:
            yield k, days, season(days, k, world=world)
        except ValueError:  # the hidden boat does not plane
            continue


def judge(
    count: int,
    world: type[World],
    seed: int = 11,
    longest: int = 100,
    *,
    bench: bool = False,
    heat: bool = True,
    **kept: bool,
) -> Found:
    """All boats of a world, at every stage."""
    found = Found()
    for k, days, driven in seasons(count, world, seed, longest, **kept):
        runs = [measured(run, k) for run in driven] if bench else driven
        for n in (n for n in ASKED if n <= longest):
            _ask(found, k, n, days, runs, world, heat=heat)
    return found


def _ask(
    found: Found, k: int, n: int, days: list[Day], runs: list[RunEvidence], world: type[World], *, heat: bool
) -> None:
    setup, bought = runs[n].setup, forecast(runs[n].setup, samples=0, explained=False, drawn=False)
    known = setup
    as_it_is = dataclasses.replace(days[n].setup, conditions=setup.conditions)  # whatever was measured of it
    if n:
        known = dataclasses.replace(setup, knowledge=learn(runs[:n]).knowledge(runs[n].boat))
        last = forecast(runs[n - 1].setup, samples=0, explained=False, drawn=False).point.speed_mps
        by_hand = bought.point.speed_mps / last * runs[n - 1].readings[0].value
    else:
        by_hand = bought.point.speed_mps
    told, real = forecast(known, explained=False, drawn=False), world(as_it_is, k).steady()
    found.off[n].append(float(np.log(told.point.speed_mps / real.speed_mps)))
    found.hand[n].append(float(np.log(by_hand / real.speed_mps)))
    found.current[n].append(float(np.log(told.point.current_a / real.current_a)))
    found.held["speed", n].append(bool(told.low.speed_mps <= real.speed_mps <= told.high.speed_mps))
    found.held["current", n].append(bool(told.low.current_a <= real.current_a <= told.high.current_a))
    found.out[n] += not told.low.speed_mps <= told.point.speed_mps <= told.high.speed_mps
    if heat:
        was, run = warm_as_it_was(days[n], k, n, world), runs[n]
        duty = long_enough(run)
        warm = heat_forecast(known, duty)
        for what, node in NODE.items():
            at = int(np.searchsorted(warm.run.time_s, duty.landing_s + 60 * GUN_MINUTES[what]))
            at = min(at, len(warm.run.time_s) - 1)
            low, middle, high = (t[at, NODES.index(node)] for t in (warm.low_c, warm.middle_c, warm.high_c))
            spread = np.hypot((high - low) / 2 / Z80, GUN_K)
            read = was[what] + GUN_K * np.random.default_rng((k, n, len(what))).standard_normal()
            found.warm[what, n].append(float(middle - was[what]))
            found.held[what.value, n].append(bool(abs(read - middle) <= Z80 * spread))


def show(found: Found, stages: list[int]) -> None:
    """Prints the figures of one world and one way of writing down."""
    for n in stages:
        off, hand = np.array(found.off[n]), np.array(found.hand[n])
        within = " ".join(f"{np.mean(np.abs(off) < part):.2f}" for part in (0.03, 0.05))
        near = " ".join(f"{np.mean(np.abs(hand) < part):.2f}" for part in (0.03, 0.05))
        held = " ".join(f"{key} {np.mean(found.held[key, n]):.2f}" for key in HELD if found.held[key, n])
        warm = " ".join(f"{np.mean(found.warm[what, n]):+.1f}" for what in NODE if found.warm[what, n])
        middle, by_hand = np.median(np.abs(off)), np.median(np.abs(hand))
        print(
            f"  {n:3d} runs: median error {middle:.4f}, {middle / by_hand:.2f} x by hand, mean {off.mean():+.3f};"
            f" within 3 and 5 % {within}, by hand {near}; held: {held}; current {np.mean(found.current[n]):+.3f};"
            f" K {warm}; point outside {found.out[n]} of {len(off)}",
            flush=True,
        )


SLIPPED = (1, 3, 8)  # the run in which the slip is: the second, fourth and ninth


def slips(count: int, world: type[World], seed: int = 17) -> dict[tuple[Cause, int], list[tuple[bool, float]]]:
    """Seasons of nine runs off a display with one slip each: whether it is named first, and what it moved the forecast
    of its setup by (a logarithm)."""
    found: dict[tuple[Cause, int], list[tuple[bool, float]]] = defaultdict(list)
    for k, _, runs in seasons(count, world, seed, 8, **WRITTEN["display alone"]):
        for n in SLIPPED:
            until = runs[: n + 1]
            for cause, slipped in _slipped(until, n, np.random.default_rng((k, n))):
                every = judged(learn([*until[:n], slipped]))
                odd = odd_run(every[n], every)
                first = odd.suspicions[0].cause if odd and odd.suspicions else None
                moved = float(np.log(_told([*until[:n], slipped], slipped.setup) / _told(until[:n], slipped.setup)))
                found[cause, n].append((first is cause, moved))
    return found


def _slipped(runs: list[RunEvidence], n: int, rng: np.random.Generator) -> Iterator[tuple[Cause, RunEvidence]]:
    """The run with another unit, a digit moved, and booked where another setup ran that is a good deal faster."""
    run = runs[n]
    for cause, factor in ((Cause.UNIT, 1.609344 ** rng.choice([-1, 1])), (Cause.DIGIT, 10.0 ** rng.choice([-1, 1]))):
        speed = dataclasses.replace(run.readings[0], value=run.readings[0].value * factor)
        yield cause, dataclasses.replace(run, readings=(speed, *run.readings[1:]))
    for other in runs[:n]:
        if abs(np.log(other.readings[0].value / run.readings[0].value)) > LEAST_APART:
            yield Cause.OTHER_SETUP, dataclasses.replace(run, setup=other.setup, things=other.things)
            return


LEAST_APART = 0.08  # of a logarithm, by which two setups have to differ so that anybody could tell


def _told(runs: list[RunEvidence], setup: Setup) -> float:
    known = dataclasses.replace(setup, knowledge=learn(runs).knowledge(runs[0].boat)) if runs else setup
    return float(forecast(known, samples=0, explained=False, drawn=False).point.speed_mps)


def show_slips(count: int, world: type[World]) -> None:
    """Prints how often each slip is named first, and by how much it moved the forecast, at most in nine of ten."""
    for (cause, n), each in sorted(slips(count, world).items()):
        named, moved = np.mean([first for first, _ in each]), np.quantile(np.abs([m for _, m in each]), 0.9)
        print(f"  {cause.value} in run {n + 1}: first in {named:.2f} of {len(each)}, moves it by {moved:.3f} at most")


def main() -> None:
    """Prints the figures."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    longest = int(sys.argv[2]) if len(sys.argv) > 2 else 100
    for name in sys.argv[3:] or WORLDS:
        for words, kept in WRITTEN.items():
            begin = time.perf_counter()
            found = judge(count, WORLDS[name], longest=longest, **kept)
            print(f"\n{name}, {words}, {count} boats ({time.perf_counter() - begin:.0f} s)")
            show(found, [n for n in ASKED if n <= longest])
        print(f"\n{name}, slips")
        show_slips(count, WORLDS[name])


if __name__ == "__main__":
    main()
