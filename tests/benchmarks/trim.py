"""Prints how well trim is found: ``python -m tests.benchmarks.trim [boats]``.

On boats whose best setting nobody knows, with laws of their own: the part of the gain that is reached after so many
runs, and the runs needed for 95 % of it, beside a grid and a search along one knob after another; and how often the
true cause of three hundred simulated faults is among the first two.
"""

import sys

import numpy as np

from kunstflug.pond.trim_world import TrimWorld
from tests.core.trim.searching import coordinate, grid, ours
from tests.core.trim.test_signs import diagnosed, two_at_once


def main(boats: int = 200) -> None:
    """Prints the figures."""
    worlds = [TrimWorld.of(seed) for seed in range(boats)]
    print(f"{boats} boats, three knobs each; the best setting is worth {_gain(worlds):.1%} of speed on average")
    print(f"{'':12}{'6 runs':>8}{'12':>8}{'18':>8}   runs for 95 %   worst margin")
    for name, search in (("ours", ours), ("along each", coordinate), ("grid", grid)):
        found = [search(world, seed) for seed, world in enumerate(worlds)]
        parts = [np.mean([f.parts[n - 1] for f in found]) for n in (6, 12, 18)]
        needed = np.median([f.needed for f in found])
        worst = max(f.worst_margin for f in found)
        print(f"{name:12}" + "".join(f"{p:8.2f}" for p in parts) + f"{needed:12.0f}{worst:19.2f}")
        if search is ours:
            done = np.mean([f.parts[17] >= 0.95 for f in found])
            print(f"{'':12}median after 18 runs {np.median([f.parts[17] for f in found]):.2f}; 95 % in {done:.0%}")
    first, two, usual = diagnosed(300, 4)
    print(f"faults: the cause first {first:.0%}, among the first two {two:.0%}; by one sign alone {usual:.0%}")
    one, both = two_at_once(300, 6)
    print(f"two faults at once: one of them first {one:.0%}, both among the first four {both:.0%}")


def _gain(worlds: list[TrimWorld]) -> float:
    return float(np.mean([-world.log_speed(np.zeros(len(world.best))) for world in worlds]))


if __name__ == "__main__":
    main(*(int(word) for word in sys.argv[1:2]))
