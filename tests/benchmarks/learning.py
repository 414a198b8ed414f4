"""Learning, measured: seasons of 200 boats on a world that is not the model, and the time that it takes.

Run: ``python -m tests.benchmarks.learning [boats]``; the figures of the last run stand in ``docs/model.md``.
"""

import dataclasses
import resource
import sys
import time

import numpy as np

from kunstflug.core.drive.forecast import forecast
from kunstflug.core.evidence.readings import HEAT, What
from kunstflug.core.learning.cases import Memory
from kunstflug.core.learning.learn import learn
from kunstflug.pond.season import Day, season
from tests import samples
from tests.pond.seasons import ASKED, Results, results

BOATS_TIMED = 9
WRITTEN = {
    "track and controller log": {"logged": True},
    "the same, propellers and motors measured before they run": {"logged": True, "bench": True},
    "a display's peak and the gun only": {"logged": False},
    "a display and the gun, passes and minutes counted, and what the charger put back": {
        "logged": False, "counted": True, "charger": True,
    },
}  # fmt: skip


def main() -> None:
    """Prints the figures."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    for words, kept in WRITTEN.items():
        begin = time.perf_counter()
        found = results(count, **kept)
        print(f"\n{count} boats, {words} ({time.perf_counter() - begin:.0f} s)")
        _show(found)
    _times()


def _show(found: Results) -> None:
    for known in ASKED:
        within = f"{found.within(known, 0.05):.2f} within 5 %, {found.within(known, 0.03):.2f} within 3 %"
        off = found.true[known]
        print(f"  after {known:2d} runs: true speed {within}; error {_rms(off):.4f}, median {_half(off):.4f}", end="")
        if known:
            last, turn = found.as_last[known], found.in_proportion[known]
            print(f"; 'as last time' {_rms(last) / _rms(off):.1f} and {_half(last) / _half(off):.1f} x that", end="")
            print(f", 'in proportion' {_rms(turn) / _rms(off):.1f} and {_half(turn) / _half(off):.1f} x", end="")
        print()
    for what in (What.SPEED, What.CURRENT):
        held = [np.mean(found.match[what, n]) for n in ASKED]
        print(f"  true {what.value} in the forecast's band {' '.join(f'{h:.2f}' for h in held)}")
    for what in dict.fromkeys(w for w, _ in found.off):
        unit, held = "K" if what in HEAT else "", [found.held(what, n) for n in ASKED]
        offs = [_rms(found.off[what, n]) for n in ASKED]
        print(
            f"  {what.value:10s} in the 80 % band {' '.join(f'{h:.2f}' for h in held)}; "
            f"error {' '.join(f'{o:.3g}' for o in offs)} {unit}"
        )
    for what in (What.CASE, What.CONTROLLER, What.PACK):
        near = [found.within_k(what, n, 6.0) for n in ASKED]
        naive = [_rms(found.warm_as_last[what, n]) / _rms(found.warm[what, n]) for n in ASKED if n]
        print(
            f"  true {what.value} within 6 K {' '.join(f'{n:.2f}' for n in near)}; "
            f"'as last time' {' '.join(f'{n:.1f}' for n in naive)} x the error"
        )


def _rms(offs: list[float]) -> float:
    return float(np.sqrt(np.mean(np.square(offs))))


def _half(offs: list[float]) -> float:
    return float(np.median(np.abs(offs)))


def _times() -> None:
    setup = samples.setup()
    other = samples.setup(propeller__diameter={"value": 44, "unit": "mm"})
    days = [Day(setup=setup if k % 3 else other, outing=k // 4, logged=True) for k in range(101)]
    learn(season(days[:3], 4))
    whole, more = [], []
    for seed in range(1, 1 + BOATS_TIMED):
        runs = season(days, seed)
        memory, begin = Memory(), time.perf_counter()
        learned = learn(runs[:-1], memory)
        whole.append(time.perf_counter() - begin)
        begin = time.perf_counter()
        learn(runs, memory)
        more.append(time.perf_counter() - begin)
    known = dataclasses.replace(setup, knowledge=learned.knowledge(runs[0].boat))
    middle, slowest = np.median(whole), max(whole)
    print(f"\n100 runs, {len(learned.mean)} numbers, {BOATS_TIMED} boats: {middle:.2f} s, the slowest {slowest:.2f}")
    print(f"one run more: {1e3 * np.median(more):.0f} ms, the slowest {1e3 * max(more):.0f}")
    print(f"forecast as bought {_best(setup):.1f} ms, with what was learnt {_best(known):.1f} ms")
    print(f"peak memory of the whole process {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")


def _best(setup: object) -> float:
    taken = []
    for _ in range(9):
        begin = time.perf_counter()
        forecast(setup)  # type: ignore[arg-type]
        taken.append(time.perf_counter() - begin)
    return 1e3 * min(taken)


if __name__ == "__main__":
    main()
