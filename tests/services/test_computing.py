"""Work that is larger than a request: the same wherever it is done, stopped when nobody waits, refused at once."""

import os
import sys
from contextlib import suppress
from pathlib import Path

import numpy as np
import pytest
from distributed import LocalCluster
from tests.samples import document, setup

from kunstflug.core.choose.sweep import ranges_about, sweep
from kunstflug.core.choose.wide import fronts_of
from kunstflug.core.drive.schools import USUAL
from kunstflug.core.quantity.errors import MissingPackages, Stopped, Unreachable
from kunstflug.core.quantity.progress import unheard
from kunstflug.services.match import search
from kunstflug.services.shared.computing import computing
from kunstflug.wording import say_error

RANGES = ranges_about(setup(), kv=np.linspace(1500, 3200, 9), diameter=np.linspace(0.036, 0.05, 7))


def test_many_workers_find_the_same(monkeypatch):
    monkeypatch.setattr(search, "ALONE", 10)
    whole, heard = sweep(setup(), RANGES), []
    found = search._searched(setup(), RANGES, USUAL, lambda done, total: heard.append((done, total)))
    np.testing.assert_array_equal(found.rows.speed_mps, whole.speed_mps[fronts_of(whole)])
    assert heard[0] == (0, RANGES.count)
    assert heard[-1] == (RANGES.count, RANGES.count)


def test_a_search_that_nobody_waits_for_any_more_stops(monkeypatch):
    monkeypatch.setattr(search, "ALONE", 10)

    def enough(done, total):
        if done:
            raise Stopped("stopped")

    with pytest.raises(Stopped):
        search._searched(setup(), RANGES, USUAL, enough)


def test_where_nobody_computes_it_is_said_within_seconds():
    with pytest.raises(Unreachable, match=r"127\.0\.0\.1:9"), computing("tcp://127.0.0.1:9"):
        raise AssertionError("nobody is there")


def test_without_the_optional_packages_it_is_said_what_to_install(monkeypatch):
    monkeypatch.setitem(sys.modules, "dask", None)
    with pytest.raises(MissingPackages) as missing, computing("tcp://127.0.0.1:9"):
        raise AssertionError("there is no Dask")
    assert "pip install 'kunstflug[wide]'" in say_error(missing.value)
    assert sorted(work_done()) == [0, 2, 4], "this machine's own cores need none"


def test_this_machines_own_cores_need_no_socket_that_listens():
    """Dask opened a scheduler and a page to the whole network, without a password, for threads of one process."""
    before = listening_sockets()
    with computing("") as work:
        assert sorted(work.done(_twice, range(50))) == list(range(0, 100, 2))
        assert listening_sockets() == before


def listening_sockets():
    """Inodes of this process's TCP sockets that listen (state 0A in /proc/net/tcp)."""
    mine = set()
    for fd in os.listdir("/proc/self/fd"):
        with suppress(OSError):  # the one that lists them is gone by now
            mine.add(os.readlink(f"/proc/self/fd/{fd}"))
    rows = [line.split() for name in ("tcp", "tcp6") for line in Path(f"/proc/net/{name}").read_text().splitlines()[1:]]
    return {row[9] for row in rows if row[3] == "0A" and f"socket:[{row[9]}]" in mine}


def test_pieces_are_taken_when_there_is_room_for_them():
    """Of a thousand pieces only a few are made before the first is done."""
    made = []

    def pieces():
        for k in range(1000):
            made.append(k)
            yield k

    with computing("") as work:
        results = work.done(_twice, pieces())
        next(results)
        assert len(made) < 100
        results.close()
    assert sorted(work_done()) == [0, 2, 4]


def _twice(k):
    return 2 * k


def work_done():
    with computing("") as work:
        return list(work.done(_twice, range(3)))


def test_a_scheduler_at_an_address_finds_the_same():
    """Over TCP, as with workers on other machines: pieces and what is left of them are sent."""
    alone = {"n_workers": 1, "threads_per_worker": 2, "processes": False, "dashboard_address": None}
    with LocalCluster(**alone, protocol="tcp") as many:
        assert many.scheduler_address.startswith("tcp://")
        wanted = search.RangesIn(fineness=9, cells=True)
        here, there = (
            search.search_ranges(document(), USUAL, wanted, None, unheard, scheduler=at)
            for at in (None, many.scheduler_address)
        )
    assert there == here
