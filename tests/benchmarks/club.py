"""A club's server under load: ``python -m tests.benchmarks.club load [minutes] [racers]``, ``proxy [seconds]``,
``cluster [seconds]``.

A thousand racers with twenty boats and two hundred runs each, made in the database from one; a hundred of them read and
draft. Three servers behind Debian's nginx, one killed every few seconds while racers save. A Galera cluster of three
nodes, one killed and brought back every few seconds, then two at once. Nothing acknowledged may be missing, nothing may
be there twice, and no request may wait for over five seconds.
"""

import asyncio
import json
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import uuid
from collections import Counter, defaultdict
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Any

from sqlalchemy import MetaData, Table, create_engine, text

from kunstflug.launch.mariadb import PrivateMariaDB, free_port
from kunstflug.pond import Weather
from kunstflug.services.account import accounts
from kunstflug.services.account.accounts import Client
from kunstflug.services.boats import boats
from kunstflug.services.run import simulated
from kunstflug.store.acting import Acting, acting
from kunstflug.store.backup import restore_backup, write_backup
from kunstflug.store.database import Store
from kunstflug.store.migrate import downgrade, migrate
from kunstflug.store.people import Racer
from kunstflug.web.who import COOKIE
from tests import samples
from tests.samples import q

RACERS, BOATS, RUNS_EACH = 1000, 20, 10
CLIENTS = 100
PAUSE_S = (0.5, 1.5)
STRIDE = 100_000
KILL_EVERY_S = 4.0
LONGEST_S = 5.0
_TREE = ("boats", "parts", "setups", "setup_parts", "forecasts", "runs", "temperature_readings",
         "observations")  # fmt: skip
"""What is copied from one racer to the others; tracks are not: they would be a hundred gigabytes."""


def racer(store: Store, name: str) -> int:
    """A racer without ceremony."""
    with store.transaction() as session:
        row = Racer(name=name, role="racer", password_hash="none")
        session.add(row)
        session.flush()
        return row.id


def first_racer(store: Store) -> int:
    """The one that all others are copies of."""
    owner = racer(store, "racer 0")
    with acting(Acting(racer=owner)):
        for k in range(BOATS):
            made = boats.new_boat(store, f"boat {k}", samples.document(all_up_mass=q(1900 + 10 * k, "g")))
            for seed in range(2 if k == 0 else 1):
                simulated.simulate(store, made.id, seed + 1, 1, Weather())
    return owner


def copies(url: str, owner: int, count: int) -> None:
    """So many more racers with the same boats, setups and runs, each under numbers of their own."""
    engine = create_engine(url, connect_args={"read_timeout": 3600, "write_timeout": 3600})
    metadata = MetaData()
    with engine.begin() as connection:
        connection.execute(text("SET SESSION unique_checks = 0, foreign_key_checks = 0"))
        connection.execute(text("CREATE TEMPORARY TABLE numbers (k INT PRIMARY KEY)"))
        connection.execute(text("INSERT INTO numbers VALUES " + ",".join(f"({k})" for k in range(1, count))))
        runs_left = RUNS_EACH - 1
        _more_runs(connection, metadata, owner, runs_left)
        base = connection.execute(text("SELECT MAX(id) + 1000 FROM racers")).scalar_one()
        connection.execute(
            text(f"INSERT INTO racers (id, name, role, password_hash, demo, created_at) "
                 f"SELECT {base} + k, CONCAT('racer ', k), 'racer', 'none', '', UTC_TIMESTAMP() FROM numbers")
        )  # fmt: skip
        for name in _TREE:
            table = Table(name, metadata, autoload_with=connection)
            columns = [c.name for c in table.columns]
            values = [_copied(c, base) for c in columns]
            connection.execute(
                text(f"INSERT INTO `{name}` ({', '.join(f'`{c}`' for c in columns)}) "
                     f"SELECT {', '.join(values)} FROM `{name}` t JOIN numbers n WHERE t.owner_id = {owner}")
            )  # fmt: skip
    engine.dispose()


def _copied(column: str, base: int) -> str:
    if column == "owner_id":
        return f"{base} + n.k"
    if column == "uid":
        return "MD5(CONCAT(t.uid, n.k))"
    keys = ("id", "boat_id", "setup_id", "run_id", "part_id", "parent_id")
    return f"t.`{column}` + n.k * {STRIDE}" if column in keys else f"t.`{column}`"


def _more_runs(connection: Any, metadata: MetaData, owner: int, more: int) -> None:
    table = Table("runs", metadata, autoload_with=connection)
    columns = [c.name for c in table.columns if c.name not in ("id", "uid", "started_at", "content_hash")]
    named = ", ".join(f"`{c}`" for c in columns)
    picked = ", ".join(f"t.`{c}`" for c in columns)
    connection.execute(
        text(f"INSERT INTO runs (uid, started_at, {named}) SELECT MD5(CONCAT(t.uid, 'x', n.k)), "
             f"t.started_at - INTERVAL n.k DAY, {picked} FROM runs t JOIN numbers n "
             f"WHERE t.owner_id = {owner} AND n.k <= {more}")
    )  # fmt: skip


class Server:
    """``kunstflug serve --accounts`` on a database that is there, with a port of its own."""

    def __init__(self, url: str, folder: Path, workers: int = 1) -> None:
        self.port, self.url, self.folder, self.workers = free_port(), url, folder, workers
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        """Starts it, and waits until it is ready."""
        env = {
            **os.environ, "KUNSTFLUG_DATABASE_URL": self.url, "KUNSTFLUG_PORT": str(self.port),
            "KUNSTFLUG_RUN": str(self.folder), "KUNSTFLUG_WORKERS": str(self.workers),
        }  # fmt: skip
        words = [sys.executable, "-m", "kunstflug", "serve", "--accounts"]
        log = (self.folder / f"{self.port}.log").open("ab")
        self.process = subprocess.Popen(words, env=env, stdout=log, stderr=log, start_new_session=True)

    def kill(self) -> None:
        """Kills it with its web process, at once."""
        assert self.process is not None
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()

    def stop(self) -> None:
        """Ends it in order."""
        assert self.process is not None
        self.process.terminate()
        self.process.wait(20)

    def memory_mb(self) -> float:
        """Memory of its web processes, what they share counted once."""
        found = subprocess.run(["pgrep", "-f", "kunstflug.launch.worker"], capture_output=True, text=True).stdout
        kilobytes = 0
        for pid in found.split():
            with suppress(OSError):
                lines = Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines()
                kilobytes += next(int(line.split()[1]) for line in lines if line.startswith("Pss:"))
        return kilobytes / 1024


async def asked(
    reader: asyncio.StreamReader, writer: asyncio.StreamWriter, token: str, method: str, path: str, host: str,
    body: Any = None, **headers: str,
) -> tuple[int, bytes]:  # fmt: skip
    """One request on a connection; the status and the body of its answer."""
    raw = b"" if body is None else json.dumps(body).encode()
    lines = [f"{method} {path} HTTP/1.1", f"host: {host}", f"cookie: {COOKIE}={token}", f"content-length: {len(raw)}"]
    lines += ["content-type: application/json"] * (body is not None) + [f"{k}: {v}" for k, v in headers.items()]
    writer.write(("\r\n".join(lines) + "\r\n\r\n").encode() + raw)
    head = (await reader.readuntil(b"\r\n\r\n")).lower()
    length = int(head.split(b"content-length: ")[1].split(b"\r\n")[0]) if b"content-length" in head else 0
    return int(head.split(b" ")[1]), await reader.readexactly(length)


async def until_ready(port: int, seconds: float = 60) -> None:
    """Waits until a server may be sent requests."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        try:
            reader, writer = await asyncio.open_connection("127.0.0.1", port)
            status, _ = await asked(reader, writer, "", "GET", "/api/ready", f"127.0.0.1:{port}")
            writer.close()
            if status == 204:
                return
        except (OSError, asyncio.IncompleteReadError):
            pass
        await asyncio.sleep(0.2)
    raise AssertionError("never ready")


async def load(port: int, tokens: list[str], seconds: float) -> tuple[dict[str, list[float]], Counter[str]]:
    """Racers who read their lists and draft, each looking a second in between."""
    times: dict[str, list[float]] = defaultdict(list)
    wrong: Counter[str] = Counter()
    end = time.monotonic() + seconds
    host = f"127.0.0.1:{port}"

    async def client(number: int, token: str) -> None:
        rng = random.Random(number)
        reader, writer = await asyncio.open_connection("127.0.0.1", port)
        _, raw = await asked(reader, writer, token, "GET", "/api/boats", host)
        mine = json.loads(raw)["items"]
        document = json.loads(
            (await asked(reader, writer, token, "GET", f"/api/setups/{mine[0]['setup_id']}", host))[1]
        )
        await asyncio.sleep(rng.uniform(0, 1))
        while time.monotonic() < end:
            boat = rng.choice(mine)
            draft = rng.random() < 0.5
            change = {"path": "propeller.diameter", "value": q(rng.uniform(38, 46), "mm")}
            path = rng.choice(
                ["/api/boats", f"/api/boats/{boat['id']}/runs", f"/api/boats/{boat['id']}/setups", "/api/parts"]
            )
            start = time.perf_counter()
            if draft:
                body = {"document": document["document"], "changes": [change]}
                status, _ = await asked(reader, writer, token, "POST", "/api/draft", host, body)
            else:
                status, _ = await asked(reader, writer, token, "GET", path, host)
            times["draft" if draft else "read"].append(time.perf_counter() - start)
            if status != 200:
                wrong[f"{path if not draft else 'draft'} {status}"] += 1
            await asyncio.sleep(rng.uniform(*PAUSE_S))
        writer.close()

    await asyncio.gather(*(client(k, token) for k, token in enumerate(tokens)))
    return times, wrong


def percentile(times: list[float], part: float) -> float:
    """In milliseconds."""
    return sorted(times)[int(len(times) * part)] * 1e3


def under_load(server: PrivateMariaDB, folder: Path, minutes: float, racers: int) -> None:
    """Seeds, loads, prints."""
    url = server.url("kunstflug")
    store = Store(url, accounts=True)
    migrate(store.engine)
    start = time.monotonic()
    owner = first_racer(store)
    copies(url, owner, racers)
    with store.engine.connect() as connection:
        counted = [
            connection.execute(text(f"SELECT COUNT(*) FROM {t}")).scalar_one() for t in ("racers", "boats", "runs")
        ]
    print(
        f"{counted[0]} racers, {counted[1]} boats, {counted[2]} runs, made in {time.monotonic() - start:.0f} s",
        flush=True,
    )
    with store.engine.connect() as connection:
        ids = connection.execute(text("SELECT id FROM racers WHERE name LIKE 'racer %' ORDER BY RAND(1) LIMIT 100"))
        owners = [row[0] for row in ids]
    tokens = [accounts.new_login(store, one, Client()) for one in owners]
    whole = Server(url, folder, workers=2 * (os.cpu_count() or 1) + 1)  # as many as it starts by itself
    whole.start()
    asyncio.run(until_ready(whole.port))
    asyncio.run(load(whole.port, tokens, 15))  # warm
    before, cpu = whole.memory_mb(), os.times()
    begun = time.monotonic()
    times, wrong = asyncio.run(load(whole.port, tokens, minutes * 60))
    own = os.times()
    share = (own.user + own.system - cpu.user - cpu.system) / (time.monotonic() - begun)
    for kind, found in sorted(times.items()):
        print(f"  {kind}: {len(found)}, median {percentile(found, 0.5):.0f}, p95 {percentile(found, 0.95):.0f}, "
              f"p99 {percentile(found, 0.99):.0f} ms")  # fmt: skip
    print(f"  errors {dict(wrong)}; memory {before:.0f} MB before, {whole.memory_mb():.0f} MB after; the clients took "
          f"{share:.2f} of {os.cpu_count()} cores, load {os.getloadavg()[0]:.1f}", flush=True)  # fmt: skip
    whole.stop()
    store.close()


def nginx_conf(folder: Path, port: int, ports: list[int]) -> Path:
    """The proxy as in ``deploy/nginx.conf``, without TLS."""
    servers = "\n".join(f"server 127.0.0.1:{p} max_fails=1 fail_timeout=2s;" for p in ports)
    path = folder / "nginx.conf"
    path.write_text(
        f"""daemon off; worker_processes 1; pid {folder}/nginx.pid; error_log {folder}/nginx.log;
events {{ worker_connections 512; }}
http {{
  access_log off; client_body_temp_path {folder}/b; proxy_temp_path {folder}/p; fastcgi_temp_path {folder}/f;
  uwsgi_temp_path {folder}/u; scgi_temp_path {folder}/s;
  upstream kunstflug {{ {servers} }}
  server {{ listen 127.0.0.1:{port};
    location / {{ proxy_pass http://kunstflug; proxy_http_version 1.1; proxy_set_header Connection "";
      proxy_set_header Host 127.0.0.1:{port}; proxy_next_upstream error timeout http_502 http_503;
      proxy_next_upstream_tries 3; proxy_next_upstream_timeout 5s; proxy_connect_timeout 1s; proxy_buffering off; }} }}
}}"""
    )
    return path


Strike = Callable[[random.Random], None]


async def save_and_kill(port: int, strike: Strike, tokens: list[str], seconds: float) -> dict[str, Any]:
    """Racers who save, each again with the same key until it is answered; something is killed meanwhile."""
    end = time.monotonic() + seconds
    kept: dict[str, list[int]] = {token: [] for token in tokens}
    waits: list[float] = []
    again = kills = 0
    host = f"127.0.0.1:{port}"

    async def client(number: int, token: str) -> None:
        nonlocal again
        rng = random.Random(number)
        while time.monotonic() < end:
            key = uuid.uuid4().hex
            body = {"name": key, "document": samples.raw()}
            while True:
                start = time.perf_counter()
                try:
                    reader, writer = await asyncio.open_connection("127.0.0.1", port)
                    asking = asked(reader, writer, token, "POST", "/api/boats", host, body, **{"idempotency-key": key})
                    status, raw = await asyncio.wait_for(asking, 20)
                    writer.close()
                except (OSError, asyncio.IncompleteReadError, TimeoutError, IndexError):
                    status, raw = 0, b""
                waits.append(time.perf_counter() - start)
                if status == 201:
                    kept[token].append(json.loads(raw)["boat_id"])
                    break
                again += 1
                await asyncio.sleep(0.2)
            await asyncio.sleep(rng.uniform(0.2, 0.6))

    async def killer() -> None:
        nonlocal kills
        rng = random.Random(7)
        while time.monotonic() < end - KILL_EVERY_S:
            await asyncio.sleep(KILL_EVERY_S)
            await asyncio.to_thread(strike, rng)
            kills += 1

    await asyncio.gather(killer(), *(client(k, token) for k, token in enumerate(tokens)))
    return {"kept": kept, "waits": waits, "again": again, "kills": kills}


def behind_a_proxy(url: str, folder: Path, seconds: float) -> None:
    """Three servers behind nginx, one killed every few seconds."""
    nginx = shutil.which("nginx", path="/usr/sbin:/usr/bin")
    if nginx is None:
        print("nginx is missing; install Debian's package nginx-light")
        return
    store = Store(url, accounts=True)
    names = [f"saver {uuid.uuid4().hex[:8]}" for _ in range(6)]
    owners = [racer(store, name) for name in names]
    tokens = [accounts.new_login(store, one, Client()) for one in owners]
    servers = [Server(url, folder) for _ in range(3)]
    for one in servers:
        one.start()
    for one in servers:
        asyncio.run(until_ready(one.port))
    port = free_port()
    proxy = subprocess.Popen([nginx, "-c", str(nginx_conf(folder, port, [s.port for s in servers]))])
    time.sleep(1)

    def strike(rng: random.Random) -> None:
        one = rng.choice(servers)
        one.kill()
        one.start()

    found = asyncio.run(save_and_kill(port, strike, tokens, seconds))
    proxy.terminate()
    for one in servers:
        one.stop()
    told(f"behind the proxy, {seconds:.0f} s, a server killed", store, found, dict(zip(tokens, owners, strict=True)))
    store.close()


def told(what: str, store: Store, found: dict[str, Any], owners: dict[str, int]) -> None:
    """Prints what was lost, and how long anybody waited."""
    lost = twice = 0
    with store.engine.connect() as connection:
        for token, owner in owners.items():
            rows = connection.execute(text("SELECT id, name FROM boats WHERE owner_id = :o"), {"o": owner}).all()
            lost += len(set(found["kept"][token]) - {row.id for row in rows})
            twice += len(rows) - len({row.name for row in rows})
    saved, waits = sum(len(v) for v in found["kept"].values()), found["waits"]
    print(f"{what} {found['kills']} times: {saved} saved, {found['again']} requests sent again; {lost} lost, {twice} "
          f"twice; median {percentile(waits, 0.5):.0f} ms, p99 {percentile(waits, 0.99):.0f} ms, longest "
          f"{max(waits):.1f} s (at most {LONGEST_S:.0f})", flush=True)  # fmt: skip


def cluster(folder: Path, words: str, n: int | str = "") -> str:
    """Tells ``tools/cluster.sh`` to do something."""
    command = [str(Path(__file__).parents[2] / "tools" / "cluster.sh"), str(folder), words, str(n)]
    done = subprocess.run(command, capture_output=True, text=True, timeout=180, check=False)
    assert done.returncode == 0, done.stderr[-2000:]
    return done.stdout.strip()


def on_a_cluster(folder: Path, seconds: float) -> None:
    """One server on three nodes, one node killed and brought back over and over; then a split, a rejoin, a backup."""
    nodes = folder / "nodes"
    cluster(nodes, "make")
    url = cluster(nodes, "url")
    store = Store(url, accounts=True)
    migrate(store.engine)
    owners = {}
    for _ in range(6):
        one = racer(store, f"saver {uuid.uuid4().hex[:8]}")
        owners[accounts.new_login(store, one, Client())] = one
    web = Server(url, folder)
    web.start()
    asyncio.run(until_ready(web.port))

    def strike(rng: random.Random) -> None:
        n = rng.choice([1, 2, 3])
        cluster(nodes, "kill", n)
        time.sleep(2)
        cluster(nodes, "node", n)

    found = asyncio.run(save_and_kill(web.port, strike, list(owners), seconds))
    told(f"on three nodes, {seconds:.0f} s, a node killed and brought back", store, found, owners)
    _more_on_a_cluster(web, nodes, url, store, owners, found, seconds)
    same = {}
    for n in (1, 2, 3):
        alone = create_engine(url.replace(url.partition("@")[2].partition("/")[0], f"127.0.0.1:{13400 + n}"))
        with alone.connect() as connection:
            same[n] = connection.execute(
                text("SELECT COUNT(*), COALESCE(SUM(CRC32(CONCAT(id, name))), 0) FROM boats")
            ).one()
        alone.dispose()
    print(f"all nodes alike: {len(set(same.values())) == 1}", flush=True)
    # Two of three at once: the last one must not go on alone.
    cluster(nodes, "kill", 2)
    cluster(nodes, "kill", 3)
    time.sleep(4)
    token = next(iter(owners))

    async def alone_answers() -> tuple[int, float]:
        reader, writer = await asyncio.open_connection("127.0.0.1", web.port)
        start = time.perf_counter()
        body = {"name": "alone", "document": samples.raw()}
        status, _ = await asked(reader, writer, token, "POST", "/api/boats", f"127.0.0.1:{web.port}", body)
        return status, time.perf_counter() - start

    status, took = asyncio.run(alone_answers())
    print(f"one node of three left: a save is answered {status} after {took:.1f} s (503 is right)", flush=True)
    cluster(nodes, "kill", 1)
    cluster(nodes, "first", 1)
    cluster(nodes, "node", 2)
    cluster(nodes, "node", 3)
    asyncio.run(until_ready(web.port))
    status, took = asyncio.run(alone_answers())
    print(f"all three again: a save is answered {status} after {took:.1f} s", flush=True)
    told("after the split and the rejoin, killed", store, found, {t: o for t, o in owners.items() if t != token})
    web.stop()
    store.close()
    cluster(nodes, "stop")


def _more_on_a_cluster(
    web: Server, nodes: Path, url: str, store: Store, owners: dict[str, int], found: dict[str, Any], seconds: float
) -> None:
    """Lines that break, migrations and backups, each while racers save; what was saved is added to ``found``."""

    def node(n: int) -> str:
        return url.replace(url.partition("@")[2].partition("/")[0], f"127.0.0.1:{13400 + n}")

    def cut(rng: random.Random) -> None:
        n = rng.choice([1, 2, 3])
        cluster(nodes, "cut", n)
        time.sleep(6)
        cluster(nodes, "mend", n)
        time.sleep(4)

    def roll(rng: random.Random) -> None:
        one = Store(node(rng.choice([1, 2, 3])))
        downgrade(one.engine, "0013")  # two tables less, as before an upgrade
        migrate(one.engine)
        one.close()

    written: list[int] = []

    def back_up(rng: random.Random) -> None:
        one = Store(node(rng.choice([1, 2, 3])))
        written.append(write_backup(one.engine, nodes / f"{len(written)}.zip").rows["boats"])
        one.close()

    for what, strike in (("its line cut and mended", cut), ("migrated", roll), ("backed up", back_up)):
        more = asyncio.run(save_and_kill(web.port, strike, list(owners), seconds / 2))
        for token, boats_ in more["kept"].items():
            found["kept"][token] += boats_
        told(f"on three nodes, {seconds / 2:.0f} s, a node {what}", store, {**more, "kept": found["kept"]}, owners)
    with PrivateMariaDB(nodes / "elsewhere") as other:
        there = Store(other.url("kunstflug_restored"))
        restored = restore_backup(there.engine, nodes / f"{len(written) - 1}.zip").rows["boats"]
        there.close()
    print(f"backups of one node: {written} boats; the last restored elsewhere: {restored} boats", flush=True)


def main() -> None:
    """Prints the figures."""
    what = sys.argv[1] if len(sys.argv) > 1 else "load"
    words = [float(word) for word in sys.argv[2:]]
    folder = Path(tempfile.mkdtemp(prefix="kunstflug-club-"))
    os.chmod(folder, 0o755)  # a cluster's nodes run as a user of their own
    if what == "cluster":
        on_a_cluster(folder, *(words or [90.0]))
    else:
        with PrivateMariaDB(folder / "db") as server:
            if what == "load":
                minutes, racers = [*words, *(10.0, float(RACERS))[len(words) :]]
                under_load(server, folder, minutes, int(racers))
            else:
                store = Store(server.url("kunstflug"))
                migrate(store.engine)
                store.close()
                behind_a_proxy(server.url("kunstflug"), folder, *(words or [60.0]))
    shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
