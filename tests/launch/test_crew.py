"""Copies of a process: kept at their number, and none outlives the one that it is a copy of."""

import os
import signal
import subprocess
import sys
import time

import pytest
from tests.launch.whole import alive, until

from kunstflug.launch import again

SERVING = """
import os, sys
from kunstflug.launch.crew import Crew

def serve():
    os.write(1, f"{os.getpid()}\\n".encode())
    if sys.argv[1] == "falls":
        raise RuntimeError("nothing works")
    while os.read(0, 10):
        pass

Crew(3, serve).work()
"""


@pytest.fixture
def crew():
    """Three copies, each of which says its number."""
    started = subprocess.Popen(
        [sys.executable, "-c", SERVING, "serves"], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
    )
    yield started
    started.kill()
    started.wait()
    started.stdin.close()
    started.stdout.close()


def numbers(crew, count):
    return [int(crew.stdout.readline()) for _ in range(count)]


def test_who_dies_is_there_again_and_all_end_with_the_line(crew):
    first, second, third = numbers(crew, 3)
    os.kill(second, signal.SIGKILL)
    assert "A web process ended (-9)" in crew.stdout.readline()
    (fourth,) = numbers(crew, 1)
    assert len({first, second, third, fourth}) == 4
    crew.stdin.close()
    assert crew.wait(20) == 0
    assert not [pid for pid in (first, third, fourth) if alive(pid)]


@pytest.mark.parametrize("number", [signal.SIGTERM, signal.SIGKILL])
def test_none_is_left_behind(crew, number):
    copies = numbers(crew, 3)
    crew.send_signal(number)
    crew.wait(20)
    until(lambda: not [pid for pid in copies if alive(pid)], what="the end of all copies")


def test_one_that_always_falls_is_not_started_as_fast_as_it_falls():
    begun = time.monotonic()
    with subprocess.Popen(
        [sys.executable, "-c", SERVING, "falls"],
        stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True,
    ) as falling:  # fmt: skip
        said = [falling.stdout.readline() for _ in range(3 * 2 * 3)]  # three lives of three copies, each with its end
        taken = time.monotonic() - begun
        falling.kill()
    assert sum("starting it again" in line for line in said) >= 6
    assert taken > 0.4  # the second time it waits for half a second


def test_whoever_was_well_for_a_while_is_there_again_at_once(monkeypatch):
    """A process that was killed now and then waited five seconds each time, as one that cannot start."""
    clock = [0.0]
    monkeypatch.setattr(again.time, "monotonic", lambda: clock[0])
    post, waited = again.Again(), []
    for lived in (1.0, 1.0, 1.0, 60.0, 1.0):
        post.started()
        clock[0] += lived
        post.died()
        waited.append(post.at - clock[0])
        clock[0] += 10.0
    assert waited == [0.0, 0.5, 2.0, 0.0, 0.5]
