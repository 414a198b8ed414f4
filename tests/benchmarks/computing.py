"""A search over millions of drives on 1 to 4 workers of this machine, and, played through, on more than it has.

Run: ``python -m tests.benchmarks.computing [fineness] [workers]``; the last figures stand in ``docs/operating.md``.
"""

import heapq
import os
import sys
import time
from collections.abc import Callable, Sequence

import numpy as np
from distributed import Client, LocalCluster

from kunstflug.core.choose.wide import Piece, Shortlist, merged, narrowed, pieces_of
from kunstflug.core.drive.schools import USUAL
from kunstflug.core.laws import shares
from kunstflug.documents.setup import setup_of
from kunstflug.services.match.search import RangesIn, ranges_for
from kunstflug.services.shared.computing import Elsewhere
from tests.samples import document


def on_one_core(piece: Piece) -> tuple[float, Shortlist]:
    """A piece and the time it took; a worker of this benchmark has one core."""
    shares._helping.now = True
    begin = time.perf_counter()
    found = narrowed(piece)
    return time.perf_counter() - begin, found


def measured(workers: int, pieces: Callable[[], Sequence[Piece]]) -> tuple[float, list[float], int]:
    """Seconds for all pieces, those of each, and the drives on the fronts."""
    with (
        LocalCluster(n_workers=workers, threads_per_worker=1, dashboard_address=None) as cluster,
        Client(cluster, set_as_default=False) as client,
    ):
        work = Elsewhere(client)
        some = pieces()
        list(work.done(on_one_core, some[: 2 * workers]))  # programs and kernels are loaded
        begin = time.perf_counter()
        made = list(work.done(on_one_core, some))
        found = merged(one for _, one in made)
        return time.perf_counter() - begin, [took for took, _ in made], len(found.rows.speed_mps)


def played(workers: int, took: Sequence[float], hand_out_s: float) -> float:
    """Seconds with more workers: each takes the next piece when it is free; the scheduler hands out one at a time."""
    free = [0.0] * workers
    heapq.heapify(free)
    desk = end = 0.0
    for one in took:
        begin = max(heapq.heappop(free), desk)
        desk = begin + hand_out_s if begin == desk else desk + hand_out_s
        heapq.heappush(free, begin + one)
        end = max(end, begin + one)
    return end


def main() -> None:
    """Prints the figures."""
    fineness = int(sys.argv[1]) if len(sys.argv) > 1 else 100
    most = int(sys.argv[2]) if len(sys.argv) > 2 else 4
    setup = setup_of(document())
    ranges = ranges_for(setup, RangesIn(fineness=fineness, pitch_ratio=True, cells=True))
    pieces = list(pieces_of(setup, ranges, USUAL))
    print(f"{ranges.count} drives in {len(pieces)} pieces; {os.cpu_count()} cores, one worker has one")
    alone, took = 0.0, [0.0]
    for workers in range(1, most + 1):
        seconds, each, rows = measured(workers, lambda: pieces)
        if workers == 1:
            alone, took = seconds, each
        rate = f"{alone / seconds:.2f} x one, {ranges.count / seconds:8.0f} drives/s"
        print(f"  {workers} workers: {seconds:6.1f} s, {rate}; a piece {np.median(each):.2f} s, {rows} drives left")
    desk = max((alone - sum(took)) / len(pieces), 0.0)
    print(f"played through, a piece as on one worker, {1e3 * desk:.1f} ms at the scheduler for each:")
    for workers in (2, 4, 8, 16, 32):
        seconds = played(workers, took, desk)
        print(f"  {workers} workers: {seconds:6.1f} s, {sum(took) / seconds:.1f} x one")


if __name__ == "__main__":
    main()
