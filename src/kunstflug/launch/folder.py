"""The folder of a running program: where it is, who holds it, whether there is room."""

import fcntl
import os
import shutil
import socket
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Final

from platformdirs import user_data_dir

from kunstflug.core.quantity.errors import RunsAlready, StartupProblem

NEW_DATABASE_BYTES: Final = 150 * 1024 * 1024
"""What an empty MariaDB takes (40 MB here, more while it is made), and something for the first boats."""
ROOM_BYTES: Final = 20 * 1024 * 1024
"""With less, a database begins to fail in odd ways."""


def run_folder() -> Path:
    """Folder for everything that is not versioned.

    ``KUNSTFLUG_RUN``; else ``.run`` beside the sources where the program runs from them; else the user's data folder.
    """
    told = os.environ.get("KUNSTFLUG_RUN")
    if told:
        return Path(told)
    sources = Path(__file__).parents[3]
    if (sources / "pyproject.toml").is_file():
        return sources / ".run"
    return Path(user_data_dir("kunstflug", appauthor=False))


def free_bytes(folder: Path) -> int:
    """Room left on the disk of a folder, or of the nearest folder above that exists."""
    return shutil.disk_usage(_nearest(folder)).free


def _nearest(folder: Path) -> Path:
    """The folder itself, or the nearest one above that exists and may be looked at."""
    while True:
        with suppress(OSError):
            if folder.exists():
                return folder
        folder = folder.parent


def check_room(folder: Path, *, new: bool) -> None:
    """Refuses to begin where the disk is too full to go on.

    Parameters
    ----------
    new : whether a database has to be made first.

    Raises
    ------
    StartupProblem
    """
    if not os.access(_nearest(folder), os.W_OK):
        raise StartupProblem(f"the folder {folder} cannot be written; set KUNSTFLUG_RUN to one that can")
    free, needed = free_bytes(folder), NEW_DATABASE_BYTES if new else ROOM_BYTES
    if free < needed:
        what = "a new database needs" if new else "the database needs"
        raise StartupProblem(
            f"the disk has {free // 1048576} MB left where the data goes; {what} at least {needed // 1048576} MB. "
            "Make room, or set KUNSTFLUG_RUN to a folder on another disk"
        )


@contextmanager
def only_one(folder: Path) -> Iterator[None]:
    """Holds the folder for this program while it runs.

    Raises
    ------
    RunsAlready : another one holds it.
    StartupProblem : it cannot be written.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
        lock = (folder / "lock").open("w")
    except OSError as error:
        raise StartupProblem(f"the folder {folder} cannot be written: {error.strerror}") from error
    with lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            raise RunsAlready("Kunstflug is running already with this folder") from error
        yield


def diagnosis(folder: Path, database_socket: Path) -> str:
    """Why the private database may not answer, in words."""
    try:
        if free_bytes(folder) < ROOM_BYTES // 4:
            return "the disk is full, so the database cannot work; make room, it goes on by itself"
    except OSError:
        return "the folder of the data is gone"
    with socket.socket(socket.AF_UNIX) as probe:
        probe.settimeout(0.5)
        if probe.connect_ex(str(database_socket)) != 0:
            return "the database has stopped and is being started again; try again in a moment"
    return "the database does not answer; it is started again if that goes on"
