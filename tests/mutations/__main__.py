"""Breaks the core in places, one at a time, and asks whether a test notices: ``make mutations``.

Each mutation is a small change of one law or rule that would mislead a racer. A mutation that no test catches is a test
that is missing; the command fails then, and names it.
"""

import subprocess
import sys
import time
from pathlib import Path
from typing import Final

ROOT: Final = Path(__file__).parents[2]
CORE: Final = ROOT / "src" / "kunstflug" / "core"

HEAT: Final = "tests/core/thermal"
DRIVE: Final = "tests/core/drive tests/core/propeller tests/core/laws tests/core/parts"
CHOOSE: Final = "tests/core/choose tests/core/drive tests/services/test_one_answer.py"

MUTATIONS: Final = (
    # file, what stands there, what is put in its place, tests that should notice
    ("thermal/network.py", "BURNT_C: Final = 250.0", "BURNT_C: Final = 1e9", HEAT),
    ("thermal/network.py", "SOLDER_C: Final = 200.0", "SOLDER_C: Final = 1e9", HEAT),
    ("thermal/network.py", "drop = amps * (copper", "drop = 0.0 * amps * (copper", HEAT),
    ("thermal/launch.py", "STOPPING_M: Final = 15.0", "STOPPING_M: Final = 500.0", HEAT),
    ("thermal/network.py", "SLOW_PART: Final = 0.25", "SLOW_PART: Final = 1e-9", DRIVE),
    ("thermal/network.py", "inner = p.winding_case_w_k *", "inner = 2.0 * p.winding_case_w_k *", HEAT),
    ("thermal/nodes.py", "STILL: Final = 0.12", "STILL: Final = 1.0", HEAT),
    ("thermal/heat_forecast.py", "STOP_FACTOR: Final = 1.2", "STOP_FACTOR: Final = 9.9", HEAT),
    ("thermal/tub.py", "    stop = bool(readings) and (", "    stop = True or (", HEAT),
    ("thermal/tub.py", "TOLD_BEFORE_S: Final = 10.0", "TOLD_BEFORE_S: Final = -60.0", HEAT),
    ("choose/steps.py", "Verdict.SHORT: 0.03", "Verdict.SHORT: 0.3", CHOOSE),
    ("choose/steps.py", "Verdict.STOP: 10.0", "Verdict.STOP: 0.1", CHOOSE),
    ("choose/fronts.py", "np.lexsort((-gain, cost))", "np.lexsort((gain, cost))", CHOOSE),
    ("choose/backward.py", "LimitKey.PACK_CURRENT}", "LimitKey.CELL_VOLTAGE}", CHOOSE),
    ("drive/limits.py", "RATING_MARGIN: Final = 0.9", "RATING_MARGIN: Final = 1.0", DRIVE),
    ("drive/limits.py", "MOTOR_CURRENT_STOP: Final = 1.3", "MOTOR_CURRENT_STOP: Final = 13.0", CHOOSE),
    ("drive/verdict.py", "np.where(stops > 1, 2", "np.where(stops > 9, 2", CHOOSE),
    ("drive/verdict.py", "STALL_RATIO: Final = 0.5", "STALL_RATIO: Final = 0.05", DRIVE),
    ("drive/balance.py", "0.5 * p.no_load_current_a / p.no_load_rpm", "0.9 * p.no_load_current_a / p.no_load_rpm",
     DRIVE),
    ("drive/balance.py", "bus * bus * p.pack_resistance_ohm, bus", "current * bus * p.pack_resistance_ohm, bus", DRIVE),
    ("drive/varied.py", "winding**powers.resistance", "winding**(powers.resistance + 1)", CHOOSE),
    ("drive/varied.py", '"weak_cell": pack.weakest', '"weak_cell": 1.0 + 0.0 * pack.weakest', CHOOSE),
    ("propeller/curve.py", "PAST_PITCH: Final = 1.25", "PAST_PITCH: Final = 1.04", DRIVE),
    ("propeller/seam.py", "AIR_FULL: Final = 0.80", "AIR_FULL: Final = 40.0", DRIVE),
    ("laws/blade.py", "CAMBER_RELIEF: Final = 1.0 - 9.0 / 25.0", "CAMBER_RELIEF: Final = 0.0", DRIVE),
    ("drive/schools.py", "settled * (1.0 - kept)", "settled", DRIVE),
    ("laws/resistance.py", "return 0.5 * water_kg_m3", "return 0.6 * water_kg_m3", DRIVE),
    ("setup/editor.py", "all_up.value + shift", "all_up.value - shift", CHOOSE),
)  # fmt: skip


def caught(path: Path, before: str, after: str, tests: str) -> bool:
    """Whether a test fails with the mutation in place; the file is put back in any case."""
    text = path.read_text()
    if text.count(before) != 1:
        raise SystemExit(f"{path.name}: {before!r} stands there {text.count(before)} times, not once")
    path.write_text(text.replace(before, after))
    try:
        command = [sys.executable, "-m", "pytest", "-x", "-q", *tests.split()]
        return subprocess.run(command, cwd=ROOT, capture_output=True, check=False).returncode != 0
    finally:
        path.write_text(text)


def main() -> None:
    """Runs every mutation and prints what was caught."""
    missed = []
    for name, before, after, tests in MUTATIONS:
        start = time.perf_counter()
        found = caught(CORE / name, before, after, tests)
        took = time.perf_counter() - start
        print(f"{'caught' if found else 'MISSED'}  {name}: {before.strip()}  ({took:.0f} s)", flush=True)
        if not found:
            missed.append(name)
    print(f"{len(MUTATIONS) - len(missed)} of {len(MUTATIONS)} caught")
    raise SystemExit(bool(missed))


if __name__ == "__main__":
    main()
