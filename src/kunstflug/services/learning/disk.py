"""What was worked out of a state of the log, kept on disk: for all processes of a machine, and for the next start.

Whoever is first works it out, and the others wait for them: never two at once. A file is named by all that it was made
of: the racer's log, what their club knows, the program's own sources. It lies in the program's own folder beside its
compiled kernels, is readable by nobody else, and what cannot be read is worked out again.
"""

import fcntl
import hashlib
import os
import pickle
import tempfile
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager, suppress
from functools import cache
from pathlib import Path
from typing import Final, TypeVar, cast

import kunstflug
from kunstflug.core import learning
from kunstflug.core.laws.jit import sources_digest

FOLDER: Final = "KUNSTFLUG_LEARNT"
MOST_BYTES: Final = 1_000_000_000
MOST_FILES: Final = 400

T = TypeVar("T")


def kept(names: Sequence[object], make: Callable[[], T]) -> T:
    """What was made of all that is named, or is made now; made only, where no folder is named.

    Parameters
    ----------
    names : of everything that it is made of.
    """
    told = os.environ.get(FOLDER)
    if not told:
        return make()
    folder = Path(told)
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    except OSError:
        return make()
    digest = hashlib.sha256("|".join([_program(), *map(repr, names)]).encode()).hexdigest()[:32]
    path = folder / f"{digest}.pickle"
    found = _read(path)
    if found is not None:
        return cast(T, found[0])
    with _alone(path.with_suffix(".lock")):
        found = _read(path)  # whoever was first has made it
        if found is not None:
            return cast(T, found[0])
        made = make()
        _write(path, made)
    _tidy(folder)
    return made


@cache
def _program() -> str:
    """All sources that it is worked out by: what another program made is not taken for its own."""
    core, program = Path(learning.__file__).parent, Path(kunstflug.__file__).parent
    services, documents = program / "services", program / "documents"
    digests = [hashlib.sha256(path.read_bytes()).hexdigest() for path in sorted(core.glob("*.py"))]
    return "|".join([sources_digest(), sources_digest(services), sources_digest(documents), *digests])


def _read(path: Path) -> tuple[object] | None:
    try:
        with path.open("rb") as file:
            if os.fstat(file.fileno()).st_uid != os.geteuid():
                return None  # another user's
            found = (pickle.load(file),)
        os.utime(path)
    except Exception:  # broken off, or of other libraries: it is made again
        return None
    return found


def _write(path: Path, made: object) -> None:
    """The file is there whole, or not at all; without room on the disk it is not."""
    beside = None
    try:
        with tempfile.NamedTemporaryFile(dir=path.parent, suffix=".writing", delete=False) as file:
            beside = Path(file.name)
            pickle.dump(made, file, protocol=pickle.HIGHEST_PROTOCOL)
        beside.replace(path)
    except OSError:
        if beside is not None:
            beside.unlink(missing_ok=True)


@contextmanager
def _alone(path: Path) -> Iterator[None]:
    """One process at a time; where locks cannot be had, each for itself."""
    try:
        file = path.open("w")
    except OSError:
        yield
        return
    with file:
        fcntl.flock(file, fcntl.LOCK_EX)
        yield


def _tidy(folder: Path) -> None:
    """What nobody asked for the longest goes first."""
    with suppress(OSError):
        there = sorted(folder.iterdir(), key=lambda path: -path.stat().st_mtime)
        size = 0
        for k, path in enumerate(there):
            size += path.stat().st_size
            if k >= MOST_FILES or size > MOST_BYTES:
                path.unlink(missing_ok=True)
