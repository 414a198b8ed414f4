"""Operating points, vectorised, against a nested scalar root-finder on the same cases in the same run.

Run with ``make bench``. Ratios are what counts: both ways run on the same machine at the same time.
"""

import resource
import time

import numpy as np

from kunstflug.core.choose.sweep import ranges_about, sweep
from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.point import solve
from kunstflug.core.drive.values import drive_values
from kunstflug.core.thermal.duty import Duty, Kind, Mode, Phase, PhaseKind, passes_duty
from kunstflug.core.thermal.run import run_duty
from tests import samples
from tests.benchmarks.nested import nested_operating_point

NESTED_CASES = 40
CASES = 50_000


def main() -> None:
    """Prints times, ratio and the largest difference of the results."""
    setup = samples.setup()
    curve, drawn = curve_of(setup), drive_values(setup).rows(CASES, seed=1)
    solve(drive_values(setup).rows(5000, seed=2), (curve,))  # warm
    start = time.perf_counter()
    points = solve(drawn, (curve,))
    vectorised = (time.perf_counter() - start) / CASES

    worst, start = 0.0, time.perf_counter()
    for k in range(NESTED_CASES):
        speed, _ = nested_operating_point(drawn, curve, k)
        worst = max(worst, abs(speed / np.asarray(points.speed_mps)[k] - 1))
    nested = (time.perf_counter() - start) / NESTED_CASES

    start = time.perf_counter()
    for _ in range(40):
        forecast(setup)
    whole = (time.perf_counter() - start) / 40
    print(f"operating points: {1 / vectorised:,.0f} a second in a batch of {CASES:,}")
    ratio = nested / vectorised
    print(f"nested root-finder: {1 / nested:,.0f} a second; ratio {ratio:,.0f}; differ by {worst:.1e} at most")
    print(f"forecast with band and curves: {whole * 1e3:.1f} ms")

    start = time.perf_counter()
    solve(drive_values(setup).rows(500, seed=4), (curve,))
    print(f"band from 500 samples: {(time.perf_counter() - start) * 1e3:.0f} ms")
    held = Duty(kind=Kind.PASSES, phases=(Phase(kind=PhaseKind.PASS, mode=Mode.FULL, seconds=60.0),))
    run_duty(setup, held, step_s=0.02)
    start = time.perf_counter()
    run_duty(setup, held, step_s=0.02)
    print(f"pass of 60 s with heat at 20 ms steps: {(time.perf_counter() - start) * 1e3:.0f} ms")

    million = ranges_about(
        setup,
        kv=np.linspace(1000, 4000, 50),
        diameter=np.linspace(0.030, 0.060, 50),
        pitch_ratio=np.linspace(1.0, 1.8, 20),
        cells=np.arange(2.0, 7.0),
        mass_factor=np.array([0.9, 1.0, 1.1, 1.2]),
    )
    start = time.perf_counter()
    sweep(setup, million)
    each = (time.perf_counter() - start) / million.count
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(
        f"sweep of {million.count:,} drives with margins: {1 / each:,.0f} a second, "
        f"{nested / each:,.0f} times the nested root-finder; peak memory of the whole process {peak:.0f} MB"
    )

    passes = passes_duty(4, 6.0, 25.0)
    for draws, what in ((128, "four passes with band, 128 draws"), (2999, "four passes of 3000 drives")):
        best = np.inf
        for _ in range(3):
            start = time.perf_counter()
            run_duty(setup, passes, samples=draws)
            best = min(best, time.perf_counter() - start)
        print(f"{what}: {best * 1e3:.0f} ms")


if __name__ == "__main__":
    main()
