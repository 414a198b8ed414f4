"""A club's priors, measured: newcomers' first forecasts with and without them, in clubs that are not the model.

Run: ``python -m tests.benchmarks.pool [clubs] [racers]``; the figures of the last run stand in ``docs/model.md``.
"""

import sys
from collections import defaultdict
from collections.abc import Sequence
from typing import Any

import numpy as np

from kunstflug.core.evidence.readings import What
from kunstflug.core.learning.judged import judged
from kunstflug.core.learning.learn import learn
from kunstflug.core.learning.pool import pooled, summary_of
from kunstflug.core.quantity.value import Z80
from kunstflug.pond.season import Day, season
from tests.pond.seasons import boats

RUNS = 5
Off = dict[tuple[str, int, What], list[tuple[float, float]]]


def newcomers(club: int | None, every: Sequence[tuple[int, Any]], racers: int) -> tuple[Off, str]:
    """What was said of newcomers' first two runs, as bought and with what the club's racers taught.

    Parameters
    ----------
    club : seed of the club's world; None for one where nobody's boats are alike.
    every : boats; the first ``racers`` of them teach.
    """
    made = [
        summary_of(season([Day(setup=s, outing=n // 2, logged=k % 2 == 0) for n in range(RUNS)], k, club))
        for k, s in every[:racers]
    ]
    pool = pooled(made)
    off: Off = defaultdict(list)
    for k, setup in every[racers:]:
        runs = season([Day(setup=setup, outing=n, logged=True) for n in range(2)], k, club)
        for name, known in (("bought", None), ("club", pool.club())):
            for n, run in enumerate(judged(learn(runs, club=known))):
                for reading in run.readings:
                    off[name, n, reading.what].append((reading.off_from(reading.then), reading.then.spread))
    return off, f"part in common {pool.share}, width {pool.width}"


def main() -> None:
    """Prints the figures."""
    clubs = int(sys.argv[1]) if len(sys.argv) > 1 else 8
    racers = int(sys.argv[2]) if len(sys.argv) > 2 else 60
    for words, seeds in (("clubs whose boats are alike", range(1, clubs + 1)), ("nobody's boats are alike", [None])):
        off: Off = defaultdict(list)
        for club in seeds:
            every = list(boats(2 * racers, 23 + (club or 0)))
            found, said = newcomers(club, every, racers)
            print(f"  club {club}: {said}")
            for key, rows in found.items():
                off[key] += rows
        print(f"{words}: {racers} racers teach, as many newcomers; as bought | with the club")
        for n in (0, 1):
            for what in dict.fromkeys(what for _, _, what in off):
                print(
                    f"  after {n} runs {what.value:10s} {_row(off['bought', n, what])} | {_row(off['club', n, what])}"
                )


def _row(rows: list[tuple[float, float]]) -> str:
    off, spread = np.array(rows).T
    held, error = np.mean(np.abs(off) < Z80 * spread), np.sqrt(np.mean(off**2))
    return f"error {error:6.3g} mean {np.mean(off):+7.3g} spread {np.median(spread):6.3g} held {held:.2f}"


if __name__ == "__main__":
    main()
