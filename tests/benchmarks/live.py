"""Prints how well "come in now" is said: ``python -m tests.benchmarks.live [days]``.

On simulated days with a cap left on, weed, a weak cell, a nicked propeller: in how many no place passed its ceiling
before it was said; and on how many good days it was said in vain. With a sensor taped to the motor, and without.
"""

import sys
from concurrent.futures import ProcessPoolExecutor
from functools import partial

from tests.core.live.days import BROKEN, judged


def main(days: int = 500) -> None:
    """Prints the figures."""
    with ProcessPoolExecutor() as pool:
        for what, sensor, broken in (
            ("with a motor sensor", True, ""),
            ("with the controller's sensor only", False, ""),
            *((f"a motor sensor that is broken ({name})", True, name) for name in BROKEN),
        ):
            before, vain, faulty, good = judged(days, sensor=sensor, broken=broken, each=partial(pool.map, chunksize=5))
            print(f"{what}: said before the limit on {before:.1%} of {faulty} faulty days, ", end="")
            print(f"in vain on {vain:.1%} of {good} good ones", flush=True)


if __name__ == "__main__":
    main(*(int(word) for word in sys.argv[1:2]))
