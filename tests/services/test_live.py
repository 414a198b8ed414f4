"""A device on loopback, read line by line: what is said, what is passed over, what happens when it goes away."""

import asyncio
import contextlib

import pytest
from tests import samples

from kunstflug.core.live.watch import Advice, Sample
from kunstflug.documents.live import live_out
from kunstflug.files.stream import LineReader, json_line
from kunstflug.pond.stream import serve_pond
from kunstflug.services import boats, live


def checked(body):
    total = 0
    for byte in body:
        total ^= byte
    return b"$" + body + b"*%02X\r\n" % total


def test_speed_and_time_of_the_standards_own_sentence():
    """22.4 knots are 11.524 m/s (NMEA 0183; a knot is 1852 m an hour)."""
    reader = LineReader()
    sentence = b"GPRMC,123519.00,A,4807.038,N,01131.000,E,022.4,084.4,230394,003.1,W"
    first = reader.read(checked(sentence))
    assert first == Sample(time_s=0.0, speed_mps=pytest.approx(22.4 * 1852 / 3600))
    later = reader.read(checked(sentence.replace(b"123519.00", b"123519.40")))
    assert later.time_s == pytest.approx(0.4)


def test_midnight_and_a_void_fix():
    reader = LineReader()
    fix = b"GPRMC,235959.50,A,4807.038,N,01131.000,E,010.0,084.4,230394,,"
    assert reader.read(checked(fix)).time_s == 0.0
    assert reader.read(checked(fix.replace(b"235959.50", b"000000.25"))).time_s == pytest.approx(0.75)
    assert reader.read(checked(fix.replace(b",A,", b",V,"))) is None
    assert reader.unread == 0


def test_a_line_of_json_and_back():
    told = Sample(time_s=2.0, speed_mps=21.25, bus_a=80.5, rpm=24000.0, case_c=41.0)
    reader = LineReader()
    reader.read(json_line(Sample(time_s=0.0)))
    assert reader.read(json_line(told)) == told
    assert reader.read(b'{"t": 3, "speed_mps": 900, "rpm": "fast", "throttle": true, "bus_a": 5}') == Sample(
        time_s=3.0, bus_a=5.0
    )


@pytest.mark.parametrize(
    "line", [b"", b"\n", b"{}", b'{"t": null}', b"{", b"\xff\xfe\x00", b"$GPRMC,1*00", b"hello", b"[" * 5000,
             b'{"t": 1e999}', b'{"t": NaN}'],
)  # fmt: skip
def test_rubbish_is_passed_over(line):
    reader = LineReader()
    assert reader.read(line) is None
    assert reader.read(b'{"t": 1, "speed_mps": 3}') == Sample(time_s=0.0, speed_mps=3.0)


def streamed(store, setup_id, port):
    """What is said of a boat on the pond, until it has landed."""

    async def both():
        ready, said = asyncio.Event(), []
        pond = asyncio.create_task(
            serve_pond(samples.setup(), port, seed=3, dropouts=False, pace=60.0, passes=3, ready=ready)
        )
        await asyncio.wait_for(ready.wait(), 20)
        try:
            async with contextlib.aclosing(live.follow(live.begin(store, setup_id), port)) as states:
                said = [state async for state in states]
        finally:
            pond.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await pond
        return said

    return asyncio.run(asyncio.wait_for(both(), 120))


def test_a_boat_is_followed_from_start_to_landing(fresh_store):
    setup = boats.new_boat(fresh_store, "Live", samples.document())
    said = streamed(fresh_store, setup.id, 18417)
    assert said[-1].ended
    assert said[-1].passes == 3
    assert said[-1].unread == 0
    assert said[-1].used_ah > 0.1
    assert [one.time_s for one in said] == sorted(one.time_s for one in said)
    assert {p.words for p in said[-1].places} >= {"motor case", "controller", "pack", "connector"}


def test_nobody_at_the_port_is_an_error(fresh_store):
    setup = boats.new_boat(fresh_store, "Alone", samples.document())

    async def alone():
        async for _ in live.follow(live.begin(fresh_store, setup.id), 18499):
            pass

    with pytest.raises(OSError, match="18499"):
        asyncio.run(alone())


def test_words_are_short_and_say_why(fresh_store):
    setup = boats.new_boat(fresh_store, "Words", samples.document())
    begun = live.begin(fresh_store, setup.id)
    told = live_out(begun.watch.state(), 0, ended=False)
    assert told.advice is Advice.DRIVE
    assert told.words == "Good for another pass"
    begun.watch.feed(Sample(time_s=1.0, speed_mps=1.0, voltage_v=4.0))
    begun.watch.feed(Sample(time_s=3.0, speed_mps=1.0, voltage_v=4.0))
    assert live_out(begun.watch.state(), 0, ended=False).words == "Come in now: a cell is low under load"
