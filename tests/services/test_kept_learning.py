"""What was learnt is worked out once for a state of the log: for all processes, and for the next start."""

import multiprocessing
import os
import threading
import time

import pytest
from tests import samples

from kunstflug.pond import Weather
from kunstflug.services.bin import bin
from kunstflug.services.boats import boats
from kunstflug.services.learning import disk as kept_learning
from kunstflug.services.learning import learning
from kunstflug.services.learning.disk import kept
from kunstflug.services.run import simulated
from kunstflug.services.trim import trim


@pytest.fixture
def folder(tmp_path, monkeypatch):
    monkeypatch.setenv(kept_learning.FOLDER, str(tmp_path / "learnt"))
    return tmp_path / "learnt"


def slow(folder, seconds):
    (folder / f"made-{os.getpid()}-{threading.get_ident()}").touch()
    time.sleep(seconds)
    return list(range(1000))


def ask(folder, seconds=0.5):
    return kept(["a", 1], lambda: slow(folder, seconds))


def test_many_at_once_work_it_out_once(folder):
    folder.mkdir()
    context = multiprocessing.get_context("fork")
    others = [context.Process(target=ask, args=(folder,)) for _ in range(3)]
    for one in others:
        one.start()
    for one in others:
        one.join()
    assert ask(folder) == list(range(1000))
    assert len(list(folder.glob("made-*"))) == 1


def test_what_is_broken_or_of_another_program_is_made_again(folder, monkeypatch):
    folder.mkdir()
    ask(folder, 0)
    (path,) = folder.glob("*.pickle")
    assert path.stat().st_mode & 0o077 == 0
    path.write_bytes(path.read_bytes()[:100])
    assert ask(folder, 0) == list(range(1000))
    monkeypatch.setattr(kept_learning, "_program", lambda: "another one")
    ask(folder, 0)
    assert len(list(folder.glob("*.pickle"))) == 2
    assert kept(["a", 2], lambda: "other") == "other"


def test_what_nobody_asked_for_goes_first(folder, monkeypatch):
    monkeypatch.setattr(kept_learning, "MOST_FILES", 4)
    for k in range(6):
        kept([k], lambda: "x")
    assert len(list(folder.iterdir())) <= 4


def test_where_nothing_can_be_kept_it_is_made_each_time(tmp_path, monkeypatch):
    (tmp_path / "file").touch()
    monkeypatch.setenv(kept_learning.FOLDER, str(tmp_path / "file" / "below"))
    made = []
    for _ in range(2):
        kept(["x"], lambda: made.append(1))
    assert len(made) == 2


def forgotten(store):
    """Another process, or the next start: nothing in memory."""
    learning._caches.pop(store.engine, None)


def test_the_next_start_learns_nothing_anew_and_says_the_same(folder, fresh_store, monkeypatch):
    setup = boats.new_boat(fresh_store, "Kept", samples.document())
    simulated.simulate(fresh_store, setup.id, 1, 2, Weather())
    learning.forget(fresh_store)
    before = learning.knowledge_of(fresh_store, setup.boat_id)
    shown = trim.trim(fresh_store, setup.id, None)
    forgotten(fresh_store)

    def never(*args, **more):
        raise AssertionError("it was worked out again")

    for name in ("learn", "judged", "seen_runs"):
        monkeypatch.setattr(learning, name, never)
    after = learning.knowledge_of(fresh_store, setup.boat_id)
    assert after is not before
    assert (after.identity, after.mean.tolist()) == (before.identity, before.mean.tolist())
    assert trim.trim(fresh_store, setup.id, None) == shown


def test_a_log_that_changes_while_it_is_read_is_read_again(folder, fresh_store, monkeypatch):
    """Else the newer runs would be kept under the older state, and be found there when the state comes back."""
    setup = boats.new_boat(fresh_store, "Moves", samples.document())
    simulated.simulate(fresh_store, setup.id, 1, 2, Weather())
    learning.forget(fresh_store)
    read, moved = learning.seen_runs, []

    def moves(session, owner):
        found = read(session, owner)
        if not moved:
            moved.append(simulated.simulate(fresh_store, setup.id, 2, 2, Weather()).id)
        return found

    monkeypatch.setattr(learning, "seen_runs", moves)
    assert learning.knowledge_of(fresh_store, setup.boat_id).runs == 2
    monkeypatch.setattr(learning, "seen_runs", read)
    bin.take_out(fresh_store, "run", moved[0])
    learning.forget(fresh_store)
    assert learning.knowledge_of(fresh_store, setup.boat_id).runs == 1


def test_trim_and_knowledge_judge_a_season_once(fresh_store, monkeypatch):
    """Six seconds for 200 runs, at every request."""
    setup = boats.new_boat(fresh_store, "Once", samples.document())
    simulated.simulate(fresh_store, setup.id, 1, 2, Weather())
    forgotten(fresh_store)
    counted, judged = [], learning.judged
    monkeypatch.setattr(learning, "judged", lambda learned: counted.append(1) or judged(learned))
    for _ in range(3):
        trim.trim(fresh_store, setup.id, None)
    assert len(counted) == 1
