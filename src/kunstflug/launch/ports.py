"""Ports and numbers of processes, as the environment says, and the sockets that are listened on."""

import errno
import os
import socket
import time
from contextlib import suppress
from pathlib import Path
from typing import Final

from kunstflug.core.quantity.errors import StartupProblem

PORT: Final = 8417
LAN_PORT: Final = 8418
MOST_WORKERS: Final = 64
_USUAL_WORKERS: Final = 4
_CLUBS_WORKERS: Final = 16
_BIND_TRIES: Final = 10
_REACHED: Final = "reached-at"


def web_port() -> int:
    """Port of the web server.

    Raises
    ------
    StartupProblem : ``KUNSTFLUG_PORT`` is no port.
    """
    return _number("KUNSTFLUG_PORT", PORT, 65535)


def workers(*, club: bool = False) -> int:
    """How many web processes to start: ``KUNSTFLUG_WORKERS``, else one for each core up to four.

    A club's server has two for each core and one more, up to sixteen: a hundred racers wait for one another less (the
    slowest twentieth of what is read took 65 ms with five processes on two cores, 280 with two).

    Raises
    ------
    StartupProblem : it is no such number.
    """
    cores = os.cpu_count() or 1
    usual = min(2 * cores + 1, _CLUBS_WORKERS) if club else min(cores, _USUAL_WORKERS)
    return _number("KUNSTFLUG_WORKERS", usual, MOST_WORKERS)


def _number(name: str, usual: int, most: int) -> int:
    told = os.environ.get(name, str(usual))
    if not (told.isascii() and told.isdigit() and len(told) < 10 and 1 <= int(told) <= most):
        raise StartupProblem(f"{name} is '{told[:40]}'; allowed is 1 to {most}")
    return int(told)


def lan_port() -> int:
    """Port for the local network.

    Raises
    ------
    StartupProblem : ``KUNSTFLUG_LAN_PORT`` is no port.
    """
    return _number("KUNSTFLUG_LAN_PORT", LAN_PORT, 65535)


def listen(
    port: int, host: str = "127.0.0.1", told_by: str = "KUNSTFLUG_PORT", *, at_once: bool = True
) -> socket.socket:
    """The socket that the web processes answer on.

    Parameters
    ----------
    at_once : a browser that is early waits for the web processes; else it is refused until one of them answers, so that
        a proxy in front goes elsewhere.

    Raises
    ------
    StartupProblem : somebody else listens there.
    """
    listening = socket.socket()
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    for left in range(_BIND_TRIES, -1, -1):
        try:
            listening.bind((host, port))
            break
        except OSError as error:
            if left and error.errno == errno.EADDRINUSE:
                time.sleep(0.1)  # it may be what a program that was killed a moment ago still holds
                continue
            listening.close()
            raise StartupProblem(_refused(port, told_by, error)) from error
    if at_once:
        listening.listen(1024)
    listening.set_inheritable(True)
    return listening


def say_reached(folder: Path, port: int) -> None:
    """Leaves word of where the program is reached, for the commands that print a link."""
    (folder / _REACHED).write_text(f"http://127.0.0.1:{port}\n")


def reached(folder: Path) -> str:
    """Where the program of a folder is reached, or would be."""
    with suppress(OSError):
        return (folder / _REACHED).read_text().strip()
    return f"http://127.0.0.1:{web_port()}"


def _refused(port: int, told_by: str, error: OSError) -> str:
    """Why a port cannot be listened on, and what to do."""
    if error.errno in (errno.EACCES, errno.EPERM):
        return f"port {port} is only for the system's administrator; set {told_by} to one from 1024 on"
    if error.errno == errno.EADDRINUSE:
        return f"port {port} is taken; stop what uses it, or set {told_by} to another"
    return f"port {port} cannot be listened on: {error.strerror}; set {told_by} to another"
