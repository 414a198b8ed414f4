"""The whole program as a process of its own, for the tests that kill parts of it."""

import io
import json
import os
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from typing import Any
from unittest.mock import patch

from kunstflug.cli import main
from kunstflug.launch.mariadb import free_port

COMMAND = [sys.executable, "-m", "kunstflug"]


def alive(pid: int) -> bool:
    """Whether a process is there and no zombie."""
    try:
        return "State:\tZ" not in Path(f"/proc/{pid}/status").read_text()
    except OSError:
        return False


def _parent(pid: int) -> int | None:
    try:
        status = Path(f"/proc/{pid}/status").read_text()
    except OSError:
        return None
    return next(int(line.split()[1]) for line in status.splitlines() if line.startswith("PPid:"))


def until(true: Any, seconds: float = 60.0, what: str = "it") -> Any:
    """Waits for something to come true, and gives it."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        found = true()
        if found:
            return found
        time.sleep(0.05)
    raise AssertionError(f"{what} never came true")


def processes_with(text: str) -> list[int]:
    """Processes that name something in their command line."""
    found = []
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit() and int(entry.name) != os.getpid():
            try:
                if text in (entry / "cmdline").read_bytes().decode(errors="replace"):
                    found.append(int(entry.name))
            except OSError:
                continue
    return [pid for pid in found if alive(pid)]


def told(*words: str, env: dict[str, str] | None = None) -> "subprocess.CompletedProcess[str]":
    """Runs a command within this process, where it is not the process that is looked at: that saves its start."""
    out, err, code = io.StringIO(), io.StringIO(), 0
    with (
        patch.dict(os.environ, env or {}),
        patch.object(sys, "argv", ["kunstflug", *words]),
        redirect_stdout(out),
        redirect_stderr(err),
    ):
        try:
            main()
        except SystemExit as end:
            code = int(end.code or 0)
    return subprocess.CompletedProcess(list(words), code, out.getvalue(), err.getvalue())


def _as_in_a_terminal() -> None:
    """Tests that a shell runs in the background are deaf to some signals, and all they start would be, too."""
    for number in (signal.SIGINT, signal.SIGHUP, signal.SIGTERM):
        signal.signal(number, signal.SIG_DFL)


class Whole:
    """The start command in a folder, with its own port."""

    def __init__(self, folder: Path, workers: int = 2, words: tuple[str, ...] = ("demo",), **env: str) -> None:
        self.folder, self.words = folder, words
        self.port = free_port()
        self.env = {
            **os.environ,
            "KUNSTFLUG_RUN": str(folder),
            "KUNSTFLUG_PORT": str(self.port),
            "KUNSTFLUG_WORKERS": str(workers),
            **env,
        }
        self.env.pop("KUNSTFLUG_DATABASE_URL", None)
        self.log = folder / "whole.log"
        self.process: subprocess.Popen[bytes] | None = None

    def begin(self) -> "subprocess.Popen[bytes]":
        """Starts it, without waiting."""
        self.folder.mkdir(parents=True, exist_ok=True)
        with self.log.open("ab") as log:
            self.process = subprocess.Popen(
                [*COMMAND, *self.words], env=self.env, stdout=log, stderr=log, preexec_fn=_as_in_a_terminal
            )
        return self.process

    def start(self) -> "Whole":
        """Starts it and waits until it answers."""
        process = self.begin()

        def answers() -> bool:
            assert process.poll() is None, self.said()
            return self.ask("GET", "/api/health")[0] == 200

        until(answers, 90, "an answer")
        return self

    def command(self, *words: str, **env: str) -> "subprocess.CompletedProcess[str]":
        """Runs another command on the same folder."""
        return subprocess.run([*COMMAND, *words], env={**self.env, **env}, capture_output=True, text=True, timeout=90)

    def here(self, *words: str) -> "subprocess.CompletedProcess[str]":
        """The same within this process."""
        return told(*words, env=self.env)

    def ask(self, method: str, path: str, body: Any = None, timeout: float = 30, **headers: str) -> tuple[int, Any]:
        """Status and JSON of a request; 0 where nothing answers."""
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(
            f"http://127.0.0.1:{self.port}{path}", data, {"content-type": "application/json", **headers}, method=method
        )
        try:
            with urllib.request.urlopen(request, timeout=timeout) as answer:
                return answer.status, json.loads(answer.read() or b"null")
        except urllib.error.HTTPError as error:
            with error:
                return error.code, json.loads(error.read() or b"null")
        except (OSError, ValueError):
            return 0, None

    @property
    def database(self) -> int:
        """Process of its database."""
        return int((self.folder / "demo" / "db.pid").read_text())

    def workers(self) -> list[int]:
        """Its web processes."""
        assert self.process is not None
        every = {pid: _parent(pid) for pid in processes_with("kunstflug.launch.worker")}
        return [pid for pid, parent in every.items() if every.get(parent or 0) == self.process.pid]

    def copier(self) -> int | None:
        """The one that they are copies of."""
        assert self.process is not None
        mine = [p for p in processes_with("kunstflug.launch.worker") if _parent(p) == self.process.pid]
        return mine[0] if mine else None

    def left(self) -> list[int]:
        """Processes of this folder that run."""
        return processes_with(str(self.folder.resolve()))

    def said(self) -> str:
        """All it said."""
        return self.log.read_text(errors="replace")

    def stop(self, number: int = signal.SIGINT) -> int:
        """Tells it to end and waits; its exit code."""
        assert self.process is not None
        if self.process.poll() is None:
            self.process.send_signal(number)
        return self.process.wait(timeout=120)

    def __enter__(self) -> "Whole":
        return self

    def __exit__(self, *_: object) -> None:
        self.stop()

    def kill(self) -> None:
        """Pulls the plug on the program itself."""
        assert self.process is not None
        self.process.kill()
        self.process.wait()
