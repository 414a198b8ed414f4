"""A device on loopback, read line by line: what is said, what is passed over, what happens when it goes away."""

import asyncio
import contextlib
import os
import pty
import re
import socket
import sys
import tty
from datetime import timedelta
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from sqlalchemy import update
from tests import samples

from kunstflug.core.live.watch import Call, Sample, Watch
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.documents.live import Link, LiveOut, SourceIn, live_out
from kunstflug.files.lines import LineCutter
from kunstflug.files.stream import LineReader, json_line, kept_of
from kunstflug.pond.stream import serve_pond
from kunstflug.services.boats import boats
from kunstflug.services.live import drives
from kunstflug.services.live.bridges import Reach, check_reach, reach_of
from kunstflug.services.live.listening import Ear
from kunstflug.services.run import run
from kunstflug.store.tables import LiveDrive


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
    assert first == Sample(
        time_s=0.0, speed_mps=pytest.approx(22.4 * 1852 / 3600), latitude_deg=pytest.approx(48 + 7.038 / 60),
        longitude_deg=pytest.approx(11 + 31 / 60),
    )  # fmt: skip
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


@contextlib.asynccontextmanager
async def pond_at(port, **more):
    ready = asyncio.Event()
    more = {"seed": 3, "dropouts": False, "pace": 60.0, "passes": 3} | more
    task = asyncio.create_task(serve_pond(samples.setup(), port, ready=ready, **more))
    await asyncio.wait_for(ready.wait(), 20)
    try:
        yield
    finally:
        task.cancel()
        with contextlib.suppress(asyncio.CancelledError):
            await task


def test_one_line_never_ends_more_than_itself():
    """A good checksum around what is no latitude, speed or clock: once the listener died of it."""
    reader, fix = LineReader(), b"GPRMC,123519.00,A,4807.038,N,01131.000,E,022.4,084.4,230394,003.1,W"
    odd = [
        fix.replace(b"4807.038", b"48x7.038"), fix.replace(b"4807.038", b"."), fix.replace(b"022.4", b"fast"),
        fix.replace(b"022.4", b"1e400"), fix.replace(b"123519.00", b"999999"), fix.replace(b"123519.00", b"clock"),
        fix.replace(b",N,", b",Q,"), fix.replace(b"4807", b"4877"), b"GPRMC", b"GPRMC,,A,,,,,,,,,",
    ]  # fmt: skip
    for k, body in enumerate(odd):
        assert reader.read(checked(fix.replace(b"3519.00", b"3519.%02d" % (2 * k)))) is not None
        told = reader.read(checked(body))
        assert told is None or told.latitude_deg is None or told.speed_mps is None
    for rubbish in (
        b'{"t": ' + b"9" * 500 + b"}",
        b'{"t": 1e300}',
        b'{"t": [1]}',
        b'{"t": {"t": 1}}',
        b'{"t": "1e999"}',
    ):
        assert reader.read(rubbish) is None
    assert reader.read(checked(fix.replace(b"3519.00", b"3519.90"))).time_s == pytest.approx(0.9)


@given(st.binary(max_size=80), st.sampled_from([b"$GPRMC,", b'{"t":', b'{"t":1,"speed_mps":', b"$", b""]))
def test_no_line_raises(rest, begins):
    reader = LineReader()
    reader.read(begins + rest)
    assert reader.read(b'{"t": 5, "speed_mps": 3}') is not None or reader.astray


def lines_at(times):
    reader = LineReader()
    return [s and round(s.time_s, 3) for s in (reader.read(b'{"t": %s}' % str(t).encode()) for t in times)], reader


def test_a_clock_that_jumps_is_set_aside_and_followed_on():
    told, reader = lines_at([10.0, 10.1, 1e6, 10.2, 10.3, -5e5, 10.4])
    assert told == [0.0, 0.1, None, 0.2, 0.3, None, 0.4]
    assert reader.astray == 2
    # It was set: time goes on where it stood.
    assert lines_at([10.0, 10.1, 50000.0, 50000.1, 50000.2, 50000.3])[0] == [0.0, 0.1, None, None, 0.2, 0.3]
    assert lines_at([5000.0, 5000.1, 3.0, 3.1, 3.2, 3.3])[0] == [0.0, 0.1, None, None, 0.2, 0.3]
    # The first line was the odd one.
    assert lines_at([1e6, 10.0, 10.1, 10.2, 10.3])[0] == [0.0, None, None, 0.1, 0.2]
    # A silence is as long as it was; what is sent again is older.
    assert lines_at([0.0, 400.0, 400.1, 400.2])[0] == [0.0, None, None, 400.2]
    assert lines_at([0.0, 5.0, 2.0, 3.0, 5.1])[0] == [0.0, 5.0, 2.0, 3.0, 5.1]
    # One line a minute is followed, too.
    assert lines_at([0.0, 60.0, 120.0, 180.0])[0][-1] == 180.0


def test_a_glitched_time_ends_no_outing():
    """Once it froze the display, said that the charge is used, and put the rest a day late into the log."""
    following = drives.Following(watch=Watch(samples.setup()), reader=LineReader())
    for k in range(200):
        following.take(json_line(Sample(time_s=0.1 * k, speed_mps=12.0, bus_a=20.0)))
        if k == 100:
            following.take(b'{"t": 1000000, "speed_mps": 12.0, "bus_a": 20.0}')
    state = following.watch.state()
    assert state.time_s == pytest.approx(19.9)
    assert state.used_ah < 0.2
    assert live_out(state, following.reader, Link.THERE).astray == 1


def test_a_fault_of_one_drive_is_no_fault_of_another_and_each_can_be_ended(fresh_store, monkeypatch):
    """Once the first that could not be taken up kept all the others from it, and could never be ended."""
    odd = boats.new_boat(fresh_store, "Odd", samples.document())
    good = boats.new_boat(fresh_store, "Good", samples.document())
    faulty = drives.open_drive(fresh_store, odd.id, tcp(18431))
    healthy = drives.open_drive(fresh_store, good.id, tcp(18432))
    lines = [json_line(Sample(time_s=0.1 * k, speed_mps=9.0, bus_a=20.0)) for k in range(40)]
    drives.keep(fresh_store, faulty.id, "a", 0, lines)
    begin = drives.begin

    def breaks(store, setup_id):
        if setup_id == odd.id:
            raise ZeroDivisionError("no law for this boat")
        return begin(store, setup_id)

    monkeypatch.setattr(drives, "begin", breaks)

    async def wakes():
        ear = Ear(fresh_store)
        try:
            await ear.wake()
            return drives.relay_of(fresh_store, healthy.id)
        finally:
            await ear.close()

    assert asyncio.run(asyncio.wait_for(wakes(), 60)) is not None
    ended = asyncio.run(asyncio.wait_for(Ear(fresh_store).end(faulty.id), 60))
    assert ended.soak is None
    assert run.run(fresh_store, ended.run_id).log is not None


def test_what_nobody_ended_takes_no_device_of_the_next_one(fresh_store):
    """At every start the oldest open drive had the device, and the newest went without."""
    setup = boats.new_boat(fresh_store, "Twice", samples.document())
    old, new = (drives.open_drive(fresh_store, setup.id, SourceIn(kind="udp", port=18451)) for _ in range(2))
    silent = drives.open_drive(fresh_store, setup.id, SourceIn(kind="udp", port=18452))
    with fresh_store.transaction() as session:
        long_ago = drives.now() - timedelta(seconds=drives.GIVES_UP_S + 60)
        session.execute(update(LiveDrive).where(LiveDrive.id == silent.id).values(created_at=long_ago))
    assert drives.of_device(fresh_store, new.source) == [old.id, new.id]

    async def wakes():
        ear = Ear(fresh_store)
        try:
            await ear.wake()
            return drives.relay_of(fresh_store, new.id)
        finally:
            await ear.close()

    assert asyncio.run(asyncio.wait_for(wakes(), 60)) is not None
    ended = [drives.drive(fresh_store, one.id).ended_at is not None for one in (old, new, silent)]
    assert ended == [True, False, True]


CLUB = Reach(named=frozenset({"tcp://10.0.0.20:10110", "serial:///dev/ttyUSB0"}))


@pytest.mark.parametrize(
    ("source", "said"),
    [
        ({"kind": "tcp", "host": "127.0.0.1", "port": 3306}, "the server's operator has named"),
        ({"kind": "tcp", "host": "192.168.1.1", "port": 8080}, "the server's operator has named"),
        ({"kind": "serial", "path": "/dev/sda"}, "the server's operator has named"),
        ({"kind": "serial", "path": "/dev/ttyUSB1"}, "the server's operator has named"),
        ({"kind": "udp", "port": 5353}, "10110 to 10141"),
    ],
)
def test_a_clubs_racer_has_nothing_called_and_nothing_opened_but_what_is_meant_for_it(source, said):
    """Any port of the machine and its network could be told open from shut, any file opened as a serial port."""
    with pytest.raises(InvalidValue) as refused:
        check_reach(SourceIn.model_validate(source), CLUB)
    assert said in str(refused.value.allowed)


def test_a_clubs_racer_has_a_port_and_what_the_operator_named():
    assert check_reach(SourceIn(kind="udp", host="10.0.0.3", port=10115), CLUB).host == "0.0.0.0"
    for named in ({"kind": "tcp", "host": "10.0.0.20"}, {"kind": "serial", "path": "/dev/ttyUSB0"}):
        assert check_reach(SourceIn.model_validate(named), CLUB) == SourceIn.model_validate(named)
    assert reach_of("tcp://10.0.0.20:10110, serial:///dev/ttyUSB0", "10110-10141") == CLUB
    assert reach_of("", "9000") == Reach(ports=range(9000, 9001))


async def followed(store, drive_id, until=None):
    """What is said of a drive until its end, or until something holds."""
    ear, said = Ear(store), []
    try:
        async with contextlib.aclosing(ear.follow(drive_id)) as states:
            async for state in states:
                said.append(LiveOut.model_validate_json(state))
                if until is not None and until(said[-1]):
                    break
    finally:
        await ear.close()
    return said


def tcp(port):
    return SourceIn(port=port)


def test_a_boat_is_followed_from_start_to_landing_and_becomes_a_run(fresh_store):
    setup = boats.new_boat(fresh_store, "Live", samples.document())
    opened = drives.open_drive(fresh_store, setup.id, tcp(18417))

    async def both():
        async with pond_at(18417):
            return await followed(fresh_store, opened.id)

    said = asyncio.run(asyncio.wait_for(both(), 120))
    last = said[-1]
    assert (last.link, last.passes, last.unread) == (Link.ENDED, 3, 0)
    assert last.used_ah > 0.1
    assert [one.time_s for one in said] == sorted(one.time_s for one in said)
    assert {p.words for p in last.places} >= {"motor case", "controller", "pack", "connector"}
    ended = drives.drive(fresh_store, opened.id)
    assert (ended.run_id, ended.kept) == (last.run_id, last.kept)
    made = run.run(fresh_store, ended.run_id)
    assert made.summary.best_2s_mps == pytest.approx(last.best_mps, rel=0.03)
    assert len(made.summary.passes) == 3
    assert made.log.mah == pytest.approx(1000 * last.used_ah, rel=0.03)
    assert drives.drive_of_run(fresh_store, made.id) == ended
    case = next(p for p in ended.soak.places if p.place == "motor front")
    told = next(p for p in last.places if p.node == "case")
    assert case.celsius[0] == pytest.approx(told.celsius, abs=1.0)
    assert all(low <= mid <= high for low, mid, high in zip(case.low_c, case.celsius, case.high_c, strict=True))
    assert case.celsius[-1] < max(case.celsius)
    # Ended again it is what it was.
    assert drives.finish(fresh_store, opened.id) == ended


@pytest.mark.long
def test_a_line_that_cannot_be_followed_is_kept_and_the_boat_is_followed_on(fresh_store, monkeypatch, caplog):
    setup = boats.new_boat(fresh_store, "Odd", samples.document())
    opened = drives.open_drive(fresh_store, setup.id, tcp(18424))
    feed = Watch.feed

    def fails_now_and_then(self, sample, **more):
        if 30.0 < sample.time_s < 30.4:
            raise FloatingPointError("no law for this")
        return feed(self, sample, **more)

    monkeypatch.setattr(Watch, "feed", fails_now_and_then)

    async def both():
        async with pond_at(18424):
            return await followed(fresh_store, opened.id)

    said = asyncio.run(asyncio.wait_for(both(), 120))
    assert said[-1].link is Link.ENDED
    assert said[-1].passes == 3
    ended = drives.drive(fresh_store, opened.id)
    assert ended.kept > 2000
    assert run.run(fresh_store, ended.run_id).summary.best_2s_mps == pytest.approx(said[-1].best_mps, rel=0.03)
    assert "a line could not be followed" in caplog.text


def test_the_bridge_of_the_docs_tells_of_a_boat_that_nobody_looks_at(fresh_store, tmp_path):
    """Listening begins when the drive does; the page alone is enough to write a bridge."""
    page = (Path(__file__).parents[2] / "docs" / "live.md").read_text()
    script = re.search(r"```python\n(.*?)```", page, re.DOTALL)[1]
    assert len(script.splitlines()) <= 45
    (tmp_path / "bridge.py").write_text(script)
    setup = boats.new_boat(fresh_store, "Bridged", samples.document())
    opened = drives.open_drive(fresh_store, setup.id, tcp(18431))
    speeds = [20.0 * min(t / 4.0, 1.0, (20.0 - t) / 4.0) for t in np.arange(0.0, 20.0, 0.1)]
    told = "".join(f"{k / 10},{v:.2f},{2 * v:.1f},{14.8 - v / 20:.2f}\n" for k, v in enumerate(speeds))

    async def listened():
        bridge = await asyncio.create_subprocess_exec(
            sys.executable, str(tmp_path / "bridge.py"), "18431", stdin=asyncio.subprocess.PIPE
        )
        ear = Ear(fresh_store)
        try:
            await ear.begin(opened.id)
            await bridge.communicate(told.encode())
            while drives.drive(fresh_store, opened.id).ended_at is None:
                await asyncio.sleep(0.05)
        finally:
            await ear.close()
        return bridge.returncode

    assert asyncio.run(asyncio.wait_for(listened(), 120)) == 0
    ended = drives.drive(fresh_store, opened.id)
    assert ended.kept == len(speeds) + 1
    made = run.run(fresh_store, ended.run_id)
    assert made.log.samples == len(speeds)
    assert made.log.mah == pytest.approx(sum(speeds) * 2 * 0.1 / 3.6, rel=0.02)


@pytest.mark.long
def test_the_link_breaks_twice_and_nothing_is_missing(fresh_store):
    """A line between them is cut; what was not acknowledged comes again, and each sample counts once."""
    setup = boats.new_boat(fresh_store, "Cut", samples.document())
    opened = drives.open_drive(fresh_store, setup.id, tcp(18427))
    cuts, links = [], []

    async def between(reader, writer):
        there, back = await asyncio.open_connection("127.0.0.1", 18428)
        links.append((writer, back))

        async def pump(source, sink):
            with contextlib.suppress(OSError):
                while data := await source.read(4096):
                    sink.write(data)
            sink.close()

        await asyncio.gather(pump(there, writer), pump(reader, back))

    async def both():
        async with pond_at(18428, pace=20.0):
            server = await asyncio.start_server(between, "127.0.0.1", 18427)

            def cut(state):
                if (state.passes, len(cuts)) in ((1, 0), (2, 1)):
                    cuts.append(state.time_s)
                    for side in links[-1]:
                        side.transport.abort()
                return False

            said = await followed(fresh_store, opened.id, cut)
            server.close()
            return said

    said = asyncio.run(asyncio.wait_for(both(), 120))
    assert len(cuts) == 2
    assert len(links) == 3
    assert {Link.THERE, Link.LOST} <= {one.link for one in said}
    assert said[-1].passes == 3
    times = [LineReader().read(line) for line in drives.kept_lines(fresh_store, opened.id)]
    assert sum(one is None for one in times) == 1  # the end
    whole = run.run(fresh_store, said[-1].run_id)
    drive = drives.begin(fresh_store, setup.id)
    seen = {s.time_s for line in drives.kept_lines(fresh_store, opened.id) if (s := drive.reader.read(line))}
    assert sorted(round(t * 20) for t in seen) == list(range(len(seen)))  # 20 a second, none is missing
    assert whole.log.samples == len(seen)


@pytest.mark.long
def test_whoever_listens_dies_and_another_goes_on(fresh_store):
    setup = boats.new_boat(fresh_store, "Again", samples.document())
    opened = drives.open_drive(fresh_store, setup.id, tcp(18437))

    async def both():
        async with pond_at(18437, pace=20.0):
            first = await followed(fresh_store, opened.id, lambda state: state.passes == 1 and state.kept > 100)
            # As a process that was killed leaves it: somebody is written down who answers no more.
            assert drives.claim(fresh_store, opened.id, None, "1/gone")
            ear, second = Ear(fresh_store), []
            await ear.wake()  # the program is started again
            async with contextlib.aclosing(Ear(fresh_store).follow(opened.id)) as states:
                async for state in states:
                    second.append(LiveOut.model_validate_json(state))
            await ear.close()
            return first, second

    first, second = asyncio.run(asyncio.wait_for(both(), 120))
    assert second[0].kept >= first[-1].kept
    assert second[0].passes == 1
    assert (second[-1].link, second[-1].passes) == (Link.ENDED, 3)


def test_it_is_ended_by_hand_from_another_process(fresh_store):
    setup = boats.new_boat(fresh_store, "By hand", samples.document())
    opened = drives.open_drive(fresh_store, setup.id, tcp(18447))

    async def both():
        async with pond_at(18447, pace=20.0):
            listening = asyncio.create_task(followed(fresh_store, opened.id))
            while drives.drive(fresh_store, opened.id).kept < 50:
                await asyncio.sleep(0.1)
            ended = await Ear(fresh_store).end(opened.id)
            return ended, await listening

    ended, said = asyncio.run(asyncio.wait_for(both(), 120))
    assert ended.run_id == said[-1].run_id is not None
    assert said[-1].link is Link.ENDED


def test_a_speed_without_a_place_is_a_peak_and_a_log(fresh_store):
    setup = boats.new_boat(fresh_store, "Blind", samples.document())
    opened = drives.open_drive(fresh_store, setup.id, tcp(18457))
    lines = [json_line(Sample(time_s=k / 10, speed_mps=min(k / 10, 20.0), bus_a=50.0)) for k in range(300)]
    drives.keep(fresh_store, opened.id, "a", 0, lines)
    drives.keep(fresh_store, opened.id, "a", 0, lines)  # nobody knew whether it had arrived
    drives.keep(fresh_store, opened.id, "b", 0, lines[-5:])  # told again
    made = run.run(fresh_store, drives.finish(fresh_store, opened.id).run_id)
    assert made.summary is None
    assert made.held.speed_mps <= 20.0
    assert made.log.samples == 300
    assert made.log.mah == pytest.approx(50 * 29.9 / 3.6, rel=1e-3)


def test_nothing_received_is_no_run(fresh_store):
    setup = boats.new_boat(fresh_store, "Nothing", samples.document())
    opened = drives.open_drive(fresh_store, setup.id, tcp(18467))
    assert drives.finish(fresh_store, opened.id).run_id is None


def test_datagrams_and_a_serial_port(fresh_store):
    """The same lines by UDP, and at a pseudo-terminal."""
    setup = boats.new_boat(fresh_store, "Others", samples.document())
    lines = [json_line(Sample(time_s=k / 10, speed_mps=5.0)) for k in range(40)]

    async def told(listening, send):
        """Tells the lines again and again, whatever was lost before anybody listened."""
        for k in range(10_000):
            if listening.done():
                break
            with contextlib.suppress(OSError):
                send(lines[k % 40])
            await asyncio.sleep(0.01)
        return await listening

    async def by_udp():
        opened = drives.open_drive(fresh_store, setup.id, SourceIn(kind="udp", port=18477))
        listening = asyncio.create_task(followed(fresh_store, opened.id, lambda state: state.kept >= 40))
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as out:
            out.connect(("127.0.0.1", 18477))
            return await told(listening, lambda line: out.send(line.rstrip(b"\n")))

    async def by_wire():
        ours, theirs = pty.openpty()
        tty.setraw(theirs)
        opened = drives.open_drive(fresh_store, setup.id, SourceIn(kind="serial", path=os.ttyname(theirs)))
        listening = asyncio.create_task(followed(fresh_store, opened.id, lambda state: state.kept >= 40))
        said = await told(listening, lambda line: os.write(ours, line))
        acknowledged = os.read(ours, 4096)
        os.close(ours)
        os.close(theirs)
        return said, acknowledged

    assert asyncio.run(asyncio.wait_for(by_udp(), 60))[-1].speed_mps == 5.0
    said, acknowledged = asyncio.run(asyncio.wait_for(by_wire(), 60))
    assert said[-1].speed_mps == 5.0
    assert kept_of(acknowledged.splitlines()[-1]) >= 40


@pytest.mark.parametrize(
    "where", [{"host": "8.8.8.8"}, {"host": "example.org"}, {"kind": "serial"}, {"host": "0.0.0.0"}]
)
def test_a_device_is_near(fresh_store, where):
    setup = boats.new_boat(fresh_store, "Near", samples.document())
    with pytest.raises(InvalidValue):
        drives.open_drive(fresh_store, setup.id, SourceIn(**where))


@given(st.binary(max_size=9000), st.lists(st.integers(1, 4000), max_size=20))
def test_lines_are_the_same_however_they_arrive(data, cuts):
    """As the standard library splits them, where none is too long."""
    whole = [line for line in data.split(b"\n")[:-1] if line.strip()]
    cutter, found, at = LineCutter(), [], 0
    for cut in [*cuts, len(data)]:
        found += cutter.cut(data[at : at + cut])
        at += cut
    if all(len(line) < 4000 for line in data.split(b"\n")):
        assert found == [line + b"\n" for line in whole]
    assert set(found) <= {line + b"\n" for line in whole}


def test_words_are_short_and_say_why(fresh_store):
    setup = boats.new_boat(fresh_store, "Words", samples.document())
    begun = drives.begin(fresh_store, setup.id)
    told = live_out(begun.watch.state(), begun.reader, Link.THERE)
    assert told.advice is Call.DRIVE
    assert told.words == "Good for another pass"
    begun.watch.feed(Sample(time_s=1.0, speed_mps=1.0, voltage_v=4.0))
    begun.watch.feed(Sample(time_s=3.0, speed_mps=1.0, voltage_v=4.0))
    assert live_out(begun.watch.state(), begun.reader, Link.THERE).words == "Come in now: a cell is low under load"
