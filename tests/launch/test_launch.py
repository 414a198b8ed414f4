"""Starting and stopping: each fault one clear sentence, nothing left running."""

import json
import os
import signal
import socket
import subprocess
import sys
from pathlib import Path

import pytest
from tests import samples
from tests.launch.whole import told

from kunstflug.core.quantity.errors import StartupProblem
from kunstflug.launch import ports
from kunstflug.launch.demo import Stop
from kunstflug.launch.folder import only_one
from kunstflug.launch.mariadb import PrivateMariaDB, free_port

COMMAND = [sys.executable, "-m", "kunstflug"]


def kunstflug(*words, timeout=60, **more):
    return subprocess.run([*COMMAND, *words], capture_output=True, text=True, timeout=timeout, **more)


def test_a_busy_port_is_one_sentence():
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        with pytest.raises(StartupProblem, match=f"port {port} is taken"):
            ports.listen(port)


@pytest.mark.parametrize("told", ["eighty", "0", "70000", "-1", "", "8 0", "\u0663", "1" * 40])
def test_a_port_or_a_number_of_workers_that_is_none(monkeypatch, told):
    monkeypatch.setenv("KUNSTFLUG_PORT", told)
    with pytest.raises(StartupProblem, match="allowed is 1 to 65535"):
        ports.web_port()
    monkeypatch.setenv("KUNSTFLUG_WORKERS", told)
    with pytest.raises(StartupProblem, match="allowed is 1 to 64"):
        ports.workers()


@pytest.mark.parametrize(("cores", "alone", "club"), [(1, 1, 3), (2, 2, 5), (8, 4, 16), (64, 4, 16), (None, 1, 3)])
def test_a_clubs_server_has_more_web_processes(monkeypatch, cores, alone, club):
    monkeypatch.delenv("KUNSTFLUG_WORKERS", raising=False)
    monkeypatch.setattr(os, "cpu_count", lambda: cores)
    assert (ports.workers(), ports.workers(club=True)) == (alone, club)
    monkeypatch.setenv("KUNSTFLUG_WORKERS", "7")
    assert ports.workers(club=True) == 7


@pytest.mark.parametrize("url", ["nonsense", "sqlite:///x", "mariadb+pymysql://x:y@127.0.0.1:1/z", "what://x"])
def test_an_address_that_is_no_database_is_one_sentence(url):
    done = kunstflug("demo", env={**os.environ, "KUNSTFLUG_DATABASE_URL": url, "KUNSTFLUG_PORT": str(free_port())})
    assert done.returncode == 2
    assert done.stderr.startswith("kunstflug: ")
    assert len(done.stderr.strip().splitlines()) == 1
    assert "y@" not in done.stderr  # no password is told


def test_only_one_at_a_time(tmp_path):
    with only_one(tmp_path), pytest.raises(StartupProblem, match="running already"), only_one(tmp_path):
        pass
    with only_one(tmp_path):  # and free again
        pass


def test_a_folder_that_cannot_be_made(tmp_path):
    (tmp_path / "file").write_text("in the way")
    with pytest.raises(StartupProblem, match="cannot be written"), only_one(tmp_path / "file"):
        pass


def test_missing_mariadb_is_named(monkeypatch, tmp_path):
    monkeypatch.setattr("shutil.which", lambda *a, **k: None)
    with pytest.raises(StartupProblem, match="mariadb-server"):
        PrivateMariaDB(tmp_path).start()


def test_a_broken_data_folder_is_set_aside_never_deleted(tmp_path):
    (tmp_path / "data").mkdir()
    (tmp_path / "data" / "precious").write_text("keep me")
    server = PrivateMariaDB(tmp_path)
    with pytest.raises(StartupProblem, match="data folder was broken"):
        server.start()
    (aside,) = tmp_path.glob("data-broken-*")
    assert (aside / "precious").read_text() == "keep me"
    with server:
        assert server.url("kunstflug_x")


def test_a_folder_that_mariadb_cannot_read_says_why(tmp_path):
    with PrivateMariaDB(tmp_path):
        pass
    (tmp_path / "data" / "ibdata1").write_bytes(b"not a tablespace" * 1000)
    for log in (tmp_path / "data").glob("ib_logfile*"):
        log.write_bytes(b"broken")
    with pytest.raises(StartupProblem, match="did not start"):
        PrivateMariaDB(tmp_path).start()


def test_the_server_listens_on_loopback_only_and_wants_a_password(tmp_path):
    import pymysql

    with PrivateMariaDB(tmp_path) as server:
        with pytest.raises(pymysql.err.OperationalError, match="Access denied"):
            pymysql.connect(host="127.0.0.1", port=server.port, user="kunstflug", password="")
        with pytest.raises(pymysql.err.OperationalError, match="denied"):
            pymysql.connect(host="127.0.0.1", port=server.port, user="root", password="")
        listening = Path("/proc/net/tcp").read_text()
        addresses = [line.split()[1] for line in listening.splitlines() if f":{server.port:04X} 00000000:0000" in line]
        assert addresses == [f"0100007F:{server.port:04X}"]  # 127.0.0.1
        assert (tmp_path / "password").stat().st_mode & 0o077 == 0


def test_forecast_command_needs_no_server(tmp_path):
    path = tmp_path / "setup.json"
    path.write_text(json.dumps(samples.raw()))
    done = kunstflug("forecast", str(path), env={"PATH": "/nowhere"})
    assert done.returncode == 0, done.stderr
    forecast = json.loads(done.stdout)
    assert forecast["runs"]
    assert 15 < forecast["point"]["speed_mps"]["value"] < 35


def test_search_command_needs_no_server_and_says_at_once_that_no_scheduler_answers(tmp_path):
    path = tmp_path / "setup.json"
    path.write_text(json.dumps(samples.raw()))
    wanted = ("search", str(path), "--fineness", "4", "--no-pitch")
    done = kunstflug(*wanted, env={"PATH": "/nowhere"})
    assert done.returncode == 0, done.stderr
    found = json.loads(done.stdout)
    assert found["tried"] == 4 * 4 * 8  # KV, diameter, cells
    assert found["found"][0]["verdict"] == "holds"
    nobody = kunstflug(*wanted, "--scheduler", f"tcp://127.0.0.1:{free_port()}")
    assert nobody.returncode == 2
    assert nobody.stderr.strip().splitlines()[-1].startswith("kunstflug: Nobody answers at tcp://127.0.0.1:")


@pytest.mark.parametrize(
    ("content", "says"),
    [
        ("{", "Line 1: "),
        (
            json.dumps(samples.raw(motor__kv=samples.q(0, "rpm/V"))),
            "KV must be 50 to 20\u202f000 rpm/V (you entered 0 rpm/V).",
        ),
        (json.dumps({"hull": {}}), "The hull's length is missing."),
        (None, "Cannot read "),
    ],
)
def test_a_bad_document_is_one_sentence(tmp_path, content, says):
    path = tmp_path / "setup.json"
    if content is not None:
        path.write_text(content)
    done = told("forecast", str(path))
    assert done.returncode == 2
    assert says in done.stderr
    assert len(done.stderr.strip().splitlines()) == 1


def test_pond_command_writes_files_that_are_read_back(tmp_path):
    from kunstflug.files.controller_csv import read_controller_csv
    from kunstflug.files.track_file import read_track

    path = tmp_path / "setup.json"
    path.write_text(json.dumps(samples.raw()))
    done = kunstflug("pond", "run", str(path), "--out", str(tmp_path / "out"), "--seed", "7")
    assert done.returncode == 0, done.stderr
    gpx, nmea = (read_track((tmp_path / "out" / name).read_bytes()) for name in ("run.gpx", "run.nmea"))
    assert len(gpx.samples) == len(nmea.samples) > 500
    read = read_controller_csv((tmp_path / "out" / "controller.csv").read_bytes())
    assert not read.damages
    assert read.log.columns["rpm"].max() > 10000
    assert "motor front" in (tmp_path / "out" / "readings.csv").read_text()


@pytest.mark.parametrize(("before", "heard"), [(signal.SIG_DFL, True), (signal.SIG_IGN, False)])
def test_what_nohup_starts_goes_on_when_the_terminal_is_closed(before, heard):
    were = {number: signal.getsignal(number) for number in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP)}
    try:
        signal.signal(signal.SIGHUP, before)
        stop = Stop()
        os.kill(os.getpid(), signal.SIGHUP)
        assert stop.wanted == heard
        os.kill(os.getpid(), signal.SIGTERM)
        assert stop.wanted
    finally:
        for number, handler in were.items():
            signal.signal(number, handler)
