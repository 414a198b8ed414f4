"""Prints how well trim is found: ``python -m tests.benchmarks.trim [boats] [world…]``.

On boats whose best setting nobody knows, with laws of their own (first, second; third is the sealed one), at a
display's repeatability of 1.5 %: the part of the gain that is reached, how many boats went past a cliff, when it said
*enough* and what was left then, beside a search by hand and a grid; and how often the true cause of three hundred
simulated faults is among the first two.
"""

import sys

import numpy as np

from tests.core.trim.searching import Found, coordinate, grid, ours
from tests.core.trim.test_signs import diagnosed, two_at_once
from tests.pond.trim_worlds import boat_of

LITTLE = 0.005
"""What may be left to win where enough was said: half a percent of the speed, or a twentieth of the gain."""


def main(boats: int = 40, *kinds: str) -> None:
    """Prints the figures."""
    print("gain after 6, 12, 18 runs; boats with 95 % after 18; past a cliff; enough by 20, right, left; turned")
    for kind in kinds or ("first", "second"):
        cases = [boat_of(kind, seed) for seed in range(boats)]
        gain = np.mean([-boat.log_speed(np.zeros(len(boat.best))) for boat in cases])
        print(f"{kind}: {boats} boats, {gain:.1%} to win, {np.mean([b.warns for b in cases]):.0%} warn")
        show("margin known to 7 %", [ours(b, s, doubt=0.07) for s, b in enumerate(cases)])
        show("blind", [ours(b, s) for s, b in enumerate(cases)])
        show("by hand", [coordinate(b, s) for s, b in enumerate(cases)])
        show("grid", [grid(b, s) for s, b in enumerate(cases)])
    first, two, usual = diagnosed(300, 4)
    print(f"faults: the cause first {first:.0%}, among the first two {two:.0%}; by one sign alone {usual:.0%}")
    one, both = two_at_once(300, 6)
    print(f"two faults at once: one of them first {one:.0%}, both among the first four {both:.0%}")


def show(name: str, found: list[Found]) -> None:
    """One line."""
    parts = [np.mean([f.parts[n - 1] for f in found]) for n in (6, 12, 18)]
    done = np.mean([f.parts[17] >= 0.95 for f in found])
    past = np.mean([f.worst_margin > 1.0 for f in found])
    said = [f for f in found if f.enough is not None]
    right = np.mean([f.left <= LITTLE or f.parts[f.enough - 1] >= 0.95 for f in said]) if said else 0.0
    left = np.mean([f.left for f in said]) if said else np.nan
    all_turned = np.mean([np.all(f.turned > 1) for f in found if len(f.turned)]) if len(found[0].turned) else np.nan
    print(
        f"  {name:20}" + "".join(f"{p:7.2f}" for p in parts)
        + f"{done:9.0%}{past:8.0%}{len(said) / len(found):8.0%}{right:8.0%}{left:8.1%}{all_turned:8.0%}", flush=True
    )  # fmt: skip


if __name__ == "__main__":
    main(*(int(word) for word in sys.argv[1:2]), *sys.argv[2:])
