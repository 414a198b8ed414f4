"""Long answers on a real connection: closing one stops the work behind it."""

import asyncio
import json
import socket
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
import uvicorn
from tests import samples

from kunstflug.core.quantity.errors import InvalidValue, Stopped
from kunstflug.documents.plan import ProgressOut, SearchOut
from kunstflug.launch.mariadb import free_port
from kunstflug.web.app import create_app

NOTHING = SearchOut(tried=0, left_out=0, holding=0, found=[], cloud=[])


@pytest.fixture(scope="module")
def served(store):
    port = free_port()
    app = create_app(store, Path("no-front-end"))
    server = uvicorn.Server(uvicorn.Config(app, host="127.0.0.1", port=port, log_level="error"))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    until(lambda: server.started)
    yield app.api.state.line, port
    server.should_exit = True
    thread.join(timeout=20)


def until(true, seconds=30.0):
    end = time.monotonic() + seconds
    while not true():
        assert time.monotonic() < end, "it never came true"
        time.sleep(0.02)


def ask(port: int, body: dict) -> socket.socket:
    """Sends a search and gives the connection on which its answer comes."""
    data = json.dumps(body).encode()
    connection = socket.create_connection(("127.0.0.1", port), 30)
    head = f"POST /api/searches HTTP/1.1\r\nhost: 127.0.0.1:{port}\r\ncontent-type: application/json\r\n"
    connection.sendall(f"{head}content-length: {len(data)}\r\n\r\n".encode() + data)
    return connection


def apart(coroutine):
    """Runs a coroutine on a thread of its own: the browser tests leave a loop in this one."""
    with ThreadPoolExecutor(1) as pool:
        return pool.submit(asyncio.run, coroutine).result()


def test_closing_the_answer_stops_the_work(served):
    line, port = served
    ranges = {"kv": True, "diameter": True, "pitch_ratio": True, "cells": True, "fineness": 90}
    connection = ask(port, {"document": samples.raw(), "over": "ranges", "ranges": ranges})
    told = b""
    while b'"running"' not in told:
        told += connection.recv(65536)
    assert line.waiting == 1
    connection.close()
    until(lambda: line.waiting == 0)  # over a million drives: left alone it would take many seconds
    start = time.monotonic()
    following = ask(port, {"document": samples.raw(), "over": "ranges", "ranges": {"fineness": 3}})
    told = b""
    while b'"state":"done"' not in told:
        told += following.recv(65536)
    assert b'"tried":9' in told
    assert time.monotonic() - start < 15.0  # the place in the line is free
    following.close()


def lines(line, work) -> list[dict]:
    """All lines of a long answer, outside any server."""

    async def read() -> list[dict]:
        return [json.loads(text) async for text in line._lines(work, ProgressOut)]

    return apart(read())


def test_a_refusal_stands_on_the_last_line(served):
    line, _ = served

    def work(heard):
        heard(1, 2)
        raise InvalidValue("sweep", 7, "fewer")

    last = lines(line, work)[-1]
    assert (last["state"], last["done"], last["total"]) == ("failed", 1, 2)
    assert "fewer" in last["problem"]


def test_a_work_that_nobody_wants_stops_at_its_next_report(served):
    line, _ = served
    ended = threading.Event()

    def work(heard):
        try:
            for k in range(100_000):
                heard(k, 100_000)
                time.sleep(0.001)
        except Stopped:
            ended.set()
            raise
        return NOTHING

    async def look_away() -> None:
        answer = line._lines(work, ProgressOut)
        async for text in answer:
            if json.loads(text)["state"] == "running":
                break
        await answer.aclose()

    apart(look_away())
    assert ended.wait(10)
    assert line.waiting == 0


def test_works_wait_for_one_another(served):
    line, _ = served
    together, most = [0], [0]
    lock = threading.Lock()

    def work(heard):
        with lock:
            together[0] += 1
            most[0] = max(most[0], together[0])
        time.sleep(0.05)
        with lock:
            together[0] -= 1
        return NOTHING

    threads = [threading.Thread(target=lines, args=(line, work)) for _ in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert most[0] == 1
